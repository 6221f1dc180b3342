"""The ways to read an effect out of a file: which columns a reading asks for, and the numbers that it gives.

The numbers have the names of the inputs of the routes to an effect that name the reading.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ragwort.pilot.columns import MOST_GROUPS, Codes
from ragwort.pilot.filters import Kept, Rows
from ragwort.pilot.parts import Measured, Part, Sorted, measured
from ragwort.pilot.table import PilotError
from ragwort.stats.estimates import Clusters, clusters_of, correlation, r_squared, repeated_of
from ragwort.stats.noncentral import Array

RoleKind = Literal["number", "groups", "id", "value", "columns"]
Choices = Mapping[str, Any]  # by role: the name of a column, a value, or names of columns


@dataclass(frozen=True)
class Role:
    """What a column, or a value of one, is in a reading."""

    name: str
    label: str
    kind: RoleKind
    of: str = ""  # of a value: the role whose column has it
    optional: bool = False


@dataclass(frozen=True)
class Found:
    """What a reading found."""

    inputs: dict[str, Any]  # by the name of a route's input
    parts: tuple[Part, ...]
    said: str  # what was read, in words: `reaction time by room`
    left_out: int = 0  # rows, pairs or people without what the reading needs
    why: str = "missing"


@dataclass(frozen=True)
class Reading:
    """One way to read a file."""

    name: str
    label: str  # of the file's layout
    roles: tuple[Role, ...]
    work: Callable[[Rows, Choices], Found]

    def read(self, rows: Rows, choices: Choices) -> Found:
        """The numbers. Raises `PilotError`, also where a column is asked for and not chosen."""
        for role in self.roles:
            if role.kind != "value" and not role.optional and not choices.get(role.name):
                raise PilotError(f"Choose the column for “{role.label}”.")
        values = {role.name: "" for role in self.roles if role.kind == "value"}
        return self.work(rows, {**values, **choices})


READINGS: dict[str, Reading] = {}


def _reading(name: str, label: str, *roles: Role) -> Callable[[Callable[[Rows, Choices], Found]], None]:
    def known(work: Callable[[Rows, Choices], Found]) -> None:
        READINGS[name] = Reading(name, label, roles, work)

    return known


def count_groups(rows: Rows, column: str) -> dict[str, int]:
    """How many rows each group has. Raises `PilotError` where there are too many groups."""
    codes, names = _groups(rows, column)
    return {name: int(np.sum(codes == at)) for at, name in enumerate(names)}


# --- columns as they are needed ---


def _groups(rows: Rows, column: str) -> tuple[Codes, tuple[str, ...]]:
    codes, names = rows.codes(column)
    if len(names) > MOST_GROUPS:
        raise PilotError(f"{column} has {len(names)} different values, too many for groups: choose another column.")
    if not names:
        raise PilotError(f"{column} is missing in every row.")
    return codes, names


def _two(rows: Rows, c: Choices) -> tuple[tuple[Kept, str], tuple[Kept, str]]:
    """The rows of both groups, with their names."""
    codes, names = _groups(rows, c["group"])
    if len(names) < 2:
        raise PilotError(f"{c['group']} has only one group here (“{names[0][:40]}”): choose a column with two or more.")
    if c["first"] == c["second"]:
        raise PilotError(f"Group 1 and group 2 are both “{str(c['first'])[:40]}”: choose two different ones.")
    one, two = (np.asarray(codes == _place(names, c[role], c["group"])) for role in ("first", "second"))
    return (one, c["first"]), (two, c["second"])


def _place(names: Sequence[str], value: str, column: str) -> int:
    if not value:
        raise PilotError(f"Choose which values of {column} are meant.")
    if value not in names:
        raise PilotError(f"No row that is kept has “{str(value)[:40]}” in {column}.")
    return list(names).index(value)


def _whole(*columns: Array) -> Kept:
    """Where no column is missing."""
    return np.asarray(~np.isnan(np.column_stack(columns)).any(axis=1))


# --- measured outcomes ---

_OUTCOME = Role("outcome", "Outcome", "number")
_GROUP = Role("group", "Groups in", "groups")
_FIRST = Role("first", "Group 1", "value", of="group")
_SECOND = Role("second", "Group 2", "value", of="group")
_ARMS = Role("group", "Arms in", "groups", optional=True)


@_reading("two_groups", "one row a person", _OUTCOME, _GROUP, _FIRST, _SECOND)
def _two_groups(rows: Rows, c: Choices) -> Found:
    values = rows.numbers(c["outcome"])
    (one, name1), (two, name2) = _two(rows, c)
    first, second = measured(name1, values[one], c["outcome"]), measured(name2, values[two], c["outcome"])
    inputs = {
        **{"mean1": first.mean, "sd1": first.sd, "n1": first.n},
        **{"mean2": second.mean, "sd2": second.sd, "n2": second.n},
    }
    said = f"{c['outcome']} by {c['group']}, {name1} and {name2}"
    return Found(inputs, (first, second), said, first.missing + second.missing)


@_reading("one_group", "one row a person", _OUTCOME)
def _one_group(rows: Rows, c: Choices) -> Found:
    part = measured(c["outcome"], rows.numbers(c["outcome"]), c["outcome"])
    return Found({"mean": part.mean, "sd": part.sd, "n": part.n}, (part,), c["outcome"], part.missing)


@_reading("several_groups", "one row a person", _OUTCOME, _GROUP)
def _several_groups(rows: Rows, c: Choices) -> Found:
    values, (codes, names) = rows.numbers(c["outcome"]), _groups(rows, c["group"])
    if len(names) < 2:
        raise PilotError(f"{c['group']} has only one group here: choose a column with two or more.")
    parts = tuple(measured(name, values[codes == at], c["outcome"]) for at, name in enumerate(names))
    inputs = {"means": [part.mean for part in parts], "sd": _pooled(parts), "sizes": [part.n for part in parts]}
    return Found(inputs, parts, f"{c['outcome']} by {c['group']}", sum(part.missing for part in parts))


def _pooled(parts: Sequence[Measured]) -> float:
    freedom = sum(part.n - 1 for part in parts)
    return math.sqrt(math.fsum((part.n - 1) * part.sd**2 for part in parts) / freedom)


@_reading(
    "two_factors",
    "one row a person",
    _OUTCOME,
    Role("factor1", "First factor in", "groups"),
    Role("factor2", "Second factor in", "groups"),
)
def _two_factors(rows: Rows, c: Choices) -> Found:
    values = rows.numbers(c["outcome"])
    (first, rows_of), (second, columns_of) = _groups(rows, c["factor1"]), _groups(rows, c["factor2"])
    if len(rows_of) < 2 or len(columns_of) < 2:
        raise PilotError("Each factor needs two levels or more.")
    parts = tuple(
        measured(f"{one} × {two}", values[(first == i) & (second == j)], c["outcome"])
        for i, one in enumerate(rows_of)
        for j, two in enumerate(columns_of)
    )
    means = np.array([part.mean for part in parts]).reshape(len(rows_of), len(columns_of))
    inputs = {"cells": means.tolist(), "sd": _pooled(parts), "n": sum(part.n for part in parts)}
    said = f"{c['outcome']} by {c['factor1']} × {c['factor2']}"
    return Found(inputs, parts, said, sum(part.missing for part in parts))


@_reading(
    "two_columns",
    "one row a person",
    Role("outcome", "First", "number"),
    Role("other", "Second", "number"),
)
def _two_columns(rows: Rows, c: Choices) -> Found:
    x, y = rows.numbers(c["outcome"]), rows.numbers(c["other"])
    whole = _whole(x, y)
    if whole.sum() < 4:
        raise PilotError(f"Only {whole.sum()} rows have both {c['outcome']} and {c['other']}: a correlation needs 4.")
    parts = tuple(measured(c[name], v[whole], c[name], apart=True) for name, v in (("outcome", x), ("other", y)))
    r = correlation(x[whole], y[whole])
    if abs(r) >= 1 - 1e-12:
        raise PilotError(
            f"{c['outcome']} and {c['other']} lie on one line (r is {r:.0f}): choose two different columns."
        )
    inputs = {"r": r, "n": int(whole.sum())}
    return Found(inputs, parts, f"{c['outcome']} and {c['other']}", int((~whole).sum()))


@_reading("model", "one row a person", _OUTCOME, Role("columns", "Predictors", "columns"))
def _model(rows: Rows, c: Choices) -> Found:
    names = tuple(name for name in c["columns"] if name != c["outcome"])
    if not names:
        raise PilotError("Choose one predictor or more, beside the outcome.")
    columns = [rows.numbers(name) for name in (c["outcome"], *names)]
    whole = _whole(*columns)
    people, needed = int(whole.sum()), len(names) + 2
    if people < needed:
        raise PilotError(f"Only {people} rows have all of these columns; with so many predictors {needed} are needed.")
    kept = [column[whole] for column in columns]
    try:
        explained = r_squared(kept[0], np.column_stack(kept[1:]))
    except ValueError as error:
        raise PilotError(f"These data cannot be used: {error}.") from error
    if explained >= 1 - 1e-12:
        raise PilotError(f"The predictors say {c['outcome']} without any scatter: choose others.")
    parts = tuple(measured(n, v, n, apart=True) for n, v in zip((c["outcome"], *names), kept, strict=True))
    inputs = {"r_squared": explained, "n": people, "predictors": len(names)}
    return Found(inputs, parts, f"{c['outcome']} on {', '.join(names)}", int((~whole).sum()))


# --- the same people more than once ---


@_reading(
    "pairs_across",
    "one row a pair, two columns",
    Role("outcome", "First", "number"),
    Role("other", "Second", "number"),
)
def _pairs_across(rows: Rows, c: Choices) -> Found:
    first, second = rows.numbers(c["outcome"]), rows.numbers(c["other"])
    return _pairs(first, second, (c["outcome"], c["other"]), f"{c['other']} less {c['outcome']}")


@_reading(
    "pairs_down",
    "one row a measurement, with a pair id",
    _OUTCOME,
    Role("pair", "Pair id in", "id"),
    Role("group", "Occasion in", "groups"),
    Role("first", "First", "value", of="group"),
    Role("second", "Second", "value", of="group"),
)
def _pairs_down(rows: Rows, c: Choices) -> Found:
    _two(rows, c)
    names, table, _ = _people_by_occasion(rows, c["outcome"], c["pair"], c["group"])
    first, second = (table[:, _place(names, c[role], c["group"])] for role in ("first", "second"))
    said = f"{c['outcome']}, {c['second']} less {c['first']} by {c['group']}, paired by {c['pair']}"
    return _pairs(first, second, (c["first"], c["second"]), said)


def _pairs(first: Array, second: Array, names: tuple[str, str], said: str) -> Found:
    whole = _whole(first, second)
    if whole.sum() < 2:
        raise PilotError(f"Only {int(whole.sum())} of the pairs have both values: two or more are needed.")
    gaps = measured("difference", (second - first)[whole], "the difference")
    parts = (*(measured(n, v[whole], n) for n, v in zip(names, (first, second), strict=True)), gaps)
    inputs = {"difference": gaps.mean, "sd_difference": gaps.sd, "n_pairs": gaps.n}
    return Found(inputs, parts, said, int((~whole).sum()), "without both values")


@_reading(
    "repeated_across",
    "one row a person, a column each time",
    Role("columns", "Measurements", "columns"),
    _ARMS,
)
def _repeated_across(rows: Rows, c: Choices) -> Found:
    names = tuple(c["columns"])
    values = np.column_stack([rows.numbers(name) for name in names])
    group = rows.codes(c["group"]) if c.get("group") else None
    return _repeated(values, names, group, ", ".join(names))


@_reading(
    "repeated_down",
    "one row a measurement, with a person id",
    _OUTCOME,
    Role("pair", "Person id in", "id"),
    Role("occasion", "Time in", "groups"),
    _ARMS,
)
def _repeated_down(rows: Rows, c: Choices) -> Found:
    names, table, group = _people_by_occasion(rows, c["outcome"], c["pair"], c["occasion"], c.get("group", ""))
    return _repeated(table, names, group, f"{c['outcome']} by {c['occasion']}, people by {c['pair']}")


def _people_by_occasion(
    rows: Rows, outcome: str, person: str, occasion: str, group: str = ""
) -> tuple[tuple[str, ...], Array, tuple[Codes, tuple[str, ...]] | None]:
    """One row a person, one column an occasion, NaN where missing; and each person's group."""
    values, (time, names), (who, ids) = rows.numbers(outcome), _groups(rows, occasion), rows.codes(person)
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


def _repeated(values: Array, names: Sequence[str], group: tuple[Codes, tuple[str, ...]] | None, said: str) -> Found:
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
    return Found(inputs, parts, said, int((~whole).sum()), "without all measurements")


# --- clusters ---

_CLUSTER = Role("cluster", "Clusters in", "id")


@_reading("clusters", "one row a person", _OUTCOME, _CLUSTER, _ARMS)
def _clusters(rows: Rows, c: Choices) -> Found:
    found, parts, left_out = _clustered(rows, c, rows.numbers(c["outcome"]))
    said = f"{c['outcome']} in {found.count} clusters of {c['cluster']}"
    return Found({**_cluster_inputs(found), "sd": found.sd}, parts, said, left_out)


def _clustered(rows: Rows, c: Choices, values: Array) -> tuple[Clusters, tuple[Part, ...], int]:
    cluster, names = rows.codes(c["cluster"])
    arm, arms = rows.codes(c["group"]) if c.get("group") else (np.zeros(len(values), dtype=np.int64), ("",))
    whole = ~np.isnan(values) & (cluster >= 0) & (arm >= 0)
    if not whole.any():
        raise PilotError(f"No row has both {c['outcome']} and {c['cluster']}.")
    values, cluster, arm = values[whole], cluster[whole], arm[whole]
    of_cluster = np.full(len(names), -1, dtype=np.int64)
    of_cluster[cluster] = arm
    if np.any(of_cluster[cluster] != arm):
        raise PilotError(
            f"Some clusters of {c['cluster']} are in more than one arm of {c['group']}: leave the arms open."
        )
    try:
        found = clusters_of(values, cluster, arm)
    except ValueError as error:
        raise PilotError(f"These data cannot be used: {error}.") from error
    counts = np.bincount(cluster)
    sizes = measured("cluster size", counts[counts > 0].astype(float), "cluster size", True) if found.cv > 0 else None
    by_arm = tuple(measured(arms[at] or c["outcome"], values[arm == at], c["outcome"]) for at in np.unique(arm))
    return found, (*by_arm, *((sizes,) if sizes else ())), int((~whole).sum())


def _cluster_inputs(found: Clusters) -> dict[str, Any]:
    return {"icc": found.icc, "cluster_size": found.mean_size, "cluster_size_cv": found.cv}


# --- yes or no, and categories ---

_ANSWER = Role("outcome", "Outcome", "groups")
_YES = Role("yes", "Counts as yes", "value", of="outcome")


def _is_yes(rows: Rows, c: Choices) -> Array:
    """1 where the outcome is the one that counts, 0 where it is another, NaN where missing."""
    codes, names = _groups(rows, c["outcome"])
    return np.where(codes < 0, math.nan, codes == _place(names, c["yes"], c["outcome"]))


def _yes_part(name: str, is_yes: Array, yes: str, column: str) -> Sorted:
    known = is_yes[~np.isnan(is_yes)]
    if not len(known):
        raise PilotError(f"{column} is missing in every row in “{name[:40]}”.")
    counted = int(known.sum())
    return Sorted(name, len(known), len(is_yes) - len(known), ((yes, counted), ("other", len(known) - counted)))


@_reading("yes_in_two_groups", "one row a person", _ANSWER, _YES, _GROUP, _FIRST, _SECOND)
def _yes_in_two_groups(rows: Rows, c: Choices) -> Found:
    is_yes = _is_yes(rows, c)
    (one, name1), (two, name2) = _two(rows, c)
    first, second = (_yes_part(n, is_yes[g], c["yes"], c["outcome"]) for g, n in ((one, name1), (two, name2)))
    inputs = {"yes1": first.counts[0][1], "n1": first.n, "yes2": second.counts[0][1], "n2": second.n}
    said = f"{c['outcome']} “{c['yes']}” by {c['group']}, {name1} and {name2}"
    return Found(inputs, (first, second), said, first.missing + second.missing)


@_reading("yes_in_one_group", "one row a person", _ANSWER, _YES)
def _yes_in_one_group(rows: Rows, c: Choices) -> Found:
    part = _yes_part(c["outcome"], _is_yes(rows, c), c["yes"], c["outcome"])
    return Found({"yes": part.counts[0][1], "n": part.n}, (part,), f"{c['outcome']} “{c['yes']}”", part.missing)


@_reading("yes_in_clusters", "one row a person", _ANSWER, _YES, _CLUSTER, _ARMS)
def _yes_in_clusters(rows: Rows, c: Choices) -> Found:
    found, parts, left_out = _clustered(rows, c, _is_yes(rows, c))
    said = f"{c['outcome']} “{c['yes']}” in {found.count} clusters of {c['cluster']}"
    return Found(_cluster_inputs(found), parts, said, left_out)


@_reading("one_category", "one row a person", _ANSWER)
def _one_category(rows: Rows, c: Choices) -> Found:
    codes, names = _groups(rows, c["outcome"])
    if len(names) < 2:
        raise PilotError(f"{c['outcome']} has only one category here: two or more are needed.")
    part = _categories(c["outcome"], codes, names)
    return Found({"counts": [n for _, n in part.counts]}, (part,), c["outcome"], part.missing)


def _categories(name: str, codes: Codes, names: Sequence[str]) -> Sorted:
    counts = np.bincount(codes[codes >= 0], minlength=len(names))
    pairs = tuple((each, int(n)) for each, n in zip(names, counts, strict=True))
    return Sorted(name, int(counts.sum()), int(np.sum(codes < 0)), pairs)


@_reading(
    "cross_table",
    "one row a person",
    Role("group", "Rows of the table", "groups"),
    Role("outcome", "Columns of the table", "groups"),
)
def _cross_table(rows: Rows, c: Choices) -> Found:
    (down, names), (across, heads) = _groups(rows, c["group"]), _groups(rows, c["outcome"])
    if c["group"] == c["outcome"]:
        raise PilotError("Choose two different columns for the rows and the columns of the table.")
    if len(names) < 2 or len(heads) < 2:
        raise PilotError("Both columns need two categories or more.")
    parts = tuple(_categories(name, across[down == at], heads) for at, name in enumerate(names))
    inputs = {"counts": [[n for _, n in part.counts] for part in parts]}
    return Found(inputs, parts, f"{c['group']} by {c['outcome']}", int(np.sum((down < 0) | (across < 0))))
