"""One-way sensitivity: what each end of a plausible range would ask for, one planning value at a time."""

from __future__ import annotations

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.designs.phrases import UNRANGED
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import idle_names, outcome_of
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import with_unit

_SPELT = ("SD", "R²", "RMSEA", "f²")  # spoken letter by letter, from a vowel on
Alternative = tuple[str, Answer]


def alternatives(aim: Aim, uncertain: bool = False) -> tuple[Alternative, ...]:
    """The ends of all plausible ranges with their answers, for a sample size; the largest first, without the planned.

    `uncertain`: only of what may be otherwise in truth, which the smallest worthwhile effect is not.
    Those that have no answer are left out; power and alpha are chosen, not uncertain.
    """
    if aim.find != "n":
        return ()
    found = []
    decided = design_named(aim.design).effect_names() if uncertain and aim.planned_on == "worthwhile" else ()
    for assumption in (each for each in _ranged(aim) if each.name not in decided):
        entry = aim.entry(assumption.name)
        for end in (each for each in (entry.low, entry.high) if each is not None and each != entry.value):
            there = aim.changed(entries={**aim.entries, assumption.name: entry.model_copy(update={"value": end})})
            answer = outcome_of(there)
            if isinstance(answer, Answer):
                found.append((valued(aim, assumption, end), answer))
    return tuple(sorted(found, key=lambda each: -each[1].total))


def _ranged(aim: Aim) -> list[Assumption]:
    """The planning values that have a plausible range and a say."""
    design = design_named(aim.design)
    unused = design.unused_names(aim.find) | idle_names(design, aim) | UNRANGED
    return [
        assumption
        for assumption in design.assumptions
        if assumption.name not in unused and not assumption.several and aim.entry(assumption.name).value is not None
    ]


def largest(aim: Aim) -> Alternative | None:
    """The end that asks for most, where it is more than the plan does."""
    found, planned = alternatives(aim, uncertain=True), outcome_of(aim)
    if not found or not isinstance(planned, Answer) or found[0][1].total <= planned.total:
        return None
    return found[0]


def valued(aim: Aim, assumption: Assumption, value: object, aside: str = "") -> str:
    """`a standard deviation of 28 ms`, `an SD of 2.6 points (usual lighting)`, `predictors: 6`; `aside` in brackets."""
    label, _, whose = in_running_text(label_of(assumption, aim)).partition(", ")
    brackets = f" ({'; '.join(each for each in (whose, aside) if each)})" if whose or aside else ""
    said = with_unit(assumption, value, aim.words.unit)
    if assumption.kind == "count":
        return f"{label}: {said}{brackets}"
    if label.partition(" of ")[0].endswith("s"):
        return f"{label} of {said}{brackets}"
    vowel = label[:1].lower() in "aeiou" or label.startswith(_SPELT)
    return f"{'an' if vowel else 'a'} {label} of {said}{brackets}"
