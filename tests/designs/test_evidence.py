"""Routes to an effect: what they find, their intervals and lower limits, and what no data can give."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.designs import Design, RequestError, all_designs, design_named, settle
from ragwort.designs.evidence import Finding, Route

ROUTED = [design for design in all_designs() if design.evidence]


def route(design: str, name: str) -> Route:
    """A route of a design."""
    return {each.name: each for each in design_named(design).evidence}[name]


def find(design: str, name: str, **inputs: Any) -> Finding:
    """What a route finds."""
    return route(design, name).find(inputs)


@pytest.mark.parametrize("design", ROUTED, ids=lambda design: design.id)
def test_routes_lead_to_assumptions_of_their_design(design: Design) -> None:
    """Rules of thumb come last and are marked; every input has a label; what is found gives a sample size."""
    names = [each.name for each in design.evidence]
    assert len(set(names)) == len(names)
    assert [each.last_resort for each in design.evidence] == sorted(each.last_resort for each in design.evidence)
    for each in design.evidence:
        assert all(asked.label for asked in each.inputs)
        if each.last_resort:
            inputs = {asked.name: "medium" if asked.chosen else 10 for asked in each.inputs}
            found = each.find(inputs)
            assert "rule of thumb" in found.remark
            restated = [{name for way in ways for name in way.names} for ways in design.ways]
            gone = {name for names in restated for name in names if names & set(found.values)}
            kept = {name: value for name, value in design.starting.items() if name not in gone}
            assert settle(design, "n", {**kept, **found.values}).total > 2


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
