"""Yes or no within pairs: McNemar's test."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import agree, need_whole, stated
from ragwort.designs.assumption import (
    ALPHA,
    DIRECTION,
    DROPOUT,
    POWER,
    SIDES,
    TOTAL,
    Assumption,
    Choice,
    method,
    rounded,
)
from ragwort.designs.catalogue.proportions.pairs_plan import ExactPairedPlan, PairedPlan, PairedShares
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, claim, power_of_two_variances
from ragwort.designs.kinds.counts import COUNTS_UP, N_RULE
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.phrases import Naming, Saying, is_down, looking_for, or_more
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import FROM_NORMAL, WITHIN, InProtocol
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sampling import OneSample
from ragwort.designs.works import CONNOR, MCNEMAR, MIETTINEN
from ragwort.stats.discordant import correlations_text
from ragwort.stats.noncentral import Number


def _share(name: str, label: str, help_text: str, symbol: str, **more: Any) -> Assumption:
    return Assumption(name, label, "share", "Effect", help_text, symbol=symbol, low=0, high=1, **more)


_PROPORTION01 = _share(
    "proportion01",
    "Proportion discordant, second only",
    "The share of pairs with the event under the second condition only. Only discordant pairs tell "
    "the conditions apart.",
    "p₀₁",
)


@register
class PairedProportions(WithLooks, OneSample):
    """Yes or no within pairs: before and after, left and right, matched people."""

    id = "paired-proportions"
    title = "Paired proportions: McNemar's test"
    summary = (
        "Does the proportion with an event differ between two conditions, within the same people or matched pairs?"
    )
    in_protocol = InProtocol(
        WITHIN,
        {"asymptotic": "McNemar test", "exact": "exact McNemar test"},
        {"asymptotic": FROM_NORMAL, "exact": "exact binomial probabilities"},
        cites={"asymptotic": (MCNEMAR, CONNOR), "exact": (MCNEMAR, MIETTINEN)},
    )
    evidence = evidence.PAIRED_SHARES
    takes = {"measured": ("yes-no",), "compared": ("two",), "same": ("twice",), "whole": ("no",)}
    known_as = (
        "mcnemar",
        "matched pairs yes no",
        "before and after yes no",
        "discordant pairs",
        "marginal homogeneity",
    )
    buys = "Each person is their own comparison; only discordant pairs count."
    people = ("pair", "pairs")
    rows = "pair"
    assumptions = (
        _PROPORTION01,
        _share(
            "proportion10",
            "Proportion discordant, first only",
            "The share of pairs with the event under the first condition only.",
            "p₁₀",
        ),
        _share("proportion1", "Proportion, first", "The proportion with the event under the first condition.", "p₁"),
        _share("proportion2", "Proportion, second", "The proportion with the event under the second condition.", "p₂"),
        Assumption(
            "correlation",
            "Correlation within pairs",
            "number",
            "Effect",
            "How closely the two answers of a pair go together (φ). The higher it is, the fewer pairs disagree.",
            symbol="φ",
            low=-1,
            high=1,
        ),
        Assumption(
            "cells",
            "Two-by-two",
            "table",
            "Effect",
            "The share of pairs in each of the four cells; together they are 1. Only discordant pairs tell the "
            "conditions apart, but all four show how frequent the event is under each. Counts of an earlier study can "
            "be pasted and rescaled.",
            low=0,
            shortest=2,
            longest=2,
            adds_to_one=True,
            row_names="firsts",
            column_names="seconds",
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        method(
            "Asymptotic: McNemar's test as a normal approximation. Exact: the binomial test of the pairs that "
            "disagree, never above the alpha stated.",
            Choice("asymptotic", "asymptotic", "McNemar test"),
            Choice("exact", "exact", "exact McNemar test"),
        ),
        POWER,
        replace(TOTAL, label="Pairs", words="{many}", help="The number of pairs analysed. Dropout is added on top."),
        replace(N_RULE, help="Of the exact test only. " + N_RULE.help),
        DROPOUT,
        *LOOKS,
    )
    looked_by = {"method": ("asymptotic",)}
    ways = (
        (
            Way("discordant pairs", ("proportion10", "proportion01")),
            Way("both proportions", ("proportion1", "proportion2", "correlation")),
            Way("a two-by-two", ("cells",)),
        ),
    )
    stands_alone = frozenset({"proportion10", "proportion1", "correlation"})
    elementwise = elementwise("proportion01", "proportion2")
    by_counts = frozenset({"exact"})
    starting = {"proportion10": 0.1, "proportion01": 0.25}
    derived = (
        Derived("Effect", "proportion1", "first"),
        Derived("Effect", "proportion2", "second"),
        Derived("Effect", "risk_difference", "difference"),
        Derived("Effect", "odds_ratio", "odds ratio"),
        Derived("Error rates", "actual_alpha", "actual alpha"),
    )
    data_assumptions = (
        "Pairs are independent of each other.",
        "The outcome is binary, and observed under both conditions in each pair.",
    )
    accuracies = {
        "asymptotic": "The calculation is a normal approximation, poor where fewer than 10 discordant pairs are "
        "expected.",
        "exact": "Exact: binomial probabilities summed over the number of discordant pairs.",
    }
    approximation = " ".join(accuracies.values())

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        values = _with_cells(values)
        by_shares = "proportion1" in values
        if find == "effect" and not by_shares and "proportion10" not in values:
            raise RequestError("proportion10", "A found effect needs the share of discordant pairs the other way.")
        if by_shares and "correlation" not in values:
            raise RequestError("correlation", "Both proportions need the correlation within pairs.")
        own = {"proportion10": values.get("proportion10", 0.0), "proportion1": values.get("proportion1", 0.0)}
        given = {**self.basis(values, find), **own, "correlation": values["correlation"] if by_shares else None}
        given["proportion11"] = values["cells"][0][0] if "cells" in values and not by_shares else None
        exact = values["method"] == "exact"
        plan: PairedShares
        plan = ExactPairedPlan(**given, n_rule=values["n_rule"]) if exact else PairedPlan(**given)
        if find != "effect":
            _need_table(plan, values)
        return plan

    @override
    def unused_names(self, find: str) -> frozenset[str]:
        """What the other condition has is what a found effect stands on."""
        return super().unused_names(find) - self.stands_alone

    @override
    def stated_effect(self, values: Values) -> Number:
        values = _with_cells(values)
        if "proportion1" in values and "proportion2" in values:
            return values["proportion2"] - values["proportion1"]
        if "proportion1" in values and "correlation" in values and "proportion10" not in values:
            return (
                _second_of(values["proportion01"], values["proportion1"], values["correlation"]) - values["proportion1"]
            )
        return values["proportion01"] - values["proportion10"]

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """Pairs that agree as often yes as no, where nothing else is said."""
        known = {**_of_cells(values), **values}
        if {"proportion10", "proportion01"} <= set(known):
            p10, p01 = known["proportion10"], known["proportion01"]
            both = known["cells"][0][0] if "cells" in known else (1 - p10 - p01) / 2
            known |= _margins(both, p10, p01)
        elif {"proportion1", "proportion2", "correlation"} <= set(known):
            p1, p2 = known["proportion1"], known["proportion2"]
            both = p1 * p2 + known["correlation"] * math.sqrt(p1 * (1 - p1) * p2 * (1 - p2))
            p10, p01 = p1 - both, p2 - both
            known |= {"proportion10": rounded(p10), "proportion01": rounded(p01)}
        else:
            return known
        three = rounded(both), rounded(p10), rounded(p01)
        cells = [[three[0], three[1]], [three[2], round(1 - math.fsum(three), 12)]]  # together 1 once rounded
        return {"cells": cells, **known}

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        values = {**_of_cells(values), **values}
        if "proportion1" in values:
            kept: dict[str, Any] = {name: values[name] for name in ("proportion1", "correlation") if name in values}
            return self.restate({**kept, "proportion2": effect}, way)
        return self.restate({"proportion10": values.get("proportion10", 0.1), "proportion01": effect}, way)

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        conditions = Naming("conditions", "Conditions", ("the first", "the second condition"))
        if "cells" not in values:
            return (conditions,)
        firsts = Naming("firsts", "Answers, first", ("first: yes", "first: no"))
        return conditions, firsts, Naming("seconds", "Answers, second", ("second: yes", "second: no"))

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "-"))
        if "proportion1" in values:
            second = "{proportion01}" if find == "effect" else "{proportion2}"
            effect = (
                f"a difference between {{proportion1}} with {{conditions.1}} and {second}{more} with {{conditions.2}} "
                "within pairs (correlation {correlation})"
            )
        else:
            effect = (
                f"a difference between {{proportion01}}{more} of pairs discordant in favour of {{conditions.2}} and "
                "{proportion10} in favour of {conditions.1}"
            )
        looking = looking_for(
            values, "a higher proportion with {conditions.2}", "a lower proportion with {conditions.2}"
        )
        return Saying("{n}", effect, "a {sides} {method}", looking)

    @override
    def claim(self, values: Values) -> Claim:
        where = (
            "π₀₁ is the proportion of pairs discordant in favour of {conditions.2}, π₁₀ in favour of {conditions.1}."
        )
        return claim("π₀₁ − π₁₀", "0", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        if values["method"] == "exact":
            return "1 − β = Σ P(M = m) P(exact binomial test of 1/2 rejects at m)", "M is binomial (n, π₁₀ + π₀₁)"
        apart = "Δ = √n (π₀₁ − π₁₀),   V₀ = π₁₀ + π₀₁,   V₁ = V₀ − (π₀₁ − π₁₀)²"
        return apart, power_of_two_variances(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        if values["method"] == "exact":
            return (
                "for the exact McNemar test by summing, over the number of discordant pairs, the power of the "
                "binomial test "
                "of one half. " + COUNTS_UP
            )
        return (
            "for McNemar's test as a normal approximation, with the variance of the discordant pairs under the null "
            "hypothesis and that under the alternative."
        )


def _of_cells(values: Values) -> dict[str, float]:
    """The pairs that disagree, of all four cells; nothing where those are not given. Raises `RequestError`."""
    if "cells" not in values:
        return {}
    if np.shape(values["cells"]) != (2, 2):
        rows, columns = np.shape(values["cells"])
        message = f"The cells are 2 rows of 2, not {rows} of {columns}: yes and no in the first, by yes and no after."
        raise RequestError("cells", message)
    (yes, down), (up, no) = values["cells"]
    need_whole("cells", math.fsum((yes, down, up, no)), "The four cells")
    return {"proportion10": down, "proportion01": up}


def _with_cells(values: Values) -> dict[str, Any]:
    """The values with what the cells make; whatever else is given must agree. Raises `RequestError`."""
    disagree = _of_cells(values)
    made = {**disagree, **(_margins(values["cells"][0][0], *disagree.values()) if disagree else {})}
    for name in (each for each in made if each in values):
        stated(values, name, made[name], "the cells make it")
    return {**disagree, **values}


def _margins(both: float, p10: float, p01: float) -> dict[str, float]:
    """Both proportions, and how closely the answers of a pair go together."""
    p1, p2 = both + p10, both + p01
    scale = math.sqrt(max(p1 * (1 - p1) * p2 * (1 - p2), 0.0))
    phi = (both - p1 * p2) / scale if scale else 0.0
    return {"proportion1": rounded(p1), "proportion2": rounded(p2), "correlation": rounded(phi)}


def _second_of(p01: float, p1: float, phi: float) -> float:
    """The second proportion at which this share of pairs has a yes in the second only. Raises `RequestError`."""
    from scipy.optimize import brentq

    if p01 > 1 - p1:
        raise RequestError(
            "proportion01",
            f"No more than {plain_number(1 - p1)} have no yes in the first: {plain_number(p01)} is more.",
        )

    def too_many(p2: float) -> float:
        return p2 - p1 * p2 - phi * math.sqrt(p1 * (1 - p1) * p2 * (1 - p2)) - p01

    return float(brentq(too_many, 0.0, 1.0, xtol=1e-15))  # below at 0, above at 1, and once through


def _need_table(plan: PairedShares, values: Values) -> None:
    """Refuse cells that no table of pairs has. Raises `RequestError`."""
    if not np.size(plan.effect):
        return
    p10, p01 = (float(np.min(cell)) for cell in plan.cells())
    rounding = 0.0 if plan.correlation is None else 1e-15
    if float(np.min(plan.cells()[0] + plan.cells()[1])) <= rounding:
        stated = "proportion01" if plan.correlation is None else "correlation"
        raise RequestError(stated, "No pairs disagree then, and those that agree tell nothing: there is no test.")
    if plan.correlation is None:
        if float(np.max(plan.cells()[0] + plan.cells()[1])) > 1 + 1e-12:
            raise RequestError(
                "proportion01", f"Discordant pairs add up to {plain_number(p10 + p01)}: at most 1 can be had."
            )
        return
    if not plan.is_possible(float(np.ravel(plan.effect)[0])):
        raise RequestError("correlation", correlations_text(plan.proportion1, float(np.ravel(plan.effect)[0])))
    for name, cell in (("proportion10", p10), ("proportion01", p01)):
        if name in values and not agree(values[name], cell):
            raise RequestError(name, f"{name} is given, but the proportions and their correlation make it {cell:.6g}.")
