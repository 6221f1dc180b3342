"""A correlation, and the coefficients of a regression.

Sources: Altman, *Practical Statistics for Medical Research* (1991), sections 11.6 to 11.10; Searle, *Linear Models*
(1971), section 3.6.
"""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array
from ragwort.stats.pearson import CorrelationTest, r_above
from ragwort.stats.simulated.early import prefix
from ragwort.stats.simulated.found import Found, Level, divided
from ragwort.stats.simulated.population import Kept, Population

_NODES = 2001  # of the distribution of r without an effect, between which it is interpolated


@dataclass(frozen=True)
class Relation:
    """Two outcomes of each participant (studies x participants each), in SDs."""

    first: Array
    second: Array
    kept: Kept

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant; a lost outcome is NaN."""
        there = True if self.kept is None else self.kept[number]
        both = (self.first[number], self.second[number])
        return {name: np.where(there, each, np.nan) for name, each in zip(("first", "second"), both, strict=True)}


def draw_relation(population: Population, count: int, n: int, rho: float) -> Relation:
    """Two outcomes with a correlation."""
    x, own = (population.shape.noise(population.rng, (count, n)) for _ in range(2))
    y = rho * x + np.sqrt(1 - rho**2) * own
    first, second = population.shape.cut(x), population.shape.cut(y)
    return Relation(first, second, population.kept(second))


def analyse_relation(data: Relation, null_rho: float, method: str, level: Level) -> Found:
    """Pearson's r against a known correlation: `exact`, or `fisher-z`. The interval is by Fisher's z."""
    r, n = _correlations(data)
    with np.errstate(invalid="ignore", divide="ignore"):
        z, error = np.arctanh(r), 1 / np.sqrt(np.maximum(n - 3, 0))
    found = level.z(z - np.arctanh(null_rho), error)
    low, high = (np.tanh(limit + np.arctanh(null_rho)) for limit in (found.low, found.high))
    p, statistic = (found.p, found.statistic) if method == "fisher-z" else _exactly(r, n, null_rho, level)
    return Found(np.where(n > 3, p, np.nan), r, statistic, low, high)


def _correlations(data: Relation) -> tuple[Array, Array]:
    there = np.ones(data.first.shape) if data.kept is None else data.kept.astype(float)
    n = there.sum(axis=1)
    x, y = (_centred(each, there, n) for each in (data.first, data.second))
    squares = np.einsum("ij,ij->i", x, x) * np.einsum("ij,ij->i", y, y)
    return np.asarray(divided(np.einsum("ij,ij->i", x, y), np.sqrt(squares)).clip(-1, 1)), n


def _centred(values: Array, there: Array, n: Array) -> Array:
    held = values * there
    return np.asarray((held - (held.sum(axis=1) / np.maximum(n, 1))[:, None]) * there)


def _exactly(r: Array, n: Array, null_rho: float, level: Level) -> tuple[Array, Array]:
    """p of the distribution of r without an effect, and t where there is one."""
    if null_rho == 0:
        t = divided(r * np.sqrt(np.maximum(n - 2, 0)), np.sqrt(1 - r**2))
        return level.p_of(special.stdtr(n - 2, -t), special.stdtr(n - 2, t)), t
    above = np.full(r.shape, np.nan)
    for size in np.unique(n[n > 3]):
        above[n == size] = _r_above(r[n == size], null_rho, float(size), level)
    return level.p_of(above, 1 - above), np.full(r.shape, np.nan)


def _r_above(r: Array, null_rho: float, n: float, level: Level) -> Array:
    """The chance of a larger r, interpolated on Fisher's scale; at the limits of the test it is the tail itself."""
    ends = CorrelationTest(null_rho, null_rho, n).limits(level.alpha, level.sides)
    limits = [limit for limit in ends if limit is not None]
    centre, reach = np.arctanh(null_rho), 8 / np.sqrt(n - 3)
    z = np.unique(np.r_[np.linspace(centre - reach, centre + reach, _NODES), np.arctanh(np.ravel(limits))])
    logits = special.logit(np.clip(r_above(np.tanh(z), null_rho, n), 1e-15, 1 - 1e-15))
    return np.asarray(special.expit(np.interp(np.arctanh(r.clip(-1 + 1e-15, 1 - 1e-15)), z, logits)))


@dataclass(frozen=True)
class TwoRelations:
    """The same of two groups."""

    first: Relation
    second: Relation

    def study(self, number: int) -> dict[str, Array]:
        """See `Relation.study`."""
        both = [each.study(number) for each in (self.first, self.second)]
        which = [np.full(len(each["first"]), group, dtype=float) for group, each in enumerate(both)]
        joined = {name: np.concatenate([each[name] for each in both]) for name in ("first", "second")}
        return {"group": np.concatenate(which), **joined}


def analyse_two_relations(data: TwoRelations, level: Level) -> Found:
    """Fisher's z test of two correlations. The estimate is their distance on his scale."""
    (r1, n1), (r2, n2) = (_correlations(each) for each in (data.first, data.second))
    undone = (n1 <= 3) | (n2 <= 3)
    with np.errstate(invalid="ignore", divide="ignore"):
        gap = np.where(undone, np.nan, np.arctanh(r2) - np.arctanh(r1))
        error = np.sqrt(1 / np.maximum(n1 - 3, 0) + 1 / np.maximum(n2 - 3, 0))
    return level.z(gap, error)


@dataclass(frozen=True)
class Regression:
    """One outcome (studies x participants), in SDs of what the predictors leave over, and the fixed predictors."""

    y: Array
    x: Array  # participants x predictors, the tested ones first
    kept: Kept

    def study(self, number: int) -> dict[str, Array]:
        """See `Relation.study`."""
        y = self.y[number] if self.kept is None else np.where(self.kept[number], self.y[number], np.nan)
        return {**{f"predictor {i + 1}": self.x[:, i] for i in range(self.x.shape[1])}, "outcome": y}

    def until(self, share: float) -> Regression:
        """See `early.InOrder`."""
        y = prefix(self.y, share)
        return Regression(y, self.x[: y.shape[1]], prefix(self.kept, share))


def draw_regression(
    population: Population, count: int, n: int, predictors: int, tested: int, root: float
) -> Regression:
    """Predictors drawn once, outcomes anew; `root` is the signed square root of f squared.

    The effect moves the mean along the first direction that only the tested predictors have.
    """
    x = population.rng.normal(size=(n, predictors))
    outer = np.linalg.qr(np.column_stack([np.ones(n), x[:, tested:], x[:, :tested]]))[0]
    direction = outer[:, predictors - tested + 1]
    direction = direction * np.sign(direction @ x[:, 0])
    y = root * np.sqrt(n) * direction + population.shape.noise(population.rng, (count, n))
    y = population.shape.cut(y)
    return Regression(y, x, population.kept(y))


def _residual_squares(data: Regression, columns: Array) -> Array:
    """What columns leave of each study's outcome, as a sum of squares."""
    if data.kept is None:
        fitted = data.y @ np.linalg.qr(columns)[0]
        return np.asarray(np.einsum("ij,ij->i", data.y, data.y) - np.einsum("ij,ij->i", fitted, fitted))
    there = data.kept.astype(float)
    crossed = np.einsum("cn,np,nq->cpq", there, columns, columns, optimize=True)
    held = (data.y * there) @ columns
    solved = np.linalg.pinv(crossed, hermitian=True) @ held[:, :, None]
    return np.asarray(np.einsum("cn,cn->c", data.y**2, there) - np.einsum("cp,cp->c", held, solved[:, :, 0]))


def _both_squares(data: Regression, tested: int) -> tuple[Array, Array, Array]:
    """What the tested predictors explain, what all leave over, and the degrees of freedom of that."""
    n, predictors = data.x.shape
    own, others = data.x[:, :tested], np.column_stack([np.ones(n), data.x[:, tested:]])
    rest = _residual_squares(data, np.column_stack([others, own]))
    left = np.full(len(data.y), float(n)) if data.kept is None else data.kept.sum(axis=1).astype(float)
    df = left - predictors - 1
    gained = np.maximum(_residual_squares(data, others) - rest, 0)
    return gained, np.where(df > 0, np.maximum(rest, 0), np.nan), df


def analyse_terms(data: Regression, tested: int, level: Level) -> Found:
    """The F test of the tested terms. The estimate is f squared, as far as the sample shows it."""
    gained, rest, df = _both_squares(data, tested)
    statistic = divided(gained / tested, rest / np.where(df > 0, df, np.nan))
    return level.f(statistic, float(tested), df, divided(gained, rest))


def analyse_coefficient(data: Regression, level: Level) -> Found:
    """The t test of the first coefficient. The estimate is the partial correlation, its interval by Fisher's z."""
    gained, rest, df = _both_squares(data, 1)
    sign = np.sign(_slopes(data))
    error = np.sqrt(rest / np.where(df > 0, df, np.nan))
    found = level.t(sign * np.sqrt(gained), error, df)
    partial = sign * np.sqrt(divided(gained, gained + rest))
    with np.errstate(invalid="ignore", divide="ignore"):
        reach = -special.ndtri(level.tail) / np.sqrt(np.maximum(df - 1, 0))
        centre = np.arctanh(partial)
    return Found(found.p, partial, found.statistic, np.tanh(centre - reach), np.tanh(centre + reach), found.df)


def _slopes(data: Regression) -> Array:
    """The first coefficient of each study, up to a positive factor."""
    n = len(data.x)
    others = np.column_stack([np.ones(n), data.x[:, 1:]])
    if data.kept is None:
        own = data.x[:, 0] - others @ np.linalg.lstsq(others, data.x[:, 0], rcond=None)[0]
        return np.asarray(data.y @ own)
    there = data.kept.astype(float)
    columns = np.column_stack([data.x[:, :1], others])
    crossed = np.einsum("cn,np,nq->cpq", there, columns, columns, optimize=True)
    held = (data.y * there) @ columns
    return np.asarray((np.linalg.pinv(crossed, hermitian=True) @ held[:, :, None])[:, 0, 0])
