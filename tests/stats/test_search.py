"""The search for the unknown, against looking at every value."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ragwort.stats.search.one import first_in_blocks, first_step, least_alpha, nearest_root
from ragwort.stats.statistic import TTest


@given(st.integers(1, 50), st.integers(0, 5000), st.integers(0, 6000), st.integers(1, 80))
def test_first_step_is_the_first_of_all(low: int, length: int, at: int, one_by_one: int) -> None:
    """A power that jumps at `at` is found exactly, or not at all where it lies beyond."""
    high = low + length
    found = first_step(lambda steps: (steps >= at).astype(float), 0.5, low, high, one_by_one)
    assert found == (max(at, low) if at <= high else None)


@given(st.lists(st.floats(0, 1), min_size=20, max_size=20), st.floats(0.05, 0.95))
def test_first_step_sees_dips_among_the_sizes_tried_singly(powers: list[float], target: float) -> None:
    """Where power falls again at small sizes, the smallest that reaches the target still wins."""
    table = np.array([*powers, *([1.0] * 30)])
    found = first_step(lambda steps: table[steps - 2], target, 2, 51, one_by_one=20)
    assert found == 2 + int(np.flatnonzero(table >= target)[0])


@given(st.floats(0.02, 0.9), st.floats(0.2, 3.0))
def test_first_in_blocks_is_the_first_of_all(target: float, sharpness: float) -> None:
    """Power that rises and falls inside blocks of ten, higher from block to block."""

    def power(steps: np.ndarray) -> np.ndarray:
        block, place = np.divmod(steps, 10)
        hump = 1 - (place - 4) ** 2 / (60 * sharpness)
        return (1 - np.exp(-block / 12)) * hump

    found = first_in_blocks([power], target, lambda k: (10 * k, 10 * k + 9), 0, 400)
    every = np.flatnonzero(power(np.arange(4010)) >= target)
    assert found == (int(every[0]) if every.size else None)


@given(st.floats(-1e6, 1e6).filter(lambda x: abs(x) > 1e-6), st.floats(1e-3, 1e3))
def test_nearest_root_reaches_the_target_and_no_further(root: float, start: float) -> None:
    """The value found has the power asked for, and a hair nearer to zero has not."""

    def power(x: float) -> float:
        return 1 - math.exp(-abs(x / root) * math.log(5))

    sign = math.copysign(1, root)
    found = nearest_root(power, 0.8, sign * start, sign * 1e300)
    assert found == pytest.approx(root, rel=1e-9)
    assert power(found) >= 0.8 > power(found * (1 - 1e-9))


def test_nearest_root_says_when_the_limit_is_not_enough() -> None:
    """No answer rather than a wrong one."""
    assert nearest_root(lambda x: min(abs(x), 0.5), 0.8, 1.0, 1.0) is None


@pytest.mark.parametrize("target", [0.3, 0.8, 0.999])
def test_least_alpha_inverts_power(target: float) -> None:
    """Power = sqrt(alpha) reaches the target at its square."""
    assert least_alpha(math.sqrt, target) == pytest.approx(target**2, rel=1e-9)


def test_root_at_the_foot_of_a_step() -> None:
    """Where power jumps from below the target to exactly it, the foot of the jump is found, not a value above it."""
    found = least_alpha(lambda alpha: 0.8 if alpha >= 0.03 else 0.7, 0.8)
    assert found == pytest.approx(0.03, rel=1e-12)


@pytest.mark.parametrize("target", [0.06, 0.5, 0.8, 0.99])
def test_a_smooth_power_needs_few_evaluations(target: float) -> None:
    """Under twenty for an effect, the bracket included; the value found reaches the target and hardly more."""
    asked: list[float] = []

    def power(effect: float) -> float:
        asked.append(effect)
        return float(TTest(effect * 4, 62.0).power(0.05, "two"))

    found = nearest_root(power, target, 1.0, 1e300)
    assert len(asked) < 20
    assert power(found) >= target > power(found * (1 - 1e-12))
