"""Fisher's exact test of two proportions: which tables reject, and how often they come up.

Given the successes in both groups together, the successes of group 2 are hypergeometric without an effect. A table
rejects when its p-value is at most alpha. The tables of one margin that do not reject are neighbours, so the test is
kept as the first and the last of them for each margin.

Sources: Fisher, *Statistical Methods for Research Workers* (14th ed., 1970), section 21.02; Tocher, "Extension of the
Neyman-Pearson theory of tests to discontinuous variates", Biometrika 37 (1950), pages 130-144 (the randomised test
that bounds the power from above).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, Any, TypeAlias

from ragwort.base.lazily import np, special
from ragwort.base.patience import check
from ragwort.stats.counted import counts_as
from ragwort.stats.noncentral import Array
from ragwort.stats.statistic import Sides

if TYPE_CHECKING:
    from numpy.typing import NDArray

Counts: TypeAlias = "NDArray[np.int64]"

LARGEST_GROUP = 20_000
_TIES = 1 + 1e-7  # probabilities this close are ties
_TOO_SMALL = 1e-200  # a sum of products below which some of them may have underflowed
_NEGLIGIBLE = 1e-16  # probability left out on each side of a range of counts


@dataclass(frozen=True)
class _Box:
    """The successes of each group that come up at all, as ranges with their probabilities."""

    first1: int
    pmf1: Array
    first2: int
    pmf2: Array

    @property
    def margins(self) -> tuple[int, int]:
        """The smallest and the largest number of successes in both groups together."""
        low = self.first1 + self.first2
        return low, low + len(self.pmf1) + len(self.pmf2) - 2

    def by_margin(self, values: NDArray[Any], low: int, other: float) -> NDArray[Any]:
        """What is known for margins from `low` on, spread over group 1 x group 2; `other` for the margins left out."""
        first, last = self.margins
        whole = np.full(last - first + 1, other, values.dtype)
        whole[low - first : low - first + len(values)] = values
        return np.lib.stride_tricks.sliding_window_view(whole, len(self.pmf2))


def fisher_power(n1: int, n2: int, p1: float, p2: float, alpha: float, sides: Sides) -> float:
    """The chance that Fisher's exact test rejects; `greater` looks for p2 > p1.

    Only successes of either group are looked at that come up at all, and only their sums that do.
    """
    check()
    box = _Box(*_common_counts(n1, p1), *_common_counts(n2, p2))
    low, high = _common_margins(box)
    first, last = _kept(n1, n2, alpha, sides, low, high)
    x2 = box.first2 + np.arange(len(box.pmf2))
    rejected = (x2 < box.by_margin(first, low, -1)) | (x2 > box.by_margin(last, low, n2 + 1))
    return min(float(box.pmf1 @ (rejected @ box.pmf2)), 1.0)


def _common_margins(box: _Box) -> tuple[int, int]:
    """The smallest and the largest sum of both groups' successes, but for `_NEGLIGIBLE` on each side."""
    low, high = box.margins
    sums = np.convolve(box.pmf1, box.pmf2)
    below, above = np.cumsum(sums), np.cumsum(sums[::-1])
    skip, drop = np.searchsorted(below, _NEGLIGIBLE), np.searchsorted(above, _NEGLIGIBLE)
    return low + int(skip), high - int(drop)


def bound_of_power(n1: int, n2: int, p1: float, p2: float, alpha: float, against: bool = False) -> float:
    """An upper bound of the power at these sizes that never falls as a group grows.

    It is the power of the one-sided randomised test at the full alpha, in the direction of the effect: given the
    margin no test at this alpha has more power, and it could always ignore an added participant. With `against` it is
    the test in the other direction, whose power never grows.
    """
    check()
    if (p2 < p1) is not against:
        n1, n2, p1, p2 = n2, n1, p2, p1
    box = _Box(*_common_counts(n1, p1), *_common_counts(n2, p2))
    low, high = box.margins
    _, last = _kept(n1, n2, alpha, "greater", low, high)
    margins = np.arange(low, high + 1)
    counts, pmf = _hypergeometric(n1, n2, margins, alpha)
    beyond = np.where(counts > last[:, None], pmf, 0.0).sum(axis=1)
    at_last = np.where(counts == last[:, None], pmf, 0.0).sum(axis=1)
    share = np.clip((alpha - beyond) / np.maximum(at_last, 1e-300), 0.0, 1.0)
    x2 = box.first2 + np.arange(len(box.pmf2))
    limit = box.by_margin(last, low, n2 + 1)
    rejected = (x2 > limit) + (x2 == limit) * box.by_margin(share, low, 0.0)
    return float(box.pmf1 @ (rejected @ box.pmf2))


@lru_cache(maxsize=4096)
def _common_counts(n: int, p: float) -> tuple[int, Array]:
    """The first of the counts that matter, and the probabilities of them all."""
    low = int(special.bdtrik(_NEGLIGIBLE, n, p)) if special.bdtr(0, n, p) < _NEGLIGIBLE else 0
    high = n - int(special.bdtrik(_NEGLIGIBLE, n, 1 - p)) if special.bdtr(0, n, 1 - p) < _NEGLIGIBLE else n
    counts = np.arange(max(low - 1, 0), min(high + 1, n) + 1)
    choose = special.gammaln(n + 1) - special.gammaln(counts + 1) - special.gammaln(n - counts + 1)
    return int(counts[0]), np.exp(choose + special.xlogy(counts, p) + special.xlog1py(n - counts, -p))


@lru_cache(maxsize=64)
def _kept(n1: int, n2: int, alpha: float, sides: Sides, low: int, high: int) -> tuple[Counts, Counts]:
    """For margins low..high: the first and the last count of group 2 that does not reject."""
    counts, pmf = _hypergeometric(n1, n2, np.arange(low, high + 1), alpha)
    if sides == "two":
        keeps = _kept_two_sided(pmf, alpha)
    elif sides == "greater":
        keeps = np.asarray(np.cumsum(pmf[:, ::-1], axis=1)[:, ::-1] > counts_as(alpha))
    else:
        keeps = np.asarray(np.cumsum(pmf, axis=1) > counts_as(alpha))
    keeps = keeps & (pmf > 0)
    rows, width, none = np.arange(len(counts)), keeps.shape[1], ~keeps.any(axis=1)
    first = np.where(none, n2 + 1, counts[rows, np.argmax(keeps, axis=1)])
    last = np.where(none, -1, counts[rows, width - 1 - np.argmax(keeps[:, ::-1], axis=1)])
    if sides == "greater":
        first = np.full_like(first, -1)
    if sides == "less":
        last = np.full_like(last, n2 + 1)
    return first, last


def _kept_two_sided(pmf: Array, alpha: float) -> NDArray[np.bool_]:
    """Which tables do not reject: those whose probability, ties included, is not among the rarest alpha in sum."""
    if np.array_equal(pmf, pmf[:, ::-1]):  # groups of one size: each table has its mirror image
        return np.asarray(_smaller_tail(pmf) * 2 > counts_as(alpha))
    ordered = np.sort(pmf, axis=1)
    rare = (np.cumsum(ordered, axis=1) <= counts_as(alpha)).sum(axis=1)
    threshold = ordered[np.arange(len(pmf)), np.minimum(rare, pmf.shape[1] - 1)]  # the rarest one that is too much
    return np.asarray(pmf * _TIES >= threshold[:, None])


def _smaller_tail(pmf: Array) -> Array:
    """Of symmetric rows: the probability of each count and of all further out on its side, at most one half."""
    below = np.cumsum(pmf, axis=1)
    return np.minimum(np.minimum(below, below[:, ::-1]), 0.5)


def _hypergeometric(n1: int, n2: int, margins: Counts, alpha: float) -> tuple[Counts, Array]:
    """Counts of group 2 (margins x counts) around each margin's mean, and their probabilities without an effect.

    Beyond the range lies less than 1e-16 of alpha: wide enough by the normal tail, and made wider until it is so, as
    the probabilities fall ever faster from the mean outwards.
    """
    total = n1 + n2
    draws = np.minimum(margins, total - margins)
    sd = float(np.sqrt(np.max(draws * (total - draws)) / total * (n1 / total) * (n2 / total)))
    reach = int(np.ceil(9.0 * sd)) + 8
    while True:
        counts, pmf, inside = _around(n1, n2, margins, reach)
        open_ends = np.stack([pmf[:, 0] * inside[:, 0], pmf[:, -1] * inside[:, -1]])
        cut = counts.shape[1] < min(n1, n2) + 1 and np.any(open_ends * reach > 1e-16 * alpha)
        if not cut:
            return counts, pmf
        reach *= 2


def _around(n1: int, n2: int, margins: Counts, reach: int) -> tuple[Counts, Array, NDArray[np.bool_]]:
    """Counts up to `reach` from each margin's mean, their probabilities, and where a count is possible at all."""
    centre = np.round(margins * (n2 / (n1 + n2))).astype(np.int64)
    lowest, highest = np.maximum(0, margins - n1), np.minimum(margins, n2)
    width = min(2 * reach + 1, min(n1, n2) + 1)
    start = np.clip(centre - reach, lowest, np.maximum(highest - width + 1, lowest))
    counts = start[:, None] + np.arange(width)
    inside = counts <= highest[:, None]
    pmf = _products(n1, n2, margins, start, width)
    sums = pmf.sum(axis=1, keepdims=True)
    if np.min(sums) < _TOO_SMALL:
        pmf = _from_logarithms(n1, n2, margins, counts, inside)
        sums = pmf.sum(axis=1, keepdims=True)
    return counts, pmf / sums, inside


def _products(n1: int, n2: int, margins: Counts, start: Counts, width: int) -> Array:
    """Proportional to the probabilities: those of both groups' successes where both have the same chance.

    Given their sum the chance does not matter; one in the middle of these margins keeps the products from underflow.
    """
    chance = float(np.clip(margins.mean() / (n1 + n2), 1e-6, 1 - 1e-6))
    second = np.pad(_binomial(n2, chance), width)
    first = np.pad(_binomial(n1, chance)[::-1], width + n2)  # backwards: as one count rises, the other falls
    return np.asarray(
        np.lib.stride_tricks.sliding_window_view(second, width)[start + width]
        * np.lib.stride_tricks.sliding_window_view(first, width)[n1 - margins + start + width + n2]
    )


def _from_logarithms(n1: int, n2: int, margins: Counts, counts: Counts, inside: NDArray[np.bool_]) -> Array:
    """As `_products`, by way of logarithms: for margins so far apart that products underflow."""
    others = margins[:, None] - counts
    logs = _log_choose(n2)[np.where(inside, counts, 0)] + _log_choose(n1)[np.where(inside, others, 0)]
    logs = np.where(inside, logs, -np.inf)
    return np.asarray(np.exp(logs - logs.max(axis=1, keepdims=True)))


@lru_cache(maxsize=256)
def _binomial(n: int, chance: float) -> Array:
    """The probabilities of 0..n successes."""
    k = np.arange(n + 1)
    return np.asarray(np.exp(_log_choose(n) + special.xlogy(k, chance) + special.xlog1py(n - k, -chance)))


@lru_cache(maxsize=4096)
def _log_choose(n: int) -> Array:
    """The logarithms of the binomial coefficients n over 0..n."""
    k = np.arange(n + 1)
    return np.asarray(special.gammaln(n + 1) - special.gammaln(k + 1) - special.gammaln(n - k + 1))
