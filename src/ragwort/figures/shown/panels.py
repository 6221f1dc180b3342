"""Small charts side by side on one scale, one for each value of something."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from ragwort.figures.shown.shown import Pointer, Reading
from ragwort.figures.shown.trace import Trace

EDGE = 0.07  # of a panel's width, on either side


@dataclass(frozen=True)
class Panels(Trace):
    """Traces with the same axes; what runs across is counted in panels: the second goes from 1 to 2."""

    panels: tuple[Trace, ...] = ()
    titles: tuple[str, ...] = ()

    def across(self, number: int, x: float) -> float:
        """Where an x of a panel is in the whole."""
        low, high = self.x.ends
        return number + EDGE + (1 - 2 * EDGE) * (x - low) / ((high - low) or 1.0)

    def x_in(self, place: float) -> float:
        """The x at a place of the whole, in its panel."""
        low, high = self.x.ends
        return low + (place % 1 - EDGE) / (1 - 2 * EDGE) * (high - low)

    @override
    def frame(self) -> tuple[object, ...]:
        return ("panels", self.x, self.y_words, self.y_ends, self.titles)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """Within the panel that the pointer is in."""
        number = int(np.floor(at.x))
        if not 0 <= number < len(self.panels):
            return None
        found = self.panels[number].reading(Pointer(self.x_in(at.x), at.y, at.per_pixel))
        if found is None:
            return None
        return Reading(self.across(number, found.x), found.y, f"{self.titles[number]}: {found.words}")

    @override
    def walk(self) -> list[Reading]:
        """Panel by panel."""
        return [
            Reading(self.across(number, each.x), each.y, f"{title}: {each.words}")
            for number, (title, panel) in enumerate(zip(self.titles, self.panels, strict=True))
            for each in panel.walk()
        ]

    @override
    def rows(self) -> list[list[object]]:
        head, *_ = self.panels[0].rows()
        found: list[list[object]] = [["panel", *head]]
        for title, panel in zip(self.titles, self.panels, strict=True):
            found += [[title, *row] for row in panel.rows()[1:]]
        return found
