"""Aims: added, renamed, moved, made into another design."""

from __future__ import annotations

from typing import Any

from ragwort.designs import Design
from ragwort.designs.refusals import RequestError
from ragwort.study.document.aim import VALUE, Aim, Entry, Words
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Grid
from ragwort.study.document.part import new_id
from ragwort.study.edits.common import no_edit_of_what_is_gone, short_name


def new_aim(design: Design, name: str, words: Words | None = None, claim: str = "") -> Aim:
    """A fresh aim of a design, at its starting values, which are examples until somebody says otherwise.

    `claim` is what is to be shown, where that was asked.
    """
    chosen = {each.name for each in design.assumptions if each.chosen}
    starting = design.starting_for(claim).items()
    entries = {key: Entry(value=value, example=key not in chosen) for key, value in starting}
    plain = Words(one=design.people[0], many=design.people[1]) if words is None else words
    return Aim(name=name, design=design.id, entries=entries, words=plain)


def carried_values(values: dict[str, Any], design: Design) -> dict[str, Any]:
    """What of these values a design can work with too, and its own starting values for the rest."""
    kept: dict[str, Any] = {}
    values = {**design.borrowed(values), **values}
    for assumption in design.assumptions:
        if assumption.name in values:
            try:
                kept[assumption.name] = assumption.check(values[assumption.name])
            except RequestError:
                continue  # out of bounds here: the starting value takes its place
    stated = set()
    for ways in (*design.ways, design.sizes):
        if any(all(name in kept for name in way.names) for way in ways):
            stated |= {name for way in ways for name in way.names}
        else:
            kept = {name: value for name, value in kept.items() if all(name not in way.names for way in ways)}
    return {**{name: value for name, value in design.starting.items() if name not in stated}, **kept}


@no_edit_of_what_is_gone
def change_design(study: Study, aim_id: str, design: Design) -> Edit:
    """Make the aim one of another design; what both share is carried over, with ranges, sources and notes."""
    aim = study.aim(aim_id)
    if aim.design == design.id:
        return Edit("changing the design", study)
    values = carried_values(aim.values(), design)
    entries = {name: _carried_entry(aim.entry(name), value) for name, value in values.items()}
    sized = any(all(name in values for name in way.names) for way in design.sizes)
    find = aim.find if aim.find in ("power", "alpha") and aim.find in design.finds and sized else "n"
    known = {each.name for each in design.assumptions}
    grid = Grid(varied=tuple(each for each in aim.grid.varied if each.name in known))
    changed = aim.changed(design=design.id, entries=entries, find=find, scenarios=(), grid=grid, expected=Entry())
    return Edit(f"changing the design to {design.title.lower()}", study.with_aim(changed))


def _carried_entry(entry: Entry, value: Any) -> Entry:
    """In another design: what was given there is given here too, the rest is an example."""
    return entry.readable(VALUE) if entry.value == value else Entry(value=value, example=True)


def aim_beside(study: Study, other: Aim | None, design: Design, claim: str = "") -> Aim:
    """A fresh aim of a design, with the words that another aim has for people where they fit."""
    usual = design.people == Design.people and other is not None
    words = other.words.changed(outcome="", unit="") if usual and other is not None else None
    return new_aim(design, f"Aim {len(study.aims) + 1}", words, claim)


def add_aim(study: Study, aim: Aim) -> Edit:
    """Add an aim at the end."""
    return Edit("adding an aim", study.changed(aims=(*study.aims, aim)))


@no_edit_of_what_is_gone
def rename_aim(study: Study, aim_id: str, name: str) -> Edit:
    """Rename an aim; an empty name changes nothing."""
    aim = study.aim(aim_id)
    return Edit("renaming an aim", study.with_aim(aim.changed(name=short_name(name) or aim.name)))


@no_edit_of_what_is_gone
def duplicate_aim(study: Study, aim_id: str) -> Edit:
    """A copy of an aim, right after it."""
    aims = list(study.aims)
    aim = study.aim(aim_id)
    copy = aim.changed(id=new_id(), name=short_name(f"{aim.name} (copy)"))
    aims.insert(aims.index(aim) + 1, copy)
    return Edit("duplicating an aim", study.changed(aims=tuple(aims)))


@no_edit_of_what_is_gone
def move_aim(study: Study, aim_id: str, by: int) -> Edit:
    """Move an aim up (negative) or down the list."""
    aims = list(study.aims)
    at = aims.index(study.aim(aim_id))
    aim = aims.pop(at)
    aims.insert(min(max(at + by, 0), len(aims)), aim)
    return Edit("moving an aim", study.changed(aims=tuple(aims)))


@no_edit_of_what_is_gone
def delete_aim(study: Study, aim_id: str) -> Edit:
    """Delete an aim with its scenarios."""
    return Edit("deleting an aim", study.changed(aims=tuple(a for a in study.aims if a.id != aim_id)))
