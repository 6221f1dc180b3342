"""How studies with interim analyses go: bounds, chances of ending at each look, expected sizes."""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from ragwort.base.lazily import np
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sizes import Sizes, rounded_up
from ragwort.stats.sequential.looks import Looks, NoBounds

_FEW = 10  # in a group at the first look


@contextmanager
def bounds_refused() -> Iterator[None]:
    try:
        yield
    except NoBounds as error:
        raise RequestError(
            "futility",
            "These boundaries for futility stop so many studies that alpha cannot be spent any more: spend less on "
            "futility early, or let it not be binding.",
        ) from error


@dataclass(frozen=True)
class Course:
    """How studies of a plan with looks go, at one set of sizes (groups x 1)."""

    plan: Plan  # with one analysis at the end
    looks: Looks
    sizes: Sizes

    @property
    def fixed_power(self) -> float:
        """The power of the same test with one analysis at the end."""
        return float(self.plan.power(self.sizes)[0])

    @property
    def drift(self) -> float:
        """Of the planned effect, in the direction of the test; infinite where nothing could be missed."""
        fixed = self.fixed_power
        return math.inf if fixed >= 1 else float(self.looks.fixed_drift(np.array([fixed]))[0])

    def counted(self) -> list[list[int]] | None:
        """What is there at each look by group: people, events, clusters; None where people wait for events."""
        plan, sizes = self.plan, self.sizes
        if plan.events_expected(sizes) is not None:
            return None
        if plan.counted:
            groups = [float(sizes.sum())]
        else:
            groups = [float(each) for each in plan.clusters_at(sizes) or plan.counting.in_groups(sizes[:, 0])]
        return [[rounded_up(t * each) for each in groups] for t in self.looks.fractions]

    def notes(self) -> list[str]:
        """Few at the first look."""
        counted = self.counted()
        if counted is None or self.plan.counted or self.plan.clusters_at(self.sizes) or min(counted[0]) >= _FEW:
            return []
        return [
            f"At the first look a group has {plain_number(min(counted[0]))}: with fewer than {_FEW} the boundaries and "
            "the power are rough."
        ]

    def details(self) -> dict[str, Any]:
        """What the answer says of its looks."""
        with bounds_refused():
            return self._details()

    def _details(self) -> dict[str, Any]:
        looks, drift = self.looks, self.drift
        if drift == math.inf:  # no planned effect to say anything of
            return {"fixed_power": 1.0, **self._of_bounds(looks.plain.efficacy, ())}
        bounds = looks.bounds(drift)
        effect, null = bounds.ends(drift), bounds.ends(0.0)
        futile = bool(bounds.futility)
        found = {
            **self._of_bounds(bounds.efficacy, bounds.futility),
            "reject_effect": effect.reject.tolist(),
            "reject_null": null.reject.tolist(),
            **({"give_up_effect": effect.give_up.tolist(), "give_up_null": null.give_up.tolist()} if futile else {}),
            "actual_alpha": float(self.plan.alpha),
            "drift": self._sign * drift,
            "fixed_power": self.fixed_power,
            **self._inflation(drift),
        }
        of, total = self._what_ends()
        for name, ends in (("effect", effect), ("null", null)):
            found[f"expected_{of}_{name}"] = total * looks.expected_share(ends)
        times = self.plan.times_of(looks.fractions, self.sizes)
        return found if times is None else {**found, "look_times": times}

    @property
    def _sign(self) -> float:
        return -1.0 if self.plan.sides == "less" else 1.0

    def _of_bounds(self, efficacy: tuple[float, ...], futility: tuple[float, ...]) -> dict[str, Any]:
        sided = 2 if self.looks.two_sided else 1
        p = [sided * float(upper_tail_beyond(bound)) for bound in efficacy]
        found = {"efficacy_bounds": self._signed(efficacy), "nominal_p": p}
        return {**found, "futility_bounds": self._signed(futility)} if futility else found

    def _signed(self, bounds: tuple[float, ...]) -> list[float | None]:
        return [self._sign * bound if math.isfinite(bound) else None for bound in bounds]

    def _inflation(self, drift: float) -> dict[str, float]:
        """How much larger the study is at most than one without looks of the same power."""
        looks = self.looks
        power = looks.power(drift)
        if power <= float(self.plan.alpha) or power >= 1:
            return {}
        return {"inflation": (drift / float(looks.fixed_drift(np.array([power]))[0])) ** 2}

    def _what_ends(self) -> tuple[str, float]:
        """What a study is as large as at its end, and how large it may become."""
        events = self.plan.events_expected(self.sizes)
        if events is not None:
            return "events", float(np.ravel(events)[0])
        total = float(self.plan.counting.in_all(self.sizes[:, 0]))
        return ("events" if self.plan.counted else "n"), total


def upper_tail_beyond(bound: float) -> float:
    """The chance of a standard normal statistic at or beyond a bound."""
    return 0.5 * math.erfc(bound / math.sqrt(2))
