"""The sentence that a picture is steered by: what stands in it, and what each of its words can be."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.request import values_in_force
from ragwort.figures.axes import SIZE, Axis, axes_of, words_of_sizes
from ragwort.figures.curve import Curve
from ragwort.figures.drivers import Drivers
from ragwort.figures.map import Map
from ragwort.figures.quantity import Found, Quantity
from ragwort.figures.shown import Shown
from ragwort.figures.spread import Spread
from ragwort.figures.trace import Trace, family_of, names_across
from ragwort.study.edits.pictures import VALUES
from ragwort.study.model import Aim, Steer
from ragwort.study.numbers import NumberError, parse, unit_text, value_text
from ragwort.study.sentence import Piece
from ragwort.study.whatif import ranged, values_for

AS_PLANNED = "as planned"
MOST_VALUES = 6  # lines beside the aim's own
Offers = list[tuple[str, str, bool]]  # value, label, whether it is shown now


@dataclass(frozen=True)
class Sentence:
    """A picture's sentence, by the picture's name: its pieces, and the names that each of its choices can take."""

    picture: str
    pieces: Callable[[Aim, Answer, Shown], list[Piece]]
    offers: Callable[[Aim, Answer, Shown, str], Offers]

    def chosen(self, aim: Aim, answer: Answer, shown: Shown, slot: str, value: str) -> dict[str, str]:
        """What choosing `value` for a word changes: two axes never show the same, they change places instead."""
        if isinstance(shown, Map):
            now = {"x": shown.x.name, "y": shown.y.name}
            other = "y" if slot == "x" else "x"
            return {slot: value, other: now[slot] if now[other] == value else now[other]}
        return {slot: value}


def axis_of(shown: Shown, slot: str) -> Axis:
    """The axis that a word is about: `x`, `x_low` …"""
    assert isinstance(shown, Map | Trace)
    return shown.x if slot.startswith("x") or isinstance(shown, Trace) else shown.y


def assumption_of(aim: Aim, shown: Shown, slot: str) -> Assumption:
    """What is typed as an end of an axis."""
    return design_named(aim.design).assumption(axis_of(shown, slot).name)


def end_of(shown: Shown, slot: str) -> float:
    """An end of an axis as a value."""
    axis = axis_of(shown, slot)
    return axis.ends[0 if slot.endswith("low") else 1] / axis.scale


def read_end(aim: Aim, shown: Shown, slot: str, text: str) -> float:
    """Typed text as the end of an axis. Raises `NumberError`."""
    value = float(parse(assumption_of(aim, shown, slot), text, aim.words.unit))
    axis, _, end = slot.partition("_")
    low, high = (value, end_of(shown, f"{axis}_high")) if end == "low" else (end_of(shown, f"{axis}_low"), value)
    if low >= high:
        raise NumberError("An axis runs from the lower to the higher number.")
    return value


def text_of_end(aim: Aim, shown: Shown, slot: str) -> str:
    """An end as it is typed."""
    return value_text(assumption_of(aim, shown, slot), end_of(shown, slot), 6)


def plain(pieces: Sequence[Piece]) -> str:
    """The sentence as text."""
    return "".join(piece.text for piece in pieces)


# --- Map ---


def _map_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    found = [Piece("text", "Power over ")]
    steer = aim.steer("Map")
    for slot in ("x", "y"):
        found += [*([Piece("text", " and ")] if slot == "y" else []), *_axis_pieces(aim, steer, shown, slot)]
    return [*found, Piece("text", ".")]


def _axis_pieces(aim: Aim, steer: Steer, shown: Shown, slot: str) -> list[Piece]:
    """`difference from 6 to 18 ms`."""
    axis = axis_of(shown, slot)
    return [
        Piece("choice", axis.words, slot),
        Piece("text", " from "),
        _end_piece(aim, steer, shown, f"{slot}_low", ""),
        Piece("text", " to "),
        _end_piece(aim, steer, shown, f"{slot}_high", axis.unit),
    ]


def _end_piece(aim: Aim, steer: Steer, shown: Shown, slot: str, unit: str) -> Piece:
    if slot in steer.faults:
        return Piece("value", steer.drafts[slot][:16].strip() or "—", slot, fault=True)
    text = text_of_end(aim, shown, slot)
    return Piece("value", f"{text}\u00a0{unit}" if unit else text, slot)


def _map_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    design = design_named(aim.design)
    values, _ = values_in_force(design, "power", values_for(aim, answer, "power"))
    assert isinstance(shown, Map)
    sizes = words_of_sizes(aim, answer, shown.per_group)[0]
    now = axis_of(shown, slot).name
    return [
        (name, sizes if name == SIZE else Quantity(design.assumption(name), aim).words, name == now)
        for name in axes_of(aim, values)
    ]


# --- Drivers ---


def _drivers_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    assert isinstance(shown, Drivers)
    return [
        Piece("text", "How far the "),
        Piece("choice", Found(shown.find, aim).words, "y"),
        Piece("text", " moves when each assumption goes to the ends of its plausible range."),
    ]


def _drivers_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    assert isinstance(shown, Drivers)
    return [(find, Found(find, aim).words, find == shown.find) for find in design_named(aim.design).finds]


# --- Curve ---


def _curve_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    steer = aim.steer("Curve")
    found = _find_of(shown, aim)
    pieces = [Piece("choice", found.words[:1].upper() + found.words[1:], "y"), Piece("text", " against ")]
    if isinstance(shown, Trace):
        pieces += _axis_pieces(aim, steer, shown, "x")
    else:
        pieces.append(Piece("choice", shown.x_label, "x"))
    pieces += [Piece("text", ", "), *_family_pieces(aim, steer, shown)]
    if isinstance(shown, Curve) and aim.scenarios:
        pieces.append(Piece("text", ", with the kept scenarios"))
    return [*pieces, Piece("text", ".")]


def _family_pieces(aim: Aim, steer: Steer, shown: Shown) -> list[Piece]:
    """`also for standard deviation 20, 28 ms`."""
    if not isinstance(shown, Trace) or not shown.family:
        return [Piece("choice", AS_PLANNED, "family")]
    quantity = Quantity(design_named(aim.design).assumption(shown.family), aim)
    fault = VALUES in steer.faults
    unit = unit_text(quantity.assumption, aim.words.unit)
    text = f"{text_of_values(aim, shown)}\u00a0{unit}" if unit else text_of_values(aim, shown)
    return [
        Piece("text", "also for "),
        Piece("choice", quantity.words, "family"),
        Piece("text", " "),
        Piece("value", (steer.drafts[VALUES][:24].strip() or "\u2014") if fault else text, VALUES, fault=fault),
    ]


def text_of_values(aim: Aim, shown: Shown) -> str:
    """The values of a family as they are typed."""
    assert isinstance(shown, Trace)
    assumption = design_named(aim.design).assumption(shown.family)
    values = family_of(aim, shown.find, aim.steer("Curve").changed(family=shown.family))
    return ", ".join(value_text(assumption, value, 6) for value in values)


def read_values(aim: Aim, shown: Shown, text: str) -> tuple[float, ...]:
    """Typed values of a family, apart by commas or spaces. Raises `NumberError`."""
    assert isinstance(shown, Trace)
    assumption = design_named(aim.design).assumption(shown.family)
    return values_from(assumption, text, aim.words.unit)


def values_from(assumption: Assumption, text: str, unit: str = "") -> tuple[float, ...]:
    """Several values of an assumption, apart by commas or spaces. Raises `NumberError`."""
    whole = text.strip().removesuffix(unit).strip()
    parts = [part for part in re.split(r",\s+|;\s*|\s+and\s+|\s+|(?<=\d),(?=\d)", whole) if part]
    if not parts:
        raise NumberError("Type the values for which there is to be a line, as in 20, 28.")
    if len(parts) > MOST_VALUES:
        raise NumberError(f"At most {MOST_VALUES} lines can be told apart; these are {len(parts)}.")
    return tuple(float(parse(assumption, part, unit)) for part in parts)


def _find_of(shown: Shown, aim: Aim) -> Found:
    return Found(shown.find if isinstance(shown, Trace) else "power", aim)


def _families(aim: Aim, answer: Answer, shown: Shown) -> Offers:
    """What may differ from line to line: nothing, or an assumption that has a plausible range."""
    find, x = (shown.find, shown.x.name) if isinstance(shown, Trace) else ("power", SIZE)
    now = shown.family if isinstance(shown, Trace) else ""
    offers = [("", AS_PLANNED, not now)]
    for assumption, low, high in ranged(aim, find):
        quantity = Quantity(assumption, aim)
        words = f"also for {quantity.words} {value_text(assumption, low)} and {quantity.text(high)}"
        if assumption.name != x:
            offers.append((assumption.name, words, assumption.name == now))
    return offers


def _curve_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    design = design_named(aim.design)
    find = shown.find if isinstance(shown, Trace) else "power"
    if slot == "family":
        return _families(aim, answer, shown)
    if slot == "y":
        return [(name, Found(name, aim).words, name == find) for name in design.finds]
    now = shown.x.name if isinstance(shown, Trace) else SIZE
    per_group = answer.plan.counting.equal_groups > 1
    sizes = words_of_sizes(aim, answer, per_group)[0]
    return [
        (name, sizes if name == SIZE else Quantity(design.assumption(name), aim).words, name == now)
        for name in names_across(aim, answer, find)
    ]


# --- Spread ---


def _spread_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    """What to take from it: there is nothing to steer."""
    assert isinstance(shown, Spread)
    return [Piece("text", shown.conclusion)] if shown.conclusion else []


def _no_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    return []


SENTENCES = {
    each.picture: each
    for each in (
        Sentence("Curve", _curve_pieces, _curve_offers),
        Sentence("Map", _map_pieces, _map_offers),
        Sentence("Drivers", _drivers_pieces, _drivers_offers),
        Sentence("Spread", _spread_pieces, _no_offers),
    )
}
