"""Analysis of variance: several means at once.

Sources: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 8; Johnson, Kotz and
Balakrishnan, *Continuous Univariate Distributions* 2 (2nd ed., 1995), chapter 30; Geisser and Greenhouse, "An
extension of Box's results on the use of the F distribution in multivariate analysis", Annals of Mathematical
Statistics 29 (1958), pages 885-891.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL, Assumption, Choice, Field
from ragwort.designs.design import Derived, Design, Plan, Values, Way, register, rounded
from ragwort.designs.refusals import RequestError, number_text, percent_text
from ragwort.designs.saying import MOST_NAMED, Naming, Saying, listed, name_tokens, numbered, or_more
from ragwort.designs.sizes import AnyOver, EqualGroups, Sizes
from ragwort.stats import studies
from ragwort.stats.noncentral import Number
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
_REFERENCES = (
    "Cohen J. Statistical Power Analysis for the Behavioral Sciences. 2nd ed. Hillsdale: Erlbaum; 1988. Chapter 8.",
    "Johnson NL, Kotz S, Balakrishnan N. Continuous Univariate Distributions, volume 2. 2nd ed. New York: Wiley; 1995. "
    "Chapter 30.",
)


@dataclass(frozen=True)
class FPlan(Plan):
    """An F test of `effect` = f with `df1` and N - `parameters` degrees of freedom."""

    df1: float
    parameters: int

    def effect_at(self, groups: Sizes) -> Number:
        """f at these group sizes."""
        return self.effect

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; Cohen (1988), sections 8.2 and 8.3."""
        total = groups.sum(axis=0)
        return FTest(self.effect_at(groups) ** 2 * total, self.df1, total - self.parameters)

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`: the effect lies along the first of the contrasts that are tested."""
        groups = np.array(sizes, dtype=float)
        basis = studies.centred_basis(len(groups), int(self.df1))
        means = basis[0] * np.sqrt(len(groups)) * float(self.effect)
        return studies.contrasts(rng, count, groups, means, basis, self.level)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        return {"f": self.effect, "eta_squared": self.effect**2 / (1 + self.effect**2)}

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return f_details(self, groups)


def f_details(plan: Plan, groups: Sizes) -> dict[str, Any]:
    """What every F test reports."""
    test = plan.test(groups)
    assert isinstance(test, FTest)
    return {
        "df1": test.df1,
        "df2": test.df2,
        "noncentrality": test.noncentrality,
        "critical_value": test.critical_value(plan.alpha),
    }


def effect_in_two_ways(f: float) -> dict[str, float]:
    """f and eta squared, as typed values."""
    return {"f": rounded(f), "eta_squared": rounded(f**2 / (1 + f**2))}


def stated_f(values: Values) -> float:
    """f from itself or from eta squared. Raises `RequestError` where the two disagree."""
    if "eta_squared" not in values:
        return float(values["f"])
    worked_out = math.sqrt(values["eta_squared"] / (1 - values["eta_squared"]))
    if "f" in values and abs(values["f"] - worked_out) > 1e-9 * max(worked_out, 1e-300):
        raise RequestError(
            "f",
            f"f is given as {number_text(values['f'])}, but η² makes it {number_text(worked_out)}: give one of them.",
        )
    return worked_out


# --- one way --------------------------------------------------------------------------------------------------

_MEANS = Assumption(
    "means",
    "Means",
    "list",
    "Effect",
    "The mean expected in each group, in the outcome's unit: 412, 405, 398. Only how far they are apart counts.",
    symbol="μ",
    each_measured=True,
    row_names="groups",
    shortest=2,
)
_SD = Assumption(
    "sd",
    "SD within groups",
    "measured",
    "Effect",
    "How far single participants scatter around their group's mean.",
    symbol="σ",
    low=0,
    open_low=True,
)
_GROUPS = Assumption(
    "groups",
    "Groups",
    "count",
    "Structure",
    "How many groups are compared.",
    symbol="k",
    low=2,
    high=1000,
    required=True,
)
_N_PER_GROUP = Assumption(
    "n_per_group", "Per group", "count", "Sample", "Participants analysed in each group.", symbol="n", low=1, high=10**7
)
_WEIGHTS = Assumption(
    "weights",
    "Relative group sizes",
    "list",
    "Structure",
    "How large each group is compared with the smallest, which is 1: 1, 1.5, 2. Leave it out for equal groups.",
    row_names="groups",
    low=1,
    shortest=2,
)


def _balance(grouped: str, word: str) -> Assumption:
    return Assumption(
        "balance",
        "Total counts up",
        "choice",
        "Sample",
        f"By {word}: all {grouped} grow together. Any total: also totals that the {grouped} do not divide.",
        default=grouped,
        choices=(Choice(grouped, f"by {word}"), Choice("any", "to any total")),
    )


@dataclass(frozen=True)
class OneWayPlan(FPlan):
    """The means may be given; then f follows from them and the group sizes."""

    means: tuple[float, ...] = ()
    sd: float = 1.0

    def effect_at(self, groups: Sizes) -> Number:
        """f at these group sizes: the SD of the means, weighted by size, over the SD within (Cohen 1988, 8.2.1)."""
        if not self.means or isinstance(self.counting, AnyOver):
            return self.effect
        means = np.array(self.means)[:, None]
        shares = groups / groups.sum(axis=0)
        centre = (shares * means).sum(axis=0)
        return np.sqrt((shares * (means - centre) ** 2).sum(axis=0)) / self.sd

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`: with the means where they are given."""
        if not self.means:
            return super().simulate(sizes, rng, count)
        groups = np.array(sizes, dtype=float)
        basis = studies.centred_basis(len(groups), int(self.df1))
        return studies.contrasts(rng, count, groups, np.array(self.means) / self.sd, basis, self.level)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`: f as for the smallest design."""
        f = float(np.ravel(self.effect_at(self.counting.ways(np.array([self.counting.lowest]))[0]))[0])
        return {"f": f, "eta_squared": f**2 / (1 + f**2)}


@register
class OneWay(Design):
    """Several independent groups compared on a mean."""

    id = "anova-one-way"
    title = "Several independent means"
    summary = "Does the mean of a measured outcome differ anywhere among three or more separate groups?"
    evidence = evidence.SEVERAL_GROUPS
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": ("several",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "one-way anova",
        "analysis of variance",
        "oneway",
        "three groups",
        "several groups",
        "f test",
        "multi-arm dose groups",
    )
    buys = "One test for all groups keeps the alpha that several pairwise tests would use up."
    assumptions = (
        F,
        ETA_SQUARED,
        _MEANS,
        _SD,
        ALPHA,
        POWER,
        TOTAL,
        _N_PER_GROUP,
        _balance("groups", "groups"),
        DROPOUT,
        _GROUPS,
        _WEIGHTS,
    )
    ways = ((Way("one f", ("f",)), Way("means and SD", ("means", "sd")), Way("η²", ("eta_squared",))),)
    sizes = (Way("one total", ("n",)), Way("a size per group", ("n_per_group",)))
    starting = {"f": 0.25, "groups": 3}
    derived = (
        Derived("Effect", "f", "f"),
        Derived("Sample", "df1", "numerator df"),
        Derived("Sample", "df2", "denominator df"),
    )
    data_assumptions = (
        "Participants are independent of each other, and each is in one group only.",
        "The outcome is roughly normal within each group, with the same scatter in all groups.",
    )
    references = _REFERENCES
    approximation = "Exact where the outcome is normal with equal scatter in the groups."

    def plan(self, values: Values, find: str) -> OneWayPlan:
        """See `Design.plan`."""
        means = () if find == "effect" else tuple(values.get("means", ()))
        groups = int(values["groups"])
        if means and len(means) != groups:
            raise RequestError("groups", f"groups is {groups}, but there are {len(means)} means: make them agree.")
        plan = OneWayPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides="greater",
            effect=0.0 if find == "effect" else 0.0 if means else stated_f(values),
            counting=self._counting(values, groups),
            df1=groups - 1,
            parameters=groups,
            means=means,
            sd=float(values.get("sd", 1.0)),
        )
        return self._from_means(plan, values) if means else plan

    def implied(self, values: Values) -> dict[str, Any]:
        """See `Design.implied`: as many groups as there are means."""
        return {"groups": len(values["means"])} if "means" in values and "sd" in values else {}

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`: f as evenly spaced means with an SD of 10."""
        if "means" in values and "sd" in values:
            f = float(np.std(np.array(values["means"]))) / values["sd"]
        else:
            f = stated_f(values)
        groups = int(values.get("groups", 3))
        even = np.arange(groups) - (groups - 1) / 2
        means = [rounded(float(10 * f * step / np.std(even))) for step in even]
        known = {**effect_in_two_ways(f), "means": means, "sd": 10.0}
        return {name: known[name] for name in way.names if name in known}

    def _from_means(self, plan: OneWayPlan, values: Values) -> OneWayPlan:
        """The plan with f as for equal groups, which is what `any` counts with and what says whether there is one."""
        equal = np.array(plan.means)
        f = float(np.std(equal)) / plan.sd
        if "f" in values and abs(values["f"] - f) > 1e-9 * max(f, 1e-300) and not values.get("weights"):
            raise RequestError(
                "f", f"f is given as {number_text(values['f'])}, but the means make it {number_text(f)}."
            )
        return plan.replace(effect=f)

    def _counting(self, values: Values, groups: int) -> AnyOver | EqualGroups:
        weights = tuple(values.get("weights", ()))
        if weights and len(weights) != groups:
            raise RequestError("weights", f"There are {groups} groups but {len(weights)} weights: give one for each.")
        if weights and min(weights) != 1:
            raise RequestError("weights", f"The smallest weight must be exactly 1, not {number_text(min(weights))}.")
        if values["balance"] != "any":
            return EqualGroups(groups, 2, weights)
        if weights:
            raise RequestError("balance", "Weights need balance “groups”: any total has no relative sizes.")
        return AnyOver(groups)

    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """See `Design.given_sizes`."""
        assert isinstance(plan, OneWayPlan)
        groups = plan.parameters
        if "n_per_group" in values:
            counting = self._counting({**values, "balance": "groups"}, groups)
            ways = counting.ways(np.array([values["n_per_group"]]))
            total = int(ways[0].sum())
            if values.get("n", total) != total:
                raise RequestError("n", f"n is {values['n']}, but the groups add up to {total}.")
            _need_df(total, groups, "n_per_group")
            return ways
        _need_df(values["n"], groups, "n")
        return plan.counting.splits(values["n"])

    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        """See `Design.sizes_as_values`."""
        return {"n": sum(groups), "n_per_group": min(groups)}

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        groups = int(values.get("groups", 0))
        return (Naming("groups", "Groups", numbered("group", groups)),) if 1 < groups <= MOST_NAMED else ()

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        shown = f"f {{f}}{or_more(find)}"
        if "means" in values and find != "effect":
            shown = "{means}; SD {sd}, f {f}"
        elif "eta_squared" in values and find != "effect":
            shown = "η² {eta_squared}, f {f}"
        groups = int(values.get("groups", 2))
        between = "between" if groups == 2 else "among"
        effect = f"a difference in {{mean_outcome}} {between} {name_tokens('groups', groups)} ({shown})"
        size = "{n_per_group.people} per group" if find != "n" and "n_per_group" in values else "{n} ({group_sizes})"
        return Saying(size, effect, "a one-way analysis of variance")

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the F test of a one-way analysis of variance: under the planned means its "
            "statistic follows a noncentral F distribution with k − 1 and N − k degrees of freedom and "
            "noncentrality λ = f² · N."
        )


def _need_df(total: int, parameters: int, field: str) -> None:
    if total <= parameters:
        raise RequestError(
            field,
            f"The test needs more participants than the {parameters} means it estimates: {parameters + 1} or more in "
            f"all, not {total}.",
        )


# --- factorial ------------------------------------------------------------------------------------------------

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

    def power(self, groups: Sizes) -> Any:
        """See `Plan.power`."""
        return np.min([term.power(groups) for term in self.terms], axis=0)

    def weakest(self, groups: Sizes) -> FPlan:
        """The term with the smallest power at these sizes."""
        return min(self.terms, key=lambda term: float(term.power(groups)[0]))

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`: that of the term with the smallest power."""
        return self.weakest(groups[:, :1]).test(groups)

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`: of the term with the smallest power."""
        return self.weakest(np.array(sizes, dtype=float)[:, None]).simulate(sizes, rng, count)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`: of the smallest effect."""
        return min(self.terms, key=lambda term: float(term.effect)).effect_report()

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`: each term's own n and power at the n of all."""
        return {"terms": [_term_details(term, groups) for term in self.terms]}


def _term_details(term: FPlan, groups: Sizes) -> dict[str, Any]:
    from ragwort.designs.solve import find_sizes

    own = find_sizes(term, "terms")
    return {"df1": term.df1, "f": term.effect, "n": int(own.sum()), "power": float(term.power(groups)[0])}


@dataclass(frozen=True)
class CellsPlan(FPlan):
    """One term of a factorial design, whose cells ought to be of one size."""

    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.further_sizes`: the next total that fills all cells equally."""
        return {"next_multiple": int(self._filled(groups).sum())} if self._uneven(groups) else {}

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        if not self._uneven(groups):
            return []
        filled = self._filled(groups)
        power = percent_text(float(self.power(filled)[0]))
        return [
            f"{int(groups.sum())} do not fill the {self.parameters} cells equally; the next total that does is "
            f"{int(filled.sum())}, with {power} power."
        ]

    def _uneven(self, groups: Sizes) -> bool:
        return bool(groups.sum() % self.parameters)

    def _filled(self, groups: Sizes) -> Sizes:
        return np.full((self.parameters, 1), math.ceil(groups.sum() / self.parameters), dtype=float)


@register
class Factorial(Design):
    """Two to four crossed factors: one term, or several powered together."""

    id = "anova-factorial"
    title = "Crossed factors"
    summary = "Do two or more crossed factors, or their interaction, move the mean of a measured outcome?"
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
        _balance("cells", "cells"),
        DROPOUT,
        _LEVELS,
        _TERM,
    )
    ways = ((Way("one f", ("f",)), Way("η²", ("eta_squared",)), Way("several terms", ("terms",), without=("term",))),)
    sizes = (Way("one total", ("n",)), Way("a size per cell", ("n_per_cell",)))
    starting = {"f": 0.25, "levels": [2, 3], "term": [1, 2]}
    group_word = "cell"
    derived = (
        Derived("Effect", "f", "f"),
        Derived("Sample", "df1", "numerator df"),
        Derived("Sample", "df2", "denominator df"),
    )
    data_assumptions = (
        "Participants are independent of each other, and each is in one cell only.",
        "The outcome is roughly normal within each cell, with the same scatter in all cells.",
        "Cells are of equal size, or nearly so.",
    )
    references = _REFERENCES
    approximation = "Exact where the outcome is normal with equal scatter in cells of equal size."

    def plan(self, values: Values, find: str) -> FPlan:
        """See `Design.plan`."""
        levels = tuple(values["levels"])
        if "terms" in values and find == "n":
            return self._several(values, levels)
        if "terms" in values and "f" not in values and "eta_squared" not in values and find != "effect":
            raise RequestError("terms", "Several terms together can be used to find n only; give one term and its f.")
        term = _checked_term(values.get("term"), levels)
        return self._one(values, levels, term, 0.0 if find == "effect" else stated_f(values))

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`."""
        if "terms" in values:
            smallest = min(values["terms"], key=lambda record: float(record["f"]))
            known = {**effect_in_two_ways(float(smallest["f"])), "term": smallest["term"]}
        else:
            known = dict(effect_in_two_ways(stated_f(values)))
            known["terms"] = [{"term": values.get("term", [1]), "f": known["f"]}]
        return {name: known[name] for name in (*way.names, "term") if name in known}

    def _one(self, values: Values, levels: tuple[int, ...], term: tuple[int, ...], f: float) -> FPlan:
        cells = math.prod(levels)
        return CellsPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides="greater",
            effect=f,
            counting=AnyOver(cells) if values["balance"] == "any" else EqualGroups(cells),
            df1=math.prod(levels[factor - 1] - 1 for factor in term),
            parameters=cells,
        )

    def _several(self, values: Values, levels: tuple[int, ...]) -> FPlan:
        if "f" in values or "term" in values:
            raise RequestError("terms", "Give either terms, or term and f, not both.")
        plans = [self._one(values, levels, *_checked_record(record, levels)) for record in values["terms"]]
        first = min(plans, key=lambda plan: float(plan.effect))
        return TermsPlan(**{**vars(first), "terms": tuple(plans)})

    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """See `Design.given_sizes`."""
        assert isinstance(plan, FPlan)
        return given_cells(values, plan, "n_per_cell")

    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        """See `Design.sizes_as_values`."""
        return {"n": sum(groups), "n_per_cell": min(groups)}

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`: the factors, and the levels of each."""
        levels = [int(each) for each in values.get("levels", ())][:MOST_NAMED]
        factors = Naming("factors", "Factors", numbered("factor", len(levels)))
        each = [
            Naming(f"levels{number}", f"Levels of {{factors.{number}}}", numbered("level", min(count, MOST_NAMED)))
            for number, count in enumerate(levels, start=1)
        ]
        return (factors, *each) if levels else ()

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        size = "{n_per_cell.people} per cell" if find != "n" and "n_per_cell" in values else "{n} ({group_sizes})"
        shown = "η² {eta_squared}, f {f}" if "eta_squared" in values and find != "effect" else f"f {{f}}{or_more(find)}"
        if "terms" in values and find == "n":
            terms = [f"{_of_term(record['term'])} (f {number_text(record['f'])})" for record in values["terms"]]
            effect = f"{listed(terms)} in a {{levels}} design"
        else:
            effect = f"{_of_term(values.get('term', [1]))} in a {{levels}} design ({shown})"
        return Saying(size, effect, "an analysis of variance")

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the F test of the term in a factorial analysis of variance with all interactions: "
            "under the planned effect its statistic follows a noncentral F distribution with noncentrality λ = f² · N, "
            "the term's degrees of freedom and N less the number of cells."
        )


def _of_term(term: Sequence[int]) -> str:
    factors = [f"{{factors.{int(factor)}}}" for factor in term]
    return f"the {'interaction' if len(factors) > 1 else 'effect'} of {listed(factors)}"


def given_cells(values: Values, plan: FPlan, per_cell: str) -> list[Sizes]:
    """The sizes given, as one total or by cell, where they leave a degree of freedom."""
    cells = plan.parameters
    if per_cell in values:
        total = cells * values[per_cell]
        if values.get("n", total) != total:
            raise RequestError("n", f"n is {values['n']}, but {per_cell} makes it {total}.")
        _need_df(total, cells, per_cell)
        return EqualGroups(cells).ways(np.array([values[per_cell]]))
    _need_df(values["n"], cells, "n")
    return plan.counting.splits(values["n"])


def _checked_term(term: Any, levels: tuple[int, ...], field: str = "term") -> tuple[int, ...]:
    if term is None:
        raise RequestError(field, "anova-factorial needs term: the factors whose effect is tested, as in [1, 2].")
    for factor in term:
        if isinstance(factor, bool) or not isinstance(factor, int) or not 1 <= factor <= len(levels):
            raise RequestError(field, f"The term names factor {factor}, but the factors are 1 to {len(levels)}.")
    if len(set(term)) < len(term):
        raise RequestError(field, "The term names a factor twice: name each once.")
    return tuple(sorted(term))


def _checked_record(record: Any, levels: tuple[int, ...]) -> tuple[tuple[int, ...], float]:
    if not isinstance(record, dict) or set(record) != {"term", "f"} or not isinstance(record["term"], list):
        raise RequestError("terms", 'Each of terms must be like {"term": [1, 2], "f": 0.25}.')
    try:
        f = F.check(record["f"])
    except RequestError as error:
        raise RequestError("terms", error.message) from error
    return _checked_term(record["term"], levels, "terms"), float(f)


# --- repeated measures ----------------------------------------------------------------------------------------


@dataclass(frozen=True)
class RepeatedPlan(FPlan):
    """F tests of a design with repeated measurements; `effect` is f on the scale of the cells."""

    gain: float = 1.0  # noncentrality per participant and f squared
    errors: float = 1.0  # denominator degrees of freedom per participant beyond the groups
    approximate: bool = False
    visits: studies.Visits | None = None

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; methods of section 4, anova-repeated."""
        total = groups.sum(axis=0)
        return FTest(self.effect**2 * total * self.gain, self.df1, (total - self.parameters) * self.errors)

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        assert self.visits is not None
        groups = np.array(sizes, dtype=float)
        return studies.repeated(rng, count, groups, float(self.effect), self.visits, self.level)

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        if not self.approximate:
            return []
        return [
            "With sphericity under 1 the power is approximate: the correlation is the average one, and power may "
            "be off "
            "by 4 to 6 points with the pattern of the effect over time."
        ]


@register
class Repeated(Design):
    """The same people measured several times, in one or more groups."""

    id = "anova-repeated"
    title = "Repeated measurements"
    summary = "Does a measured outcome change over repeated measurements, or change differently between groups?"
    evidence = evidence.REPEATED
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": (
            "known",
            "two",
            "several",
        ),
        "same": (
            "twice",
            "often",
        ),
        "whole": ("no",),
    }
    known_as = (
        "repeated measures anova",
        "mixed anova",
        "split-plot",
        "interaction of group and time",
        "longitudinal",
        "before after two groups",
        "pre post control",
        "growth time course",
        "sphericity",
    )
    buys = "Change over time, and whether groups change differently, from the same people."
    assumptions = (
        F,
        ALPHA,
        POWER,
        TOTAL,
        _N_PER_GROUP,
        _balance("groups", "groups"),
        DROPOUT,
        Assumption(
            "term",
            "Question",
            "choice",
            "Structure",
            "Between: do the groups differ on average over time? Within: does the outcome change over time? "
            "Interaction: "
            "does it change differently between the groups? Two arms measured before and after ask for the "
            "interaction.",
            choices=(
                Choice("between", "between the groups", "difference in"),
                Choice("within", "over time", "change in"),
                Choice("interaction", "different change", "difference in the change of"),
            ),
            required=True,
        ),
        Assumption(
            "groups",
            "Groups",
            "count",
            "Structure",
            "How many groups there are; 1 for a single one.",
            symbol="k",
            low=1,
            high=1000,
            required=True,
        ),
        Assumption(
            "measurements",
            "Measurements",
            "count",
            "Structure",
            "How often each participant is measured.",
            symbol="m",
            low=2,
            high=1000,
            required=True,
        ),
        Assumption(
            "correlation",
            "Correlation over time",
            "number",
            "Structure",
            "How closely two measurements of one person go together, on average over all pairs of measurements. "
            "A higher "
            "one helps to see change and hides differences between groups.",
            symbol="ρ",
            low=-1,
            high=1,
            open_low=True,
            open_high=True,
            required=True,
        ),
        Assumption(
            "sphericity",
            "Sphericity ε",
            "number",
            "Structure",
            "1 where all pairs of measurements are equally correlated; lower where neighbours in time resemble "
            "each other "
            "more. At least 1 / (measurements − 1).",
            symbol="ε",
            low=0,
            high=1,
            open_low=True,
            default=1.0,
        ),
    )
    ways = ((Way("one f", ("f",)),),)
    sizes = (Way("one total", ("n",)), Way("a size per group", ("n_per_group",)))
    starting = {"f": 0.25, "groups": 2, "measurements": 4, "correlation": 0.5, "term": "interaction"}
    derived = (Derived("Sample", "df1", "numerator df"), Derived("Sample", "df2", "denominator df"))
    data_assumptions = (
        "Participants are independent of each other; measurements of one participant are correlated as stated.",
        "The outcome is roughly normal at each measurement, with the same scatter in all groups.",
    )
    references = (
        *_REFERENCES,
        "Geisser S, Greenhouse SW. An extension of Box's results on the use of the F distribution in multivariate "
        "analysis. Annals of Mathematical Statistics 1958; 29: 885-891.",
    )
    approximation = (
        "Exact with a sphericity of 1. Under 1 it is an approximation: power may be off by 0.04 to 0.06 with "
        "the effect's pattern over time."
    )

    def plan(self, values: Values, find: str) -> RepeatedPlan:
        """See `Design.plan`."""
        k, m, rho, epsilon = (values[name] for name in ("groups", "measurements", "correlation", "sphericity"))
        term = values["term"]
        if term != "within" and k < 2:
            raise RequestError("groups", f"The question {term} needs 2 groups or more, not {k}.")
        if rho <= -1 / (m - 1):
            raise RequestError(
                "correlation",
                f"{m} measurements cannot all be correlated at {number_text(rho)}: it must be above "
                f"{number_text(-1 / (m - 1))}.",
            )
        if epsilon < 1 / (m - 1) - 1e-12:
            raise RequestError(
                "sphericity",
                f"With {m} measurements sphericity is at least {number_text(1 / (m - 1))}, not {number_text(epsilon)}.",
            )
        if term == "between":
            df1, gain, errors = float(k - 1), m / (1 + (m - 1) * rho), 1.0
        else:
            across = 1 if term == "within" else k - 1
            df1, gain, errors = across * (m - 1) * epsilon, m * epsilon / (1 - rho), (m - 1) * epsilon
        return RepeatedPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides="greater",
            effect=0.0 if find == "effect" else values["f"],
            counting=AnyOver(k) if values["balance"] == "any" else EqualGroups(k),
            df1=df1,
            parameters=k,
            gain=gain,
            errors=errors,
            approximate=epsilon < 1 and term != "between",
            visits=studies.Visits(m, rho, epsilon, term),
        )

    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """See `Design.given_sizes`."""
        assert isinstance(plan, FPlan)
        return given_cells(values, plan, "n_per_group")

    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        """See `Design.sizes_as_values`."""
        return {"n": sum(groups), "n_per_group": min(groups)}

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        groups, times = int(values.get("groups", 2)), int(values.get("measurements", 2))
        named = (Naming("groups", "Groups", numbered("group", groups)),) if 1 < groups <= MOST_NAMED else ()
        return (*named, Naming("times", "Measurements", numbered("measurement", min(times, MOST_NAMED))))

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        size = "{n_per_group.people} per group" if find != "n" and "n_per_group" in values else "{n} ({group_sizes})"
        groups = int(values.get("groups", 2))
        if groups == 1:
            size = size.removesuffix(" per group").removesuffix(" ({group_sizes})")
        between = "between" if groups == 2 else "among"
        whom = f" {between} {name_tokens('groups', groups)}" if groups > 1 else ""
        among = f" in {name_tokens('groups', groups)}" if groups > 1 else ""
        f = f"f {{f}}{or_more(find)}, correlation over time {{correlation}}"
        over = "{measurements} measurements{times.named}"
        effect = f"a {{term}} {{mean_outcome}}{whom} over {over} ({f})"
        if values.get("term") == "within":
            effect = f"a {{term}} {{mean_outcome}} over {over}{among} ({f})"
        return Saying(size, effect, "a repeated-measures analysis of variance")

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the F test of a repeated-measures analysis of variance with equal "
            "correlation among "
            "measurements. The noncentrality is λ = f² · N · m / (1 + (m − 1)ρ) between groups, and f² · N · m · ε / "
            "(1 − ρ) over time and for the interaction, with degrees of freedom multiplied by the sphericity ε."
        )
