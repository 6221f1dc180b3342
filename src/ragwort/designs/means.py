"""Comparisons of means: t tests and their known-SD versions.

Sources: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 2; Welch, "The
generalization of Student's problem", Biometrika 34 (1947), pages 28-35; Satterthwaite, "An approximate
distribution of estimates of variance components", Biometrics Bulletin 2 (1946), pages 110-114.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice
from ragwort.designs.design import Derived, Plan, Values, Way, register
from ragwort.designs.refusals import RequestError, number_text
from ragwort.designs.sampling import BALANCE, RATIO, OneSample, TwoGroups, group_sizes, statistic_details
from ragwort.designs.saying import (
    OF_VALUES,
    Naming,
    Saying,
    at_least,
    difference_of_means,
    in_words,
    is_down,
    looking_for,
    or_more,
)
from ragwort.designs.sizes import OneGroup, Sizes
from ragwort.stats import studies
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import NormalTest, Test, TTest

_SAME = 1e-9  # two statements of one quantity that differ by less than this share agree
_SMALLEST = 2  # participants per group: with one there is no variance

_REFERENCES = (
    "Cohen J. Statistical Power Analysis for the Behavioral Sciences. 2nd ed. Hillsdale: Erlbaum; 1988. Chapter 2.",
    "Johnson NL, Kotz S, Balakrishnan N. Continuous Univariate Distributions, volume 2. 2nd ed. New York: "
    "Wiley; 1995. Chapter 31.",
    "Welch BL. The generalization of Student's problem when several different population variances are "
    "involved. Biometrika 1947; 34: 28-35.",
    "Satterthwaite FE. An approximate distribution of estimates of variance components. Biometrics Bulletin "
    "1946; 2: 110-114.",
)

DIFFERENCE = Assumption(
    "difference",
    "Difference",
    "measured",
    "Effect",
    "Mean of group 2 minus mean of group 1, in the outcome's own unit: the smallest difference that would change "
    "what people do, or the one that earlier studies lead you to expect. If the true difference is smaller than "
    "this, the study will probably miss it.",
    symbol="Δ",
)
_MEAN1 = Assumption(
    "mean1",
    "Mean of group 1",
    "measured",
    "Effect",
    "The mean expected in the first group.",
    words="Mean, {group1}",
    symbol="μ₁",
)
_MEAN2 = Assumption(
    "mean2",
    "Mean of group 2",
    "measured",
    "Effect",
    "The mean expected in the second group.",
    words="Mean, {group2}",
    symbol="μ₂",
)
SD = Assumption(
    "sd",
    "Standard deviation",
    "measured",
    "Effect",
    "How far single participants scatter around their group's mean. Take it from a pilot, records or a published "
    "study in similar people. If it is really a quarter larger, the study needs over half as many people again.",
    symbol="σ",
    low=0,
    open_low=True,
)
_SD1 = Assumption(
    "sd1",
    "SD of group 1",
    "measured",
    "Effect",
    "Scatter of the first group.",
    words="SD, {group1}",
    symbol="σ₁",
    low=0,
    open_low=True,
)
_SD2 = Assumption(
    "sd2",
    "SD of group 2",
    "measured",
    "Effect",
    "Scatter of the second group.",
    words="SD, {group2}",
    symbol="σ₂",
    low=0,
    open_low=True,
)
_VARIANCE = Assumption(
    "variance",
    "Test",
    "choice",
    "Error rates",
    "Equal: the pooled t test, one scatter for both groups. Unequal: Welch's t test, each group its own scatter; "
    "an approximation, good from about 6 per group. Known: the z test, for an SD that is truly known.",
    choices=(
        Choice("equal", "t, equal variances", "t test"),
        Choice("unequal", "Welch, unequal variances", "Welch t test"),
        Choice("known", "z, known SD", "z test"),
    ),
)


@dataclass(frozen=True)
class TwoMeansPlan(Plan):
    """Two independent groups with SDs `sd1`, `sd2`; `effect` is mean 2 - mean 1 in the outcome's unit."""

    sd1: float
    sd2: float
    variance: str

    @property
    def humps(self) -> bool:
        """Welch's degrees of freedom fall when only the group with little scatter grows."""
        return self.variance == "unequal"

    @property
    def effect_scale(self) -> float:
        """See `Plan.effect_scale`."""
        return math.hypot(self.sd1, self.sd2)

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; formulas in methods of section 4, two-means."""
        n1, n2 = groups
        part1, part2 = self.sd1**2 / n1, self.sd2**2 / n2
        noncentrality = self.effect / np.sqrt(part1 + part2)
        if self.variance == "known":
            return NormalTest(noncentrality)
        if self.variance == "equal":
            return TTest(noncentrality, n1 + n2 - 2)
        share1 = part1 / (part1 + part2)
        return TTest(noncentrality, 1 / (share1**2 / (n1 - 1) + (1 - share1) ** 2 / (n2 - 1)))

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        n1, n2 = sizes
        sds = (self.sd1, self.sd2)
        return studies.two_means(rng, count, (n1, n2), float(self.effect), sds, self.variance, self.level)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        return {"difference": self.effect, "d": self.effect / math.sqrt((self.sd1**2 + self.sd2**2) / 2)}

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return statistic_details(self, groups)

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        if self.variance != "unequal":
            return []
        few = min(groups[:, 0]) < 6
        return [
            "Welch's t test: the degrees of freedom are approximate (Satterthwaite)"
            + (", and with fewer than 6 in a group the power may be off by several points." if few else ".")
        ]


@register
class TwoMeans(TwoGroups):
    """Two independent groups compared on a mean."""

    id = "two-means"
    title = "Two independent means"
    summary = "Is the mean of a measured outcome different between two separate groups of people?"
    evidence = evidence.TWO_GROUPS
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": ("two",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "student's t test",
        "independent samples t test",
        "unpaired t test",
        "two sample t test",
        "welch",
        "satterthwaite",
        "z test",
        "parallel groups",
        "between subjects",
    )
    buys = "Nobody is measured twice, so nothing carries over from one condition to the other."
    assumptions = (
        DIFFERENCE,
        _MEAN1,
        _MEAN2,
        SD,
        _SD1,
        _SD2,
        DIRECTION,
        ALPHA,
        SIDES,
        _VARIANCE,
        POWER,
        TOTAL,
        *group_sizes(_SMALLEST),
        RATIO,
        BALANCE,
        DROPOUT,
    )
    ways = (
        (Way("one difference", ("difference",)), Way("two means", ("mean1", "mean2"))),
        (Way("one SD", ("sd",)), Way("an SD for each group", ("sd1", "sd2"))),
    )
    starting = {"difference": 5.0, "sd": 10.0}
    derived = (Derived("Effect", "d", "d"), Derived("Sample", "df", "degrees of freedom"))
    data_assumptions = (
        "Participants are independent of each other, and each is in one group only.",
        "The outcome is roughly normal within each group, or the groups are large enough for their means to be.",
    )
    references = _REFERENCES
    approximation = (
        "Exact for equal variances and for known SDs. Welch's degrees of freedom are an approximation, good "
        "from about 6 per group (simulated with 2 and 2: 0.469 where the formula says 0.502)."
    )

    def borrowed(self, values: Values) -> dict[str, Any]:
        """See `Design.borrowed`: the difference of two means from a mean and its reference."""
        if "mean" in values and "mean1" not in values and "difference" not in values:
            return {"mean1": values.get("null_mean", 0.0), "mean2": values["mean"]}
        return {}

    def plan(self, values: Values, find: str) -> TwoMeansPlan:
        """See `Design.plan`."""
        sd1, sd2 = _spreads(values)
        return TwoMeansPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides=values["sides"],
            effect=0.0 if find == "effect" else _difference(values),
            counting=self.counting(values),
            sd1=sd1,
            sd2=sd2,
            variance=self.variance(values),
        )

    def default_choice(self, name: str, values: Values) -> Any:
        """See `Design.default_choice`: without a word on variances, two SDs mean Welch."""
        if name == "variance":
            return "unequal" if "sd1" in values and "sd" not in values else "equal"
        return super().default_choice(name, values)

    def variance(self, values: Values) -> str:
        """The test used: as given, or by whether one SD or two are stated. Raises `RequestError`."""
        separate = "sd1" in values and "sd" not in values
        variance = str(values.get("variance", self.default_choice("variance", values)))
        if variance == "equal" and separate and not _agree(values["sd1"], values["sd2"]):
            raise RequestError(
                "variance",
                "The t test for equal variances needs equal SDs, but sd1 and sd2 differ: "
                "use unequal (Welch), or give one SD.",
            )
        return variance

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`."""
        known = dict(values)
        if "mean1" in known and "mean2" in known:
            known.setdefault("difference", known["mean2"] - known["mean1"])
        elif "difference" in known:
            known["mean1"] = known.get("mean1", 0.0)
            known["mean2"] = known["mean1"] + known["difference"]
        if "sd1" in known and "sd2" in known:
            known.setdefault("sd", math.sqrt((known["sd1"] ** 2 + known["sd2"] ** 2) / 2))
        elif "sd" in known:
            known["sd1"] = known["sd2"] = known["sd"]
        return {name: known[name] for name in way.names if name in known}

    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        """See `Design.effect_as`: on top of the first mean, which is what is known."""
        return self.restate({"mean1": values.get("mean1", 0.0), "difference": effect}, way)

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        effect = difference_of_means(values, find)
        if "mean1" in values and "difference" not in values and find != "effect":
            effect = "a mean of {mean1} with {groups.1} against {mean2} with {groups.2}"
        spread = "SDs {sd1} and {sd2}, d {d}" if "sd1" in values and "sd" not in values else "SD {sd}, d {d}"
        looking = looking_for(values, *OF_VALUES)
        return Saying(self.size_words(values, find), f"{effect} ({spread})", "a {sides} {variance}", looking)

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        tests = {
            "equal": "the pooled two-sample t test: under the planned difference its statistic follows a noncentral "
            "t distribution with n1 + n2 − 2 degrees of freedom",
            "unequal": "Welch's two-sample t test: under the planned difference its statistic is taken to follow a "
            "noncentral t distribution with Satterthwaite's degrees of freedom at the assumed SDs, which is an "
            "approximation",
            "known": "the two-sample z test with known standard deviations: under the planned difference its "
            "statistic is normal",
        }
        return (
            f"Power was computed for {tests[self.variance(values)]}. "
            "The noncentrality is δ = difference / √(SD1²/n1 + SD2²/n2). "
            + (
                "Both rejection tails are counted."
                if values["sides"] == "two"
                else "Only the tail named by the one-sided test is counted."
            )
        )


def _difference(values: Values) -> float:
    if "mean1" not in values:
        return float(values["difference"])
    worked_out = values["mean2"] - values["mean1"]
    if "difference" in values and not _agree(values["difference"], worked_out):
        raise RequestError(
            "difference",
            f"The difference is given as {number_text(values['difference'])}, but mean2 − mean1 is "
            f"{number_text(worked_out)}: give one of them, or make them agree.",
        )
    return float(values.get("difference", worked_out))


def _spreads(values: Values) -> tuple[float, float]:
    if "sd" not in values:
        return values["sd1"], values["sd2"]
    for name in ("sd1", "sd2"):
        if name in values and not _agree(values[name], values["sd"]):
            raise RequestError(
                name,
                f"{name} is {number_text(values[name])}, but sd is {number_text(values['sd'])}: "
                "give one SD, or one for each group.",
            )
    return values["sd"], values["sd"]


def _agree(one: float, other: float) -> bool:
    return abs(one - other) <= _SAME * max(abs(one), abs(other), 1e-300)


# --- one group, and pairs ---

_NULL_MEAN = Assumption(
    "null_mean",
    "Reference mean",
    "measured",
    "Effect",
    "The mean to compare with: a norm, a limit, an agreed standard. It must be known, not estimated: a mean that was "
    "itself measured in a sample belongs to a second group.",
    symbol="μ₀",
    default=0.0,
)
_KNOWN = Assumption(
    "sd_known",
    "Standard deviation is",
    "switch",
    "Error rates",
    "Estimated: the t test, the usual case. Known: the z test, only where the scatter is truly known beforehand.",
    default=False,
    choices=(Choice("no", "estimated", "t test"), Choice("yes", "known", "z test")),
)


def _single_difference(values: Values) -> float:
    if "mean" not in values:
        return float(values["difference"])
    worked_out = values["mean"] - values["null_mean"]
    if "difference" in values and not _agree(values["difference"], worked_out):
        raise RequestError(
            "difference",
            f"The difference is given as {number_text(values['difference'])}, but mean − null_mean is "
            f"{number_text(worked_out)}: give one of them, or make them agree.",
        )
    return float(values.get("difference", worked_out))


@dataclass(frozen=True)
class SingleMeanPlan(Plan):
    """One sample of values, or of differences within pairs, whose mean is compared with a known one."""

    sd: float
    known: bool

    @property
    def effect_scale(self) -> float:
        """See `Plan.effect_scale`."""
        return self.sd

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; Cohen (1988), section 2.2.3, with the noncentral t."""
        n = groups[0]
        noncentrality = np.sqrt(n) * self.effect / self.sd
        return NormalTest(noncentrality) if self.known else TTest(noncentrality, n - 1)

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        return studies.one_mean(rng, count, sizes[0], float(self.effect), self.sd, self.known, self.level)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        return {"difference": self.effect, "d": self.effect / self.sd}

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return statistic_details(self, groups)


class _SingleMean(OneSample):
    """What the comparison of one mean and that of pairs share."""

    derived = (Derived("Effect", "d", "d"), Derived("Sample", "df", "degrees of freedom"))
    smallest = _SMALLEST

    def spread(self, values: Values) -> float:
        """The SD of what is averaged. Raises `RequestError`."""
        raise NotImplementedError

    def plan(self, values: Values, find: str) -> SingleMeanPlan:
        """See `Design.plan`."""
        return SingleMeanPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides=values["sides"],
            effect=0.0 if find == "effect" else _single_difference(values),
            counting=OneGroup(self.smallest),
            sd=self.spread(values),
            known=bool(values["sd_known"]),
        )

    def smallest_n(self, values: Values) -> int:
        """See `OneSample.smallest_n`."""
        return self.smallest

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`."""
        known = dict(values)
        null_mean = known.setdefault("null_mean", 0.0)
        if "mean" in known:
            known.setdefault("difference", known["mean"] - null_mean)
        elif "difference" in known:
            known["mean"] = null_mean + known["difference"]
        if {"sd1", "sd2", "correlation"} <= set(known):
            known.setdefault("sd_difference", _paired_sd(known))
        elif "sd_difference" in known:
            # Half of the variance of a difference of equally spread, uncorrelated values.
            known |= {"sd1": known["sd_difference"], "sd2": known["sd_difference"], "correlation": 0.5}
        return {name: known[name] for name in way.names if name in known}

    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        """See `Design.effect_as`: on top of the reference, which is what is known."""
        return self.restate({"null_mean": values.get("null_mean", 0.0), "difference": effect}, way)

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        test = (
            "z test with a known standard deviation: under the planned difference its statistic is normal"
            if values.get("sd_known")
            else "one-sample t test: under the planned difference its statistic follows a noncentral t distribution "
            "with n − 1 degrees of freedom"
        )
        tails = "Both rejection tails are counted." if values["sides"] == "two" else "One tail is counted."
        return f"Power was computed for the {test}. The noncentrality is δ = √n · difference / SD. {tails}"


@register
class OneMean(_SingleMean):
    """One group's mean against a known value."""

    id = "one-mean"
    title = "One mean against a known value"
    summary = "Does the mean of a measured outcome differ from a value that is known beforehand?"
    evidence = evidence.ONE_GROUP
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": ("known",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "one sample t test",
        "single mean",
        "against a norm",
        "z test",
    )
    buys = "One group is enough, because the value to compare with is known without error."
    assumptions = (
        replace(
            DIFFERENCE,
            help="Mean minus reference mean, in the outcome's own unit: the smallest difference worth "
            "detecting. If the true difference is smaller, the study will probably miss it.",
        ),
        Assumption("mean", "Mean", "measured", "Effect", "The mean expected in the group studied.", symbol="μ"),
        _NULL_MEAN,
        SD,
        DIRECTION,
        ALPHA,
        SIDES,
        _KNOWN,
        POWER,
        TOTAL,
        DROPOUT,
    )
    ways = (
        (Way("one difference", ("difference",)), Way("mean and reference", ("mean", "null_mean"))),
        (Way("one SD", ("sd",)),),
    )
    starting = {"difference": 5.0, "sd": 10.0}
    data_assumptions = (
        "Participants are independent of each other.",
        "The outcome is roughly normal, or the group is large enough for its mean to be.",
        "The value compared with is known, not estimated from another sample.",
    )
    references = _REFERENCES[:2]
    approximation = "Exact where the outcome is normal."

    def spread(self, values: Values) -> float:
        """See `_SingleMean.spread`."""
        return float(values["sd"])

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        return (Naming("reference", "Reference", ("the reference",)),)

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        down = is_down(values, find, "difference")
        effect = f"a difference of {{difference}}{or_more(find)} from {{reference.1}}"
        if "mean" in values and "difference" not in values and find != "effect":
            effect = "a mean of {mean} against {reference.1} of {null_mean}"
        elif in_words(values, find, "difference"):
            effect = f"a mean {at_least(find)}{{difference.size}} {'below' if down else 'above'} {{reference.1}}"
        looking = looking_for(values, "higher values", "lower values")
        return Saying("{n}", f"{effect} (SD {{sd}}, d {{d}})", "a {sides} one-sample {sd_known}", looking)


@register
class PairedMeans(_SingleMean):
    """The mean of differences within pairs: before and after, left and right, matched people."""

    id = "paired-means"
    title = "Paired means"
    summary = "Does a measured outcome differ within pairs, such as the same people before and after?"
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
    buys = "Each person is their own comparison, so the scatter between people drops out."
    people = ("pair", "pairs")
    assumptions = (
        replace(
            DIFFERENCE,
            help="The mean difference within pairs (second minus first), in the outcome's own unit: the "
            "smallest one worth detecting.",
        ),
        Assumption("mean", "Mean difference", "measured", "Effect", "The mean difference expected.", symbol="μ"),
        replace(
            _NULL_MEAN, label="Reference difference", help="The mean difference if nothing happens; nearly always 0."
        ),
        Assumption(
            "sd_difference",
            "SD of differences",
            "measured",
            "Effect",
            "How far the differences within single pairs scatter, not the values themselves. Where pairs resemble each "
            "other it is smaller than the SD of the values, and the study needs fewer pairs.",
            symbol="σ_d",
            low=0,
            open_low=True,
        ),
        replace(_SD1, label="SD of the first", words="", help="Scatter of the first value of each pair."),
        replace(_SD2, label="SD of the second", words="", help="Scatter of the second value of each pair."),
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
        DIRECTION,
        ALPHA,
        SIDES,
        _KNOWN,
        POWER,
        replace(TOTAL, label="Pairs", words="{many}", help="The number of pairs analysed. Dropout is added on top."),
        DROPOUT,
    )
    ways = (
        (Way("one difference", ("difference",)), Way("mean and reference", ("mean", "null_mean"))),
        (Way("SD of the differences", ("sd_difference",)), Way("SDs and correlation", ("sd1", "sd2", "correlation"))),
    )
    starting = {"difference": 5.0, "sd_difference": 10.0}
    data_assumptions = (
        "Pairs are independent of each other.",
        "The differences within pairs are roughly normal, or the pairs are many enough for their mean to be.",
    )
    references = _REFERENCES[:2]
    approximation = "Exact where the differences within pairs are normal."

    def borrowed(self, values: Values) -> dict[str, Any]:
        """See `Design.borrowed`: the scatter of two groups; half of it shared within pairs until better is known."""
        if "sd_difference" in values or not ("sd" in values or {"sd1", "sd2"} <= set(values)):
            return {}
        sds = {"sd1": values.get("sd1", values.get("sd")), "sd2": values.get("sd2", values.get("sd"))}
        return {**sds, "correlation": values.get("correlation", 0.5)}

    def spread(self, values: Values) -> float:
        """See `_SingleMean.spread`."""
        if not {"sd1", "sd2", "correlation"} <= set(values):
            return float(values["sd_difference"])
        worked_out = _paired_sd(values)
        if worked_out <= 0:
            raise RequestError("correlation", "These SDs and this correlation leave no scatter in the differences.")
        if "sd_difference" in values and not _agree(values["sd_difference"], worked_out):
            raise RequestError(
                "sd_difference",
                f"The SD of the differences is given as {number_text(values['sd_difference'])}, but sd1, sd2 and "
                f"correlation make it {number_text(worked_out)}: give one, or make them agree.",
            )
        return worked_out

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        return (Naming("conditions", "Conditions", ("the first", "the second condition")),)

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        down = is_down(values, find, "difference")
        effect = f"a mean difference of {{difference}}{or_more(find)} between {{conditions.1}} and {{conditions.2}}"
        if "mean" in values and "difference" not in values and find != "effect":
            effect = "a mean difference of {mean} instead of {null_mean} between {conditions.1} and {conditions.2}"
        elif in_words(values, find, "difference"):
            effect = (
                f"a mean {at_least(find)}{{difference.size}} {'lower' if down else 'higher'} with {{conditions.2}} "
                "than with {conditions.1}"
            )
        spread = "SD of the differences {sd_difference}"
        if "sd1" in values and "sd_difference" not in values:
            spread = "SDs {sd1} and {sd2}, correlation {correlation}"
        looking = looking_for(values, "higher values with {conditions.2}", "lower values with {conditions.2}")
        return Saying("{n}", f"{effect} within pairs ({spread}, d {{d}})", "a {sides} paired {sd_known}", looking)


def _paired_sd(values: Values) -> float:
    """The SD of a difference: Cohen (1988), equation 2.3.9 generalised to unequal SDs."""
    sd1, sd2 = values["sd1"], values["sd2"]
    return math.sqrt(max(sd1**2 + sd2**2 - 2 * values["correlation"] * sd1 * sd2, 0.0))
