"""The sentence that a picture is steered by: what stands in it, and what each of its words can be."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.request import values_in_force
from ragwort.figures.axes import SIZE, axes_of, words_of_sizes
from ragwort.figures.drivers import Drivers
from ragwort.figures.map import Axis, Map
from ragwort.figures.quantity import Found, Quantity
from ragwort.figures.shown import Shown
from ragwort.study.model import Aim, Steer
from ragwort.study.numbers import NumberError, parse, value_text
from ragwort.study.sentence import Piece
from ragwort.study.whatif import values_for

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
    """The axis of a map that a word is about: `x`, `x_low` …"""
    assert isinstance(shown, Map)
    return shown.x if slot.startswith("x") else shown.y


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
        axis = axis_of(shown, slot)
        name, _, unit = axis.label.partition(", ")
        found += [
            Piece("text", " and ") if slot == "y" else Piece("text", ""),
            Piece("choice", name, slot),
            Piece("text", " from "),
            _end_piece(aim, steer, shown, f"{slot}_low", ""),
            Piece("text", " to "),
            _end_piece(aim, steer, shown, f"{slot}_high", unit),
        ]
    return [piece for piece in [*found, Piece("text", ".")] if piece.text]


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


SENTENCES = {
    each.picture: each
    for each in (Sentence("Map", _map_pieces, _map_offers), Sentence("Drivers", _drivers_pieces, _drivers_offers))
}
