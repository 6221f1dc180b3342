"""One sample of values, whose mean is compared with a known one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice
from ragwort.designs.catalogue.means.assumptions import DIFFERENCE, SD
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import (
    Claim,
    Expression,
    Frac,
    Root,
    claim,
    power_of_t,
    power_of_z,
    powers_of_equivalence,
    row,
)
from ragwort.designs.kinds import EdgedPlan
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.margins import MARGIN_WAYS, MARGINS, WithMargins
from ragwort.designs.phrases import (
    IN_SDS,
    SPREAD,
    Naming,
    Saying,
    at_least,
    in_words,
    is_down,
    looking_for,
    or_more,
)
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_T, WITH_REFERENCE, InProtocol
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes
from ragwort.designs.stated import in_sds
from ragwort.designs.works import ARMITAGE_BERRY, EQUIVALENCE, NONCENTRAL_T
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import means
from ragwort.stats.statistic import NormalTest, Test, TTest

NULL_MEAN = Assumption(
    "null_mean",
    "Reference mean",
    "measured",
    "Effect",
    "The mean to compare with: a norm, a limit, an agreed standard. It must be known, not estimated: a mean that was "
    "itself measured in a sample belongs to a second group.",
    symbol="μ₀",
    default=0.0,
)
KNOWN = Assumption(
    "sd_known",
    "Standard deviation is",
    "switch",
    "Error rates",
    "Estimated: the t test, the usual case. Known: the z test, only where the SD is truly known beforehand.",
    default=False,
    choices=(Choice("no", "estimated", "t test"), Choice("yes", "known", "z test")),
)


@dataclass(frozen=True)
class SingleMeanPlan(EdgedPlan):
    """One sample of values, or of differences within pairs, whose mean is compared with a known one."""

    sd: float
    known: bool
    reference: Number = 0.0  # the mean without an effect

    traits = frozenset({"measured", "bounds"})
    reported = simulated.MOMENTS

    @property
    @override
    def outcome_sd(self) -> float:
        return float(self.sd)

    @property
    @override
    def effect_scale(self) -> float:
        return self.sd

    @override
    def test(self, groups: Sizes) -> Test:
        """Cohen (1988), section 2.2.3, with the noncentral t."""
        n = groups[0]
        noncentrality = np.sqrt(n) * self.effect / self.sd
        return NormalTest(noncentrality) if self.known else TTest(noncentrality, n - 1)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.OneSample:
        centre = population.taken(float(self.difference) / self.sd, (count, sizes[0]))
        drawn = population.outcomes(centre, 1.0, (count, sizes[0]))
        return means.OneSample(self.sd * drawn, population.kept(drawn), float(self.reference))

    @override
    def seen(self, groups: Sequence[Array]) -> Any:
        return means.OneSample(groups[0][None, :] - float(self.reference), None, float(self.reference))

    @override
    def analyse(self, data: means.OneSample, way: str = "") -> simulated.Found:
        found = means.analyse_one_mean(data.values - self.edge, data.kept, self.sd if self.known else None, self.level)
        return self.from_nothing(found)

    @override
    def interval(self, groups: Sizes) -> Interval:
        return self.confidence.tested(
            "mean difference", "measured", self.difference, self.replace(effect=1.0).test(groups)
        )

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"difference": self.difference, "d": self.difference / self.sd, **self.margin_report()}


class SingleMean(WithLooks, WithMargins, OneSample):
    """What the comparison of one mean and that of pairs share."""

    derived = (Derived("Effect", "d", "d"), Derived("Sample", "df", "degrees of freedom"))
    smallest = 2  # with one there is no variance
    test_name = "one-sample t test"

    def spread(self, values: Values) -> Number:
        """The SD of what is averaged. Raises `RequestError`."""
        raise NotImplementedError

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        known, reference = bool(values["sd_known"]), values.get("null_mean", 0.0)
        plan = SingleMeanPlan(**self.basis(values, find), sd=self.spread(values), known=known, reference=reference)
        return self.with_margin(plan, values, find)

    @override
    def stated_effect(self, values: Values) -> Number:
        apart = values["mean"] - values["null_mean"] if "mean" in values else None
        return stated(values, "difference", apart, "mean − null_mean is")

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = super().in_other_words(values)
        null_mean = known.setdefault("null_mean", 0.0)
        if "mean" in known:
            known.setdefault("difference", known["mean"] - null_mean)
        elif "difference" in known:
            known["mean"] = null_mean + known["difference"]
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        """On top of the reference, which is what is known."""
        return self.restate({"null_mean": values.get("null_mean", 0.0), "difference": effect}, way)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        known, df = self.scatter_is_known(values), () if self.scatter_is_known(values) else ("ν = n − 1",)
        if self.hypothesis(values) == "equivalence":
            return *df, *powers_of_equivalence(Frac("σ", Root("n")), known)
        noncentrality = row("δ = ", Root("n"), " ", Frac(self.apart(values, "Δ"), "σ"))
        power = power_of_z(values["sides"]) if known else power_of_t(values["sides"])
        return noncentrality, *self.edge_named(values), *df, power

    @override
    def scatter_is_known(self, values: Values) -> bool:
        return bool(values.get("sd_known"))

    @override
    def method_text(self, values: Values) -> str:
        test = (
            "z test with a known standard deviation: under the planned difference its statistic is normal"
            if self.scatter_is_known(values)
            else f"{self.test_name}: under the planned difference its statistic follows a noncentral t distribution "
            "with n − 1 degrees of freedom"
        )
        return f"for the {test}. {self.tested_words(values, '(SD / √n)')}"


@register
class OneMean(SingleMean):
    """One group's mean against a known value."""

    id = "one-mean"
    title = "One mean: one-sample t test"
    summary = "Does the mean of a measured outcome differ from a value that is known beforehand?"
    in_protocol = InProtocol(
        WITH_REFERENCE,
        {False: "one-sample t test", True: "one-sample z test"},
        {False: FROM_T, True: "the normal distribution"},
        by="sd_known",
        cites={False: NONCENTRAL_T, True: (ARMITAGE_BERRY,)},
        equivalence=EQUIVALENCE,
    )
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
        "one mean against a known value",
    )
    buys = "One group is enough, because the value to compare with is known without error."
    assumptions = (
        replace(
            DIFFERENCE,
            help="Mean minus reference mean, in the outcome's own unit: the smallest difference worth "
            "detecting. If the true difference is smaller, the study will probably miss it.",
        ),
        Assumption("mean", "Mean", "measured", "Effect", "The mean expected in the group studied.", symbol="μ"),
        NULL_MEAN,
        SD,
        *MARGINS,
        DIRECTION,
        ALPHA,
        SIDES,
        KNOWN,
        POWER,
        TOTAL,
        DROPOUT,
        *LOOKS,
    )
    ways = (
        (Way("one difference", ("difference",)), Way("mean and reference", ("mean", "null_mean"))),
        (Way("one SD", ("sd",)),),
        MARGIN_WAYS,
    )
    statements = (in_sds("sd", lambda known: known.get("sd")),)
    elementwise = elementwise("difference", "mean", "null_mean", "sd")
    starting = {"difference": 5.0, "sd": 10.0}
    data_assumptions = (
        "Observations of different participants are independent.",
        "The outcome is approximately normal, or the sample is large enough for the mean to be.",
        "The value compared with is known, not estimated from another sample.",
    )
    approximation = "The calculation is exact where the outcome is normal."

    @override
    def spread(self, values: Values) -> Number:
        return values["sd"]

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return (Naming("reference", "Reference", ("the reference",)),)

    @override
    def claim(self, values: Values) -> Claim:
        reference, where = f"{values.get('null_mean', 0.0):g}", "μ is the mean in the population."
        if self.hypothesis(values) != "difference":
            return self.margin_claim(values, "μ" if reference == "0" else f"μ − {reference}", where)
        return claim("μ", reference, values["sides"], where)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        down = is_down(values, find, "difference")
        effect = f"a difference of {{difference}}{or_more(find)} from {{reference.1}}"
        if "mean" in values and "difference" not in values and find != "effect":
            effect = "a mean of {mean} against {reference.1} of {null_mean}"
        elif in_words(values, find, "difference"):
            effect = f"a mean {at_least(find)}{{difference.size}} {'below' if down else 'above'} {{reference.1}}"
        if self.hypothesis(values) != "difference":
            said = self.margin_saying(values, find, "{n}", "the mean", "{reference.1}", (SPREAD,))
            return replace(said, test=said.test.format(test="one-sample {sd_known}"))
        looking = looking_for(values, "higher values", "lower values")
        return Saying("{n}", effect, "a {sides} one-sample {sd_known}", looking, aside=(SPREAD, IN_SDS))
