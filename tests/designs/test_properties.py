"""What must hold of every design, whatever it compares: walked from the declarations, at small and middling sizes."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from ragwort.designs import Answer, Design, Plan, all_designs, settle

TESTED = [design for design in all_designs() if design.tested]  # those of intervals: test_intervals.py
DESIGNS = pytest.mark.parametrize("design", TESTED, ids=lambda design: design.id)
SIDED = [design for design in all_designs() if any(a.name == "sides" for a in design.assumptions)]
BALANCED = [
    d for d in all_designs() if d.tested and any(a.name == "balance" and len(a.choices) > 1 for a in d.assumptions)
]


# Exact tests have a power that goes up and down, and tests of their own (test_exact_proportions.py).
SMOOTH = {"one-proportion": {"method": "score"}, "one-rate": {"method": "score"}, "survival": {"hazard_ratio": 1.5}}


LOPSIDED = {
    "survival",
    "one-rate",
    "one-variance",
    "two-rates",
    "trend-proportions",
}  # what leans, or scatters less downwards, has no mirror image


def start(design: Design) -> dict[str, Any]:
    """The starting values, with a method whose power never falls."""
    return {**design.starting, **SMOOTH.get(design.id, {})}


def sized(design: Design, **more: Any) -> Answer:
    """The sample size of a design at its starting values."""
    return settle(design, "n", {**start(design), **more})


def at_total(design: Design, find: str, total: int, **more: Any) -> Answer:
    """Another unknown of a design at a total sample size."""
    values = {**start(design), "n": total, **more}
    return settle(design, find, {k: v for k, v in values.items() if k not in design.unused_names(find)})


def doubled(plan: Plan) -> Plan:
    """The same plan with twice the effect."""
    return plan.replace(effect=plan.effect * 2)


@DESIGNS
@pytest.mark.parametrize("power", [0.3, 0.8, 0.95])
@pytest.mark.parametrize("alpha", [0.01, 0.2])
def test_size_found_is_the_smallest_of_all(design: Design, power: float, alpha: float) -> None:
    """Every smaller size that the design allows is looked at: none reaches the target."""
    if power <= alpha:
        pytest.skip("no such question")
    answer = sized(design, power=power, alpha=alpha)
    counting = answer.plan.counting
    steps = np.arange(counting.lowest, counting.step_near(answer.total) + 1)
    powers = answer.plan.power_along(steps)
    assert powers[-1] >= power
    assert not np.any(powers[:-1] >= power)
    assert answer.power == pytest.approx(powers[-1], abs=1e-12)


@DESIGNS
def test_power_rises_with_size_and_effect(design: Design) -> None:
    """More people never see less, and neither does a larger effect; both tend to 1."""
    plan = sized(design).plan
    steps = np.unique(np.geomspace(plan.counting.lowest, 3000, 60).astype(int))
    powers = plan.power_along(steps)
    assert np.all(np.diff(powers) > -1e-12)
    assert powers[-1] > 0.999
    larger = doubled(plan).power_along(steps)
    some = steps >= 10  # the score test of one or two people is no test
    assert np.all(larger[some] >= powers[some] - 1e-12)


@DESIGNS
def test_without_an_effect_power_is_alpha(design: Design) -> None:
    """Whatever the size."""
    plan = sized(design).plan.replace(effect=0.0)
    if getattr(plan, "means", ()):
        plan = plan.replace(means=())
    steps = np.array([plan.counting.lowest, plan.counting.lowest + 7, 500])
    assert plan.power_along(steps) == pytest.approx(np.full(3, 0.05), abs=1e-9)


@DESIGNS
@pytest.mark.parametrize("power", [0.5, 0.9])
def test_solve_power_solve_agrees(design: Design, power: float) -> None:
    """Size -> smallest effect at it -> its power; and the alpha at which that effect has that power is the one "
    "given."""
    total = sized(design, power=power).total
    found = at_total(design, "effect", total, power=power)
    assert found.power == pytest.approx(power, abs=1e-9)
    assert found.power >= power
    again = settle(design, "power", {**_restated(design, found), "n": total})
    assert again.answer == pytest.approx(power, abs=1e-7)
    alpha = settle(design, "alpha", {**_restated(design, found), "n": total, "power": power})
    assert alpha.answer == pytest.approx(0.05, rel=1e-6)


def _restated(design: Design, found: Answer) -> dict[str, Any]:
    """The starting values with the effect found in place of theirs."""
    ways = next(ways for ways in design.ways if any(design.primary in way.names for way in ways))
    names = {name for way in ways for name in way.names}
    kept = {name: value for name, value in start(design).items() if name not in names or name in design.stands_alone}
    more = {"df": found.details["df"]} if any(a.name == "df" for a in design.assumptions) else {}
    return {**kept, **more, design.primary: float(found.answer)}


@pytest.mark.parametrize("design", SIDED, ids=lambda design: design.id)
def test_sides_and_signs_mirror(design: Design) -> None:
    """Upwards for an effect is downwards for its mirror image; two-sided needs no fewer than one-sided."""
    answer = sized(design, sides="greater")
    mirrored = answer.plan.replace(effect=-answer.plan.effect, sides="less")
    if hasattr(mirrored, "proportion1"):
        mirrored = mirrored.replace(proportion1=1 - mirrored.proportion1)
    if hasattr(mirrored, "proportion10"):
        mirrored = mirrored.replace(proportion10=mirrored.proportion10 + answer.plan.effect)
    if design.id in LOPSIDED:
        return
    if getattr(mirrored, "null_rho", 0.0) == 0.0:
        assert mirrored.power(answer.sizes()) == pytest.approx(answer.plan.power(answer.sizes()), abs=1e-10)
    assert sized(design).total >= answer.total
    down = at_total(design, "effect", answer.total, direction="down")
    up = at_total(design, "effect", answer.total)
    if hasattr(mirrored, "proportion1"):
        return  # no effect is as large downwards: proportions nearer to 0 or 1 scatter less
    assert abs(float(down.plan.effect)) == pytest.approx(abs(float(up.plan.effect)), rel=1e-8)


@pytest.mark.parametrize("design", BALANCED, ids=lambda design: design.id)
def test_any_total_is_never_larger(design: Design) -> None:
    """Counting to any total finds a total at most as large, and every one below it fails."""
    grouped, free = sized(design), sized(design, balance="any")
    assert free.total <= grouped.total
    below = np.arange(free.plan.counting.lowest, free.total)
    assert np.all(free.plan.power_along(below) < 0.8)


@DESIGNS
@pytest.mark.parametrize("dropout", [0.1, 0.25, 0.5])
def test_enrolment_leaves_enough(design: Design, dropout: float) -> None:
    """After dropout every group still has the participants analysed; one fewer enrolled would not do."""
    answer = sized(design, dropout=dropout)
    assert answer.total == sized(design).total
    for enrolled, analysed in zip(answer.enrol, answer.groups, strict=True):
        assert enrolled * (1 - dropout) >= analysed - 1e-6
        assert (enrolled - 1) * (1 - dropout) < analysed


UNEVEN = [d for d in BALANCED if {"n1", "n2"} <= {name for way in d.sizes for name in way.names}]


@pytest.mark.parametrize("design", UNEVEN, ids=lambda design: design.id)
@pytest.mark.parametrize("find", ["alpha", "effect"])
def test_a_total_that_does_not_split_is_split_as_suits_what_is_found(design: Design, find: str) -> None:
    """Of both splits the one with the smaller alpha, or with the effect that is nearer to none."""

    def looked_for(answer: Answer) -> float:
        return answer.answer if find == "alpha" else abs(float(answer.plan.effect))

    found = at_total(design, find, 37)
    values = {name: value for name, value in start(design).items() if name not in design.unused_names(find)}
    splits = [settle(design, find, {**values, "n1": n1, "n2": 37 - n1}) for n1 in (18, 19)]
    assert sorted(found.groups) == [18, 19]
    assert looked_for(found) == pytest.approx(min(looked_for(split) for split in splits), rel=1e-9)
