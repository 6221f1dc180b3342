"""The sentence of how the aims share the study's error."""

from __future__ import annotations

from functools import partial

from ragwort.designs.assumption import Assumption
from ragwort.study import edits
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.edits.sharing import ALPHA, CORRELATION, WEIGHT
from ragwort.study.sharing.family import confirmatory, matrix_of, plan_of
from ragwort.study.sharing.plans import PLANS
from ragwort.study.slots.slot import Sentence, Slot
from ragwort.study.words.numbers import nudged, value_text
from ragwort.study.words.sentence import Piece

_PLAN, _WEIGHT = "plan", "weight_"
_LABELS = {"alpha": "The study's alpha", "correlation": "Correlation"}


def sharing_sentence(study: Study) -> Sentence:
    """How the aims share the error; below it what is wrong with what was typed, or with the file's plan."""
    fault = fault_of(study)
    return Sentence(pieces_of(study), slot_of_sharing, fault, bool(fault))


def slot_of_sharing(study: Study, name: str) -> Slot:
    """What can be done to a word: the plan is chosen, every number typed."""
    if name == _PLAN:
        plans = [(plan.name, plan.label, plan is plan_of(study)) for plan in PLANS.values()]
        return Slot("How the aims share the error", partial(edits.choose_plan, study), choices=plans)
    write = partial(edits.type_family, study, name)
    whole = name == "correlation" and bool(study.family.matrix)
    nudge = None if whole else partial(_moved, study, name)
    return Slot(_LABELS.get(name, "Weight"), write, typed_text(study, name), key=f"family {name}", nudge=nudge)


def _declared(name: str) -> Assumption:
    return {"alpha": ALPHA, "correlation": CORRELATION}.get(name, WEIGHT)


def _number(study: Study, name: str) -> float:
    if name.startswith(_WEIGHT):
        return study.family.weights.get(name.removeprefix(_WEIGHT), 1.0)
    return float(getattr(study.family, name))


def _moved(study: Study, name: str, steps: int) -> Edit:
    declared = _declared(name)
    return edits.type_family(study, name, value_text(declared, nudged(declared, _number(study, name), steps)))


def pieces_of(study: Study) -> list[Piece]:
    """`The aims share an alpha of 0.05 by Holm's procedure; any two test statistics have a correlation of 0.`"""
    family = study.family
    plan = plan_of(study)
    if plan.shares:
        alpha = _value(study, "alpha", f"{family.alpha:g}")
        pieces = [Piece("text", "The aims share an alpha of "), alpha, Piece("text", " ")]
    else:
        pieces = [Piece("text", "The aims are tested ")]
    pieces += [
        Piece("choice", plan.label, _PLAN, fault=plan.name != family.plan),
        Piece("text", "; any two test statistics have a correlation of "),
        _value(study, "correlation", _correlation_words(study)),
    ]
    return [*pieces, *_weights(study), Piece("text", ".")]


def _weights(study: Study) -> list[Piece]:
    """`; weights: Reaction time 2, Sleepy 1`, where the plan asks for them. Roles are chosen in the table."""
    family, pieces = study.family, list[Piece]()
    for aim in confirmatory(study) if plan_of(study).weighted else ():
        name = aim.name if len(aim.name) <= 30 else f"{aim.name[:28].strip()}…"
        weight = family.weights.get(aim.id, 1.0)
        pieces.append(Piece("text", f"{', ' if pieces else '; weights: '}{name} "))
        pieces.append(_value(study, f"{_WEIGHT}{aim.id}", f"{weight:g}"))
    return pieces


def _correlation_words(study: Study) -> str:
    matrix = matrix_of(study)
    return f"{study.family.correlation:g}" if matrix is None else "their own (a matrix)"


def _value(study: Study, name: str, text: str) -> Piece:
    draft = study.family.drafts.get(name)
    return Piece("value", draft.short if draft else text, name, fault=draft is not None)


def typed_text(study: Study, name: str) -> str:
    """What stands in the editor of a word."""
    family = study.family
    if family.faulty(name):
        return family.draft_of(name)
    if name == "correlation" and family.matrix:
        return "; ".join(" ".join(f"{each:g}" for each in row) for row in family.matrix)
    return f"{_number(study, name):g}"


def fault_of(study: Study) -> str:
    """Why the first word that cannot be read cannot be; or that the file names a plan which is not known here."""
    named = study.family.plan
    if named not in PLANS:
        known = ", ".join(plan.label for plan in PLANS.values() if plan.shares)
        return (
            f"The plan “{named[:30]}” is not known here: each aim is tested by itself until another is chosen. "
            f"There are: {known}."
        )
    return study.family.first_fault
