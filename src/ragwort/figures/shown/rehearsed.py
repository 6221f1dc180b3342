"""The pictures of a rehearsal: power by world, estimates, p-values."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from ragwort.base.wording import uncapital
from ragwort.figures.scales.ratio_axis import ratio_marks
from ragwort.figures.shown.shown import Pointer, Reading, Shown, Texts
from ragwort.rehearsal.tally import BARS, P_BARS, Tally
from ragwort.rehearsal.verdicts import estimates_words
from ragwort.study.words.numbers import count_text, decimals_text, percent_text

_HEADROOM = 1.32  # of the highest bar, for the labels above


def height_of(place: int, rows: int) -> float:
    """Where a row stands, the first on top, each one high."""
    return rows - place - 0.5


def place_at(height: float, rows: int) -> int | None:
    """Which row stands there."""
    place = rows - 1 - math.floor(height)
    return place if 0 <= place < rows else None


_OF_WIDTHS = "Gold: an interval no wider than asked for. Hatched: wider."


@dataclass(frozen=True)
class Estimates(Shown):
    """How the estimates of the rehearsed studies lie; those that reject apart from those that miss."""

    edges: tuple[float, ...]
    found: tuple[int, ...]
    missed: tuple[int, ...]
    replicates: int
    truth: float
    truth_words: str
    loud: float | None  # what the studies that reject estimate on average
    loud_words: str
    x_label: str
    says: str
    success: str = "significant"
    as_ratio: bool = False  # what is estimated is a logarithm, which is read as the ratio
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return "of 100 studies"

    def ratios(self) -> list[tuple[float, str]]:
        """The marks of the axis where it is of ratios: where they stand, and what they say."""
        return ratio_marks(self.edges[0], self.edges[-1])

    @property
    def heights(self) -> tuple[tuple[float, float], ...]:
        """Of each bar: those that miss, and all, of 100 studies."""
        share = 100 / self.replicates
        return tuple((m * share, (m + f) * share) for m, f in zip(self.missed, self.found, strict=True))

    @property
    def high(self) -> float:
        """The top of the y axis."""
        return _top([both[1] for both in self.heights])

    @override
    def frame(self) -> tuple[object, ...]:
        return ("estimates", self.edges[0], self.edges[-1], self.high)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """A bar."""
        place = int(np.searchsorted(self.edges, at.x, side="right")) - 1
        return self._bar(place) if 0 <= place < len(self.found) and at.y >= 0 else None

    @override
    def walk(self) -> list[Reading]:
        """Bar by bar, where there is any."""
        return [self._bar(place) for place, both in enumerate(self.heights) if both[1]]

    def _bar(self, place: int) -> Reading:
        low, high = self.edges[place], self.edges[place + 1]
        ends = f"{self._value(low)} to {self._value(high)}"
        missed, found = self.missed[place], self.found[place]
        words = f"{ends}: {count_text(missed + found)} studies, {count_text(found)} {self.success}"
        return Reading((low + high) / 2, self.heights[place][1], words)

    def _value(self, at: float) -> str:
        return short_number(_read(at, self.as_ratio))

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = ["from", "to", f"not {self.success}", self.success]
        edges = [math.exp(edge) for edge in self.edges] if self.as_ratio else self.edges
        ends = zip(edges[:-1], edges[1:], self.missed, self.found, strict=True)
        return [head, *(list[object](each) for each in ends)]


@dataclass(frozen=True)
class PValues(Shown):
    """How often each p-value came up; without an effect each would as often as any other."""

    bars: tuple[int, ...]
    replicates: int
    alpha: float
    says: str
    x_label: str = "p-value"
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return "of 100 studies"

    @property
    def heights(self) -> tuple[float, ...]:
        """Of 100 studies."""
        return tuple(100 * count / self.replicates for count in self.bars)

    @property
    def high(self) -> float:
        """The top of the y axis."""
        return min(_top(self.heights), 100.0)

    @override
    def frame(self) -> tuple[object, ...]:
        return ("p", self.high)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """A bar."""
        place = math.floor(at.x * P_BARS)
        return self._bar(place) if 0 <= place < P_BARS and at.y >= 0 else None

    @override
    def walk(self) -> list[Reading]:
        """Bar by bar."""
        return [self._bar(place) for place in range(P_BARS)]

    def _bar(self, place: int) -> Reading:
        words = f"p {place / P_BARS:.2f} to {(place + 1) / P_BARS:.2f}: {self.heights[place]:.1f} of 100 studies"
        return Reading((place + 0.5) / P_BARS, self.heights[place], words)

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = ["from", "to", "studies"]
        bars = enumerate(self.bars)
        return [head, *(list[object]((place / P_BARS, (place + 1) / P_BARS, count)) for place, count in bars)]


@dataclass(frozen=True)
class Worlds(Shown):
    """Power in each world with its interval, beside what the formula says of the plan."""

    names: tuple[str, ...]
    powers: tuple[float, ...]
    intervals: tuple[tuple[float, float], ...]
    formula: float
    chosen: int
    says: str
    x_label: str = "power, %"
    texts: Texts = ()

    @override
    def frame(self) -> tuple[object, ...]:
        return ("worlds", self.names)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """The world in this row."""
        place = place_at(at.y, len(self.names))
        return None if place is None else self._row(place)

    @override
    def walk(self) -> list[Reading]:
        """From the first world down."""
        return [self._row(place) for place in range(len(self.names))]

    def _row(self, place: int) -> Reading:
        low, high = (decimals_text(100 * end, 1) for end in self.intervals[place])
        words = f"{self.names[place]}: {percent_text(self.powers[place])} ({low} to {high})"
        return Reading(100 * self.powers[place], height_of(place, len(self.names)), words)

    @override
    def rows(self) -> list[list[object]]:
        body = zip(self.names, self.powers, self.intervals, strict=True)
        return [["world", "power", "low", "high"], *([name, power, *ends] for name, power, ends in body)]


def _inside(title: str) -> str:
    """A title inside a sentence."""
    return uncapital(title) if title[1:2].islower() else title


def _read(estimate: float, as_ratio: bool) -> float:
    return math.exp(estimate) if as_ratio else estimate


def _top(heights: Sequence[float]) -> float:
    return float(f"{_HEADROOM * max([*heights, 0.5]):.2g}")


def short_number(value: float) -> str:
    """Three significant digits, without zeros at the end."""
    text = decimals_text(value, max(0, 2 - math.floor(math.log10(abs(value))) if value else 0))
    return text.rstrip("0").rstrip(".") if "." in text else text


def estimates_of(
    found: Tally, what: str, unit: str, truth_words: str, scale: float = 1.0, as_ratio: bool = False
) -> Estimates:
    """The picture of the estimates; `what` is estimated, in `unit`, which is `scale` times what was added up.

    With `as_ratio` logarithms were, and `what` is the ratio.
    """
    with_unit = f" {unit}" if unit else ""
    direction = 1 if found.truth >= found.nothing else -1
    loud = None if found.mean_found is None else scale * (found.nothing + direction * found.mean_found)
    mean_words = "" if loud is None else f"{short_number(_read(loud, as_ratio))}{with_unit}"
    return Estimates(
        edges=tuple(scale * edge for edge in found.edges),
        found=tuple(found.found_bars),
        missed=tuple(found.missed_bars),
        replicates=found.replicates,
        truth=scale * found.truth,
        truth_words=truth_words,
        loud=loud if found.truth != found.nothing and found.tested else None,
        loud_words="" if loud is None else f"significant ones: {mean_words} on average",
        x_label=f"estimated {what}{f', {unit}' if unit else ''}{' (logarithmic)' if as_ratio else ''}",
        success="significant" if found.tested else "no wider than asked for",
        says=f"{'Gold: significant. Hatched: missed.' if found.tested else _OF_WIDTHS} {estimates_words(found)}",
        as_ratio=as_ratio,
    )


def p_values_of(found: Tally) -> PValues:
    """The picture of the p-values."""
    share = percent_text(found.power)
    alpha = decimals_text(found.alpha, 3).rstrip("0")
    says = f"{share} of studies have p up to {alpha}; without an effect every bar would be as high as the dotted line."
    return PValues(tuple(found.p_bars), found.replicates, found.alpha, says)


def worlds_of(named: Sequence[tuple[str, Tally]], formula: float, chosen: int) -> Worlds:
    """The picture of power in several worlds."""
    real = [each for each in named if each[1].truth != each[1].nothing] or list(named)
    low = min(real, key=lambda each: each[1].power)
    says = f"The formula says {percent_text(formula)}; the least is {percent_text(low[1].power)}: {_inside(low[0])}."
    return Worlds(
        names=tuple(name for name, _ in named),
        powers=tuple(tally.power for _, tally in named),
        intervals=tuple(tally.interval for _, tally in named),
        formula=formula,
        chosen=chosen,
        says=says,
    )


__all__ = ["BARS", "Estimates", "PValues", "Worlds"]
