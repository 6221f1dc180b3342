"""A yes-or-no outcome explained by a predictor, fitted by maximum likelihood and tested by Wald's test.

Source: Hosmer and Lemeshow, *Applied Logistic Regression* (2nd ed., 2000), sections 1.2, 2.2 and 2.4.
"""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.early import prefix
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.population import Kept, Population

_ROUNDS = 25  # of Newton's method
_STEEPEST = 30.0  # linear predictors further out are held here: their chance is 0 or 1 to all digits


@dataclass(frozen=True)
class Explained:
    """A predictor and a yes or no of each participant (studies x participants), and what else is in the model."""

    predictor: Array
    other: Array | None  # a second predictor that goes together with the first; None where there is none
    outcome: Array
    kept: Kept

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant; a lost outcome is NaN."""
        outcome = self.outcome[number]
        own = {"predictor": self.predictor[number]}
        own |= {} if self.other is None else {"other predictor": self.other[number]}
        return {**own, "outcome": outcome if self.kept is None else np.where(self.kept[number], outcome, np.nan)}

    def until(self, share: float) -> Explained:
        """See `early.InOrder`."""
        return Explained(*(prefix(each, share) for each in (self.predictor, self.other, self.outcome, self.kept)))


def draw_explained(
    population: Population, count: int, n: int, base: float, slope: float, share: float | None, shared: float
) -> Explained:
    """A predictor that is normal, or a yes with chance `share`; log odds are `base` + `slope` times it.

    `shared` is the squared correlation of the predictor with another one, which by itself does nothing.
    """
    size = (count, n)
    rng = population.rng
    drawn = population.shape.noise(rng, size) if share is None else (rng.random(size) < share).astype(float)
    scaled = drawn if share is None else (drawn - share) / np.sqrt(share * (1 - share))
    other = np.sqrt(shared) * scaled + np.sqrt(1 - shared) * rng.standard_normal(size) if shared > 0 else None
    chance = special.expit(base + population.taken(slope, size) * drawn)
    outcome = (rng.random(size) < chance).astype(float)
    return Explained(drawn, other, outcome, population.kept(scaled))


def analyse_explained(data: Explained, level: Level) -> Found:
    """Wald's test of the predictor's coefficient; the estimate is the log odds ratio."""
    others = [] if data.other is None else [data.other]
    x = np.stack([np.ones_like(data.predictor), data.predictor, *others], axis=2)
    there = np.ones(data.outcome.shape) if data.kept is None else data.kept.astype(float)
    slope, error = _fitted(x, data.outcome, there)
    return level.z(slope, error)


def _fitted(x: Array, y: Array, there: Array) -> tuple[Array, Array]:
    """The second coefficient of each study and its standard error; NaN where all outcomes are alike."""
    beta = np.zeros((x.shape[0], x.shape[2]))
    for _ in range(_ROUNDS):
        chance = special.expit(np.clip(np.einsum("cnk,ck->cn", x, beta), -_STEEPEST, _STEEPEST))
        score = np.einsum("cn,cnk->ck", (y - chance) * there, x)
        move = np.einsum("ckl,cl->ck", _inverse(x, chance, there), score)
        beta = beta + np.clip(move, -2.0, 2.0)
        if np.max(np.abs(move), initial=0.0) < 1e-9:
            break
    chance = special.expit(np.clip(np.einsum("cnk,ck->cn", x, beta), -_STEEPEST, _STEEPEST))
    error = np.sqrt(np.maximum(_inverse(x, chance, there)[:, 1, 1], 0.0))
    yes = (y * there).sum(axis=1)
    told = (yes > 0) & (yes < there.sum(axis=1))
    return np.where(told, beta[:, 1], np.nan), np.where(told, error, np.nan)


def _inverse(x: Array, chance: Array, there: Array) -> Array:
    information = np.einsum("cn,cnk,cnl->ckl", chance * (1 - chance) * there, x, x, optimize=True)
    return np.asarray(np.linalg.pinv(information, hermitian=True))
