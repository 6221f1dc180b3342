"""Hypotheses with a margin: superiority by more than it, non-inferiority, equivalence. One mechanism for all designs.

A one-sided hypothesis moves the edge of the null hypothesis: `Plan.effect` counts from there (`edge`), so that power,
search and pictures need know nothing of margins. Source: ICH E9 (1998), sections 3.3.2 and 5.5; methods of section 7.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.assumption import Assumption, Choice, rounded
from ragwort.designs.design import Design, Further, Values, Way
from ragwort.designs.formula import EDGE, Claim
from ragwort.designs.kinds import EdgedPlan, EquivalencePlan
from ragwort.designs.phrases import Aside, Saying
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import NotAttainable, RequestError, plain_number, plain_percent
from ragwort.designs.sizes import Sizes
from ragwort.stats.search import one as search

HYPOTHESIS = Assumption(
    "hypothesis",
    "Hypothesis",
    "choice",
    "Effect",
    "A difference: the usual question. Superiority: better by more than a margin. Non-inferiority: not worse by more "
    "than a margin, as for a treatment that is cheaper or safer. Equivalence: within margins either way. That a "
    "difference is not significant shows neither of the last two.",
    default="difference",
    choices=(
        Choice("difference", "difference"),
        Choice("superiority", "superiority"),
        Choice("non-inferiority", "non-inferiority"),
        Choice("equivalence", "equivalence"),
    ),
)
MARGIN = Assumption(
    "margin",
    "Margin",
    "measured",
    "Effect",
    "The largest difference for the worse that would not matter (for superiority: the smallest for the better that "
    "would). Settle it with those who know what matters before data are seen; it should be smaller than the effect "
    "that the usual treatment has been shown to have.",
    symbol="M",
    low=0,
    open_low=True,
    justified=True,
)
MARGIN_LOW = Assumption(
    "margin_low",
    "Lower margin",
    "measured",
    "Effect",
    "The lowest difference that would not matter.",
    symbol="M₁",
    justified=True,
)
MARGIN_HIGH = Assumption(
    "margin_high",
    "Upper margin",
    "measured",
    "Effect",
    "The highest difference that would not matter.",
    symbol="M₂",
    justified=True,
)
BETTER = Assumption(
    "better",
    "Better is",
    "choice",
    "Effect",
    "Which direction of the outcome is good: more points, or fewer milliseconds.",
    default="higher",
    choices=(Choice("higher", "higher"), Choice("lower", "lower")),
)
MARGINS = (HYPOTHESIS, MARGIN, MARGIN_LOW, MARGIN_HIGH, BETTER)
MARGIN_WAYS = (Way("one margin", ("margin",)), Way("two margins", ("margin_low", "margin_high")))
_MISSING = {
    "superiority": "say by how much better the new one must be",
    "non-inferiority": "say how much worse the new one may be",
    "equivalence": "say within what the difference must lie",
}
_CLAIMED = {"not-worse": "non-inferiority", "alike": "equivalence"}
SIDED = "Sides belong to the hypothesis of a difference; a margin is tested to the side that “better” says."
ONE_TEST = {"superiority": 0.025, "non-inferiority": 0.025, "equivalence": 0.05}  # alpha of one test


def margin_of(plan: Plan, sizes: Sizes) -> tuple[Sizes, Plan]:
    """The margin that reaches the target at these sizes. Raises `NotAttainable`, `RequestError`."""
    if isinstance(plan, EquivalencePlan):
        return sizes, _equivalence_margin(plan, sizes)
    if not isinstance(plan, EdgedPlan) or not plan.margin_kind:
        raise RequestError("hypothesis", "A margin is found for superiority, non-inferiority or equivalence.")
    superior = plan.margin_kind == "superiority"

    def power(margin: float) -> float:
        return float(_at_edge(plan, margin).power(sizes)[0])

    if (power(0.0) >= plan.target) != superior:
        at = plain_percent(plan.target)
        words = f"No margin above 0 gives {at} power" if superior else f"Every margin above 0 gives {at} power or more"
        raise NotAttainable("margin", f"{words} at this sample size with this effect.")
    if superior:
        return sizes, _at_edge(plan, search.close_in(power, plan.target, fails=abs(float(plan.effect)), reaches=0.0))
    found = search.nearest_root(power, plan.target, _first_margin(plan), plan.widest_margin)
    if found is None:
        raise NotAttainable("margin", f"No margin gives {plain_percent(plan.target)} power at this sample size.")
    return sizes, _at_edge(plan, found)


def _first_margin(plan: EdgedPlan) -> float:
    """Where to begin to look for a margin."""
    return min(float(np.ravel(plan.effect_scale)[0]), plan.widest_margin / 2)


def _at_edge(plan: EdgedPlan, margin: float) -> EdgedPlan:
    """The plan of a true effect that counts from no difference, with this margin."""
    edge = margin if plan.margin_kind == "superiority" else -margin
    edge = edge if plan.sides == "greater" else -edge
    return plan.replace(edge=edge, effect=plan.effect - edge)


def _equivalence_margin(plan: EquivalencePlan, sizes: Sizes) -> EquivalencePlan:
    def power(margin: float) -> float:
        return float(plan.replace(low=-margin, high=margin).power(sizes)[0])

    widest = plan.inner.widest_margin
    start = min(abs(float(plan.effect)) or float(np.ravel(plan.inner.effect_scale)[0]) * 1e-6, widest / 2)
    found = search.nearest_root(power, plan.target, start, widest)
    if found is None:
        raise NotAttainable("margin", f"No margin gives {plain_percent(plan.target)} power at this sample size.")
    return plan.replace(low=-found, high=found)


FURTHER = {"margin": Further(margin_of, lambda plan: float(plan.effect_report()["margin"]))}


class WithMargins(Design):
    """A design whose hypothesis may have a margin. Its plan has `edge` and `margin_kind`."""

    claims: ClassVar[tuple[str, ...]] = ("difference", "not-worse", "alike")
    further: ClassVar[Mapping[str, Further]] = FURTHER
    equivalence: ClassVar[type[EquivalencePlan]] = EquivalencePlan
    margin_words: ClassVar[str] = "{margin}"

    @property
    @override
    def about_defaults(self) -> tuple[str, ...]:
        levels = ", ".join(f"{alpha:g} for {kind}" for kind, alpha in ONE_TEST.items())
        return f"Where no alpha is given it is 0.05; of each one-sided test against a margin {levels}.", SIDED

    def better(self, values: Values) -> str:
        """Which direction is good."""
        return str(values.get("better", self.assumption("better").default))

    def hypothesis(self, values: Values) -> str:
        """What is to be shown."""
        return str(values.get("hypothesis", "difference"))

    @override
    def starting_for(self, claim: str) -> dict[str, Any]:
        """No difference, and the one that is usual to start from as the margin."""
        usual = dict(self.starting)
        if claim not in _CLAIMED:
            return usual
        margin = rounded(abs(float(self.stated_effect(usual))))
        return {**usual, **self.zero_effect(usual), "hypothesis": _CLAIMED[claim], "margin": margin}

    @override
    def idle_names(self, values: Values) -> frozenset[str]:
        return super().idle_names(values) | self._without_say(values)

    def _without_say(self, values: Values) -> frozenset[str]:
        kind = self.hypothesis(values)
        if kind == "difference":
            return frozenset({"margin", "margin_low", "margin_high", "better"})
        if kind == "equivalence":
            return frozenset({"sides", "better"})
        return frozenset({"sides", "margin_low", "margin_high", "direction"})

    @override
    def refuse_idle(self, given: Values, find: str) -> None:
        super().refuse_idle(given, find)
        kind = self.hypothesis(given)
        for name in given:
            if name in self._without_say(given) - {"direction"} and not (name == "margin" and find == "margin"):
                raise RequestError(name, f"{name} has no say where {kind} is to be shown: leave it out.")
        if find == "margin" and kind == "difference":
            raise RequestError("hypothesis", "A margin is found for superiority, non-inferiority or equivalence.")
        both = [name for name in ("margin_low", "margin_high") if name in given]
        if kind in _MISSING and find != "margin" and "margin" not in given and not both:
            raise RequestError("margin", f"The margin is missing: {_MISSING[kind]}.")
        if both and (find == "margin" or "margin" in given):
            raise RequestError(both[0], "Give one margin for both sides, or a lower and an upper one, not both.")
        if len(both) == 2 and given["margin_low"] >= given["margin_high"]:
            raise RequestError("margin_low", "The lower margin must lie below the upper one.")

    @override
    def implied(self, values: Values) -> dict[str, Any]:
        """Of a margin its side, the level of one test, and no difference unless one is stated."""
        kind, more = self.hypothesis(values), super().implied(values)
        if kind == "difference" or kind not in ONE_TEST:
            return more
        lower = kind != "equivalence" and self.better(values) == "lower"
        found = {"alpha": ONE_TEST[kind], "sides": "less" if lower else "greater", **more}
        stated = self.effect_names() - {"null_mean"} - self.stands_alone
        if kind == "superiority" or any(name in values for name in stated):
            return found
        return {**found, **self.zero_effect(values)}

    def zero_effect(self, values: Values) -> dict[str, Any]:
        """No difference, as the effect is stated."""
        return {"difference": 0.0}

    def slightly_worse(self, values: Values) -> dict[str, Any]:
        """A truth a third of the margin on the wrong side of no difference; empty where none can be said."""
        down = self.better(values) == "lower"
        return {
            name: none + values["margin"] / 3 * (1 if down else -1) for name, none in self.zero_effect(values).items()
        }

    def with_margin(self, plan: EdgedPlan, values: Values, find: str) -> Plan:
        """The plan with the edge of its null hypothesis moved, or that of two one-sided tests."""
        kind, unknown = self.hypothesis(values), find in ("effect", "margin")
        if kind == "difference":
            return plan
        if kind == "equivalence":
            low, high = (0.0, 0.0) if find == "margin" else self._margins(values)
            common = {name: getattr(plan, name) for name in ("alpha", "target", "sides", "effect", "counting")}
            return self.equivalence(**common, inner=plan, low=low, high=high, by_error=unknown)
        sides = "less" if self.better(values) == "lower" else "greater"
        edged = plan.replace(margin_kind=kind, by_error=unknown, sides=sides)
        if find == "margin":
            return edged
        if "margin" not in values:
            raise RequestError("margin", f"A margin is missing: {kind} is shown against one.")
        moved = _at_edge(edged, values["margin"])
        return moved.replace(effect=0.0) if find == "effect" else moved

    def _margins(self, values: Values) -> tuple[float, float]:
        if "margin_low" in values:
            return values["margin_low"], values["margin_high"]
        if "margin" not in values:
            raise RequestError("margin", "A margin is missing: equivalence is shown within margins.")
        return -values["margin"], values["margin"]

    @override
    def finds_with(self, values: Values) -> tuple[str, ...]:
        """A margin only where there is one."""
        finds = super().finds_with(values)
        return finds if self.hypothesis(values) != "difference" else tuple(f for f in finds if f != "margin")

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = super().in_other_words(values)
        if "margin" in known and "margin_low" not in known:
            known |= {"margin_low": -known["margin"], "margin_high": known["margin"]}
        elif "margin_low" in known and "margin" not in known:
            known["margin"] = (known["margin_high"] - known["margin_low"]) / 2
        return known

    # --- words ---

    def margin_saying(
        self, values: Values, find: str, sizes: str, subject: str, other: str, aside: tuple[Aside, ...] = ()
    ) -> Saying:
        """The sentence of a hypothesis with a margin: `subject` is not lower than `other` by more than it.

        `aside` says what the variability is; the test is named by its choice token.
        """
        kind, lower = self.hypothesis(values), self.better(values) == "lower"
        worse, good = ("higher", "lower") if lower else ("lower", "higher")
        if kind == "equivalence":
            within = f"less than {self.margin_words}"
            if "margin_low" in values and find != "margin":
                within = "no less than {margin_low} and no more than {margin_high}"
            apart = f"that {other}" if other.startswith("with ") else other
            shown = f"that {subject} differs from {apart} by {within}"
        elif kind == "superiority":
            shown = f"that {subject} is {good} than {other} by more than {self.margin_words}"
        else:
            shown = (
                f"that {subject} is not {worse} than {other} by more than {self.margin_words} (non-inferiority margin)"
            )
        true = self.true_effect(values, find)
        test = "a one-sided {test} on each side" if kind == "equivalence" else "a one-sided {test}"
        return Saying(sizes, shown, test, verb="show", supposing=true, aside=aside)

    def true_effect(self, values: Values, find: str) -> str:
        """What is taken to be true, in the sentence."""
        return "the true difference is {difference}"

    def tested_words(self, values: Values, over: str) -> str:
        """How the method says the noncentrality, `over` being the standard error, and which tails are counted."""
        kind = self.hypothesis(values)
        if kind == "equivalence":
            over_all = "" if self.scatter_is_known(values) else " over all estimates of the variability"
            return f"Both one-sided tests must reject, one at each margin; power is the chance of that{over_all}."
        if kind != "difference":
            less = f"The noncentrality is δ = (difference − edge) / {over}, where the edge is the margin with its sign."
            return f"{less} One tail is counted."
        tails = "Both rejection tails are counted." if values["sides"] == "two" else "One tail is counted."
        return f"The noncentrality is δ = difference / {over}. {tails}"

    def both_words(self, values: Values) -> str:
        """What is added of equivalence to the words on a method."""
        both = " Both one-sided tests must reject, one at each margin."
        return both if self.hypothesis(values) == "equivalence" else ""

    def scatter_is_known(self, values: Values) -> bool:
        """Whether the scatter is taken as known, not estimated from the data."""
        return False

    def apart(self, values: Values, parameter: str) -> str:
        """How far the effect is from the null hypothesis, in symbols; see `formula.EDGE`."""
        return parameter if self.hypothesis(values) == "difference" else f"{parameter} − Δ₀"

    def edge_named(self, values: Values) -> tuple[str, ...]:
        """What Δ₀ is, where a formula has it."""
        return () if self.hypothesis(values) == "difference" else (EDGE,)

    def margin_claim(self, values: Values, parameter: str, *where: str) -> Claim:
        """What is tested, in symbols."""
        kind = self.hypothesis(values)
        if kind == "equivalence":
            low, high = self._margins({"margin": 0.0, **values})
            ends = f"{_signed(low)} or {parameter} ≥ {_signed(high)}"
            return Claim(f"{parameter} ≤ {ends}", f"{_signed(low)} < {parameter} < {_signed(high)}", where)
        margin = values.get("margin", 0.0)
        edge = margin if kind == "superiority" else -margin
        if self.better(values) == "lower":
            return Claim(f"{parameter} ≥ {_signed(-edge)}", f"{parameter} < {_signed(-edge)}", where)
        return Claim(f"{parameter} ≤ {_signed(edge)}", f"{parameter} > {_signed(edge)}", where)


def _signed(value: float) -> str:
    return plain_number(value).replace("-", "−")
