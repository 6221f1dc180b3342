"""Kept scenarios."""

from __future__ import annotations

from ragwort.study.edits.common import no_edit_of_what_is_gone, short_name
from ragwort.study.history import Edit
from ragwort.study.model import Scenario, Study


@no_edit_of_what_is_gone
def keep_scenario(study: Study, aim_id: str, name: str) -> Edit:
    """Keep the aim's assumptions as they are now."""
    aim = study.aim(aim_id)
    kept = Scenario(name=short_name(name) or "Scenario", find=aim.find, entries=aim.entries)
    return Edit("keeping a scenario", study.with_aim(aim.changed(scenarios=(*aim.scenarios, kept))))


@no_edit_of_what_is_gone
def return_to_scenario(study: Study, aim_id: str, scenario_id: str) -> Edit:
    """Put a kept scenario's assumptions back in force."""
    aim = study.aim(aim_id)
    kept = aim.scenario(scenario_id)
    return Edit(f"returning to {kept.name}", study.with_aim(aim.changed(find=kept.find, entries=kept.entries)))


@no_edit_of_what_is_gone
def rename_scenario(study: Study, aim_id: str, scenario_id: str, name: str, merge: str = "") -> Edit:
    """Rename a kept scenario; an empty name changes nothing."""
    aim = study.aim(aim_id)
    kept = aim.scenario(scenario_id)
    renamed = kept.changed(name=short_name(name) or kept.name)
    scenarios = tuple(renamed if old.id == scenario_id else old for old in aim.scenarios)
    return Edit("renaming a scenario", study.with_aim(aim.changed(scenarios=scenarios)), merge)


@no_edit_of_what_is_gone
def delete_scenario(study: Study, aim_id: str, scenario_id: str) -> Edit:
    """Delete a kept scenario."""
    aim = study.aim(aim_id)
    scenarios = tuple(kept for kept in aim.scenarios if kept.id != scenario_id)
    return Edit("deleting a scenario", study.with_aim(aim.changed(scenarios=scenarios)))
