"""Tests that look several times: bounds and power against the multivariate normal, published bounds, simulation."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from ragwort.stats.sequential.bounds import NoBounds
from ragwort.stats.sequential.looks import Futility, Looks
from ragwort.stats.sequential.spending import Spending

FIVE = (0.2, 0.4, 0.6, 0.8, 1.0)
OBRIEN_FLEMING, POCOCK = Spending("obrien-fleming"), Spending("pocock")


def rectangle(fractions: tuple[float, ...], drift: float, low: list[float], high: list[float]) -> float:
    """The chance that every statistic lies between its bounds, by the multivariate normal distribution function."""
    t = np.array(fractions)
    covariance = np.sqrt(np.minimum.outer(t, t) / np.maximum.outer(t, t))
    lower = np.where(np.isfinite(low), low, -12.0)
    chance = stats.multivariate_normal(drift * np.sqrt(t), covariance, abseps=1e-11, releps=1e-11, maxpts=4_000_000)
    return float(chance.cdf(np.array(high), lower_limit=lower, rng=np.random.default_rng(1)))


@pytest.mark.parametrize(
    ("spending", "published"),
    [
        (OBRIEN_FLEMING, [4.877, 3.357, 2.680, 2.290, 2.031]),
        (POCOCK, [2.438, 2.427, 2.410, 2.397, 2.386]),
    ],
)
def test_published_bounds(spending: Spending, published: list[float]) -> None:
    """Five even looks, alpha 0.05 two-sided."""
    found = Looks(FIVE, 0.025, True, spending).plain.efficacy
    assert np.round(found, 3).tolist() == published


@pytest.mark.parametrize("fractions", [(0.5, 1.0), (0.3, 0.45, 1.0), (0.2, 0.5, 0.8, 1.0)])
@pytest.mark.parametrize("two_sided", [True, False])
@pytest.mark.parametrize("drift", [0.0, 1.7, 3.1])
def test_power_is_what_the_multivariate_normal_says(
    fractions: tuple[float, ...], two_sided: bool, drift: float
) -> None:
    """Two to four looks without futility."""
    looks = Looks(fractions, 0.025, two_sided, POCOCK)
    high = list(looks.plain.efficacy)
    low = [-each if two_sided else -np.inf for each in high]
    tolerance = 3e-8 if len(fractions) < 4 else 3e-6  # of the normal distribution function
    assert looks.power(drift) == pytest.approx(1 - rectangle(fractions, drift, low, high), abs=tolerance)


@pytest.mark.parametrize("binding", [True, False])
def test_futility_misses_what_it_spends(binding: bool) -> None:
    """Going on to each look and giving up there has the chance that was to be spent, by rectangles."""
    fractions, drift = (0.4, 0.7, 1.0), 3.2
    looks = Looks(fractions, 0.025, False, OBRIEN_FLEMING, Futility(binding, Spending("power", 2.0)))
    bounds = looks.bounds(drift)
    beta = 1 - looks.power(drift)
    for look in range(3):
        before_low, before_high = list(bounds.futility[:look]), list(bounds.efficacy[:look])
        gone = rectangle(fractions[: look + 1], drift, [*before_low, -np.inf], [*before_high, bounds.futility[look]])
        spent = beta * fractions[look] ** 2 - (beta * fractions[look - 1] ** 2 if look else 0.0)
        assert gone == pytest.approx(spent, abs=1e-9), look
    if binding:
        stays = rectangle(fractions, 0.0, [*bounds.futility[:2], -np.inf], list(bounds.efficacy))
        given_up = bounds.ends(0.0).give_up[:2].sum()
        assert 1 - stays - given_up == pytest.approx(0.025, abs=1e-9)


def test_ends_make_up_every_study() -> None:
    """Chances of rejecting and giving up add up to one, with and without the effect."""
    looks = Looks(FIVE, 0.025, False, POCOCK, Futility(False, OBRIEN_FLEMING))
    bounds = looks.bounds(2.5)
    for drift in (0.0, 2.5):
        ends = bounds.ends(drift)
        assert ends.reject.sum() + ends.give_up.sum() == pytest.approx(1.0, abs=1e-12)
    assert bounds.ends(2.5).reject.sum() == pytest.approx(looks.power(2.5), abs=1e-12)


SPENDING = st.one_of(
    st.just(OBRIEN_FLEMING),
    st.just(POCOCK),
    st.floats(-6, 4).map(lambda gamma: Spending("hwang-shih-decani", gamma)),
    st.floats(0.5, 5).map(lambda rho: Spending("power", rho)),
)
FRACTIONS = st.lists(st.integers(1, 19), min_size=0, max_size=4, unique=True).map(
    lambda cuts: (*(each / 20 for each in sorted(cuts)), 1.0)
)


@settings(max_examples=60, deadline=None)
@given(FRACTIONS, SPENDING, st.sampled_from([0.01, 0.025, 0.1]), st.booleans(), st.floats(0.2, 4.0))
def test_alpha_is_kept_and_power_rises(
    fractions: tuple[float, ...], spending: Spending, level: float, two_sided: bool, drift: float
) -> None:
    """Whatever is spent when: alpha without an effect, more power with more of it, the drift found again."""
    looks = Looks(fractions, level, two_sided, spending)
    assert looks.power(0.0) == pytest.approx(level * (2 if two_sided else 1), rel=1e-9)
    power = looks.power(drift)
    assert looks.power(drift + 0.1) > power
    assert looks.drift_for(power) == pytest.approx(drift, abs=1e-7)
    fixed = float(looks.fixed_power(np.array([drift]))[0])
    assert power <= fixed + 1e-9
    assert float(looks.fixed_drift(np.array([fixed]))[0]) == pytest.approx(drift, abs=1e-7)


@settings(max_examples=25, deadline=None)
@given(FRACTIONS, SPENDING, SPENDING, st.booleans(), st.floats(0.5, 4.0))
def test_futility_costs_power_and_is_found_again(
    fractions: tuple[float, ...], spending: Spending, gives_up: Spending, binding: bool, drift: float
) -> None:
    """Giving up misses some; binding futility no more than that which does not bind."""
    plain = Looks(fractions, 0.025, False, spending)
    looks = Looks(fractions, 0.025, False, spending, Futility(binding, gives_up))
    power = looks.power(drift)
    if not binding:
        assert power <= plain.power(drift) + 1e-9
    assert looks.drift_for(power) == pytest.approx(drift, abs=1e-6)
    bounds = looks.bounds(drift)
    assert all(low <= high for low, high in zip(bounds.futility, bounds.efficacy, strict=True))
    assert looks.powers(np.linspace(max(drift - 1, 0.0), drift + 1, 12)) == pytest.approx(
        [looks.power(float(each)) for each in np.linspace(max(drift - 1, 0.0), drift + 1, 12)], abs=5e-3
    )


def test_one_look_is_the_test_itself() -> None:
    """No look before the end: the normal test."""
    looks = Looks((1.0,), 0.025, True, OBRIEN_FLEMING)
    assert looks.plain.efficacy == pytest.approx((looks.critical,), rel=1e-12)
    assert looks.power(2.8) == pytest.approx(float(looks.fixed_power(np.array([2.8]))[0]), abs=1e-14)


def test_nothing_spent_is_no_bound() -> None:
    """Own amounts that stand still leave a look without a boundary; all spent at once leaves none after."""
    looks = Looks((0.5, 0.75, 1.0), 0.025, True, Spending("own", own=(0.01, 0.01, 0.025)))
    assert [np.isfinite(each) for each in looks.plain.efficacy] == [True, False, True]
    first = Looks((0.5, 1.0), 0.025, False, Spending("own", own=(0.025, 0.025)))
    assert first.power(3.0) == pytest.approx(stats.norm.sf(stats.norm.isf(0.025) - 3.0 * np.sqrt(0.5)), abs=1e-12)


def test_binding_futility_can_leave_too_little_to_spend() -> None:
    """Nearly everybody gives up at the first look: what alpha is left cannot be spent."""
    late = Spending("own", own=(0.0, 0.4))
    looks = Looks((0.5, 1.0), 0.4, False, late, Futility(True, Spending("power", 0.05)))
    with pytest.raises(NoBounds):
        looks.bounds(-1.5)


def test_half_a_million_simulated_statistics_stop_as_computed() -> None:
    """Sums of normal increments, stopped at the bounds, with futility followed."""
    looks = Looks((0.3, 0.6, 1.0), 0.025, False, POCOCK, Futility(False, POCOCK))
    drift = 3.0
    bounds = looks.bounds(drift)
    rng, count = np.random.default_rng(5), 500_000
    score, going, reject, give_up = np.zeros(count), np.ones(count, dtype=bool), [], []
    for look, t in enumerate(looks.fractions):
        more = t - (looks.fractions[look - 1] if look else 0.0)
        score += rng.normal(drift * more, np.sqrt(more), count)
        z = score / np.sqrt(t)
        up = going & (z >= bounds.efficacy[look])
        down = going & ~up & (z <= bounds.futility[look])
        going &= ~(up | down)
        reject.append(up.mean())
        give_up.append(down.mean())
    ends = bounds.ends(drift)
    error = 4 * np.sqrt(0.25 / count)
    assert reject == pytest.approx(ends.reject, abs=error)
    assert give_up == pytest.approx(ends.give_up, abs=error)


@pytest.mark.parametrize("binding", [True, False])
@pytest.mark.parametrize("drift", [-3.0, -12.0, -30.0])
def test_far_against_the_direction_nobody_rejects(drift: float, binding: bool) -> None:
    """Futility or not; it never makes more power than there is without."""
    plain = Looks((0.4, 0.8, 1.0), 0.025, False, POCOCK)
    looks = Looks((0.4, 0.8, 1.0), 0.025, False, POCOCK, Futility(binding, POCOCK))
    assert plain.power(drift) < 1e-4
    try:
        power = looks.power(drift)
    except NoBounds:
        assert binding
    else:
        assert power <= plain.power(drift) + 1e-9


def test_no_mass_is_cut_off_before_a_distant_boundary() -> None:
    """Where nothing is spent early, the last look alone decides, also under a large drift."""
    looks = Looks((0.5, 1.0), 1e-8, False, Spending("own", own=(0.0, 1e-8)))
    for drift in (4.0, 7.0, 11.0):
        assert looks.power(drift) == pytest.approx(stats.norm.sf(stats.norm.isf(1e-8) - drift), abs=1e-10)
        assert looks.plain.ends(drift).reject.sum() == pytest.approx(looks.power(drift), abs=1e-12)
