"""What is found and how things are stated: the flower moves, a difference becomes two means, the point is dragged."""

from __future__ import annotations

from typing import Any

from ragwort.designs import Answer, Design, RequestError, Way, design_named
from ragwort.designs.assumption import rounded
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.edits.common import is_allowed, no_edit_of_what_is_gone
from ragwort.study.results.outcome import Problem, soon
from ragwort.study.results.whatif import found_values, stated_effect


@no_edit_of_what_is_gone
def choose_way(study: Study, aim_id: str, way: Way) -> Edit:
    """State something in another way (two means for a difference); what can be worked out is carried over."""
    aim = study.aim(aim_id)
    design = design_named(aim.design)
    group = next(ways for ways in (*design.ways, design.sizes) if way in ways)
    old = {name for other in group for name in other.names} - set(way.names) | set(way.without)
    again = [name for other in group for name in other.without if name not in (*aim.entries, *way.without)]
    restated = _restated(design, _carried(aim, design), way)
    entries = {name: entry for name, entry in aim.entries.items() if name not in old}
    before = [aim.entry(name) for name in old]
    source = next((entry.source for entry in before if entry.source and entry.was is None), "")
    example = any(entry.example for entry in before)
    for name in (*way.names, *again):
        start = restated.get(name, aim.values().get(name, design.assumption(name).default))
        entries[name] = Entry(value=start, source=source, example=example)
    return Edit(f"stating {way.label}", study.with_aim(aim.changed(entries=entries)))


def _restated(design: Design, values: dict[str, Any], way: Way) -> dict[str, Any]:
    """The values of a way that say the same; what cannot be worked out, or is out of bounds then, is left out."""
    try:
        found = design.restate(values, way)
    except (ArithmeticError, KeyError, RequestError):
        return {}  # an f so large that its η² is 1; nothing is stated yet; or a table that does not add up
    return {name: value for name, value in found.items() if is_allowed(design, name, value)}


def _carried(aim: Aim, design: Design) -> dict[str, Any]:
    """The aim's values, with the sizes of its answer where they are what is found."""
    values = aim.values()
    outcome = soon(aim)
    if isinstance(outcome, Answer):
        values = {**design.sizes_as_values(outcome.groups, outcome.plan), **values}
    return values


@no_edit_of_what_is_gone
def move_flower(study: Study, aim_id: str, find: str) -> Edit:
    """Make something else the unknown; what was found until now becomes given."""
    aim = study.aim(aim_id)
    if find == aim.find:
        return Edit("moving the flower", study)
    design = design_named(aim.design)
    if find not in design.finds:
        return Edit("moving the flower", study)  # a menu outlived the design
    entries = dict(aim.entries)
    outcome = soon(aim)
    if isinstance(outcome, Answer):
        found = {n: v for n, v in _found_values(design, aim, outcome).items() if is_allowed(design, n, v)}
        for name, value in found.items():
            entries[name] = aim.entry(name).given(value)
        if find == "effect" and any(assumption.name == "direction" for assumption in design.assumptions):
            down = float(outcome.plan.effect) < 0  # look for it on the side on which it was stated
            entries["direction"] = Entry(value="down" if down else "up")
    label = design.assumption(design.unknown_of(find, aim.values())).label.lower()
    moved = _filled_in(design, aim, aim.changed(find=find, entries=entries))
    return Edit(f"finding {label}", study.with_aim(moved))


def _filled_in(design: Design, before: Aim, moved: Aim) -> Aim:
    """The aim with what its new question lacks, as far as it was said in another way: of four cells one."""
    outcome = soon(moved)
    if not isinstance(outcome, Problem):
        return moved
    way = next((way for ways in design.ways for way in ways if outcome.field in way.names), None)
    said = {} if way is None or outcome.field in before.entries else _restated(design, before.values(), way)
    if outcome.field not in said:
        return moved
    example = any(entry.example for entry in before.entries.values())
    entry = Entry(value=said[outcome.field], example=example)
    return moved.changed(entries={**moved.entries, outcome.field: entry})


def _found_values(design: Design, aim: Aim, answer: Answer) -> dict[str, Any]:
    """What was found, as a person would have typed it; sizes as they are."""
    found = found_values(design, aim, answer)
    if answer.find == "n":
        return found
    if answer.find == "effect":
        return stated_effect(design, aim, rounded(float(answer.answer)))
    return {name: rounded(float(value)) for name, value in found.items()}
