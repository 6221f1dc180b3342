"""Power of z, t, F and chi-square tests: identities between families, and a second way to compute."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from scipy import special

from ragwort.base.patience import check, within
from ragwort.stats.noncentral import chi_square_below, f_above_by_quadrature, t_above_by_quadrature
from ragwort.stats.statistic import ChiSquareTest, FTest, NormalTest, TTest

ALPHAS = st.floats(1e-8, 0.5)
SHIFTS = st.floats(-8, 8)
DFS = st.floats(1, 1e6)


@given(SHIFTS, DFS, ALPHAS)
def test_t_power_mirrors_when_effect_and_side_change_sign(shift: float, df: float, alpha: float) -> None:
    """Looking upwards for an effect is looking downwards for its mirror image."""
    up = TTest(shift, df).power(alpha, "greater")
    assert TTest(-shift, df).power(alpha, "less") == pytest.approx(up, abs=1e-12)
    assert TTest(-shift, df).power(alpha, "two") == pytest.approx(TTest(shift, df).power(alpha, "two"), abs=1e-12)


@given(SHIFTS, DFS, ALPHAS)
def test_two_sided_power_is_both_tails_at_half_alpha(shift: float, df: float, alpha: float) -> None:
    """Nothing is left out of a two-sided power."""
    tails = TTest(shift, df).power(alpha / 2, "greater") + TTest(shift, df).power(alpha / 2, "less")
    assert TTest(shift, df).power(alpha, "two") == pytest.approx(tails, abs=1e-9)


@given(st.floats(0, 6), st.floats(1, 1e4), st.floats(1e-4, 0.5))
def test_squared_t_is_f_with_one_degree_of_freedom(shift: float, df: float, alpha: float) -> None:
    """Two different library functions agree through t squared = F(1, df)."""
    squared = FTest(shift**2, 1.0, df).power(alpha)
    assert TTest(shift, df).power(alpha, "two") == pytest.approx(float(squared), abs=1e-9)


@example(shift=2.43644186388894e-160, alpha=0.25)
@given(st.floats(0, 6), st.floats(1e-6, 0.5))
def test_squared_z_is_chi_square_with_one_degree_of_freedom(shift: float, alpha: float) -> None:
    """z squared = chi-square(1)."""
    squared = ChiSquareTest(shift**2, 1.0).power(alpha)
    assert NormalTest(shift).power(alpha, "two") == pytest.approx(float(squared), abs=1e-9)


def test_noncentral_t_agrees_with_quadrature_on_a_wide_grid() -> None:
    """The library's noncentral t against our own integral, from 1 df to ten million, to 1e-9."""
    df = np.concatenate([np.linspace(1, 5, 9), np.geomspace(6, 1e7, 12)])[:, None, None]
    shift = np.concatenate([np.linspace(-6, 12, 19), [20.0, 40.0, 100.0, 900.0]])[None, :, None]
    limit = -special.stdtrit(df, np.array([0.2, 0.05, 1e-3, 1e-6])[None, None, :] / 2)
    ours = t_above_by_quadrature(*(a.ravel() for a in np.broadcast_arrays(limit, df, shift)))
    by_power = TTest(np.broadcast_to(shift, limit.shape[:1] + shift.shape[1:]), df)
    library = np.stack(
        [by_power.power(2 * special.stdtr(df, -limit[..., [i]]), "two") for i in range(limit.shape[-1])], axis=-1
    )[..., 0, :]
    mirrored = t_above_by_quadrature(*(a.ravel() for a in np.broadcast_arrays(limit, df, -shift)))
    assert np.abs((ours + mirrored).reshape(library.shape) - library).max() < 1e-9


@pytest.mark.parametrize("df", [1.0, 2.0, 4.0001, 1e3, 1e7])
@pytest.mark.parametrize("shift", [-50.0, -8.463, 8.463, 38.0, 1e4])
def test_power_is_a_number_at_extremes(df: float, shift: float) -> None:
    """Where the library gives no number, ours is one, between 0 and 1."""
    for sides in ("two", "greater", "less"):
        power = float(TTest(shift, df).power(0.01, sides))
        assert 0 <= power <= 1 + 1e-12


@pytest.mark.parametrize(
    "test", [TTest(2.8, 126.0), NormalTest(1.5, 0.8), FTest(9.0, 3.0, 60.0), ChiSquareTest(7.0, 4.0)]
)
def test_area_beyond_the_critical_value_is_the_power(test: TTest) -> None:
    """The density that the picture shades has the area that the answer states."""
    limit = float(test.critical_value(0.05, "greater"))
    x = np.linspace(limit, limit + 80, 200_001)
    assert np.trapezoid(test.effect_density(x), x) == pytest.approx(float(test.power(0.05, "greater")), abs=2e-5)
    assert np.trapezoid(test.null_density(x), x) == pytest.approx(0.05, abs=2e-5)


def test_critical_values_carry_the_sign_of_their_side() -> None:
    """`less` rejects below a negative limit."""
    assert TTest(1.0, 20.0).critical_value(0.05, "less") < 0 < TTest(1.0, 20.0).critical_value(0.05, "two")
    assert NormalTest(1.0).critical_value(0.05, "less") == pytest.approx(-1.6448536269514722)


@pytest.mark.parametrize("alpha", [0.6, 0.9, 0.999999])
@pytest.mark.parametrize("shift", [-3.0, 0.0, 2.0])
def test_an_alpha_above_one_half_puts_the_limit_below_zero(alpha: float, shift: float) -> None:
    """One-sided power stays right there: it is what the other side does not reject."""
    test = TTest(shift, 12.0)
    assert test.power(alpha, "greater") == pytest.approx(1 - float(test.power(1 - alpha, "less")), abs=1e-12)


@pytest.mark.parametrize("noncentrality", [0.0, 1e-320, 1e-82, 1e-12, 1e-9])
def test_a_vanishing_effect_has_the_power_alpha(noncentrality: float) -> None:
    """Also where the library's noncentral F returns nonsense (1 degree of freedom, 1e-82)."""
    assert float(FTest(noncentrality, 1.0, 1.0).power(0.05)) == pytest.approx(0.05, abs=1e-8)


def test_noncentral_f_agrees_with_quadrature_on_a_wide_grid() -> None:
    """The library's noncentral F against our own integral; and no gaps, where the library has some."""
    df1 = np.array([0.5, 1.0, 2.0, 5.5, 40.0, 130.0, 400.0])[:, None, None, None]
    df2 = np.array([1.0, 3.0, 20.0, 200.0, 1e5])[None, :, None, None]
    shift = np.geomspace(101, 5000, 8)[None, None, :, None]
    alpha = np.array([0.2, 0.05, 1e-4])[None, None, None, :]
    test = FTest(shift, df1, df2)
    power = test.power(alpha)
    assert np.all((power >= -1e-12) & (power <= 1 + 1e-12))
    limit = np.broadcast_to(test.critical_value(alpha), power.shape)
    parts = (a.ravel() for a in np.broadcast_arrays(limit, df1, df2, shift))
    assert np.abs(f_above_by_quadrature(*parts).reshape(power.shape) - power).max() < 1e-9


def test_quadrature_of_a_large_f_agrees_with_the_library_about_its_middle() -> None:
    """Where that is still quick: whichever of numerator and denominator is the narrower, to 1e-9."""
    rng = np.random.default_rng(20261127)
    shift, df1, df2 = 10 ** rng.uniform(2.1, 8, 400), 10 ** rng.uniform(0, 2, 400), 10 ** rng.uniform(0.3, 6, 400)
    limit = (1 + shift / df1) * np.exp(1.5 * rng.normal(size=400) * np.sqrt(2 / df2 + 2 / shift))
    library = 1 - special.ncfdtr(df1, df2, shift, limit)
    assert ((library > 0.01) & (library < 0.99)).sum() > 200
    assert np.nanmax(np.abs(f_above_by_quadrature(limit, df1, df2, shift) - library)) < 1e-9


@pytest.mark.parametrize("alpha", [1e-50, 1e-150, 1e-250])
def test_vast_shifts_of_t_take_no_time(alpha: float) -> None:
    """Where the library's own series takes seconds and has no digits left."""
    with within(2):
        limit = -float(special.stdtrit(36.0, alpha))
        power = TTest(limit * np.linspace(0.3, 3.0, 20), 36.0).power(alpha, "greater")
        check()
    assert np.all(np.diff(power) >= 0)
    assert power[0] < 0.01
    assert power[-1] > 0.99


@pytest.mark.parametrize("alpha", [1e-50, 1e-100, 1e-300])
def test_vast_noncentralities_take_no_time(alpha: float) -> None:
    """A critical value so large that only a vast noncentrality goes beyond it half of the time."""
    with within(2):
        limit = float(FTest(0.0, 1.0, 8.0).critical_value(alpha))
        power = FTest(limit * np.linspace(0.5, 2.0, 20), 1.0, 8.0).power(alpha)
        check()
    assert np.all(np.diff(power) > 0)
    assert power[0] < 0.5 < power[-1]


@pytest.mark.parametrize("shift", [1e11, 1e13, 1e19, 1e21])
def test_power_at_vast_noncentralities_is_one(shift: float) -> None:
    """Where the library has no number, at whatever alpha."""
    for alpha in (0.05, 1e-100, 1e-290):
        assert float(FTest(shift, 2.0, 1e7).power(alpha)) == pytest.approx(1)


@pytest.mark.parametrize(("df1", "df2"), [(1, 4), (3, 60), (2, 5000)])
def test_the_density_of_a_vast_f_is_that_of_its_denominator(df1: int, df2: int) -> None:
    """As the slope of the distribution has it where that is still quick; at once where it would take seconds."""
    x = np.linspace(0, (df1 + 2e8) / df1 * 2, 200)[1:]
    step = x * 1e-4
    slope = (special.ncfdtr(df1, df2, 2e8, x + step) - special.ncfdtr(df1, df2, 2e8, x - step)) / (2 * step)
    assert np.abs(FTest(2e8, df1, df2).effect_density(x) - slope).max() < 1e-3 * slope.max()
    with within(0.5):
        far = FTest(2.5e11, df1, df2).effect_density(x * 1250)
        check()
    assert np.trapezoid(far, x * 1250) > 0.5


@pytest.mark.parametrize("df", [1.0, 3.0, 40.0])
def test_a_vast_chi_square_goes_on_where_the_library_has_no_number(df: float) -> None:
    """The same on both sides of the border, and a number beyond."""
    below, above = (
        chi_square_below((np.sqrt(shift) + np.linspace(-3, 3, 7)) ** 2 + df - 1, df, shift)
        for shift in (9.9e9, 1.01e10)
    )
    assert np.abs(below - above).max() < 1e-10  # it hardly moves in between
    assert np.all(np.isfinite(chi_square_below(np.array([1e40]), df, np.array([4e40]))))
