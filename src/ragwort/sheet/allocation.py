"""Who is allocated to what, at random, by a seed: the same seed gives the same list.

Sources: Altman and Bland, BMJ 319 (1999), pages 703-704 (permuted blocks, strata); Pocock and Simon, Biometrics 31
(1975), pages 103-115 (minimisation).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby, product
from typing import Literal

import numpy as np

from ragwort.base.wording import one_of
from ragwort.sheet.ratios import ratio_words
from ragwort.study.document.part import Unreadable

Method = Literal["none", "simple", "blocks", "stratified", "clusters", "minimisation"]
METHODS: Mapping[str, str] = {
    "none": "nobody is allocated",
    "simple": "at random, one by one",
    "blocks": "at random in blocks",
    "stratified": "at random in blocks, stratum by stratum",
    "clusters": "by cluster, at random in blocks",
    "minimisation": "by minimisation",
}
LIKELY = 0.8  # the chance of the arm that minimises the imbalance (Pocock and Simon, 1975, section 3)
MOST_BLOCK = 1_000


class SheetError(Unreadable):
    """What is wrong with what was asked of a sheet, and what would be allowed; `field` names the word."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


@dataclass(frozen=True)
class Factor:
    """What strata are made by: a name and its levels; `weight` counts in minimisation."""

    name: str
    levels: tuple[str, ...]
    weight: float = 1.0


@dataclass(frozen=True)
class Asked:
    """How to allocate."""

    method: Method
    parts: tuple[int, ...]  # the ratio of the arms in whole numbers
    blocks: tuple[int, ...] = ()  # sizes that blocks are chosen from; the usual ones where empty
    factors: tuple[Factor, ...] = ()
    seed: int = 1


@dataclass(frozen=True)
class Place:
    """One place of the list: the arm, counted from 0, the levels of its stratum, and its block, counted from 1."""

    arm: int
    stratum: tuple[int, ...] = ()
    block: int = 0


def usual_blocks(parts: Sequence[int]) -> tuple[int, ...]:
    """Two and three times the smallest block: nobody can tell what comes last."""
    whole = sum(parts)
    return (whole, 2 * whole) if whole > 3 else (2 * whole, 3 * whole)


def checked(asked: Asked) -> Asked:
    """What is asked, with the usual blocks where none are given. Raises `SheetError`."""
    whole = sum(asked.parts)
    for block in asked.blocks:
        if block < 1 or block % whole or block > MOST_BLOCK:
            few = ", ".join(str(whole * times) for times in (1, 2, 3))
            ratio = ratio_words(asked.parts)
            raise SheetError("blocks", f"A block of {block} does not fit the ratio {ratio}: {few} … would.")
    for factor in asked.factors:
        if len(factor.levels) < 2 or not all(level.strip() for level in factor.levels):
            raise SheetError("strata", f"The stratum {factor.name or 'without a name'} needs 2 or more levels.")
        if len(set(factor.levels)) < len(factor.levels):
            raise SheetError("strata", f"Two levels of {factor.name} have one name.")
        if not 0 < factor.weight < 1e6:
            raise SheetError("weights", f"The weight of {factor.name} must be above 0, not {factor.weight:g}.")
    if asked.method in ("stratified", "minimisation") and not asked.factors:
        raise SheetError("strata", f"To allocate {METHODS[asked.method]}, name what makes the strata: sex: f, m.")
    if asked.method not in METHODS:
        raise SheetError("method", f"Allocation is {one_of(list(METHODS))}, not {asked.method!r}.")
    return Asked(asked.method, asked.parts, asked.blocks or usual_blocks(asked.parts), asked.factors, asked.seed)


def allocated(asked: Asked, count: int) -> list[Place]:
    """The list for so many. With strata every stratum has its own, equally long. Raises `SheetError`."""
    asked = checked(asked)
    rng = np.random.Generator(np.random.PCG64DXSM(np.random.SeedSequence(asked.seed)))
    if asked.method == "none":
        return [Place(0)] * count
    if asked.method == "simple":
        shares = np.array(asked.parts) / sum(asked.parts)
        return [Place(int(arm)) for arm in rng.choice(len(shares), count, p=shares)]
    if asked.method == "stratified":
        return _by_stratum(asked, count, rng)
    if asked.method == "minimisation":
        return _minimised(asked, count, rng)
    return _in_blocks(asked, count, rng)


def _in_blocks(asked: Asked, count: int, rng: np.random.Generator, stratum: tuple[int, ...] = ()) -> list[Place]:
    places: list[Place] = []
    block = 0
    while len(places) < count:
        block += 1
        size = int(rng.choice(asked.blocks))
        times = size // sum(asked.parts)
        arms = np.repeat(np.arange(len(asked.parts)), np.array(asked.parts) * times)
        places += [Place(int(arm), stratum, block) for arm in rng.permutation(arms)]
    return places[:count]


def _by_stratum(asked: Asked, count: int, rng: np.random.Generator) -> list[Place]:
    strata = strata_of(asked.factors)
    each = -(-count // len(strata))
    return [place for stratum in strata for place in _in_blocks(asked, each, rng, stratum)]


def strata_of(factors: Sequence[Factor]) -> list[tuple[int, ...]]:
    """Every combination of levels, each counted from 0."""
    return list(product(*(range(len(factor.levels)) for factor in factors)))


def _minimised(asked: Asked, count: int, rng: np.random.Generator) -> list[Place]:
    """With newcomers whose levels are made up at random, all as likely: who comes is not known yet."""
    places: list[Place] = []
    seen = [np.zeros((len(factor.levels), len(asked.parts))) for factor in asked.factors]
    for _ in range(count):
        stratum = tuple(int(rng.integers(len(factor.levels))) for factor in asked.factors)
        arm = next_arm(asked, seen, stratum, rng)
        for table, level in zip(seen, stratum, strict=True):
            table[level, arm] += 1
        places.append(Place(arm, stratum))
    return places


def next_arm(asked: Asked, seen: Sequence[object], stratum: Sequence[int], rng: np.random.Generator) -> int:
    """The arm of a newcomer: mostly the one after which the weighted imbalance is least.

    `seen` has for each factor how many of each level are in each arm (levels x arms).
    """
    parts = np.array(asked.parts, dtype=float)
    lack = np.zeros(len(parts))
    for arm in range(len(parts)):
        for factor, table, level in zip(asked.factors, seen, stratum, strict=True):
            after = np.array(table, dtype=float)[level] / parts
            after[arm] += 1 / parts[arm]
            lack[arm] += factor.weight * float(np.ptp(after))
    best = np.flatnonzero(lack <= lack.min() + 1e-12)
    if len(best) == len(parts) or rng.random() < LIKELY:
        return int(rng.choice(best, p=parts[best] / parts[best].sum()))
    rest = np.setdiff1d(np.arange(len(parts)), best)
    return int(rng.choice(rest, p=parts[rest] / parts[rest].sum()))


@dataclass(frozen=True)
class Properties:
    """What can be said of a list: counts by arm, in all and in each stratum, and the longest run of one arm."""

    by_arm: tuple[int, ...]
    by_stratum: tuple[tuple[tuple[int, ...], tuple[int, ...]], ...]
    longest_run: int


def properties_of(places: Sequence[Place], arms: int) -> Properties:
    """See `Properties`."""
    strata = sorted({place.stratum for place in places})
    counted = tuple((stratum, _counts([p for p in places if p.stratum == stratum], arms)) for stratum in strata)
    runs = (sum(1 for _ in run) for _, run in groupby(place.arm for place in places))
    return Properties(_counts(places, arms), counted if strata != [()] else (), max(runs, default=0))


def _counts(places: Sequence[Place], arms: int) -> tuple[int, ...]:
    found = Counter(place.arm for place in places)
    return tuple(found[arm] for arm in range(arms))
