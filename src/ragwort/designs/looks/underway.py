"""A study that is under way: the boundary now, the chance of success at the end, sizes found without unblinding.

Sources: Lan and Wittes, Biometrics 44 (1988), 579-585 (conditional power); Spiegelhalter, Freedman and Blackburn,
Control Clin Trials 7 (1986), 8-17 (predictive power); Jennison and Turnbull (2000), chapters 9 (repeated confidence
intervals) and 10; Lan and DeMets, Biometrika 70 (1983), 659-663 (looks that were not planned).
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from ragwort.base.lazily import special
from ragwort.designs.design import Design
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.looks.course import Course, bounds_refused
from ragwort.designs.looks.plan import LookedPlan
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.solve import Answer
from ragwort.stats.sequential.looks import Looks
from ragwort.stats.sequential.spending import Spending
from ragwort.stats.statistic import Sides, upper_tail

USUAL = Spending("obrien-fleming")  # of a study that planned no looks, were it to look now
_ENDS = 1e-9


def conditional_power(z: float, t: float, drift: float, bound: float, sides: Sides) -> float:
    """The chance to be beyond the final bound, given the statistic at a share `t` of the information, under a drift.

    Signs as the statistic has them; of a two-sided test beyond either bound.
    """
    if sides == "less":
        return conditional_power(-z, t, -drift, bound, "greater")
    left = math.sqrt(1 - t)
    ahead = z * math.sqrt(t) + drift * (1 - t)
    found = float(special.ndtr((ahead - bound) / left))
    return found + float(special.ndtr((-ahead - bound) / left)) if sides == "two" else found


def predictive_power(z: float, t: float, bound: float, sides: Sides) -> float:
    """The same, averaged over what the statistic says of the drift (flat prior)."""
    if sides == "less":
        return predictive_power(-z, t, bound, "greater")
    left = math.sqrt(1 - t)
    found = float(special.ndtr((z - bound * math.sqrt(t)) / left))
    return found + float(special.ndtr((-z - bound * math.sqrt(t)) / left)) if sides == "two" else found


@dataclass(frozen=True)
class Underway:
    """What can be said of a study that has come so far."""

    fraction: float  # of the information
    planned: bool  # whether a look was planned at about now
    z: float | None  # seen
    spent: float  # of alpha up to now, both sides
    bound: float | None  # now; None where nothing may be spent yet
    p: float | None  # nominal, now
    futility: float | None
    final_bound: float
    crossed: bool
    gave_up: bool
    as_planned: float | None  # conditional power with the planned effect
    trend: float | None
    none: float | None
    predictive: float | None
    interval: tuple[float, float] | None  # repeated, as the effect is reported


def underway(
    answer: Answer, now: float, before: tuple[float, ...] = (), z: float | None = None, error: float | None = None
) -> Underway:
    """What a study that has reached a share of its information may conclude.

    `before` are the shares at which it looked already; `error` is the standard error of the estimate where it is known
    better than from the plan. Raises `RequestError` for shares that do not rise up to at most 1.
    """
    _check(now, before)
    plan, looks = _plan_of(answer), _looks_of(answer)
    course = Course(plan, looks, answer.sizes())
    here = _looks_now(looks, (*before, now))
    with bounds_refused():
        bounds = here.bounds(course.drift) if math.isfinite(course.drift) else here.plain
    at = len(before)
    bound = bounds.efficacy[at] if math.isfinite(bounds.efficacy[at]) else None
    last = now >= 1 - _ENDS
    futility = None if last or not bounds.futility else _finite(bounds.futility[at])
    sides = 2 if looks.two_sided else 1
    toward = None if z is None else -z if plan.sides == "less" else abs(z) if looks.two_sided else z
    found = Underway(
        fraction=now,
        planned=any(abs(t - now) < 0.01 for t in looks.fractions) and len(looks.fractions) > 1,
        z=z,
        spent=float(here.spent[at]) * sides,
        bound=bound,
        p=None if bound is None else sides * float(special.ndtr(-bound)),
        futility=futility,
        final_bound=bounds.efficacy[-1],
        crossed=toward is not None and bound is not None and toward >= bound,
        gave_up=toward is not None and futility is not None and toward <= futility,
        as_planned=None,
        trend=None,
        none=None,
        predictive=None,
        interval=None if z is None or bound is None else _interval(course, z, now, bound, error),
    )
    return found if z is None or last else _with_chances(found, course, plan.sides, z)


def _with_chances(found: Underway, course: Course, sides: Sides, z: float) -> Underway:
    t, bound = found.fraction, found.final_bound
    drift = -course.drift if sides == "less" else course.drift
    drift = math.copysign(drift, float(course.plan.effect)) if course.looks.two_sided else drift
    chances = [conditional_power(z, t, each, bound, sides) for each in (drift, z / math.sqrt(t), 0.0)]
    return replace(
        found,
        as_planned=chances[0],
        trend=chances[1],
        none=chances[2],
        predictive=predictive_power(z, t, bound, sides),
    )


def _check(now: float, before: tuple[float, ...]) -> None:
    if not 0 < now <= 1 + _ENDS:
        raise RequestError("now", f"There can be up to all of the information, not {plain_number(100 * now)}% of it.")
    shares = (*before, now)
    for earlier, later in zip((0.0, *shares), shares, strict=False):
        if later <= earlier:
            raise RequestError(
                "now",
                f"There are {plain_number(round(100 * later, 2))}% of the information now, but there were "
                f"{plain_number(round(100 * earlier, 2))}% at the look before: there must be more.",
            )


def _plan_of(answer: Answer) -> StatisticPlan:
    """With one analysis at the end. Raises `RequestError` where there is no one statistic."""
    plan = answer.plan.without_looks if isinstance(answer.plan, LookedPlan) else answer.plan
    if not isinstance(plan, StatisticPlan):
        raise RequestError("now", "How far along a study is can be said of tests of one effect by one statistic.")
    return plan


def _looks_of(answer: Answer) -> Looks:
    """As planned; of a study without looks the one at its end."""
    plan = answer.plan
    if isinstance(plan, LookedPlan) and plan.looks is not None:
        return plan.course
    return Looks((1.0,), float(upper_tail(plan.alpha, plan.sides)), plan.sides == "two", USUAL)


def _looks_now(looks: Looks, shares: tuple[float, ...]) -> Looks:
    """Looks where they were and are, and at the end: what is due by then is spent, planned or not."""
    fractions = tuple(min(each, 1.0) for each in shares)
    fractions = fractions if fractions[-1] >= 1 - _ENDS else (*fractions, 1.0)
    return looks.moved((*fractions[:-1], 1.0))


def _interval(course: Course, z: float, t: float, bound: float, error: float | None) -> tuple[float, float] | None:
    """Repeated: it holds the truth at all looks together as often as alpha says."""
    if error is not None:
        low, high = error * (z - bound), error * (z + bound)
        return low, high
    ends = course.effect_at(z - bound, t), course.effect_at(z + bound, t)
    return None if ends[0] is None or ends[1] is None else (min(ends[0], ends[1]), max(ends[0], ends[1]))


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


# --- sizes found again, without unblinding ---


def reestimated(
    design: Design, values: Mapping[str, Any], seen: float, of: int, adjusted: bool, beside: float | None = None
) -> dict[str, Any]:
    """The values of a request for n with what was seen in place of what was assumed. Raises `RequestError`."""
    assert design.blinded is not None, "only where something can be learnt"
    sizes = {name for way in design.sizes for name in way.names}
    found = design.blinded.values(values, seen, of, adjusted)
    if beside is not None and design.blinded.beside:
        found[design.blinded.beside] = beside
    return {name: value for name, value in {**values, **found}.items() if name not in sizes and value is not None}
