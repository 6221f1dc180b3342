"""Sizes for intervals: the smallest that is narrow enough, with each goal; identities; the chance, by simulation."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.designs import Answer, Design, RequestError, all_designs, answer_request, design_named, settle
from ragwort.designs.kinds import PrecisionPlan
from ragwort.stats import limits, simulated

PRECISE = [design for design in all_designs() if not design.tested]
DESIGNS = pytest.mark.parametrize("design", PRECISE, ids=lambda design: design.id)


def found(design: str, find: str = "n", **values: Any) -> Answer:
    """An answer."""
    return settle(design_named(design), find, values)


@DESIGNS
@pytest.mark.parametrize("share", [0.5, 1.0, 1.7])
def test_the_size_found_is_the_smallest_of_all(design: Design, share: float) -> None:
    """Every smaller size is looked at: its half width is too large."""
    wanted = design.starting["half_width"] * share
    answer = settle(design, "n", {**design.starting, "half_width": wanted})
    plan, counting = answer.plan, answer.plan.counting
    assert isinstance(plan, PrecisionPlan)
    steps = np.arange(counting.lowest, counting.step_near(answer.total) + 1)
    widths = np.array([float(plan.half_width(counting.ways(np.array([step]))[0])[0]) for step in steps])
    assert widths[-1] <= wanted
    assert np.all(widths[:-1] > wanted)
    assert np.all(np.diff(widths) < 0)


@DESIGNS
def test_width_and_confidence_find_each_other(design: Design) -> None:
    """Size -> half width at it -> the confidence at which that is the half width."""
    sized = settle(design, "n", design.starting)
    sizes = design.sizes_as_values(sized.groups, sized.plan)
    values = {**design.starting, **sizes, "confidence": 0.9}
    width = settle(design, "effect", {name: each for name, each in values.items() if name != "half_width"})
    again = settle(design, "confidence", {**values, "half_width": width.answer})
    assert again.answer == pytest.approx(0.9, abs=1e-9)
    assert again.effect["half_width"] == pytest.approx(width.answer, rel=1e-9)


@pytest.mark.parametrize("design", [design for design in PRECISE if "power" in design.finds], ids=lambda d: d.id)
@pytest.mark.parametrize("power", [0.3, 0.8, 0.99])
def test_the_size_with_a_chance_is_the_smallest_of_all(design: Design, power: float) -> None:
    """Also where the chance falls among the first sizes."""
    for share in (0.7, 3.0, 12.0):
        values = {**design.starting, "goal": "assured", "power": power}
        values["half_width"] = design.starting["half_width"] * share
        answer = settle(design, "n", values)
        steps = np.arange(answer.plan.counting.lowest, answer.plan.counting.step_near(answer.total) + 1)
        chances = answer.plan.power_along(steps)
        assert chances[-1] >= power
        assert np.all(chances[:-1] < power)
        kept = settle(design, "effect", {**values, "n": answer.total} | {"half_width": 1})
        at = settle(design, "power", {**values, "n": answer.total, "half_width": kept.answer})
        assert at.answer == pytest.approx(power, abs=1e-9)


def test_two_known_means_are_one_mean_but_for_root_two() -> None:
    """Equal sizes."""
    two = found("precision-two-means", "effect", sd=7.0, variance="known", n1=40, n2=40).answer
    assert two == pytest.approx(math.sqrt(2) * found("precision-mean", "effect", sd=7.0, sd_known=True, n=40).answer)


@pytest.mark.parametrize("n", [1, 25, 299])
def test_nobody_with_the_event_leaves_the_rule_of_three(n: int) -> None:
    """Exact: 1 - (alpha / 2) ** (1 / n)."""
    answer = found("precision-proportion", "effect", proportion=0, n=n, method="exact", confidence=0.9)
    assert answer.effect["upper"] == pytest.approx(1 - 0.05 ** (1 / n), rel=1e-12)
    assert answer.effect["lower"] == 0


@pytest.mark.parametrize("method", ["wilson", "exact", "wald"])
@pytest.mark.parametrize(("yes", "of"), [(3, 40), (1, 7), (20, 31)])
def test_limits_are_those_that_tests_do_not_reject(method: str, yes: int, of: int) -> None:
    """Each limit put back into its own equation."""
    low, high = (float(each) for each in limits.BY_METHOD[method](yes / of, of, 0.05))
    z, p = stats.norm.isf(0.05), yes / of
    if method == "exact":
        assert stats.binom.sf(yes - 1, of, low) == pytest.approx(0.05, rel=1e-9)
        assert stats.binom.cdf(yes, of, high) == pytest.approx(0.05, rel=1e-9)
    else:
        for limit in (low, high):
            spread = p * (1 - p) if method == "wald" else limit * (1 - limit)
            assert abs(p - limit) == pytest.approx(z * math.sqrt(spread / of), rel=1e-9)


def test_the_chance_is_how_often_it_happens() -> None:
    """100 000 samples of 20: how many intervals of the mean are no wider; drawn and analysed as rehearsals do."""
    answer = found("precision-mean", "power", sd=10.0, half_width=4.5, n=20, goal="assured")
    population = simulated.Population(np.random.default_rng(3))
    seen = answer.plan.analyse(answer.plan.draw((20,), population, 100_000))
    widths = (seen.high - seen.low) / 2
    assert float(np.mean(widths <= 4.5)) == pytest.approx(answer.answer, abs=4 * math.sqrt(0.25 / 100_000))
    assert float(np.mean((seen.low <= 0) & (seen.high >= 0))) == pytest.approx(0.95, abs=0.003)


def test_a_census_has_no_width() -> None:
    """And no confidence to be found."""
    assert found("precision-mean", "effect", sd=10.0, n=50, population=50).answer == 0
    assert found("precision-proportion", "effect", proportion=0.3, n=50, population=50).answer == 0
    with pytest.raises(RequestError) as refused:
        found("precision-proportion", "confidence", proportion=0.3, n=50, population=50, half_width=0.1)
    assert refused.value.field == "half_width"


def test_more_to_recruit_than_there_are_is_said() -> None:
    """With dropout."""
    answer = found("precision-mean", sd=10.0, half_width=0.5, population=60, dropout=0.2)
    assert any("more than the population of 60" in note for note in answer.notes)


@pytest.mark.parametrize(
    ("design", "find", "values", "field"),
    [
        ("precision-proportion", "confidence", {"proportion": 0.3, "n": 50, "lower_limit": 0.2}, "half_width"),
        ("precision-proportion", "effect", {"proportion": 0.3, "n": 80, "population": 50}, "n"),
        ("precision-mean", "n", {"half_width": 1, "sd": 2, "sd1": 3, "sd2": 3, "correlation": 0.1}, "sd"),
        ("precision-mean", "n", {"half_width": 1, "sd": 2, "population": 1}, "population"),
        ("precision-mean", "alpha", {"half_width": 1, "sd": 2, "n": 9}, "find"),
    ],
)
def test_what_cannot_be_names_its_field(design: str, find: str, values: dict[str, Any], field: str) -> None:
    """Beside the bad requests among the reference cases."""
    answer = answer_request({"design": design, "find": find, "assumptions": values})
    assert answer["error"]["field"] == field
