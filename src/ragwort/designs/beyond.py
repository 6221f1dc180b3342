"""What is found at the end of what is possible gives more power than was asked for: one rule for all designs."""

from __future__ import annotations

from ragwort.designs.design import Design
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import plain_percent
from ragwort.designs.sizes import Sizes

_MORE = 1e-6  # power over the target that is more than rounding
_LESS = 1 - 1e-9  # of an alpha: just below it


def beyond_asked(design: Design, find: str, plan: Plan, sizes: Sizes, power: float) -> list[str]:
    """Says so where even the last value that can be had passes the power asked for."""
    if find == "power" or power <= plan.target + _MORE:
        return []
    if find == "alpha":
        return [_of_alpha(plan, sizes, power)]
    end = _end(design, find, plan, sizes)
    return [_even(end, power)] if end else []


def _end(design: Design, find: str, plan: Plan, sizes: Sizes) -> str:
    """The end of what is possible, in words, if what was found stands there."""
    if find == "effect":
        at_end = bool(plan.effect) and plan.effect == plan.nearest(plan.effect > 0)
        return "the effect nearest to none available beside the other values" if at_end else ""
    if find == "n":
        counting = plan.counting
        smallest = counting.step_near(counting.in_all(sizes[:, 0])) <= counting.lowest
        return "the smallest sample that this test can be done with" if smallest else ""
    return design.further[find].end(plan)


def _of_alpha(plan: Plan, sizes: Sizes, power: float) -> str:
    """Tests that reject at steps have power in steps: the first of them is an end, another is not."""
    below = float(plan.replace(alpha=plan.alpha * _LESS).power(sizes)[0])
    if not below > 0:
        return _even("the smallest alpha at which this test can reject", power)
    return f"Power rises in steps with alpha: just below this alpha it is {plain_percent(below)}."


def _even(end: str, power: float) -> str:
    return f"Even {end} gives more than the power asked for: {plain_percent(power)}."
