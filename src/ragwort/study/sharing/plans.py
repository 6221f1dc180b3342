"""The plans by which aims share a study's alpha: the share of each, what is rejected, how a protocol says it.

Sources: Bretz, Hothorn and Westfall, *Multiple Comparisons Using R* (2011), section 2.3 and 2.4 (Bonferroni, Holm,
Hochberg, fixed sequence); Wiens, Pharmaceutical Statistics 2 (2003), pages 211-215 (fallback).
"""

from __future__ import annotations

import math
import operator
from collections.abc import Sequence
from itertools import accumulate
from typing import TYPE_CHECKING, ClassVar

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.works import HOCHBERG, HOLM, WIENS, cited
from ragwort.study.words.numbers import percent_text

if TYPE_CHECKING:
    from numpy.typing import NDArray

Joint = tuple[float, float, tuple[float, ...]]  # the chances that all, some and each of the aims succeed


class SharingPlan:
    """Each aim by itself, at its own alpha; plans that share one say what is otherwise. `PLANS` has them by name."""

    name: ClassVar[str] = ""
    label: ClassVar[str] = "each by itself"
    in_protocol: ClassVar[str] = ""  # `{level}` is that of the study, `{part}` its equal part
    weighted: ClassVar[bool] = False  # whether each aim has a weight of its own
    first_decides: ClassVar[bool] = False  # whether no aim succeeds unless the first does

    @property
    def shares(self) -> bool:
        """Whether one alpha is shared."""
        return bool(self.name)

    def parts(self, weights: Sequence[float]) -> list[float]:
        """Of the study's alpha what each aim is powered at (0..1), from the weights of all, in their order."""
        return [1 / len(weights)] * len(weights)

    def part_words(self, weights: Sequence[float], at: int, alpha: float) -> str:
        """The part of one aim: `a third of 0.05`."""
        return f"{_FRACTIONS.get(len(weights), f'1/{len(weights)}')} of {alpha:g}"

    def at_own_level(self, count: int) -> int:
        """How many aims, from the first on, succeed with their own power, whatever becomes of the others."""
        return count

    def joint(self, powers: Sequence[float]) -> Joint | None:
        """The chances of independent aims with these powers, where no procedure passes anything on; else None."""
        return math.prod(powers), 1 - math.prod(1 - power for power in powers), tuple(powers)

    def rejected(self, p: NDArray[np.float64], alpha: float, alphas: NDArray[np.float64]) -> NDArray[np.bool_]:
        """Which hypotheses are rejected (studies x aims), from their p-values; `alphas` are those of the aims."""
        return np.asarray(p <= alphas)


_FRACTIONS = {1: "all", 2: "half", 3: "a third", 4: "a quarter", 5: "a fifth"}


class EqualParts(SharingPlan):
    """Bonferroni's correction."""

    name = "split"
    label = "in equal parts"
    in_protocol = "by Bonferroni's correction: each is tested, and powered, at the {part} level"


class ByWeights(SharingPlan):
    """A weighted Bonferroni correction."""

    name = "weights"
    label = "by weights"
    in_protocol = "by a weighted Bonferroni correction: each is tested, and powered, at its share of the {level} level"
    weighted = True

    @override
    def parts(self, weights: Sequence[float]) -> list[float]:
        return [weight / math.fsum(weights) for weight in weights]

    @override
    def part_words(self, weights: Sequence[float], at: int, alpha: float) -> str:
        return f"{percent_text(self.parts(weights)[at])} of {alpha:g}".replace("\u00a0", " ")


class Holm(SharingPlan):
    """From the smallest p on, until one fails."""

    name = "holm"
    label = "by Holm's procedure"
    in_protocol = f"by Holm's procedure {cited((HOLM,))}; each aim is powered at {{part}}, the level of its first step"

    @override
    def at_own_level(self, count: int) -> int:
        return 0

    @override
    def joint(self, powers: Sequence[float]) -> Joint | None:
        return None

    @override
    def rejected(self, p: NDArray[np.float64], alpha: float, alphas: NDArray[np.float64]) -> NDArray[np.bool_]:
        order = np.argsort(p, axis=1, kind="stable")
        passes = np.take_along_axis(p, order, axis=1) <= alpha / np.arange(p.shape[1], 0, -1)
        kept = self._kept(passes)
        found = np.zeros_like(kept)
        np.put_along_axis(found, order, kept, axis=1)
        return np.asarray(found)

    def _kept(self, passes: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """From the smallest p to the largest: which of those that pass their step are rejected."""
        return np.asarray(np.logical_and.accumulate(passes, axis=1))


class Hochberg(Holm):
    """From the largest p on, until one succeeds."""

    name = "hochberg"
    label = "by Hochberg's procedure"
    in_protocol = f"by Hochberg's procedure {cited((HOCHBERG,))}; each aim is powered at {{part}}, its strictest level"

    @override
    def _kept(self, passes: NDArray[np.bool_]) -> NDArray[np.bool_]:
        return np.asarray(np.logical_or.accumulate(passes[:, ::-1], axis=1)[:, ::-1])


class FixedOrder(SharingPlan):
    """One after another, each at the whole alpha, until one fails."""

    name = "order"
    label = "in fixed order"
    in_protocol = (
        "by testing the aims in the order given, each at the {level} level and only if those before it are "
        "significant; the powers below are those of each test by itself"
    )
    first_decides = True

    @override
    def parts(self, weights: Sequence[float]) -> list[float]:
        return [1.0] * len(weights)

    @override
    def part_words(self, weights: Sequence[float], at: int, alpha: float) -> str:
        return f"all of {alpha:g}, once those before have succeeded"

    @override
    def at_own_level(self, count: int) -> int:
        return 1

    @override
    def joint(self, powers: Sequence[float]) -> Joint | None:
        return math.prod(powers), powers[0], tuple(accumulate(powers, operator.mul))

    @override
    def rejected(self, p: NDArray[np.float64], alpha: float, alphas: NDArray[np.float64]) -> NDArray[np.bool_]:
        return np.asarray(np.logical_and.accumulate(p <= alpha, axis=1))


class Fallback(ByWeights):
    """One after another, each with its own part and what the one before it passed on."""

    name = "fallback"
    label = "by the fallback procedure"
    in_protocol = (
        f"by the fallback procedure {cited((WIENS,))}: the aims are tested in the order given, each at its "
        "share of the {level} level and at what significant aims before it pass on; each is powered at its own share"
    )

    @override
    def at_own_level(self, count: int) -> int:
        return 1

    @override
    def joint(self, powers: Sequence[float]) -> Joint | None:
        return None

    @override
    def rejected(self, p: NDArray[np.float64], alpha: float, alphas: NDArray[np.float64]) -> NDArray[np.bool_]:
        found = np.zeros(p.shape, dtype=bool)
        passed = np.zeros(len(p))
        for place, own in enumerate(alphas):
            level = own + passed
            found[:, place] = p[:, place] <= level
            passed = np.where(found[:, place], level, 0.0)
        return found


_ALL = (SharingPlan(), EqualParts(), ByWeights(), Holm(), Hochberg(), FixedOrder(), Fallback())
PLANS: dict[str, SharingPlan] = {plan.name: plan for plan in _ALL}
ALONE = PLANS[""]
