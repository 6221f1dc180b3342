"""How far the answer moves when each assumption goes to the ends of its plausible range."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from typing_extensions import override

from ragwort.base import patience
from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.holding import Held
from ragwort.figures.scales.quantity import DIGITS, Quantity, Unknown
from ragwort.figures.shown.shown import Pointer, Reading, Shown, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import Problem, Settled, to_enrol
from ragwort.study.results.whatif import otherwise, supposed, uncertain, values_for
from ragwort.study.words.numbers import count_text, value_text

NO_RANGES = (
    "Nothing has a plausible range yet. Type one in the ledger, beside the value, such as 8 to 16: then this picture "
    "shows the answer at both ends."
)
ONLY_SUPPOSED = (
    "Nothing has a plausible range yet: each is moved by a tenth, which tells what the answer is sensitive to, not how "
    "uncertain it is."
)
_HALVINGS = 24  # until the value that just meets the limit is known to seven digits
_SHOWN = 3  # digits of that value


@dataclass(frozen=True)
class End:
    """One end of a range: its value, and what is found there."""

    value: float
    words: str  # `8 ms`
    at: float | None  # on the axis; None where nothing is found
    says: str  # what is found there, or why nothing is


@dataclass(frozen=True)
class Bar:
    """One assumption with a range."""

    name: str
    label: str  # `difference 8 to 16 ms`
    low: End
    high: End
    meets: str  # where the study's limit is just met; empty where it is not crossed

    @property
    def ends(self) -> tuple[End, End]:
        """Both."""
        return self.low, self.high

    @property
    def length(self) -> float:
        """How far the answer moves; without an end where one end has no answer."""
        return math.inf if self.low.at is None or self.high.at is None else abs(self.high.at - self.low.at)


@dataclass(frozen=True)
class Drivers(Shown):
    """What the picture Drivers shows; the longest bar first."""

    find: str  # what is asked for
    x_label: str
    point: float
    point_label: str
    ends: tuple[float, float]  # of the axis
    limit: float | None  # how many can be had, on an axis of sample sizes
    bars: tuple[Bar, ...]
    says: str
    supposed: bool = False  # nothing has a plausible range: each is moved by a tenth
    held: str = ""  # the expression of the effect that stays while the number of the reference moves
    texts: Texts = ()

    @override
    def frame(self) -> tuple[object, ...]:
        return ("drivers", self.x_label, self.ends)

    def place_of(self, row: int) -> float:
        """The height of a bar's middle, as a share of the picture."""
        return 1 - (row + 0.68) / max(len(self.bars), 1)

    @property
    @override
    def foot(self) -> str:
        """What stands in the middle where there are no bars is not said twice."""
        return self.says if self.bars else ""

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """The nearer end of the bar."""
        for row, bar in enumerate(self.bars):
            if abs(at.y - self.place_of(row)) < 0.4 / len(self.bars):
                ends = [end for end in (bar.low, bar.high) if end.at is not None]
                if ends:
                    end = min(ends, key=lambda each: abs(float(each.at or 0.0) - at.x))
                    words = f"{end.words}: {end.says}"
                    return Reading(
                        float(end.at or 0.0), self.place_of(row), f"{words}; {bar.meets}" if bar.meets else words
                    )
        return None

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = ["assumption", "end of its range", self.x_label, "in words"]
        found: list[list[object]] = [head]
        for bar in self.bars:
            found += [[bar.name, end.value, "" if end.at is None else end.at, end.says] for end in bar.ends]
        return found


def drivers_of(aim: Aim, answer: Answer, find: str, limit: int | None) -> Drivers:
    """What moves the answer to `find` how far; `limit` is how many participants can be had."""
    found, values = Unknown(find, aim), values_for(aim, answer, find)
    held = held_of(aim, values)
    here = answer if find == answer.find else otherwise(aim, find, values)
    bars = []
    stated = uncertain(aim, find)
    each = stated or supposed(aim, find, values)
    for done, (assumption, low, high) in enumerate(each):
        patience.report(done / len(each))
        bars.append(_bar(_At(found, values, held), assumption, (low, high), limit if find == "n" else None))
    bars.sort(key=lambda bar: -bar.length)
    point = found.number(here) if isinstance(here, Answer) else math.nan
    shown = limit if find == "n" else None
    return Drivers(
        find=find,
        x_label=found.axis if bars else "",
        point=point,
        point_label=found.text(here) if isinstance(here, Answer) else here.message,
        ends=_axis_ends([point, *(end.at for bar in bars for end in bar.ends if end.at is not None)], shown),
        limit=None if shown is None else float(shown),
        bars=tuple(bars),
        says=_says(found, bars, not stated),
        supposed=not stated,
        held=held.name if held is not None else "",
    )


def held_of(aim: Aim, values: Mapping[str, Any]) -> Held | None:
    """What of the effect the user has held; None where each typed number moves alone."""
    wanted = aim.steer("Drivers").held
    return next((each for each in can_be_held(aim, values) if each.name == wanted), None)


def can_be_held(aim: Aim, values: Mapping[str, Any]) -> list[Held]:
    """The expressions of the effect that can stay as they are while the number of the reference moves."""
    return [each for each in design_named(aim.design).holds if each.fits(values)]


@dataclass(frozen=True)
class _At:
    """What is found where one assumption is otherwise."""

    found: Unknown
    values: Mapping[str, Any]
    held: Held | None

    def outcome(self, assumption: Assumption, value: float) -> Settled:
        """All else as it is, but for what goes with the number."""
        changes = {assumption.name: round(value) if assumption.kind == "count" else value}
        if self.held is not None and assumption.name == self.held.moved:
            changes = self.held.moved_to(self.values, value)
        return otherwise(self.found.aim, self.found.find, self.values, **changes)


def _bar(at: _At, assumption: Assumption, ends: tuple[float, float], limit: int | None) -> Bar:
    quantity = Quantity(assumption, at.found.aim)
    outcomes = [at.outcome(assumption, value) for value in ends]
    low, high = (_end(at.found, quantity, value, outcome) for value, outcome in zip(ends, outcomes, strict=True))
    meets = "" if limit is None else _meets(at, quantity, ends, outcomes, limit)
    first = value_text(assumption, ends[0], DIGITS)
    return Bar(assumption.name, f"{quantity.words} {first} to {high.words}", low, high, meets)


def _end(found: Unknown, quantity: Quantity, value: float, outcome: Settled) -> End:
    if isinstance(outcome, Problem):
        return End(value, quantity.text(value), None, outcome.message)
    return End(value, quantity.text(value), found.number(outcome), found.text(outcome))


def _meets(at: _At, quantity: Quantity, ends: tuple[float, float], outcomes: list[Settled], limit: int) -> str:
    """The value at which the answer would just meet the limit, where it lies within the range."""
    fits = [isinstance(each, Answer) and to_enrol(each) <= limit for each in outcomes]
    if fits[0] == fits[1]:
        return ""
    inside, outside = ends if fits[0] else ends[::-1]
    for _ in range(_HALVINGS):
        middle = (inside + outside) / 2
        outcome = at.outcome(quantity.assumption, middle)
        if isinstance(outcome, Answer) and to_enrol(outcome) <= limit:
            inside = middle
        else:
            outside = middle
    value = _towards(inside * quantity.scale, outside < inside) / quantity.scale
    return f"{count_text(limit)} are enough at {quantity.text(value)}"


def _towards(value: float, up: bool) -> float:
    """A value in few digits, rounded to the side on which the limit still holds."""
    decimals = _SHOWN - 1 - math.floor(math.log10(abs(value))) if value else 0
    shifted = value * 10.0**decimals
    return float((math.ceil if up else math.floor)(round(shifted, 6)) / 10.0**decimals)


def _axis_ends(places: list[float], limit: int | None) -> tuple[float, float]:
    known = [place for place in [*places, *([limit] if limit is not None else [])] if math.isfinite(place)]
    if not known:
        return 0.0, 1.0
    low, high = min(known), max(known)
    room = 0.1 * (high - low) or 0.1 * abs(high) or 1.0
    step = 10.0 ** math.floor(math.log10(room))
    least = math.floor((low - room) / step) * step
    return float(np.maximum(least, 0.0) if low >= 0 else least), float(math.ceil((high + room) / step) * step)


def _says(found: Unknown, bars: list[Bar], is_supposed: bool) -> str:
    if not bars:
        return NO_RANGES
    told = _depends(found, bars)
    return f"{ONLY_SUPPOSED} {told}" if is_supposed else told


def _depends(found: Unknown, bars: list[Bar]) -> str:
    """Which moves it most, from where to where."""
    bar = bars[0]
    if math.isinf(bar.length):
        end = bar.low if bar.low.at is None else bar.high
        text = f"With {bar.label} there is no answer at {end.words}: {end.says}"
    else:
        ends = f"{bar.low.says} at {bar.low.words}, {bar.high.says} at {bar.high.words}"
        text = f"The {found.subject} depends most on {bar.label}: {ends}."
    return text.replace("\u00a0", " ")
