"""Roots of one number: of what a study misses, of the drift that has a power."""

from __future__ import annotations

from collections.abc import Callable

from scipy import special

ROOT = 1e-12  # of a root, how exactly it is found
_NONE = 1e-14  # of what is to become 0
_STEPS = 200


def next_root(over: Callable[[float], float], low: float, at_low: float, exactly: float) -> float:
    """The first place above `low` where a function of (0, 1) that is above 0 there comes down to it."""
    high = low
    while True:
        low, high = high, min(high + max(1.2 * at_low, 1e-3 * high), (1 + high) / 2)
        if (at_high := over(high)) < 0:
            return between(over, low, at_low, high, at_high, exactly)
        at_low = at_high
        if 1 - high < 1e-15:
            return 1.0


def between(
    f: Callable[[float], float], low: float, at_low: float, high: float, at_high: float, exactly: float = ROOT
) -> float:
    """The root between two ends of unlike sign: secants as long as they stay between, halves where not."""
    last, at_last, now, at_now = high, at_high, low, at_low
    for _ in range(_STEPS):
        better = now - at_now * (now - last) / (at_now - at_last) if at_now != at_last else now
        if not min(low, high) < better < max(low, high):
            better = (low + high) / 2
        last, at_last, now = now, at_now, better
        at_now = f(now)
        if (at_now < 0) == (at_low < 0):
            low, at_low = now, at_now
        else:
            high = now
        if abs(at_now) < _NONE or abs(now - last) <= exactly * max(abs(now), exactly):
            break
    return now


def probit(power: float) -> float:
    return float(special.ndtri(min(max(power, 1e-300), 1 - 1e-16)))
