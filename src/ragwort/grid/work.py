"""A grid worked out: row by row what is found, in blocks, so that the first are there soon and it can be stopped."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ragwort.designs.finding import Findings, find_many
from ragwort.designs.refusals import RequestError
from ragwort.designs.sizes import SLACK
from ragwort.grid.combinations import Asked
from ragwort.stats import patience
from ragwort.study.whatif import NUMERIC

FIRST = 100  # rows: there at once
BLOCK = 2_000
_AHEAD = "dropout"  # has no say in what is found, only in how many are enrolled


@dataclass(frozen=True)
class Results:
    """What was found, row by row; NaN where nothing was. Rows from `done` on are filled in while work goes on."""

    asked: Asked
    answer: NDArray[np.float64]  # of a sample size the total
    power: NDArray[np.float64]
    total: NDArray[np.float64]  # analysed
    groups: NDArray[np.float64]  # rows x groups: the same group by group
    enrol: NDArray[np.float64]  # in all
    reasons: dict[int, str]  # why a row has no answer
    done: int  # rows that are worked out, from the first on

    @property
    def complete(self) -> bool:
        """Whether every row is worked out."""
        return self.done == self.asked.count


def nothing_yet(asked: Asked) -> Results:
    """The grid before anything is worked out."""
    answer, power, total, enrol = (np.full(asked.count, np.nan) for _ in range(4))
    return Results(asked, answer, power, total, np.full((asked.count, 1), np.nan), enrol, dict(asked.faults), 0)


def worked_out(asked: Asked, after: Results | None = None) -> Iterator[Results]:
    """The grid again and again, with more rows each time, going on where `after` ended; the last is complete.

    Rows are reported to whoever listens (`patience`), which may stop it between two blocks.
    """
    made = after or nothing_yet(asked)
    while not made.complete:
        end = min(made.done + (FIRST if made.done == 0 else BLOCK), asked.count)
        with patience.part(made.done / asked.count, end / asked.count):
            made = _with_block(made, made.done, end)
        patience.report(made.done / asked.count)
        yield made


def whole(asked: Asked) -> Results:
    """The grid, all rows worked out."""
    made = nothing_yet(asked)
    for more in worked_out(asked):
        made = more
    return made


def _with_block(made: Results, start: int, end: int) -> Results:
    """More rows worked out; of those with a fault nothing is asked."""
    asked = made.asked
    rows = np.array([row for row in range(start, end) if row not in asked.faults], dtype=int)
    if not rows.size:
        return replace(made, done=end)
    found = _found(asked, rows)
    made.answer[rows], made.power[rows], made.total[rows] = found.answer, found.power, found.total
    made.enrol[rows] = _enrolled(asked, rows, found)
    groups = _wide_enough(made.groups, found.groups.shape[1])
    groups[rows, : found.groups.shape[1]] = found.groups
    made.reasons.update(_reasons(rows, found))
    return replace(made, groups=groups, done=end)


def _found(asked: Asked, rows: NDArray[np.int64]) -> Findings:
    """What is found; where only dropout differs, for one row that stands for all."""
    columns = {name: column[rows] for name, column in asked.columns.items() if name != _AHEAD}
    if not columns:
        columns = {name: np.full(len(rows), value) for name, value in _any_number(asked)[:1]}
    return find_many(asked.design, asked.find, asked.values, columns)


def _any_number(asked: Asked) -> list[tuple[str, float]]:
    """The numbers that have a say in what is found."""
    unused = {*asked.design.unused_names(asked.find), _AHEAD}
    values = [(each.name, asked.values.get(each.name, each.default), each.kind) for each in asked.design.assumptions]
    return [
        (name, value) for name, value, kind in values if name not in unused and kind in NUMERIC and value is not None
    ]


def _wide_enough(groups: NDArray[np.float64], width: int) -> NDArray[np.float64]:
    if width <= groups.shape[1]:
        return groups
    return np.concatenate([groups, np.full((len(groups), width - groups.shape[1]), np.nan)], axis=1)


def _enrolled(asked: Asked, rows: NDArray[np.int64], found: Findings) -> NDArray[np.float64]:
    """So many that the groups remain after dropout (see `sizes.enrolment`)."""
    same = np.full(len(rows), float(asked.values.get(_AHEAD, asked.design.assumption(_AHEAD).default)))
    dropout = asked.columns[_AHEAD][rows] if _AHEAD in asked.columns else same
    each = np.ceil(found.groups / (1 - dropout[:, None]) - SLACK)
    return np.asarray(np.nansum(each, axis=1) + 0 * found.power)


def _reasons(rows: NDArray[np.int64], found: Findings) -> dict[int, str]:
    reasons = {}
    for at in np.flatnonzero(np.isnan(found.power)).tolist():
        outcome = found.outcome(at)
        reasons[int(rows[at])] = outcome.message if isinstance(outcome, RequestError) else "No answer."
    return reasons


def time_left(share: float, seconds: float) -> float:
    """Seconds until all is done, at the pace so far; NaN before anything is."""
    return seconds * (1 - share) / share if share > 0 else math.nan
