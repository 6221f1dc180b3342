"""The statistics of several looks: their joint density, look by look, on what has not stopped before.

Armitage, McPherson and Rowe's recursion (J R Stat Soc A 132, 1969, 235-244) with composite Gauss-Legendre quadrature;
Jennison and Turnbull (2000), chapter 19. Densities are those without an effect: under a drift d that of Z at the share
t of the information is exp(d z sqrt(t) - d^2 t / 2) times as large, so that one pass serves every drift.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

from scipy import special

from ragwort.base.lazily import np

if TYPE_CHECKING:
    from numpy.typing import NDArray

Drifts = tuple[float, float]
NO_DRIFT: Drifts = (0.0, 0.0)
CUT = 8.5  # SDs from the mean at which densities are taken for nothing
PANEL = 4.0  # SDs that a panel of nodes may be wide, of the statistic or of what comes until the next look
MOST_PANELS = 190  # that a density is held in; closer looks would need more
_NODES = 16  # of a panel
_ROOT_2_PI = math.sqrt(2 * math.pi)
_STEPS = 100  # of Newton's method, which needs about six
_SAME = 1e-15


@dataclass(frozen=True)
class Alive:
    """Where the statistic is at a share `t` of the information, of the studies that go on: nodes and their mass."""

    t: float
    z: NDArray[np.float64]
    mass: NDArray[np.float64]  # without an effect

    def under(self, drift: float) -> NDArray[np.float64]:
        """The mass of each node under a drift."""
        if drift == 0:
            return self.mass
        return np.asarray(self.mass * np.exp(drift * self.z * math.sqrt(self.t) - drift * drift * self.t / 2))

    def under_each(self, drifts: NDArray[np.float64]) -> NDArray[np.float64]:
        """The same under many drifts: drifts x nodes."""
        d = drifts[:, None]
        return np.asarray(self.mass * np.exp(d * (self.z * math.sqrt(self.t)) - d * d * (self.t / 2)))

    def score(self, bound: float, t: float, drift: float) -> NDArray[np.float64]:
        """How many SDs each node is, by the look at `t`, expected to be above a bound there."""
        more = t - self.t
        return np.asarray((self.z * math.sqrt(self.t) + drift * more - bound * math.sqrt(t)) / math.sqrt(more))

    def going_on(self, t: float, low: float, high: float, following: float, drifts: Drifts = NO_DRIFT) -> Alive:
        """Who goes on after the look at `t` between two bounds; `following` is the share at the look after it.

        `drifts` are the lowest and the highest under which it will be asked.
        """
        more = t - self.t
        smooth = PANEL * math.sqrt(more / t)  # where studies stopped before, the density bends within this
        z, weights = nodes(*_cut(t, low, high, drifts), min(panel_width(t, following), smooth))
        apart = (z[:, None] * math.sqrt(t) - self.z * math.sqrt(self.t)) / math.sqrt(more)
        density = np.exp(apart * apart / -2) @ self.mass * (math.sqrt(t / more) / _ROOT_2_PI)
        return Alive(t, z, density * weights)


def first(t: float, low: float, high: float, following: float, drifts: Drifts = NO_DRIFT) -> Alive:
    """Who goes on after the first look."""
    z, weights = nodes(*_cut(t, low, high, drifts), panel_width(t, following))
    return Alive(t, z, np.exp(z * z / -2) / _ROOT_2_PI * weights)


def panel_width(t: float, following: float) -> float:
    """How wide a panel may be at a look so that the next one is reached without loss."""
    return PANEL * min(1.0, math.sqrt((following - t) / t))


def _cut(t: float, low: float, high: float, drifts: Drifts) -> tuple[float, float]:
    """Two bounds, no further apart than where something is left under some drift."""
    root = math.sqrt(t)
    return max(low, min(drifts[0], 0.0) * root - CUT), min(high, max(drifts[1], 0.0) * root + CUT)


def nodes(low: float, high: float, width: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Nodes and weights between two places."""
    if low >= high:
        return np.zeros(0), np.zeros(0)
    panels = min(math.ceil((high - low) / width), MOST_PANELS)
    base, weights = _legendre()
    half = (high - low) / panels / 2
    centres = low + half * (2 * np.arange(panels) + 1)
    return (centres[:, None] + half * base).ravel(), np.tile(half * weights, panels)


@lru_cache(maxsize=1)
def _legendre() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    base, weights = np.polynomial.legendre.leggauss(_NODES)
    return base, weights


def above(before: Alive | None, t: float, bound: float, drift: float) -> float:
    """The chance to come to the look at `t` and to be at or above a bound there."""
    if before is None:
        return float(special.ndtr(drift * math.sqrt(t) - bound))
    return float(before.under(drift) @ special.ndtr(before.score(bound, t, drift)))


def below(before: Alive | None, t: float, bound: float, drift: float) -> float:
    """The same at or below it."""
    if before is None:
        return float(special.ndtr(bound - drift * math.sqrt(t)))
    return float(before.under(drift) @ special.ndtr(-before.score(bound, t, drift)))


def each_above(before: Alive | None, t: float, bound: float, drifts: NDArray[np.float64]) -> NDArray[np.float64]:
    """`above` under each of many drifts."""
    if before is None:
        return np.asarray(special.ndtr(drifts * math.sqrt(t) - bound))
    more = (t - before.t) * drifts[:, None]
    score = (before.z * math.sqrt(before.t) - bound * math.sqrt(t) + more) / math.sqrt(t - before.t)
    return np.asarray((before.under_each(drifts) * special.ndtr(score)).sum(axis=1))


def each_below(before: Alive | None, t: float, bound: float, drifts: NDArray[np.float64]) -> NDArray[np.float64]:
    """`below` under each of many drifts."""
    mirrored = None if before is None else Alive(before.t, -before.z, before.mass)
    return each_above(mirrored, t, -bound, -drifts)


def bound_above(before: Alive | None, t: float, chance: float, drift: float = 0.0) -> float:
    """The bound that is reached from below with this chance at the look at `t`; -inf where none is as likely.

    Newton's method on the logarithm of the chance, which bends one way.
    """
    if before is None:
        return drift * math.sqrt(t) - float(special.ndtri(chance))
    mass, root = before.under(drift), math.sqrt(t / (t - before.t))
    alive = float(mass.sum())
    if chance >= alive:
        return -math.inf
    bound = drift * math.sqrt(t) - float(special.ndtri(chance / alive))
    for _ in range(_STEPS):
        score = before.score(bound, t, drift)
        reached = float(mass @ special.ndtr(score))
        slope = float(mass @ np.exp(score * score / -2)) * root / _ROOT_2_PI
        step = 1.0 if reached <= 0 or slope <= 0 else (math.log(chance) - math.log(reached)) * reached / slope
        step = min(max(step, -1.0), 1.0)
        bound -= step
        if abs(step) <= _SAME * max(1.0, abs(bound)) * 4:
            break
    return bound


def bound_below(before: Alive | None, t: float, chance: float, drift: float = 0.0) -> float:
    """The bound that is reached from above with this chance; inf where none is as likely."""
    mirrored = None if before is None else Alive(before.t, -before.z, before.mass)
    return -bound_above(mirrored, t, chance, -drift)
