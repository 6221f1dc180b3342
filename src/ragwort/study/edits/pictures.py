"""What a picture shows: the words of its own sentence."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Pin, Steer
from ragwort.study.edits.common import no_edit_of_what_is_gone

MOST_PINS = 12
Read = Callable[[str], Mapping[str, Any]]  # of typed text, what it changes in what a picture is asked to show
WITH, WITHOUT = "with", "without"  # kept scenarios beside the aim
VALUES = "values"  # the word that lists the values of a family


def steering(aim_id: str, picture: str, slot: str) -> str:
    """What joins the keystrokes in one word of a picture's sentence to a single undo."""
    return f"steer {aim_id} {picture} {slot}"


@no_edit_of_what_is_gone
def choose_for_picture(study: Study, aim_id: str, picture: str, changes: Mapping[str, str]) -> Edit:
    """Let a picture show something else along an axis (`x`, `y`); its typed ends go."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    ends = {name: end for name, end in steer.ends.items() if name.partition("_")[0] not in changes}
    values = () if "family" in changes else steer.values
    return _steered(study, aim, picture, steer.changed(**changes, ends=ends, values=values, drafts={}))


@no_edit_of_what_is_gone
def type_in_picture(study: Study, aim_id: str, picture: str, slot: str, text: str, read: Read) -> Edit:
    """Take typed text for a word of a picture's sentence: the changes that `read` makes of it, or its fault."""
    aim = study.aim(aim_id)
    return _steered(study, aim, picture, aim.steer(picture).typed(slot, text, read))


@no_edit_of_what_is_gone
def set_in_picture(study: Study, aim_id: str, picture: str, slot: str, changes: Mapping[str, Any]) -> Edit:
    """Give a word of a picture's sentence a value."""
    aim = study.aim(aim_id)
    return _steered(study, aim, picture, aim.steer(picture).readable(slot, **changes))


@no_edit_of_what_is_gone
def set_ends(study: Study, aim_id: str, picture: str, ends: Mapping[str, float], shows: Mapping[str, str]) -> Edit:
    """Let the axes of a picture end there at once, as by the wheel, and go on showing what they `show`."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    changed = steer.changed(ends={**steer.ends, **ends}, drafts={}, **shows)
    return _steered(study, aim, picture, changed)


@no_edit_of_what_is_gone
def put_pin(study: Study, aim_id: str, picture: str, axis: str, at: float) -> Edit:
    """Read the picture at a further place of its axis."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    if len(steer.pins) >= MOST_PINS:
        return Edit("", study)
    return _steered(study, aim, picture, steer.changed(pins=(*steer.pins, Pin(axis=axis, at=at))))


@no_edit_of_what_is_gone
def change_pin(study: Study, aim_id: str, picture: str, number: int, **changes: Any) -> Edit:
    """Move a pin (`at`), or name it (`name`)."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    pins = tuple(pin.changed(**changes) if at == number else pin for at, pin in enumerate(steer.pins))
    return _steered(study, aim, picture, steer.readable(f"pin_{number}", pins=pins))


@no_edit_of_what_is_gone
def remove_pin(study: Study, aim_id: str, picture: str, number: int) -> Edit:
    """Take a pin away."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    pins = (*steer.pins[:number], *steer.pins[number + 1 :])
    return _steered(study, aim, picture, steer.changed(pins=pins, drafts={}))


@no_edit_of_what_is_gone
def set_picture_text(study: Study, aim_id: str, picture: str, part: str, text: str) -> Edit:
    """The user's own words for a part of a picture: `title`, `x`, `y`, `caption`; empty for its own."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    others = {name: own for name, own in steer.texts.items() if name != part}
    texts = {**others, part: text} if text else others
    return _steered(study, aim, picture, steer.changed(texts=texts))


@no_edit_of_what_is_gone
def set_picture_size(study: Study, aim_id: str, picture: str, size: str) -> Edit:
    """For what the picture is taken out: `column`, `page`, `slide`."""
    aim = study.aim(aim_id)
    return _steered(study, aim, picture, aim.steer(picture).changed(size=size))


@no_edit_of_what_is_gone
def reset_ends(study: Study, aim_id: str, picture: str) -> Edit:
    """Let a picture choose its axes' ends by itself again."""
    aim = study.aim(aim_id)
    return _steered(study, aim, picture, aim.steer(picture).changed(ends={}, drafts={}))


def _steered(study: Study, aim: Aim, picture: str, steer: Steer) -> Edit:
    pictures = {**aim.pictures, picture: steer}
    return Edit(f"steering the picture {picture}", study.with_aim(aim.changed(pictures=pictures)))
