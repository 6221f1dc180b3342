"""What analyses of variance share: the effect f, the F test, groups or cells of one size."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar, Self

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.agreement import SAME, stated
from ragwort.designs.assumption import Assumption, Choice, rounded
from ragwort.designs.design import Design, Values, Way
from ragwort.designs.drawn_out import from_the_first
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError
from ragwort.designs.sizes import AnyOver, EqualGroups, Sizes
from ragwort.stats import simulated
from ragwort.stats.effects import f_of_means
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import means
from ragwort.stats.simulated.cells import analyse_contrasts, centred_basis
from ragwort.stats.statistic import FTest, Test

F = Assumption(
    "f",
    "Effect size f",
    "number",
    "Effect",
    "How far the means are apart: the SD of the means divided by the SD within groups. Take it from means and an SD "
    "where you can; a size by convention says nothing about what matters in your study.",
    symbol="f",
    low=0,
    usual="0.1 small, 0.25 medium, 0.4 large (Cohen, 1988, section 8.2.3), as a last resort",
)
ETA_SQUARED = Assumption(
    "eta_squared",
    "Explained share η²",
    "number",
    "Effect",
    "The share of the variance that the groups explain: f² / (1 + f²). Of one term in a factorial design it is the "
    "partial one, among the variance that the other terms leave.",
    symbol="η²",
    low=0,
    high=1,
    open_high=True,
)


@dataclass(frozen=True, kw_only=True)
class OfMeans(Plan):
    """A plan whose effect may be stated as means on an SD."""

    means: tuple[float, ...] = ()  # empty where only the effect is stated
    sd: float = 1.0

    @property
    @override
    def outcome_sd(self) -> float:
        return float(self.sd)

    @property
    @override
    def stated_means(self) -> tuple[float, ...]:
        return self.means

    @override
    def rescaled_to(self, effect: float) -> Self:
        return self.replace(effect=effect, means=self.means_at(effect))


@dataclass(frozen=True)
class FPlan(StatisticPlan):
    """An F test of `effect` = f with `df1` and N - `parameters` degrees of freedom."""

    df1: float
    parameters: int

    traits = frozenset({"measured", "bounds", "arms"})
    signed = False

    def effect_at(self, groups: Sizes) -> Number:
        """f at these group sizes."""
        return self.effect

    @override
    def test(self, groups: Sizes) -> Test:
        """Cohen (1988), sections 8.2 and 8.3."""
        total = groups.sum(axis=0)
        return FTest(self.effect_at(groups) ** 2 * total, self.df1, total - self.parameters)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> Any:
        """The effect lies along the first of the contrasts that are tested."""
        return means.draw_groups(population, count, sizes, self.pattern(len(sizes)), (1.0,) * len(sizes), 0.0)

    def pattern(self, cells: int) -> tuple[float, ...]:
        """The means that make this effect, in SDs."""
        return tuple(float(mean) for mean in self.contrasts(cells)[0] * np.sqrt(cells) * float(self.effect))

    def contrasts(self, cells: int) -> Array:
        """The contrasts that are tested, orthonormal rows."""
        return centred_basis(cells, int(self.df1))

    @override
    def analyse(self, data: Any, way: str = "") -> simulated.Found:
        return analyse_contrasts(data, self.contrasts(len(data.values)), self.level)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"f": self.effect, "eta_squared": self.effect**2 / (1 + self.effect**2)}


@dataclass(frozen=True)
class FOfMeansPlan(OfMeans, FPlan):
    """The means may be given; then f follows from them and the group sizes."""

    @override
    def effect_at(self, groups: Sizes) -> Number:
        """The SD of the means, weighted by size, over the SD within (Cohen 1988, 8.2.1).

        A total that does not split weighs them unequally: there the stated effect stands.
        """
        if not self.means or isinstance(self.counting, AnyOver):
            return self.effect
        return f_of_sizes(self.means, self.sd, groups)


def effect_in_two_ways(f: float) -> dict[str, float]:
    """f and eta squared, as typed values."""
    return {"f": rounded(f), "eta_squared": rounded(f**2 / (1 + f**2))}


def means_drawn_to(f: float, values: Values) -> dict[str, Any]:
    """Means as they were stated, apart by as much as makes f on their SD."""
    if not {"means", "sd"} <= values.keys() or not (now := f_of_means(values["means"], values["sd"])) > 0:
        return {}
    return {"means": from_the_first(values["means"], f / now), "sd": values["sd"]}


def stated_f(values: Values) -> Number:
    """f from itself or from eta squared. Raises `RequestError` where the two disagree."""
    share = values.get("eta_squared")
    return stated(values, "f", None if share is None else np.sqrt(share / (1 - share)), "η² makes it")


N_PER_GROUP = Assumption(
    "n_per_group", "Per group", "count", "Sample", "Participants analysed in each group.", symbol="n", low=1, high=10**7
)


def balance(grouped: str, word: str) -> Assumption:
    return Assumption(
        "balance",
        "Group sizes",
        "choice",
        "Sample",
        f"By {word}: all {grouped} grow together. Any total: also totals that the {grouped} do not divide.",
        default=grouped,
        choices=(Choice(grouped, f"by {word}"), Choice("any", "to any total")),
    )


def f_of_sizes(means: tuple[float, ...], sd: Number, groups: Sizes) -> Number:
    """f at these group sizes: the SD of the means, weighted by size, over the SD within (Cohen 1988, 8.2.1)."""
    centres = np.array(means)[:, None]
    shares = groups / groups.sum(axis=0)
    grand = (shares * centres).sum(axis=0)
    return np.asarray(np.sqrt((shares * (centres - grand) ** 2).sum(axis=0)) / sd)


class Cells(Design):
    """What designs share whose groups or cells ought to be of one size: given as one total, or by group."""

    per: ClassVar[str] = "n_per_group"  # the assumption that gives the size of one
    sizes = (Way("one total", ("n",)), Way("a size per group", ("n_per_group",)))

    def cells(self, values: Values) -> int:
        """How many groups or cells there are."""
        return int(values["groups"])

    @override
    def counting(self, values: Values) -> AnyOver | EqualGroups:
        return AnyOver(self.cells(values)) if values["balance"] == "any" else EqualGroups(self.cells(values))

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        cells = self.cells(values)
        if self.per not in values:
            _need_df(values["n"], cells, "n")
            return plan.counting.splits(values["n"])
        ways = self.counting({**values, "balance": "by group"}).ways(np.array([values[self.per]]))
        total = int(ways[0].sum())
        if values.get("n", total) != total:
            raise RequestError("n", f"n is {values['n']}, but {self.per} makes it {total}.")
        _need_df(total, cells, self.per)
        return ways

    @override
    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        return {"n": sum(groups), self.per: min(groups)}

    def size_words(self, values: Values, find: str) -> str:
        """The sizes as the sentence says them."""
        given = find != "n" and self.per in values
        return f"{{{self.per}.people}} per {self.group_word}" if given else "{n} ({group_sizes})"


def need_total_of_weights(values: Values, smallest: int) -> None:
    """Refuse a total that relative sizes do not make, with `smallest` or more in the smallest group."""
    if not values.get("weights"):
        return
    weights, total = np.array(values["weights"]), values["n"]
    nearest = int(total / weights.sum())  # rounding each group up adds less than one participant to each
    steps = np.arange(max(smallest, nearest - len(weights) - 1), nearest + 2)
    if total not in np.ceil(weights[:, None] * steps - SAME).sum(axis=0):
        raise RequestError("n", f"n is {total}, which these relative sizes do not make.")


def _need_df(total: int, parameters: int, field: str) -> None:
    """Refuse a total without a degree of freedom. Raises `RequestError`."""
    if total <= parameters:
        raise RequestError(
            field,
            f"The test needs more participants than the {parameters} means it estimates: {parameters + 1} or more in "
            f"all, not {total}.",
        )
