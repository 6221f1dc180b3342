"""The effect from evidence: what was typed into a route becomes the values that it finds."""

from __future__ import annotations

from typing import Any

from ragwort.designs import Way, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.evidence import Route
from ragwort.study.document.aim import Evidence
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.words.numbers import NumberError, parse

PILOT_FILE = "pilot file"  # beside the inputs: which file they were taken from

PILOT_GAVE = "pilot file gave"  # and which of them, their names apart by spaces

MOST_SAID = 12  # numbers of a list that a source repeats; of a longer one it says how many there were


@no_edit_of_what_is_gone
def use_evidence(study: Study, aim_id: str, route: Route, inputs: dict[str, str], lower: bool = False) -> Edit:
    """Take over what a route finds from typed inputs, with the route as source.

    Raises `NumberError` or `RequestError`.
    """
    aim = study.aim(aim_id)
    design = design_named(aim.design)
    found = route.find(read_inputs(route, inputs, aim.words.unit))
    values = found.lower if lower else found.values
    if not values:
        raise NumberError("There is no lower limit to plan on: the interval includes no effect.")
    taken = {name for ways in design.ways for way in ways for name in way.names if set(values) & _of(ways)}
    entries = {name: entry for name, entry in aim.entries.items() if name not in taken}
    said = ", ".join(f"{asked.label} {_told(asked, inputs)}" for asked in route.inputs if inputs.get(asked.name))
    file = f"pilot file {inputs[PILOT_FILE]}: " if inputs.get(PILOT_FILE) else ""
    source = f"{file}{route.label} ({said})" + (", lower limit" if lower else "")
    for at, (name, value) in enumerate(values.items()):
        kept = Evidence(route=route.name, inputs=inputs, lower=lower) if at == 0 else None
        checked = design.assumption(name).check(value)
        entries.pop(name, None)  # to the end: what was used last is found there
        entries[name] = aim.entry(name).given(checked).changed(source=source[:500], was=None, evidence=kept)
    return Edit("taking the effect from evidence", study.with_aim(aim.changed(entries=entries)))


def _told(asked: Assumption, inputs: dict[str, str]) -> str:
    """An input as a source repeats it."""
    text = " ".join(inputs[asked.name].split())
    if asked.kind == "list" and len(parse(asked, text)) > MOST_SAID:
        return f"({len(parse(asked, text))} numbers)"
    if asked.chosen:
        return next((choice.label for choice in asked.choices if choice.value == text), text)
    return text


def as_typed(route: Route, numbers: dict[str, Any]) -> dict[str, str]:
    """Numbers for a route's inputs as they would be typed, to six digits; others are left out."""
    return {asked.name: _plain(numbers[asked.name]) for asked in route.inputs if asked.name in numbers}


def _plain(value: Any) -> str:
    if isinstance(value, dict):
        return " ".join(_plain(each) for each in value.values())
    if not isinstance(value, list):
        return f"{value:.6g}" if isinstance(value, float) else str(value)
    between = "; " if any(isinstance(each, list | dict) for each in value) else " "
    return between.join(_plain(each) for each in value)


def _of(ways: tuple[Way, ...]) -> set[str]:
    return {name for way in ways for name in way.names}


def read_inputs(route: Route, inputs: dict[str, str], unit: str) -> dict[str, Any]:
    """Typed inputs as values; empty ones are left out. Raises `NumberError` that names the input."""
    return {
        asked.name: parse(asked, inputs[asked.name], unit)
        for asked in route.inputs
        if inputs.get(asked.name, "").strip()
    }
