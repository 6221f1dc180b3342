"""The sampling distribution of Pearson's r: against the t distribution, against simulation, against itself."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import special, stats

from ragwort.stats.binomial import BinomialTest, lower_limit, upper_limit
from ragwort.stats.pearson import CorrelationTest, r_above


@given(st.floats(-0.99, 0.99), st.integers(4, 10_000_000))
def test_without_a_correlation_r_is_a_t_statistic(limit: float, n: int) -> None:
    """At rho 0 the tail is that of t with n - 2 degrees of freedom."""
    t = limit * np.sqrt((n - 2) / (1 - limit**2))
    assert float(r_above(limit, 0.0, n)) == pytest.approx(float(special.stdtr(n - 2, -t)), abs=1e-10)


@given(
    st.floats(-0.95, 0.95).filter(lambda rho: abs(rho) > 1e-3),
    st.integers(4, 1_000_000),
    st.floats(1e-5, 0.4),
    st.sampled_from(["two", "greater", "less"]),
)
def test_power_at_the_null_correlation_is_alpha(rho: float, n: int, alpha: float, sides: str) -> None:
    """The critical values are those of the distribution at the reference correlation."""
    assert float(CorrelationTest(rho, rho, n).power(alpha, sides)) == pytest.approx(alpha, abs=1e-10)


@pytest.mark.parametrize(("rho", "n"), [(0.8, 8), (-0.3, 20), (0.5, 60)])
def test_the_tail_is_what_samples_show(rho: float, n: int) -> None:
    """200 000 samples from a bivariate normal population, within 4 standard errors."""
    rng = np.random.default_rng(20261123)
    x = rng.normal(size=(100_000, n))
    y = rho * x + np.sqrt(1 - rho**2) * rng.normal(size=x.shape)
    x, y = x - x.mean(1, keepdims=True), y - y.mean(1, keepdims=True)
    r = (x * y).sum(1) / np.sqrt((x**2).sum(1) * (y**2).sum(1))
    for limit in stats.scoreatpercentile(r, [10, 50, 95]):
        tail = float(r_above(limit, rho, n))
        assert abs(float(np.mean(r > limit)) - tail) < 4 * np.sqrt(tail * (1 - tail) / len(r))


def test_density_integrates_to_the_tail() -> None:
    """What the picture shades is what the answer says."""
    test = CorrelationTest(0.4, 0.1, 30.0)
    lower, upper = test.limits(0.05, "two")
    x = np.linspace(float(upper), 1 - 1e-9, 20_001)
    assert np.trapezoid(test.effect_density(x), x) == pytest.approx(float(r_above(upper, 0.4, 30.0)), abs=1e-6)
    assert float(lower) != pytest.approx(-float(upper), abs=1e-3)


def test_limits_that_are_remembered_are_those_worked_out() -> None:
    """In any order of sizes, again and again, also beyond the sizes that are remembered."""
    rng = np.random.default_rng(5)
    for p0, alpha in ((0.3, 0.05), (0.85, 0.01), (0.5, 1e-6)):
        for sides in ("two", "greater", "less"):
            for most in (60, 5_000, 60_000, 900):
                n = rng.integers(1, most, 40).astype(float)
                lower, upper = BinomialTest(0.5, p0, n).counts(alpha, sides)  # type: ignore[arg-type]
                tail = alpha / 2 if sides == "two" else alpha
                if sides != "greater":
                    assert np.array_equal(lower, lower_limit(n, p0, tail))
                if sides != "less":
                    assert np.array_equal(upper, upper_limit(n, p0, tail))
