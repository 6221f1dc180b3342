"""Estimates from data: against independent ways to the same number, and at the edges."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from ragwort.stats.effects import chi_square_noncentrality_interval, f_noncentrality_interval
from ragwort.stats.estimates import clusters_of, correlation, f_of_cells, mean_and_sd, quantiles, r_squared, repeated_of

RNG = np.random.default_rng(11)


def test_means_quantiles_and_r_agree_with_the_library() -> None:
    """On the same draws."""
    x = RNG.normal(400, 24, 61)
    y = x + RNG.normal(0, 30, 61)
    assert mean_and_sd(x) == pytest.approx((np.mean(x), stats.tstd(x)))
    assert quantiles(x) == pytest.approx(stats.mstats.mquantiles(x, (0, 0.25, 0.5, 0.75, 1), alphap=1, betap=1))
    assert correlation(x, y) == pytest.approx(stats.pearsonr(x, y).statistic)
    assert math.isnan(correlation(x, np.ones(61)))


def test_r_squared_is_that_of_the_least_squares_fit() -> None:
    """One predictor: r squared; two: by the normal equations; columns that follow from others are refused."""
    x = RNG.normal(size=(50, 2)) * [1, 1000]
    y = x @ [1.0, 0.001] + RNG.normal(size=50)
    assert r_squared(y, x[:, :1]) == pytest.approx(stats.pearsonr(y, x[:, 0]).statistic ** 2)
    design = np.column_stack([np.ones(50), x])
    fitted = design @ np.linalg.solve(design.T @ design, design.T @ y)
    assert r_squared(y, x) == pytest.approx(1 - ((y - fitted) ** 2).sum() / ((y - y.mean()) ** 2).sum())
    with pytest.raises(ValueError, match="follows from"):
        r_squared(y, np.column_stack([x, x[:, 0] - 2 * x[:, 1]]))
    with pytest.raises(ValueError, match="vary"):
        r_squared(np.ones(50), x)


def test_icc_of_equal_clusters_follows_from_the_f_of_their_anova() -> None:
    """With k clusters of m: (F - 1) / (F + m - 1)."""
    values = RNG.normal(size=(12, 8)) + RNG.normal(0, 0.6, (12, 1))
    found = clusters_of(values.ravel(), np.repeat(np.arange(12), 8))
    f = float(stats.f_oneway(*values).statistic)
    assert found.icc == pytest.approx((f - 1) / (f + 7))
    assert (found.count, found.mean_size, found.cv) == (12, 8, 0)
    assert found.sd == pytest.approx(values.std(ddof=1))


def test_icc_of_unequal_clusters_within_arms() -> None:
    """By sums over people, written out; a difference between the arms has no say."""
    sizes = {"a": [3, 5, 4], "b": [6, 2]}
    rows = [(arm, f"{arm}{k}", RNG.normal(10 * (arm == "b"))) for arm, ms in sizes.items() for k, m in enumerate(ms)
            for _ in range(m)]  # fmt: skip
    arm, cluster, values = (np.array(column) for column in zip(*rows, strict=True))
    between = within = 0.0
    for name in ("a", "b"):
        middle = values[arm == name].mean()
        for each in {c for a, c, _ in rows if a == name}:
            mine = values[cluster == each]
            between += len(mine) * (mine.mean() - middle) ** 2
            within += ((mine - mine.mean()) ** 2).sum()
    msb, msw = between / 3, within / 15
    m0 = (20 - (9 + 25 + 16) / 12 - (36 + 4) / 8) / 3
    found = clusters_of(values, cluster, arm)
    assert found.icc == pytest.approx((msb - msw) / (msb + (m0 - 1) * msw))
    shifted = clusters_of(values + 100 * (arm == "b"), cluster, arm)
    assert shifted.icc == pytest.approx(found.icc)
    assert shifted.sd == pytest.approx(found.sd)
    assert found.cv == pytest.approx(np.std([3, 5, 4, 6, 2], ddof=1) / 4)


def test_icc_and_correlation_come_back_from_simulated_data() -> None:
    """Large samples with a known ICC of 0.2 and a correlation of 0.6."""
    rng = np.random.default_rng(5)
    values = rng.normal(0, math.sqrt(0.8), (3000, 10)) + rng.normal(0, math.sqrt(0.2), (3000, 1))
    assert clusters_of(values.ravel(), np.repeat(np.arange(3000), 10)).icc == pytest.approx(0.2, abs=0.015)
    people = rng.normal(0, math.sqrt(0.4), (20000, 4)) + rng.normal(0, math.sqrt(0.6), (20000, 1))
    found = repeated_of(people)
    assert found.correlation == pytest.approx(0.6, abs=0.015)
    assert found.sphericity == pytest.approx(1, abs=0.01)
    assert found.sd == pytest.approx(1, abs=0.015)


def test_groups_apart_do_not_make_measurements_correlate() -> None:
    """Only what scatters within groups counts; epsilon is between its bounds."""
    rng = np.random.default_rng(6)
    people = rng.normal(size=(4000, 3))
    group = np.repeat([0, 1], 2000)
    people[2000:] += 50
    assert repeated_of(people, group).correlation == pytest.approx(0, abs=0.05)
    assert repeated_of(people).correlation > 0.99
    walk = repeated_of(np.cumsum(people, axis=1), group)
    assert 0.5 < walk.sphericity < 0.95


@pytest.mark.parametrize(
    ("values", "cluster"), [([1.0, 2, 3], [1, 1, 1]), ([1.0, 2], [1, 2]), ([1.0] * 4, [1, 1, 2, 2])]
)
def test_data_without_an_icc_are_refused(values: list[float], cluster: list[int]) -> None:
    """One cluster; clusters of one; an outcome that does not vary."""
    with pytest.raises(ValueError, match="ICC needs"):
        clusters_of(np.array(values), np.array(cluster))


def test_people_that_do_not_vary_are_refused() -> None:
    """One person; one measurement that is the same for all."""
    for values in ([[1.0, 2.0]], [[1.0, 2.0], [1.0, 3.0], [1.0, 4.0]]):
        with pytest.raises(ValueError, match=r"people|vary"):
            repeated_of(np.array(values))


@given(st.lists(st.floats(-100, 100), min_size=6, max_size=6))
def test_the_terms_of_a_table_of_means_make_up_its_whole(means: list[float]) -> None:
    """f² of rows, columns and interaction add up to f² of all cells; an additive table has no interaction."""
    cells = np.array(means).reshape(2, 3)
    whole = float(np.std(cells)) / 5
    parts = [f_of_cells(cells, 5, term) for term in ((0,), (1,), (0, 1))]
    assert sum(part**2 for part in parts) == pytest.approx(whole**2, abs=1e-9)
    additive = cells[:, :1] + cells[:1, :]
    assert f_of_cells(additive, 5, (0, 1)) == pytest.approx(0, abs=1e-12)


@pytest.mark.parametrize(("f", "df1", "df2"), [(4.2, 2, 57), (9.0, 1, 20), (30.0, 4, 200)])
def test_limits_of_noncentrality_put_the_statistic_at_the_edges(f: float, df1: int, df2: int) -> None:
    """By the library's own distributions."""
    low, high = f_noncentrality_interval(f, df1, df2, 0.95)
    assert stats.ncf.sf(f, df1, df2, low) == pytest.approx(0.025, abs=1e-8)
    assert stats.ncf.sf(f, df1, df2, high) == pytest.approx(0.975, abs=1e-8)
    low, high = chi_square_noncentrality_interval(df1 * f, df1, 0.9)
    assert stats.ncx2.sf(df1 * f, df1, low) == pytest.approx(0.05, abs=1e-8)
    assert stats.ncx2.sf(df1 * f, df1, high) == pytest.approx(0.95, abs=1e-8)


def test_statistics_that_chance_alone_gives_have_a_limit_of_zero() -> None:
    """A small F includes no effect; a tiny one leaves nothing else."""
    low, high = f_noncentrality_interval(1.1, 3, 40, 0.95)
    assert low == 0
    assert high > 0
    assert f_noncentrality_interval(0.001, 3, 40, 0.95) == (0, 0)
    assert chi_square_noncentrality_interval(1e-6, 2, 0.95) == (0, 0)


def test_measurements_that_differ_by_a_constant_leave_no_sphericity() -> None:
    """0 divided by 0 is no estimate."""
    person = np.array([8.0, 1.0, 8.0, 3.0])
    with pytest.raises(ValueError, match="differ by a constant"):
        repeated_of(np.column_stack([person, person + 2, person - 5]))
