"""The bounds of all looks, and how studies end at them. Directions are those of a test that looks upwards."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

from scipy import special

from ragwort.base import patience
from ragwort.base.lazily import np
from ragwort.stats.sequential import process
from ragwort.stats.sequential.process import Alive
from ragwort.stats.sequential.spending import Spending

if TYPE_CHECKING:
    from numpy.typing import NDArray

NOTHING = 1e-300  # of an error rate: below it nothing is spent, and no bound is there to be crossed


class NoBounds(ValueError):
    """No bounds are left that spend what is to be spent."""


@dataclass(frozen=True)
class Ends:
    """The chances of ending at each look."""

    reject: NDArray[np.float64]
    give_up: NDArray[np.float64]  # empty without futility


@dataclass(frozen=True)
class Bounds:
    """The bounds at each look, and who goes on after each but the last."""

    fractions: tuple[float, ...]
    two_sided: bool
    efficacy: tuple[float, ...]
    futility: tuple[float, ...]  # empty where there are none
    alive: tuple[Alive, ...]

    def before(self, look: int) -> Alive | None:
        """Who comes to a look, counted from 0; None of the first, to which all come."""
        return self.alive[look - 1] if look else None

    def kept_at(self, fractions: tuple[float, ...], furthest: float, *, followed: bool) -> Bounds:
        """The same bounds at looks that come at other times; those for futility only if they are `followed`."""
        lows = self.futility if followed and self.futility else (-math.inf,) * len(fractions)
        alive: list[Alive] = []
        before = None
        for look, (high, low) in enumerate(zip(self.efficacy[:-1], lows[:-1], strict=True)):
            least = -high if self.two_sided else low
            before = going_on(before, fractions[look], least, high, fractions[look + 1], (0.0, furthest))
            alive.append(before)
        return Bounds(fractions, self.two_sided, self.efficacy, lows if followed else (), tuple(alive))

    def power(self, drifts: NDArray[np.float64]) -> NDArray[np.float64]:
        """The chance of crossing an efficacy bound under each drift."""
        found = np.zeros(drifts.shape)
        for look, (t, bound) in enumerate(zip(self.fractions, self.efficacy, strict=True)):
            if math.isfinite(bound):
                found += process.each_above(self.before(look), t, bound, drifts)
                if self.two_sided:  # the other side, seen in a mirror
                    found += process.each_above(self.before(look), t, bound, -drifts)
        return found

    def power_at(self, drift: float) -> float:
        """`power` under one drift, which is quicker."""
        sides = (drift, -drift) if self.two_sided else (drift,)
        looks = enumerate(zip(self.fractions, self.efficacy, strict=True))
        crossed = [(look, t, bound) for look, (t, bound) in looks if math.isfinite(bound)]
        return sum(process.above(self.before(look), t, bound, each) for look, t, bound in crossed for each in sides)

    def ends(self, drift: float) -> Ends:
        """The chances of ending at each look under a drift."""
        reject, give_up = [], []
        for look, (t, bound) in enumerate(zip(self.fractions, self.efficacy, strict=True)):
            before = self.before(look)
            both = (drift, -drift) if self.two_sided else (drift,)
            crossed = [process.above(before, t, bound, each) for each in both]
            reject.append(sum(crossed) if math.isfinite(bound) else 0.0)
            if self.futility:
                low = self.futility[look]
                last = look == len(self.fractions) - 1
                gone = process.below(before, t, min(low, process.CUT * 5), drift) if low > -math.inf else 0.0
                give_up.append(_alive(before, drift) - reject[-1] if last else gone)
        return Ends(np.array(reject), np.array(give_up))

    def expected(self, drifts: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Under each drift the chance of ending before the last look, and the share of the information taken."""
        early, share = np.zeros(drifts.shape), np.ones(drifts.shape)
        for look, (t, bound) in enumerate(zip(self.fractions[:-1], self.efficacy, strict=False)):
            ended = self._ended(look, t, bound, drifts)
            early += ended
            share -= (1 - t) * ended
        return early, share

    def _ended(self, look: int, t: float, bound: float, drifts: NDArray[np.float64]) -> NDArray[np.float64]:
        before, low = self.before(look), self.futility[look] if self.futility else -math.inf
        ended = np.zeros(drifts.shape)
        if math.isfinite(bound):
            ended += process.each_above(before, t, bound, drifts)
            if self.two_sided:
                ended += process.each_above(before, t, bound, -drifts)
        return ended if low == -math.inf else ended + process.each_below(before, t, low, drifts)


def _alive(before: Alive | None, drift: float) -> float:
    return 1.0 if before is None else float(before.under(drift).sum())


def reach(level: float) -> float:
    return process.CUT - float(special.ndtri(level))


def increment(spent: NDArray[np.float64], look: int) -> float:
    return float(spent[look] - (spent[look - 1] if look else 0.0))


def going_on(
    before: Alive | None, t: float, low: float, high: float, following: float, drifts: tuple[float, float]
) -> Alive:
    go_on = process.first if before is None else before.going_on
    return go_on(t, low, high, following, drifts)


def efficacy_bound(before: Alive | None, t: float, spends: float) -> float:
    if spends <= NOTHING:
        return math.inf
    found = process.bound_above(before, t, spends)
    if found == -math.inf:
        raise NoBounds("too little is left without an effect to spend alpha on")
    return found


def futility_bound(before: Alive | None, t: float, spends: float, drift: float, highest: float) -> float:
    if spends <= NOTHING:
        return -math.inf
    return min(process.bound_below(before, t, spends, drift), highest)


@lru_cache(maxsize=64)
def plain_bounds(fractions: tuple[float, ...], level: float, two_sided: bool, spending: Spending) -> Bounds:
    spent, furthest = spending.spent(fractions, level), reach(level)
    efficacy: list[float] = []
    alive: list[Alive] = []
    before = None
    for look, t in enumerate(fractions):
        patience.check()
        efficacy.append(efficacy_bound(before, t, increment(spent, look)))
        if look < len(fractions) - 1:
            low = -efficacy[-1] if two_sided else -math.inf
            before = going_on(before, t, low, efficacy[-1], fractions[look + 1], (0.0, furthest))
            alive.append(before)
    return Bounds(fractions, two_sided, tuple(efficacy), (), tuple(alive))
