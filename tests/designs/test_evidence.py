"""Routes to an effect: what they find, their intervals and lower limits, and what no data can give."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.designs import Answer, Design, RequestError, all_designs, design_named, settle
from ragwort.designs.evidence import Finding, Route
from ragwort.designs.sizes.strata import Kinds
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of


def route(design: str, name: str) -> Route:
    """A route of a design."""
    return {each.name: each for each in design_named(design).evidence}[name]


def find(design: str, name: str, **inputs: Any) -> Finding:
    """What a route finds."""
    return route(design, name).find(inputs)


# Inputs for every route, by name; a route takes those that it asks for.
_PLAIN: dict[str, Any] = {
    **{"difference": 12.0, "mean": 410.0, "mean1": 398.0, "mean2": 410.0, "null_mean": 400.0},
    **{"sd": 24.0, "sd1": 24.0, "sd2": 26.0, "sd_difference": 20.0, "sd_predictor": 2.0, "sd_residual": 20.0},
    **{
        "values": [396.0, 420.0, 431.0, 409.0],
        "values1": [1.0, 2.0, 4.0, 3.0, 7.0],
        "values2": [3.0, 2.5, 6.0, 5.0, 9.0],
    },
    **{"n": 60, "n1": 30, "n2": 30, "n_pairs": 100, "t": 2.5, "p": 0.01, "df": 40.0, "value": 0.4, "which": "d"},
    **{"correlation": 0.5, "sphericity": 0.8, "measurements": 4, "cells": [[1.0, 2.0, 4.0], [1.0, 3.0, 7.0]]},
    **{"F": 5.0, "df1": 2.0, "df2": 57.0, "means": [10.0, 12.0, 15.0], "sizes": [20, 20, 20], "eta_squared": 0.1},
    **{"r": 0.4, "r_squared": 0.2, "predictors": 3, "r_squared_full": 0.3, "r_squared_reduced": 0.2},
    **{"slope": 4.0, "partial_r": 0.3, "r_squared_predictors": 0.2},
    **{"yes": 20, "yes1": 12, "yes2": 20, "proportion": 0.6, "proportion1": 0.3, "proportion2": 0.5},
    **{"null_proportion": 0.4, "odds_ratio": 2.0, "risk_ratio": 1.5},
    **{"r1": 0.1, "r2": 0.6, "values3": [1.0, 2.0, 3.0, 5.0, 4.0], "values4": [2.0, 1.0, 5.0, 3.0, 6.0]},
    **{"contrast": 5.0, "u": 600.0},
    **{"events1": 80, "time1": 100.0, "events2": 40, "time2": 100.0, "rate1": 1.0, "rate_ratio": 0.6, "fewer": 0.3},
    **{"lower": 380.0, "upper": 420.0, "span1": 30.0, "span2": 50.0},
    **{"proportion10": 0.1, "proportion01": 0.25, "down": 10, "up": 30, "disagree": 0.3},
    **{
        "rmsea": 0.08,
        "df_model": 50,
        "fit": "fair",
        "hazard_ratio": 2.0,
        "median1": 10.0,
        "median2": 14.0,
        "survival1": 0.5,
        "survival2": 0.65,
        "mean_ratio": 0.95,
        "cv": 0.25,
        "sd_within": 20.0,
        "events": 30,
        "time": 20.0,
        "null_rate": 1.0,
        "first": 0.1,
        "last": 0.3,
        "k": 4,
        "yes_counts": [5, 9, 14],
        "people": [40, 41, 42],
        "d": 0.5,
        "low": 1.2,
        "high": 3.0,
    },
    **{"icc": 0.05, "cluster_size": 12.5, "cluster_size_cv": 0.4},
    **{"chi_square": 9.0, "cramers_v": 0.3, "phi": 0.3, "rows": 2, "columns": 3, "categories": 4, "size": "medium"},
}


def inputs_of(route: Route) -> dict[str, Any]:
    """Plausible inputs of a route."""
    scatter = {"sd1": 16.0} if route.inputs[0].label == "SD of group 1" else {}
    counts = [[10.0, 20.0], [20.0, 10.0]] if route.inputs[0].kind == "table" else [30.0, 20.0, 10.0]
    kinds = [{"clusters": 3, "mean_size": 8, "sd_size": 2}, {"clusters": 2, "mean_size": 20, "sd_size": 5}]
    known = {**_PLAIN, **scatter, "kinds": kinds, "counts": counts, "null_proportions": [0.2, 0.3, 0.5]}
    return {asked.name: known[asked.name] for asked in route.inputs if asked.name in known}


NO_CONVENTION = {
    "one-variance",
    "two-variances",
    "two-rates",
    "paired-proportions",
    "logistic",
    "trend-proportions",
    "one-rate",
    "survival",
    "crossover-means",
    "precision-two-proportions",
}  # nobody has said what a small or a large effect is


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_every_route_leads_to_a_sample_size_of_its_design(design: Design) -> None:
    """Each design has routes; rules of thumb come last and are marked; what is found, and its lower limit, compute."""
    names = [each.name for each in design.evidence]
    assert len(names) >= 3
    assert len(set(names)) == len(names)
    assert [each.last_resort for each in design.evidence] == sorted(each.last_resort for each in design.evidence)
    assert design.evidence[-1].last_resort != (design.id in NO_CONVENTION)
    for each in design.evidence:
        assert all(asked.label for asked in each.inputs)
        found = each.find(inputs_of(each))
        assert ("rule of thumb" in found.remark) == each.last_resort
        sizes = [settle(design, "n", stated(design, values)).total for values in (found.values, found.lower) if values]
        assert sizes == sorted(sizes)
        assert sizes[0] > 2
        assert bool(found.interval) >= bool(found.lower)


def stated(design: Design, values: dict[str, Any]) -> dict[str, Any]:
    """A new aim's values with these in place of what they restate."""
    gone = {name for ways in design.ways for way in ways for name in way.names if set(values) & _of(ways)}
    kept = {name: value for name, value in design.starting.items() if name not in gone}
    if "sphericity" in values and values["measurements"] == 2:
        values = {**values, "sphericity": 1.0}
    return {**kept, **values}


def _of(ways: tuple[Any, ...]) -> set[str]:
    return {name for way in ways for name in way.names}


def test_two_groups_of_data_agree_with_the_t_test_on_them() -> None:
    """Means, SDs and sizes give the d whose t is that of the data; so does the published t; both have one interval."""
    rng = np.random.default_rng(2)
    one, two = rng.normal(400, 24, 30), rng.normal(372, 26, 24)
    summary = {
        "mean1": one.mean(),
        "mean2": two.mean(),
        "sd1": one.std(ddof=1),
        "sd2": two.std(ddof=1),
        "n1": 30,
        "n2": 24,
    }
    found = find("two-means", "means", **summary)
    t = float(stats.ttest_ind(two, one).statistic)
    sd = math.sqrt((29 * summary["sd1"] ** 2 + 23 * summary["sd2"] ** 2) / 52)
    published = find("two-means", "t", t=t, n1=30, n2=24, sd=sd)
    assert found.values["difference"] == pytest.approx(two.mean() - one.mean(), rel=1e-3)
    assert found.values["sd"] == pytest.approx(sd, rel=1e-3)
    assert published.values["difference"] == pytest.approx(found.values["difference"], rel=1e-3)
    assert published.interval == found.interval
    low, high = (float(part) for part in found.interval.replace("\u2212", "-").split(": ")[1].split(" to "))
    assert low < found.values["difference"] / sd < high < 0
    assert found.lower["difference"] == pytest.approx(high * sd, rel=0.03)


def test_an_interval_with_no_effect_in_it_has_no_lower_limit() -> None:
    """And says so; without sizes there is no interval at all."""
    few = find("two-means", "means", mean1=10, mean2=11, sd1=4, sd2=4, n1=8, n2=8)
    assert few.lower == {}
    assert "includes no effect" in few.interval
    assert find("two-means", "means", mean1=10, mean2=11, sd1=4, sd2=4).interval == ""
    assert find("correlation", "r", r=0.1, n=20).lower == {}
    assert 0 < find("correlation", "r", r=0.6, n=40).lower["rho"] < 0.6


def test_counts_and_ratios_give_proportions() -> None:
    """Two by two counts, an odds ratio and a risk ratio on top of the first group's share."""
    counted = find("two-proportions", "counts", yes1=20, n1=50, yes2=35, n2=50)
    assert counted.values == {"proportion1": 0.4, "proportion2": 0.7}
    assert 0.4 < counted.lower["proportion2"] < 0.7
    odds = find("two-proportions", "odds_ratio", proportion1=0.4, odds_ratio=3.5)
    assert odds.values["proportion2"] == pytest.approx(0.7)
    assert find("cluster-proportions", "risk_ratio", proportion1=0.4, risk_ratio=1.75).values["proportion2"] == 0.7


def test_published_statistics_of_models_and_tables() -> None:
    """F gives f, R² gives f², counts give a table."""
    assert find("anova-one-way", "F", F=4, df1=2, df2=57).values["f"] == pytest.approx(math.sqrt(8 / 57), rel=1e-3)
    assert find("regression-overall", "r_squared", r_squared=0.2).values["f_squared"] == pytest.approx(0.25)
    table = find("chi-square-table", "counts", counts=[[10, 20], [30, 40]]).values["table"]
    assert table == [[0.1, 0.2], [0.3, 0.4]]
    assert settle(design_named("chi-square-table"), "n", {"table": table}).total > 10


@pytest.mark.parametrize(
    ("design", "name", "inputs", "field"),
    [
        ("two-means", "means", {"mean1": 1, "mean2": 2, "sd1": 1}, "sd2"),
        ("two-means", "means", {"mean1": 1, "mean2": 2, "sd1": 1, "sd2": -1}, "sd2"),
        ("two-means", "means", {"mean1": 1, "mean2": 2, "sd1": 1, "sd2": 1, "n1": 9}, "n2"),
        ("two-means", "t", {"t": 2, "n1": 1, "n2": 9, "sd": 3}, "n1"),
        ("one-mean", "t", {"t": 2, "n": 1, "sd": 3}, "n"),
        ("anova-one-way", "F", {"F": -1, "df1": 2, "df2": 9}, "F"),
        ("correlation", "r", {"r": 1.2}, "r"),
        ("two-proportions", "counts", {"yes1": 9, "n1": 8, "yes2": 1, "n2": 8}, "yes1"),
        ("two-proportions", "counts", {"yes1": 0, "n1": 8, "yes2": 1, "n2": 8}, "yes1"),
        ("two-proportions", "risk_ratio", {"proportion1": 0.6, "risk_ratio": 2}, "risk_ratio"),
        ("two-means", "other", {"which": "g", "value": 0.5, "sd": 3}, "n1"),
        ("two-means", "raw", {"values1": [1, 1, 1], "values2": [1, 2, 3]}, "values1"),
        ("two-means", "p", {"p": 0, "n1": 20, "n2": 20, "sd": 3}, "p"),
        ("paired-means", "raw", {"values1": [1, 2, 3], "values2": [1, 2]}, "values2"),
        ("paired-means", "two_sds", {"difference": 1, "sd1": 2, "sd2": 2, "correlation": 1}, "correlation"),
        ("anova-one-way", "means", {"means": [1, 2, 3], "sd": 2, "sizes": [9, 9]}, "sizes"),
        ("anova-factorial", "cells", {"cells": [[1, 2], [3, 5]], "sd": 2, "n": 4}, "n"),
        ("anova-factorial", "F", {"F": 3, "df1": 2, "df2": 30, "n": 20}, "n"),
        ("anova-repeated", "cells", {"cells": [[1, 2, 3]], "sd": 2, "correlation": -0.6}, "correlation"),
        ("correlation", "raw", {"values1": [1, 2, 3, 4], "values2": [2, 4, 6, 8]}, "values1"),
        ("correlation", "other", {"which": "r_squared", "value": 1.2}, "value"),
        ("regression-overall", "r_squared", {"r_squared": 0.2, "n": 40}, "predictors"),
        ("regression-overall", "r_squared", {"r_squared": 0.2, "n": 4, "predictors": 4}, "n"),
        ("regression-added", "r_squared", {"r_squared_full": 0.2, "r_squared_reduced": 0.3}, "r_squared_reduced"),
        ("one-proportion", "counts", {"yes": 50, "n": 50, "null_proportion": 0.5}, "yes"),
        ("chi-square-fit", "counts", {"counts": [0, 0]}, "counts"),
        ("chi-square-fit", "counts", {"counts": [1, 2], "null_proportions": [0.2, 0.3, 0.5]}, "null_proportions"),
        ("chi-square-table", "counts", {"counts": [[0, 0], [0, 0]]}, "counts"),
        ("chi-square-table", "counts", {"counts": [[1, 2], [3]]}, "counts"),
    ],
)
def test_what_no_data_can_give_is_refused(design: str, name: str, inputs: dict[str, Any], field: str) -> None:
    """The input concerned, with what would be allowed."""
    with pytest.raises(RequestError) as caught:
        find(design, name, **inputs)
    assert caught.value.field == field
    assert caught.value.message.endswith(".")


def limits_of(found: Finding) -> tuple[float, float]:
    """The limits that a finding's interval says."""
    low, high = found.interval.replace("\u2212", "-").split(": ")[1].split(";")[0].split(" to ")
    return float(low), float(high)


def test_raw_values_are_as_good_as_their_summary() -> None:
    """Two groups, pairs, one group, a relation: the same finding as from means and SDs, or from r."""
    rng = np.random.default_rng(3)
    one, two = rng.normal(400, 24, 20), rng.normal(385, 26, 20)
    raw = find("two-means", "raw", values1=one.tolist(), values2=two.tolist())
    sizes = {"n1": 20, "n2": 20}
    sds = {"sd1": one.std(ddof=1), "sd2": two.std(ddof=1)}
    assert raw == find("two-means", "means", mean1=one.mean(), mean2=two.mean(), **sds, **sizes)
    gaps = two - one
    paired = find("paired-means", "raw", values1=one.tolist(), values2=two.tolist())
    summary = {"difference": gaps.mean(), "sd_difference": gaps.std(ddof=1), "n_pairs": 20}
    assert paired == find("paired-means", "means", **summary)
    r = float(np.corrcoef(one, two)[0, 1])
    sds["correlation"] = r
    assert paired == find("paired-means", "two_sds", difference=gaps.mean(), n_pairs=20, **sds)
    related = find("correlation", "raw", values1=one.tolist(), values2=two.tolist())
    assert related.values["rho"] == pytest.approx(r, rel=1e-3)
    single = find("one-mean", "raw", values=one.tolist(), null_mean=380)
    assert single.values["mean"] == pytest.approx(one.mean(), rel=1e-3)
    assert single.effect.startswith("d ")


def test_p_with_sizes_gives_the_effect_of_the_test_behind_it() -> None:
    """The p of a t test and of a correlation, by the library."""
    rng = np.random.default_rng(4)
    one, two = rng.normal(0, 1, 25), rng.normal(1, 1, 30)
    test = stats.ttest_ind(two, one)
    by_t = find("two-means", "t", t=float(test.statistic), n1=25, n2=30, sd=10)
    assert find("two-means", "p", p=float(test.pvalue), n1=25, n2=30, sd=10).values == by_t.values
    r = stats.pearsonr(one, two[:25] + one)
    assert find("correlation", "p", p=float(r.pvalue), n=25).values["rho"] == pytest.approx(r.statistic, rel=1e-3)
    assert find("two-means", "p", p=1e-12, n1=2, n2=2, sd=1).lower["difference"] > 0
    assert find("two-means", "t", t=-1e4, n1=2, n2=9_999_999, sd=1).lower["difference"] < 0
    assert find("anova-one-way", "F", F=1e6, df1=1, df2=3).lower["f"] > 0
    assert find("chi-square-table", "chi_square", chi_square=1e6, n=5, rows=2, columns=2).lower["w"] > 0


def test_f_and_chi_square_intervals_reach_no_effect_when_their_test_is_at_its_limit() -> None:
    """At p = 0.025 the lower limit is 0; beyond it is above."""
    limit = float(stats.f.isf(0.025, 3, 80))
    assert find("anova-one-way", "F", F=limit * 0.999, df1=3, df2=80).lower == {}
    assert 0 < find("anova-one-way", "F", F=limit * 1.01, df1=3, df2=80).lower["f"] < 0.05
    limit = float(stats.chi2.isf(0.025, 2))
    assert find("chi-square-table", "chi_square", chi_square=limit * 0.999, n=90, rows=2, columns=3).lower == {}
    assert find("chi-square-table", "chi_square", chi_square=limit * 1.01, n=90, rows=2, columns=3).lower["w"] > 0


def test_means_of_groups_have_the_f_and_interval_of_their_analysis_of_variance() -> None:
    """The interval from means, SD and sizes is the one from the F that the data give."""
    rng = np.random.default_rng(8)
    groups = [rng.normal(mean, 5, n) for mean, n in ((10, 20), (13, 24), (15, 22))]
    sd = math.sqrt(sum(float(each.var(ddof=1)) * (len(each) - 1) for each in groups) / 63)
    means = [float(each.mean()) for each in groups]
    found = find("anova-one-way", "means", means=means, sd=sd, sizes=[20, 24, 22])
    published = find("anova-one-way", "F", F=float(stats.f_oneway(*groups).statistic), df1=2, df2=63)
    assert found.interval == published.interval
    assert found.lower["f"] == pytest.approx(published.lower["f"], rel=1e-3)
    assert limits_of(found)[0] < published.values["f"] < limits_of(found)[1]
    assert "the sizes the data have" in found.remark
    assert find("anova-one-way", "means", means=means, sd=sd, sizes=[22, 22, 22]).remark == ""


def test_repeated_measurements_take_f_back_to_the_scatter_of_one_measurement() -> None:
    """An F that is the noncentrality of the design gives the f that it was made of, for each question."""
    for term, df1, scale in (("within", 3, 4 / 0.4), ("interaction", 3, 4 / 0.4), ("between", 1, 4 / 2.8)):
        shift = 0.3**2 * 50 * scale
        given = {"F": shift / df1, "df1": df1, "df2": 100, "n": 50, "measurements": 4, "correlation": 0.6}
        found = find("anova-repeated", "F", term=term, **given)
        assert found.values["f"] == pytest.approx(0.3)
        assert found.values["term"] == term
    cells = [[10.0, 12.0, 14.0], [10.0, 10.0, 10.0]]
    time = find("anova-repeated", "cells", cells=cells, sd=4, correlation=0.5, term="within")
    assert time.values["f"] == pytest.approx(math.sqrt(2 / 3) / 4, rel=1e-3)
    assert (time.values["groups"], time.values["measurements"]) == (2, 3)
    with pytest.raises(RequestError, match="two groups"):
        find("anova-repeated", "cells", cells=cells[:1], sd=4, correlation=0.5, term="between")


def test_an_estimate_below_zero_is_no_icc_to_plan_on() -> None:
    """It is taken as 0, and said; with clusters there is no interval as for independent people."""
    found = find("cluster-means", "clusters", icc=-0.02, cluster_size=12.3, cluster_size_cv=0.4, sd=24)
    assert found.values == {"icc": 0, "cluster_size": 12.3, "cluster_size_cv": 0.4, "sd": 24}
    assert "below 0" in found.remark
    data = {"mean1": 410, "mean2": 398, "sd1": 24, "sd2": 26}
    assert find("cluster-means", "means", **data).interval == ""
    assert "independent" in find("cluster-means", "means", **data).remark


def test_one_share_against_a_known_one() -> None:
    """The score interval, and the limit nearer to what is known."""
    found = find("one-proportion", "counts", yes=40, n=50, null_proportion=0.5)
    low, high = stats.binomtest(40, 50).proportion_ci(method="wilson")
    assert found.interval.startswith(f"95% interval of the proportion: {100 * low:.1f} to {100 * high:.1f}")
    assert found.lower["proportion"] == pytest.approx(low, rel=1e-3)
    assert find("one-proportion", "counts", yes=27, n=50, null_proportion=0.5).lower == {}


def test_percentages_have_no_interval_and_known_shares_may_be_left_out() -> None:
    """A table that is not of people says nothing of how sure it is."""
    counts = [[10, 20], [30, 40]]
    assert find("chi-square-table", "counts", counts=counts, counted="counts").interval
    assert find("chi-square-table", "counts", counts=counts, counted="percentages").interval == ""
    found = find("chi-square-fit", "counts", counts=[30, 20, 10])
    assert found.values["null_proportions"] == pytest.approx([1 / 3] * 3)
    chi_square = float(stats.chisquare([30, 20, 10]).statistic)
    again = find("chi-square-fit", "chi_square", chi_square=chi_square, n=60, categories=3)
    assert again.interval == found.interval


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_an_aim_takes_over_what_every_route_finds(design: Design) -> None:
    """Typed as a person would, kept as the source, in place of what stated the same before; undone by another route."""
    aim = edits.new_aim(design, "An aim")
    study = Study(aims=(aim,))
    for each in design.evidence:
        texts = edits.as_typed(each, inputs_of(each))
        found = each.find(edits.read_inputs(each, texts, ""))
        for lower in (False, True) if found.lower else (False,):
            study = edits.use_evidence(study, aim.id, each, texts, lower).study
            taken = study.aim(aim.id)
            outcome = outcome_of(taken)
            assert isinstance(outcome, Answer), (each.name, outcome)
            entry = taken.entry(next(iter(found.lower if lower else found.values)))
            assert (entry.evidence.route, entry.evidence.inputs, entry.evidence.lower) == (each.name, texts, lower)
            assert entry.source.startswith(each.label)
            assert entry.source.endswith("lower limit") == lower


def test_clusters_of_each_kind_become_shares_that_give_them_back() -> None:
    """Three small wards and two large ones hold equally many people; any number of such clusters splits so."""
    kinds = [
        {"clusters": 3, "mean_size": 8, "sd_size": 2},
        {"clusters": 8, "mean_size": 18, "sd_size": 4},
        {"clusters": 2, "mean_size": 31, "sd_size": 9},
    ]
    found = find("cluster-means", "kinds", kinds=kinds)
    shares = [each["share"] for each in found.values["strata"]]
    assert shares == pytest.approx([24 / 230, 144 / 230, 62 / 230], abs=1e-6)
    assert math.fsum(shares) == pytest.approx(1, abs=1e-15)
    of_clusters = np.array(shares) / [8, 18, 31]
    for times in (1, 2, 40):
        numbers = Kinds(tuple(of_clusters / of_clusters.sum()), (8, 18, 31)).numbers(np.array(13 * times))
        assert numbers.tolist() == [3 * times, 8 * times, 2 * times]
    with pytest.raises(RequestError, match="Row 2 must have at least one cluster"):
        find("cluster-proportions", "kinds", kinds=[kinds[0], {**kinds[1], "clusters": 0}])
