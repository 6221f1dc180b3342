"""Power of many plans at once is the power of each alone."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import pytest

from ragwort.base.patience import Late, within
from ragwort.designs import Answer, CountsPlan, StatisticPlan, all_designs, settle
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import Design
from ragwort.designs.many import along, plan_with, powers, stacked
from ragwort.designs.refusals import RequestError
from ragwort.designs.request import values_in_force
from ragwort.study import edits
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.whatif import NUMERIC, values_for


def values_of(design: Design) -> dict[str, object]:
    """The values under which the power of a new aim is asked for."""
    aim = edits.new_aim(design, "Aim 1")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    return values_in_force(design, "power", values_for(aim, answer, "power"))[0]


def in_every_way(design: Design) -> Iterator[dict[str, object]]:
    """The same values as each way states them, and with each word that a choice can be."""
    values = values_of(design)
    yield values
    known = design.in_other_words(values)
    for ways in design.ways:
        for way in ways:
            stated = {name for each in ways for name in each.names}
            rest = {name: value for name, value in values.items() if name not in stated}
            if set(way.names) <= set(known):
                yield {**rest, **{name: known[name] for name in way.names}}
    for assumption in design.assumptions:
        for choice in assumption.choices if assumption.name not in ("direction", "balance") else ():
            yield {**values, assumption.name: assumption.value_of(choice)}


@pytest.mark.parametrize("design", [each for each in all_designs() if each.tested], ids=lambda design: design.id)
def test_many_plans_at_once_are_each_alone(design: Design) -> None:
    """Over every number of every design in every way, sizes among them; values that cannot be had cost no other."""
    looked_at = set()
    for values in in_every_way(design):
        if plan_with(design, values, {}) is None:
            continue
        for assumption in design.assumptions:
            value = values.get(assumption.name)
            if assumption.kind not in NUMERIC or not isinstance(value, int | float):
                continue
            looked_at.add(assumption.name)
            _compare(design, values, assumption, value)
    assert looked_at > {"alpha", design.primary} or "table" in values or "null_proportions" in values


def _compare(design: Design, values: dict[str, object], assumption: Assumption, value: float) -> None:
    at = (value or 0.1) * np.array([0.7, 0.9, 1.0, 1.2, 1.4, 0.0])
    at = np.round(at) if assumption.kind == "count" else at
    at[-1] = -1e9 if assumption.low > -1e9 else np.inf
    together = powers(design, values, {assumption.name: at})
    alone = [powers(design, values, {assumption.name: at[[place]]})[0] for place in range(len(at))]
    np.testing.assert_allclose(together, alone, rtol=1e-11, atol=1e-12, err_msg=assumption.name)
    made = plan_with(design, values, {assumption.name: float(at[1])})
    if made is not None and np.isfinite(together[1]):
        sizes = made[0].better(design.given_sizes(made[1], made[0]))
        np.testing.assert_allclose(together[1], made[0].power(sizes)[0], rtol=1e-11, atol=1e-12)
    assert np.isnan(together[-1])


def test_values_along_steps() -> None:
    """A row for each value, a column for each step; a value that is not allowed is a row of nothing."""
    (design,) = (each for each in all_designs() if each.id == "two-means")
    values = values_of(design)
    steps = np.array([10, 20, 30])
    found = along(design, values, "sd", np.array([5.0, -1.0, 20.0]), lambda _: steps)
    assert found.shape == (3, 3)
    assert np.isnan(found[1]).all()
    plan, _ = plan_with(design, values, {"sd": 20.0})
    np.testing.assert_array_equal(found[2], plan.power_along(steps))


def test_what_differs_in_more_than_numbers_is_not_stacked() -> None:
    """Words stay words."""
    with pytest.raises(TypeError, match="str cannot be stacked"):
        stacked(["equal", "unequal"])


def test_who_waits_is_asked_between_slow_powers() -> None:
    """Thousands of exact correlations, or a map of them, stop soon after somebody is tired of waiting."""
    (design,) = (each for each in all_designs() if each.id == "correlation")
    values = {**values_of(design), "n": 84}
    rho = np.linspace(0.2, 0.4, 4000)
    with pytest.raises(Late), within(0.05):
        powers(design, values, {"rho": rho})
    with pytest.raises(Late), within(0.05):
        along(design, values, "rho", rho[:200], lambda _: np.arange(20, 120))
    few = powers(design, values, {"rho": rho[::8]})
    np.testing.assert_array_equal(few[:3], [powers(design, values, {"rho": rho[[at]]})[0] for at in (0, 8, 16)])


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_effects_and_sizes_make_a_table(design: Design) -> None:
    """A column of effects against a row of sizes: the power of each pair is that of the two alone."""
    plan = settle(design, "n", design.starting).plan
    if not isinstance(plan, StatisticPlan) or isinstance(plan, CountsPlan):
        pytest.skip("its sums take one size or one effect at a time")
    effects = float(plan.effect) * np.array([0.5, 0.8, 1.0, 1.1])
    sizes = plan.counting.ways(np.arange(plan.counting.lowest + 5, plan.counting.lowest + 11))[0]
    table = plan.replace(effect=effects[:, None]).power(sizes)
    alone = [[plan.replace(effect=effect).power(size[:, None])[0] for size in sizes.T] for effect in effects]
    assert table == pytest.approx(np.array(alone), rel=1e-12)


def test_many_statements_that_disagree_are_refused_as_one_is() -> None:
    """At the name, whether one number stands against many or many against one."""
    for given, worked_out in ((np.array([0.1, 0.2]), 0.3), (0.3, np.array([[0.1], [0.2]]))):
        with pytest.raises(RequestError, match="f is given as") as refused:
            stated({"f": given}, "f", worked_out)
        assert refused.value.field == "f"
