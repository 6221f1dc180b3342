"""A grid worked out: row by row what is found, in blocks, so that the first are there soon and it can be stopped."""

from __future__ import annotations

import time
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ragwort.base import patience
from ragwort.designs.finding import Findings, find_many
from ragwort.designs.refusals import RequestError
from ragwort.designs.sizes import SLACK
from ragwort.designs.solve import Answer
from ragwort.grid.combinations import Asked, decoded
from ragwort.grid.cores import in_order, pays, seconds_of
from ragwort.study.results.whatif import NUMERIC

FIRST = 10  # rows: there at once
TAKES = 0.2  # seconds that a block takes, as far as that can be foreseen
MOST = 5_000  # rows of a block
_AHEAD = "dropout"  # has no say in what is found, only in how many are enrolled


@dataclass(frozen=True)
class Results:
    """What was found, row by row; NaN where nothing was. Rows from `done` on are filled in while work goes on."""

    asked: Asked
    answer: NDArray[np.float64]  # of a sample size the total
    power: NDArray[np.float64]
    total: NDArray[np.float64]  # analysed
    standard: NDArray[np.float64]  # the effect without a unit
    groups: NDArray[np.float64]  # rows x groups: the same group by group
    enrolled: NDArray[np.float64]  # rows x groups: to enrol, group by group
    enrol: NDArray[np.float64]  # in all
    reasons: dict[int, str]  # why a row has no answer
    measure: str  # what `standard` is: d, h, f …
    events: NDArray[np.float64]  # that people are expected to have
    half_width: NDArray[np.float64]  # of the expected confidence interval
    done: int  # rows that are worked out, from the first on

    def can_be_taken(self, row: int) -> bool:
        """Whether a row can be put in force for the aim: it has an answer, and is of its design."""
        return row not in self.reasons and self.asked.is_of_aim(row)

    @property
    def complete(self) -> bool:
        """Whether every row is worked out."""
        return self.done == self.asked.count


def nothing_yet(asked: Asked) -> Results:
    """The grid before anything is worked out."""
    answer, power, total, standard, enrol, events, half_width = (np.full(asked.count, np.nan) for _ in range(7))
    groups, enrolled = (np.full((asked.count, 1), np.nan) for _ in range(2))
    faults = dict(asked.faults)
    return Results(asked, answer, power, total, standard, groups, enrolled, enrol, faults, "", events, half_width, 0)


def worked_out(asked: Asked, after: Results | None = None) -> Iterator[Results]:
    """The grid again and again, with more rows each time, going on where `after` ended; the last is complete.

    Rows are reported to whoever listens (`patience`), which may stop it between two blocks. What takes long is worked
    out by all processors.
    """
    made, size = after or nothing_yet(asked), FIRST
    while not made.complete:
        started, before = time.monotonic(), made.done
        with patience.part(made.done / asked.count, min(made.done + size, asked.count) / asked.count):
            made = _with(made, solved(_some(asked, made.done, size)))
        patience.report(made.done / asked.count)
        yield made
        pace = seconds_of(started) / (made.done - before)
        size = min(max(int(TAKES / pace), FIRST), 10 * size, MOST)
        if size < MOST and pays(pace * (asked.count - made.done)):
            yield from _by_all(made, size)
            return


def _by_all(made: Results, size: int) -> Iterator[Results]:
    """The rest, by all processors."""
    asked = made.asked
    tasks = [_some(asked, start, size) for start in range(made.done, asked.count, size)]
    for part in in_order(solved, tasks):
        made = _with(made, part)
        patience.report(made.done / asked.count)
        yield made


def whole(asked: Asked) -> Results:
    """The grid, all rows worked out."""
    made = nothing_yet(asked)
    for more in worked_out(asked):
        made = more
    return made


@dataclass(frozen=True)
class _Task:
    """Some rows to be worked out."""

    asked: Asked  # of these rows only
    start: int
    end: int


@dataclass(frozen=True)
class _Solved:
    """What was found in them, as plain arrays that can be sent from process to process."""

    start: int
    end: int
    rows: NDArray[np.int64]  # those that were asked
    answer: NDArray[np.float64]
    power: NDArray[np.float64]
    total: NDArray[np.float64]
    standard: NDArray[np.float64]
    events: NDArray[np.float64]
    half_width: NDArray[np.float64]
    groups: NDArray[np.float64]
    enrolled: NDArray[np.float64]
    reasons: dict[int, str]
    measure: str


def _some(asked: Asked, start: int, size: int) -> _Task:
    end = min(start + size, asked.count)
    columns = {name: column[start:end] for name, column in asked.columns.items()}
    faults = {row - start: fault for row, fault in asked.faults.items() if start <= row < end}
    which = None if asked.which is None else asked.which[start:end]
    return _Task(replace(asked, columns=columns, faults=faults, which=which), start, end)


def solved(task: _Task) -> _Solved:
    """Rows worked out; of those with a fault nothing is asked."""
    asked = task.asked
    rows = np.array([row for row in range(asked.count) if row not in asked.faults], dtype=int)
    if not rows.size:
        none = np.zeros(0)
        no_sizes = np.zeros((0, 1))
        return _Solved(task.start, task.end, rows, none, none, none, none, none, none, no_sizes, no_sizes, {}, "")
    parts = [_part(each, some) for each, some in _by_choice(asked, rows)]
    reasons = {task.start + row: reason for part in parts for row, reason in part.reasons.items()}
    width = max(part.groups.shape[1] for part in parts)
    wide = [(_wide_enough(part.groups, width), _wide_enough(part.enrolled, width)) for part in parts]
    numbers = zip(*(part.numbers() for part in parts), strict=True)
    own, answer, power, total, standard, events, half_width = (np.concatenate(each) for each in numbers)
    groups, enrolled = (np.concatenate(each) for each in zip(*wide, strict=True))
    measure = next((part.found.measure for part in parts if part.found.measure), "")
    found = answer, power, total, standard, events, half_width, groups, enrolled
    return _Solved(task.start, task.end, own + task.start, *found, reasons, measure)


@dataclass(frozen=True)
class _Part:
    """What was found in rows that make the same choices."""

    rows: NDArray[np.int64]
    found: Findings
    groups: NDArray[np.float64]
    enrolled: NDArray[np.float64]
    reasons: dict[int, str]

    def numbers(self) -> tuple[NDArray[Any], ...]:
        """One for each row."""
        found = self.found
        return self.rows, found.answer, found.power, found.total, found.standard, found.events, found.half_width


def _part(asked: Asked, rows: NDArray[np.int64]) -> _Part:
    found = _found(asked, rows)
    return _Part(rows, found, found.groups, _enrolled(asked, rows, found), _reasons(rows, found))


def _by_choice(asked: Asked, rows: NDArray[np.int64]) -> Iterator[tuple[Asked, NDArray[np.int64]]]:
    """The rows parted by the designs that they name, or the choices that they make: then the same in all."""
    if asked.which is not None:
        yield from _by_design(asked, rows)
        return
    if not asked.chosen:
        yield asked, rows
        return
    columns = {name: column for name, column in asked.columns.items() if name not in asked.chosen}
    codes = np.column_stack([asked.columns[name][rows] for name in asked.chosen])
    for code in np.unique(codes, axis=0):
        choices = {
            name: decoded(asked.design.assumption(name), each) for name, each in zip(asked.chosen, code, strict=True)
        }
        yield replace(asked, values={**asked.values, **choices}, columns=columns), rows[(codes == code).all(axis=1)]


def _with(made: Results, part: _Solved) -> Results:
    """The grid with more rows."""
    rows = part.rows
    made.answer[rows], made.power[rows], made.total[rows] = part.answer, part.power, part.total
    made.events[rows], made.half_width[rows] = part.events, part.half_width
    made.standard[rows], made.enrol[rows] = part.standard, np.nansum(part.enrolled, axis=1) + 0 * part.power
    width = part.groups.shape[1]
    groups, enrolled = (_wide_enough(each, width) for each in (made.groups, made.enrolled))
    groups[rows, :width], enrolled[rows, :width] = part.groups, part.enrolled
    made.reasons.update(part.reasons)
    return replace(made, groups=groups, enrolled=enrolled, measure=part.measure or made.measure, done=part.end)


def _by_design(asked: Asked, rows: NDArray[np.int64]) -> Iterator[tuple[Asked, NDArray[np.int64]]]:
    assert asked.which is not None
    for place, template in enumerate(asked.templates):
        some = rows[asked.which[rows] == place]
        if some.size:
            columns = {name: asked.columns[name] for name in template.names}
            own = replace(asked, aim=template.aim, values=template.values, columns=columns, templates=(), which=None)
            yield from _by_choice(own, some)


def _found(asked: Asked, rows: NDArray[np.int64]) -> Findings:
    """What is found; where only dropout differs, for one row that stands for all."""
    columns = {name: column[rows] for name, column in asked.columns.items() if name != _AHEAD}
    if not columns:
        columns = {name: np.full(len(rows), value, dtype=float) for name, value in _any_number(asked)[:1]}
    return find_many(asked.design, asked.find, asked.values, columns)


def _any_number(asked: Asked) -> list[tuple[str, float]]:
    """The numbers that have a say in what is found."""
    unused = {*asked.design.unused_names(asked.find), _AHEAD}
    known = {**asked.design.implied(asked.values), **asked.values}
    values = [(each.name, known.get(each.name, each.default), each.kind) for each in asked.design.assumptions]
    return [
        (name, value) for name, value, kind in values if name not in unused and kind in NUMERIC and _is_number(value)
    ]


def _wide_enough(groups: NDArray[np.float64], width: int) -> NDArray[np.float64]:
    if width <= groups.shape[1]:
        return groups
    return np.concatenate([groups, np.full((len(groups), width - groups.shape[1]), np.nan)], axis=1)


def _enrolled(asked: Asked, rows: NDArray[np.int64], found: Findings) -> NDArray[np.float64]:
    """By group so many that it remains after what is lost (see `sizes.enrolment`)."""
    if asked.design.clusters and _loses_clusters(asked):
        return np.array([_recruited(asked, row, found, at) for at, row in enumerate(rows.tolist())]).reshape(
            len(rows), -1
        )
    same = np.full(len(rows), _dropout(asked))
    dropout = asked.columns[_AHEAD][rows] if _AHEAD in asked.columns else same
    return np.asarray(np.ceil(found.groups / (1 - dropout[:, None]) - SLACK))


def _loses_clusters(asked: Asked) -> bool:
    """Whether clusters are lost as a whole, or make up for people who are."""
    return "cluster_loss" in asked.columns or bool(asked.design.enrolment(_own(asked, {})).clusters((1000,)) != (1000,))


def _recruited(asked: Asked, row: int, found: Findings, at: int) -> list[float]:
    outcome = found.outcome(at)
    if not isinstance(outcome, Answer):
        return [np.nan] * found.groups.shape[1]
    lost = asked.design.enrolment(_own(asked, {name: column[row] for name, column in asked.columns.items()}))
    people = lost.people(outcome.groups, outcome.plan.clusters_at(outcome.sizes())) or outcome.groups
    return [float(each) for each in people]


def _own(asked: Asked, row: Mapping[str, Any]) -> dict[str, Any]:
    """The numbers and choices of a row, as far as they can be read."""
    return {name: value for name, value in {**asked.values, **row}.items() if isinstance(value, int | float | str)}


def _dropout(asked: Asked) -> float:
    """Of all rows; a value that cannot be has said so in every row already."""
    value = asked.values.get(_AHEAD, asked.design.assumption(_AHEAD).default)
    return float(value) if _is_number(value) else 0.0


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _reasons(rows: NDArray[np.int64], found: Findings) -> dict[int, str]:
    reasons = {}
    for at in np.flatnonzero(np.isnan(found.power)).tolist():
        outcome = found.outcome(at)
        reasons[int(rows[at])] = outcome.message if isinstance(outcome, RequestError) else "No answer."
    return reasons
