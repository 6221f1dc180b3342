"""Small pictures that stand beside the help of an assumption."""

from __future__ import annotations

from dataclasses import dataclass

MANY = 10  # people of each group that are shown


@dataclass(frozen=True)
class PairsSeen:
    """`MANY` people of group 1 beside as many of group 2, each pair of them once.

    `ahead` has a row for each of group 2, the highest first, and a column for each of group 1, the lowest first: 1
    where the one of group 2 is higher, 0.5 where both are alike. `says` may name groups: {groups.1}.
    """

    ahead: tuple[tuple[float, ...], ...]
    says: str
