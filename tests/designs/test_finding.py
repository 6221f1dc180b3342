"""What is found for many rows at once is what each row finds alone."""

from __future__ import annotations

import numpy as np
import pytest

from ragwort.designs import Answer, RequestError, all_designs, design_named, settle
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import Design
from ragwort.designs.finding import Outcome, find_many
from ragwort.study import edits
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.whatif import NUMERIC, values_for


def around(assumption: Assumption, value: float) -> np.ndarray:
    """Values near and far, one of them not allowed, one without an effect."""
    at = (value or 0.1) * np.array([0.3, 0.8, 1.0, 1.3, 3.0, 0.0, 0.0])
    at = np.round(at) if assumption.kind == "count" else at
    at[-1] = -1e9 if assumption.low > -1e9 else np.inf
    return at


def alone(design: Design, find: str, values: dict[str, object], name: str, value: float) -> Outcome:
    """The answer that a request gets."""
    try:
        return settle(design, find, {**values, name: value})
    except RequestError as error:
        return error


def agree(many: Outcome, one: Outcome) -> None:
    """Integers and reasons equal; real numbers as near as two searches for one root come."""
    if isinstance(one, RequestError) or isinstance(many, RequestError):
        assert (many.field, many.message) == (one.field, one.message)
        return
    assert (many.groups, many.enrol, many.find) == (one.groups, one.enrol, one.find)
    assert many.answer == pytest.approx(one.answer, rel=1e-9)
    assert many.total == one.total
    assert many.power == pytest.approx(one.power, abs=1e-9)


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
@pytest.mark.parametrize("find", ["n", "power", "effect", "alpha"])
def test_many_rows_find_what_each_finds_alone(design: Design, find: str) -> None:
    """For every design and unknown, along every number."""
    aim = edits.new_aim(design, "Aim 1")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    values = values_for(aim, answer, find)
    for assumption in design.assumptions:
        value = values.get(assumption.name, assumption.default)
        if assumption.kind not in NUMERIC or isinstance(value, bool) or not isinstance(value, int | float):
            continue
        if assumption.name in design.unused_names(find):
            continue
        at = around(assumption, value)
        together = find_many(design, find, values, {assumption.name: at})
        for row, each in enumerate(at.tolist()):
            agree(together.outcome(row), alone(design, find, values, assumption.name, each))


def test_random_sizes_are_those_found_alone() -> None:
    """Two columns and more at once, one-sided too: whole numbers equal, and proved by the power of one fewer."""
    rng = np.random.default_rng(4)
    design = design_named("two-means")
    columns = {
        "difference": rng.lognormal(0.0, 1.2, 250) * rng.choice([-1, 1], 250),
        "sd": rng.lognormal(0.5, 0.7, 250),
        "alpha": rng.choice([0.001, 0.025, 0.05, 0.2], 250),
        "power": rng.uniform(0.3, 0.99, 250),
    }
    for more in ({}, {"sides": "greater"}, {"ratio": 2.5}, {"variance": "known"}, {"balance": "any"}):
        together = find_many(design, "n", more, columns)
        for row in range(250):
            changed = {**more, **{name: float(column[row]) for name, column in columns.items()}}
            agree(together.outcome(row), alone(design, "n", changed, "dropout", 0.0))


@pytest.mark.parametrize("find", ["n", "power", "effect", "alpha"])
def test_rows_with_an_answer_are_searched_together(find: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """None of them is asked for alone; sizes may differ from row to row too."""
    monkeypatch.setattr("ragwort.designs.finding.settle", None)
    values = {"difference": 12.0, "sd": 24.0, "n": 128, "direction": "up"}
    design = design_named("two-means")
    unused = design.unused_names(find)
    values = {name: value for name, value in values.items() if name not in unused}
    columns = {"sd": np.array([20.0, 24.0, 30.0])}
    columns |= {} if find == "n" else {"n": np.array([100.0, 128.0, 140.0])}
    found = find_many(design, find, values, columns)
    assert np.isfinite(found.answer).all()
    assert isinstance(found.outcome(1), Answer)
