"""Interim analyses in words: how many, after how many people or events, what is to be expected."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from ragwort.base.wording import listed
from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.files.numerals import typed_number
from ragwort.study.document.aim import Aim
from ragwort.study.document.part import Unreadable
from ragwort.study.results.looks import Look, looks_of
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import (
    count_text,
    decimals_text,
    percent_text,
    time_unit,
    unit_text,
    united,
    value_text,
)

MOST_LOOKS = 20
_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
_MANY = 4  # looks; of more the sentence says the first and the last
_EXAMPLE = "Type how many (2), or after which shares of the information: 50%, 75%."


def looks_words(count: int) -> str:
    """`one interim analysis`, `two interim analyses`."""
    number = _NUMBERS[count] if count < len(_NUMBERS) else str(count)
    return f"{number} interim analysis" if count == 1 else f"{number} interim analyses"


def after_words(aim: Aim, answer: Answer | None, fractions: Sequence[float]) -> str:
    """After how many people, events or clusters the interim analyses are; shares where that is not known."""
    early = list(fractions)[:-1]
    looks = [] if answer is None else looks_of(answer)
    if len(looks) != len(fractions):
        return _few([percent_text(t, 0) for t in early])
    words = unit_of(aim, answer)
    numbers = [count_text(round(each.events or 0) if each.counted is None else each.counted) for each in looks[:-1]]
    return f"{_few(numbers)} {words}".strip() if words else _few(numbers)


def _few(numbers: list[str]) -> str:
    return listed(numbers) if len(numbers) <= _MANY else f"{numbers[0]} to {numbers[-1]}"


def unit_of(aim: Aim, answer: Answer | None) -> str:
    """What looks come after, where that is not people: events, clusters."""
    if answer is None:
        return ""
    if answer.counted or answer.n_more.get("looks") is None:
        return "events"
    return (aim.words.clusters or design_named(aim.design).clusters) if "clusters" in answer.n_more else ""


def looks_remark(aim: Aim, answer: Answer) -> str:
    """What is to be expected: sizes with the planned effect and without, what the looks cost."""
    details = answer.details
    of = next((each for each in ("n", "events") if f"expected_{each}_effect" in details), None)
    if of is None or "fixed_power" not in details:
        return ""
    people = "events" if of == "events" else aim.words.many
    effect, null = (count_text(round(details[f"expected_{of}_{each}"])) for each in ("effect", "null"))
    without = percent_text(details["fixed_power"])
    return (
        f"Expected: {effect} {people} if the planned effect is true, {null} if there is none. With a single analysis "
        f"at the end the power would be {without}."
    )


def read_looks(text: str, total: float | None) -> list[float] | None:
    """Shares of the information from what people type: how many, shares, per cent, or counts out of `total`.

    The last look, at all of the information, may be left out. None for no interim analyses. Raises `Unreadable`.
    """
    cleaned = re.sub(r"\s+%", "%", text.strip().lower())
    if cleaned in ("", "none", "no", "0"):
        return None
    if cleaned in _NUMBERS or (cleaned.isdigit() and int(cleaned) < MOST_LOOKS):
        count = _NUMBERS.index(cleaned) if cleaned in _NUMBERS else int(cleaned)
        return evenly(count)
    parts = [part for part in re.split(r"\s*(?:;|,\s+|\band\b|\s)\s*", cleaned) if part]
    shares = [_share(part, total) for part in parts]
    return [*shares, 1.0] if abs(shares[-1] - 1) > 1e-9 else shares


def evenly(count: int) -> list[float]:
    """So many interim analyses at even distances, and the last one."""
    return [float(f"{(at + 1) / (count + 1):.6g}") for at in range(count)] + [1.0]


def _share(text: str, total: float | None) -> float:
    percent = text.endswith("%")
    try:
        read = typed_number(text.removesuffix("%").strip())
    except (ValueError, OverflowError):
        raise Unreadable(f"“{text}” is no share of the information. {_EXAMPLE}") from None
    value = read[0] if isinstance(read, list) else read
    if percent:
        return value / 100
    if value > 1 and total:
        return value / total
    return value


@dataclass(frozen=True)
class LookWords:
    """One look of an aim in words, as tables have it."""

    aim: Aim
    answer: Answer | None

    @property
    def after_head(self) -> str:
        """What looks come after."""
        unit = unit_of(self.aim, self.answer)
        return unit if unit == "events" else "after"

    @property
    def effect_head(self) -> str:
        """What a boundary is in the effect's own terms, with its unit."""
        return f"stops at, {self._unit}" if self._unit else "stops at"

    def cells(self, fraction: float, look: Look | None, scale: str) -> dict[str, str]:
        """What stands in a row: when, alpha spent, the boundary on a scale, and as the effect."""
        if look is None:
            return {"after": percent_text(fraction, 0), "spent": "", "bound": "", "effect": ""}
        bound = self.p(look) if scale == "p" else self.z(look)
        return {"after": self.after(look), "spent": _small(look.spent), "bound": bound, "effect": self.effect(look)}

    def after(self, look: Look) -> str:
        """How many are there by then."""
        return count_text(round(look.events or 0) if look.counted is None else look.counted)

    def z(self, look: Look) -> str:
        """The boundary for efficacy; of a two-sided test on both sides."""
        if look.bound is None:
            return "none"
        return f"{'±' if self._two_sided else ''}{decimals_text(look.bound, 3)}"

    def p(self, look: Look) -> str:
        """The nominal p at which the study stops."""
        return "none" if look.bound is None else _small(look.p)

    def effect(self, look: Look) -> str:
        """The effect on the boundary for efficacy, without its unit."""
        return "none" if look.effect is None else self.number(look.effect)

    def number(self, effect: float) -> str:
        """An effect without its unit, three digits of it."""
        return value_text(self._primary, float(f"{effect:.3g}"))

    def chance(self, look: Look | None, planned: bool) -> str:
        """The chance of stopping for efficacy at it."""
        if look is None:
            return "…"
        return percent_text(look.reject_effect if planned else look.reject_null)

    def gives_up(self, look: Look | None, planned: bool) -> str:
        """Where the study gives up, and how likely that is; empty without futility, and at the end."""
        if look is None or look.futility is None or look.futility == look.bound:
            return ""
        chance = percent_text(look.give_up_effect if planned else look.give_up_null)
        effect = "" if look.futility_effect is None else f" ({self.with_unit(look.futility_effect)})"
        return f"gives up at z {decimals_text(look.futility, 3)}{effect}: {chance}"

    def tip(self, fraction: float, look: Look | None) -> str:
        """What there is no room for."""
        said = [f"{percent_text(fraction)} of the information"]
        if look is not None:
            if look.when is not None:
                said.append(f"expected after {decimals_text(look.when, 1)} {time_unit(self.aim.words.unit)}".strip())
            said.append(f"nominal p {self.p(look)}")
            chances = percent_text(look.reject_effect), percent_text(look.reject_null)
            said.append(f"stops here in {chances[0]} of studies with the planned effect, in {chances[1]} without one")
        return "; ".join(said)

    def with_unit(self, effect: float) -> str:
        """An effect with its unit."""
        return united(self.number(effect), unit_text(self._primary, self.aim.words.unit, effect))

    def boundary(self, look: Look, scale: str) -> str:
        """A boundary for efficacy as a condition: `17.8 ms or more`."""
        if look.bound is None:
            return "nothing"
        if scale == "p":
            return f"p of {self.p(look)} or less"
        if scale == "z":
            return f"z of {self.z(look)} or beyond"
        if look.effect is None:
            return "no effect"
        return f"{self.with_unit(look.effect)} or {'less' if self._down else 'more'}"

    def beyond(self, look: Look) -> str:
        """A boundary for efficacy in symbols: `|z| ≥ 2.963`."""
        bound = look.bound or 0.0
        if self._two_sided:
            return f"|z| ≥ {decimals_text(bound, 3)}"
        return f"z {'≤' if bound < 0 else '≥'} {decimals_text(bound, 3)}"

    def reading(self, look: Look, scale: str) -> str:
        """All of a look in one line."""
        there = count_text(round(look.events or 0) if look.counted is None else look.counted)
        stops = "no boundary for efficacy"
        if look.bound is not None:
            stops = f"stops at {self.boundary(look, scale)} (alpha spent {_small(look.spent)})"
        chances = (
            f"{percent_text(look.reject_effect)} with the planned effect, {percent_text(look.reject_null)} without"
        )
        gives_up = self.gives_up(look, planned=True)
        return f"after {there} {self.counted_in}: {stops}, {chances}{f'; {gives_up}' if gives_up else ''}"

    @property
    def counted_in(self) -> str:
        """What looks come after: people, events, clusters."""
        return unit_of(self.aim, self.answer) or self.aim.words.many

    @property
    def unit(self) -> str:
        """That of the effect."""
        return self._unit

    @property
    def effect_name(self) -> str:
        """What the effect is called, in running text."""
        return in_running_text(label_of(self._primary, self.aim))

    @property
    def _down(self) -> bool:
        return self.answer is not None and float(self.answer.plan.effect) < 0

    @property
    def _two_sided(self) -> bool:
        return self.answer is not None and self.answer.plan.sides == "two"

    @property
    def _primary(self) -> Assumption:
        design = design_named(self.aim.design)
        return design.assumption(design.primary if self.answer is None else self.answer.primary)

    @property
    def _unit(self) -> str:
        return unit_text(self._primary, self.aim.words.unit)


def _small(share: float) -> str:
    """A part of alpha, or a p: four decimals, or two digits of what is smaller."""
    return decimals_text(share, 4) if share >= 0.001 or share == 0 else f"{share:.2g}"
