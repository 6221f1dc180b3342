"""A plan of any kind with interim analyses."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cache
from typing import TYPE_CHECKING, Any, Self

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.looks.course import Course, bounds_refused
from ragwort.designs.plan import Plan
from ragwort.designs.remarks import General
from ragwort.designs.sizes import Sizes
from ragwort.stats import simulated
from ragwort.stats.sequential.looks import Futility, Looks
from ragwort.stats.sequential.spending import Spending
from ragwort.stats.simulated import early
from ragwort.stats.statistic import upper_tail

if TYPE_CHECKING:
    from numpy.typing import NDArray

BY_NORMAL = General("With interim analyses power is exact for a normal statistic, a good approximation otherwise.")


@dataclass(frozen=True)
class Asked:
    """When the test looks, and how it spends its errors, whatever alpha is."""

    fractions: tuple[float, ...]
    spending: Spending
    futility: Futility | None

    def at(self, level: float, two_sided: bool) -> Looks:
        """With alpha of one side."""
        return Looks(self.fractions, level, two_sided, self.spending, self.futility)


@dataclass(frozen=True)
class LookedPlan(Plan):
    """A plan of any kind, with looks (see `looked`): power is the chance to reject at any of them."""

    looks: Asked | None = field(default=None, kw_only=True)  # None: as it is without, to be searched
    taken_at: tuple[float, ...] = field(default=(), kw_only=True)  # when an analyst really looks, if at other times
    planned_drift: float = field(default=0.0, kw_only=True)  # on which boundaries for futility rely; see `settled_at`

    @property
    def course(self) -> Looks:
        """The looks at this alpha."""
        assert self.looks is not None
        return self.looks.at(float(upper_tail(self.alpha, self.sides)), self.sides == "two")

    @property
    def drawn_from_table(self) -> bool:
        """Whether many powers at once are good enough for pictures only."""
        return self.looks is not None and self.looks.futility is not None

    @property
    def without_looks(self) -> Self:
        """The same comparison with one analysis at the end."""
        return self.replace(looks=None)

    def course_at(self, groups: Sizes) -> Course:
        """How studies of this size go."""
        plan = self.without_looks
        assert isinstance(plan, StatisticPlan), "one statistic is what looks are taken at"
        return Course(plan, self.course, groups)

    @override
    def power(self, groups: Sizes) -> NDArray[np.float64]:
        fixed = super().power(groups)
        if self.looks is None:
            return fixed
        if not np.ndim(self.alpha):
            return self._with_looks(fixed, self.course)
        alphas = np.broadcast_to(np.asarray(self.alpha), fixed.shape)
        found = np.empty(fixed.shape)
        for alpha in np.unique(alphas):
            here = alphas == alpha
            found[here] = self._with_looks(fixed[here], self.replace(alpha=float(alpha)).course)
        return found

    def _with_looks(self, fixed: NDArray[np.float64], course: Looks) -> NDArray[np.float64]:
        with bounds_refused():
            found = course.powers(course.fixed_drift(fixed))
        return np.where(fixed >= 1, 1.0, found)

    @property
    @override
    def searched_as(self) -> Self:
        """Without looks, for the power that makes the one asked for with them."""
        if self.looks is None:
            return self
        alphas, targets = np.broadcast_arrays(self.alpha, self.target)
        needed = {
            (float(alpha), float(target)): self._fixed_power_for(float(alpha), float(target))
            for alpha, target in zip(alphas.ravel(), targets.ravel(), strict=True)
        }
        each = [needed[float(alpha), float(target)] for alpha, target in zip(alphas.flat, targets.flat, strict=True)]
        target = np.array(each).reshape(alphas.shape) if np.ndim(targets) else each[0]
        return self.replace(looks=None, target=target)

    def _fixed_power_for(self, alpha: float, target: float) -> float:
        course = self.replace(alpha=alpha).course
        with bounds_refused():
            return float(course.fixed_power(np.array([course.drift_for(target)]))[0])

    @override
    def as_asked(self, asked: Plan) -> Self:
        assert isinstance(asked, LookedPlan)
        return self.replace(looks=asked.looks, target=asked.target)

    @override
    def smallest_sizes(self) -> Sizes | None:
        return super().smallest_sizes() if self.looks is None else self.searched_as.smallest_sizes()

    @override
    def better(self, ways: list[Sizes]) -> Sizes:
        """Looks change nothing in which split is the better one."""
        return super().better(ways) if self.looks is None else self.without_looks.better(ways)

    @override
    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """All of alpha is spent; where futility does not bind, as if it were ignored."""
        return super().actual_alpha(groups) if self.looks is None else np.full(groups.shape[1:], float(self.alpha))

    @override
    def analyse(self, data: Any, way: str = "") -> simulated.Found:
        """As an analyst would: the test at each look by its nominal p, until the study ends."""
        if self.looks is None:
            return super().analyse(data, way)
        with bounds_refused():
            bounds = self.course.bounds(self.planned_drift)
        one = self.without_looks
        sides = 2 if self.sides == "two" else 1
        rejects = [sides * float(special.ndtr(-bound)) for bound in bounds.efficacy]
        gives_up = [float(special.ndtr(-bound)) for bound in bounds.futility]
        return early.analyse_at_looks(
            data, self.taken_at or self.looks.fractions, lambda part: one.analyse(part, way), rejects, gives_up
        )

    @override
    def settled_at(self, groups: Sizes) -> Self:
        return self if self.looks is None else self.replace(planned_drift=self.course_at(groups).drift)

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        found = super().details(groups)
        return found if self.looks is None else {**found, **self.course_at(groups).details()}

    @override
    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        found = super().further_sizes(groups)
        counted = None if self.looks is None else self.course_at(groups).counted()
        return found if counted is None else {**found, "looks": counted}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        found = super().notes(groups)
        return found if self.looks is None else [*found, BY_NORMAL, *self.course_at(groups).notes()]


@cache
def looked(kind: type[Any]) -> type[Any]:
    """The kind of plan that is `kind` with looks."""
    made = type(f"Looked{kind.__name__}", (LookedPlan, kind), {"__module__": __name__, "single": _single(kind)})
    return dataclass(frozen=True)(made)


def _single(kind: type[Any]) -> tuple[str, ...]:
    return (*getattr(kind, "single", ()), "looks")
