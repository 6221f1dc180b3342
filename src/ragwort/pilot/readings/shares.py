"""Yes or no, and categories."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import replace

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
    Numbers,
    Role,
    groups_in,
    place_of,
    reading,
    two_groups_of,
    where_whole,
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
def _yes_in_two_groups(rows: Rows, c: Choices) -> Numbers:
    is_yes = _is_yes(rows, c)
    (one, name1), (two, name2) = two_groups_of(rows, c)
    first, second = (_yes_part(n, is_yes[g], c["yes"], c["outcome"]) for g, n in ((one, name1), (two, name2)))
    inputs = {"yes1": first.counts[0][1], "n1": first.n, "yes2": second.counts[0][1], "n2": second.n}
    said = f"{c['outcome']} “{c['yes']}” by {c['group']}, {name1} and {name2}"
    return Numbers(inputs, (first, second), said, first.missing + second.missing)


@reading("yes_in_one_group", "one row a person", ANSWER, YES)
def _yes_in_one_group(rows: Rows, c: Choices) -> Numbers:
    part = _yes_part(c["outcome"], _is_yes(rows, c), c["yes"], c["outcome"])
    return Numbers({"yes": part.counts[0][1], "n": part.n}, (part,), f"{c['outcome']} “{c['yes']}”", part.missing)


@reading(
    "yes_in_pairs_across",
    "one row a pair, two columns",
    Role("outcome", "First", "groups"),
    YES,
    Role("other", "Second", "groups"),
)
def _yes_in_pairs(rows: Rows, c: Choices) -> Numbers:
    """How many pairs have a yes in one column only; the same word counts in both."""
    columns = (c["outcome"], c["other"])
    if columns[0] == columns[1]:
        raise PilotError("Choose two different columns for the first and the second answer.")
    both = [groups_in(rows, column) for column in columns]
    if not any(c["yes"] in names for _, names in both):
        raise PilotError(f"No row that is kept has “{str(c['yes'])[:40]}” in {columns[0]} or {columns[1]}.")
    first, second = (np.where(codes < 0, math.nan, np.array([*names, ""])[codes] == c["yes"]) for codes, names in both)
    whole = where_whole(first, second)
    if not whole.any():
        raise PilotError("None of the pairs has both answers.")
    parts = tuple(
        _yes_part(c[role], is_yes, c["yes"], c[role]) for role, is_yes in (("outcome", first), ("other", second))
    )
    down, up = (int(np.sum(one[whole] > two[whole])) for one, two in ((first, second), (second, first)))
    inputs = {"down": down, "up": up, "n_pairs": int(whole.sum())}
    said = f"“{c['yes']}” in {columns[0]} and in {columns[1]}"
    return Numbers(inputs, parts, said, int((~whole).sum()), "without both answers")


@reading("yes_in_clusters", "one row a person", ANSWER, YES, CLUSTER, ARMS)
def _yes_in_clusters(rows: Rows, c: Choices) -> Numbers:
    found, parts, left_out = clustered(rows, c, _is_yes(rows, c))
    said = f"{c['outcome']} “{c['yes']}” in {found.count} clusters of {c['cluster']}"
    return Numbers(cluster_inputs(found), parts, said, left_out)


@reading("one_category", "one row a person", ANSWER)
def _one_category(rows: Rows, c: Choices) -> Numbers:
    codes, names = groups_in(rows, c["outcome"])
    if len(names) < 2:
        raise PilotError(f"{c['outcome']} has only one category here: two or more are needed.")
    part = _categories(c["outcome"], codes, names)
    return Numbers({"counts": [n for _, n in part.counts]}, (part,), c["outcome"], part.missing)


@reading(
    "ordered_in_two_groups", "one row a person", Role("outcome", "Ordered categories", "groups"), GROUP, FIRST, SECOND
)
def _ordered_in_two_groups(rows: Rows, c: Choices) -> Numbers:
    """Counts from the lowest category to the highest, a row for each group."""
    codes, names = groups_in(rows, c["outcome"])
    order = _order(names, c["outcome"])
    (one, name1), (two, name2) = two_groups_of(rows, c)
    parts = tuple(_in_order(_categories(name, codes[of], names), order) for of, name in ((one, name1), (two, name2)))
    inputs = {"counts": [[n for _, n in part.counts] for part in parts]}
    said = f"{c['outcome']} by {c['group']}, {name1} and {name2}"
    return Numbers(inputs, parts, said, sum(part.missing for part in parts))


def _order(names: Sequence[str], column: str) -> list[int]:
    """Where each category stands: by the number that it is, or begins with."""
    numbers = [re.match(r"[-+\u2212]?\d+(?:[.,]\d+)?", name.strip()) for name in names]
    if not all(numbers):
        odd = next(name for name, number in zip(names, numbers, strict=True) if not number)
        raise PilotError(
            f"Which of the categories of {column} is the higher cannot be told: “{odd[:40]}” has no number. Write one "
            "before each, as in 1 never, 2 sometimes."
        )
    if len(names) < 2:
        raise PilotError(f"{column} has only one category here: two or more are needed.")
    places = [float(found[0].replace(",", ".").replace("\u2212", "-")) for found in numbers if found]
    return sorted(range(len(names)), key=lambda at: places[at])


def _in_order(part: Sorted, order: Sequence[int]) -> Sorted:
    return replace(part, counts=tuple(part.counts[at] for at in order))


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
def _cross_table(rows: Rows, c: Choices) -> Numbers:
    (down, names), (across, heads) = groups_in(rows, c["group"]), groups_in(rows, c["outcome"])
    if c["group"] == c["outcome"]:
        raise PilotError("Choose two different columns for the rows and the columns of the table.")
    if len(names) < 2 or len(heads) < 2:
        raise PilotError("Both columns need two categories or more.")
    parts = tuple(_categories(name, across[down == at], heads) for at, name in enumerate(names))
    inputs = {"counts": [[n for _, n in part.counts] for part in parts]}
    return Numbers(inputs, parts, f"{c['group']} by {c['outcome']}", int(np.sum((down < 0) | (across < 0))))
