"""What a picture shows: the words of its own sentence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Pin, Steer
from ragwort.study.edits.common import no_edit_of_what_is_gone

MOST_PINS = 12
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
    return _steered(study, aim, picture, steer.changed(**changes, ends=ends, values=values, drafts={}, faults={}))


@no_edit_of_what_is_gone
def set_family_values(
    study: Study, aim_id: str, picture: str, family: str, values: Sequence[float], merge: str = ""
) -> Edit:
    """Draw a line for each of these values of an assumption."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    drafts, faults = _without(steer.drafts, VALUES), _without(steer.faults, VALUES)
    changed = steer.changed(family=family, values=tuple(values), drafts=drafts, faults=faults)
    return _steered(study, aim, picture, changed, merge)


@no_edit_of_what_is_gone
def set_end(study: Study, aim_id: str, picture: str, slot: str, end: float, shows: str, merge: str = "") -> Edit:
    """Let an axis of a picture end there, and go on showing what it `shows`."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    drafts, faults = _without(steer.drafts, slot), _without(steer.faults, slot)
    axis = {slot.partition("_")[0]: shows}
    changed = steer.changed(ends={**steer.ends, slot: end}, drafts=drafts, faults=faults, **axis)
    return _steered(study, aim, picture, changed, merge)


@no_edit_of_what_is_gone
def set_cost(study: Study, aim_id: str, picture: str, slot: str, cost: float, merge: str = "") -> Edit:
    """Say what one participant of a group costs (`cost_1`, `cost_2`)."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    drafts, faults = _without(steer.drafts, slot), _without(steer.faults, slot)
    changed = steer.changed(costs={**steer.costs, slot: cost}, drafts=drafts, faults=faults)
    return _steered(study, aim, picture, changed, merge)


@no_edit_of_what_is_gone
def keep_draft_of_end(
    study: Study, aim_id: str, picture: str, slot: str, text: str, fault: str, merge: str = ""
) -> Edit:
    """Keep text that cannot be read as the end of an axis, and why, beside the last good one."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    changed = steer.changed(drafts={**steer.drafts, slot: text}, faults={**steer.faults, slot: fault})
    return _steered(study, aim, picture, changed, merge)


@no_edit_of_what_is_gone
def set_ends(
    study: Study, aim_id: str, picture: str, ends: Mapping[str, float], shows: Mapping[str, str], merge: str = ""
) -> Edit:
    """Let the axes of a picture end there at once, as by the wheel, and go on showing what they `show`."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    changed = steer.changed(ends={**steer.ends, **ends}, drafts={}, faults={}, **shows)
    return _steered(study, aim, picture, changed, merge)


@no_edit_of_what_is_gone
def put_pin(study: Study, aim_id: str, picture: str, axis: str, at: float) -> Edit:
    """Read the picture at a further place of its axis."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    if len(steer.pins) >= MOST_PINS:
        return Edit("", study)
    return _steered(study, aim, picture, steer.changed(pins=(*steer.pins, Pin(axis=axis, at=at))))


@no_edit_of_what_is_gone
def change_pin(study: Study, aim_id: str, picture: str, number: int, merge: str = "", **changes: Any) -> Edit:
    """Move a pin (`at`), or name it (`name`)."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    pins = tuple(pin.changed(**changes) if at == number else pin for at, pin in enumerate(steer.pins))
    slot = f"pin_{number}"
    drafts, faults = _without(steer.drafts, slot), _without(steer.faults, slot)
    return _steered(study, aim, picture, steer.changed(pins=pins, drafts=drafts, faults=faults), merge)


@no_edit_of_what_is_gone
def remove_pin(study: Study, aim_id: str, picture: str, number: int, merge: str = "") -> Edit:
    """Take a pin away."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    pins = (*steer.pins[:number], *steer.pins[number + 1 :])
    return _steered(study, aim, picture, steer.changed(pins=pins, drafts={}, faults={}), merge)


@no_edit_of_what_is_gone
def set_picture_text(study: Study, aim_id: str, picture: str, part: str, text: str) -> Edit:
    """The user's own words for a part of a picture: `title`, `x`, `y`, `caption`; empty for its own."""
    aim = study.aim(aim_id)
    steer = aim.steer(picture)
    texts = {**_without(steer.texts, part), **({part: text} if text else {})}
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
    return _steered(study, aim, picture, aim.steer(picture).changed(ends={}, drafts={}, faults={}))


def _without(texts: Mapping[str, str], slot: str) -> dict[str, str]:
    return {name: text for name, text in texts.items() if name != slot}


def _steered(study: Study, aim: Aim, picture: str, steer: Steer, merge: str = "") -> Edit:
    pictures = {**aim.pictures, picture: steer}
    return Edit(f"steering the picture {picture}", study.with_aim(aim.changed(pictures=pictures)), merge)
