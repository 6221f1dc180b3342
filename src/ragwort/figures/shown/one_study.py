"""The picture of one made-up study."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from ragwort.figures.shown.rehearsed import height_of, place_at, short_number
from ragwort.figures.shown.shown import Pointer, Reading, Shown, Texts
from ragwort.rehearsal.dataset import DataSet


@dataclass(frozen=True)
class OneStudy(Shown):
    """The outcomes of one made-up study, group by group."""

    groups: tuple[str, ...]
    outcomes: tuple[tuple[float, ...], ...]
    number: int
    x_label: str
    says: str
    texts: Texts = ()

    @property
    def ends(self) -> tuple[float, float]:
        """Of the x axis."""
        every = [value for group in self.outcomes for value in group]
        low, high = min(every), max(every)
        room = 0.05 * (high - low) or 1.0
        return low - room, high + room

    @override
    def frame(self) -> tuple[object, ...]:
        return ("one study", self.number, self.groups, self.ends)

    @override
    def walk(self) -> list[Reading]:
        """The mean of each group."""
        return [self._mean(place) for place in range(len(self.groups))]

    def _mean(self, place: int) -> Reading:
        values = self.outcomes[place]
        mean = float(np.mean(values))
        return Reading(
            mean, height_of(place, len(self.groups)), f"{self.groups[place]}: {len(values)}, mean {short_number(mean)}"
        )

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """The group in this row."""
        place = place_at(at.y, len(self.groups))
        return None if place is None else self._mean(place)

    @override
    def rows(self) -> list[list[object]]:
        both = zip(self.groups, self.outcomes, strict=True)
        return [["group", "outcome"], *([name, value] for name, values in both for value in values)]


def one_study_of(data: DataSet, x_label: str) -> OneStudy | None:
    """The picture of one made-up study; None where its outcomes are categories."""
    if not data.outcomes:
        return None
    names = tuple(dict.fromkeys(data.groups))
    both = list(zip(data.groups, data.outcomes, strict=True))
    outcomes = tuple(tuple(value for group, value in both if group == name) for name in names)
    return OneStudy(names, outcomes, data.number, x_label, data.words)
