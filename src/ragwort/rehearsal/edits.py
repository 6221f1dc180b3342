"""What a user can do to a rehearsal: choose worlds, make them depart, type how often, keep what came of it."""

from __future__ import annotations

from typing import Any

from ragwort.rehearsal.departures import NONE
from ragwort.rehearsal.stage import Planned
from ragwort.rehearsal.words import SEED, TIMES, words_of
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


PLAIN = {"shape": "normal", "related": "random", "analysis": ""}  # each choice where nothing departs


@no_edit_of_what_is_gone
def choose(study: Study, aim_id: str, of: Planned, name: str, value: str) -> Edit:
    """Take a choice of the sentence for the world in view; of a word that is none, as it has moved on, nothing."""
    if name not in PLAIN:
        return Edit("", study)
    world = chosen_of(study.aim(aim_id), of)
    plain = PLAIN[name]
    asked: dict[str, Any] = {key: each for key, each in world.asked.items() if key != name}
    if name == "shape":
        asked = {key: each for key, each in asked.items() if key not in ("size", "low", "high")}
    asked = asked if value == plain else {**asked, name: value}
    return _of_world(study, aim_id, of, world.readable(name, asked=asked))


@no_edit_of_what_is_gone
def type_word(study: Study, aim_id: str, of: Planned, name: str, text: str) -> Edit:
    """Take a typed word; what cannot be read is kept with the reason, beside the last that could."""
    aim = study.aim(aim_id)
    if name in (TIMES.name, SEED.name):
        declared = words_of(of, World())[name].declared
        return _with(study, aim, aim.rehearsing.typed(name, text, lambda typed: {name: parse(declared, typed, "")}))
    world, unit = chosen_of(aim, of), aim.words.unit
    typed = world.typed(name, text, lambda typed: {"asked": _asking(world, name, _read(of, world, name, typed, unit))})
    return _of_world(study, aim_id, of, typed)


def _asking(world: World, name: str, value: Any) -> dict[str, Any]:
    """What a world asks with another value of a departure; without it where that is None."""
    asked = {key: each for key, each in world.asked.items() if key != name}
    if value is not None:
        return {**asked, name: value}
    return {key: each for key, each in asked.items() if (name, key) != ("lost", "related")}


def _read(of: Planned, world: World, name: str, text: str, unit: str) -> Any:
    """The value of a typed word; None where it is as planned. Raises `NumberError`."""
    words = text.strip().lower()
    if name == "effect" and words in _NOTHING:
        return NONE
    if words in _AS_PLANNED:
        return None
    slot = words_of(of, world).get(name)
    if slot is None:
        raise NumberError("There is nothing to type here.")
    return parse(slot.declared, text, unit if name == "effect" else "")


@no_edit_of_what_is_gone
def show_study(study: Study, aim_id: str, number: int) -> Edit:
    """Look at another of the rehearsed studies."""
    aim = study.aim(aim_id)
    last = aim.rehearsing.times
    return _with(study, aim, aim.rehearsing.changed(number=min(max(number, 1), last)))


@no_edit_of_what_is_gone
def keep(study: Study, aim_id: str, kept: tuple[Rehearsed, ...]) -> Edit:
    """Keep what came of a rehearsal, for the report; nothing takes out what was kept before."""
    aim = study.aim(aim_id)
    label = "keeping the rehearsal" if kept else "leaving out the rehearsal"
    return Edit(label, study.with_aim(aim.changed(rehearsing=aim.rehearsing.changed(kept=kept[:MOST]))))


def _of_world(study: Study, aim_id: str, of: Planned, changed: World) -> Edit:
    """A world changed; the one as planned stays as it is, and what departs from it is a new one."""
    aim = study.aim(aim_id)
    worlds = worlds_of(aim, of)
    if changed in worlds:
        return Edit("", study)
    if changed.id == PLANNED:
        if len(worlds) >= MOST:
            return Edit("", study)
        made = changed.changed(id=new_id())
        return _with(study, aim, aim.rehearsing.changed(worlds=(*worlds, made), chosen=made.id))
    kept = tuple(changed if each.id == changed.id else each for each in worlds)
    return _with(study, aim, aim.rehearsing.changed(worlds=kept))


def _with(study: Study, aim: Aim, rehearsing: Rehearsing) -> Edit:
    return Edit("changing the rehearsal", study.with_aim(aim.changed(rehearsing=rehearsing)))
