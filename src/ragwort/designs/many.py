"""Power of one design over many values of its assumptions at once.

Plans that differ in numbers only are stacked to one plan whose fields are arrays, where their kind allows it: one call
of its power then stands for as many. The rest are asked one by one. Both ways give the same powers.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import fields, is_dataclass, replace
from typing import TYPE_CHECKING, Any, TypeVar

from ragwort.designs.design import Design
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError
from ragwort.designs.sizes import Sizes
from ragwort.stats import patience
from ragwort.stats.lazily import np

if TYPE_CHECKING:
    from numpy.typing import NDArray

Part = TypeVar("Part")
Changes = Mapping[str, float]


def plan_with(design: Design, values: Mapping[str, Any], changes: Changes) -> tuple[Plan, dict[str, Any]] | None:
    """The plan whose power is asked for, with some values changed, and its values; None where they cannot be had."""
    try:
        checked = {name: design.assumption(name).check(value) for name, value in changes.items()}
        changed = {**values, **checked}
        return design.plan(changed, "power"), changed
    except RequestError:
        return None


def powers(design: Design, values: Mapping[str, Any], many: Sequence[Changes]) -> NDArray[np.float64]:
    """Power under `values`, sizes among them, with each of `many` changes; NaN where they cannot be had."""
    found = np.full(len(many), np.nan)
    alike: dict[tuple[Any, ...], list[tuple[int, Plan, Sizes]]] = {}
    known: dict[Any, Sizes] = {}
    for at, changes in enumerate(many):
        made = plan_with(design, values, changes)
        sizes = None if made is None else _sizes(design, made[1], made[0], known)
        if made is not None and sizes is not None:
            alike.setdefault(_kind(made[0], sizes), []).append((at, made[0], sizes))
    for group in alike.values():
        places, plans, each = zip(*group, strict=True)
        with np.errstate(all="ignore"):
            found[list(places)] = _powers(plans, np.concatenate(each, axis=1))
    return found


def powers_at(
    design: Design, values: Mapping[str, Any], many: Sequence[Changes]
) -> Callable[[int], NDArray[np.float64]]:
    """The powers with each of `many` changes as a function of the step of the counting, instead of the given size.

    Changes that cannot be had have power 0.
    """
    alike: dict[tuple[Any, ...], list[tuple[int, Plan]]] = {}
    for at, changes in enumerate(many):
        made = plan_with(design, values, changes)
        if made is not None:
            alike.setdefault((*_kind(made[0], ()), made[0].counting), []).append((at, made[0]))
    stacks = [([at for at, _ in group], stacked([plan for _, plan in group])) for group in alike.values()]

    def at_step(step: int) -> NDArray[np.float64]:
        found = np.zeros(len(many))
        for places, plan in stacks:
            patience.check()
            ways = plan.counting.ways(np.array([step]))
            with np.errstate(all="ignore"):
                found[places] = np.max([plan.power(np.repeat(way, len(places), axis=1)) for way in ways], axis=0)
        return found

    return at_step


def _kind(plan: Plan, sizes: Sizes | tuple[()]) -> tuple[Any, ...]:
    """Plans for which this is equal can be stacked."""
    single = [getattr(plan, name) for name in plan.single] if isinstance(plan, StatisticPlan) else []
    return type(plan), len(sizes), *single


def _sizes(design: Design, values: Mapping[str, Any], plan: Plan, known: dict[Any, Sizes]) -> Sizes | None:
    """The sizes that are given; those `known` already need not be worked out again."""
    given = tuple(values.get(name) for way in design.sizes for name in way.names)
    key = (plan.counting, given) if plan.counting.settles_sizes else None
    if key is not None and key in known:
        return known[key]
    try:
        ways = design.given_sizes(values, plan)
    except RequestError:
        return None
    if len(ways) > 1:
        return plan.better(ways)
    if key is not None:
        known[key] = ways[0]
    return ways[0]


def _powers(plans: Sequence[Plan], sizes: Sizes) -> NDArray[np.float64]:
    """Power of each plan at its own sizes (groups x plans)."""
    if isinstance(plans[0], StatisticPlan):
        return np.broadcast_to(stacked(plans).power(sizes), (len(plans),))
    found = []
    for at, plan in enumerate(plans):
        patience.report(at / len(plans))
        found.append(float(plan.power(sizes[:, [at]])[0]))
    return np.array(found)


def stacked(parts: Sequence[Part]) -> Part:
    """Equal pieces as they are; numbers that differ as an array; pieces of pieces likewise. Raises `TypeError`."""
    first = parts[0]
    if all(part is first or part == first for part in parts):
        return first
    if is_dataclass(first) and not isinstance(first, type):
        columns = {f.name: stacked([getattr(part, f.name) for part in parts]) for f in fields(first)}
        return replace(first, **columns)
    if all(isinstance(part, int | float) for part in parts):
        return np.array(parts, dtype=float)  # type: ignore[return-value]
    raise TypeError(f"{type(first).__name__} cannot be stacked")


def along(
    design: Design, values: Mapping[str, Any], name: str, at: Sequence[float], steps: Callable[[Plan], Any]
) -> NDArray[np.float64]:
    """Power at each value of an assumption (rows) and each step of the plan's counting, as `steps` has them for it.

    NaN where a value cannot be had.
    """
    rows: list[Any] = []
    for done, value in enumerate(at):
        patience.report(done / len(at))
        made = plan_with(design, values, {name: value})
        with np.errstate(all="ignore"):
            rows.append(None if made is None else made[0].power_along(steps(made[0])))
    width = next((len(row) for row in rows if row is not None), 1)
    return np.array([np.full(width, np.nan) if row is None else row for row in rows])
