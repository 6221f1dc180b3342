"""Exact tests on counts: because counts are whole, power goes up and down with the sample size."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import TYPE_CHECKING, TypeAlias

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.assumption import Assumption, Choice
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import plain_number
from ragwort.designs.sizes import Sizes, Steps
from ragwort.stats.search import sawtooth

if TYPE_CHECKING:
    from numpy.typing import NDArray

Bounds: TypeAlias = "tuple[NDArray[np.float64], NDArray[np.float64]]"  # the least and the most power of runs of sizes

N_RULE = Assumption(
    "n_rule",
    "Sample size rule",
    "choice",
    "Sample",
    "The power of an exact test goes up and down as participants are added, because counts are whole. Steady: from "
    "this size on every larger one has the power too, so a few more participants do no harm. First: the smallest size "
    "that has it; one or two more may have less.",
    default="steady",
    choices=(Choice("steady", "power stays at the target"), Choice("first", "first that reaches it")),
)
COUNTS_UP = "Power goes up and down with the sample size, because the test can only reject at whole counts."


class CountsPlan(Plan):
    """Say how to find the first and the steady size; the answer, the search and the picture Steps follow.

    Needs a field `n_rule`: whether `steady` or `first` is asked for.
    """

    n_rule: str

    def first_and_steady(self) -> tuple[int, int] | None:
        """The first step whose power reaches the target, and the first from which all do.

        None where no step up to `last_step` reaches it. Ask `first_and_steady` below, which keeps what was found.
        """
        raise NotImplementedError

    def rejection_limits(self, groups: Sizes) -> dict[str, NDArray[np.float64]]:
        """The rejection limits at each size, each by what it is called; NaN where there is none."""
        return {}

    @property
    def step_words(self) -> str:
        """What a step counts, where that is not simply participants: ` in group 1`."""
        return ""

    @override
    def smallest_sizes(self) -> Sizes | None:
        """The first or the steady size, as asked for."""
        found = first_and_steady(self)
        return None if found is None else self.counting.at(self.power, found[self.n_rule == "steady"])

    @override
    def searched(self) -> tuple[dict[str, int], list[str]]:
        """Both sizes, and a note where they differ."""
        found = first_and_steady(self)
        if found is None:
            raise RuntimeError("an exact test was answered at a size that no search finds")
        first, steady = found
        sizes = {"first": first, "steady": steady}
        if first == steady:
            return sizes, []
        where = f"{plain_number(first)}{self.step_words}"
        return sizes, [
            f"Power first reaches the target at {where}, falls below it again at some larger sizes, and stays at or "
            f"above it from {plain_number(steady)} on."
        ]


def by_bounds(plan: CountsPlan, bounds: Callable[[Steps, Steps], Bounds]) -> tuple[int, int] | None:
    """The first and the steady size, runs of sizes ruled out by the least and the most power that each can have."""
    power, lowest = plan.power_along, plan.counting.lowest
    first = sawtooth.first_reaching(power, lambda a, b: bounds(a, b)[1], plan.target, lowest, plan.last_step)
    if first is None:
        return None
    end = horizon(power, plan.target, max(2 * first, first + 200))
    return first, sawtooth.last_below(power, lambda a, b: bounds(a, b)[0], plan.target, first, end) + 1


@lru_cache(maxsize=256)
def first_and_steady(plan: CountsPlan) -> tuple[int, int] | None:
    """See `CountsPlan.first_and_steady`; kept, because the answer, the curve and the steps all ask for it."""
    return plan.first_and_steady()


def horizon(power: Callable[[Steps], NDArray[np.float64]], target: float, start: int) -> int:
    """How far a steady size is looked for: on, until power there reaches the target."""
    end = start
    while float(power(np.array([end]))[0]) < target:
        end *= 2
    return end
