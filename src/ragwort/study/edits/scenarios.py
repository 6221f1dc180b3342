"""Kept scenarios."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ragwort import __version__
from ragwort.designs import Answer, design_named
from ragwort.study.document.aim import Aim, Entry, Finding, Scenario
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.part import LONGEST_TEXT
from ragwort.study.edits.common import no_edit_of_what_is_gone, short_name
from ragwort.study.results.outcome import at_hand


@no_edit_of_what_is_gone
def keep_scenario(study: Study, aim_id: str, name: str) -> Edit:
    """Keep the aim's assumptions as they are now."""
    aim = study.aim(aim_id)
    return _kept(study, aim, name, aim.find, aim.entries)


@no_edit_of_what_is_gone
def keep_values(study: Study, aim_id: str, values: Mapping[str, Any], find: str, name: str) -> Edit:
    """Keep the aim with other values, or another unknown, as a scenario."""
    aim = study.aim(aim_id)
    return _kept(study, aim, name, find, _with_values(aim, values))


def _kept(study: Study, aim: Aim, name: str, find: str, entries: Mapping[str, Entry]) -> Edit:
    """With what it finds today, as far as that is at hand."""
    kept = Scenario(name=short_name(name) or "Scenario", find=find, entries=dict(entries))
    outcome = at_hand(aim, kept)
    if isinstance(outcome, Answer):
        now = float(outcome.answer), outcome.total, outcome.power, __version__
        kept = kept.changed(found=Finding(answer=now[0], total=now[1], power=now[2], version=now[3]))
    return Edit("keeping a scenario", study.with_aim(aim.changed(scenarios=(*aim.scenarios, kept))))


@no_edit_of_what_is_gone
def note_scenario(study: Study, aim_id: str, scenario_id: str, text: str) -> Edit:
    """Say what speaks for a scenario, or against it."""
    aim = study.aim(aim_id)
    noted = aim.scenario(scenario_id).changed(note=text[:LONGEST_TEXT])
    scenarios = tuple(noted if old.id == scenario_id else old for old in aim.scenarios)
    return Edit("a note on a scenario", study.with_aim(aim.changed(scenarios=scenarios)))


@no_edit_of_what_is_gone
def plan_on(study: Study, aim_id: str, scenario_id: str) -> Edit:
    """Plan on a scenario; with an empty id on the aim as it stands."""
    aim = study.aim(aim_id)
    name = aim.scenario(scenario_id).name if scenario_id else "the aim as it stands"
    return Edit(f"planning on {name}", study.with_aim(aim.changed(planned=scenario_id)))


@no_edit_of_what_is_gone
def take_values(study: Study, aim_id: str, values: Mapping[str, Any], find: str) -> Edit:
    """Put other values, or another unknown, in force."""
    aim = study.aim(aim_id)
    return Edit("taking other values", study.with_aim(aim.changed(find=find, entries=_with_values(aim, values))))


def _with_values(aim: Aim, values: Mapping[str, Any]) -> dict[str, Entry]:
    """The aim's entries with other values; what says the same in another way goes."""
    design, entries = design_named(aim.design), dict(aim.entries)
    for ways in (*design.ways, design.sizes):
        stated = next((way for way in ways if set(way.names) & set(values)), None)
        gone = {name for way in ways for name in way.names} - set(stated.names) if stated is not None else set()
        entries = {name: entry for name, entry in entries.items() if name not in gone}
    for name, value in values.items():
        counts = design.assumption(name).kind == "count"
        entries[name] = aim.entry(name).given(int(value) if counts else value)
    return entries


@no_edit_of_what_is_gone
def return_to_scenario(study: Study, aim_id: str, scenario_id: str) -> Edit:
    """Put a kept scenario's assumptions back in force."""
    aim = study.aim(aim_id)
    kept = aim.scenario(scenario_id)
    return Edit(f"returning to {kept.name}", study.with_aim(aim.changed(find=kept.find, entries=kept.entries)))


@no_edit_of_what_is_gone
def rename_scenario(study: Study, aim_id: str, scenario_id: str, name: str) -> Edit:
    """Rename a kept scenario; an empty name changes nothing."""
    aim = study.aim(aim_id)
    kept = aim.scenario(scenario_id)
    renamed = kept.changed(name=short_name(name) or kept.name)
    scenarios = tuple(renamed if old.id == scenario_id else old for old in aim.scenarios)
    return Edit("renaming a scenario", study.with_aim(aim.changed(scenarios=scenarios)))


@no_edit_of_what_is_gone
def move_scenario(study: Study, aim_id: str, scenario_id: str, by: int) -> Edit:
    """Move a kept scenario forward or back among the others; at the ends it stays."""
    aim = study.aim(aim_id)
    kept = aim.scenario(scenario_id)
    others = [each for each in aim.scenarios if each.id != scenario_id]
    place = min(max(aim.scenarios.index(kept) + by, 0), len(others))
    scenarios = (*others[:place], kept, *others[place:])
    return Edit("moving a scenario", study.with_aim(aim.changed(scenarios=scenarios)))


@no_edit_of_what_is_gone
def delete_scenario(study: Study, aim_id: str, scenario_id: str) -> Edit:
    """Delete a kept scenario."""
    aim = study.aim(aim_id)
    scenarios = tuple(kept for kept in aim.scenarios if kept.id != scenario_id)
    return Edit("deleting a scenario", study.with_aim(aim.changed(scenarios=scenarios)))
