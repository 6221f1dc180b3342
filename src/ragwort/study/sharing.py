"""The sentence of how the aims share the study's error, and what comes of it in words and rows."""

from __future__ import annotations

from collections.abc import Sequence

from ragwort.designs import Answer
from ragwort.study.family import PLANS, ROLES, Chances, confirmatory
from ragwort.study.found import power_text
from ragwort.study.model import Aim, Study
from ragwort.study.numbers import count_text, percent_text
from ragwort.study.outcome import Outcome, to_enrol
from ragwort.study.sentence import Piece

WEIGHTED = ("weights", "fallback")
Found = Sequence[tuple[Aim, Outcome]]
Offers = list[tuple[str, str, bool]]


def pieces_of(study: Study) -> list[Piece]:
    """`The aims share an alpha of 0.05 by Holm's procedure; … Reaction time is primary, …`."""
    family = study.family
    if family.plan:
        pieces = [Piece("text", "The aims share an alpha of "), _value(study, "alpha", f"{family.alpha:g}"), _TEXT[0]]
    else:
        pieces = [Piece("text", "The aims are tested ")]
    pieces += [
        Piece("choice", PLANS.get(family.plan, PLANS[""]), "plan"),
        Piece("text", "; any two test statistics have "),
    ]
    pieces += [Piece("text", "a correlation of "), _value(study, "correlation", f"{family.correlation:g}")]
    for place, aim in enumerate(study.aims):
        name = aim.name if len(aim.name) <= 30 else f"{aim.name[:28].strip()}…"
        pieces.append(Piece("text", f"{'. ' if place == 0 else ', '}{name} is "))
        pieces.append(Piece("choice", ROLES.get(aim.role, ROLES[""]), f"role_{aim.id}"))
        if family.plan in WEIGHTED and aim.role != "exploratory":
            weight = family.weights.get(aim.id, 1.0)
            pieces += [Piece("text", " (weight "), _value(study, f"weight_{aim.id}", f"{weight:g}"), Piece("text", ")")]
    return [*pieces, Piece("text", ".")]


_TEXT = (Piece("text", " "),)


def _value(study: Study, name: str, text: str) -> Piece:
    fault = name in study.family.faults
    shown = study.family.drafts.get(name, "")[:20].strip() or "—" if fault else text
    return Piece("value", shown, name, fault=fault)


def typed_text(study: Study, name: str) -> str:
    """What stands in the editor of a word."""
    family = study.family
    if name in family.faults:
        return family.drafts.get(name, "")
    if name.startswith("weight_"):
        return f"{family.weights.get(name.removeprefix('weight_'), 1.0):g}"
    return f"{getattr(family, name):g}"


def offers(study: Study, name: str) -> Offers:
    """The choices of a word: value, label, whether it is shown now."""
    if name == "plan":
        return [(plan, words, plan == study.family.plan) for plan, words in PLANS.items()]
    aim = study.aim(name.removeprefix("role_"))
    return [(role, words, role == aim.role) for role, words in ROLES.items()]


def label_of(name: str) -> str:
    """What a word is about."""
    words = {"plan": "How the aims share the error", "alpha": "The study's alpha", "correlation": "Correlation"}
    return words.get(name) or ("Role" if name.startswith("role_") else "Weight")


def fault_of(study: Study) -> str:
    """Why the first word that cannot be read cannot be."""
    return next(iter(study.family.faults.values()), "")


def rows_of(study: Study, found: Found, known: Chances | None) -> tuple[tuple[str, ...], tuple[tuple[str, ...], ...]]:
    """A row for each aim: alpha, enrolment, power, the chance that it succeeds under the plan."""
    chances = dict(zip((aim.id for aim in confirmatory(study)), known.each, strict=False)) if known else {}
    rows = tuple(_row(aim, outcome, chances.get(aim.id)) for aim, outcome in found)
    return ("Aim", "Role", "Alpha", "Enrolled", "Power", "Succeeds"), rows


def _row(aim: Aim, outcome: Outcome, chance: float | None) -> tuple[str, ...]:
    role, alpha = ROLES.get(aim.role, ROLES[""]), aim.values().get("alpha")
    shown = "—" if not isinstance(alpha, int | float) else f"{alpha:.4g}"
    if not isinstance(outcome, Answer):
        return aim.name, role, shown, "—", "—", "—"
    succeeds = "" if aim.role == "exploratory" or chance is None else power_text(chance)
    return aim.name, role, shown, count_text(to_enrol(outcome)), power_text(outcome.power), succeeds


def words_of(study: Study, found: Found, known: Chances | None) -> str:
    """The chances together, and which aim sets the size and what the study would need without it."""
    parts = []
    if known is not None and len(known.each) > 1:
        how = "" if known.exact else " (simulated)"
        every, some = percent_text(known.every), percent_text(known.some)
        parts.append(f"All {len(known.each)} succeed with a chance of {every}, at least one with {some}{how}.")
    return " ".join([*parts, _size_words(found)]).strip()


def _size_words(found: Found) -> str:
    answered = [(outcome, aim) for aim, outcome in found if isinstance(outcome, Answer) and aim.role != "exploratory"]
    sizes = sorted(((to_enrol(outcome), aim) for outcome, aim in answered), key=lambda each: -each[0])
    if not sizes:
        return ""
    (most, first), *rest = sizes
    said = f"{first.name} sets the size: {count_text(most)} {first.words.many} to enrol."
    if not rest or rest[0][0] == most:
        return said
    saved = most - rest[0][0]
    return f"{said} Without it {rest[0][1].name} would, with {count_text(saved)} fewer."


def powers_of(found: Found) -> list[float] | None:
    """The power of each confirmatory aim; None while one has no answer."""
    outcomes = [outcome for aim, outcome in found if aim.role != "exploratory"]
    return (
        [each.power for each in outcomes if isinstance(each, Answer)]
        if all(isinstance(each, Answer) for each in outcomes)
        else None
    )
