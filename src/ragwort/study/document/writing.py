"""What a report of the study holds: its sections, in which order, and the user's own words around them."""

from __future__ import annotations

from collections.abc import Mapping

from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Writing

CHAPTERS = {  # what a protocol needs first, all else in appendices
    "overview": "Overview",
    "aims": "The aims one by one",
    "together": "Multiplicity",
    "calculation": "Calculation",
    "figures": "Figures",
    "further": "Further tables",
    "reproduce": "Reproduction",
    "references": "References",
}
APPENDICES = ("calculation", "figures", "further", "reproduce")
SECTIONS = {  # of each aim
    "size": "Sample size",
    "assumptions": "Planning values",
    "sensitivity": "Sensitivity analysis",
    "validity": "Assumptions and limitations",
    "hypotheses": "Hypotheses",
    "method": "Method",
    "errors": "Type I and type II error",
    "figure": "Figure of a primary aim",
    "pictures": "All figures",
    "scenarios": "Alternative scenarios",
    "grid": "Sample size under other assumptions",
    "rehearsal": "Simulation",
    "guidelines": "Guidelines",
}
PARTS = {  # the chapter in which each section of an aim stands
    "aims": ("size", "assumptions", "sensitivity", "validity"),
    "calculation": ("hypotheses", "method", "errors"),
    "figures": ("figure", "pictures"),
    "further": ("scenarios", "grid", "rehearsal", "guidelines"),
}
ON_REQUEST = frozenset({"errors", "pictures", "guidelines"})  # written only where they are ticked
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
    return name in writing.added if name in ON_REQUEST else name not in writing.hidden


def own_text(study: Study, aim_id: str, name: str, place: str) -> str:
    """The user's text before or after a section: of the aim where it is one of an aim's."""
    texts = study.aim(aim_id).texts if name in SECTIONS else study.writing.texts
    return texts.get(f"{place} {name}", "")
