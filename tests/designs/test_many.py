"""Power of many plans at once is the power of each alone."""

from __future__ import annotations

import numpy as np
import pytest

from ragwort.designs import Answer, all_designs
from ragwort.designs.design import Design
from ragwort.designs.many import along, plan_with, powers, stacked
from ragwort.designs.request import values_in_force
from ragwort.study import edits
from ragwort.study.outcome import outcome_of
from ragwort.study.whatif import NUMERIC, values_for


def values_of(design: Design) -> dict[str, object]:
    """The values under which the power of a new aim is asked for."""
    aim = edits.new_aim(design, "Aim 1")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    return values_in_force(design, "power", values_for(aim, answer, "power"))[0]


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_many_plans_at_once_are_each_alone(design: Design) -> None:
    """Over every number of every design, sizes among them; values that cannot be had cost no other."""
    values = values_of(design)
    for assumption in design.assumptions:
        value = values.get(assumption.name)
        if assumption.kind not in NUMERIC or not isinstance(value, int | float):
            continue
        around = (value or 0.1) * np.array([0.7, 0.9, 1.0, 1.2, 1.4])
        many = [{assumption.name: round(at) if assumption.kind == "count" else float(at)} for at in around]
        many.append({assumption.name: -1e9 if assumption.low > -1e9 else 1e400})
        together = powers(design, values, many)
        alone = np.concatenate([powers(design, values, [one]) for one in many])
        np.testing.assert_allclose(together, alone, rtol=1e-11, atol=1e-12)
        assert np.isnan(together[-1])
        assert np.isfinite(together[2]), assumption.name


def test_values_along_steps() -> None:
    """A row for each value, a column for each step; a value that is not allowed is a row of nothing."""
    (design,) = (each for each in all_designs() if each.id == "two-means")
    values = values_of(design)
    steps = np.array([10, 20, 30])
    found = along(design, values, "sd", [5.0, -1.0, 20.0], lambda _: steps)
    assert found.shape == (3, 3)
    assert np.isnan(found[1]).all()
    plan, _ = plan_with(design, values, {"sd": 20.0})
    np.testing.assert_array_equal(found[2], plan.power_along(steps))


def test_what_differs_in_more_than_numbers_is_not_stacked() -> None:
    """Words stay words."""
    with pytest.raises(TypeError, match="str cannot be stacked"):
        stacked(["equal", "unequal"])
