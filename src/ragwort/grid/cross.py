"""A grid of two assumptions as a cross table: one runs down, the other across, and each cell is what is found there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ragwort.figures.scales.quantity import Quantity
from ragwort.grid.chart import can_run
from ragwort.grid.table import FOUND, columns_of
from ragwort.grid.work import Results
from ragwort.study.results.resources import NO_LIMITS, Limits


@dataclass(frozen=True)
class Cross:
    """The rows of the grid that stand in each cell; -1 where there is none."""

    down: str  # in words: `difference`
    across: str
    what: str  # is in the cells
    down_heads: tuple[str, ...]
    across_heads: tuple[str, ...]
    rows: tuple[tuple[int, ...], ...]
    texts: tuple[tuple[str, ...], ...]

    def table(self) -> list[list[object]]:
        """A heading row and one for each line, for a file."""
        head: list[object] = [f"{self.down} \\ {self.across}", *self.across_heads]
        lines: list[list[object]] = [[name, *texts] for name, texts in zip(self.down_heads, self.texts, strict=True)]
        return [head, *lines]


def cross_of(results: Results, what: str = FOUND, limits: Limits = NO_LIMITS) -> Cross | None:
    """The cross table of the first two assumptions that have several values; None where there are no two.

    Whatever is varied besides is as in the row of the aim as it stands, else as in the first.
    """
    names = can_run(results)[:2]
    if len(names) < 2 or results.asked.which is not None:
        return None
    asked = results.asked
    column = next(each for each in columns_of(results, limits) if each.name == what)
    own = asked.own() or 0
    same = np.ones(asked.count, dtype=bool)
    for name, values in asked.columns.items():
        if name not in names:
            same &= values == values[own]
    heads = [
        np.array(list(dict.fromkeys(asked.columns[name][np.isfinite(asked.columns[name])].tolist()))) for name in names
    ]
    places = {
        (asked.columns[names[0]][row], asked.columns[names[1]][row]): int(row) for row in reversed(np.flatnonzero(same))
    }
    rows = tuple(tuple(places.get((down, across), -1) for across in heads[1]) for down in heads[0])
    quantities = [Quantity(asked.assumption(name), asked.aim) for name in names]
    down_heads, across_heads = (
        tuple(asked.words(name, float(value)) for value in values) for name, values in zip(names, heads, strict=True)
    )
    texts = tuple(tuple(column.text(row) if row >= 0 else "" for row in line) for line in rows)
    return Cross(quantities[0].words, quantities[1].words, column.label, down_heads, across_heads, rows, texts)
