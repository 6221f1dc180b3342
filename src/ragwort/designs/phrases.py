"""What a design says of itself, as parts of sentences; and the sentences that can be made of them.

A part is English with a `{token}` for each value. Beside the names of assumptions and of the answer's effects, a
token is

- `{groups.1}`: the first of the names called `groups` (see `Naming`);
- `{difference.size}`: a value without its sign, `{slope.points}`: a difference of shares so, in percentage points,
  `{n1.people}`: a count with the word for participants, `{predictors.terms}`: the names of what is counted, where they
  are known;
- `{others}`: the predictors that are not tested;
- `{many}`, `{cluster_word}`, `{mean_outcome}`: the study's words for participants, for what they come in, and for the
  mean of the outcome;
- `{total}`, `{group_sizes}`, `{cluster_numbers}`: the sizes found or given; `{n.count}` without a word for
  participants, `{to_recruit}` those that are recruited so that as many are analysed;
- `{at_least}`: before the power asked for, where the sizes found have more.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Any

from ragwort.base.wording import listed

Values = Mapping[str, Any]
Aside = tuple[tuple[str, ...], str]  # assumptions (none for what follows from others), and the words for them
SPREAD: Aside = (("sd",), "SD {sd}")
IN_SDS: Aside = ((), "d = {d}")
PLANNED_ON = {"worthwhile": "the smallest considered worthwhile", "expected": "the one expected"}
UNRANGED = frozenset({"alpha", "power"})  # chosen, not uncertain: a plausible range of them says nothing
MOST_LISTED = 6  # names: of more the sentence says how many there are
MOST_NAMED = 50  # of a kind: what is more numerous has numbers only
OF_VALUES = ("higher values with {groups.2}", "lower values with {groups.2}")  # looked for upwards, downwards
OF_SHARES = ("a higher proportion with {groups.2}", "a lower proportion with {groups.2}")


@dataclass(frozen=True)
class Naming:
    """Something that a design is made of and that a study can name: groups, factors, categories."""

    key: str  # in study files and tokens
    label: str  # what is asked for
    stand_ins: tuple[str, ...]  # what they are called until they have names, in order


@dataclass(frozen=True)
class Saying:
    """The parts of a design's sentence; each reads on from what stands before it."""

    sizes: str  # `{n} ({group_sizes})`
    effect: str  # what is detected: `a difference of {difference} between {groups.1} and {groups.2}`
    test: str  # `a {sides} {variance}`
    looking: str = ""  # what a one-sided test looks for: `higher values with {groups.2}`
    supposing: str = ""  # what is taken to be true, where that is not the effect: `the true difference is {difference}`
    verb: str = "detect"  # what the study is to do with the effect: `show` that something is so
    aside: tuple[Aside, ...] = ()  # in brackets after the effect, or after what is taken to be true
    planned_on: str = ""  # one of `PLANNED_ON`
    looks: str = ""  # interim analyses: `one interim analysis after 64 and O'Brien–Fleming-type spending`

    @property
    def with_looks(self) -> str:
        """What follows the sizes: the interim analyses between commas."""
        return f", with {self.looks}," if self.looks else ""

    def detected(self, joined: str, told: Collection[str] = ()) -> str:
        """The effect, what is taken to be true `joined` to it, and asides on what has not been told already."""
        effect = f"{self.effect}{joined}{self.supposing}" if self.supposing else self.effect
        said = [words for names, words in self.aside if not names or not set(names) <= set(told)]
        effect = f"{effect} ({', '.join(said)})" if said else effect
        return f"{effect}, {PLANNED_ON[self.planned_on]}" if self.is_planned_on else effect

    @property
    def is_planned_on(self) -> bool:
        """Whether the sentence says of which kind the effect is."""
        return self.planned_on in PLANNED_ON and not self.supposing


_APART = (" with ", " where ", ", adjusted for")  # after which the power is set off by a comma
_WAITING = {  # unknowns that are waited for, not recruited
    "events": "Wait for {s.sizes}{s.with_looks} to {s.verb} {effect}{power}, {using}.",
    "follow_up": "Recruit {s.sizes}{s.with_looks}, and watch the last of them for {{follow_up}}, to {s.verb} "
    "{effect}{power}, {using}.",
}


def sentence_for(saying: Saying, find: str, finished: bool = False, recruiting_more: bool = False) -> str:
    """The sentence that answers the question; of a finished study in the past tense.

    `recruiting_more`: more are recruited than are analysed.
    """
    effect = saying.detected(" if ")
    looking = f", looking only for {saying.looking}" if saying.looking else ""
    using = f"using {saying.test} at alpha {{alpha}}{looking}"
    aside = f"{looking}," if looking else ""
    least = "{at_least}" if find in ("n", *_WAITING) else ""
    apart = saying.is_planned_on or any(word in effect for word in _APART)
    power = f"{',' if apart else ''} with {least}{{power}} power"
    has = "had" if finished else "has"
    given = f"With {saying.sizes}, {saying.looks}," if saying.looks else f"With {saying.sizes},"
    if find in ("power", "margin"):
        test = f"{saying.test} at alpha {{alpha}}{aside}"
        return f"{given} {test} {has} {{power}} power to {saying.verb} {effect}."
    if find == "alpha":
        to_detect = f"{{power}} power to {saying.verb} {effect} at alpha {{alpha}}"
        return f"{given} {saying.test}{aside} {has} {to_detect}."
    if find == "effect":
        can = "could have shown" if finished else "can show"
        return f"{saying.sizes}{saying.with_looks} {can} {effect}{power}, {using}."
    if find == "icc":
        test = f"{saying.test} at alpha {{alpha}}{aside}"
        return (
            f"{given} {test} {has} {{power}} power to {saying.verb} {effect}, as long as the "
            "intracluster correlation is at most {icc}."
        )
    if find in _WAITING:
        return _WAITING[find].format(s=saying, effect=effect, power=power, using=using).replace(",, and", ", and")
    if finished:
        return f"{saying.sizes}{saying.with_looks} would have been needed to {saying.verb} {effect}{power}, {using}."
    sizes = saying.sizes
    if recruiting_more and sizes.startswith("{n}"):
        analysed = sizes.replace("{n}", "{n.count}", 1)
        sizes = f"{{to_recruit}} so that {analysed} are analysed{'' if saying.looks else ','}"
    return f"Recruit {sizes}{saying.with_looks} to {saying.verb} {effect}{power}, {using}."


def name_tokens(key: str, count: int) -> str:
    """Tokens for all names of a kind; of very many only how many there are."""
    if count > MOST_LISTED:
        return f"the {count} {key}"
    return listed([f"{{{key}.{number}}}" for number in range(1, count + 1)])


def numbered(word: str, count: int) -> tuple[str, ...]:
    """Stand-ins: `group 1`, `group 2`."""
    return tuple(f"{word} {number}" for number in range(1, count + 1))


def or_more(find: str, down: bool = False) -> str:
    """After the smallest effect that can be shown: larger ones are shown too."""
    return "" if find != "effect" else " or less" if down else " or more"


def at_least(find: str) -> str:
    """Before the smallest effect that can be shown, where its direction is said in words."""
    return "at least " if find == "effect" else ""


def is_down(values: Values, find: str, name: str) -> bool:
    """Whether the effect lies below none: as stated, or as it is looked for."""
    if find != "effect":
        return bool(values.get(name, 0) < 0)
    return bool(values["sides"] == "less" or (values["sides"] == "two" and values.get("direction") == "down"))


def in_words(values: Values, find: str, name: str) -> bool:
    """Whether the direction of an effect is meant: it is negative, or a one-sided test looks for it."""
    return values["sides"] != "two" or is_down(values, find, name)


def looking_for(values: Values, upwards: str, downwards: str) -> str:
    """What a one-sided test looks for; empty for a two-sided one."""
    return {"greater": upwards, "less": downwards}.get(values["sides"], "")


def degrees(df: Any) -> str:
    """`{df} degrees of freedom`."""
    return "{df} degree of freedom" if df == 1 else "{df} degrees of freedom"


def difference_of_means(values: Values, find: str) -> str:
    """Between two groups; in which direction is said where it is meant."""
    down = is_down(values, find, "difference")
    if in_words(values, find, "difference"):
        direction = "lower" if down else "higher"
        return f"a mean {at_least(find)}{{difference.size}} {direction} with {{groups.2}} than with {{groups.1}}"
    return f"a difference of {{difference}}{or_more(find)} between {{groups.1}} and {{groups.2}}"


def difference_of_shares(values: Values, find: str) -> str:
    """Between the proportions of two groups."""
    more = or_more(find, is_down(values, find, "-"))
    return f"a difference between {{proportion1}} with {{groups.1}} and {{proportion2}}{more} with {{groups.2}}"
