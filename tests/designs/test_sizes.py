"""How sample sizes are counted: every step, split and block against doing it by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from ragwort.designs import design_named, settle
from ragwort.designs.sizes import LARGEST_TOTAL, AnyOver, AnyTotal, ByRatio, Enrolment, EqualGroups, OneGroup

RATIOS = st.one_of(st.floats(0.01, 50), st.sampled_from([0.1, 0.2, 0.25, 1 / 3, 0.5, 2 / 3, 1.0, 1.5, 2.0, 3.0]))


@given(st.integers(4, 3000), st.integers(1, 4), st.sampled_from([0.0, 0.01, 0.08, 0.1, 0.15, 0.2, 0.33, 0.5]))
def test_the_largest_study_within_a_limit_is_recruited_within_it(limit: int, groups: int, dropout: float) -> None:
    """One more in each group would not be."""
    lost = Enrolment(dropout)
    most = lost.largest_within(limit, groups)

    def recruited(each: int) -> int:
        return sum(lost.people([each] * groups) or [each] * groups)

    assert recruited(most) <= limit < recruited(most + 1)


@given(RATIOS, st.integers(2, 5000))
def test_by_ratio_rounds_group_2_up(ratio: float, step: int) -> None:
    """ceil(ratio x group 1), at least the smallest, forgiving the noise of a product."""
    (groups,) = ByRatio(ratio, 2).ways(np.array([step]))
    assert groups[0, 0] == step
    assert groups[1, 0] == max(math.ceil(ratio * step - 1e-9), 2)


@given(RATIOS, st.integers(4, 3000))
def test_a_total_is_split_without_loss(ratio: float, total: int) -> None:
    """Both ways of any total, and the split of a given one, add up and leave the smallest in each group."""
    for counting in (AnyTotal(ratio, 2), ByRatio(ratio, 2)):
        for groups in counting.splits(total):
            assert groups.sum() == total
            assert groups.min() >= 2
    floor, ceiling = AnyTotal(ratio, 2).ways(np.array([total]))
    assert 0 <= ceiling[0, 0] - floor[0, 0] <= 1


@given(st.sampled_from([0.013, 0.1, 0.25, 1 / 3, 0.5, 0.667, 0.9]), st.sampled_from([ByRatio, AnyTotal]))
def test_blocks_cover_every_step_once(ratio: float, kind: type) -> None:
    """The runs in which one group stands still follow each other without gap or overlap."""
    counting = kind(ratio, 2)
    blocks = counting.blocks()
    ends = [counting.block(index) for index in list(blocks)[:200]]
    ends = [(start, end) for start, end in ends if end > counting.lowest or start == counting.lowest]
    covered = [step for start, end in ends for step in range(start, end + 1)]
    assert sorted(set(covered)) == list(range(counting.lowest, max(covered) + 1))
    if kind is ByRatio:
        for start, end in ends:
            sizes = counting.ways(np.arange(start, end + 1))[0][1]
            assert len(set(sizes)) == 1


@pytest.mark.parametrize(
    "counting",
    [
        OneGroup(2),
        ByRatio(1, 2),
        ByRatio(2.5, 2),
        ByRatio(0.001, 2),
        AnyTotal(0.4, 2),
        EqualGroups(7),
        AnyOver(6),
        EqualGroups(3, 2, (1.0, 1.5, 2.0)),
        EqualGroups(3, 2, (1.0, 1.0, 1.0)),
    ],
)
def test_the_last_step_stays_within_the_largest_total(counting: object) -> None:
    """And the one after it would not, give or take the rounding of one group."""
    total = counting.ways(np.array([counting.highest]))[0].sum()
    assert total <= LARGEST_TOTAL + 10
    assert counting.ways(np.array([counting.highest + 1]))[0].sum() > LARGEST_TOTAL - 10
    assert counting.step_near(float(total)) == pytest.approx(counting.highest, abs=2)


def test_groups_that_a_total_does_not_fill_are_topped_up_from_the_end() -> None:
    """Eleven in four groups are 2, 3, 3, 3; weights are filled where a step does it."""
    assert EqualGroups(4).splits(11)[0].ravel().tolist() == [2, 3, 3, 3]
    assert EqualGroups(4).splits(12)[0].ravel().tolist() == [3, 3, 3, 3]
    assert EqualGroups(3, 2, (1.0, 1.5, 2.0)).splits(9)[0].ravel().tolist() == [2, 3, 4]
    assert AnyOver(4).ways(np.array([5, 8]))[0].tolist() == [[1, 2], [1, 2], [1, 2], [2, 2]]


@given(st.integers(1, 10_000), st.floats(0, 0.99))
def test_enrolment_is_the_smallest_that_leaves_enough(size: int, dropout: float) -> None:
    """Group by group, with 1e-9 forgiven: 90 after 10% dropout are 100, not 101."""
    (enrolled,) = Enrolment(dropout).people([size]) or (size,)
    assert enrolled * (1 - dropout) >= size - 1e-6
    assert (enrolled - 1) * (1 - dropout) < size
    assert Enrolment(0.1).people([90]) == (100,)


def test_means_of_a_total_that_does_not_split_weigh_as_many_as_they_have() -> None:
    """The F test of an analysis of covariance, with f from the means weighted by 33, 33 and 34."""
    means, sizes = np.array([412.0, 405.0, 398.0]), np.array([33, 33, 34])
    asked = {"means": means.tolist(), "sd": 24.0, "r_squared": 0.5, "n": 100}
    found = settle(design_named("ancova"), "power", asked)
    assert found.groups == (33, 33, 34)
    centre = (sizes * means).sum() / 100
    noncentrality = (sizes * (means - centre) ** 2).sum() / 24**2 / 0.5
    limit = stats.f.isf(0.05, 2, 96)
    assert found.power == pytest.approx(float(stats.ncf.sf(limit, 2, 96, noncentrality)), abs=1e-9)
