"""How studies with interim analyses go: bounds, chances of ending at each look, expected sizes."""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from scipy import special

from ragwort.base.lazily import np
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sizes import Sizes, rounded_up
from ragwort.stats.search import one as search
from ragwort.stats.sequential import process
from ragwort.stats.sequential.bounds import NoBounds
from ragwort.stats.sequential.looks import Looks

_FEW = 10  # in a group at the first look
_HALVINGS = 50


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

    plan: StatisticPlan  # with one analysis at the end
    looks: Looks
    sizes: Sizes

    @cached_property
    def fixed_power(self) -> float:
        """The power of the same test with one analysis at the end."""
        return float(self.plan.power(self.sizes)[0])

    @cached_property
    def drift(self) -> float:
        """Of the planned effect, in the direction of the test; infinite where nothing could be missed."""
        fixed = self.fixed_power
        return math.inf if fixed >= 1 else float(self.looks.fixed_drift(np.array([fixed]))[0])

    def effect_at(self, z: float, t: float) -> float | None:
        """The effect, as it is reported, at which the statistic is expected at `z` when a share `t` is there.

        None where there is none so far from nothing.
        """
        plan, wanted = self.plan, z / math.sqrt(t)
        if wanted == 0:
            return self._reported(0.0)
        end = plan.furthest_at(self.sizes, wanted > 0)
        scale = math.copysign(min(abs(float(np.ravel(plan.effect_scale)[0])), abs(end)), wanted)
        noncentrality = self.noncentrality
        while abs(noncentrality(scale)) < abs(wanted):
            if abs(scale) >= abs(end):
                return None
            scale = math.copysign(min(abs(scale) * 2, abs(end)), wanted)
        found = search.close_in(lambda effect: abs(noncentrality(effect)), abs(wanted), fails=0.0, reaches=scale)
        return self._reported(found)

    def _reported(self, effect: float) -> float:
        return float(np.ravel(next(iter(self.plan.replace(effect=effect).effect_report().values())))[0])

    def z_of(self, value: float, scale: str, at: int) -> float | None:
        """A boundary for efficacy given as `z`, `p` or `effect`, in the direction of the test; None where it is none.

        Of a two-sided test its size.
        """
        if scale == "p":
            one_sided = value / 2 if self.looks.two_sided else value
            return -float(special.ndtri(one_sided)) if 0 < one_sided < 0.5 else None
        if scale == "effect":
            value = self._z_of_effect(value, self.looks.fractions[at])
        signed = abs(value) if self.looks.two_sided else self._sign * value
        return signed if 0 < signed < process.CUT else None

    def _z_of_effect(self, reported: float, t: float) -> float:
        """Where the statistic is expected at an effect as it is reported."""
        low, high = -process.CUT, process.CUT

        def over(z: float) -> float:
            found = self.effect_at(z, t)
            return (math.copysign(math.inf, z) if found is None else found) - reported

        rising = over(high) > over(low)
        for _ in range(_HALVINGS):
            middle = (low + high) / 2 or 1e-9
            low, high = (middle, high) if (over(middle) < 0) == rising else (low, middle)
        return (low + high) / 2

    def spent_with(self, at: int, z: float) -> float:
        """The alpha spent up to a look, both sides together, where its boundary is at `z`."""
        looks = self.looks
        relied_on = looks.futility is not None and looks.futility.binding
        bounds = looks.bounds(self.drift) if relied_on else looks.plain
        before = looks.spent[at - 1] if at else 0.0
        crossed = process.above(bounds.before(at), looks.fractions[at], z, 0.0)
        return float(before + crossed) * self._sides

    def all_spent(self, at: int, amount: float) -> list[float]:
        """The alpha spent up to each look, with another amount at one. Raises `RequestError`."""
        spent = [float(each) * self._sides for each in self.looks.spent]
        alpha, least = float(self.plan.alpha), spent[at - 1] if at else 0.0
        if at == len(spent) - 1:
            raise RequestError("spent", "At the last look all of alpha is spent: change alpha itself.")
        if not least <= amount <= alpha:
            raise RequestError(
                "spent",
                f"Up to this look {plain_number(amount)} of alpha would be spent: it must be from "
                f"{plain_number(least)}, which is spent before, to {plain_number(alpha)}.",
            )
        spent[at] = amount
        return [max(each, amount) if later > at else each for later, each in enumerate(spent)]

    @property
    def _sides(self) -> int:
        return 2 if self.looks.two_sided else 1

    def noncentrality(self, effect: float) -> float:
        """That of the one analysis at the end, of an effect as the plan counts it."""
        value = float(np.ravel(self.plan.replace(effect=effect).test(self.sizes).noncentrality)[0])
        return value if math.isfinite(value) else math.copysign(math.inf, effect)

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
        if counted is None or self.plan.counted or min(counted[0]) >= _FEW:
            return []
        few = plain_number(min(counted[0]))
        if self.plan.clusters_at(self.sizes):
            return [
                f"At the first look an arm has {few} clusters: with fewer than {_FEW} the boundaries are rough, and "
                "studies end there more seldom than is said."
            ]
        return [f"At the first look a group has {few}: with fewer than {_FEW} the boundaries and the power are rough."]

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
        of, total = self.what_ends()
        for name, ends in (("effect", effect), ("null", null)):
            found[f"expected_{of}_{name}"] = total * looks.expected_share(ends)
        times = self.plan.times_of(looks.fractions, self.sizes)
        return found if times is None else {**found, "look_times": times}

    @property
    def _sign(self) -> float:
        return -1.0 if self.plan.sides == "less" else 1.0

    def _of_bounds(self, efficacy: tuple[float, ...], futility: tuple[float, ...]) -> dict[str, Any]:
        p = [self._sides * float(upper_tail_beyond(bound)) for bound in efficacy]
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

    def what_ends(self) -> tuple[str, float]:
        """What a study is as large as at its end, and how large it may become."""
        events = self.plan.events_expected(self.sizes)
        if events is not None:
            return "events", float(np.ravel(events)[0])
        total = float(self.plan.counting.in_all(self.sizes[:, 0]))
        return ("events" if self.plan.counted else "n"), total


def upper_tail_beyond(bound: float) -> float:
    """The chance of a standard normal statistic at or beyond a bound."""
    return 0.5 * math.erfc(bound / math.sqrt(2))
