"""Groups compared on a mean with covariates held: analysis of covariance.

Source: Searle, *Linear Models* (1971), sections 3.6 and 8.2.
"""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.found import Found, Level, divided
from ragwort.stats.simulated.means import Groups
from ragwort.stats.simulated.population import Population


@dataclass(frozen=True)
class Adjusted:
    """Outcomes of groups, and for each participant the covariates (studies x participants x covariates)."""

    outcomes: Groups
    covariates: tuple[Array, ...]

    def study(self, number: int) -> dict[str, Array]:
        """See `Groups.study`."""
        covariates = np.concatenate([each[number] for each in self.covariates])
        named = {f"covariate {at + 1}": covariates[:, at] for at in range(covariates.shape[1])}
        plain = self.outcomes.study(number)
        return {"group": plain["group"], **named, "outcome": plain["outcome"]}


def draw_adjusted(
    population: Population,
    count: int,
    sizes: tuple[int, ...],
    effects: tuple[float, ...],
    sd: float,
    explained: float,
    number: int,
) -> Adjusted:
    """Groups that differ by `effects`; `number` covariates explain a share of the variance within them."""
    drawn, covariates = [], []
    weight = np.sqrt(explained / number)
    for n, effect, spread in zip(sizes, effects, population.sds((1.0,) * len(sizes)), strict=True):
        x = population.rng.standard_normal((count, n, number))
        moved = population.taken(effect / sd, (count, n)) if effect else 0.0
        centre = moved + spread * weight * x.sum(axis=2)
        drawn.append(population.outcomes(centre, spread * np.sqrt(1 - explained), (count, n)))
        covariates.append(x)
    kept = tuple(population.kept(values) for values in drawn)
    return Adjusted(Groups(tuple(sd * values for values in drawn), kept), tuple(covariates))


def analyse_adjusted(data: Adjusted, explained: float, level: Level) -> Found:
    """The F test of the groups, covariates held. The estimate is f by the scatter before adjustment."""
    parts = [_crossed(*each) for each in zip(data.outcomes.values, data.covariates, _there(data), strict=True)]
    n, sums, squares = (np.stack([part[at] for part in parts]) for at in range(3))
    total, groups, covariates = n.sum(axis=0), len(parts), sums.shape[-1] - 1
    within = (squares - _outer(sums) / np.maximum(n, 1)[:, :, None, None]).sum(axis=0)
    whole = squares.sum(axis=0) - _outer(sums.sum(axis=0)) / np.maximum(total, 1)[:, None, None]
    df1, df2 = groups - 1.0, total - groups - covariates
    undone = np.any(n < 1, axis=0) | (df2 < 1)
    left, plain = _left_over(within), _left_over(whole)
    statistic = divided((plain - left) / df1, left / np.where(undone, np.nan, df2))
    f = np.sqrt(np.maximum(df1 * statistic, 0) * (1 - explained) / np.maximum(total, 1))
    return level.f(statistic, df1, np.where(undone, np.nan, df2), f)


def _there(data: Adjusted) -> list[Array]:
    """Who is left of each group, as weights."""
    both = zip(data.outcomes.values, data.outcomes.kept, strict=True)
    return [np.ones(values.shape) if kept is None else kept.astype(float) for values, kept in both]


def _crossed(values: Array, covariates: Array, there: Array) -> tuple[Array, Array, Array]:
    """How many, the sums, and the sums of products of covariates and outcome (the last one)."""
    all_of_it = np.concatenate([covariates, values[:, :, None]], axis=2) * there[:, :, None]
    return there.sum(axis=1), all_of_it.sum(axis=1), np.einsum("cni,cnj->cij", all_of_it, all_of_it)


def _outer(sums: Array) -> Array:
    return sums[..., :, None] * sums[..., None, :]


def _left_over(products: Array) -> Array:
    """What the covariates leave of the outcome's sum of squares."""
    inner, cross, own = products[:, :-1, :-1], products[:, :-1, -1], products[:, -1, -1]
    solved = np.einsum("cij,cj->ci", np.linalg.pinv(inner, hermitian=True), cross)
    return np.asarray(np.maximum(own - np.einsum("ci,ci->c", cross, solved), 0.0))
