"""Rehearsals at several sizes, and the search for the size that simulation asks for."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import special

from ragwort.designs import all_designs, design_named
from ragwort.designs.design import Design
from ragwort.rehearsal import Departing, planned
from ragwort.rehearsal.by_size import at_sizes, needed, probit_line

TWO = {"difference": 12, "sd": 24}


def test_the_line_is_the_one_that_made_the_shares() -> None:
    """From shares that a known line makes, the line comes back, within the errors it says of itself."""
    x = np.sqrt([60.0, 100.0, 140.0, 200.0])
    of = np.full(4, 50_000.0)
    hits = np.random.default_rng(4).binomial(50_000, special.ndtr(-1.5 + 0.2 * x)).astype(float)
    line, covariance = probit_line(x, hits, of)
    assert np.all(np.abs(line - [-1.5, 0.2]) < 4 * np.sqrt(np.diag(covariance)))


@pytest.mark.parametrize(
    "design", [each for each in all_designs() if each.tested and each.id not in {"chi-square-fit"}], ids=lambda d: d.id
)
def test_simulation_finds_the_size_that_the_formula_finds(design: Design) -> None:
    """Within its own interval and two steps of the counting; a normal approximation within 6%."""
    of = planned(design, "n", design.starting)
    found = needed(of, Departing())
    assert found.n is not None
    assert found.low is not None
    assert found.high is not None
    steps = of.answer.plan.counting
    step = int(np.ceil(steps.ways(np.array([steps.lowest + 1]))[0] - 1e-9).sum()) - int(
        np.ceil(steps.ways(np.array([steps.lowest]))[0] - 1e-9).sum()
    )
    slack = max(2 * step, 0.06 * of.answer.total)
    assert found.low - slack <= of.answer.total <= found.high + slack
    assert found.spent < 40_000


def test_another_world_asks_for_another_size() -> None:
    """A difference of 8 needs what a plan for 8 needs; with no effect no size is enough."""
    of = planned(design_named("two-means"), "n", TWO)
    smaller = planned(design_named("two-means"), "n", {**TWO, "difference": 8}).answer.total
    found = needed(of, Departing(asked={"effect": 8.0}))
    assert found.n == pytest.approx(smaller, rel=0.05)
    assert needed(of, Departing(asked={"effect": "none"})).n is None


def test_power_at_several_sizes_lies_on_the_formula() -> None:
    """Each within 4 standard errors, in the order asked for; the same seed gives the same."""
    of = planned(design_named("two-means"), "n", TWO)
    found = at_sizes(of, Departing(), [40, 80, 160], 4000)
    assert [each.total for each in found] == [40, 80, 160]
    for each in found:
        assert each.tally.power == pytest.approx(each.formula, abs=4 * each.tally.standard_error)
    assert found == at_sizes(of, Departing(), [40, 80, 160], 4000)
