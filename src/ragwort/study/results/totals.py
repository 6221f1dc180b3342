"""A study's answers and what it recruits, as plain data for other programs: what the window says of the whole study."""

from __future__ import annotations

from typing import Any

from ragwort.designs import Answer, design_named
from ragwort.designs.request import as_json
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Outcome, Settled, outcome_of, request_of
from ragwort.study.results.overview import needs_of
from ragwort.study.results.serving import Recruitment, how_allocated
from ragwort.study.sharing.family import role_told
from ragwort.study.words.scenarios import counted_words


def totals_of(study: Study) -> dict[str, Any]:
    """The answer of each aim as planned, each recruitment, and the total where one recruitment serves all aims.

    An aim without an answer has an `error` in its place, and is in no recruitment.
    """
    found = {aim.id: outcome_of(aim.as_planned()) for aim in study.aims}

    def outcome(aim: Aim, _: object = None) -> Outcome:
        return found[aim.id]

    needs = needs_of(study, outcome)
    recruitments = () if needs is None else needs.recruitments
    single = needs is not None and needs.single
    return {
        "study": study.title,
        "aims": [_aim(study, aim, found[aim.id]) for aim in study.aims],
        "recruitments": [_recruitment(each) for each in recruitments],
        "total": recruitments[0].count if single and len(recruitments) == 1 else None,
    }


def _aim(study: Study, aim: Aim, outcome: Settled) -> dict[str, Any]:
    said = {"name": aim.name, "role": role_told(study, aim)}
    there = aim.as_planned()
    if isinstance(outcome, Answer):
        return {**said, "request": request_of(design_named(aim.design), there), "answer": as_json(outcome)}
    return {**said, "error": {"field": outcome.field, "message": outcome.message}}


def _recruitment(found: Recruitment) -> dict[str, Any]:
    return {
        "recruited": found.count,
        "counted": counted_words(*found.leading),
        "allocated": how_allocated(found),
        "set_by": found.leading[0].name,
        "aims": [aim.name for aim, _ in found.aims],
        "too_few_for": [aim.name for aim, _ in found.short],
    }
