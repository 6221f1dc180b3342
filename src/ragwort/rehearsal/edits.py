"""What a user can do to a rehearsal: choose worlds, make them depart, type how often, keep what came of it."""

from __future__ import annotations

from typing import Any

from ragwort.designs.assumption import Assumption
from ragwort.rehearsal.departures import Departure, departure_of
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.worlds import PLANNED, chosen_of, worlds_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Rehearsed, Rehearsing, World
from ragwort.study.document.part import new_id
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.words.numbers import NumberError, parse

MOST = 40  # worlds
TIMES = Assumption("times", "Studies", "count", "Sample", "How many studies are made up.", low=1, high=1_000_000)
SEED = Assumption("seed", "Seed", "count", "Sample", "Where the randomness begins.", low=0, high=2**53)
COUNTS = {each.name: each for each in (TIMES, SEED)}
_AS_PLANNED = ("", "as planned", "planned", "equal", "nobody", "everybody", "everyone")


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


@no_edit_of_what_is_gone
def choose(study: Study, aim_id: str, of: Planned, name: str, value: str) -> Edit:
    """Take a choice of the sentence for the world in view; of a word that is none, as it has moved on, nothing."""
    departure, world = departure_of(name, of), chosen_of(study.aim(aim_id), of)
    word = departure.words(of, world.asked).get(name) if departure is not None else None
    if departure is None or word is None or word.choices is None:
        return Edit("", study)
    plain = value == next(iter(word.choices))
    asked = _asking(departure, world, name, None if plain else value)
    return _of_world(study, aim_id, of, world.readable(name, asked=asked))


@no_edit_of_what_is_gone
def type_word(study: Study, aim_id: str, of: Planned, name: str, text: str) -> Edit:
    """Take a typed word; what cannot be read is kept with the reason, beside the last that could."""
    aim = study.aim(aim_id)
    if name in COUNTS:
        return _with(study, aim, aim.rehearsing.typed(name, text, lambda typed: {name: parse(COUNTS[name], typed, "")}))
    world = chosen_of(aim, of)
    return _of_world(study, aim_id, of, world.typed(name, text, lambda typed: _read(of, world, name, typed, aim)))


@no_edit_of_what_is_gone
def set_count(study: Study, aim_id: str, name: str, value: int) -> Edit:
    """How many studies are made up, or from which seed."""
    aim = study.aim(aim_id)
    return _with(study, aim, aim.rehearsing.readable(name, **{name: value}))


def _read(of: Planned, world: World, name: str, text: str, aim: Aim) -> dict[str, Any]:
    """What a typed word lets a world ask. Raises `NumberError`."""
    departure, words = departure_of(name, of), text.strip().lower()
    word = departure.words(of, world.asked).get(name) if departure is not None else None
    if departure is None or word is None:
        raise NumberError("There is nothing to type here.")
    value = departure.read(words)
    if value is None and words not in _AS_PLANNED:
        value = parse(word.declared, text, aim.words.unit if departure.in_unit else "")
    return {"asked": _asking(departure, world, name, value)}


def _asking(departure: Departure, world: World, name: str, value: Any) -> dict[str, Any]:
    """What a world asks with another value in a slot; without it where that is None."""
    gone = {name, *departure.goes_with(name, value)}
    asked = {key: each for key, each in world.asked.items() if key not in gone}
    return asked if value is None else {**asked, name: value}


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
