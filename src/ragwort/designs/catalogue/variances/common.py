"""What comparisons of variances share."""

from __future__ import annotations

from ragwort.designs.formula import Expression, Sub, row

NORMAL = (
    "The outcome is normal: tests of variances, unlike those of means, are not robust to skewed or long-tailed "
    "distributions."
)
FURTHEST = 300.0  # logarithm of a ratio of SDs
_NEAR = 1.25  # a ratio of variances this near to 1


def near_one(ratio: float, sides: str) -> list[str]:
    """A note where two equal tails may give less power than alpha."""
    if sides != "two" or not 1 / _NEAR < ratio < _NEAR:
        return []
    return ["With equal tails power may lie a little below alpha where the variances are nearly alike."]


def power_of_ratio(symbol: str, df: str, sides: str) -> Expression:
    """Power of a statistic that the ratio ρ of variances multiplies."""
    upper, lower = {"two": ("1−α/2", "α/2"), "greater": ("1−α", ""), "less": ("", "α")}[sides]
    above = row(f"P({symbol} > ", Sub(symbol, f"{upper}, {df}"), "/ρ)")
    below = row(f"P({symbol} < ", Sub(symbol, f"{lower}, {df}"), "/ρ)")
    parts = {"two": (above, " + ", below), "greater": (above,), "less": (below,)}[sides]
    return row("1 − β = ", *parts)
