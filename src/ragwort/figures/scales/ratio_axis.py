"""The marks of an axis along which logarithms run, and which is read as ratios."""

from __future__ import annotations

import math
from collections.abc import Sequence

# Steps of ratios, the coarsest first; each within a decade.
_STEPS: tuple[tuple[float, ...], ...] = (
    (1.0,),
    (1.0, 2.0, 5.0),
    (1.0, 1.5, 2.0, 3.0, 5.0, 7.0),
    (1.0, 1.2, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0),
    tuple(n / 10 for n in range(10, 100)),
)
_FEWEST, _MOST = 4, 7  # marks


def ratio_marks(low: float, high: float) -> list[tuple[float, str]]:
    """Where marks stand between two logarithms, and what they say."""
    ways = (_between(steps, low, high) for steps in _STEPS)
    ratios = next((way for way in ways if len(way) >= _FEWEST), _between(_STEPS[-1], low, high))
    ratios = ratios[:: math.ceil(len(ratios) / _MOST)] if len(ratios) > _MOST else ratios
    return [(math.log(ratio), f"{ratio:g}") for ratio in ratios]


def _between(steps: Sequence[float], low: float, high: float) -> list[float]:
    decades = range(math.floor(low / math.log(10)) - 1, math.ceil(high / math.log(10)) + 1)
    ratios = [float(f"{step * 10.0**decade:.6g}") for decade in decades for step in steps]
    return [ratio for ratio in ratios if low <= math.log(ratio) <= high]
