"""Margins that are ratios, of effects that are compared on their logarithms: hazard ratios, rate ratios.

Com-Nougue, Rodary and Patte, Statistics in Medicine 12 (1993), pages 1353-1364; Zhu and Lakkis, Statistics in Medicine
33 (2014), pages 376-387; methods of section 18.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.assumption import rounded
from ragwort.designs.design import Further, Values
from ragwort.designs.formula import Claim, claim
from ragwort.designs.kinds import EdgedPlan, TwoTestsPlan
from ragwort.designs.margins import BETTER, HYPOTHESIS, MARGIN, MARGIN_HIGH, MARGIN_LOW, WithMargins, margin_of
from ragwort.designs.phrases import Aside, Saying
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sizes import Sizes
from ragwort.stats.noncentral import Number

OF_RATIOS = ("margin", "margin_low", "margin_high")
RATIO_MARGINS = (
    HYPOTHESIS,
    replace(
        MARGIN,
        kind="number",
        help="How many times larger (or, where higher is better, smaller) the ratio may be and not matter: a hazard "
        "ratio of 1.3. It must be above 1. What it means depends on how often events come: look at it as a difference, "
        "too.",
        low=1,
        open_low=True,
    ),
    replace(MARGIN_LOW, kind="number", help="The lowest ratio that would not matter.", low=0, open_low=True),
    replace(MARGIN_HIGH, kind="number", help="The highest ratio that would not matter.", low=0, open_low=True),
    replace(BETTER, default="lower", help="Whether more events are good or, mostly, fewer."),
)


def on_logs(values: Values, find: str) -> dict[str, Any]:
    """The margins of a ratio as those of a difference of logarithms. Raises `RequestError`."""
    found = dict(values)
    for name in OF_RATIOS:
        if name in values and find != "margin":
            ratio = values[name]
            if ratio <= 0 or (name == "margin" and ratio <= 1):
                low = "1" if name == "margin" else "0"
                raise RequestError(name, f"{name} is a ratio and must be above {low}, not {plain_number(ratio)}.")
            found[name] = float(np.log(ratio))
    return found


@dataclass(frozen=True)
class RatioEquivalence(TwoTestsPlan):
    """Two one-sided tests of a ratio between two ratios; what is counted and expected is that of either test."""

    @property
    def there(self) -> EdgedPlan:
        """The test of one side with the true effect, counted from no effect."""
        return self.inner.replace(effect=self.effect, edge=0.0)

    @property
    @override
    def counted(self) -> str:
        return self.there.counted

    @override
    def events_expected(self, groups: Sizes) -> Number | None:
        return self.there.events_expected(groups)

    @override
    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        return self.there.further_sizes(groups)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {**self.there.effect_report(), "margin": np.exp((self.high - self.low) / 2)}

    @property
    @override
    def estimated_ratio(self) -> str:  # type: ignore[override]  # that of the test of one side
        return self.inner.estimated_ratio

    @property
    @override
    def truth(self) -> float:
        """The logarithm of the ratio."""
        return float(np.ravel(self.effect)[0])


class WithRatioMargins(WithMargins):
    """A design of a ratio whose hypothesis may have a margin. The primary effect counts its logarithm."""

    further: ClassVar[Mapping[str, Further]] = {
        "margin": Further(margin_of, lambda plan: float(plan.effect_report()["margin"]))
    }
    equivalence = RatioEquivalence
    margin_methods: ClassVar[tuple[str, ...]] = ()  # those that take margins, the usual one first
    ratio_words: ClassVar[tuple[str, str, str]]  # its symbol, its name, what it is of: `HR`, `hazard ratio`

    @override
    def starting_for(self, claim: str) -> dict[str, Any]:
        found = super().starting_for(claim)
        if "margin" in found:
            found["margin"] = float(f"{np.exp(found['margin']):.2g}")
        return found

    @override
    def slightly_worse(self, values: Values) -> dict[str, Any]:
        """A truth a third of the way to the margin, on the wrong side."""
        power = 1 / 3 if self.better(values) == "lower" else -1 / 3
        return {name: none * values["margin"] ** power for name, none in self.zero_effect(values).items()}

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = super().in_other_words(values)
        if "margin" in values and "margin_low" not in values:
            known |= {"margin_low": rounded(1 / values["margin"]), "margin_high": values["margin"]}
        elif "margin_low" in values and "margin" not in values:
            known["margin"] = rounded((values["margin_high"] / values["margin_low"]) ** 0.5)
        return known

    def ratio_plan(self, plan: EdgedPlan, values: Values, find: str) -> Plan:
        """The plan with its margin, where the hypothesis has one. Raises `RequestError`."""
        if self.hypothesis(values) == "difference":
            return plan
        if values["method"] not in self.margin_methods:
            names = " or ".join(f"{each!r}" for each in self.margin_methods)
            raise RequestError("method", f"With a margin the method must be {names}, not {values['method']!r}.")
        return self.with_margin(plan, on_logs(values, find), find)

    # --- words ---

    def ratio_saying(self, values: Values, find: str, sizes: str, aside: tuple[Aside, ...]) -> Saying:
        """The sentence of a hypothesis with a margin."""
        name, kind, lower = self.ratio_words[1], self.hypothesis(values), self.better(values) == "lower"
        of = f"the {name}, {{groups.2}} to {{groups.1}},"
        if kind == "equivalence":
            ends = "{margin_low} and {margin_high}" if "margin_low" in values and find != "margin" else ""
            shown = f"that {of} lies {f'between {ends}' if ends else 'within a factor of {margin} of 1'}"
        elif kind == "superiority":
            shown = f"that {of} is {'below 1/' if lower else 'above '}{{margin}}"
        else:
            shown = f"that {of} is {'below ' if lower else 'above 1/'}{{margin}} (non-inferiority margin)"
        test = "a one-sided {method} on each side" if kind == "equivalence" else "a one-sided {method}"
        true = f"the true {name} is {{{self.ratio_words[2]}}}"
        return Saying(sizes, shown, test, verb="show", supposing=true, aside=aside)

    def ratio_claim(self, values: Values, *where: str) -> Claim:
        """What is tested, in symbols."""
        symbol, kind, margin = self.ratio_words[0], self.hypothesis(values), float(values.get("margin", 1.0))
        if kind == "difference":
            return claim(f"ln {symbol}", "0", values["sides"], *where)
        if kind == "equivalence":
            ends = values.get("margin_low", 1 / margin), values.get("margin_high", margin)
            low, high = (plain_number(rounded(each)) for each in ends)
            return Claim(f"{symbol} ≤ {low} or {symbol} ≥ {high}", f"{low} < {symbol} < {high}", where)
        down = self.better(values) == "lower"
        edge = plain_number(rounded(1 / margin if (kind == "superiority") == down else margin))
        return Claim(f"{symbol} {'≥' if down else '≤'} {edge}", f"{symbol} {'<' if down else '>'} {edge}", where)
