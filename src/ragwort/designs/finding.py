"""What a design finds for many rows of values at once: sample sizes, effects, alphas, powers.

Rows whose plans can be one (`many.at_once`) are searched side by side; the rest, and those that have no answer, are
asked for one by one, so that each says what `settle` says.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from ragwort.base import patience
from ragwort.base.lazily import np
from ragwort.designs.design import Design
from ragwort.designs.kinds import CountsPlan, StatisticPlan, UnequalVariancesPlan
from ragwort.designs.looks import LookedPlan
from ragwort.designs.many import Columns, all_allowed, at_once, better, count_of, taken
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError
from ragwort.designs.request import settle, values_in_force
from ragwort.designs.sizes import SLACK, Sizes, rounded_up, whole_total
from ragwort.designs.solve import Answer
from ragwort.stats.search import many as search_many

if TYPE_CHECKING:
    from numpy.typing import NDArray

Outcome = Answer | RequestError
STANDARD = ("d", "h", "f", "f_squared", "w")  # effects without a unit, as answers report them


@dataclass(frozen=True)
class _Rows:
    """Rows that are searched together."""

    design: Design
    find: str
    values: Mapping[str, Any]  # in force, those of the columns apart
    plan: StatisticPlan
    rows: NDArray[np.int64]
    sizes: Sizes  # that are given: groups x 1, or x rows; of no groups where they are found

    def plans(self, which: NDArray[Any]) -> StatisticPlan:
        """The plans of some of the rows."""
        return self.plan if len(which) == len(self.rows) else taken(self.plan, which, len(self.rows))

    def column(self, value: Any) -> NDArray[np.float64]:
        """A number of the plan, one for each row."""
        return np.broadcast_to(np.asarray(value, dtype=float), self.rows.shape)

    def some(self, which: NDArray[np.int64]) -> _Rows:
        """Some of the rows."""
        return replace(self, plan=self.plans(which), rows=self.rows[which], sizes=self.sizes_of(which))

    def sizes_of(self, which: NDArray[np.int64]) -> Sizes:
        """The sizes given for some of the rows."""
        return self.sizes if self.sizes.shape[1] == 1 else self.sizes[:, which]


@dataclass(frozen=True)
class _Part:
    """What was found for rows that were searched together, with the unknown in their plans."""

    of: _Rows
    answer: NDArray[np.float64]
    sizes: Sizes  # groups x rows
    power: NDArray[np.float64]

    def outcome(self, at: int) -> Answer:
        """What was found for one of the rows; its effect, details and notes are left to `settle`."""
        of, sizes = self.of, self.sizes[:, at].tolist()
        plan, at_size = taken(of.plan, np.array(at), len(of.rows)), self.sizes[:, [at]]
        groups = tuple(rounded_up(size) for size in sizes)
        return Answer(
            design=of.design.id,
            find=of.find,
            answer=whole_total(sizes) if of.find == "n" else float(self.answer[at]),
            groups=groups,
            power=float(self.power[at]),
            plan=plan,
            effect={},
            details={},
            planned=() if all(size == group for size, group in zip(sizes, groups, strict=True)) else tuple(sizes),
            enrol=() if of.plan.counted else of.design.enrolment(of.values).people(groups, plan.clusters_at(at_size)),
        )


@dataclass(frozen=True)
class Findings:
    """What was found for each row."""

    answer: NDArray[np.float64]  # of a sample size the total; NaN where there is none
    power: NDArray[np.float64]
    total: NDArray[np.float64]  # analysed
    groups: NDArray[np.float64]  # rows x groups, of as many as the row with the most has
    standard: NDArray[np.float64]  # the effect without a unit; NaN where the design has none
    measure: str  # which of `STANDARD` that is
    events: NDArray[np.float64]  # that people are expected to have; NaN where nothing happens to them
    half_width: NDArray[np.float64]  # of the expected confidence interval; NaN where there is none
    _part: _Part | None
    _alone: Mapping[int, Outcome]
    _places: Mapping[int, int]  # of the rows that were searched together

    def outcome(self, row: int) -> Outcome:
        """The answer of a row, or why there is none; `Answer.effect`, `details` and `notes` may be left empty."""
        if row in self._alone:
            return self._alone[row]
        assert self._part is not None
        return self._part.outcome(self._places[row])


def find_many(design: Design, find: str, values: Mapping[str, Any], columns: Columns) -> Findings:
    """What `settle` finds under `values` with each row of `columns`."""
    count = count_of(columns)
    rows = _together(design, find, values, columns)
    with np.errstate(all="ignore"):
        part = None if rows is None else _FINDERS[find](rows)
    missing = np.ones(count, dtype=bool)
    if part is not None:
        missing[part.of.rows] = False
    alone: dict[int, Outcome] = {}
    for done, row in enumerate(np.flatnonzero(missing).tolist()):
        patience.report(done / count)
        alone[row] = _alone(design, find, values, {name: float(column[row]) for name, column in columns.items()})
    return _gathered(count, part, alone)


def _gathered(count: int, part: _Part | None, alone: Mapping[int, Outcome]) -> Findings:
    answer, power, total, standard, events, half_width = (np.full(count, np.nan) for _ in range(6))
    answers = {row: outcome for row, outcome in alone.items() if isinstance(outcome, Answer)}
    most = max([len(outcome.groups) for outcome in answers.values()] + ([len(part.sizes)] if part is not None else [1]))
    groups, measure = np.full((count, most), np.nan), ""
    for row, outcome in answers.items():
        answer[row], power[row], total[row] = float(outcome.answer), outcome.power, outcome.total
        groups[row, : len(outcome.groups)] = outcome.groups
        measure = _measure(outcome.effect)
        standard[row] = outcome.effect.get(measure, np.nan)
        events[[row]] = _events(outcome.plan, outcome.sizes())
        half_width[[row]] = _half_width(outcome.plan, outcome.sizes())
    if part is not None:
        rows = part.of.rows
        groups[rows, : len(part.sizes)] = np.ceil(part.sizes - SLACK).T
        total[rows] = np.ceil(part.sizes.sum(axis=0) - SLACK)
        answer[rows], power[rows] = (total[rows] if part.of.find == "n" else part.answer), part.power
        effect = part.of.plan.effect_report()
        measure = _measure(effect)
        standard[rows] = part.of.column(effect.get(measure, np.nan))
        events[rows] = _events(part.of.plan, part.sizes)
        half_width[rows] = _half_width(part.of.plan, part.sizes)
    places = {} if part is None else {row: at for at, row in enumerate(part.of.rows.tolist())}
    return Findings(answer, power, total, groups, standard, measure, events, half_width, part, alone, places)


def _events(plan: Plan, sizes: Sizes) -> NDArray[np.float64] | float:
    expected = plan.events_expected(sizes)
    return np.nan if expected is None else np.ravel(expected)


def _half_width(plan: Plan, sizes: Sizes) -> NDArray[np.float64] | float:
    """Of limits that are about equally far from what is estimated."""
    with np.errstate(all="ignore"):
        expected = plan.interval(sizes)
    return np.nan if expected is None or expected.scale == "ratio" else np.ravel(expected.half_width)


def _measure(effect: Mapping[str, Any]) -> str:
    return next((name for name in STANDARD if name in effect), "")


def _alone(design: Design, find: str, values: Mapping[str, Any], row: Mapping[str, float]) -> Outcome:
    try:
        return settle(design, find, {**values, **row})
    except RequestError as error:
        return error


def _together(design: Design, find: str, values: Mapping[str, Any], columns: Columns) -> _Rows | None:
    """The rows that can be searched side by side; None where there are none."""
    sizes = {name: column for name, column in columns.items() if name in _size_names(design)}
    if not design.tested or find not in _FINDERS or not (design.elementwise | set(sizes)).issuperset(columns):
        return None
    there = all_allowed(design, columns)
    if not there.any():
        return None
    first = {name: float(column[there][0]) for name, column in columns.items()}
    try:
        force, _ = values_in_force(design, find, {**values, **first})
    except RequestError:
        return None
    if any(name not in force for name in columns):
        return None  # has no say, which each row's notes say
    power, alpha = (np.broadcast_to(columns.get(name, force[name]), there.shape) for name in ("power", "alpha"))
    rows = np.flatnonzero(there & ((power > alpha) | (find in ("power", "alpha"))))
    numbers = {name: column[rows] for name, column in columns.items() if name not in sizes}
    plan = at_once(design, force, numbers, _asked(find))
    if plan is None or isinstance(plan, CountsPlan | UnequalVariancesPlan) or not plan.counting.settles_sizes:
        return None
    if isinstance(plan, LookedPlan) and plan.drawn_from_table:
        return None
    if find == "effect" and any(plan.nearest(up) != 0 for up in (True, False)):
        return None  # not searched from none on
    together = _Rows(design, find, force, plan, rows, np.zeros((0, 1)))
    return together if find == "n" else _with_sizes(together, {name: column[rows] for name, column in sizes.items()})


def _size_names(design: Design) -> frozenset[str]:
    return frozenset(name for way in design.sizes for name in way.names)


def _with_sizes(rows: _Rows, columns: Columns) -> _Rows | None:
    """The rows whose sizes can be had, with them; None where which of several splits is the better one may differ."""
    if not columns:
        try:
            ways = rows.design.given_sizes(rows.values, rows.plan)
        except RequestError:
            return None
        alike = len(ways) == 1 or rows.find == "power"
        return replace(rows, sizes=better(rows.plan, ways)) if alike else None
    kept, found = [], []
    for at, sized in enumerate(_each_row(columns)):
        try:
            ways = rows.design.given_sizes({**rows.values, **sized}, rows.plan)
        except RequestError:
            continue  # said by `settle`, for this row alone
        if len(ways) > 1:
            return None
        kept.append(at)
        found.append(ways[0])
    return replace(rows.some(np.array(kept)), sizes=np.concatenate(found, axis=1)) if kept else None


def _each_row(columns: Columns) -> Iterator[dict[str, int]]:
    for sizes in zip(*columns.values(), strict=True):
        yield {name: int(size) for name, size in zip(columns, sizes, strict=True)}


def _asked(find: str) -> str:
    """For what the plans are built: some refuse a lack of effect where a size is found, which here is seen later."""
    return "effect" if find == "effect" else "power"


def _pointing(rows: _Rows) -> _Rows:
    """Those of the rows whose effect is one that the test looks for."""
    effect = rows.column(rows.plan.effect)
    looked_for = {"two": effect != 0, "greater": effect > 0, "less": effect < 0}
    return rows.some(np.flatnonzero(looked_for[rows.plan.sides]))


def _sizes(every: _Rows) -> _Part:
    rows = _pointing(every)
    plan, counting = rows.plan, rows.plan.counting

    def power(some: NDArray[np.int64], steps: NDArray[np.float64]) -> NDArray[np.float64]:
        plans = rows.plans(some)
        return np.asarray(np.max([plans.power(way) for way in counting.ways(steps.astype(np.int64))], axis=0))

    target, floor = rows.column(plan.target), rows.column(plan.alpha)
    steps, powers = search_many.first_steps(power, target, counting.lowest, plan.last_step, floor)
    reached = np.flatnonzero(steps != search_many.NONE)
    found = rows.some(reached)
    return _Part(found, powers[reached], better(found.plan, counting.ways(steps[reached])), powers[reached])


def _powers(rows: _Rows) -> _Part:
    power = rows.column(rows.plan.power(rows.sizes))
    return _Part(rows, power, _each(rows), power)


def _effects(rows: _Rows) -> _Part:
    plan = rows.plan
    up = rows.values["direction"] == "up" if plan.sides == "two" else plan.sides == "greater"
    limit = rows.column(plan.furthest(up))
    scale = np.minimum(rows.column(plan.effect_scale), np.abs(limit))

    def power(some: NDArray[np.int64], effects: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.broadcast_to(rows.plans(some).replace(effect=effects).power(rows.sizes_of(some)), effects.shape)

    effects = search_many.nearest_roots(power, rows.column(plan.target), scale if up else -scale, limit)
    known = np.flatnonzero(np.isfinite(effects))
    found = rows.some(known)
    found = replace(found, plan=found.plan.replace(effect=effects[known]))
    answer = found.column(next(iter(found.plan.effect_report().values())))
    return _Part(found, answer, _each(found), power(known, effects[known]))


def _alphas(every: _Rows) -> _Part:
    rows = _pointing(every)

    def power(some: NDArray[np.int64], alphas: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.broadcast_to(rows.plans(some).replace(alpha=alphas).power(rows.sizes_of(some)), alphas.shape)

    target = rows.column(rows.plan.target)
    alphas = search_many.least_alphas(power, target)
    known = np.flatnonzero((alphas > 0) & (alphas < target))
    found = rows.some(known)
    found = replace(found, plan=found.plan.replace(alpha=alphas[known]))
    return _Part(found, alphas[known], _each(found), power(known, alphas[known]))


def _each(rows: _Rows) -> Sizes:
    return np.broadcast_to(rows.sizes, (len(rows.sizes), len(rows.rows)))


_FINDERS: Mapping[str, Callable[[_Rows], _Part]] = {
    "n": _sizes,
    "power": _powers,
    "effect": _effects,
    "alpha": _alphas,
}
