"""What a user can do to a rehearsal: choose worlds, make them depart, type how often, keep what came of it."""

from __future__ import annotations

from typing import Any

from ragwort.rehearsal.departures import NONE
from ragwort.rehearsal.sentence import slots
from ragwort.rehearsal.stage import Planned
from ragwort.rehearsal.worlds import PLANNED, chosen_of, worlds_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Rehearsed, Rehearsing, World
from ragwort.study.document.part import new_id
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.words.numbers import NumberError, parse

MOST = 40  # worlds
_AS_PLANNED = ("", "as planned", "planned", "equal", "nobody", "everybody", "everyone")
_NOTHING = ("none", "no effect", "no effect at all", "nothing", "truth on the margin", "on the margin")


def typing(aim_id: str, name: str) -> str:
    """What joins the keystrokes in one word to a single undo."""
    return f"rehearse {aim_id} {name}"


@no_edit_of_what_is_gone
def choose_world(study: Study, aim_id: str, world_id: str) -> Edit:
    """Bring another world into view."""
    aim = study.aim(aim_id)
    return _with(study, aim, aim.rehearsing.changed(chosen=world_id))


@no_edit_of_what_is_gone
def add_world(study: Study, aim_id: str, of: Planned) -> Edit:
    """One more world, which departs as the one in view does; that is shown next."""
    aim = study.aim(aim_id)
    worlds = worlds_of(aim, of)
    if len(worlds) >= MOST:
        return Edit("", study)
    asked = chosen_of(aim, of).asked
    made = World(id=new_id(), asked=asked)
    return _with(study, aim, aim.rehearsing.changed(worlds=(*worlds, made), chosen=made.id))


@no_edit_of_what_is_gone
def remove_world(study: Study, aim_id: str, of: Planned, world_id: str) -> Edit:
    """One world fewer; the one as planned stays."""
    aim = study.aim(aim_id)
    if world_id == PLANNED:
        return Edit("", study)
    worlds = tuple(each for each in worlds_of(aim, of) if each.id != world_id)
    return _with(study, aim, aim.rehearsing.changed(worlds=worlds, chosen=""))


_PLAIN = {"shape": "normal", "related": "random", "analysis": ""}  # each choice where nothing departs


@no_edit_of_what_is_gone
def choose(study: Study, aim_id: str, of: Planned, name: str, value: str) -> Edit:
    """Take a choice of the sentence for the world in view; of a word that is none, as it has moved on, nothing."""
    if name not in _PLAIN:
        return Edit("", study)
    world = chosen_of(study.aim(aim_id), of)
    plain = _PLAIN[name]
    asked: dict[str, Any] = {key: each for key, each in world.asked.items() if key != name}
    if name == "shape":
        asked = {key: each for key, each in asked.items() if key not in ("size", "low", "high")}
    return _depart(study, aim_id, of, world, asked if value == plain else {**asked, name: value}, name)


@no_edit_of_what_is_gone
def type_word(study: Study, aim_id: str, of: Planned, name: str, text: str, merge: str = "") -> Edit:
    """Take a typed word; what cannot be read is kept with the reason, beside the last that could."""
    aim = study.aim(aim_id)
    world = chosen_of(aim, of)
    if name in ("times", "seed"):
        return _type_number(study, aim, of, name, text, merge)
    try:
        value = _read(of, world, name, text, aim.words.unit)
    except NumberError as error:
        return _of_world(
            study,
            aim_id,
            of,
            world.id,
            merge=merge,
            drafts={**world.drafts, name: text[:2000]},
            faults={**world.faults, name: str(error)},
        )
    asked = {key: each for key, each in world.asked.items() if key != name}
    if value is not None:
        asked[name] = value
    elif name == "lost":
        asked.pop("related", None)
    return _depart(study, aim_id, of, world, asked, name, merge)


def _read(of: Planned, world: World, name: str, text: str, unit: str) -> Any:
    """The value of a typed word; None where it is as planned. Raises `NumberError`."""
    words = text.strip().lower()
    if name == "effect" and words in _NOTHING:
        return NONE
    if words in _AS_PLANNED:
        return None
    slot = slots(of, world).get(name)
    if slot is None:
        raise NumberError("There is nothing to type here.")
    return parse(slot.declared, text, unit if name == "effect" else "")


def _type_number(study: Study, aim: Aim, of: Planned, name: str, text: str, merge: str) -> Edit:
    now = aim.rehearsing
    drafts = {key: each for key, each in now.drafts.items() if key != name}
    faults = {key: each for key, each in now.faults.items() if key != name}
    try:
        value = parse(slots(of, World())[name].declared, text, "")
    except NumberError as error:
        kept = now.changed(drafts={**drafts, name: text[:2000]}, faults={**faults, name: str(error)})
        return _with(study, aim, kept, merge)
    return _with(study, aim, now.changed(drafts=drafts, faults=faults, **{name: value}), merge)


@no_edit_of_what_is_gone
def show_study(study: Study, aim_id: str, number: int) -> Edit:
    """Look at another of the rehearsed studies."""
    aim = study.aim(aim_id)
    last = aim.rehearsing.times
    return _with(study, aim, aim.rehearsing.changed(number=min(max(number, 1), last)), f"study {aim_id}")


@no_edit_of_what_is_gone
def keep(study: Study, aim_id: str, kept: tuple[Rehearsed, ...]) -> Edit:
    """Keep what came of a rehearsal, for the report; nothing takes out what was kept before."""
    aim = study.aim(aim_id)
    label = "keeping the rehearsal" if kept else "leaving out the rehearsal"
    return Edit(label, study.with_aim(aim.changed(rehearsing=aim.rehearsing.changed(kept=kept[:MOST]))))


def _depart(
    study: Study, aim_id: str, of: Planned, world: World, asked: dict[str, Any], name: str, merge: str = ""
) -> Edit:
    drafts = {key: each for key, each in world.drafts.items() if key != name}
    faults = {key: each for key, each in world.faults.items() if key != name}
    return _of_world(study, aim_id, of, world.id, merge=merge, asked=asked, drafts=drafts, faults=faults)


def _of_world(study: Study, aim_id: str, of: Planned, world_id: str, merge: str = "", **changes: Any) -> Edit:
    """A world changed; the one as planned stays as it is, and what departs from it is a new one."""
    aim = study.aim(aim_id)
    worlds = worlds_of(aim, of)
    now = next((each for each in worlds if each.id == world_id), worlds[0])
    changed = now.changed(**changes)
    if changed == now:
        return Edit("", study)
    if now.id == PLANNED:
        if len(worlds) >= MOST:
            return Edit("", study)
        made = changed.changed(id=new_id())
        return _with(study, aim, aim.rehearsing.changed(worlds=(*worlds, made), chosen=made.id), merge)
    kept = tuple(changed if each.id == world_id else each for each in worlds)
    return _with(study, aim, aim.rehearsing.changed(worlds=kept), merge)


def _with(study: Study, aim: Aim, rehearsing: Rehearsing, merge: str = "") -> Edit:
    return Edit("changing the rehearsal", study.with_aim(aim.changed(rehearsing=rehearsing)), merge)
