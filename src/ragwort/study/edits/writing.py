"""What the report holds: sections shown, hidden and moved, own texts, the paper."""

from __future__ import annotations

from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.part import LONGEST_TEXT
from ragwort.study.document.writing import CHAPTERS, ON_REQUEST, SECTIONS, ordered
from ragwort.study.edits.common import no_edit_of_what_is_gone


def show_section(study: Study, name: str, shown: bool) -> Edit:
    """Write a section or leave it out."""
    field = "added" if name in ON_REQUEST else "hidden"
    named = tuple(each for each in getattr(study.writing, field) if each != name)
    changed = (*named, name) if shown == (field == "added") else named
    return _with(study, "sections of the report", **{field: changed})


def move_section(study: Study, name: str, by: int) -> Edit:
    """Move a section up (-1) or down (1) among its own kind."""
    names = SECTIONS if name in SECTIONS else CHAPTERS
    order = list(ordered(study.writing, names))
    place = order.index(name)
    target = min(max(place + by, 0), len(order) - 1)
    order.insert(target, order.pop(place))
    others = [each for each in study.writing.order if each not in names]
    return _with(study, "order of the report", order=(*others, *order))


def choose_paper(study: Study, paper: str) -> Edit:
    """Set the PDF on another paper."""
    return _with(study, "paper of the report", paper=paper)


@no_edit_of_what_is_gone
def set_own_text(study: Study, aim_id: str, name: str, place: str, text: str) -> Edit:
    """The user's text before or after a section; empty takes it away."""
    key, label = f"{place} {name}", "own text of the report"
    kept = study.aim(aim_id).texts if name in SECTIONS else study.writing.texts
    texts = {each: words for each, words in kept.items() if each != key}
    if text.strip():
        texts[key] = text.strip()[:LONGEST_TEXT]
    if name in SECTIONS:
        return Edit(label, study.with_aim(study.aim(aim_id).changed(texts=texts)))
    return _with(study, label, texts=texts)


def _with(study: Study, label: str, **changes: object) -> Edit:
    return Edit(label, study.changed(writing=study.writing.changed(**changes)))
