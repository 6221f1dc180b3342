"""The test of a structural equation model's fit: its statistic is noncentral chi-square also without an effect.

Source: MacCallum, Browne and Sugawara, Psychological Methods 1 (1996), pages 130-149; Johnson, Kotz and Balakrishnan,
*Continuous Univariate Distributions* 2 (2nd ed., 1995), chapter 29.
"""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array, Number, chi_square_above, chi_square_below, chi_square_limit
from ragwort.stats.statistic import Limits, Sides, slope

Hills = tuple[tuple[float, float], tuple[float, float]]  # centre and SD without an effect, and with one


@dataclass(frozen=True)
class FitTest:
    """Noncentral chi-square(df), with noncentrality `null` without an effect.

    The test looks for a poorer fit where `poorer` (a number, 0 or 1), otherwise for a closer one.
    """

    noncentrality: Number
    null: Number
    df: Number
    poorer: Number = 1.0
    distribution: str = "chi-square"

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.critical_value`: always positive, that of the one tail."""
        poorer = np.asarray(self.poorer, dtype=bool)
        if poorer.all() or not poorer.any():
            return chi_square_limit(alpha, self.df, self.null, above=bool(poorer.all()))
        above, below = (chi_square_limit(alpha, self.df, self.null, above=way) for way in (True, False))
        return np.where(poorer, above, below)

    def limits(self, alpha: Number, sides: Sides) -> Limits:
        """See `Test.limits`."""
        limit = self.critical_value(alpha, sides)
        return (None, limit) if np.all(self.poorer) else (limit, None)

    def power(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.power`."""
        limit, poorer = self.critical_value(alpha, sides), np.asarray(self.poorer, dtype=bool)
        if poorer.all():
            return chi_square_above(limit, self.df, self.noncentrality)
        below = chi_square_below(limit, self.df, self.noncentrality)
        return np.where(poorer, 1 - below, below) if poorer.any() else below

    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        """See `Test.reported`."""
        shown = {"noncentrality": self.noncentrality, "critical_value": self.critical_value(alpha, sides)}
        return {"df": self.df, **shown, "actual_alpha": float(alpha)}

    def hills(self) -> Hills:
        """Where the statistic lies without an effect, and with it."""
        both = [float(np.ravel(each)[0]) for each in (self.null, self.noncentrality)]
        df = float(self.df)
        null, own = ((df + each, float(np.sqrt(2 * (df + 2 * each)))) for each in both)
        return null, own

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        return slope(lambda at: chi_square_below(at, self.df, self.null), x)

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`."""
        return slope(lambda at: chi_square_below(at, self.df, self.noncentrality), x)
