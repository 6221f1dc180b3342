"""No hypothesis: an interval that is to be narrow enough, as planned, or with a chance that is asked for."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Confidence
from ragwort.designs.refusals import NotAttainable, plain_number, plain_percent
from ragwort.designs.sizes import Sizes, Steps
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.search import one as search

if TYPE_CHECKING:
    from numpy.typing import NDArray

_ROUNDED = 1e-12
_ONE_BY_ONE = 8  # smallest sizes, among which the chance of a narrow interval may fall


@dataclass(frozen=True)
class PrecisionPlan(Plan):
    """`effect` is the half width that is asked for, `alpha` what the confidence leaves.

    Power is the chance of an interval that is no wider. With `assured` that is to reach the target; else the interval
    at the planning values is to be no wider, which about half of studies then exceed.
    """

    assured: bool = False

    something = "a half width above 0"
    signed = False
    has_test = False

    @property
    def met_words(self) -> str:
        """What happens in a study that comes out as asked for."""
        return "the interval will be no wider than that"

    def half_width(self, groups: Sizes) -> Array:
        """Of the interval at the planning values, at each size (groups x anything)."""
        raise NotImplementedError

    def chance(self, groups: Sizes) -> Array:
        """Of an interval no wider than asked for."""
        raise NotImplementedError

    def width_with_chance(self, groups: Sizes) -> Array:
        """The half width that the interval keeps to with the chance asked for."""
        raise NotImplementedError

    def confidence_kept(self, groups: Sizes) -> float:
        """The largest confidence at which the half width is still the one asked for (groups x 1).

        Raises `NotAttainable`.
        """
        raise NotImplementedError

    def is_met(self, groups: Sizes) -> NDArray[np.bool_]:
        """Whether the planned interval is as narrow as asked for."""
        return np.asarray(self.half_width(groups) <= self.effect)

    @override
    def power(self, groups: Sizes) -> NDArray[np.float64]:
        return np.asarray(self.chance(groups))

    def narrow(self, found: simulated.Found) -> simulated.Found:
        """What was found in studies, and which of them have an interval as narrow as asked for."""
        assert found.low is not None and found.high is not None
        return replace(found, rejects=self.is_narrow(found.low, found.high))

    def is_narrow(self, low: Array, high: Array) -> NDArray[np.bool_]:
        """Whether limits are as close as asked for."""
        return np.asarray((high - low) / 2 <= self.effect * (1 + _ROUNDED))

    @property
    @override
    def has_power(self) -> bool:
        return self.assured

    @property
    @override
    def hopeless(self) -> str:
        return ""

    @override
    def smallest_sizes(self) -> Sizes | None:
        """The planned half width falls with every participant; the chance may fall at the first sizes, but there alone.

        Methods of sections 19 to 21.
        """
        counting = self.counting
        careful = _ONE_BY_ONE if self.assured else 0
        step = search.first_step(self._reached, self.target, counting.lowest, self.last_step, careful)
        return None if step is None else self.better(counting.ways(np.array([step])))

    def _reached(self, steps: Steps) -> NDArray[np.float64]:
        enough = self.chance if self.assured else self._met
        return np.asarray(np.max([enough(way) for way in self.counting.ways(steps)], axis=0))

    def _met(self, groups: Sizes) -> Array:
        """1 where the planned interval is as narrow as asked for, 0 where it is not."""
        return self.is_met(groups).astype(float)

    @override
    def better(self, ways: list[Sizes]) -> Sizes:
        """The split with the smaller half width, of equals the first."""
        widths = [float(np.ravel(self.half_width(way))[0]) for way in ways]
        return ways[min(range(len(ways)), key=lambda at: widths[at] if at == 0 else widths[at] * (1 + 1e-12))]

    @override
    def unreached(self, limit: float) -> str:
        last = self.better(self.counting.ways(np.array([self.last_step])))
        width = plain_number(float(np.ravel(self.half_width(last))[0]))
        if self.assured:
            reached = plain_percent(float(self.power(last)[0]))
            return f"No sample size up to {plain_number(limit)} gives that chance; the largest is {reached}."
        return f"No sample size up to {plain_number(limit)} is enough: the half width is then {width}."

    def reached_width(self, groups: Sizes) -> float:
        """What `find: "effect"` answers at these sizes."""
        found = self.width_with_chance(groups) if self.assured else self.half_width(groups)
        return float(np.ravel(found)[0])

    @property
    @override
    def confidence(self) -> Confidence:
        return Confidence(np.asarray(self.alpha) / 2)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"half_width": self.effect}

    @override
    def effect_with(self, groups: Sizes) -> dict[str, Number]:
        """The half width at the planning values, and the limits where these say them."""
        limits = self.interval(groups)
        found: dict[str, Number] = {"half_width": self.half_width(groups)}
        found |= {} if limits is None else {"lower": limits.low, "upper": limits.high}
        return {name: float(np.ravel(value)[0]) for name, value in found.items()}

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        return {}


def no_such_confidence(width: float) -> NotAttainable:
    """Where no confidence goes with a half width."""
    return NotAttainable(
        "half_width", f"At these sizes no confidence between 0 and 1 goes with a half width of {plain_number(width)}."
    )
