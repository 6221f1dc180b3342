"""The proportions of two groups that fit data best where their difference is held at a margin.

Source: Farrington and Manning, Statistics in Medicine 9 (1990), pages 1447-1454 (the cubic equation, in closed form).
"""

from __future__ import annotations

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array, Number

_STEPS = 3  # of Newton's method, which polish the closed form


def restricted_shares(p1: Number, p2: Number, n1: Number, n2: Number, apart: Number) -> tuple[Array, Array]:
    """The likeliest proportions with p2 - p1 = `apart`, for shares p1 of n1 and p2 of n2."""
    p1, p2, n1, n2, s = (np.asarray(each, dtype=np.float64) for each in np.broadcast_arrays(p1, p2, n1, n2, apart))
    ratio = n1 / n2
    a = 1 + ratio
    b = -(1 + ratio + p2 + ratio * p1 + s * (ratio + 2))
    c = s**2 + s * (2 * p2 + ratio + 1) + p2 + ratio * p1
    d = -p2 * s * (1 + s)
    v = b**3 / (27 * a**3) - b * c / (6 * a**2) + d / (2 * a)
    u = np.where(v >= 0, 1.0, -1.0) * np.sqrt(np.maximum(b**2 / (9 * a**2) - c / (3 * a), 0.0))
    with np.errstate(divide="ignore", invalid="ignore"):
        w = (np.pi + np.arccos(np.clip(np.where(u == 0, 1.0, v / u**3), -1.0, 1.0))) / 3
    second = 2 * u * np.cos(w) - b / (3 * a)
    low, high = np.maximum(s, 0.0), np.minimum(1 + s, 1.0)
    for _ in range(_STEPS):
        slope = (3 * a * second + 2 * b) * second + c
        value = ((a * second + b) * second + c) * second + d
        moved = second - np.where(np.abs(slope) > 1e-9, value / np.where(slope == 0, 1.0, slope), 0.0)
        second = np.clip(np.where(np.abs(moved - second) < 1e-3, moved, second), low, high)
    return np.asarray(second - s), np.asarray(second)
