"""What moving the design's point in a picture does to the study."""

from __future__ import annotations

from ragwort.designs import Answer, RequestError
from ragwort.figures.pictures import Picture
from ragwort.figures.shown.shown import Moved
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study


def dragged(study: Study, aim: Aim, picture: Picture, answer: Answer, to: tuple[float, float]) -> Edit:
    """The point dragged to a place of the picture."""
    return _edit(study, aim, picture.moved_to(aim, answer, to))


def stepped(study: Study, aim: Aim, picture: Picture, answer: Answer, by: tuple[int, int]) -> Edit:
    """The point moved by the arrow keys: so many steps across and up."""
    return _edit(study, aim, picture.moved_by(aim, answer, by))


def _edit(study: Study, aim: Aim, moved: Moved) -> Edit:
    if not moved.values and moved.step is None:
        return Edit("", study)
    try:
        return edits.drag_over(study, aim.id, moved.values, moved.step)
    except RequestError:
        return Edit("", study)  # beyond what is allowed: the point stays
