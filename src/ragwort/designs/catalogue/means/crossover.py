"""Two treatments in two periods, each participant having both, in one of two sequences."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, rounded
from ragwort.designs.catalogue.means.assumptions import DIFFERENCE, SD
from ragwort.designs.catalogue.means.crossover_plan import CrossoverEquivalence, CrossoverPlan
from ragwort.designs.design import Derived, Further, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, claim, power_of_t, powers_of_equivalence, row
from ragwort.designs.margins import MARGIN_WAYS, MARGINS, WithMargins, margin_of
from ragwort.designs.phrases import Naming, Saying, in_words, is_down, looking_for, or_more
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import FROM_T, InProtocol
from ragwort.designs.ratio_margins import OF_RATIOS, on_logs
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sizes import AnyTotal, ByRatio, Sizes
from ragwort.designs.works import EQUIVALENCE, JONES
from ragwort.stats.noncentral import Number

_USUAL = (0.8, 1.25)  # margins of a ratio of means where nothing else is said

_RATIO = Assumption(
    "mean_ratio",
    "Ratio of means",
    "number",
    "Effect",
    "The true ratio of the geometric means, second treatment over first; 1 is no difference, 0.95 is 5% less.",
    symbol="θ",
    low=0,
    open_low=True,
)
_SD_WITHIN = replace(
    SD,
    name="sd_within",
    label="SD within participants",
    words="SD within {many}",
    help="How far one measurement of a participant varies around that participant's own mean under a treatment.",
    symbol="σ",
)
_CV = Assumption(
    "cv",
    "CV within participants",
    "share",
    "Effect",
    "How far one measurement of a participant varies around that participant's own mean, in per cent of it.",
    symbol="CV",
    low=0,
    open_low=True,
    words="CV within {many}",
)
_SCALE = Assumption(
    "scale",
    "Scale",
    "choice",
    "Structure",
    "As it is: differences of means. Logarithms: ratios of geometric means, as for concentrations and times that "
    "vary in proportion to their size.",
    default="raw",
    choices=(Choice("raw", "as it is"), Choice("log", "logarithms")),
)
_BALANCE = Assumption(
    "balance",
    "Group sizes",
    "choice",
    "Sample",
    "By sequences: both sequences are of one size. Any total: also odd ones, the second sequence then has one more.",
    default="sequences",
    choices=(Choice("sequences", "by sequences"), Choice("any", "to any total")),
)


@register
class CrossoverMeans(WithMargins):
    """Two treatments compared within participants, in two periods."""

    id = "crossover-means"
    title = "Two-period crossover: t test"
    summary = "Does a measured outcome differ between two treatments that each participant has one after the other?"
    in_protocol = InProtocol(
        "{subject} will be compared within {many} between {conditions.1} and {conditions.2}",
        "t test of a two-period crossover",
        FROM_T,
        cites=(JONES.at("section 2.4"),),
        equivalence=EQUIVALENCE,
    )
    evidence = evidence.CROSSOVER
    takes = {"measured": ("number", "count"), "compared": ("two",), "same": ("twice",), "whole": ("no",)}
    known_as = (
        "bioequivalence",
        "two period crossover",
        "average bioequivalence",
        "geometric mean ratio",
        "AB BA",
        "tost",
        "two one sided tests",
        "crossover of two treatments",
    )
    buys = "Each participant is compared with himself or herself, and a difference between the periods does no harm."
    further = {"margin": Further(margin_of, lambda plan: float(plan.effect_report()["margin"]))}
    equivalence = CrossoverEquivalence
    group_word = "sequence"
    sizes = (Way("one number", ("n",)),)
    assumptions = (
        replace(DIFFERENCE, help="Mean under the second treatment minus mean under the first, in the outcome's unit."),
        _RATIO,
        _SD_WITHIN,
        replace(
            SD,
            name="sd_difference",
            label="SD of differences",
            help="How far the differences within participants vary: √2 times the SD within participants.",
            symbol="σΔ",
        ),
        _CV,
        *MARGINS,
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        replace(TOTAL, low=4),
        _BALANCE,
        DROPOUT,
        _SCALE,
    )
    ways = (
        (Way("a difference", ("difference",)), Way("a ratio of means", ("mean_ratio",))),
        (
            Way("an SD within participants", ("sd_within",)),
            Way("an SD of differences", ("sd_difference",)),
            Way("a CV", ("cv",)),
        ),
        MARGIN_WAYS,
    )
    elementwise = elementwise("difference", "mean_ratio", "sd_within", "sd_difference", "cv")
    starting = {"difference": 5.0, "sd_within": 8.0}
    derived = (Derived("Sample", "df", "degrees of freedom"),)
    data_assumptions = (
        "Participants are independent, and each receives both treatments.",
        "There is no carry-over effect.",
        "The differences within participants (of logarithms, where that is the scale) are approximately normal.",
    )
    approximation = (
        "The calculation is exact where the outcome, or its logarithm, is normal with equal variances under both "
        "treatments."
    )

    @override
    def idle_names(self, values: Values) -> frozenset[str]:
        other = {"difference", "sd_within", "sd_difference"} if _is_log(values) else {"mean_ratio", "cv"}
        return super().idle_names(values) | other

    @override
    def refuse_idle(self, given: Values, find: str) -> None:
        """Ratios have margins of their own where none are given."""
        usual = _is_log(given) and self.hypothesis(given) == "equivalence" and find != "margin"
        margins = {} if not usual or any(name in given for name in OF_RATIOS) else _usual()
        other = {"difference", "sd_within", "sd_difference", "mean_ratio", "cv"} & self.idle_names(given)
        super().refuse_idle({n: v for n, v in {**given, **margins}.items() if n not in other}, find)

    @override
    def implied(self, values: Values) -> dict[str, Any]:
        found = super().implied(values)
        usual = _is_log(values) and self.hypothesis(values) == "equivalence"
        given = any(name in values for name in OF_RATIOS)
        return {**_usual(), **found} if usual and not given else found

    @override
    def zero_effect(self, values: Values) -> dict[str, Any]:
        return {"mean_ratio": 1.0} if _is_log(values) else {"difference": 0.0}

    @override
    def slightly_worse(self, values: Values) -> dict[str, Any]:
        """Of a margin that is a ratio, its cube root."""
        if not _is_log(values):
            return super().slightly_worse(values)
        return {"mean_ratio": values["margin"] ** (1 / 3 if values.get("better") == "lower" else -1 / 3)}

    @override
    def effect_names(self) -> frozenset[str]:
        return frozenset({"difference", "mean_ratio"})

    def comparison(self, values: Values, find: str) -> Plan:
        """See `Design.comparison`. Raises `RequestError`."""
        logs = _is_log(values)
        plan = CrossoverPlan(**self.basis(values, find), sd=_spread(values), logs=logs)
        return self.with_margin(plan, on_logs(values, find) if logs else values, find)

    @override
    def stated_effect(self, values: Values) -> Number:
        name = "mean_ratio" if _is_log(values) else "difference"
        if name not in values:
            raise RequestError(name, f"On this scale the effect is {name}, which is missing.")
        return np.log(values[name]) if _is_log(values) else values[name]

    @override
    def counting(self, values: Values) -> ByRatio | AnyTotal:
        return AnyTotal(1.0, 2) if values["balance"] == "any" else ByRatio(1.0, 2)

    @override
    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        return {"n": sum(groups)}

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        if values["n"] < 4:
            raise RequestError("n", f"n must be 4 or more, 2 in each sequence, not {values['n']}.")
        return plan.counting.splits(values["n"])

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """What scatters within participants, in each way of its scale."""
        known = super().in_other_words(values)
        if "sd_within" in known:
            known.setdefault("sd_difference", rounded(known["sd_within"] * 2**0.5))
        elif "sd_difference" in known:
            known["sd_within"] = rounded(known["sd_difference"] / 2**0.5)
        if _is_log(values) and "margin" in values and "margin_low" not in values:
            known |= {"margin_low": rounded(1 / values["margin"]), "margin_high": values["margin"]}
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        return {"mean_ratio": effect} if _is_log(values) else self.restate({"difference": effect}, way)

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return (
            Naming("groups", "Sequences", ("sequence AB", "sequence BA")),
            Naming("conditions", "Treatments", ("the first treatment", "the second treatment")),
        )

    @override
    def saying(self, values: Values, find: str) -> Saying:
        logs = _is_log(values)
        spread = (("cv",), "CV within {many} {cv}") if logs else (("sd_within",), "SD within {many} {sd_within}")
        if not logs and "sd_within" not in values:
            spread = (("sd_difference",), "SD of differences {sd_difference}")
        sizes = "{n} ({group_sizes})"
        if self.hypothesis(values) != "difference":
            compared = "the mean with {conditions.2}", "with {conditions.1}"
            said = self.margin_saying(values, find, sizes, *compared, (spread,))
            said = replace(said, test=said.test.format(test="t test of the crossover"))
            return _of_ratios(said, values) if logs else said
        down = is_down(values, find, "difference")
        between = "between {conditions.1} and {conditions.2}"
        if logs:
            more = or_more(find, down)
            effect = f"a ratio of geometric means of {{mean_ratio}}{more}, {{conditions.2}} to {{conditions.1}}"
        elif in_words(values, find, "difference"):
            side = "lower" if down else "higher"
            effect = (
                f"a mean {{difference.size}}{or_more(find)} {side} with {{conditions.2}} than with {{conditions.1}}"
            )
        else:
            effect = f"a difference of {{difference}}{or_more(find)} {between}"
        looking = looking_for(values, "higher values with {conditions.2}", "lower values with {conditions.2}")
        return Saying(sizes, effect, "a {sides} crossover t test", looking, aside=(spread,))

    @override
    def true_effect(self, values: Values, find: str) -> str:
        return "the true ratio is {mean_ratio}" if _is_log(values) else super().true_effect(values, find)

    @override
    def claim(self, values: Values) -> Claim:
        """On logarithms, of the ratio of geometric means."""
        if _is_log(values):
            return _claim_of_ratio(values)
        where = "μ₁ is the mean with {conditions.1}, μ₂ the mean with {conditions.2}."
        if self.hypothesis(values) == "difference":
            return claim("μ₂ − μ₁", "0", values["sides"], where)
        return self.margin_claim(values, "μ₂ − μ₁", where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        within = row("σ ", Root(row(Frac("1", "2"), "(", Frac("1", "n₁"), " + ", Frac("1", "n₂"), ")")))
        logs = ("σ² = ln(1 + CV²)",) if _is_log(values) else ()
        df = "ν = n₁ + n₂ − 2"
        if self.hypothesis(values) == "equivalence":
            shown = "Δ = ln θ,   M₁ and M₂ the logarithms of the margins" if logs else "Δ = μ₂ − μ₁"
            return shown, *logs, df, *powers_of_equivalence(within, known=False)
        noncentrality = row("δ = ", Frac(self.apart(values, "ln θ" if _is_log(values) else "μ₂ − μ₁"), within))
        return noncentrality, *self.edge_named(values), *logs, df, power_of_t(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        on = ", on the logarithms," if _is_log(values) else ""
        test = (
            f"for the t test of a two-period crossover{on} which compares half the differences between the periods of "
            "the two sequences: under the planned effect its statistic follows a noncentral t distribution with "
            "n1 + n2 − 2 degrees of freedom"
        )
        return f"{test}. {self.tested_words(values, '(SD within · √((1/n1 + 1/n2)/2))')}"


def _is_log(values: Values) -> bool:
    return bool(values.get("scale") == "log")


_LEAST_CV = 1e-100
_SMALL_CV = 1e-8  # under which the SD of the logarithms is the CV to the last digit, and its square may vanish


def _usual() -> dict[str, float]:
    return {"margin_low": _USUAL[0], "margin_high": _USUAL[1]}


def _spread(values: Values) -> Number:
    """The SD within participants, of logarithms where that is the scale. Raises `RequestError`."""
    if _is_log(values) and "cv" not in values:
        raise RequestError("cv", "On logarithms the variability is a CV: cv is missing.")
    if _is_log(values):
        cv = np.asarray(values["cv"], dtype=float)
        if np.any(cv < _LEAST_CV):
            raise RequestError("cv", f"A CV under {_LEAST_CV:g} is too small to compute with.")
        return np.where(cv < _SMALL_CV, cv, np.sqrt(np.log1p(np.maximum(cv, _SMALL_CV) ** 2)))[()]
    apart = values["sd_difference"] / np.sqrt(2) if "sd_difference" in values else None
    return stated(values, "sd_within", apart, "the SD of differences makes it")


def _claim_of_ratio(values: Values) -> Claim:
    """What is tested of the ratio of geometric means."""
    kind, margin = values.get("hypothesis", "difference"), values.get("margin", 1.0)
    where = ("θ is the ratio of geometric means, {conditions.2} to {conditions.1}.",)
    if kind == "difference":
        return claim("θ", "1", values["sides"], *where)
    if kind == "equivalence":
        ends = values.get("margin_low", 1 / margin), values.get("margin_high", margin)
        low, high = (plain_number(rounded(each)) for each in ends)
        return Claim(f"θ ≤ {low} or θ ≥ {high}", f"{low} < θ < {high}", where)
    down = values.get("better") == "lower"
    edge = plain_number(rounded(1 / margin if (kind == "superiority") == down else margin))
    return Claim(f"θ {'≥' if down else '≤'} {edge}", f"θ {'<' if down else '>'} {edge}", where)


def _of_ratios(said: Saying, values: Values) -> Saying:
    """The sentence of a margin that is a ratio: means become geometric ones, equivalence that of a protocol."""
    if values.get("hypothesis") == "equivalence":
        ratio = "that the ratio of geometric means, {conditions.2} to {conditions.1},"
        return replace(said, effect=f"{ratio} lies {_within(values)}")
    effect = said.effect.replace("that the mean with", "that the geometric mean with")
    return replace(said, effect=effect.replace("by more than {margin}", "by more than a factor of {margin}"))


def _within(values: Values) -> str:
    """Between which ratios equivalence is to be shown, in words."""
    if "margin_low" in values:
        return "between {margin_low} and {margin_high}"
    if "margin" in values:
        return "within a factor of {margin}"
    low, high = (f"{100 * each:.2f}" for each in _USUAL)
    return f"between {low} and {high}%"
