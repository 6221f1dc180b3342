"""What reporting guidelines ask of a sample size, and whether an aim answers it: only what is checked is claimed.

Sources: SPIRIT 2013, items 14 and 21 (Chan et al., BMJ 2013; 346: e7586); CONSORT 2010, item 7 (Schulz et al., BMJ
2010; 340: c332); STROBE, item 10 (von Elm et al., Lancet 2007; 370: 1453-1457); ARRIVE 2.0, item 2 (Percie du Sert et
al., PLoS Biology 2020; 18: e3000410); ICH E9 (1998), sections 3.5 and 4.5.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Outcome, Problem, idle_names, outcome_of
from ragwort.study.words.naming import label_of
from ragwort.study.words.protocol import has_looks
from ragwort.study.words.provenance import examples_of

WORDS = "words"  # the field of the aim's own words
PROTOCOL = "protocol"  # the fields of what the protocol says beside its numbers


@dataclass(frozen=True)
class Checked:
    """What was found on one point: where it is answered, or what is missing and in which field."""

    where: str = ""
    missing: str = ""
    field: str = ""


@dataclass(frozen=True)
class Point:
    """Something that a guideline asks for, in our words."""

    guideline: str
    asks: str
    check: Callable[[Study, Aim, Outcome], Checked]


def _size(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    if isinstance(outcome, Answer):
        return Checked("Sample size")
    return Checked(missing="There is no answer yet.", field=outcome.field if isinstance(outcome, Problem) else "")


def _outcome_named(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    return Checked("Sample size") if aim.words.outcome else Checked(missing="The outcome has no name.", field=WORDS)


def _stated(aim: Aim) -> list[Assumption]:
    """What the effect and the scatter rest on."""
    design = design_named(aim.design)
    unused = design.unused_names(aim.find) | idle_names(design, aim)
    return [
        each
        for each in design.assumptions
        if each.group in ("Effect", "Structure") and each.name in aim.values() and each.name not in unused
    ]


def _sources(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    for assumption in _stated(aim):
        entry = aim.entry(assumption.name)
        if not entry.source and not entry.note and not assumption.chosen:
            words = in_running_text(label_of(assumption, aim))
            return Checked(missing=f"No source is given for the {words}.", field=assumption.name)
    return Checked("Planning values")


def _confirmed(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    for assumption in examples_of(aim):
        words = in_running_text(label_of(assumption, aim))
        return Checked(
            missing=f"What stands for the {words} is an example that nobody has confirmed.", field=assumption.name
        )
    return Checked("Planning values")


def _method(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    return Checked("Calculation")


def _errors(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    return Checked("Planning values")


def _withdrawals(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    lost = aim.values().get("dropout")
    if isinstance(lost, int | float) and lost > 0:
        return Checked("Sample size")
    return Checked(missing="Nothing allows for those who withdraw.", field="dropout")


def _sensitivity(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    ranges = any(entry.low is not None and entry.high is not None for entry in aim.entries.values())
    if ranges or aim.scenarios or aim.grid.varied or aim.rehearsing.kept:
        return Checked("Sensitivity analysis, scenarios, other assumptions, simulation")
    first = next((each.name for each in _stated(aim)), "")
    return Checked(missing="No range, scenario, grid or rehearsal shows sizes under other assumptions.", field=first)


def _interim(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    if has_looks(aim):
        return Checked("Sample size")
    if study.protocol.interim.strip():
        return Checked("Aims of the study")
    return Checked(
        missing="Nothing is stated on interim analyses; that none are planned is a statement.", field=PROTOCOL
    )


def _who_looks(study: Study, aim: Aim, outcome: Outcome) -> Checked:
    if not has_looks(aim):
        return _interim(study, aim, outcome)
    if study.protocol.committee.strip():
        return Checked("Sample size")
    return Checked(missing="Nothing says who sees the results of interim analyses.", field=PROTOCOL)


POINTS = (
    Point("SPIRIT 14", "the number of participants needed", _size),
    Point("SPIRIT 14", "the assumptions that it rests on", _confirmed),
    Point("SPIRIT 14", "where they come from", _sources),
    Point("CONSORT 7a", "how the sample size was determined", _method),
    Point("SPIRIT 21b", "interim analyses, rules for stopping, and who has access to the results", _who_looks),
    Point("CONSORT 7b", "interim analyses and rules for stopping", _interim),
    Point("STROBE 10", "how the study size was arrived at", _method),
    Point("ARRIVE 2a", "how many units each group has, and all", _size),
    Point("ARRIVE 2b", "how that number was decided on", _method),
    Point("ICH E9 3.5", "the primary variable", _outcome_named),
    Point("ICH E9 3.5", "the test statistic", _method),
    Point("ICH E9 3.5", "the probabilities of both errors", _errors),
    Point("ICH E9 3.5", "what the planned difference and variability rest on", _sources),
    Point("ICH E9 3.5", "how withdrawals are dealt with", _withdrawals),
    Point("ICH E9 3.5", "what other assumptions would ask for", _sensitivity),
    Point("ICH E9 4.5", "the schedule of interim analyses and how alpha is controlled", _interim),
)


def covered(study: Study, aim: Aim, outcome: Outcome | None = None) -> list[tuple[Point, Checked]]:
    """Every point with what was found of it, for an aim of a study as it is planned."""
    there = aim.as_planned()
    known = outcome_of(there) if outcome is None else outcome
    return [(point, point.check(study, there, known)) for point in POINTS]


def said(found: Checked) -> str:
    """What was found, in words."""
    return f"Missing: {found.missing}" if found.missing else f"under {found.where}"
