"""How a rehearsed world may depart from the plan. Each departure is declared once: what it asks for, which designs
can take it, what it changes in the draws, in the true values or in the analysis, and how it is said.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ragwort.designs.assumption import Assumption, Choice, one_of
from ragwort.designs.kinds import has_margin
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError, number_text, percent_text, said
from ragwort.stats.studies import Shape
from ragwort.study.words.numbers import with_unit

NONE = "none"  # an effect that is not there
SHAPES = (
    Choice("normal", "normal", "normal"),
    Choice("lognormal", "skewed, lognormal", "skewed"),
    Choice("gamma", "skewed, gamma", "skewed"),
    Choice("t", "heavy-tailed", "heavy-tailed"),
    Choice("bounded", "on a bounded scale", "bounded"),
    Choice("floor", "with a floor", "floored"),
    Choice("ceiling", "with a ceiling", "capped"),
)
SIZES = {"lognormal": 2.0, "gamma": 2.0, "t": 3.0, "floor": 1.0, "ceiling": 1.0}  # where none is given


def _number(name: str, label: str, help: str, **bounds: Any) -> Assumption:
    return Assumption(name, label, "number", "Sample", help, **bounds)


SHAPE = Assumption("shape", "Outcomes", "choice", "Sample", "How outcomes vary.", default="normal", choices=SHAPES)
SIZE = {
    "lognormal": _number("size", "Skewness", "0 is symmetric; waiting times often have 2.", low=0.01, high=20),
    "gamma": _number("size", "Skewness", "0 is symmetric; waiting times often have 2.", low=0.01, high=20),
    "t": _number("size", "Degrees of freedom", "The fewer, the heavier the tails.", low=2, open_low=True, high=1000),
    "floor": _number("size", "Floor", "SDs below the mean of the first group.", low=0, high=10),
    "ceiling": _number("size", "Ceiling", "SDs above the mean of the first group.", low=0, high=10),
}
LOW = _number("low", "Lower bound", "SDs from the mean of the first group.", low=-1000, high=1000, default=-2.0)
HIGH = _number("high", "Upper bound", "SDs from the mean of the first group.", low=-1000, high=1000, default=2.0)
APART = _number("apart", "SDs apart", "SD of the last group over that of the first.", low=0.01, high=100)
LOST = Assumption(
    "lost",
    "Lost",
    "share",
    "Sample",
    "The share of those recruited whose outcome is missing in the end; the plan's own dropout is part of it.",
    low=0,
    high=1,
    open_high=True,
)
RELATED = Assumption(
    "related",
    "Who is lost",
    "choice",
    "Sample",
    "Whether loss goes with the outcome: with an outcome one SD higher, the odds of being lost are 2.7 times as large, "
    "or as small.",
    default="random",
    choices=(
        Choice("random", "at random", "at random"),
        Choice("high", "more of those with high outcomes", "mostly high"),
        Choice("low", "more of those with low outcomes", "mostly low"),
    ),
)
IDLE = Assumption(
    "idle",
    "Not taking part",
    "share",
    "Sample",
    "The share of every group but the first that gets nothing new, and is analysed all the same.",
    low=0,
    high=1,
)
ALIKE = _number(
    "alike", "Correlation off by", "The factor by which the correlation or ICC is really larger.", low=0, high=100
)
CV = _number("cv", "Variation of cluster sizes", "SD of the cluster sizes over their mean.", low=0, high=10)


@dataclass(frozen=True)
class Departing:
    """One world: what is asked of it. What is None or empty is as planned."""

    name: str = ""
    shape: str = "normal"
    size: float | None = None
    low: float = -2.0
    high: float = 2.0
    apart: float | None = None
    effect: float | str | None = None  # the primary effect that is really there; `none` for no effect
    alike: float | None = None
    cv: float | None = None
    lost: float | None = None
    related: str = "random"
    idle: float = 0.0
    analysis: str = ""

    def drawn_shape(self) -> Shape:
        """The shape of outcomes."""
        size = SIZES.get(self.shape, 0.0) if self.size is None else self.size
        return Shape(self.shape, size, self.low, self.high)  # type: ignore[arg-type]  # checked by `read`

    @property
    def as_planned(self) -> bool:
        """Whether nothing departs."""
        return Departing(name=self.name) == self


@dataclass(frozen=True)
class Rehearsed:
    """What a departure is asked about: the plan, what it is called, and the values it was made from."""

    plan: Plan
    values: Mapping[str, Any]
    primary: Assumption
    unit: str = ""

    @property
    def nothing_words(self) -> str:
        """The truth under which there is nothing to find."""
        return "truth on the margin" if has_margin(self.plan) else "no effect at all"


@dataclass(frozen=True)
class Departure:
    """One way to depart from the plan."""

    name: str
    fields: tuple[str, ...]  # of `Departing`
    label: str
    barred: Callable[[Rehearsed], str]  # why a design cannot take it; empty where it can
    says: Callable[[Departing, Rehearsed], str]  # what departs, in words; empty where nothing does
    declared: Mapping[str, Assumption] = field(default_factory=dict)


def _needs(trait: str, why: str) -> Callable[[Rehearsed], str]:
    return lambda of: "" if trait in of.plan.traits else why


def _never(of: Rehearsed) -> str:
    return ""


def _apart_barred(of: Rehearsed) -> str:
    return "" if {"measured", "arms"} <= of.plan.traits else "There are no groups with an SD each."


def _apart_says(asked: Departing, of: Rehearsed) -> str:
    return "" if asked.apart is None else f"SDs {number_text(asked.apart)} times apart"


def _idle_says(asked: Departing, of: Rehearsed) -> str:
    return f"{percent_text(asked.idle)} taking no part" if asked.idle else ""


def _cv_says(asked: Departing, of: Rehearsed) -> str:
    return "" if asked.cv is None else f"cluster sizes with a CV of {number_text(asked.cv)}"


def _analysis_says(asked: Departing, of: Rehearsed) -> str:
    return of.plan.wrong_ways.get(asked.analysis, "")


def _shape_says(asked: Departing, of: Rehearsed) -> str:
    shape = asked.drawn_shape()
    size = number_text(shape.size)
    return {
        "normal": "",
        "lognormal": f"skewed outcomes (lognormal, skewness {size})",
        "gamma": f"skewed outcomes (gamma, skewness {size})",
        "t": f"heavy-tailed outcomes (t, {size} degrees of freedom)",
        "bounded": f"a scale that ends {number_text(shape.low)} and {number_text(shape.high)} SDs from the mean",
        "floor": f"a floor {size} SDs below the mean",
        "ceiling": f"a ceiling {size} SDs above the mean",
    }[asked.shape]


def _lost_says(asked: Departing, of: Rehearsed) -> str:
    if asked.lost is None:
        return ""
    who = {"random": "", "high": ", mostly those with high outcomes", "low": ", mostly those with low outcomes"}
    return f"{percent_text(asked.lost)} lost{who[asked.related]}"


def _effect_says(asked: Departing, of: Rehearsed) -> str:
    if asked.effect is None:
        return ""
    if asked.effect == NONE:
        return of.nothing_words
    label = of.primary.label[:1].lower() + of.primary.label[1:]
    return f"a true {label} of {with_unit(of.primary, float(asked.effect), of.unit)}"


def correlated(values: Mapping[str, Any]) -> str:
    """The assumption that says how alike outcomes are; empty where there is none."""
    return next((name for name in ("icc", "correlation") if values.get(name) is not None), "")


def _alike_says(asked: Departing, of: Rehearsed) -> str:
    if asked.alike is None:
        return ""
    name = "ICC" if correlated(of.values) == "icc" else "correlation"
    return f"{number_text(asked.alike)} times the planned {name}"


def _alike_barred(of: Rehearsed) -> str:
    return "" if correlated(of.values) else "No correlation and no ICC was stated that could be off."


def _cv_barred(of: Rehearsed) -> str:
    if getattr(of.plan, "clustering", None) is None:
        return "Nobody comes in clusters."
    return "The strata say how cluster sizes vary." if of.values.get("strata") else ""


def _analysis_barred(of: Rehearsed) -> str:
    return "" if of.plan.wrong_ways else "There is no common mistake of analysis for this design here."


_UNMEASURED = "The outcome is binary, or a category: it has no shape and no SD of its own."
_NO_ARMS = "There is no group that gets something new."

DEPARTURES = (
    Departure(
        "shape",
        ("shape", "size", "low", "high"),
        "outcomes of another shape",
        _needs("measured", _UNMEASURED),
        _shape_says,
        {"shape": SHAPE, "low": LOW, "high": HIGH},
    ),
    Departure("apart", ("apart",), "SDs apart", _apart_barred, _apart_says, {"apart": APART}),
    Departure("lost", ("lost", "related"), "people lost", _never, _lost_says, {"lost": LOST, "related": RELATED}),
    Departure("idle", ("idle",), "people who take no part", _needs("arms", _NO_ARMS), _idle_says, {"idle": IDLE}),
    Departure("effect", ("effect",), "another true effect", _never, _effect_says),
    Departure("alike", ("alike",), "a correlation off by a factor", _alike_barred, _alike_says, {"alike": ALIKE}),
    Departure("cv", ("cv",), "cluster sizes that vary more", _cv_barred, _cv_says, {"cv": CV}),
    Departure("analysis", ("analysis",), "another analysis", _analysis_barred, _analysis_says),
)  # in the order in which a sentence says them


def read(asked: Mapping[str, Any], of: Rehearsed) -> Departing:
    """What is asked, as parsed from JSON, checked. Raises `RequestError` that names what is wrong."""
    if not isinstance(asked, Mapping):
        raise RequestError("departures", f"A departure is an object of names and values, not {said(asked)}.")
    known = [name for departure in DEPARTURES for name in departure.fields]
    for name in asked:
        if name not in known and name != "name":
            raise RequestError(str(name), f"There is no departure {said(name)}; there is {one_of(known)}.")
    checked = {name: _checked(name, value, asked, of) for name, value in asked.items()}
    found = Departing(**checked)
    refuse(found, of)
    return found


def _checked(name: str, value: Any, asked: Mapping[str, Any], of: Rehearsed) -> Any:
    if name == "name":
        return str(value)
    if name == "analysis":
        if not isinstance(value, str) or (value and value not in of.plan.wrong_ways):
            ways = one_of(list(of.plan.wrong_ways) or ["no other"])
            raise RequestError("analysis", f"The analysis can be {ways} here, not {said(value)}.")
        return value
    if name == "effect":
        return NONE if value == NONE else of.primary.check(value)
    if name == "size":
        declared = SIZE.get(str(asked.get("shape")))
        if declared is None:
            raise RequestError("size", f"Outcomes that are {asked.get('shape', 'normal')} have no size to be given.")
        return declared.check(value)
    declared = next(each.declared[name] for each in DEPARTURES if name in each.declared)
    return declared.check(value)


def refuse(asked: Departing, of: Rehearsed) -> None:
    """Refuse what the design cannot take, and what contradicts itself. Raises `RequestError`."""
    for departure in DEPARTURES:
        if departure.says(asked, of) and (why := departure.barred(of)):
            raise RequestError(departure.fields[0], f"This design cannot have {departure.label}. {why}")
    if asked.shape == "bounded" and "bounds" not in of.plan.traits:
        raise RequestError(
            "shape", "A bounded scale can be had where each outcome stands alone: a floor or a ceiling is at hand."
        )


def in_words(asked: Departing, of: Rehearsed) -> str:
    """The world in words: `skewed outcomes (lognormal, skewness 2), 15% lost`; `as planned` where nothing departs."""
    parts = [words for departure in DEPARTURES if (words := departure.says(asked, of))]
    return ", ".join(parts) or "as planned"
