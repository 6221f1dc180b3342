"""What an aim of a study rehearses: its planned assumptions, settled."""

from __future__ import annotations

import re

from ragwort.designs import RequestError, design_named
from ragwort.rehearsal.planned import Planned, planned
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import Problem, outcome_of, request_of
from ragwort.study.words.naming import label_of


def planned_of(aim: Aim) -> Planned:
    """The aim as it is planned. Raises `RequestError` with what is wrong where it has no answer."""
    there = aim.as_planned()
    outcome = outcome_of(there)
    if isinstance(outcome, Problem):
        raise RequestError(outcome.field, outcome.message)
    design = design_named(there.design)
    request = request_of(design, there)
    label = re.sub(
        r", (.+)$", r" (\1)", label_of(design.assumption(design.unknown_of("effect", there.values())), there)
    )
    return planned(design, there.find, request["assumptions"], there.words.unit, label, outcome)
