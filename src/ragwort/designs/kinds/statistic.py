"""One statistic with one distribution, without and with an effect."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.base.patience import check
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Confidence
from ragwort.designs.sizes import Sizes
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import Test, upper_tail

if TYPE_CHECKING:
    from numpy.typing import NDArray


class StatisticPlan(Plan):
    """Say what the statistic is at given sizes; power, details and the picture of both distributions follow."""

    single: ClassVar[tuple[str, ...]] = ()  # of its numbers, those that cannot be arrays, one for each of many plans

    @property
    def tested_alpha(self) -> Number:
        """The level of the one test: all of alpha, unless several tests share it."""
        return self.alpha

    @property
    @override
    def confidence(self) -> Confidence:
        """Of the one test."""
        return Confidence(upper_tail(self.tested_alpha, self.sides))

    def test(self, groups: Sizes) -> Test:
        """The test statistic at these group sizes (groups x anything)."""
        raise NotImplementedError

    @override
    def power(self, groups: Sizes) -> NDArray[np.float64]:
        check()
        return np.asarray(np.minimum(np.maximum(self.test(groups).power(self.tested_alpha, self.sides), 0.0), 1.0))

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        return self.test(groups).reported(self.tested_alpha, self.sides)
