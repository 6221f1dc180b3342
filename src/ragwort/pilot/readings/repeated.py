"""The same people more than once: pairs and repeated measurements, across columns or down rows."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ragwort.pilot.columns import Codes
from ragwort.pilot.filters import Rows
from ragwort.pilot.parts import measured
from ragwort.pilot.readings.reading import (
    ARMS,
    OUTCOME,
    Choices,
    Numbers,
    Role,
    groups_in,
    place_of,
    reading,
    two_groups_of,
    where_whole,
)
from ragwort.pilot.table import PilotError
from ragwort.stats.estimates import repeated_of
from ragwort.stats.noncentral import Array


@reading(
    "pairs_across",
    "one row a pair, two columns",
    Role("outcome", "First", "number"),
    Role("other", "Second", "number"),
)
def _pairs_across(rows: Rows, c: Choices) -> Numbers:
    first, second = rows.numbers(c["outcome"]), rows.numbers(c["other"])
    return _pairs(first, second, (c["outcome"], c["other"]), f"{c['other']} less {c['outcome']}")


@reading(
    "pairs_down",
    "one row a measurement, with a pair id",
    OUTCOME,
    Role("pair", "Pair id in", "id"),
    Role("group", "Occasion in", "groups"),
    Role("first", "First", "value", of="group"),
    Role("second", "Second", "value", of="group"),
)
def _pairs_down(rows: Rows, c: Choices) -> Numbers:
    two_groups_of(rows, c)
    names, table, _ = _people_by_occasion(rows, c["outcome"], c["pair"], c["group"])
    first, second = (table[:, place_of(names, c[role], c["group"])] for role in ("first", "second"))
    said = f"{c['outcome']}, {c['second']} less {c['first']} by {c['group']}, paired by {c['pair']}"
    return _pairs(first, second, (c["first"], c["second"]), said)


def _pairs(first: Array, second: Array, names: tuple[str, str], said: str) -> Numbers:
    whole = where_whole(first, second)
    if whole.sum() < 2:
        raise PilotError(f"Only {int(whole.sum())} of the pairs have both values: two or more are needed.")
    gaps = measured("difference", (second - first)[whole], "the difference")
    parts = (*(measured(n, v[whole], n) for n, v in zip(names, (first, second), strict=True)), gaps)
    inputs = {"difference": gaps.mean, "sd_difference": gaps.sd, "n_pairs": gaps.n}
    return Numbers(inputs, parts, said, int((~whole).sum()), "without both values")


@reading(
    "repeated_across",
    "one row a person, a column each time",
    Role("columns", "Measurements", "columns"),
    ARMS,
)
def _repeated_across(rows: Rows, c: Choices) -> Numbers:
    names = tuple(c["columns"])
    values = np.column_stack([rows.numbers(name) for name in names])
    group = rows.codes(c["group"]) if c.get("group") else None
    return _repeated(values, names, group, ", ".join(names))


@reading(
    "repeated_down",
    "one row a measurement, with a person id",
    OUTCOME,
    Role("pair", "Person id in", "id"),
    Role("occasion", "Time in", "groups"),
    ARMS,
)
def _repeated_down(rows: Rows, c: Choices) -> Numbers:
    names, table, group = _people_by_occasion(rows, c["outcome"], c["pair"], c["occasion"], c.get("group", ""))
    return _repeated(table, names, group, f"{c['outcome']} by {c['occasion']}, people by {c['pair']}")


def _people_by_occasion(
    rows: Rows, outcome: str, person: str, occasion: str, group: str = ""
) -> tuple[tuple[str, ...], Array, tuple[Codes, tuple[str, ...]] | None]:
    """One row a person, one column an occasion, NaN where missing; and each person's group."""
    values, (time, names), (who, ids) = rows.numbers(outcome), groups_in(rows, occasion), rows.codes(person)
    present = (time >= 0) & (who >= 0) & ~np.isnan(values)
    at = who[present] * len(names) + time[present]
    twice = np.flatnonzero(np.bincount(at, minlength=1) > 1)
    if len(twice):
        who_twice, when = ids[twice[0] // len(names)], names[twice[0] % len(names)]
        raise PilotError(f"{person} “{who_twice}” has more than one value of {outcome} at {occasion} “{when}”.")
    table = np.full(len(ids) * len(names), math.nan)
    table[at] = values[present]
    order = _in_time(names)
    in_time = tuple(names[each] for each in order)
    shaped = table.reshape(len(ids), len(names))[:, order]
    if not group:
        return in_time, shaped, None
    codes, arms = rows.codes(group)
    arm = np.full(len(ids), -1, dtype=np.int64)
    arm[who[who >= 0]] = codes[who >= 0]
    if np.any(arm[who[who >= 0]] != codes[who >= 0]):
        raise PilotError(f"Some {person} are in more than one group of {group}: choose another column for the arms.")
    return in_time, shaped, (arm, arms)


def _in_time(names: Sequence[str]) -> list[int]:
    """The order of occasions: by number where all are numbers, else as in the file."""
    try:
        return sorted(range(len(names)), key=lambda at: float(names[at].replace(",", ".")))
    except ValueError:
        return list(range(len(names)))


def _repeated(values: Array, names: Sequence[str], group: tuple[Codes, tuple[str, ...]] | None, said: str) -> Numbers:
    if len(names) < 2:
        raise PilotError("Choose two measurements or more.")
    whole = ~np.isnan(values).any(axis=1)
    codes, arms = group if group is not None else (np.zeros(len(values), dtype=np.int64), ("",))
    whole &= codes >= 0
    if not whole.any():
        raise PilotError("Nobody has all of the measurements.")
    values, codes = values[whole], codes[whole]
    present = np.unique(codes)
    try:
        found = repeated_of(values, codes)
    except ValueError as error:
        raise PilotError(f"These data cannot be used: {error}.") from error
    parts = tuple(
        measured(" ".join(part for part in (arms[arm], name) if part), values[codes == arm, at], name)
        for arm in present
        for at, name in enumerate(names)
    )
    cells = [values[codes == arm].mean(axis=0).tolist() for arm in present]
    inputs = {"cells": cells, "sd": found.sd, "correlation": found.correlation, "sphericity": found.sphericity}
    return Numbers(inputs, parts, said, int((~whole).sum()), "without all measurements")
