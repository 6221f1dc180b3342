"""Power against simulated studies: the design's data are drawn and analysed by the test that an analyst would run.

20 000 replicates, seeded; where the formula is exact, the share of rejections lies within 4 standard errors of it. The
chi-square tests are approximate: how far they miss is measured here and said in their notes.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import stats

from ragwort.designs import Answer, design_named, settle

REPLICATES = 20_000
Sample = NDArray[np.float64]


def planned(design: str, **assumptions: Any) -> Answer:
    """The answer to a question for power."""
    return settle(design_named(design), "power", assumptions)


def assert_as_often(rejected: Sample, power: float, slack: float = 0.0) -> None:
    """The share of rejections is the power, within 4 standard errors and what an approximation is known to miss."""
    error = 4 * np.sqrt(power * (1 - power) / REPLICATES) + slack
    assert abs(float(np.mean(rejected)) - power) < error


@pytest.fixture
def rng() -> np.random.Generator:
    """The same numbers in every run."""
    return np.random.default_rng(20261123)


@pytest.mark.parametrize(("sides", "difference"), [("two", 5.0), ("greater", 4.0), ("less", -6.0)])
def test_one_mean_and_pairs(rng: np.random.Generator, sides: str, difference: float) -> None:
    """The one-sample t test, on values and on differences within correlated pairs."""
    alternative = {"two": "two-sided"}.get(sides, sides)
    values = rng.normal(100 + difference, 10, (REPLICATES, 22))
    single = planned("one-mean", mean=100 + difference, null_mean=100, sd=10, n=22, sides=sides)
    assert_as_often(stats.ttest_1samp(values, 100, axis=1, alternative=alternative).pvalue <= 0.05, single.power)
    covariance = [[81, 0.6 * 9 * 12], [0.6 * 9 * 12, 144]]
    pairs = rng.multivariate_normal([0, difference], covariance, (REPLICATES, 22))
    paired = planned("paired-means", difference=difference, sd1=9, sd2=12, correlation=0.6, n=22, sides=sides)
    p = stats.ttest_rel(pairs[..., 1], pairs[..., 0], axis=1, alternative=alternative).pvalue
    assert_as_often(p <= 0.05, paired.power)


def test_one_mean_with_known_sd(rng: np.random.Generator) -> None:
    """The z test."""
    means = rng.normal(4, 10 / np.sqrt(30), REPLICATES)
    power = planned("one-mean", difference=4, sd=10, sd_known=True, n=30).power
    assert_as_often(2 * stats.norm.sf(abs(means) / (10 / np.sqrt(30))) <= 0.05, power)


@pytest.mark.parametrize("weights", [None, [1, 1.5, 2]])
def test_one_way(rng: np.random.Generator, weights: list[float] | None) -> None:
    """Three groups, equal and unequal, by the classical F test."""
    means, sd = [412, 405, 398], 24
    given = {"weights": weights} if weights else {}
    answer = planned("anova-one-way", means=means, sd=sd, groups=3, n_per_group=20, **given)
    drawn = [rng.normal(mean, sd, (REPLICATES, size)) for mean, size in zip(means, answer.groups, strict=True)]
    assert_as_often(stats.f_oneway(*drawn, axis=1).pvalue <= 0.05, answer.power)


def test_crossed_factors(rng: np.random.Generator) -> None:
    """The interaction of a two by three design, from cell means and the residual within cells."""
    pattern, n = np.array([[1.0, -0.5, -0.5], [-1.0, 0.5, 0.5]]), 12
    effect = 0.4 * pattern / np.sqrt(np.mean(pattern**2))
    cells = effect[None, :, :, None] + rng.normal(0, 1, (REPLICATES, 2, 3, n))
    means = cells.mean(axis=3)
    centred = means - means.mean(2, keepdims=True) - means.mean(1, keepdims=True) + means.mean((1, 2), keepdims=True)
    within = ((cells - means[..., None]) ** 2).sum((1, 2, 3)) / (6 * (n - 1))
    statistic = n * (centred**2).sum((1, 2)) / 2 / within
    power = planned("anova-factorial", levels=[2, 3], term=[1, 2], f=0.4, n_per_cell=n).power
    assert_as_often(statistic >= stats.f.isf(0.05, 2, 6 * (n - 1)), power)


@pytest.mark.parametrize("term", ["between", "within", "interaction"])
def test_repeated_measurements(rng: np.random.Generator, term: str) -> None:
    """Two groups of ten, four measurements with one correlation; each question by its own F test."""
    k, m, n, rho, f = 2, 4, 10, 0.5, 0.3
    time, arm = np.linspace(-1, 1, m), np.array([-1.0, 1.0])[:, None]
    shapes = {"between": arm * np.ones(m), "within": np.ones((k, 1)) * time, "interaction": arm * time}
    effect = f * shapes[term] / np.sqrt(np.mean(shapes[term] ** 2))
    noise = np.sqrt(rho) * rng.normal(size=(REPLICATES, k, n, 1)) + np.sqrt(1 - rho) * rng.normal(
        size=(REPLICATES, k, n, m)
    )
    y = effect[None, :, None, :] + noise
    person, cell, group = y.mean(3, keepdims=True), y.mean(2, keepdims=True), y.mean((2, 3), keepdims=True)
    grand, moment = y.mean((1, 2, 3), keepdims=True), y.mean((1, 2), keepdims=True)
    between_error = m * ((person - group) ** 2).sum((1, 2, 3)) / (k * (n - 1))
    within_error = ((y - person - cell + group) ** 2).sum((1, 2, 3)) / (k * (n - 1) * (m - 1))
    squares = {
        "between": n * m * ((group - grand) ** 2).sum((1, 2, 3)) / (k - 1) / between_error,
        "within": k * n * ((moment - grand) ** 2).sum((1, 2, 3)) / (m - 1) / within_error,
        "interaction": n * ((cell - group - moment + grand) ** 2).sum((1, 2, 3)) / ((k - 1) * (m - 1)) / within_error,
    }
    answer = planned("anova-repeated", groups=k, measurements=m, correlation=rho, term=term, f=f, n_per_group=n)
    limit = stats.f.isf(0.05, answer.details["df1"], float(np.ravel(answer.details["df2"])[0]))
    assert_as_often(squares[term] >= limit, answer.power)


def test_regression(rng: np.random.Generator) -> None:
    """Fixed predictors: the whole model, two added terms, and one coefficient, by least squares."""
    n, p, slopes = 40, 3, np.array([0.35, -0.25, 0.3])
    x = rng.normal(size=(n, p))
    design = np.column_stack([np.ones(n), x])
    y = x @ slopes + rng.normal(size=(REPLICATES, n))

    def residual(columns: Sample) -> Sample:
        hat = columns @ np.linalg.pinv(columns)
        return ((y - y @ hat) ** 2).sum(1)

    full = residual(design)
    for names, left, tested in (
        ("regression-overall", design[:, :1], 3),
        ("regression-added", design[:, :2], 2),
        ("regression-coefficient", design[:, :3], 1),
    ):
        shape = (x @ slopes) - left @ np.linalg.pinv(left) @ (x @ slopes)
        f_squared = float((shape**2).sum() / n)
        more = {"tested": tested} if names == "regression-added" else {}
        answer = planned(names, f_squared=f_squared, predictors=p, n=n, **more)
        statistic = (residual(left) - full) / tested / (full / (n - p - 1))
        assert_as_often(statistic >= stats.f.isf(0.05, tested, n - p - 1), answer.power)


def test_chi_square_misses_by_no_more_than_its_notes_say(rng: np.random.Generator) -> None:
    """Fit with four categories and a table of two by three, at 200: off by under 4 points, and said to be."""
    null, shares = np.full(4, 0.25), np.array([0.35, 0.25, 0.2, 0.2])
    counts = rng.multinomial(200, shares, REPLICATES)
    statistic = ((counts - 200 * null) ** 2 / (200 * null)).sum(1)
    answer = planned("chi-square-fit", null_proportions=null.tolist(), proportions=shares.tolist(), n=200)
    assert_as_often(statistic >= stats.chi2.isf(0.05, 3), answer.power, slack=0.04)
    table = np.array([[0.1, 0.2, 0.2], [0.2, 0.2, 0.1]])
    drawn = rng.multinomial(120, table.ravel(), REPLICATES).reshape(-1, 2, 3)
    expected = drawn.sum(2, keepdims=True) * drawn.sum(1, keepdims=True) / 120
    statistic = ((drawn - expected) ** 2 / expected).sum((1, 2))
    crossed = planned("chi-square-table", table=table.tolist(), n=120)
    assert_as_often(statistic >= stats.chi2.isf(0.05, 2), crossed.power, slack=0.04)
    assert "off by a few points" in answer.notes[0]
    few = planned("chi-square-fit", null_proportions=[0.9, 0.1], proportions=[0.8, 0.2], n=30)
    assert "under 5" in few.notes[1]
