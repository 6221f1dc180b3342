"""The population in which simulated studies take place: how outcomes scatter, who is lost, who does not take part.

As planned, or departing from the plan. Outcomes are drawn in SDs (of the first group, as planned) from the first
group's mean; a design brings them to their unit.

Sources: Johnson, Kotz and Balakrishnan, *Continuous Univariate Distributions* 1 (2nd ed., 1994), chapters 14
(lognormal) and 17 (gamma), and 2 (1995), chapters 25 (beta) and 28 (t).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import lru_cache
from typing import TYPE_CHECKING, Literal, TypeAlias

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array

if TYPE_CHECKING:
    from numpy.typing import NDArray

Kept: TypeAlias = "NDArray[np.bool_] | None"  # who is left; None where all are
Kind = Literal["normal", "lognormal", "gamma", "t", "bounded", "floor", "ceiling"]
LEANING = 1.0  # log odds of being lost, per SD of the outcome, where the loss is related to it


@dataclass(frozen=True)
class Shape:
    """How an outcome scatters around its mean, with SD 1 before a floor or a ceiling cuts it off.

    `size` is the skewness (lognormal, gamma), the degrees of freedom (t), or how many SDs the limit lies from the
    first group's mean (floor, ceiling); `low` and `high` are the ends of a bounded scale, in the same SDs.
    """

    kind: Kind = "normal"
    size: float = 0.0
    low: float = -2.0
    high: float = 2.0

    def noise(self, rng: np.random.Generator, size: tuple[int, ...]) -> Array:
        """Values of mean 0 and SD 1; normal ones where a limit is yet to cut them off."""
        if self.kind == "lognormal":
            sigma = _sigma_of(self.size)
            grown = np.exp(sigma * rng.standard_normal(size))
            return (grown - math.exp(sigma**2 / 2)) / (math.exp(sigma**2 / 2) * math.sqrt(math.expm1(sigma**2)))
        if self.kind == "gamma":
            shape = 4 / self.size**2
            return (rng.standard_gamma(shape, size) - shape) / math.sqrt(shape)
        if self.kind == "t":
            return rng.standard_t(self.size, size) * math.sqrt((self.size - 2) / self.size)
        return rng.standard_normal(size)

    def values(self, rng: np.random.Generator, centre: Array, sd: Array | float, size: tuple[int, ...]) -> Array:
        """Outcomes around `centre` with scatter `sd` (both broadcast to `size`)."""
        if self.kind == "bounded":
            return self._bounded(rng, centre, sd, size)
        return self.cut(centre + sd * self.noise(rng, size))

    def cut(self, values: Array) -> Array:
        """The values as a floor or a ceiling records them."""
        if self.kind == "floor":
            return np.maximum(values, -self.size)
        return np.minimum(values, self.size) if self.kind == "ceiling" else values

    def _bounded(self, rng: np.random.Generator, centre: Array, sd: Array | float, size: tuple[int, ...]) -> Array:
        """A beta variable between the bounds, with this mean and SD."""
        width = self.high - self.low
        mean, variance = (np.asarray(centre) - self.low) / width, (np.asarray(sd) / width) ** 2
        both = mean * (1 - mean) / variance - 1
        return self.low + width * rng.beta(mean * both, (1 - mean) * both, size)

    def room(self, centre: float, sd: float) -> str:
        """Why a bounded scale cannot have this mean and SD; empty where it can."""
        if self.kind != "bounded":
            return ""
        if not self.low < centre < self.high:
            return f"its bounds, {self.low:g} to {self.high:g} SDs, leave out a mean of {centre:.3g} SDs"
        if sd**2 >= (centre - self.low) * (self.high - centre):
            return f"between {self.low:g} and {self.high:g} SDs values cannot vary by {sd:.3g} SDs"
        return ""


@lru_cache(maxsize=64)
def _sigma_of(skewness: float) -> float:
    """The sigma whose lognormal has this skewness: of w = exp(sigma^2), (w + 2)^2 (w - 1) = skewness^2."""
    roots = np.roots([1.0, 3.0, 0.0, -4.0 - skewness**2])
    w = max(root.real for root in roots if abs(root.imag) < 1e-9)
    return math.sqrt(math.log(w))


@dataclass(frozen=True)
class Population:
    """One population and its random numbers."""

    rng: np.random.Generator
    shape: Shape = field(default_factory=Shape)
    apart: float | None = None  # SD of the last group over the first's; None: as planned
    lost: float | None = None  # share of those enrolled that is lost; None: as planned, nobody of those analysed
    related: int = 0  # to whom it happens: at random, or more to those with high (1) or low (-1) outcomes
    more: float = 1.0  # how many are enrolled for each one analysed, where people come in whole clusters
    idle: float = 0.0  # share of those who ought to get something new that gets nothing

    @property
    def usual(self) -> bool:
        """Whether outcomes are normal and everybody stays and takes part."""
        return self.shape.kind == "normal" and self.lost is None and self.idle == 0

    def outcomes(self, centre: Array | float, sd: Array | float, size: tuple[int, ...]) -> Array:
        """Outcomes in SDs around `centre`, which broadcasts to `size`."""
        return self.shape.values(self.rng, np.asarray(centre, dtype=float), sd, size)

    def taken(self, effect: Array | float, size: tuple[int, ...]) -> Array:
        """The effect that each participant has (an array of `size`, or a scalar where all have it)."""
        if self.idle == 0:
            return np.asarray(effect, dtype=float)
        return np.where(self.rng.random(size) < self.idle, 0.0, effect)

    def kept(self, outcomes: Array) -> Kept:
        """Who is left, of participants with these outcomes in SDs from the first group's mean."""
        if self.lost is None or self.lost == 0:
            return None
        return np.asarray(self.rng.random(outcomes.shape) >= self.risk(outcomes))

    def risk(self, outcomes: Array) -> Array:
        """The chance of being lost with these outcomes."""
        if self.related == 0:
            return np.full(np.shape(outcomes), self.lost or 0.0)
        return special.expit(_base(self.lost or 0.0) + self.related * LEANING * outcomes)

    def sds(self, planned: tuple[float, ...]) -> tuple[float, ...]:
        """The SDs of the groups, from the first's on, growing evenly to the last's."""
        if self.apart is None or len(planned) < 2:
            return planned
        steps = np.linspace(0, 1, len(planned))
        return tuple(float(planned[0] * self.apart**step) for step in steps)


@lru_cache(maxsize=64)
def _base(lost: float) -> float:
    """The log odds at a mean outcome at which this share is lost in all, of normal outcomes."""
    from scipy.optimize import brentq

    nodes, weights = np.polynomial.hermite_e.hermegauss(40)
    weights = weights / weights.sum()
    return float(brentq(lambda base: (special.expit(base + LEANING * nodes) * weights).sum() - lost, -60, 60))
