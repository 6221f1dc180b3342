"""The mean of differences within pairs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import scatter_within_pairs, stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption
from ragwort.designs.catalogue.means.assumptions import DIFFERENCE, SD1, SD2
from ragwort.designs.catalogue.means.single import KNOWN, NULL_MEAN, SingleMean, SingleMeanPlan
from ragwort.designs.design import Values, Way, elementwise, register
from ragwort.designs.formula import Claim, claim
from ragwort.designs.looks import LOOKS
from ragwort.designs.margins import MARGIN_WAYS, MARGINS
from ragwort.designs.phrases import (
    IN_SDS,
    Aside,
    Naming,
    Saying,
    at_least,
    in_words,
    is_down,
    looking_for,
    or_more,
)
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import FROM_T, WITHIN, InProtocol
from ragwort.designs.stated import in_sds, spread_of_differences
from ragwort.designs.works import ARMITAGE_BERRY, EQUIVALENCE, NONCENTRAL_T
from ragwort.stats import simulated
from ragwort.stats.effects import sd_of_differences
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import means


@dataclass(frozen=True)
class PairsPlan(SingleMeanPlan):
    """Differences within pairs, and how the two values scatter that they are made of."""

    sd1: Number = 1.0
    sd2: Number = 1.0
    correlation: Number = 0.5

    traits = frozenset({"measured"})
    reported = simulated.DIFFERENCES
    wrong_ways = {"unpaired": "an analysis of two separate groups, as if nobody came in pairs"}

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.Pairs:  # type: ignore[override]
        scatter = float(self.sd1), float(self.sd2), float(self.correlation)
        return means.draw_pairs(population, count, sizes[0], float(self.difference), float(self.reference), scatter)

    @override
    def seen(self, groups: Sequence[Array]) -> Any:
        """Of the differences."""
        return means.Pairs(np.zeros((1, len(groups[0]))), groups[0][None, :], None, float(self.reference))

    @override
    def analyse(self, data: Any, way: str = "") -> simulated.Found:
        if way == "unpaired":
            first, second = (means.moments(each, data.kept) for each in (data.first, data.second))
            apart = second.mean - first.mean - data.reference - self.edge
            return self.from_nothing(means.pooled_t(apart, first, second, self.level))
        sd = self.sd if self.known else None
        return self.from_nothing(means.analyse_one_mean(data.differences - self.edge, data.kept, sd, self.level))


@register
class PairedMeans(SingleMean):
    """The mean of differences within pairs: before and after, left and right, matched people."""

    id = "paired-means"
    test_name = "paired t test, the one-sample t test of the differences"
    title = "Paired means: paired t test"
    summary = "Does a measured outcome differ within pairs, such as the same people before and after?"
    in_protocol = InProtocol(
        WITHIN,
        {False: "paired t test", True: "paired z test"},
        {False: FROM_T, True: "the normal distribution"},
        by="sd_known",
        cites={False: NONCENTRAL_T, True: (ARMITAGE_BERRY,)},
        equivalence=EQUIVALENCE,
    )
    evidence = evidence.PAIRS
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": (
            "known",
            "two",
        ),
        "same": ("twice",),
        "whole": ("no",),
    }
    known_as = (
        "paired t test",
        "dependent samples",
        "matched pairs",
        "before after",
        "pre post",
        "crossover",
        "within subjects",
        "repeated measures twins",
    )
    buys = "Each person is their own comparison, so the variability between people drops out."
    people = ("pair", "pairs")
    rows = "pair"
    assumptions = (
        replace(
            DIFFERENCE,
            help="The mean difference within pairs (second minus first), in the outcome's own unit: the "
            "smallest one worth detecting.",
        ),
        Assumption("mean", "Mean difference", "measured", "Effect", "The mean difference expected.", symbol="μ"),
        replace(
            NULL_MEAN, label="Reference difference", help="The mean difference if nothing happens; nearly always 0."
        ),
        Assumption(
            "sd_difference",
            "SD of differences",
            "measured",
            "Effect",
            "How far the differences within single pairs vary, not the values themselves. Where pairs resemble each "
            "other it is smaller than the SD of the values, and the study needs fewer pairs.",
            symbol="σ_d",
            low=0,
            open_low=True,
        ),
        replace(SD1, label="SD of the first", words="", help="Standard deviation of the first value of each pair."),
        replace(SD2, label="SD of the second", words="", help="Standard deviation of the second value of each pair."),
        Assumption(
            "correlation",
            "Correlation within pairs",
            "number",
            "Effect",
            "How closely the two values of a pair go together. Repeated measures of the same people often have 0.5 to "
            "0.8. A correlation taken too high makes the study too small.",
            symbol="ρ",
            low=-1,
            high=1,
        ),
        *MARGINS,
        DIRECTION,
        ALPHA,
        SIDES,
        KNOWN,
        POWER,
        replace(TOTAL, label="Pairs", words="{many}", help="The number of pairs analysed. Dropout is added on top."),
        DROPOUT,
        *LOOKS,
    )
    ways = (
        (Way("one difference", ("difference",)), Way("mean and reference", ("mean", "null_mean"))),
        (Way("SD of the differences", ("sd_difference",)), Way("SDs and correlation", ("sd1", "sd2", "correlation"))),
        MARGIN_WAYS,
    )
    statements = (in_sds("sd_difference", spread_of_differences),)
    elementwise = elementwise("difference", "mean", "null_mean", "sd_difference", "sd1", "sd2", "correlation")
    starting = {"difference": 5.0, "sd_difference": 10.0}
    data_assumptions = (
        "Pairs are independent of each other.",
        "The differences within pairs are approximately normal, or the pairs are numerous enough for their mean to be.",
    )
    approximation = "The calculation is exact where the differences within pairs are normal."

    @override
    def borrowed(self, values: Values) -> dict[str, Any]:
        """The scatter of two groups; half of it shared within pairs until better is known."""
        if "sd_difference" in values or not ("sd" in values or {"sd1", "sd2"} <= set(values)):
            return {}
        sds = {"sd1": values.get("sd1", values.get("sd")), "sd2": values.get("sd2", values.get("sd"))}
        return {**sds, "correlation": values.get("correlation", 0.5)}

    @override
    def spread(self, values: Values) -> Number:
        if not {"sd1", "sd2", "correlation"} <= set(values):
            return values["sd_difference"]
        return stated(values, "sd_difference", scatter_within_pairs(values), "sd1, sd2 and correlation make it")

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        spread = self.spread(values)
        scatter = {"sd1": spread, "sd2": spread, "correlation": 0.5}  # as `in_other_words` has it
        if {"sd1", "sd2", "correlation"} <= set(values):
            scatter = {name: values[name] for name in scatter}
        known, reference = bool(values["sd_known"]), values.get("null_mean", 0.0)
        plan = PairsPlan(**self.basis(values, find), sd=spread, known=known, reference=reference, **scatter)
        return self.with_margin(plan, values, find)

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = super().in_other_words(values)
        if {"sd1", "sd2", "correlation"} <= set(known):
            known.setdefault("sd_difference", sd_of_differences(known["sd1"], known["sd2"], known["correlation"]))
        elif "sd_difference" in known:
            # Half of the variance of a difference of equally spread, uncorrelated values.
            known |= {"sd1": known["sd_difference"], "sd2": known["sd_difference"], "correlation": 0.5}
        return known

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return (Naming("conditions", "Conditions", ("the first", "the second condition")),)

    @override
    def claim(self, values: Values) -> Claim:
        where = "Δ is the mean of the differences within pairs."
        if self.hypothesis(values) != "difference":
            return self.margin_claim(values, "Δ", where)
        return claim("Δ", "0", values["sides"], where)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        down = is_down(values, find, "difference")
        effect = f"a mean difference of {{difference}}{or_more(find)} between {{conditions.1}} and {{conditions.2}}"
        if "mean" in values and "difference" not in values and find != "effect":
            effect = "a mean difference of {mean} instead of {null_mean} between {conditions.1} and {conditions.2}"
        elif in_words(values, find, "difference"):
            effect = (
                f"a mean {at_least(find)}{{difference.size}} {'lower' if down else 'higher'} with {{conditions.2}} "
                "than with {conditions.1}"
            )
        spread: Aside = (("sd_difference",), "SD of the differences {sd_difference}")
        if "sd1" in values and "sd_difference" not in values:
            spread = (("sd1", "sd2", "correlation"), "SDs {sd1} and {sd2}, correlation {correlation}")
        if self.hypothesis(values) != "difference":
            compared = "the mean with {conditions.2}", "with {conditions.1} within pairs"
            said = self.margin_saying(values, find, "{n}", *compared, (spread,))
            return replace(said, test=said.test.format(test="paired {sd_known}"))
        looking = looking_for(values, "higher values with {conditions.2}", "lower values with {conditions.2}")
        test = "a {sides} paired {sd_known}"
        return Saying("{n}", f"{effect} within pairs", test, looking, aside=(spread, IN_SDS))
