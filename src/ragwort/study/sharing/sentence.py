"""The sentence of how the aims share the study's error, and what comes of it in words and rows."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Outcome, to_enrol, values_with_defaults
from ragwort.study.results.serving import sets_size
from ragwort.study.sharing.family import ROLES, Chances, chances, confirmatory, matrix_of, plan_of
from ragwort.study.sharing.plans import PLANS
from ragwort.study.words.found import power_text, reached_text
from ragwort.study.words.numbers import count_text, percent_text
from ragwort.study.words.sentence import Piece


@dataclass(frozen=True)
class Together:
    """Several aims at once: their chances, and the power of each at the size that the study needs."""

    chances: Chances
    at_the_studys_size: dict[str, float]  # by aim; those that count other people are left out


Found = Sequence[tuple[Aim, Outcome]]
Offers = list[tuple[str, str, bool]]


def pieces_of(study: Study) -> list[Piece]:
    """`The aims share an alpha of 0.05 by Holm's procedure; any two test statistics have a correlation of 0.`"""
    family = study.family
    plan = plan_of(study)
    if plan.shares:
        pieces = [Piece("text", "The aims share an alpha of "), _value(study, "alpha", f"{family.alpha:g}"), _TEXT[0]]
    else:
        pieces = [Piece("text", "The aims are tested ")]
    pieces += [
        Piece("choice", plan.label, "plan", fault=plan.name != family.plan),
        Piece("text", "; any two test statistics have "),
    ]
    pieces += [Piece("text", "a correlation of "), _value(study, "correlation", _correlation_words(study))]
    return [*pieces, *_weights(study), Piece("text", ".")]


def _weights(study: Study) -> list[Piece]:
    """`; weights: Reaction time 2, Sleepy 1`, where the plan asks for them. Roles are chosen in the table."""
    family, pieces = study.family, list[Piece]()
    for aim in confirmatory(study) if plan_of(study).weighted else ():
        name = aim.name if len(aim.name) <= 30 else f"{aim.name[:28].strip()}…"
        weight = family.weights.get(aim.id, 1.0)
        pieces.append(Piece("text", f"{', ' if pieces else '; weights: '}{name} "))
        pieces.append(_value(study, f"weight_{aim.id}", f"{weight:g}"))
    return pieces


_TEXT = (Piece("text", " "),)


def _correlation_words(study: Study) -> str:
    matrix = matrix_of(study)
    return f"{study.family.correlation:g}" if matrix is None else "their own (a matrix)"


def _value(study: Study, name: str, text: str) -> Piece:
    fault = name in study.family.faults
    shown = study.family.drafts.get(name, "")[:20].strip() or "—" if fault else text
    return Piece("value", shown, name, fault=fault)


def typed_text(study: Study, name: str) -> str:
    """What stands in the editor of a word."""
    family = study.family
    if name in family.faults:
        return family.drafts.get(name, "")
    if name == "correlation" and family.matrix:
        return "; ".join(" ".join(f"{each:g}" for each in row) for row in family.matrix)
    if name.startswith("weight_"):
        return f"{family.weights.get(name.removeprefix('weight_'), 1.0):g}"
    return f"{getattr(family, name):g}"


def offers(study: Study, name: str) -> Offers:
    """The choices of a word: value, label, whether it is shown now."""
    assert name == "plan", "the only word that is picked"
    return [(plan.name, plan.label, plan is plan_of(study)) for plan in PLANS.values()]


def roles_for(aim: Aim) -> Offers:
    """The roles that an aim can have: value, label, whether it has it now."""
    return [(role, words, role == aim.role) for role, words in ROLES.items()]


def label_of(name: str) -> str:
    """What a word is about."""
    words = {"plan": "How the aims share the error", "alpha": "The study's alpha", "correlation": "Correlation"}
    return words.get(name, "Weight")


def fault_of(study: Study) -> str:
    """Why the first word that cannot be read cannot be; or that the file names a plan which is not known here."""
    named = study.family.plan
    if named not in PLANS:
        known = ", ".join(plan.label for plan in PLANS.values() if plan.shares)
        return (
            f"The plan “{named[:30]}” is not known here: each aim is tested by itself until another is chosen. "
            f"There are: {known}."
        )
    return next(iter(study.family.faults.values()), "")


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
    return {aim.id: power_with(outcome, aim, count) for aim, outcome in known if aim.words.many == many}


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
    succeeds = "" if aim.role == "exploratory" or chance is None else power_text(chance)
    return aim.name, role, shown, count_text(to_enrol(outcome)), reached_text(outcome), succeeds


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
    outcomes = [outcome for aim, outcome in found if aim.role != "exploratory"]
    return (
        [each.power for each in outcomes if isinstance(each, Answer)]
        if all(isinstance(each, Answer) for each in outcomes)
        else None
    )
