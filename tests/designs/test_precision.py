"""The interval that is expected: formulas by hand, and the mean of simulated intervals."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.designs import Answer, all_designs, answer_request, design_named, settle
from ragwort.stats.simulated.population import Population

_BY_WARD = {"icc": 0.03, "cluster_size": 20, "clusters": 14}


def answer(design: str, **values: Any) -> Answer:
    return settle(design_named(design), "power", values)


def half(design: str, **values: Any) -> float:
    found = answer(design, **values).interval
    assert found is not None
    return float(found.half_width)


def test_means_by_hand() -> None:
    """t times the standard error; Welch with its own degrees of freedom; a known SD with z."""
    pooled = stats.t.isf(0.025, 126) * 24 * math.sqrt(2 / 64)
    assert half("two-means", difference=12, sd=24, n=128) == pytest.approx(pooled, rel=1e-12)
    known = stats.norm.isf(0.025) * 24 / math.sqrt(50)
    assert half("one-mean", difference=5, sd=24, sd_known=True, n=50) == pytest.approx(known, rel=1e-12)
    a, b = 1.7**2 / 40, 2.2**2 / 60
    df = (a + b) ** 2 / (a**2 / 39 + b**2 / 59)
    welch = stats.t.isf(0.025, df) * math.sqrt(a + b)
    assert half("two-means", difference=1, sd1=1.7, sd2=2.2, n1=40, n2=60) == pytest.approx(welch, rel=1e-12)


def test_the_level_goes_with_the_test() -> None:
    """One-sided at 2.5% and two-sided at 5% have the same interval; two one-sided tests have one of 90%."""
    two, one = (
        answer("two-means", difference=5, sd=10, n=60),
        answer("two-means", difference=5, sd=10, n=60, alpha=0.025, sides="greater"),
    )
    assert two.interval == one.interval
    wide = answer("two-means", difference=0, sd=10, n=300, hypothesis="equivalence", margin=4)
    assert wide.interval is not None
    assert wide.interval.level == pytest.approx(0.9)
    reach = stats.t.isf(0.05, 298) * 10 * math.sqrt(2 / 150)
    assert float(wide.interval.high) == pytest.approx(reach, rel=1e-12)


def test_shares_by_newcombe_and_wilson() -> None:
    """Newcombe's own example (1998, table II): 56 of 70 against 48 of 80 has limits 0.0524 and 0.3339."""
    found = answer("two-proportions", proportion1=48 / 80, proportion2=56 / 70, n1=80, n2=70).interval
    assert found is not None
    assert (float(found.low), float(found.high)) == pytest.approx((0.0524, 0.3339), abs=5e-5)
    one = answer("one-proportion", proportion=0.6, null_proportion=0.5, n=200).interval
    assert one is not None
    low, high = stats.binomtest(120, 200).proportion_ci(method="wilson")
    assert (float(one.low), float(one.high)) == pytest.approx((low, high), abs=1e-9)


def test_clusters_by_hand() -> None:
    """The standard error with the design effect, t with the clusters' degrees of freedom."""
    given = {"difference": 3, "sd": 10, "icc": 0.05, "cluster_size": 20, "clusters": 12}
    error = 10 * math.sqrt((1 + 0.05 * 19) * 2 / 240)
    assert half("cluster-means", **given) == pytest.approx(stats.t.isf(0.025, 22) * error, rel=1e-12)


@pytest.mark.parametrize(
    ("design", "values", "back"),
    [
        ("two-means", {"difference": 12, "sd": 24, "n": 128}, None),
        ("paired-means", {"difference": 5, "sd_difference": 12, "n": 40}, None),
        ("two-proportions", {"proportion1": 0.3, "proportion2": 0.45, "n": 330}, None),
        ("cluster-means", {"difference": 3, "sd": 10, "icc": 0.05, "cluster_size": 20, "clusters": 20}, None),
        ("cluster-proportions", {**_BY_WARD, "proportion1": 0.3, "proportion2": 0.45}, None),
        ("anova-contrast", {"coefficients": [-1, 0.5, 0.5], "contrast": 6, "sd": 10, "n": 135}, None),
        ("correlation", {"rho": 0.3, "n": 120, "method": "fisher-z"}, None),
        ("two-rates", {"rate1": 1.0, "rate2": 1.4, "n": 240}, np.exp),
        ("survival", {"hazard1": 0.06, "hazard_ratio": 0.7, "accrual": 12, "follow_up": 12, "n": 430}, np.exp),
    ],
)  # fmt: skip
def test_simulated_intervals_are_as_wide_on_average(design: str, values: dict[str, Any], back: Any) -> None:
    """The test of each design, 2 000 studies: the mean half width within three parts in a hundred."""
    planned = answer(design, **values)
    sizes = tuple(int(size) for size in planned.groups)
    found = planned.plan.analyse(planned.plan.draw(sizes, Population(rng=np.random.default_rng(4)), 2000))
    assert found.low is not None
    assert found.high is not None
    low, high = (np.asarray(each) if back is None else back(np.asarray(each)) for each in (found.low, found.high))
    assert planned.interval is not None
    assert np.mean(high - low) / 2 == pytest.approx(float(planned.interval.half_width), rel=0.03)


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_more_participants_make_it_narrower(design: Any) -> None:
    """With four times as many about half as wide, wherever there is one; requests have it, or do not."""
    found = settle(design, "n", design.starting)
    assert (
        "expected_interval" in answer_request({"design": design.id, "find": "n", "assumptions": design.starting})
    ) == (found.interval is not None)
    if found.interval is None:
        return
    with np.errstate(all="ignore"):
        wider = found.plan.interval(4 * found.sizes())
    assert wider is not None
    narrow = float(np.ravel(wider.half_width)[0])
    assert 0.38 < narrow / float(found.interval.half_width) < 0.55
