"""Two one-sided tests: the effect must be shown to lie above one margin and below another."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.kinds.edged import EdgedPlan
from ragwort.designs.kinds.unequal_variances import UnequalVariancesPlan
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.refusals import NotAttainable, plain_percent
from ragwort.designs.remarks import General
from ragwort.designs.sizes import Sizes
from ragwort.stats import equivalence, simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.search import one as search
from ragwort.stats.statistic import NormalTest, TTest

if TYPE_CHECKING:
    from numpy.typing import NDArray


@dataclass(frozen=True)
class Scatter:
    """The estimate: its standard errors with the truth on either margin and as planned, and where both tests reject."""

    on_low: float
    on_high: float
    planned: float
    limits: tuple[float, float]  # crossed where no estimate shows equivalence


@dataclass(frozen=True)
class EquivalencePlan(Plan):
    """`effect` is the true effect; `inner` is the test of one side, an SD apart from a margin at effect 1."""

    inner: EdgedPlan
    low: float
    high: float
    by_error: bool = False  # whether the effect or the margin is asked for: then the split with the smaller error

    def _scaled(self, groups: Sizes) -> tuple[Number, Number | None]:
        """The standard error, and the degrees of freedom where the SD is estimated."""
        test = self.inner.replace(effect=1.0).test(groups)
        return 1 / np.asarray(test.noncentrality), test.df if isinstance(test, TTest) else None

    def standard_error(self, groups: Sizes) -> Number:
        """The true standard error of the estimate."""
        return self._scaled(groups)[0]

    def scatter(self, groups: Sizes) -> Scatter | None:
        """How the estimate scatters at one size; None where it is not normal."""
        error = float(np.ravel(self.standard_error(groups))[0])
        reach = error * float(np.ravel(self.details(groups)["critical_value"])[0])
        return Scatter(error, error, error, (self.low + reach, self.high - reach))

    @override
    def power(self, groups: Sizes) -> NDArray[np.float64]:
        error, df = self._scaled(groups)
        low, high = (self.low - self.effect) / error, (self.high - self.effect) / error
        if df is None:
            return equivalence.power_with_known_sd(low, high, self.alpha)
        return equivalence.power_with_estimated_sd(low, high, df, self.alpha)

    @override
    def interval(self, groups: Sizes) -> Interval | None:
        """Both of its limits are to lie between the margins."""
        return self.inner.replace(sides="greater", edge=0.0, effect=self.effect, alpha=self.alpha).interval(groups)

    @override
    def better(self, ways: list[Sizes]) -> Sizes:
        """Of what is not known yet, the split with the smaller error."""
        if not self.by_error:
            return super().better(ways)
        return min(ways, key=lambda way: float(np.ravel(self._scaled(way)[0])[0]))

    @override
    def smallest_sizes(self) -> Sizes | None:
        if isinstance(self.inner, UnequalVariancesPlan):
            return UnequalVariancesPlan.smallest_sizes(self)  # type: ignore[arg-type]  # asks for a counting and a power
        return super().smallest_sizes()

    @property
    @override
    def hopeless(self) -> str:
        if self.low < self.effect < self.high:
            return ""
        return "The true effect lies on or outside the margins, so no sample size shows equivalence."

    @property
    @override
    def points_away(self) -> bool:
        """Two tests look to both sides."""
        return False

    def furthest_effect(self, groups: Sizes, up: bool, field: str) -> float:
        """The effect furthest from the middle of the margins that still reaches the target. Raises `NotAttainable`."""

        def power(effect: float) -> float:
            return float(self.replace(effect=effect).power(groups)[0])

        middle, end = (self.low + self.high) / 2, self.high if up else self.low
        if power(middle) < self.target:
            raise NotAttainable(
                field,
                f"Even in the middle of the margins there is only {plain_percent(power(middle))} power at this sample "
                f"size, not {plain_percent(self.target)}.",
            )
        return search.close_in(power, self.target, fails=end, reaches=middle)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> Any:
        return self.inner.replace(effect=self.effect).draw(sizes, population, count)

    @override
    def analyse(self, data: Any, way: str = "") -> simulated.Found:
        """Both one-sided tests must reject."""
        above = self.inner.replace(sides="greater", edge=self.low).analyse(data, way)
        below = self.inner.replace(sides="less", edge=self.high).analyse(data, way)
        return replace(above, p=np.maximum(above.p, below.p))

    @property
    @override
    def traits(self) -> Any:  # type: ignore[override]  # those of the test of one side
        return self.inner.traits

    @property
    @override
    def estimated(self) -> str:  # type: ignore[override]  # that of the test of one side
        return self.inner.estimated

    @property
    @override
    def at_null(self) -> float:
        """On the upper margin."""
        return self.high

    @property
    @override
    def nothing(self) -> float:
        return self.high

    @override
    def effect_report(self) -> dict[str, Number]:
        return self.inner.replace(effect=self.effect).effect_report() | {"margin": (self.high - self.low) / 2}

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        """The critical value of each one-sided test."""
        test = self.inner.replace(effect=1.0).test(groups)
        found = {"critical_value": test.critical_value(self.alpha, "greater")}
        return {"df": test.df, **found} if isinstance(test, TTest) else found

    @override
    def notes(self, groups: Sizes) -> list[str]:
        both = General(
            "Equivalence is shown by two one-sided tests, each at alpha; a test of difference cannot show it."
        )
        outside = [] if self.low < 0 < self.high else ["No difference at all lies outside these margins."]
        return [both, *outside, *self.inner.notes(groups)]


@dataclass(frozen=True)
class TwoTestsPlan(EquivalencePlan):
    """The same where the error depends on the effect: the powers of both one-sided tests less 1."""

    def on_sides(self) -> tuple[EdgedPlan, EdgedPlan]:
        above = self.inner.replace(sides="greater", edge=self.low, effect=self.effect - self.low, alpha=self.alpha)
        below = self.inner.replace(sides="less", edge=self.high, effect=self.effect - self.high, alpha=self.alpha)
        return above, below

    @override
    def power(self, groups: Sizes) -> NDArray[np.float64]:
        above, below = self.on_sides()
        return np.asarray(np.maximum(above.power(groups) + below.power(groups) - 1, 0.0))

    @override
    def scatter(self, groups: Sizes) -> Scatter | None:
        """With another error at each truth, and before each margin."""
        near = 1e-6 * (self.high - self.low)  # of a margin, on which a test has nothing to measure its error by
        low, high = (self.replace(effect=edge) for edge in (self.low, self.high))
        planned = self.replace(effect=min(max(float(self.effect), self.low + near), self.high - near))
        if not all(isinstance(side.test(groups), NormalTest) for side in planned.on_sides()):
            return None
        (above, own), (below, _) = (_errors(side, groups) for side in planned.on_sides())
        critical = float(np.ravel(self.details(groups)["critical_value"])[0])
        on_low, on_high = _errors(low.on_sides()[1], groups)[1], _errors(high.on_sides()[0], groups)[1]
        return Scatter(on_low, on_high, own, (self.low + critical * above, self.high - critical * below))

    @override
    def better(self, ways: list[Sizes]) -> Sizes:
        if not self.by_error:
            return Plan.better(self, ways)
        return self.inner.replace(effect=self.effect, by_error=True).better(ways)

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        return {"critical_value": self.on_sides()[0].test(groups).critical_value(self.alpha, "greater")}


def _errors(side: EdgedPlan, groups: Sizes) -> tuple[float, float]:
    """The standard error that a one-sided test measures by, and that of its estimate in truth."""
    test = side.test(groups)
    assert isinstance(test, NormalTest)
    null = float(np.ravel(side.effect)[0]) / float(np.ravel(test.noncentrality)[0])
    return null, null * float(np.ravel(test.spread)[0])
