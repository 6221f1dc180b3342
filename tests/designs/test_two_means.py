"""Two means: brute force, properties, and simulation of the tests that an analyst would run."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import stats

from ragwort.designs import Answer, NotAttainable, RequestError, design_named, settle

DESIGN = design_named("two-means")
SIDES = st.sampled_from(["two", "greater"])
VARIANCES = st.sampled_from(["equal", "unequal", "known"])


def find(unknown: str, **assumptions: Any) -> Answer:
    """The answer to one request."""
    return settle(DESIGN, unknown, assumptions)


@settings(max_examples=100, deadline=None)
@given(
    st.sampled_from([0.02, 0.1, 0.25, 0.3, 0.5, 0.667, 1, 1.3, 2, 3.7, 20]),
    st.sampled_from([3, 6, 10, 30]),
    st.sampled_from([0.5, 5, 10, 20]),
    st.sampled_from([0.5, 5, 10, 40]),
    st.sampled_from([0.3, 0.5, 0.8, 0.9]),
    st.sampled_from([0.01, 0.05, 0.2]),
    st.sampled_from(["ratio", "any"]),
    SIDES,
)
def test_welch_size_is_the_smallest_of_all(
    ratio: float, difference: float, sd1: float, sd2: float, power: float, alpha: float, balance: str, sides: str
) -> None:
    """Welch's power rises and falls where one group stands still; the first size that reaches the target is found."""
    answer = find(
        "n",
        difference=difference,
        sd1=sd1,
        sd2=sd2,
        ratio=ratio,
        power=power,
        alpha=alpha,
        balance=balance,
        sides=sides,
    )
    counting = answer.plan.counting
    steps = np.arange(counting.lowest, counting.lowest + 1000)
    ways = counting.ways(steps)
    powers = np.max([answer.plan.power(way) for way in ways], axis=0)
    reached = np.flatnonzero(powers >= power)
    assume(reached.size > 0)
    assert answer.total == int(ways[0][:, reached[0]].sum())


@settings(max_examples=60, deadline=None)
@given(st.floats(0.2, 3), VARIANCES, st.floats(0.3, 3), st.floats(0.3, 0.98), SIDES)
def test_solve_power_solve_agrees(difference: float, variance: str, ratio: float, power: float, sides: str) -> None:
    """The effect found at the sizes found is no larger than the one planned for; its power is the target."""
    shared = {"sd": 1.0, "variance": variance, "ratio": ratio, "sides": sides, "power": power}
    sized = find("n", difference=difference, **shared)
    again = find("effect", n1=sized.groups[0], n2=sized.groups[1], **shared)
    assert 0 < again.answer <= difference * (1 + 1e-9)
    assert again.power == pytest.approx(power, abs=1e-9)
    at_alpha = find("alpha", difference=again.answer, n1=sized.groups[0], n2=sized.groups[1], **shared)
    assert at_alpha.answer == pytest.approx(0.05, rel=1e-7)


@given(st.integers(2, 300), st.integers(2, 300), st.floats(0.1, 4), VARIANCES)
def test_power_rises_with_every_effect(n1: int, n2: int, difference: float, variance: str) -> None:
    """A larger effect is never harder to see, and mirrors when its sign changes."""
    shared = {"sd1": 1.0, "sd2": 1.0, "n1": n1, "n2": n2, "variance": variance}
    one = find("power", difference=difference, **shared).power
    assert find("power", difference=difference * 1.1, **shared).power >= one - 1e-12
    assert find("power", difference=-difference, **shared).power == pytest.approx(one, abs=1e-12)


@pytest.mark.parametrize("variance", ["equal", "unequal", "known"])
@pytest.mark.parametrize(
    ("n1", "n2", "difference", "sd1", "sd2", "sides"),
    [
        (20, 30, 0.8, 1.0, 1.0, "two"),
        (12, 40, 1.1, 1.0, 1.8, "greater"),
        (45, 30, -0.7, 1.4, 0.8, "less"),
    ],
)
def test_power_is_what_the_simulated_test_rejects(
    n1: int, n2: int, difference: float, sd1: float, sd2: float, sides: str, variance: str
) -> None:
    """20 000 simulated studies, analysed by the real test, reject as often as the formula says (4 standard errors)."""
    if variance == "equal":
        sd2 = sd1
    planned = find("power", difference=difference, sd1=sd1, sd2=sd2, n1=n1, n2=n2, sides=sides, variance=variance)
    rng = np.random.default_rng(20261123)
    group1, group2 = rng.normal(0, sd1, (20_000, n1)), rng.normal(difference, sd2, (20_000, n2))
    alternative = {"two": "two-sided"}.get(sides, sides)
    if variance == "known":
        z = (group2.mean(1) - group1.mean(1)) / np.sqrt(sd1**2 / n1 + sd2**2 / n2)
        p = {"two": 2 * stats.norm.sf(abs(z)), "greater": stats.norm.sf(z), "less": stats.norm.cdf(z)}[sides]
    else:
        p = stats.ttest_ind(group2, group1, axis=1, equal_var=variance == "equal", alternative=alternative).pvalue
    rejected = np.mean(p <= 0.05)
    assert abs(rejected - planned.power) < 4 * np.sqrt(planned.power * (1 - planned.power) / 20_000)


def test_two_statements_of_one_effect_agree() -> None:
    """A difference and its two means are one effect; a difference that contradicts them is refused."""
    assert find("n", mean1=100, mean2=112, difference=12, sd=24).total == 128
    with pytest.raises(RequestError, match="mean2 − mean1 is 12") as caught:
        find("n", mean1=100, mean2=112, difference=13, sd=24)
    assert caught.value.field == "difference"


def test_size_is_split_by_the_ratio() -> None:
    """A total that the ratio divides is divided so; another goes to the split with more power."""
    assert find("power", difference=12, sd=24, n=96, ratio=2).groups == (32, 64)
    assert find("power", difference=12, sd=24, n=97, ratio=2).groups in ((32, 65), (33, 64))
    assert find("power", difference=12, sd=24, n=129).groups == (64, 65)


def test_dropout_adds_to_the_enrolment_only() -> None:
    """Dropout never changes how many are analysed."""
    answer = find("n", difference=12, sd=24, dropout=0.1)
    assert (answer.total, answer.enrol) == (128, (72, 72))


@pytest.mark.parametrize(
    ("assumptions", "field", "says"),
    [
        ({"difference": 0, "sd": 24}, "difference", "no effect"),
        ({"difference": -3, "sd": 24, "sides": "greater"}, "difference", "against the one-sided test"),
        ({"difference": 1e-5, "sd": 24}, "difference", "largest power reachable"),
    ],
)
def test_an_answer_that_does_not_exist_is_said(assumptions: dict[str, Any], field: str, says: str) -> None:
    """No number where there is none."""
    with pytest.raises(NotAttainable, match=says) as caught:
        find("n", **assumptions)
    assert caught.value.field == field


def test_a_one_sided_test_against_the_effect_says_so() -> None:
    """Its power is below alpha, with a note."""
    answer = find("power", difference=-3, sd=24, n=100, sides="greater")
    assert answer.power < 0.05
    assert "against the one-sided test" in answer.notes[0]


def test_welch_says_that_it_is_approximate() -> None:
    """And warns where a group is very small."""
    assert "approximate" in find("power", difference=1, sd1=1, sd2=2, n1=30, n2=30).notes[0]
    assert "fewer than 6" in find("power", difference=1, sd1=1, sd2=2, n1=3, n2=30).notes[0]
