"""The test statistic if there is no effect and if there is: the two error rates and the power as areas."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.designs import Answer, StatisticPlan
from ragwort.designs.kinds import has_margin
from ragwort.designs.plan import Plan
from ragwort.figures.shown.shown import Shown, Texts
from ragwort.stats.counted import CountedTest
from ragwort.stats.fit import FitTest
from ragwort.stats.noncentral import Array
from ragwort.stats.pearson import CorrelationTest
from ragwort.stats.statistic import ChiSquareTest, FTest, Test, TTest
from ragwort.stats.variance_tests import OneVarianceTest, TwoVariancesTest
from ragwort.study.words.found import power_text

POINTS = 400
_SYMBOLS = {
    "t": "t statistic",
    "z": "z statistic",
    "F": "F statistic",
    "chi-square": "chi-square statistic",
    "r": "sample correlation r",
    "count": "number with the event",
    "events": "number of events",
}


@dataclass(frozen=True)
class Errors(Shown):
    """What the picture Errors shows: two densities over x, and where the test rejects."""

    x_label: str
    x: NDArray[np.float64]
    null: NDArray[np.float64]
    effect: NDArray[np.float64]
    lower: float | None  # reject at or below
    upper: float | None  # reject at or above
    alpha: float
    power: float
    effect_label: str
    says: str
    null_label: str = "no effect"
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return "how often"

    @override
    def frame(self) -> tuple[object, ...]:
        return ("errors", self.x_label, round(float(self.x[0]), 1), round(float(self.x[-1]), 1), self.y_high)

    @property
    def one_ended(self) -> bool:
        """Whether the statistic starts at zero, where its density may have no bound."""
        return bool(self.x[0] == 0)

    @property
    def y_high(self) -> float:
        """The top of the y axis; a statistic that starts at zero is cut off there, so that the effect can be seen."""
        null, effect = self.null[self.peak(self.null)], self.effect[self.peak(self.effect)]
        highest = min(max(null, effect), 2.4 * effect) if self.one_ended else max(null, effect)
        return float(f"{1.30 * highest:.2g}") or 1.0  # a density so flat that it cannot be told from nothing

    def shown(self, density: NDArray[np.float64]) -> NDArray[np.float64]:
        """A density as far as it is drawn."""
        return np.where(density > 0.77 * self.y_high, np.nan, density) if self.one_ended else density

    def peak(self, density: NDArray[np.float64]) -> int:
        """Where a density is highest, away from zero, where that of one degree of freedom has no bound."""
        away = int(0.05 * POINTS) if self.one_ended else 0
        return away + int(np.argmax(density[away:]))

    def rejected(self) -> NDArray[np.bool_]:
        """Where on x the test rejects."""
        above = self.x >= self.upper if self.upper is not None else np.zeros(self.x.shape, bool)
        below = self.x <= self.lower if self.lower is not None else np.zeros(self.x.shape, bool)
        return above | below

    def rows(self) -> list[list[object]]:
        """The data behind the picture: a heading row and one row a point."""
        head: list[object] = [self.x_label, "density without effect", "density with effect", "rejected"]
        columns = zip(self.x, self.null, self.effect, self.rejected(), strict=True)
        rows: list[list[object]] = [[float(x), float(n), float(e), bool(r)] for x, n, e, r in columns]
        return [head, *rows]


def errors_of(answer: Answer, effect_label: str) -> Errors:
    """The two distributions at the answer's sizes; `effect_label` names the planned effect."""
    plan = answer.plan
    assert isinstance(plan, StatisticPlan)
    test = _at_one_size(plan.test(answer.sizes()))
    lower, upper = (None if limit is None else float(limit) for limit in test.limits(plan.tested_alpha, plan.sides))
    x = _range(test, max(abs(limit) for limit in (lower, upper) if limit is not None))
    alpha, power = float(plan.actual_alpha(answer.sizes())[0]), answer.power
    counted = isinstance(test, CountedTest)
    where = _at_counts(lower, upper) if counted else _where(lower, upper)
    if counted:  # the bar of a count is as wide as one
        lower, upper = lower if lower is None else lower + 0.5, upper if upper is None else upper - 0.5
    return Errors(
        x_label=_SYMBOLS[test.distribution],
        x=x,
        null=_heights(test.null_density, x),
        effect=_heights(test.effect_density, x),
        lower=lower,
        upper=upper,
        alpha=alpha,
        power=power,
        effect_label=effect_label,
        null_label="at the margin" if has_margin(plan) else "no effect",
        says=_says(where, alpha, plan, power).replace("\u00a0", " "),
    )


def _says(where: str, alpha: float, plan: Plan, power: float) -> str:
    rejects = "rejects" if where.startswith("A ") else "reject"
    chances = f"with probability {_rate(alpha)} {_without(plan)}, {power_text(power)} under the planned effect"
    return f"{where} {rejects} H₀: {chances}."


def _without(plan: Plan) -> str:
    return "at the margin" if has_margin(plan) else "under H₀"


def _rate(alpha: float) -> str:
    return f"{100 * alpha:.3g}%"


def _where(lower: float | None, upper: float | None) -> str:
    if lower is not None and upper is not None:
        mirrored = abs(lower + upper) < 0.005
        return (
            f"Values beyond ±{upper:.2f}"
            if mirrored
            else f"Values beyond {lower:.2f} and {upper:.2f}".replace("-", "\u2212")
        )
    return f"Values above {upper:.2f}" if upper is not None else f"Values below {lower:.2f}".replace("-", "\u2212")


def _at_counts(lower: float | None, upper: float | None) -> str:
    parts = [f"{upper:.0f} or more" if upper is not None else "", f"{lower:.0f} or fewer" if lower is not None else ""]
    return f"A count of {' and '.join(part for part in parts if part)}"


def _at_one_size(test: Test) -> Test:
    """The same test with plain floats for parameters."""
    plain = {name: float(np.ravel(value)[0]) for name, value in vars(test).items() if name != "distribution"}
    return type(test)(**plain)


def _range(test: Test, limit: float) -> Array:
    """The x values that show both distributions, rounded outwards so that the axis moves in small steps only."""
    if isinstance(test, OneVarianceTest | TwoVariancesTest | FitTest):
        hills = test.hills()
        high = max(1.6 * limit, *(centre + 2.6 * spread for centre, spread in hills))
        return _with_hills(np.linspace(0.0, np.ceil(high), POINTS), hills)
    shift = float(test.noncentrality)
    if isinstance(test, FTest | ChiSquareTest):
        df = test.df1 if isinstance(test, FTest) else test.df
        scale = df if isinstance(test, FTest) else 1.0  # F is a mean square, chi-square a sum
        spread = np.sqrt(2 * (df + 2 * shift))
        if isinstance(test, FTest):  # the denominator varies too
            spread = np.hypot(spread, (df + shift) * np.sqrt(2 / test.df2))
        hills = ((df / scale, np.sqrt(2 * df) / scale), ((df + shift) / scale, spread / scale))
        high = max(1.6 * limit, (df + shift + 2.6 * spread) / scale)
        return _with_hills(np.linspace(0.0, np.ceil(high), POINTS), hills)
    if isinstance(test, CountedTest):
        return _counts_around(test)
    if isinstance(test, CorrelationTest):
        null, rho = float(test.null_rho), float(test.rho)
        wide = (1 - null**2) / np.sqrt(test.n), (1 - rho**2) / np.sqrt(test.n)
        return _with_hills(np.linspace(-1.0, 1.0, POINTS), ((null, wide[0]), (rho, wide[1])))
    heavy = max(3.6, min(abs(limit) * 1.4, 8.0))
    low, high = min(0.0, shift) - heavy, max(0.0, shift) + heavy
    spread = np.hypot(1, shift / np.sqrt(2 * float(test.df))) if isinstance(test, TTest) else 1.0
    high = max(high, shift + 4 * spread)
    low = min(low, shift - 4 * spread) if shift < 0 else low
    return _with_hills(np.linspace(np.floor(low * 2) / 2, np.ceil(high * 2) / 2, POINTS), ((0.0, 1.0), (shift, spread)))


def _heights(density: Callable[[Array], Array], x: Array) -> Array:
    """A density as it can be drawn: nothing where its numbers leave the range of numbers, as at an effect of 1e300."""
    with np.errstate(over="ignore", invalid="ignore"):
        return np.nan_to_num(density(x), nan=0.0, posinf=0.0)


def _with_hills(x: Array, hills: tuple[tuple[float, float], ...]) -> Array:
    """More places around each hill (centre, SD) that is so narrow that it could fall between two places."""
    narrow = [centre + spread * np.linspace(-4, 4, 81) for centre, spread in hills if 8 * spread < 20 * (x[1] - x[0])]
    more = np.concatenate([x, *narrow])
    return np.unique(more[(more >= x[0]) & (more <= x[-1])]) if narrow else x


def _counts_around(test: CountedTest) -> Array:
    """Places along the counts that come up without an effect or with it: both edges of each bar."""
    ends = [(centre, 4 * spread + 1) for centre, spread in test.hills()]
    low = max(np.floor(min(centre - spread for centre, spread in ends)), 0.0)
    high = min(np.ceil(max(centre + spread for centre, spread in ends)), float(test.highest))
    if high - low > 2 * POINTS:
        return np.linspace(low, high, 2 * POINTS)
    edges = np.arange(low, high + 1) - 0.5
    return np.sort(np.concatenate([edges + 1e-9, edges + 1 - 1e-9]))
