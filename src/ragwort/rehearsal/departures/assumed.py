"""Assumptions that are really others: the effect, how alike people are, how cluster sizes vary."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from typing_extensions import override

from ragwort.designs import Design, RequestError
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import plain_number
from ragwort.rehearsal.departures.departure import Asked, Departing, Departure, Say, Word
from ragwort.rehearsal.departures.numbers import number
from ragwort.rehearsal.planned import Planned
from ragwort.study.words.numbers import with_unit
from ragwort.study.words.sentence import Piece

NONE = "none"  # an effect that is not there
_NOTHING = ("none", "no effect", "no effect at all", "nothing", "truth on the margin", "on the margin")
_BARELY = 1 + 1e-12  # rounding
_SMALLER = 2 / 3  # of the planned effect, to one significant digit fewer than it is stated with


class Alike(Departure):
    """A correlation or ICC that is really another."""

    name, label = "alike", "a correlation off by a factor"
    why = "the formula takes the correlation as planned"
    slots = (
        number(
            "alike",
            "Correlation off by",
            "The factor by which the correlation or ICC is really larger.",
            low=0,
            high=100,
        ),
    )

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        return {"alike": Word(self.slots[0], "as planned", first=1.5)}

    @override
    def barred(self, of: Planned) -> str:
        return "" if correlated(of.values) else "No correlation and no ICC was stated that could be off."

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        if asked["alike"] is None:
            return ""
        return f"{plain_number(asked['alike'])} times the planned {_correlation(of)}"

    @override
    def pieces(self, say: Say) -> list[Piece]:
        after = [Piece("text", " times as large")] if say.asks("alike") else []
        return [Piece("text", f"the {_correlation(say.of)} "), say.value("alike"), *after]

    @override
    def usual(self, of: Planned) -> dict[str, Asked]:
        return {"alike": {"alike": 1.5}}

    @override
    def values(self, asked: Departing, of: Planned) -> dict[str, Any]:
        name = correlated(of.values)
        if asked["alike"] is None or not name:
            return {}
        value, assumption = asked["alike"] * of.values[name], of.design.assumption(name)
        if not assumption.allows(value):
            wrong = f"{assumption.label} would be {plain_number(value)}, but must be {assumption.allowed()}."
            raise RequestError("alike", wrong)
        return {name: value}


def correlated(values: Mapping[str, Any]) -> str:
    """The assumption that says how alike outcomes are; empty where there is none."""
    return next((name for name in ("icc", "correlation") if values.get(name) is not None), "")


def _correlation(of: Planned) -> str:
    return "ICC" if correlated(of.values) == "icc" else "correlation"


class ClusterSizes(Departure):
    """Cluster sizes that vary more, or less."""

    name, label = "cv", "cluster sizes that vary more"
    why = "the formula takes the cluster sizes as planned"
    slots = (number("cv", "Variation of cluster sizes", "SD of the cluster sizes over their mean.", low=0, high=10),)

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        return {"cv": Word(self.slots[0], "as planned", first=0.5)}

    @override
    def barred(self, of: Planned) -> str:
        if not of.plan.comes_in_clusters:
            return "Nobody comes in clusters."
        return "The strata say how cluster sizes vary." if of.values.get("strata") else ""

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        return "" if asked["cv"] is None else f"cluster sizes with a CV of {plain_number(asked['cv'])}"

    @override
    def pieces(self, say: Say) -> list[Piece]:
        before = "cluster sizes with a CV of " if say.asks("cv") else "cluster sizes "
        return [Piece("text", before), say.value("cv")]

    @override
    def values(self, asked: Departing, of: Planned) -> dict[str, Any]:
        return {} if asked["cv"] is None else {"cluster_size_cv": asked["cv"]}


class TrueEffect(Departure):
    """Another effect, or none."""

    name, label = "effect", "another true effect"
    why = "the true effect is another than the one planned"
    in_unit = True

    @override
    def barred(self, of: Planned) -> str:
        return "" if of.plan.has_test else "Nothing is tested here, so there can be no other effect."

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        return {"effect": Word(of.primary, planned=of.answer.effect[of.answer.primary])}

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        if asked["effect"] is None:
            return ""
        if asked["effect"] == NONE:
            return of.nothing_words
        return f"a true {of.effect_words} of {with_unit(of.primary, float(asked['effect']), of.unit)}"

    @override
    def pieces(self, say: Say) -> list[Piece]:
        if say.world.asked.get("effect") == NONE and not say.world.faulty("effect"):
            return [say.value("effect")]
        before = "a true " if say.asks("effect") else "the planned "
        return [Piece("text", f"{before}{say.of.effect_words} of "), say.value("effect")]

    @override
    def said(self, word: Word, value: Any, of: Planned) -> str:
        if value == NONE:
            return of.nothing_words
        return with_unit(word.declared, word.planned if value is None else value, of.unit, digits=4)

    @override
    def typed(self, word: Word, value: Any, of: Planned) -> str:
        if value == NONE:
            return NONE
        return super().typed(word, float(f"{word.planned:.4g}") if value is None else value, of)

    @override
    def read(self, text: str) -> Any:
        return NONE if text in _NOTHING else None

    @override
    def check(self, slot: str, value: Any, asked: Asked, of: Planned) -> Any:
        return NONE if value == NONE else of.primary.check(value)

    @override
    def usual(self, of: Planned) -> dict[str, Asked]:
        return {"smaller": {"effect": _smaller(of)}, "nothing": {"effect": NONE}}

    @override
    def truth(self, asked: Departing, of: Planned, plan: Plan) -> Plan:
        if asked["effect"] is None:
            return plan
        if asked["effect"] == NONE:
            return plan.rescaled_to(plan.at_null)
        effect = plan.from_edge(_stated(of, float(asked["effect"])))
        if not plan.furthest(False) * _BARELY <= effect <= plan.furthest(True) * _BARELY:
            name, value = of.primary.label.lower(), plain_number(float(asked["effect"]))
            raise RequestError(
                "effect", f"A true effect of {value} ({name}) contradicts the other assumptions: it is too large."
            )
        return plan.rescaled_to(effect)


def _stated(of: Planned, primary: float) -> float:
    """The effect of a plan whose primary effect is this."""
    gone = of.design.effect_names() - of.design.stands_alone
    values = {name: value for name, value in of.values.items() if name not in gone}
    beside = _beside(of.design, of.answer.primary) - set(values)
    if beside:  # stated in another way: of four cells one
        values |= {name: value for name, value in of.design.in_other_words(of.values).items() if name in beside}
    return float(of.design.stated_effect({**values, of.answer.primary: primary}))


def _beside(design: Design, primary: str) -> set[str]:
    """What is stated together with the primary effect."""
    way = next((way for ways in design.ways for way in ways if primary in way.names), None)
    return set() if way is None else {name for name in way.names if name != primary}


def _smaller(of: Planned) -> float:
    """A true effect on the way from the planned one to none, as a person would have typed it."""
    effect, nothing = of.answer.effect[of.answer.primary], _without(of)
    aimed = nothing + _SMALLER * (effect - nothing)
    digits = max(0, 1 - math.floor(math.log10(abs(aimed)))) if aimed else 0
    return round(aimed, digits)


def _without(of: Planned) -> float:
    """The primary effect where there is none."""
    report = of.plan.rescaled_to(0.0).effect_report()
    return float(report[of.answer.primary]) if of.answer.primary in report else 0.0
