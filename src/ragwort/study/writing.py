"""What a report of the study holds: its sections, in which order, and the user's own words around them."""

from __future__ import annotations

from collections.abc import Mapping

from ragwort.study.model import Study, Writing

CHAPTERS = {
    "overview": "Overview",
    "together": "The aims together",
    "aims": "The aims one by one",
    "references": "References",
    "reproduce": "Reproduction",
}
SECTIONS = {
    "size": "Sample size",
    "hypotheses": "Hypotheses",
    "assumptions": "Assumptions",
    "method": "Method",
    "errors": "Error rates",
    "validity": "What it rests on",
    "pictures": "Pictures",
    "scenarios": "Scenarios side by side",
    "grid": "Other guesses",
    "rehearsal": "Rehearsal",
    "guidelines": "Guidelines",
}
PAPERS = ("A4", "Letter")
PLACES = {"before": "Before", "after": "After"}


def paper_of(study: Study) -> str:
    """One of `PAPERS`."""
    return study.writing.paper if study.writing.paper in PAPERS else PAPERS[0]


def ordered(writing: Writing, names: Mapping[str, str]) -> tuple[str, ...]:
    """All of these sections: those that were moved in their order, each other one after what it usually follows."""
    found = [name for name in writing.order if name in names]
    for place, name in enumerate(names):
        if name not in found:
            before = list(names)[:place]
            found.insert(max((found.index(each) + 1 for each in before if each in found), default=0), name)
    return tuple(found)


def is_shown(writing: Writing, name: str) -> bool:
    """Whether a section is written."""
    return name not in writing.hidden


def own_text(study: Study, aim_id: str, name: str, place: str) -> str:
    """The user's text before or after a section: of the aim where it is one of an aim's."""
    texts = study.aim(aim_id).texts if name in SECTIONS else study.writing.texts
    return texts.get(f"{place} {name}", "")
