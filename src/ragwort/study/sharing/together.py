"""What comes of it where the aims share the study's error, in words and rows."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Outcome, to_enrol, values_with_defaults
from ragwort.study.results.serving import sets_size
from ragwort.study.sharing.family import ROLES, Chances, chances, confirmatory, shares_error
from ragwort.study.words.found import power_text, reached_text
from ragwort.study.words.numbers import count_text, percent_text


@dataclass(frozen=True)
class Together:
    """Several aims at once: their chances, and the power of each at the size that the study needs."""

    chances: Chances
    at_the_studys_size: dict[str, float]  # by aim; those that count other people are left out


Found = Sequence[tuple[Aim, Outcome]]
Offers = list[tuple[str, str, bool]]


def roles_for(aim: Aim) -> Offers:
    """The roles that an aim can have: value, label, whether it has it now."""
    return [(role, words, role == aim.role) for role, words in ROLES.items()]


def together_of(study: Study, found: Found) -> Together | None:
    """What the aims do together; None while one has no answer. Takes a while: to be worked out beside."""
    powers = powers_of(found)
    if not powers or not all(isinstance(outcome, Answer) for _, outcome in found):
        return None
    return Together(chances(study, powers), _at_one_size(found))


def _at_one_size(found: Found) -> dict[str, float]:
    """The power of each aim at the size that the study needs, of those that count the same people."""
    known = [(aim, outcome) for aim, outcome in found if isinstance(outcome, Answer)]
    leading = _leading(known)
    if leading is None:
        return {}
    count, many = to_enrol(leading[1]), leading[0].words.many
    tested = [each for each in known if each[1].plan.has_test]
    return {aim.id: power_with(outcome, aim, count) for aim, outcome in tested if aim.words.many == many}


def _leading(known: Sequence[tuple[Aim, Answer]]) -> tuple[Aim, Answer] | None:
    """The aim that sets the size, among those that count what most of them count."""
    confirmatory = [each for each in known if each[0].role != "exploratory"] or known
    counted = Counter(aim.words.many for aim, _ in confirmatory)
    alike = [each for each in confirmatory if each[0].words.many == counted.most_common(1)[0][0]]
    return sets_size(alike) if alike else None


def power_with(answer: Answer, aim: Aim, enrolled: int) -> float:
    """The power of an aim in a study that enrols so many, as far as groups and dropout let them be analysed."""
    analysed = enrolled * float(design_named(aim.design).enrolment(values_with_defaults(aim)).kept) + 1e-9
    counting, plan = answer.plan.counting, answer.plan
    for step in range(min(counting.step_near(analysed), counting.highest), counting.lowest - 1, -1):
        sizes = counting.at(plan.power, step)
        if sizes is not None and counting.in_all(sizes[:, 0]) <= analysed:
            return float(plan.power(sizes)[0])
    return 0.0


def rows_of(study: Study, found: Found, known: Together | None) -> tuple[tuple[str, ...], tuple[tuple[str, ...], ...]]:
    """A row for each aim: alpha, enrolment, power, the chance that it succeeds, its power at the study's size."""
    chances = dict(zip((aim.id for aim in confirmatory(study)), known.chances.each, strict=False)) if known else {}
    at = known.at_the_studys_size if known else {}
    rows = tuple((*_row(aim, outcome, chances.get(aim.id)), _there(at.get(aim.id))) for aim, outcome in found)
    return ("Aim", "Role", "Alpha", "Recruited", "Power", "Significant", _with_all(found)), rows


def _with_all(found: Found) -> str:
    """The heading of the power that an aim has at the size that the study needs: `With 228`."""
    known = [(aim, outcome) for aim, outcome in found if isinstance(outcome, Answer)]
    leading = _leading(known)
    return "With all" if leading is None else f"With {count_text(to_enrol(leading[1]))}"


def _there(power: float | None) -> str:
    return "—" if power is None else power_text(power)


def _row(aim: Aim, outcome: Outcome, chance: float | None) -> tuple[str, ...]:
    role, alpha = ROLES.get(aim.role, ROLES[""]), aim.values().get("alpha")
    shown = "—" if not isinstance(alpha, int | float) else f"{alpha:.4g}"
    if not isinstance(outcome, Answer):
        return aim.name, role, shown, "—", "—", "—"
    succeeds = "" if not shares_error(aim) or chance is None else power_text(chance)
    reached = reached_text(outcome) if outcome.plan.has_test else "—"
    return aim.name, role, shown, count_text(to_enrol(outcome)), reached, succeeds


def words_of(study: Study, found: Found, together: Together | None) -> str:
    """The chances together, and which aim sets the size and what the study would need without it."""
    parts, known = [], together.chances if together else None
    if known is not None and len(known.each) > 1:
        how = "" if known.exact else " (simulated)"
        every, some = percent_text(known.every), percent_text(known.some)
        parts.append(f"All {len(known.each)} are significant with probability {every}, at least one with {some}{how}.")
    return " ".join([*parts, _size_words(found)]).strip()


def _size_words(found: Found) -> str:
    known = [(aim, outcome) for aim, outcome in found if isinstance(outcome, Answer) and aim.role != "exploratory"]
    leading = _leading(known)
    if leading is None:
        return ""
    alike = [each for each in known if each[0].words.many == leading[0].words.many]
    first, most = leading[0], to_enrol(leading[1])
    said = f"{first.name} determines the size: {count_text(most)} {first.words.many} to be recruited."
    rest = [each for each in alike if each[0].id != first.id]
    if not rest or to_enrol(sets_size(rest)[1]) == most:
        return said
    aim, answer = sets_size(rest)
    return f"{said} Excluding it, {aim.name} determines the size ({count_text(to_enrol(answer))})."


def powers_of(found: Found) -> list[float] | None:
    """The power of each confirmatory aim; None while one has no answer."""
    outcomes = [outcome for aim, outcome in found if shares_error(aim)]
    return (
        [each.power for each in outcomes if isinstance(each, Answer)]
        if all(isinstance(each, Answer) for each in outcomes)
        else None
    )
