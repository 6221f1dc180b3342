"""What the regression designs share: predictors, f squared, one group that leaves a degree of freedom."""

from __future__ import annotations

from typing_extensions import override

from ragwort.designs.assumption import Assumption
from ragwort.designs.design import Values
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.remarks import General
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes

F_SQUARED = Assumption(
    "f_squared",
    "Effect size f²",
    "number",
    "Effect",
    "Explained variance over unexplained variance: R² / (1 − R²). State the explained share where you can.",
    symbol="f²",
    low=0,
    usual="0.02 small, 0.15 medium, 0.35 large (Cohen, 1988, section 9.2.1), as a last resort",
)
PREDICTORS = Assumption(
    "predictors",
    "Predictors",
    "count",
    "Structure",
    "How many terms the model has, not counting the constant. A factor with k levels counts k − 1; a moderator "
    "adds its product with the predictor that it moderates. Type the number, or the names, and they are counted: age, "
    "ward (4 levels), age × ward.",
    symbol="p",
    low=1,
    high=10_000,
    required=True,
    named=True,
)
_DATA = (
    "Observations of different participants are independent.",
    "The residuals are approximately normal with constant variance; the relation is linear.",
)
CONDITIONAL = General(
    "Power is conditional on the predictors' values; with random predictors it is a little less in small samples."
)


class ConditionalPlan(StatisticPlan):
    """A test of a regression, given the values of its predictors."""

    traits = frozenset({"measured"})

    @override
    def notes(self, groups: Sizes) -> list[str]:
        return [CONDITIONAL]


class Model(OneSample):
    """What the regression designs share: one group that leaves a degree of freedom."""

    data_assumptions = _DATA

    approximation = (
        "The calculation is exact for normal residuals, given the predictors' values; with random normal "
        "predictors power is a "
        "little less in small samples."
    )

    @override
    def smallest_n(self, values: Values) -> int:
        """One degree of freedom for the residuals."""
        return int(values["predictors"]) + 2

    @override
    def size_reason(self, values: Values) -> str:
        return f"With {values['predictors']} predictors "
