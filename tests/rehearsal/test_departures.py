"""What must hold when the world departs from the plan."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.designs import RequestError, all_designs, design_named
from ragwort.rehearsal import Departing, Planned, Tally, planned, rehearse, stage
from ragwort.rehearsal.departures import DEPARTURES, in_words, read
from ragwort.stats.simulated import Population, Shape

RNG = np.random.default_rng
TWO = {"difference": 12, "sd": 24}
CLUSTERS = {"difference": 3, "sd": 10, "icc": 0.05, "cluster_size": 20}
ANY = {
    "timing": Departing(asked={"timing": "early"}),
    "shape": Departing(asked={"shape": "lognormal"}),
    "apart": Departing(asked={"apart": 1.5}),
    "lost": Departing(asked={"lost": 0.2, "related": "high"}),
    "idle": Departing(asked={"idle": 0.2}),
    "effect": Departing(asked={"effect": "none"}),
    "alike": Departing(asked={"alike": 0.5}),
    "cv": Departing(asked={"cv": 0.5}),
}


def of(design: str, find: str = "n", **given: Any) -> Planned:
    """What is planned."""
    return planned(design_named(design), find, given)


def run(plan: Planned, replicates: int = 20_000, **asked: Any) -> Tally:
    """A rehearsal in one world."""
    return rehearse(stage(plan, read(asked, plan)), replicates, seed=7)


@pytest.mark.parametrize(
    ("shape", "skewness"),
    [
        (Shape("normal"), 0.0),
        (Shape("lognormal", 2.0), 2.0),
        (Shape("gamma", 1.5), 1.5),
        (Shape("t", 8.0), 0.0),
        (Shape("bounded", low=-1.5, high=3.0), None),
    ],
)
def test_shapes_have_the_mean_the_sd_and_the_skewness_asked_for(shape: Shape, skewness: float | None) -> None:
    """Mean 0.4 and SD 1 whatever the shape; within the bounds where there are any."""
    values = Population(RNG(3), shape).outcomes(0.4, 1.0, (400_000,))
    assert values.mean() == pytest.approx(0.4, abs=0.01)
    assert values.std() == pytest.approx(1.0, abs=0.015)
    if skewness is None:
        assert shape.low <= values.min() < values.max() <= shape.high
    else:
        assert stats.skew(values) == pytest.approx(skewness, abs=0.12)


def test_a_floor_and_a_ceiling_cut_off() -> None:
    """As many lie on it as the normal distribution has beyond it."""
    low = Population(RNG(3), Shape("floor", 1.0)).outcomes(0.0, 1.0, (100_000,))
    high = Population(RNG(3), Shape("ceiling", 0.5)).outcomes(0.0, 1.0, (100_000,))
    assert np.mean(low == -1.0) == pytest.approx(stats.norm.sf(1.0), abs=0.005)
    assert np.mean(high == 0.5) == pytest.approx(stats.norm.sf(0.5), abs=0.005)


def test_skew_hardly_moves_the_type_one_error_of_the_t_test() -> None:
    """At 64 per group, pooled t, equal SDs."""
    assert run(of("two-means", **TWO), effect="none", shape="lognormal").power == pytest.approx(0.05, abs=0.006)


def test_unequal_sds_with_unequal_groups_break_the_pooled_t_test_and_not_welch() -> None:
    """The smaller group scatters more: far too many rejections, unless Welch's test is used."""
    plan = of("two-means", **TWO, ratio=0.4)
    errors = [run(plan, effect="none", apart=apart).power for apart in (1.0, 1.5, 2.5)]
    assert errors[0] == pytest.approx(0.05, abs=0.006)
    assert errors[0] + 0.02 < errors[1] < errors[2] - 0.02
    assert run(plan, effect="none", apart=2.5, analysis="unequal").power == pytest.approx(0.05, abs=0.006)
    assert run(of("two-means", **TWO), effect="none", apart=2.5).power == pytest.approx(0.05, abs=0.008)


def test_forgetting_the_clusters_inflates_the_error_as_the_design_effect_says() -> None:
    """The statistic of individuals is wider by the root of the design effect."""
    plan = of("cluster-means", **CLUSTERS)
    design_effect = 1 + 0.05 * 19
    expected = 2 * stats.norm.sf(1.96 / design_effect**0.5)
    assert run(plan, effect="none", analysis="individuals").power == pytest.approx(expected, abs=0.012)
    assert run(plan, effect="none").power == pytest.approx(0.05, abs=0.006)
    shares = of("cluster-proportions", proportion1=0.3, proportion2=0.4, icc=0.05, cluster_size=20)
    assert run(shares, effect="none", analysis="individuals").power == pytest.approx(expected, abs=0.02)


def test_forgetting_the_pairs_costs_power_as_the_correlation_says() -> None:
    """As two groups of as many, with the SDs of single values."""
    plan = of("paired-means", difference=5, sd1=10, sd2=10, correlation=0.6)
    n = plan.answer.total
    separate = of("two-means", "power", difference=5, sd=10, n1=n, n2=n).answer.power
    found = run(plan, analysis="unpaired").power
    assert found < separate < plan.answer.power  # the gap still scatters as within pairs, so fewer still are found
    assert run(plan, effect="none", analysis="unpaired").power < 0.03


def test_another_true_effect_has_the_power_of_a_plan_for_it() -> None:
    """Of a difference of 8 at the size planned for 12."""
    plan = of("two-means", **TWO)
    expected = of("two-means", "power", difference=8, sd=24, n=plan.answer.total).answer.power
    assert run(plan, effect=8).power == pytest.approx(expected, abs=0.012)
    assert run(plan, effect=8).truth == 8


def test_loss_has_the_power_of_a_smaller_study() -> None:
    """Of as many as are left; those the plan has lost already are not lost twice."""
    plan = of("two-means", **TWO, dropout=0.1)
    assert run(plan, lost=0.1).power == pytest.approx(plan.answer.power, abs=0.012)
    enrolled = plan.answer.enrol[0]
    left = of("two-means", "power", **TWO, n1=round(enrolled * 0.6), n2=round(enrolled * 0.6)).answer.power
    assert run(plan, lost=0.4).power == pytest.approx(left, abs=0.015)


def test_loss_that_more_clusters_make_up_for_leaves_smaller_ones() -> None:
    """As many clusters as are recruited, each with its people, of whom a tenth is lost; or more people in each."""
    given = {"difference": 5.0, "sd": 10.0, "icc": 0.05, "cluster_size": 20, "dropout": 0.2}
    plan = of("cluster-means", **given, dropout_made_up_by="clusters")
    clusters = plan.answer.n_more["enrol_clusters"]
    drawn = stage(plan, Departing(asked={"lost": 0.2}))
    assert (drawn.sizes, drawn.more) == (tuple(20 * number for number in clusters), 1.0)
    left = of("cluster-means", "power", **{**given, "cluster_size": 16, "dropout": 0}, clusters=clusters[0]).answer
    assert run(plan, lost=0.2).power == pytest.approx(left.power, abs=0.015)
    larger = stage(of("cluster-means", **given), Departing(asked={"lost": 0.2}))
    assert (larger.sizes, larger.more) == (plan.answer.groups, 1.25)


def test_loss_that_goes_with_the_outcome_biases_the_estimate() -> None:
    """Of those with high outcomes more are lost, and more so in the group that has higher ones."""
    plan = of("two-means", **TWO)
    assert run(plan, lost=0.3).mean == pytest.approx(12, abs=0.15)
    assert run(plan, lost=0.3, related="high").mean < 11.3
    shares = of("two-proportions", proportion1=0.5, proportion2=0.3)
    assert abs(run(shares, lost=0.3).mean + 0.2) < 0.002


def test_people_who_take_no_part_dilute_the_effect() -> None:
    """By their share."""
    assert run(of("two-means", **TWO), idle=0.25).mean == pytest.approx(9, abs=0.15)
    assert run(of("two-proportions", proportion1=0.5, proportion2=0.3), idle=0.5).mean == pytest.approx(-0.1, abs=0.002)
    f = of("anova-one-way", means=[10.0, 14.0], sd=8, groups=2)
    assert run(f, idle=0.5).power < run(f).power - 0.2


def test_a_correlation_off_by_a_factor() -> None:
    """A larger ICC costs power, a smaller one buys it; so does a closer correlation within pairs."""
    plan = of("cluster-means", **CLUSTERS)
    worse, as_planned, better = (run(plan, alike=factor).power for factor in (2.0, 1.0, 0.2))
    assert worse + 0.05 < as_planned < better - 0.05
    pairs = of("paired-means", difference=5, sd1=10, sd2=10, correlation=0.5)
    assert run(pairs, alike=1.5).power > run(pairs).power + 0.05
    course = of("anova-repeated", f=0.15, groups=2, measurements=4, correlation=0.5, term="interaction")
    assert run(course, alike=0.4).power < run(course).power - 0.05


def test_cluster_sizes_that_vary_more_cost_power() -> None:
    """At the same number of clusters."""
    plan = of("cluster-means", **CLUSTERS)
    assert run(plan, cv=0.9).power < run(plan).power - 0.04


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_every_design_takes_a_departure_or_says_why_not(design: Any) -> None:
    """What can be had is rehearsed, and differs from the plan; what cannot is refused with the reason."""
    plan = planned(design, "n", design.starting)
    before = rehearse(stage(plan, Departing()), 2000)
    for departure in DEPARTURES:
        asked = ANY.get(departure.name) or Departing(
            asked={"analysis": next(iter(plan.answer.plan.wrong_ways), "forget")}
        )
        reason = departure.barred(plan)
        if reason:
            with pytest.raises(RequestError, match=r"cannot have|can be"):
                read(asked.asked, plan)
            continue
        assert in_words(asked, plan) != "as planned"
        after = rehearse(stage(plan, asked), 2000)
        assert after != before
        assert after.undone < 100


@pytest.mark.parametrize(
    ("asked", "field", "words"),
    [
        ({"lost": 1.0}, "lost", "below 1"),
        ({"shape": "odd"}, "shape", "normal, lognormal"),
        ({"size": 2}, "size", "no size"),
        ({"shape": "t", "size": 2}, "size", "above 2"),
        ({"shape": "bounded", "low": 1.0, "high": 2.0}, "shape", "leave out a mean of 0"),
        ({"shape": "bounded", "low": -0.5, "high": 0.6}, "shape", "cannot vary"),
        ({"strange": 1}, "strange", "no departure"),
        ({"analysis": "unpaired"}, "analysis", "unequal"),
        ({"effect": "much"}, "difference", "must be a number"),
        ({"alike": 2}, "alike", "No correlation"),
        ({"idle": 2}, "idle", "from 0 to 1"),
    ],
)
def test_worlds_that_cannot_be_had(asked: dict[str, Any], field: str, words: str) -> None:
    """Which word is wrong, and what would be allowed."""
    plan = of("two-means", **TWO)
    with pytest.raises(RequestError, match=words) as refused:
        stage(plan, read(asked, plan))
    assert refused.value.field == field


def test_a_correlation_that_would_be_above_one() -> None:
    """A factor is refused where it leaves what a correlation can be."""
    plan = of("paired-means", difference=5, sd1=10, sd2=10, correlation=0.6)
    with pytest.raises(RequestError, match=r"would be 1\.8"):
        stage(plan, read({"alike": 3}, plan))


def test_a_study_too_large_to_be_rehearsed() -> None:
    """Refused with what would be allowed, not with the memory gone."""
    plan = of("two-means", "power", difference=0.01, sd=10, n=8_000_000)
    with pytest.raises(RequestError, match=r"cannot be rehearsed: 5.000.000 people at most"):
        stage(plan, Departing())
