"""One design over many values of its assumptions at once: power, and what is found.

What differs comes in columns: for each name an array, one value for each plan. Where the design takes arrays for those
numbers (`Design.elementwise`), all plans are built in one go, as one whose fields are arrays; a call of its power then
stands for as many. Else plans are built one by one and, where they differ in numbers only, stacked to such a plan. What
cannot be stacked is asked for one by one. All ways give the same powers.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import TYPE_CHECKING, Any, TypeVar

from ragwort.base import patience
from ragwort.base.lazily import np
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import Design
from ragwort.designs.kinds import CountsPlan, StatisticPlan
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError
from ragwort.designs.sizes import TIE, Sizes

if TYPE_CHECKING:
    from numpy.typing import NDArray

Part = TypeVar("Part")
AT_A_TIME = 500  # powers in one call: where each takes long, who waits is asked in between whether to go on
Columns = Mapping[str, "NDArray[np.float64]"]


@dataclass(frozen=True)
class Stack:
    """Plans as one whose fields are arrays, and which of the rows it stands for."""

    rows: NDArray[np.int64]
    plan: Plan
    sizes: Sizes | None = None  # given for each of them (groups x 1, or x rows)

    def power(self, sizes: Sizes) -> NDArray[np.float64]:
        """The power of each at its own sizes (groups x 1, or x rows)."""
        if isinstance(self.plan, CountsPlan):  # its sums take sizes and shares of one shape
            sizes = np.broadcast_to(sizes, (len(sizes), self.rows.size))
        if self.rows.size > AT_A_TIME:
            return np.concatenate([self._power_of(which, sizes) for which in _blocks(self.rows.size, AT_A_TIME)])
        with np.errstate(all="ignore"):
            return np.broadcast_to(self.plan.power(sizes), self.rows.shape)

    def _power_of(self, which: NDArray[np.int64], sizes: Sizes) -> NDArray[np.float64]:
        patience.report(float(which[0] / self.rows.size))
        patience.check()
        return self.some(which).power(sizes if sizes.shape[1] == 1 else sizes[:, which])

    def power_at(self, step: int) -> NDArray[np.float64]:
        """The power of each at a step of their counting, split the better way."""
        ways = self.plan.counting.ways(np.array([step]))
        return np.asarray(np.max([self.power(way) for way in ways], axis=0))

    def some(self, which: NDArray[Any]) -> Stack:
        """Some of the plans."""
        return Stack(self.rows[which], taken(self.plan, which, len(self.rows)))


def plan_with(
    design: Design, values: Mapping[str, Any], changes: Mapping[str, Any]
) -> tuple[Plan, dict[str, Any]] | None:
    """The plan whose power is asked for, with some values changed, and its values; None where they cannot be had."""
    try:
        checked = {name: design.assumption(name).check(value) for name, value in changes.items()}
        changed = {**values, **checked}
        return design.plan(changed, "power"), changed
    except RequestError:
        return None


def powers(design: Design, values: Mapping[str, Any], columns: Columns) -> NDArray[np.float64]:
    """Power under `values`, sizes among them, with each row of `columns`; NaN where it cannot be had."""
    found = np.full(count_of(columns), np.nan)
    for stack in stacks(design, values, columns, sized=True):
        assert stack.sizes is not None
        patience.check()
        found[stack.rows] = stack.power(stack.sizes)
    return found


def stacks(design: Design, values: Mapping[str, Any], columns: Columns, sized: bool = False) -> list[Stack]:
    """The plans with each row of `columns`, as few as hold them; rows that cannot be had are in none.

    With `sized`, each has its sizes as they are given.
    """
    rows = np.flatnonzero(all_allowed(design, columns))
    plan = at_once(design, values, {name: column[rows] for name, column in columns.items()})
    if plan is None:
        return _one_by_one(design, values, columns, rows, sized)
    sizes = given(design, values, plan) if sized else None
    return [] if sized and sizes is None else [Stack(rows, plan, sizes)]


def allowed(assumption: Assumption, column: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which values an assumption can have: what `Assumption.check` says of each."""
    low = column > assumption.low if assumption.open_low else column >= assumption.low
    high = column < assumption.high if assumption.open_high else column <= assumption.high
    whole = column == np.round(column) if assumption.kind == "count" or assumption.whole else np.isfinite(column)
    return np.asarray(low & high & np.isfinite(column) & whole)


def all_allowed(design: Design, columns: Columns) -> NDArray[np.bool_]:
    """The rows in which every assumption can have its value."""
    return np.asarray(np.all([allowed(design.assumption(name), each) for name, each in columns.items()], axis=0))


def at_once(design: Design, values: Mapping[str, Any], columns: Columns, find: str = "power") -> StatisticPlan | None:
    """All plans as one; None where the design does not take arrays for these, or they contradict the other values."""
    if not design.elementwise.issuperset(columns):
        return None
    try:
        plan = design.plan({**values, **columns}, find)
    except RequestError:
        return None  # of some: one by one it is seen of which
    if not isinstance(plan, StatisticPlan) or any(np.ndim(getattr(plan, name)) for name in plan.single):
        return None
    return plan


def given(design: Design, values: Mapping[str, Any], plan: Plan) -> Sizes | None:
    try:
        ways = design.given_sizes(values, plan)
    except RequestError:
        return None
    return better(plan, ways)


def better(plan: Plan, ways: Sequence[Sizes]) -> Sizes:
    """Of several ways to split totals (each groups x 1, or x plans), for each plan the one with the larger power."""
    if len(ways) == 1:
        return ways[0]
    with np.errstate(all="ignore"):
        power = np.stack(np.broadcast_arrays(*(plan.power(way) for way in ways)))
    best, sizes = ways[0] + 0 * power[0], power[0]
    for way, reached in zip(ways[1:], power[1:], strict=True):
        best, sizes = np.where(reached > sizes + TIE, way, best), np.maximum(reached, sizes)
    return np.asarray(best)


def _one_by_one(
    design: Design, values: Mapping[str, Any], columns: Columns, rows: NDArray[np.int64], sized: bool
) -> list[Stack]:
    alike: dict[tuple[Any, ...], list[tuple[int, Plan, Sizes | None]]] = {}
    known: dict[Any, Sizes] = {}
    for row, changes in _changes(columns, rows):
        made = plan_with(design, values, changes)
        sizes = None if made is None or not sized else _own_sizes(design, made[1], made[0], known)
        if made is not None and (sizes is not None or not sized):
            alike.setdefault(_kind(made[0], sizes, row), []).append((row, made[0], sizes))
    return [_stack(group) for group in alike.values()]


def _changes(columns: Columns, rows: NDArray[np.int64]) -> Iterator[tuple[int, dict[str, float]]]:
    for done, row in enumerate(rows.tolist()):
        patience.report(done / len(rows))
        yield row, {name: float(column[row]) for name, column in columns.items()}


def _kind(plan: Plan, sizes: Sizes | None, row: int) -> tuple[Any, ...]:
    """Plans for which this is equal can be stacked."""
    if not isinstance(plan, StatisticPlan):
        return type(plan), row
    return (
        type(plan),
        len(sizes) if sizes is not None else plan.counting,
        *(getattr(plan, name) for name in plan.single),
    )


def _stack(group: Sequence[tuple[int, Plan, Sizes | None]]) -> Stack:
    rows, plans, sizes = zip(*group, strict=True)
    known = [each for each in sizes if each is not None]
    return Stack(np.array(rows), stacked(plans), np.concatenate(known, axis=1) if known else None)


def _own_sizes(design: Design, values: Mapping[str, Any], plan: Plan, known: dict[Any, Sizes]) -> Sizes | None:
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


def taken(part: Part, which: NDArray[Any], count: int) -> Part:
    """Some of the `count` pieces that were stacked."""
    if is_dataclass(part) and not isinstance(part, type):
        return replace(part, **{f.name: taken(getattr(part, f.name), which, count) for f in fields(part)})
    if isinstance(part, tuple):
        return tuple(taken(each, which, count) for each in part)  # type: ignore[return-value]
    return part[which] if isinstance(part, np.ndarray) and part.shape[:1] == (count,) else part


def along(
    design: Design, values: Mapping[str, Any], name: str, at: NDArray[np.float64], steps: Callable[[Plan], Any]
) -> NDArray[np.float64]:
    """Power at each value of an assumption (rows) and each step of the plan's counting, as `steps` has them for it.

    NaN where a value cannot be had.
    """
    there = np.flatnonzero(allowed(design.assumption(name), at))
    plan = at_once(design, values, {name: at[there][:, None]})
    if plan is None or isinstance(plan, CountsPlan):
        return _along_one_by_one(design, values, name, at, steps)
    each = steps(plan)
    found = np.full((len(at), len(each)), np.nan)
    for block in _blocks(len(there), max(AT_A_TIME // len(each), 1)):
        patience.report(block[0] / len(there))
        some = taken(plan, block, len(there))
        with np.errstate(all="ignore"):
            found[there[block]] = some.power_along(each)
    return found


def _blocks(count: int, most: int) -> Iterator[NDArray[np.int64]]:
    """Numbers from 0 on, so many at a time."""
    for start in range(0, count, most):
        yield np.arange(start, min(start + most, count))


def _along_one_by_one(
    design: Design, values: Mapping[str, Any], name: str, at: NDArray[np.float64], steps: Callable[[Plan], Any]
) -> NDArray[np.float64]:
    rows: list[Any] = [None] * len(at)
    for row, changes in _changes({name: at}, np.arange(len(at))):
        made = plan_with(design, values, changes)
        with np.errstate(all="ignore"):
            rows[row] = None if made is None else made[0].power_along(steps(made[0]))
    width = next((len(row) for row in rows if row is not None), 1)
    return np.array([np.full(width, np.nan) if row is None else row for row in rows])


def count_of(columns: Columns) -> int:
    return len(next(iter(columns.values())))
