"""Who is allocated to what: ratios, blocks, strata, minimisation, and what is refused."""

from __future__ import annotations

from collections import Counter
from itertools import groupby
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ragwort.sheet.allocation import Asked, Factor, SheetError, allocated, properties_of, usual_blocks
from ragwort.sheet.asked import blocks_in, columns_in, factors_in, range_in
from ragwort.sheet.ratios import whole_ratio

SEX, AGE = Factor("sex", ("f", "m")), Factor("age", ("under 40", "40 on"), 2.0)
RATIOS = st.lists(st.integers(1, 4), min_size=2, max_size=4).map(tuple)


@given(parts=RATIOS, count=st.integers(0, 200), seed=st.integers(0, 99))
def test_every_whole_block_has_the_ratio(parts: tuple[int, ...], count: int, seed: int) -> None:
    """Whatever the ratio: blocks that are not cut off by the end hold it exactly; the seed gives the same list."""
    asked = Asked("blocks", parts, seed=seed)
    places = allocated(asked, count)
    assert len(places) == count
    assert places == allocated(asked, count)
    blocks = [list(block) for _, block in groupby(places, key=lambda place: place.block)]
    for block in blocks[:-1]:
        assert len(block) in usual_blocks(parts)
        counts = Counter(place.arm for place in block)
        assert len({counts[arm] / part for arm, part in enumerate(parts)}) == 1


def test_simple_allocation_has_the_ratio_on_average_and_no_memory() -> None:
    """Two to one; an arm follows itself as often as chance has it."""
    arms = np.array([place.arm for place in allocated(Asked("simple", (2, 1), seed=3), 30_000)])
    assert arms.mean() == pytest.approx(1 / 3, abs=0.01)
    assert (arms[1:] == arms[:-1]).mean() == pytest.approx(5 / 9, abs=0.01)


def test_every_stratum_has_its_own_list() -> None:
    """As long as the others, balanced by itself; the count is enough for all."""
    places = allocated(Asked("stratified", (1, 1), (4,), (SEX, AGE), seed=5), 102)
    by_stratum = Counter(place.stratum for place in places)
    assert set(by_stratum.values()) == {26}
    found = properties_of(places, 2)
    assert all(abs(first - second) <= 2 for _, (first, second) in found.by_stratum)
    assert sum(found.by_arm) == 104


def test_minimisation_balances_every_factor_better_than_chance() -> None:
    """The levels of each factor differ by few among the arms, in most lists by fewer than at random."""
    worst = {"minimisation": [], "simple": []}
    for seed in range(40):
        for method, kept in worst.items():
            places = allocated(Asked(method, (1, 1), factors=(SEX, AGE), seed=seed), 100)
            levels = [place.stratum[0] if place.stratum else seed % 2 for place in places]
            women = Counter(place.arm for place, level in zip(places, levels, strict=True) if level == 0)
            kept.append(abs(women[0] - women[1]) if method == "minimisation" else abs(2 * women[0] - 100) / 2)
    assert np.mean(worst["minimisation"]) < 4
    assert np.mean(worst["minimisation"]) < np.mean(worst["simple"])


def test_the_longest_run_and_the_counts() -> None:
    """Of a list written out."""
    places = allocated(Asked("blocks", (1, 1), (2,), seed=2), 12)
    found = properties_of(places, 2)
    assert found.by_arm == (6, 6)
    assert found.longest_run == max(len(list(run)) for _, run in groupby(place.arm for place in places))
    assert found.longest_run <= 2
    assert properties_of([], 2).longest_run == 0


@pytest.mark.parametrize(
    ("asked", "field", "words"),
    [
        (Asked("blocks", (1, 2), (4,)), "blocks", r"does not fit the ratio 1 : 2: 3, 6, 9"),
        (Asked("blocks", (1, 1), (0,)), "blocks", "A block of 0"),
        (Asked("stratified", (1, 1)), "strata", "name what makes the strata"),
        (Asked("minimisation", (1, 1)), "strata", "name what makes the strata"),
        (Asked("stratified", (1, 1), factors=(Factor("sex", ("f",)),)), "strata", "2 or more levels"),
        (Asked("stratified", (1, 1), factors=(Factor("sex", ("f", "f")),)), "strata", "one name"),
        (Asked("drawing lots", (1, 1)), "method", "Allocation is none, simple"),  # type: ignore[arg-type]
    ],
)
def test_what_cannot_be_allocated(asked: Asked, field: str, words: str) -> None:
    """Which word is wrong, and what would be allowed."""
    with pytest.raises(SheetError, match=words) as refused:
        allocated(asked, 10)
    assert refused.value.field == field


@pytest.mark.parametrize(
    ("sizes", "parts"),
    [((72, 72), (1, 1)), ((50, 100), (1, 2)), ((51, 100), (1, 2)), ((30, 20), (3, 2)), ((40, 60, 60), (2, 3, 3))],
)
def test_ratios_in_whole_numbers(sizes: tuple[int, ...], parts: tuple[int, ...]) -> None:
    """Of sizes that were rounded up."""
    assert whole_ratio(sizes) == parts


@pytest.mark.parametrize(
    ("read", "text", "found"),
    [
        (factors_in, "sex: f, m; age (2): under 40, 40 on", (SEX, AGE)),
        (factors_in, "", ()),
        (blocks_in, "4, 6  8", (4, 6, 8)),
        (range_in, "150 to 900", (150.0, 900.0)),
        (range_in, "to 10", (None, 10.0)),
        (range_in, "−2 to", (-2.0, None)),
        (columns_in, "age, shift; age", ("age", "shift")),
    ],
)
def test_typed_words_are_read(read: Any, text: str, found: object) -> None:
    """Strata with weights, blocks, ranges, columns."""
    assert read(text) == found


@pytest.mark.parametrize(
    ("read", "text", "words"),
    [
        (factors_in, "sex", "names no levels"),
        (factors_in, "sex: f", "2 or more levels"),
        (factors_in, "sex (0): f, m", "above 0"),
        (factors_in, "sex: f, m; Sex: a, b", "one name"),
        (factors_in, "; ".join(f"q{n}: a, b" for n in range(7)), "128 strata"),
        (blocks_in, "4, x", "no size of a block"),
        (blocks_in, "0", "no size of a block"),
        (range_in, "900 to 150", "begins above its end"),
        (range_in, "some", "no range"),
    ],
)
def test_typed_words_that_cannot_be_read(read: Any, text: str, words: str) -> None:
    """Why, and what it is like."""
    with pytest.raises(SheetError, match=words):
        read(text)
