"""Rehearsals at several sizes: a simulated power curve, and the size at which simulation reaches the target.

Power over the sample size is taken to be nearly a straight line on the scale of probit against the root of n, which it
is exactly for a z test; the search fits that line to what was rehearsed, near the size it is after, and puts further
studies where the line is least sure. Source of the fit: McCullagh and Nelder, *Generalized Linear Models* (2nd ed.,
1989), sections 2.5 and 4.3.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
from scipy import special

from ragwort.base import patience
from ragwort.designs.sizes import Sizes
from ragwort.rehearsal.departures import Departing
from ragwort.rehearsal.engine import rehearse
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.stage import stage
from ragwort.rehearsal.tally import Tally

if TYPE_CHECKING:
    from numpy.typing import NDArray

_ROUNDS = (2_000, 4_000, 8_000, 16_000)  # studies, round by round, of the search
_AROUND = (0.9, 1.0, 1.1)  # the sizes of a round, of the one that the line points at
_FIRST = (0.6, 1.0, 1.6)  # and of the first, of the planned size
_LOCAL = 1.7  # times more or less than the size pointed at, beyond which a rehearsal says nothing of it
_FURTHEST = 40.0  # times the planned size at which the search gives up
_Z = 1.959963984540054


@dataclass(frozen=True)
class AtSize:
    """A rehearsal at one size, beside the formula's power."""

    total: int
    formula: float
    tally: Tally


@dataclass(frozen=True)
class Needed:
    """The size at which simulation reaches the target, with its 95% interval; None where none is found."""

    target: float
    spent: int  # studies
    n: int | None = None
    low: int | None = None
    high: int | None = None
    tried: tuple[AtSize, ...] = ()


def sizes_near(of: Planned, total: float) -> Sizes:
    """The group sizes of the plan's own counting that come nearest to a total (groups x 1)."""
    plan, counting = of.answer.plan, of.answer.plan.counting
    step = min(max(counting.step_near(max(total, 1.0)), counting.lowest), counting.highest)
    found = counting.at(plan.power, step)
    assert found is not None
    return found


def at_sizes(
    of: Planned,
    asked: Departing,
    totals: Sequence[float],
    replicates: int,
    seed: int = 1,
    seen: Callable[[AtSize], None] | None = None,
) -> list[AtSize]:
    """A rehearsal at (about) each of the totals, the same seed for all."""
    found = []
    for number, total in enumerate(totals):
        with patience.part(number / len(totals), (number + 1) / len(totals)):
            found.append(_at(of, asked, total, replicates, seed))
        if seen is not None:
            seen(found[-1])
    return found


def _at(of: Planned, asked: Departing, total: float, replicates: int, seed: int) -> AtSize:
    sizes = sizes_near(of, total)
    groups = tuple(math.ceil(size - 1e-9) for size in sizes[:, 0])
    formula = float(of.answer.plan.power(sizes)[0])
    return AtSize(sum(groups), formula, rehearse(stage(of, asked, groups), replicates, seed))


def needed(of: Planned, asked: Departing, target: float | None = None, seed: int = 1) -> Needed:
    """The smallest size whose simulated power reaches the target, the plan's own unless given, and how sure that is."""
    aimed = float(of.answer.plan.target) if target is None else target
    search = _Search(of, asked, aimed, seed)
    planned = float(of.answer.total)
    search.look([planned * share for share in _FIRST], _ROUNDS[0])
    for number, studies in enumerate(_ROUNDS):
        patience.report((number + 1) / (len(_ROUNDS) + 1))
        near = search.pointed_at()
        if near is None:
            near = search.furthest * 2.5
            if near > planned * _FURTHEST:
                return replace(search.found(None), n=None)
        if near > search.furthest:  # the target is still far: few say enough, and large studies take long
            studies = _ROUNDS[0]
        search.look([near * share for share in _AROUND], studies // len(_AROUND))
    return search.found(search.pointed_at())


class _Search:
    """Sizes rehearsed so far, and the line through them."""

    def __init__(self, of: Planned, asked: Departing, target: float, seed: int) -> None:
        self.of, self.asked, self.target, self.seed = of, asked, target, seed
        self.tried: list[AtSize] = []

    def look(self, totals: Sequence[float], studies: int) -> None:
        """Rehearse at these sizes, each time with other studies."""
        for total in totals:
            self.tried.append(_at(self.of, self.asked, total, studies, self.seed + 7919 * (len(self.tried) + 1)))

    @property
    def furthest(self) -> float:
        """The largest size looked at."""
        return float(max(each.total for each in self.tried))

    def pointed_at(self) -> float | None:
        """The size at which the line reaches the target; None where it does not rise to it."""
        guess = self._crossing(self.tried)
        if guess is None:
            return None
        near = [each for each in self.tried if 1 / _LOCAL <= each.total / guess[0] <= _LOCAL]
        closer = self._crossing(near) if len({each.total for each in near}) > 1 else None
        return min((closer or guess)[0], 3 * self.furthest)

    def found(self, near: float | None) -> Needed:
        """What the search says of this size."""
        spent = sum(each.tally.replicates for each in self.tried)
        ordered = tuple(sorted(self.tried, key=lambda each: each.total))
        if near is None:
            return Needed(self.target, spent, tried=ordered)
        local = [each for each in self.tried if 1 / _LOCAL <= each.total / near <= _LOCAL]
        crossing = self._crossing(local) if len({each.total for each in local}) > 1 else None
        if crossing is None or crossing[0] > 1.1 * self.furthest:
            return Needed(self.target, spent, tried=ordered)
        n, low, high = (self._whole(each) for each in crossing)
        return Needed(self.target, spent, n, low, high, ordered)

    def _whole(self, total: float) -> int:
        """The smallest size that can be had and is no smaller."""
        counting = self.of.answer.plan.counting
        step = max(counting.step_near(total) - 2, counting.lowest)
        while (size := counting.in_all(counting.ways(np.array([step]))[0][:, 0])) < total - 1e-6:
            step += 1
        return size

    def _crossing(self, tried: Sequence[AtSize]) -> tuple[float, float, float] | None:
        """Where the line through these reaches the target, with the ends of its 95% interval."""
        x = np.sqrt([float(each.total) for each in tried])
        hits = np.array([each.tally.rejected for each in tried], dtype=float)
        of = np.array([each.tally.replicates for each in tried], dtype=float)
        (a, b), covariance = probit_line(x, hits, of)
        if b <= 0:
            return None
        at = (special.ndtri(self.target) - a) / b
        slope = np.array([1.0, at]) / b
        error = math.sqrt(max(float(slope @ covariance @ slope), 0.0))
        if at <= 0:
            return None
        low, high = max(at - _Z * error, 0.0), at + _Z * error
        return at**2, low**2, high**2


def probit_line(
    x: NDArray[np.float64], hits: NDArray[np.float64], of: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Intercept and slope of the probit of a share over x, by maximum likelihood, and their covariance (2 x 2)."""
    columns = np.column_stack([np.ones_like(x), x])
    share = (hits + 0.5) / (of + 1)
    z = special.ndtri(share)
    for _ in range(50):
        p = np.clip(special.ndtr(z), 1e-9, 1 - 1e-9)
        density = np.maximum(np.exp(-(z**2) / 2) / math.sqrt(2 * math.pi), 1e-9)
        weight = of * density**2 / (p * (1 - p))
        working = z + (hits / of - p) / density
        information = columns.T @ (weight[:, None] * columns)
        line = np.linalg.solve(information + 1e-9 * np.eye(2), columns.T @ (weight * working))
        moved = np.clip(columns @ line, -6, 6)
        if np.max(np.abs(moved - z)) < 1e-10:
            break
        z = moved
    return line, np.linalg.inv(information + 1e-9 * np.eye(2))
