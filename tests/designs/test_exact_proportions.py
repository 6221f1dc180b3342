"""Exact tests of proportions against enumeration by fractions and by SciPy's distributions, at every small size."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.base.patience import Late, heard_by, within
from ragwort.designs import Answer, RequestError, design_named, settle
from ragwort.stats.binomial import least_and_most, lower_limit, upper_limit
from ragwort.stats.fisher import bound_of_power, fisher_power


def find(unknown: str, design: str, **assumptions: Any) -> Answer:
    """One answer."""
    return settle(design_named(design), unknown, assumptions)


def enumerated(n: int, p: Fraction, p0: Fraction, alpha: Fraction, sides: str) -> Fraction:
    """The power of the exact binomial test in fractions, without any rounding."""

    def share(k: int, q: Fraction) -> Fraction:
        return math.comb(n, k) * q**k * (1 - q) ** (n - k)

    tail = alpha / 2 if sides == "two" else alpha
    power = Fraction(0)
    for k in range(n + 1):
        high = sum(share(j, p0) for j in range(k, n + 1)) <= tail and sides != "less"
        low = sum(share(j, p0) for j in range(k + 1)) <= tail and sides != "greater"
        power += share(k, p) if high or low else 0
    return power


@pytest.mark.parametrize("sides", ["two", "greater", "less"])
def test_binomial_power_in_fractions(sides: str) -> None:
    """Every size from 1 to 24, with an alpha that some tails hit exactly."""
    p, p0, alpha = Fraction(3, 10), Fraction(1, 2), Fraction(1, 16)
    for n in range(1, 25):
        given = {"proportion": 0.3, "null_proportion": 0.5, "alpha": 0.0625, "sides": sides, "power": 0.5}
        answer = find("power", "one-proportion", n=n, **given)
        assert answer.power == pytest.approx(float(enumerated(n, p, p0, alpha, sides)), abs=1e-13)


def test_binomial_limits_by_summing() -> None:
    """Limits from the beta function are those of summed probabilities, far into the tails."""
    rng = np.random.default_rng(3)
    for _ in range(300):
        n, p0, tail = int(rng.integers(1, 80)), rng.uniform(0.001, 0.999), 10 ** rng.uniform(-9, -0.01)
        pmf = stats.binom.pmf(np.arange(n + 1), n, p0)
        above = [pmf[c:].sum() for c in range(n + 2)]
        below = [pmf[: c + 1].sum() for c in range(-1, n + 1)]
        assert upper_limit(np.array([float(n)]), p0, tail)[0] == next(c for c, q in enumerate(above) if q <= tail)
        assert lower_limit(np.array([float(n)]), p0, tail)[0] == max(c for c, q in enumerate(below) if q <= tail) - 1


@pytest.mark.parametrize("p", [0.1, 0.45, 0.62, 0.9])
@pytest.mark.parametrize("sides", ["two", "greater", "less"])
def test_bounds_hold_over_their_runs(p: float, sides: Any) -> None:
    """No size of a run has less or more power than the bounds say."""
    for first, last in [(1, 4), (30, 41), (100, 260)]:
        least, most = least_and_most(np.array([float(first)]), np.array([float(last)]), p, 0.5, 0.05, sides)
        plan = find("power", "one-proportion", proportion=p, null_proportion=0.5, n=9, sides=sides).plan
        powers = plan.power_along(np.arange(first, last + 1))
        assert least[0] <= powers.min() + 1e-12
        assert most[0] >= powers.max() - 1e-12


@pytest.mark.parametrize("sides", ["two", "greater"])
@pytest.mark.parametrize(("p0", "p", "power"), [(0.5, 0.6, 0.8), (0.1, 0.2, 0.9), (0.9, 0.97, 0.7), (0.02, 0.5, 0.8)])
def test_first_and_steady_by_brute_force(p0: float, p: float, power: float, sides: str) -> None:
    """Every n up to the horizon of the contract, one by one."""
    answer = find("n", "one-proportion", proportion=p, null_proportion=p0, power=power, sides=sides)
    first, steady = answer.n_more["first"], answer.n_more["steady"]
    horizon = max(2 * first, first + 200)
    powers = answer.plan.power_along(np.arange(1, horizon + 1))
    assert first == int(np.flatnonzero(powers >= power)[0]) + 1
    below = np.flatnonzero(powers < power)
    assert steady == (int(below[-1]) + 2 if below.size else 1)
    assert answer.total == steady
    assert (
        find("n", "one-proportion", proportion=p, null_proportion=p0, power=power, sides=sides, n_rule="first").total
        == first
    )
    assert any("stays at or above it" in note for note in answer.notes) == (first != steady)


def fisher_enumerated(n1: int, n2: int, p1: float, p2: float, alpha: float, sides: str) -> float:
    """Every pair of counts, its p-value summed from SciPy's hypergeometric distribution."""
    b1, b2 = stats.binom.pmf(np.arange(n1 + 1), n1, p1), stats.binom.pmf(np.arange(n2 + 1), n2, p2)
    power = 0.0
    for margin in range(n1 + n2 + 1):
        counts = np.arange(max(0, margin - n1), min(margin, n2) + 1)
        h = stats.hypergeom.pmf(counts, n1 + n2, margin, n2)
        for at, count in enumerate(counts):
            p = {"two": h[h <= h[at] * (1 + 1e-7)].sum(), "greater": h[at:].sum(), "less": h[: at + 1].sum()}[sides]
            power += b1[margin - count] * b2[count] if p <= alpha * (1 + 1e-12) else 0.0
    return power


def test_fisher_by_enumeration() -> None:
    """Random small groups, equal and unequal, all sides; an alpha of 1/20 is hit exactly by 3 against 3."""
    rng = np.random.default_rng(8)
    assert fisher_power(3, 3, 0.1, 0.9, 0.05, "greater") == pytest.approx(0.9**6, abs=1e-14)
    for sides in ("two", "greater", "less"):
        for _ in range(25):
            n1, n2 = (int(n) for n in rng.integers(1, 26, 2))
            (p1, p2), alpha = rng.uniform(0.02, 0.98, 2), float(10 ** rng.uniform(-3, -0.3))
            expected = fisher_enumerated(n1, n2, p1, p2, alpha, sides)
            assert fisher_power(n1, n2, p1, p2, alpha, sides) == pytest.approx(expected, abs=1e-12)


def test_fisher_bound_never_falls() -> None:
    """The bound that starts the search lies above both tests, and rises with either group."""
    for n1, n2 in [(5, 9), (20, 20), (60, 31)]:
        bound = bound_of_power(n1, n2, 0.2, 0.5, 0.05)
        assert bound >= fisher_power(n1, n2, 0.2, 0.5, 0.05, "greater")
        assert bound >= fisher_power(n1, n2, 0.2, 0.5, 0.05, "two")
        assert bound_of_power(n1 + 1, n2, 0.2, 0.5, 0.05) >= bound - 1e-12
        assert bound_of_power(n1, n2 + 1, 0.2, 0.5, 0.05) >= bound - 1e-12
        assert bound_of_power(n1, n2, 0.5, 0.2, 0.05) == pytest.approx(
            bound_of_power(n2, n1, 0.2, 0.5, 0.05), abs=1e-12
        )


@pytest.mark.parametrize("balance", ["ratio", "any"])
@pytest.mark.parametrize(("p1", "p2", "ratio"), [(0.1, 0.4, 1), (0.6, 0.3, 2), (0.05, 0.5, 0.4)])
def test_fisher_sizes_by_brute_force(p1: float, p2: float, ratio: float, balance: str) -> None:
    """Every step up to the horizon, one by one."""
    given = {"proportion1": p1, "proportion2": p2, "ratio": ratio, "balance": balance, "method": "fisher"}
    answer = find("n", "two-proportions", **given)
    first, steady = answer.n_more["first"], answer.n_more["steady"]
    lowest = answer.plan.counting.lowest
    powers = answer.plan.power_along(np.arange(lowest, first + max(20, math.ceil(first / 10)) + 1))
    assert first == lowest + int(np.flatnonzero(powers >= 0.8)[0])
    assert steady == lowest + int(np.flatnonzero(powers < 0.8)[-1]) + 1
    assert (answer.total if balance == "any" else answer.groups[0]) == steady


@pytest.mark.parametrize(
    ("design", "given"),
    [
        ("one-proportion", {"null_proportion": 0.3, "n": 90}),
        ("two-proportions", {"proportion1": 0.3, "n1": 40, "n2": 50, "method": "fisher"}),
    ],
)
@pytest.mark.parametrize("direction", ["up", "down"])
def test_smallest_effect_and_alpha_of_exact_tests(design: str, given: dict[str, Any], direction: str) -> None:
    """The effect has the power and a little less has not; the alpha is one that the test can have."""
    found = find("effect", design, direction=direction, power=0.8, **given)
    primary = design_named(design).primary
    nearer = found.answer + (-1e-7 if direction == "up" else 1e-7)
    assert find("power", design, **given, **{primary: float(found.answer)}).power >= 0.8 - 1e-12
    assert find("power", design, **given, **{primary: nearer}).power < 0.8
    alpha = find("alpha", design, power=0.8, **given, **{primary: float(found.answer)}).answer
    assert alpha <= 0.05 * (1 + 1e-12)
    assert find("power", design, alpha=alpha * (1 - 1e-9), **given, **{primary: float(found.answer)}).power < 0.8


def test_without_a_rejection_region_power_is_nothing() -> None:
    """Four people cannot be rare enough at alpha 0.01: both exact tests say so."""
    single = find("power", "one-proportion", proportion=0.9, null_proportion=0.5, n=4, alpha=0.01)
    assert single.power == 0
    assert single.details["reject_at_or_above"] is None
    assert "so power is 0" in single.notes[-1]
    pair = find("power", "two-proportions", proportion1=0.1, proportion2=0.9, n=4, method="fisher")
    assert pair.power == 0
    assert "so power is 0" in pair.notes[-1]


def test_a_search_reports_and_can_be_stopped() -> None:
    """A listener hears of progress in 0..1, and what it raises ends the search."""

    class Enough(Exception):
        pass

    heard: list[float] = []

    def listen(share: float) -> None:
        heard.append(share)
        if len(heard) > 3:
            raise Enough

    with pytest.raises(Enough), heard_by(listen):
        find("n", "two-proportions", proportion1=0.31, proportion2=0.38, method="fisher")
    assert all(0 <= share <= 1 for share in heard)
    with pytest.raises(Late), within(0.02):
        find("n", "two-proportions", proportion1=0.31, proportion2=0.38, method="fisher")


@pytest.mark.parametrize(
    ("design", "given", "field", "says"),
    [
        ("one-proportion", {"proportion": 0.3, "null_proportion": 0.3}, "proportion", "equals the reference"),
        ("one-proportion", {"proportion": 1.2, "null_proportion": 0.3}, "proportion", "above 0 and below 1"),
        ("one-proportion", {"proportion": 0.3001, "null_proportion": 0.3}, "proportion", "up to 500"),
        ("two-proportions", {"proportion1": 0.3, "proportion2": 0.3}, "proportion2", "Both proportions are 0.3"),
        ("two-proportions", {"proportion1": 0.3, "proportion2": 0.301, "method": "fisher"}, "proportion2", "up to 6"),
    ],
)
def test_no_size_says_why(design: str, given: dict[str, Any], field: str, says: str) -> None:
    """No effect, no proportion, or more people than an exact test can be searched for."""
    with pytest.raises(RequestError) as caught:
        find("n", design, **given)
    assert caught.value.field == field
    assert says in caught.value.message.replace("\u2009", "")


def test_fisher_is_refused_for_huge_groups() -> None:
    """With what to use instead."""
    with pytest.raises(RequestError, match="pooled"):
        find("power", "two-proportions", proportion1=0.3, proportion2=0.4, n=10**6, method="fisher")
