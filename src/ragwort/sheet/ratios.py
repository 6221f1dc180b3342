"""The ratio of the arms in whole numbers, as blocks need it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction

MOST_PARTS = 24  # of a ratio in whole numbers: 5 : 7 is 12


def whole_ratio(sizes: Sequence[float]) -> tuple[int, ...]:
    """The smallest whole numbers that are (nearly) in the ratio of these sizes, adding up to at most `MOST_PARTS`.

    The denominators tried grow until every share is within half a per cent.
    """
    total = float(sum(sizes))
    for parts in range(len(sizes), MOST_PARTS + 1):
        whole = [round(parts * size / total) for size in sizes]
        near = all(abs(each / parts - size / total) < 0.005 for each, size in zip(whole, sizes, strict=True))
        if sum(whole) == parts and min(whole) > 0 and near:
            shrunk = math.gcd(*whole)
            return tuple(each // shrunk for each in whole)
    fractions = [Fraction(size / min(sizes)).limit_denominator(4) for size in sizes]
    common = math.lcm(*(each.denominator for each in fractions))
    return tuple(max(1, int(each * common)) for each in fractions)


def ratio_words(parts: Sequence[int]) -> str:
    """`1 : 2`."""
    return " : ".join(str(each) for each in parts)
