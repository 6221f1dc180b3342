"""Yes or no, and categories."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ragwort.pilot.columns import Codes
from ragwort.pilot.filters import Rows
from ragwort.pilot.parts import Sorted
from ragwort.pilot.readings.clusters import CLUSTER, cluster_inputs, clustered
from ragwort.pilot.readings.reading import (
    ARMS,
    FIRST,
    GROUP,
    SECOND,
    Choices,
    Found,
    Role,
    groups_in,
    place_of,
    reading,
    two_groups_of,
)
from ragwort.pilot.table import PilotError
from ragwort.stats.noncentral import Array

ANSWER = Role("outcome", "Outcome", "groups")
YES = Role("yes", "Counts as yes", "value", of="outcome")


def _is_yes(rows: Rows, c: Choices) -> Array:
    """1 where the outcome is the one that counts, 0 where it is another, NaN where missing."""
    codes, names = groups_in(rows, c["outcome"])
    return np.where(codes < 0, math.nan, codes == place_of(names, c["yes"], c["outcome"]))


def _yes_part(name: str, is_yes: Array, yes: str, column: str) -> Sorted:
    known = is_yes[~np.isnan(is_yes)]
    if not len(known):
        raise PilotError(f"{column} is missing in every row in “{name[:40]}”.")
    counted = int(known.sum())
    return Sorted(name, len(known), len(is_yes) - len(known), ((yes, counted), ("other", len(known) - counted)))


@reading("yes_in_two_groups", "one row a person", ANSWER, YES, GROUP, FIRST, SECOND)
def _yes_in_two_groups(rows: Rows, c: Choices) -> Found:
    is_yes = _is_yes(rows, c)
    (one, name1), (two, name2) = two_groups_of(rows, c)
    first, second = (_yes_part(n, is_yes[g], c["yes"], c["outcome"]) for g, n in ((one, name1), (two, name2)))
    inputs = {"yes1": first.counts[0][1], "n1": first.n, "yes2": second.counts[0][1], "n2": second.n}
    said = f"{c['outcome']} “{c['yes']}” by {c['group']}, {name1} and {name2}"
    return Found(inputs, (first, second), said, first.missing + second.missing)


@reading("yes_in_one_group", "one row a person", ANSWER, YES)
def _yes_in_one_group(rows: Rows, c: Choices) -> Found:
    part = _yes_part(c["outcome"], _is_yes(rows, c), c["yes"], c["outcome"])
    return Found({"yes": part.counts[0][1], "n": part.n}, (part,), f"{c['outcome']} “{c['yes']}”", part.missing)


@reading("yes_in_clusters", "one row a person", ANSWER, YES, CLUSTER, ARMS)
def _yes_in_clusters(rows: Rows, c: Choices) -> Found:
    found, parts, left_out = clustered(rows, c, _is_yes(rows, c))
    said = f"{c['outcome']} “{c['yes']}” in {found.count} clusters of {c['cluster']}"
    return Found(cluster_inputs(found), parts, said, left_out)


@reading("one_category", "one row a person", ANSWER)
def _one_category(rows: Rows, c: Choices) -> Found:
    codes, names = groups_in(rows, c["outcome"])
    if len(names) < 2:
        raise PilotError(f"{c['outcome']} has only one category here: two or more are needed.")
    part = _categories(c["outcome"], codes, names)
    return Found({"counts": [n for _, n in part.counts]}, (part,), c["outcome"], part.missing)


def _categories(name: str, codes: Codes, names: Sequence[str]) -> Sorted:
    counts = np.bincount(codes[codes >= 0], minlength=len(names))
    pairs = tuple((each, int(n)) for each, n in zip(names, counts, strict=True))
    return Sorted(name, int(counts.sum()), int(np.sum(codes < 0)), pairs)


@reading(
    "cross_table",
    "one row a person",
    Role("group", "Rows of the table", "groups"),
    Role("outcome", "Columns of the table", "groups"),
)
def _cross_table(rows: Rows, c: Choices) -> Found:
    (down, names), (across, heads) = groups_in(rows, c["group"]), groups_in(rows, c["outcome"])
    if c["group"] == c["outcome"]:
        raise PilotError("Choose two different columns for the rows and the columns of the table.")
    if len(names) < 2 or len(heads) < 2:
        raise PilotError("Both columns need two categories or more.")
    parts = tuple(_categories(name, across[down == at], heads) for at, name in enumerate(names))
    inputs = {"counts": [[n for _, n in part.counts] for part in parts]}
    return Found(inputs, parts, f"{c['group']} by {c['outcome']}", int(np.sum((down < 0) | (across < 0))))
