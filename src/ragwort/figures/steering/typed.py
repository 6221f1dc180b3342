"""Words of a picture's sentence that are typed: how each is read, shown, nudged, and what it changes."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, NoReturn

from ragwort.designs import design_named
from ragwort.designs.assumption import Assumption
from ragwort.figures.scales.axes import Axis
from ragwort.figures.shown.asked import family_of
from ragwort.figures.shown.shown import Shown
from ragwort.figures.shown.split import COSTS, Split
from ragwort.figures.shown.trace import Trace
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Steer
from ragwort.study.edits.pictures import VALUES
from ragwort.study.words.lists import is_range, several
from ragwort.study.words.numbers import NumberError, nudged, parse, value_text

MOST_VALUES = 6  # lines beside the aim's own
_COST = Assumption("cost", "Cost", "number", "Sample", "What one participant costs.", low=0, open_low=True)


Changes = dict[str, Any]  # of what a picture is asked to show


@dataclass(frozen=True)
class Place:
    """A word of the sentence of a picture of an aim, and what the picture is asked to show by now."""

    aim: Aim
    steer: Steer
    shown: Shown
    slot: str


@dataclass(frozen=True)
class TypedWord:
    """A kind of word that is typed."""

    label: Callable[[str], str]  # for those who do not see where it stands
    text: Callable[[Aim, Shown, str], str]  # as it is typed
    read: Callable[[Place, str], Changes]  # what typed text changes; raises `NumberError`
    moved: Callable[[Place, int], Changes | None] | None = None  # some steps up or down; None where nothing moves


def typed(slot: str) -> TypedWord:
    """How a word is typed."""
    return _KINDS.get(slot.partition("_")[0], _END)


# --- the ends of an axis ---


def axis_of(shown: Shown, slot: str) -> Axis:
    """The axis that a word is about: `x`, `x_low` …"""
    axes = shown.axes()
    return axes.get(slot.partition("_")[0], axes["x"])


def _assumption_of(aim: Aim, shown: Shown, slot: str) -> Assumption:
    """What is typed as an end of an axis."""
    return design_named(aim.design).assumption(axis_of(shown, slot).name)


def _end_of(shown: Shown, slot: str) -> float:
    """An end of an axis as a value."""
    axis = axis_of(shown, slot)
    return axis.ends[0 if slot.endswith("low") else 1] / axis.scale


def read_end(aim: Aim, shown: Shown, slot: str, text: str) -> float:
    """Typed text as the end of an axis. Raises `NumberError`."""
    value = float(parse(_assumption_of(aim, shown, slot), text, aim.words.unit))
    axis, _, end = slot.partition("_")
    low, high = (value, _end_of(shown, f"{axis}_high")) if end == "low" else (_end_of(shown, f"{axis}_low"), value)
    if low >= high:
        raise NumberError("An axis runs from the lower to the higher number.")
    return value


def text_of_end(aim: Aim, shown: Shown, slot: str) -> str:
    """An end as it is typed."""
    return value_text(_assumption_of(aim, shown, slot), _end_of(shown, slot), 6)


def _end_in(place: Place, text: str) -> Changes:
    return _with_end(place, read_end(place.aim, place.shown, place.slot, text))


def _moved_end(place: Place, steps: int) -> Changes | None:
    here = _end_of(place.shown, place.slot)
    moved = float(nudged(_assumption_of(place.aim, place.shown, place.slot), here, steps))
    axis, _, end = place.slot.partition("_")
    other = _end_of(place.shown, f"{axis}_{'high' if end == 'low' else 'low'}")
    crossed = moved >= other if end == "low" else moved <= other
    return _with_end(place, moved) if moved != here and not crossed else None


def _with_end(place: Place, end: float) -> Changes:
    """The axis ends there, and goes on showing what it shows."""
    shows = {place.slot.partition("_")[0]: axis_of(place.shown, place.slot).name}
    return {"ends": {**place.steer.ends, place.slot: end}, **shows}


# --- the values of a family ---


def text_of_values(aim: Aim, shown: Shown) -> str:
    """The values of a family as they are typed."""
    assert isinstance(shown, Trace)
    assumption = design_named(aim.design).assumption(shown.family)
    values = family_of(aim, shown.find, aim.steer("Curve").changed(family=shown.family))
    return ", ".join(value_text(assumption, value, 6) for value in values)


def _read_values(aim: Aim, shown: Shown, text: str) -> tuple[float, ...]:
    """Typed values of a family, apart by commas or spaces. Raises `NumberError`."""
    assert isinstance(shown, Trace)
    assumption = design_named(aim.design).assumption(shown.family)
    return values_from(assumption, text, aim.words.unit)


def values_from(assumption: Assumption, text: str, unit: str = "") -> tuple[float, ...]:
    """Several values of an assumption, apart by commas or spaces, or a range with a step. Raises `NumberError`."""
    whole = text.strip().removesuffix(unit).strip()
    if is_range(assumption, whole):
        found = several(assumption, whole, unit)
        return found if len(found) <= MOST_VALUES else _refuse_many(len(found))
    parts = [part for part in re.split(r",\s+|;\s*|\s+and\s+|\s+|(?<=\d),(?=\d)", whole) if part]
    if not parts:
        raise NumberError("Type the values for which there is to be a line, as in 20, 28.")
    if len(parts) > MOST_VALUES:
        return _refuse_many(len(parts))
    return tuple(float(parse(assumption, part, unit)) for part in parts)


def _refuse_many(count: int) -> NoReturn:
    raise NumberError(f"At most {MOST_VALUES} lines can be told apart; these are {count}.")


def _values_in(place: Place, text: str) -> Changes:
    return {"values": _read_values(place.aim, place.shown, text)}


# --- what one participant costs ---


def cost_of(shown: Shown, slot: str) -> float:
    """What one participant of a group costs: `cost_1`, `cost_2`."""
    assert isinstance(shown, Split)
    return (shown.costs or COSTS)[int(slot[-1]) - 1]


def text_of_cost(shown: Shown, slot: str) -> str:
    """The same as it is typed."""
    return value_text(_COST, cost_of(shown, slot))


def _cost_in(place: Place, text: str) -> Changes:
    return _with_cost(place, float(parse(_COST, text)))


def _moved_cost(place: Place, steps: int) -> Changes | None:
    here = cost_of(place.shown, place.slot)
    moved = float(nudged(_COST, here, steps))
    return _with_cost(place, moved) if moved != here else None


def _with_cost(place: Place, cost: float) -> Changes:
    return {"costs": {**place.steer.costs, place.slot: cost}}


# --- pins ---


def text_of_pin(aim: Aim, shown: Shown, slot: str) -> str:
    """Where a pin stands, as it is typed."""
    pin = aim.steer("Curve").pins[int(slot.partition("_")[2])]
    return value_text(_assumption_of(aim, shown, "x"), pin.at, 6)


def read_pin(place: Place, text: str) -> float:
    """Where a typed pin stands. Raises `NumberError`."""
    return float(parse(_assumption_of(place.aim, place.shown, "x"), text, place.aim.words.unit))


def _pin_in(place: Place, text: str) -> Changes:
    if not text.strip():
        raise NumberError("Type where to read; to remove the pin, drag its flag off the axis.")
    return _with_pin(place, read_pin(place, text))


def _moved_pin(place: Place, steps: int) -> Changes | None:
    here = place.steer.pins[_number(place)].at
    moved = float(nudged(_assumption_of(place.aim, place.shown, "x"), here, steps))
    return _with_pin(place, moved) if moved != here else None


def _with_pin(place: Place, at: float) -> Changes:
    pins = place.steer.pins
    return {"pins": tuple(pin.changed(at=at) if number == _number(place) else pin for number, pin in enumerate(pins))}


def _number(place: Place) -> int:
    return int(place.slot.partition("_")[2])


_END = TypedWord(lambda slot: {"low": "From", "high": "To"}[slot.partition("_")[2]], text_of_end, _end_in, _moved_end)
_KINDS = {
    VALUES: TypedWord(
        lambda slot: "A line for each of", lambda aim, shown, slot: text_of_values(aim, shown), _values_in
    ),
    "pin": TypedWord(lambda slot: f"Pin {int(slot.partition('_')[2]) + 1}", text_of_pin, _pin_in, _moved_pin),
    "cost": TypedWord(
        lambda slot: f"Cost of one participant of group {slot[-1]}",
        lambda aim, shown, slot: text_of_cost(shown, slot),
        _cost_in,
        _moved_cost,
    ),
}
