"""What the probability of superiority means: every one of a group beside every one of the other."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ragwort.base.lazily import np, special
from ragwort.designs.illustration import MANY, PairsSeen

Shares = Sequence[float]


def pairs_seen(plan: Any) -> PairsSeen:
    """The plan of a rank-sum test as ten people of each group, evenly over what is expected of them."""
    if plan.shares is not None:
        first, second = (_categories(each) for each in plan.shares)
    else:
        d = float(np.sqrt(2) * special.ndtri(plan.truth))
        first = special.ndtri(_evenly())
        second = first + d
    ahead = np.sign(second[::-1, None] - first[None, :]) / 2 + 0.5
    ties = " (half where both are alike)" if np.any(ahead == 0.5) else ""
    says = (
        "Each square is a pair: rows are ten with {groups.2}, the highest first, columns ten with {groups.1}, the "
        f"lowest first; filled{ties} where the one with {{groups.2}} is higher, as in "
        f"{100 * plan.truth:.3g}% of all pairs."
    )
    return PairsSeen(tuple(map(tuple, ahead.tolist())), says)


def _evenly() -> Any:
    return (np.arange(MANY) + 0.5) / MANY


def _categories(shares: Shares) -> Any:
    """The category of each of ten people, the lowest first."""
    return np.searchsorted(np.cumsum(shares)[:-1], _evenly()).astype(float)
