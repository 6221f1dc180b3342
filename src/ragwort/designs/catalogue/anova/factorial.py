"""Two to four crossed factors."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Self

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.base.wording import listed
from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL, Assumption, Field
from ragwort.designs.catalogue.anova.common import (
    ETA_SQUARED,
    Cells,
    F,
    FPlan,
    balance,
    effect_in_two_ways,
    stated_f,
)
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, alike, claim, power_of_f
from ragwort.designs.phrases import MOST_NAMED, Naming, Saying, numbered, or_more
from ragwort.designs.protocol import FROM_F, InProtocol
from ragwort.designs.refusals import RequestError, plain_number, plain_percent
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import NONCENTRAL_F
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated.cells import centred_basis
from ragwort.stats.statistic import Test

_LEVELS = Assumption(
    "levels",
    "Levels of the factors",
    "list",
    "Structure",
    "How many levels each factor has, such as 2, 3 for a two by three design. Cells and degrees of freedom follow.",
    low=2,
    high=100,
    whole=True,
    shortest=2,
    longest=4,
    joint=" × ",
    row_names="factors",
    required=True,
    decided=True,
)
_TERM = Assumption(
    "term",
    "Term tested",
    "list",
    "Structure",
    "The numbers of the factors whose effect is tested: 1 for the first factor alone, 1, 2 for how the first two work "
    "together (their interaction).",
    low=1,
    high=4,
    whole=True,
    longest=4,
    joint=" and ",
    numbers_of="factors",
    decided=True,
)
_TERMS = Assumption(
    "terms",
    "Several terms",
    "records",
    "Effect",
    "Several terms to be powered together, each with its own f.",
    fields=(Field("term", "factors", "list"), Field("f", "f")),
    longest=15,
)
_N_PER_CELL = Assumption(
    "n_per_cell", "Per cell", "count", "Sample", "Participants analysed in each cell.", symbol="n", low=1, high=10**7
)


@dataclass(frozen=True)
class TermsPlan(FPlan):
    """Several terms at once: power is the smallest of theirs."""

    terms: tuple[FPlan, ...] = ()

    @override
    def rescaled_to(self, effect: float) -> Self:
        share = effect / float(self.effect) if self.effect else 0.0
        terms = tuple(term.replace(effect=share * float(term.effect)) for term in self.terms)
        return self.replace(effect=effect, terms=terms)

    @override
    def power(self, groups: Sizes) -> Any:
        return np.min([term.power(groups) for term in self.terms], axis=0)

    def weakest(self, groups: Sizes) -> FPlan:
        """The term with the smallest power at these sizes."""
        return min(self.terms, key=lambda term: float(term.power(groups)[0]))

    @override
    def test(self, groups: Sizes) -> Test:
        """That of the term with the smallest power."""
        return self.weakest(groups[:, :1]).test(groups)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> Any:
        """For the term with the smallest power."""
        return self.weakest(np.array(sizes, dtype=float)[:, None]).draw(sizes, population, count)

    @override
    def analyse(self, data: Any, way: str = "") -> simulated.Found:
        """Of the term with the smallest power."""
        sizes = np.array([values.shape[1] for values in data.values], dtype=float)
        return self.weakest(sizes[:, None]).analyse(data, way)

    @override
    def effect_report(self) -> dict[str, Number]:
        """Of the smallest effect."""
        return min(self.terms, key=lambda term: float(term.effect)).effect_report()

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        """Each term's own n and power at the n of all."""
        return {"terms": [_term_details(term, groups) for term in self.terms]}


def _term_details(term: FPlan, groups: Sizes) -> dict[str, Any]:
    from ragwort.designs.solve import find_sizes

    own = find_sizes(term, "terms")
    return {"df1": term.df1, "f": term.effect, "n": int(own.sum()), "power": float(term.power(groups)[0])}


@dataclass(frozen=True)
class CellsPlan(FPlan):
    """One term of a factorial design, whose cells ought to be of one size."""

    levels: tuple[int, ...] = ()
    term: tuple[int, ...] = ()

    @override
    def contrasts(self, cells: int) -> Array:
        """Among the levels of the term's factors, averaged over those of the rest."""
        rows: Array = np.ones((1, 1))
        for factor, count in enumerate(self.levels, start=1):
            own = centred_basis(count, count - 1) if factor in self.term else np.full((1, count), count**-0.5)
            rows = np.asarray(np.kron(rows, own), dtype=float)
        return rows

    @override
    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        """The next total that fills all cells equally."""
        return {"next_multiple": int(self._filled(groups).sum())} if self._uneven(groups) else {}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        if not self._uneven(groups):
            return []
        filled = self._filled(groups)
        power = plain_percent(float(self.power(filled)[0]))
        return [
            f"{int(groups.sum())} do not fill the {self.parameters} cells equally; the next total that does is "
            f"{int(filled.sum())}, with {power} power."
        ]

    def _uneven(self, groups: Sizes) -> bool:
        return bool(groups.sum() % self.parameters)

    def _filled(self, groups: Sizes) -> Sizes:
        return np.full((self.parameters, 1), math.ceil(groups.sum() / self.parameters), dtype=float)


@register
class Factorial(Cells):
    """Two to four crossed factors: one term, or several powered together."""

    id = "anova-factorial"
    title = "Factorial analysis of variance"
    summary = "Do two or more crossed factors, or their interaction, affect the mean of a measured outcome?"
    in_protocol = InProtocol(
        "The effects of the factors on {outcome} will be analysed",
        "factorial analysis of variance",
        FROM_F,
        sided=False,
        plural=True,
        cites=NONCENTRAL_F,
    )
    evidence = evidence.FACTORS
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": ("factors",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "two-way anova",
        "factorial anova",
        "crossed",
        "interaction",
        "three-way anova",
        "analysis of variance",
        "moderation between factors",
        "crossed factors",
    )
    buys = "Two questions for nearly the price of one, and whether the answers depend on each other."
    assumptions = (
        F,
        ETA_SQUARED,
        _TERMS,
        ALPHA,
        POWER,
        TOTAL,
        _N_PER_CELL,
        balance("cells", "cells"),
        DROPOUT,
        _LEVELS,
        _TERM,
    )
    ways = ((Way("one f", ("f",)), Way("η²", ("eta_squared",)), Way("several terms", ("terms",), without=("term",))),)
    per = "n_per_cell"
    sizes = (Way("one total", ("n",)), Way("a size per cell", ("n_per_cell",)))
    elementwise = elementwise("f", "eta_squared")
    starting = {"f": 0.25, "levels": [2, 3], "term": [1, 2]}
    group_word = "cell"
    derived = (
        Derived("Effect", "f", "f"),
        Derived("Sample", "df1", "numerator df"),
        Derived("Sample", "df2", "denominator df"),
    )
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one cell.",
        "The outcome is approximately normal in each cell, with equal variances.",
        "Cells are of equal size, or nearly so.",
    )
    approximation = "The calculation is exact where the outcome is normal with equal variances in cells of equal size."

    @override
    def cells(self, values: Values) -> int:
        return math.prod(values["levels"])

    @override
    def comparison(self, values: Values, find: str) -> FPlan:
        if "terms" in values and find == "n":
            return self._several(values)
        if "terms" in values and "f" not in values and "eta_squared" not in values and find != "effect":
            raise RequestError("terms", "Several terms together can be used to find n only; give one term and its f.")
        return self._one(values, find, _checked_term(values.get("term"), values["levels"]))

    @override
    def stated_effect(self, values: Values) -> Number:
        return stated_f(values)

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        if "terms" in values:
            smallest = min(values["terms"], key=lambda record: float(record["f"]))
            return {**effect_in_two_ways(float(smallest["f"])), "term": smallest["term"]}
        known = effect_in_two_ways(stated_f(values))
        return {**known, "terms": [{"term": values.get("term", [1]), "f": known["f"]}]}

    @override
    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """Of several terms the one tested goes with its f."""
        found = super().restate(values, way)
        return {**found, "term": self.in_other_words(values)["term"]} if "terms" in values else found

    def _one(self, values: Values, find: str, term: tuple[int, ...]) -> FPlan:
        levels = values["levels"]
        df1 = math.prod(levels[factor - 1] - 1 for factor in term)
        crossed = {"levels": tuple(int(count) for count in levels), "term": tuple(term)}
        return CellsPlan(**self.basis(values, find), df1=df1, parameters=self.cells(values), **crossed)

    def _several(self, values: Values) -> FPlan:
        if "f" in values or "term" in values:
            raise RequestError("terms", "Give either terms, or term and f, not both.")
        records = [_checked_record(record, values["levels"]) for record in values["terms"]]
        plans = [self._one({**values, "f": f}, "n", term) for term, f in records]
        first = min(plans, key=lambda plan: float(plan.effect))
        kept = {name: value for name, value in vars(first).items() if name not in ("levels", "term")}
        return TermsPlan(**kept, terms=tuple(plans))

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        """The factors, and the levels of each."""
        levels = [int(each) for each in values.get("levels", ())][:MOST_NAMED]
        factors = Naming("factors", "Factors", numbered("factor", len(levels)))
        each = [
            Naming(f"levels{number}", f"Levels of {{factors.{number}}}", numbered("level", min(count, MOST_NAMED)))
            for number, count in enumerate(levels, start=1)
        ]
        return (factors, *each) if levels else ()

    @override
    def saying(self, values: Values, find: str) -> Saying:
        size = self.size_words(values, find)
        shown = f"f = {{f}}{or_more(find)}"
        if "eta_squared" in values and find != "effect":
            shown = "η² = {eta_squared}, f = {f}"
        if "terms" in values and find == "n":
            terms = [f"{_of_term(record['term'])} (f = {plain_number(record['f'])})" for record in values["terms"]]
            effect = f"{listed(terms)} in a {{levels}} design"
        else:
            effect = f"{_of_term(values.get('term', [1]))} in a {{levels}} design ({shown})"
        return Saying(size, effect, "an analysis of variance")

    @override
    def claim(self, values: Values) -> Claim:
        term, levels = values.get("term", [1]), list(values.get("levels", ()))
        if "terms" in values or len(term) > 2:
            where = "An interaction effect is what the cell means deviate by beyond the effects of lower order."
            return Claim("all effects of the term are 0", "not all effects of the term are 0", (where,))
        if len(term) == 1:
            return alike("μ", "level, on average over the levels of the other factors", levels[term[0] - 1])
        where = "μᵢⱼ is the mean at level i of the first factor and level j of the second."
        if [levels[each - 1] for each in term] == [2, 2]:
            return claim("μ₁₁ − μ₁₂ − μ₂₁ + μ₂₂", "0", "two", where)
        sameness = "μᵢⱼ − μᵢ. − μ.ⱼ + μ.."
        return Claim(f"{sameness} = 0 for all i and j", f"{sameness} ≠ 0 for some i and j", (where,))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """Cohen (1988), chapter 8."""
        return "λ = f² N,   ν₁ = df of the term,   ν₂ = N − number of cells", power_of_f()

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the F test of the term in a factorial analysis of variance with all interactions: "
            "under the planned effect its statistic follows a noncentral F distribution with noncentrality λ = f² · N, "
            "the term's degrees of freedom and N less the number of cells."
        )


def _of_term(term: Sequence[int]) -> str:
    factors = [f"{{factors.{int(factor)}}}" for factor in term]
    return f"the {'interaction' if len(factors) > 1 else 'effect'} of {listed(factors)}"


def _checked_term(term: Any, levels: Sequence[int], field: str = "term") -> tuple[int, ...]:
    if term is None:
        raise RequestError(field, "anova-factorial needs term: the factors whose effect is tested, as in [1, 2].")
    for factor in term:
        if isinstance(factor, bool) or not isinstance(factor, int) or not 1 <= factor <= len(levels):
            raise RequestError(field, f"The term names factor {factor}, but the factors are 1 to {len(levels)}.")
    if len(set(term)) < len(term):
        raise RequestError(field, "The term names a factor twice: name each once.")
    return tuple(sorted(term))


def _checked_record(record: Any, levels: Sequence[int]) -> tuple[tuple[int, ...], float]:
    if not isinstance(record, dict) or set(record) != {"term", "f"} or not isinstance(record["term"], list):
        raise RequestError("terms", 'Each of terms must be like {"term": [1, 2], "f": 0.25}.')
    try:
        f = F.check(record["f"])
    except RequestError as error:
        raise RequestError("terms", error.message) from error
    return _checked_term(record["term"], levels, "terms"), float(f)
