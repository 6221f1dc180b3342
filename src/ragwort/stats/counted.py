"""What exact tests of a count share: which counts reject, and how often they come up.

A probability within a relative 1e-12 of alpha counts as at most alpha.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Limits, Sides

if TYPE_CHECKING:
    from numpy.typing import NDArray

_SLACK = 1 + 1e-12  # a probability this close above alpha counts as alpha


def counts_as(alpha: Number) -> Number:
    """The largest probability that counts as at most alpha; never that of certainty."""
    return np.minimum(alpha * _SLACK, 1 - 1e-15)


def first_rare(count: Array, is_rare: Callable[[Array], NDArray[np.bool_]], highest: Array) -> Array:
    """The smallest rare count of 1..highest (which is rare), from a guess on: in steps that double, then by halves.

    Counts are rare from some count on; 0 never is.
    """
    low, high = np.zeros_like(highest), highest.astype(float)
    count, step = np.broadcast_to(count, highest.shape).astype(float), 1.0
    while True:
        rare = is_rare(count)
        low, high = np.where(rare, low, np.maximum(low, count)), np.where(rare, np.minimum(high, count), high)
        if np.all(high - low <= 1):
            return high
        halfway = np.floor((low + high) / 2)
        onwards = np.where(rare, np.maximum(count - step, halfway), np.minimum(count + step, halfway))
        count = np.where(high - low <= 1, high, np.clip(onwards, low + 1, np.maximum(high - 1, low + 1)))
        step *= 2


class CountedTest:
    """A count, without an effect and with one. Say where it rejects and how likely counts are."""

    def counts(self, alpha: Number, sides: Sides) -> Limits:
        """Reject at or below the first count, at or above the second: -1 and above `highest` where none rejects."""
        raise NotImplementedError

    @property
    def highest(self) -> Number:
        """The highest count that there can be."""
        raise NotImplementedError

    def beyond(self, lower: Number, upper: Number, effect: bool) -> Array:
        """The chance of a count at or below `lower` or at or above `upper`, with the planned effect or without one."""
        raise NotImplementedError

    def hills(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Centre and SD of the count without an effect, and with it; of one size only."""
        raise NotImplementedError

    def limits(self, alpha: Number, sides: Sides) -> Limits:
        """See `Test.limits`; of one size only, `None` where no count rejects on that side."""
        found = {name: float(np.ravel(limit)[0]) for name, limit in self.regions(alpha, sides).items()}
        lower, upper = (found.get(f"reject at or {side}", np.nan) for side in ("below", "above"))
        return (None if np.isnan(lower) else lower), (None if np.isnan(upper) else upper)

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.critical_value`."""
        lower, upper = self.limits(alpha, sides)
        return lower if upper is None else upper

    def power(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.power`."""
        return self.beyond(*self.counts(alpha, sides), effect=True)

    def actual_alpha(self, alpha: Number, sides: Sides) -> Number:
        """How often the test rejects without an effect: at most alpha, mostly less, because counts are whole."""
        return self.beyond(*self.counts(alpha, sides), effect=False)

    def regions(self, alpha: Number, sides: Sides) -> dict[str, Array]:
        """The limits of both regions by name, NaN where no count rejects; only those that the test looks at."""
        lower, upper = self.counts(alpha, sides)
        found = {
            "reject at or below": np.where(lower >= 0, lower, np.nan),
            "reject at or above": np.where(upper <= self.highest, upper, np.nan),
        }
        away = {"greater": "reject at or below", "less": "reject at or above"}.get(sides)
        return {name: limit for name, limit in found.items() if name != away}

    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        """See `Test.reported`; of one size only. A region without a count is None."""
        counts = {name.replace(" ", "_"): float(np.ravel(c)[0]) for name, c in self.regions(alpha, sides).items()}
        whole = {name: None if np.isnan(limit) else _whole(limit) for name, limit in counts.items()}
        return {**whole, "actual_alpha": float(np.ravel(self.actual_alpha(alpha, sides))[0])}


def _whole(count: float) -> int | float:
    return int(count) if count < 2**53 else count
