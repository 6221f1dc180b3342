"""What an analyst reports of simulated studies: p-values, estimates, intervals.

The textbook tests, written out here; they share with the power formulas only the central distributions of normal, t,
F and chi-square. Source: Altman, *Practical Statistics for Medical Research* (1991), chapters 8 to 12.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Literal

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Sides, upper_tail

if TYPE_CHECKING:
    from numpy.typing import NDArray

Scale = Literal["", "z", "arcsine"]  # on which an interval is made: as it is, atanh, arcsine of the root


@dataclass(frozen=True)
class Found:
    """What was found in each of many studies (arrays of their number).

    `p` is NaN where a study could not be analysed. `estimate` is in the unit of the effect reported first; `low` and
    `high` are None where the test has no interval for it. `statistic` is that of the test, NaN for counted tests.
    """

    p: Array
    estimate: Array
    statistic: Array
    low: Array | None = None
    high: Array | None = None
    df: Array | None = None  # degrees of freedom of a t test
    look: Array | None = None  # at which of several looks it ended, from 0
    rejects: NDArray[np.bool_] | None = None  # of several looks; None where its p says it

    def rejected(self, alpha: float) -> NDArray[np.bool_]:
        """Which studies reject; one that could not be analysed does not."""
        return np.asarray(self.p <= alpha * (1 + 1e-12)) if self.rejects is None else self.rejects

    def against(self, edge: float, level: Level) -> Found:
        """The test by the interval's own standard error against another value than none."""
        assert self.low is not None and self.high is not None
        error = (self.high - self.low) / 2 / -float(special.ndtri(level.tail))
        tested = level.z(self.estimate - edge, error)
        return replace(self, p=tested.p, statistic=tested.statistic)

    def between(self, low: Array, high: Array) -> Found:
        """The same with an interval."""
        return replace(self, low=low, high=high)


@dataclass(frozen=True)
class Level:
    """The alpha of a test and the sides it looks at."""

    alpha: float
    sides: Sides

    @property
    def tail(self) -> float:
        """The chance beyond one limit. Its interval has coverage 1 - 2 tails, whatever the sides."""
        return float(upper_tail(self.alpha, self.sides))

    def p_of(self, above: Array, below: Array) -> Array:
        """The p-value, of the chances of a statistic at least as large and at least as small."""
        if self.sides == "two":
            return np.asarray(np.minimum(2 * np.minimum(above, below), 1.0))
        return above if self.sides == "greater" else below

    def t(self, estimate: Array, error: Array, df: Number) -> Found:
        """A t test of estimates against 0, with their standard errors."""
        statistic = divided(estimate, error)
        p = self.p_of(special.stdtr(df, -statistic), special.stdtr(df, statistic))
        reach = -special.stdtrit(df, self.tail) * error
        degrees = np.broadcast_to(np.asarray(df, dtype=float), p.shape)
        return Found(p, estimate, statistic, estimate - reach, estimate + reach, degrees)

    def z(self, estimate: Array, error: Array) -> Found:
        """A z test of estimates against 0, with their standard errors."""
        statistic = divided(estimate, error)
        p = self.p_of(special.ndtr(-statistic), special.ndtr(statistic))
        reach = -special.ndtri(self.tail) * error
        return Found(p, estimate, statistic, estimate - reach, estimate + reach)

    def f(self, statistic: Array, df1: Number, df2: Number, estimate: Array) -> Found:
        """An F test. What it estimates has no interval here."""
        return Found(special.fdtrc(df1, df2, np.maximum(statistic, 0)), estimate, statistic)

    def chi_square(self, statistic: Array, df: Number, estimate: Array) -> Found:
        """A chi-square test. What it estimates has no interval here."""
        return Found(special.chdtrc(df, statistic), estimate, statistic)


def divided(gap: Array, error: Array) -> Array:
    """A gap over its error; where nothing varies, 0 if nothing differs and beyond any limit otherwise."""
    nothing = np.where(gap == 0, 0.0, np.sign(gap) * 1e300)
    return np.divide(gap, error, out=nothing, where=(error > 0) | np.isnan(error))
