"""A measured outcome: one group, two, several, crossed factors; two columns; a model."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ragwort.pilot.filters import Rows
from ragwort.pilot.parts import Measured, measured
from ragwort.pilot.readings.reading import (
    FIRST,
    GROUP,
    OUTCOME,
    SECOND,
    Choices,
    Numbers,
    Role,
    groups_in,
    reading,
    two_groups_of,
    where_whole,
)
from ragwort.pilot.table import PilotError
from ragwort.stats.estimates import correlation, r_squared


@reading("two_groups", "one row a person", OUTCOME, GROUP, FIRST, SECOND)
def _two_groups(rows: Rows, c: Choices) -> Numbers:
    values = rows.numbers(c["outcome"])
    (one, name1), (two, name2) = two_groups_of(rows, c)
    first, second = measured(name1, values[one], c["outcome"]), measured(name2, values[two], c["outcome"])
    inputs = {
        **{"mean1": first.mean, "sd1": first.sd, "n1": first.n},
        **{"mean2": second.mean, "sd2": second.sd, "n2": second.n},
    }
    said = f"{c['outcome']} by {c['group']}, {name1} and {name2}"
    return Numbers(inputs, (first, second), said, first.missing + second.missing)


@reading("one_group", "one row a person", OUTCOME)
def _one_group(rows: Rows, c: Choices) -> Numbers:
    part = measured(c["outcome"], rows.numbers(c["outcome"]), c["outcome"])
    return Numbers({"mean": part.mean, "sd": part.sd, "n": part.n}, (part,), c["outcome"], part.missing)


@reading("several_groups", "one row a person", OUTCOME, GROUP)
def _several_groups(rows: Rows, c: Choices) -> Numbers:
    values, (codes, names) = rows.numbers(c["outcome"]), groups_in(rows, c["group"])
    if len(names) < 2:
        raise PilotError(f"{c['group']} has only one group here: choose a column with two or more.")
    parts = tuple(measured(name, values[codes == at], c["outcome"]) for at, name in enumerate(names))
    inputs = {"means": [part.mean for part in parts], "sd": _pooled(parts), "sizes": [part.n for part in parts]}
    return Numbers(inputs, parts, f"{c['outcome']} by {c['group']}", sum(part.missing for part in parts))


def _pooled(parts: Sequence[Measured]) -> float:
    freedom = sum(part.n - 1 for part in parts)
    return math.sqrt(math.fsum((part.n - 1) * part.sd**2 for part in parts) / freedom)


@reading(
    "two_factors",
    "one row a person",
    OUTCOME,
    Role("factor1", "First factor in", "groups"),
    Role("factor2", "Second factor in", "groups"),
)
def _two_factors(rows: Rows, c: Choices) -> Numbers:
    values = rows.numbers(c["outcome"])
    (first, rows_of), (second, columns_of) = groups_in(rows, c["factor1"]), groups_in(rows, c["factor2"])
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
    return Numbers(inputs, parts, said, sum(part.missing for part in parts))


@reading(
    "two_columns",
    "one row a person",
    Role("outcome", "First", "number"),
    Role("other", "Second", "number"),
)
def _two_columns(rows: Rows, c: Choices) -> Numbers:
    x, y = rows.numbers(c["outcome"]), rows.numbers(c["other"])
    whole = where_whole(x, y)
    if whole.sum() < 4:
        raise PilotError(f"Only {whole.sum()} rows have both {c['outcome']} and {c['other']}: a correlation needs 4.")
    parts = tuple(measured(c[name], v[whole], c[name], apart=True) for name, v in (("outcome", x), ("other", y)))
    r = correlation(x[whole], y[whole])
    if abs(r) >= 1 - 1e-12:
        raise PilotError(
            f"{c['outcome']} and {c['other']} lie on one line (r is {r:.0f}): choose two different columns."
        )
    inputs = {"r": r, "n": int(whole.sum())}
    return Numbers(inputs, parts, f"{c['outcome']} and {c['other']}", int((~whole).sum()))


@reading("model", "one row a person", OUTCOME, Role("columns", "Predictors", "columns"))
def _model(rows: Rows, c: Choices) -> Numbers:
    names = tuple(name for name in c["columns"] if name != c["outcome"])
    if not names:
        raise PilotError("Choose one predictor or more, beside the outcome.")
    columns = [rows.numbers(name) for name in (c["outcome"], *names)]
    whole = where_whole(*columns)
    people, needed = int(whole.sum()), len(names) + 2
    if people < needed:
        raise PilotError(f"Only {people} rows have all of these columns; with so many predictors {needed} are needed.")
    kept = [column[whole] for column in columns]
    try:
        explained = r_squared(kept[0], np.column_stack(kept[1:]))
    except ValueError as error:
        raise PilotError(f"These data cannot be used: {error}.") from error
    if explained >= 1 - 1e-12:
        raise PilotError(f"The predictors say {c['outcome']} without any variability: choose others.")
    parts = tuple(measured(n, v, n, apart=True) for n, v in zip((c["outcome"], *names), kept, strict=True))
    inputs = {"r_squared": explained, "n": people, "predictors": len(names)}
    return Numbers(inputs, parts, f"{c['outcome']} on {', '.join(names)}", int((~whole).sum()))
