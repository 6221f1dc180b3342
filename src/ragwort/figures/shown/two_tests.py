"""Two one-sided tests: the estimate if the truth lies on either margin and if it is the planned one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.designs import Answer
from ragwort.designs.kinds import EquivalencePlan
from ragwort.figures.shown.shown import Shown, Texts
from ragwort.study.words.found import power_text

POINTS = 401
_AWAY = 3.2  # standard errors beyond both margins


@dataclass(frozen=True)
class TwoTests(Shown):
    """What the picture Errors shows of equivalence: three densities of the estimate, and where both tests reject."""

    x_label: str
    x: NDArray[np.float64]
    at_low: NDArray[np.float64]  # with the truth on the lower margin
    at_high: NDArray[np.float64]
    effect: NDArray[np.float64]
    margins: tuple[float, float]
    limits: tuple[float, float]  # equivalence is shown between them; crossed where no estimate shows it
    alpha: float
    power: float
    effect_label: str
    says: str
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return "how often"

    @property
    def y_high(self) -> float:
        """The top of the y axis."""
        return 1.55 * max(float(hill.max()) for hill in (self.effect, self.at_low, self.at_high))

    @override
    def frame(self) -> tuple[object, ...]:
        return ("two tests", self.x_label, float(self.x[0]), float(self.x[-1]), self.y_high)

    def rejected(self) -> NDArray[np.bool_]:
        """Where on x both tests reject."""
        low, high = self.limits
        return np.asarray((self.x >= low) & (self.x <= high))

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = [
            self.x_label,
            "density, lower margin",
            "density, upper margin",
            "density, planned",
            "shown",
        ]
        columns = zip(self.x, self.at_low, self.at_high, self.effect, self.rejected(), strict=True)
        rows: list[list[object]] = [[*(float(each) for each in row[:4]), bool(row[4])] for row in columns]
        return [head, *rows]


def has_two_tests(answer: Answer) -> bool:
    """Whether equivalence is shown of an estimate that is normal."""
    return isinstance(answer.plan, EquivalencePlan) and answer.plan.scatter(answer.sizes()) is not None


def two_tests_of(answer: Answer, effect_label: str) -> TwoTests:
    """The picture of an answer that `has_two_tests`."""
    plan = answer.plan
    assert isinstance(plan, EquivalencePlan)
    scatter = plan.scatter(answer.sizes())
    assert scatter is not None
    centres, errors = (plan.low, plan.high, float(plan.effect)), (scatter.on_low, scatter.on_high, scatter.planned)
    x = np.linspace(min(centres) - _AWAY * max(errors), max(centres) + _AWAY * max(errors), POINTS)
    hills = [_hill(x, centre, error) for centre, error in zip(centres, errors, strict=True)]
    margins, limits = (plan.low, plan.high), scatter.limits
    logs = plan.inner.on_logs
    if logs:  # the estimate is normal on logarithms, and read as a ratio
        x = np.exp(x)
        hills = [hill / x for hill in hills]
        margins, limits = _exp(margins), _exp(limits)
    return TwoTests(
        x_label="estimated ratio" if logs else "estimated difference",
        x=x,
        at_low=hills[0],
        at_high=hills[1],
        effect=hills[2],
        margins=margins,
        limits=limits,
        alpha=float(plan.alpha),
        power=answer.power,
        effect_label=effect_label,
        says=_says(limits, float(plan.alpha), answer.power),
    )


def _hill(x: NDArray[np.float64], centre: float, error: float) -> NDArray[np.float64]:
    return np.asarray(np.exp(-(((x - centre) / error) ** 2) / 2) / (error * np.sqrt(2 * np.pi)))


def _exp(pair: tuple[float, float]) -> tuple[float, float]:
    return float(np.exp(pair[0])), float(np.exp(pair[1]))


def _says(limits: tuple[float, float], alpha: float, power: float) -> str:
    if limits[0] >= limits[1]:
        return (
            "At this size no estimate shows equivalence: the margins are nearer to each other than the tests can tell."
        )
    between = " and ".join(f"{limit:.3g}" for limit in limits).replace("-", "\u2212")
    return (
        f"An estimate between {between} shows equivalence (at the assumed variability): with probability "
        f"{power_text(power)} under the planned "
        f"effect, and at most {100 * alpha:.3g}% at a margin."
    ).replace("\u00a0", " ")
