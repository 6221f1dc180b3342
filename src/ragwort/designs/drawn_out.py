"""Numbers drawn out, or in, until they make the effect that was found: their pattern, and what is known, stay."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ragwort.base.lazily import np
from ragwort.designs.assumption import rounded
from ragwort.stats.effects import w_of_fit, w_of_table

_DECIMALS = 4  # of shares, as a person would type them: hundredths of a per cent


def from_the_first(numbers: Sequence[float], ratio: float) -> list[float]:
    """Each `ratio` times as far from the first as it was."""
    first = numbers[0]
    return [float(f"{first + rounded(ratio * (each - first)):.10g}") for each in numbers]


def shares_with(w: float, shares: Sequence[float], known: Sequence[float]) -> list[float]:
    """Shares as far from the known ones as w says, in the direction in which they were.

    Where that leaves 0 to 1, or they were no different, the rarest of the known grows at the cost of all others.
    """
    null = np.asarray(known, dtype=float)
    away, now = np.asarray(shares, dtype=float) - null, w_of_fit(shares, known)
    drawn = null + away * (w / now) if now > 0 else null - 1
    if drawn.min() < 0 or drawn.max() > 1:
        rarest = np.eye(len(null))[int(null.argmin())]
        drawn = null + (rarest - null) * (w / math.sqrt(1 / float(null.min()) - 1))
    return _whole(drawn.tolist())


def table_with(w: float, table: Sequence[Sequence[float]]) -> list[list[float]]:
    """A table of the same margins that is as far from independence as w says; empty where none like it is."""
    cells, now = np.asarray(table, dtype=float), w_of_table(table)
    null = np.outer(cells.sum(axis=1), cells.sum(axis=0))
    drawn = null + (cells - null) * (w / now) if now > 0 else null - 1
    if drawn.min() < 0:
        return []
    columns = drawn.shape[1]
    whole = _whole(drawn.ravel().tolist())
    return [whole[at : at + columns] for at in range(0, len(whole), columns)]


def _whole(shares: list[float]) -> list[float]:
    """Rounded so that they still add up to 1: the largest takes the rest."""
    short = [round(each, _DECIMALS) for each in shares]
    largest = short.index(max(short))
    rest = math.fsum(each for at, each in enumerate(short) if at != largest)
    return [*short[:largest], round(1 - rest, _DECIMALS), *short[largest + 1 :]]
