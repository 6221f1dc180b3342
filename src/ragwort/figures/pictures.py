"""Every picture by name, in the order of its tabs."""

from __future__ import annotations

from ragwort.designs import Answer, CountsPlan, StatisticPlan, design_named
from ragwort.figures.curve import Curve, curve_of
from ragwort.figures.error_rates import Errors, errors_of
from ragwort.figures.steps import Steps, steps_of
from ragwort.study.model import Aim
from ragwort.study.numbers import with_unit

PICTURES = ("Curve", "Errors", "Steps")
FORMATS = ("svg", "pdf", "png", "csv")  # in which each can be exported
Picture = Curve | Errors | Steps


def pictures_for(answer: Answer) -> tuple[str, ...]:
    """The pictures that can be drawn of an answer."""
    drawn = (True, _rejects(answer), isinstance(answer.plan, CountsPlan))
    return tuple(name for name, can_be in zip(PICTURES, drawn, strict=True) if can_be)


def _rejects(answer: Answer) -> bool:
    """Whether there is one statistic, and a region in which it rejects."""
    plan = answer.plan
    if not isinstance(plan, StatisticPlan):
        return False
    return any(limit is not None for limit in plan.test(answer.sizes()).limits(plan.alpha, plan.sides))


def picture_of(name: str, aim: Aim, answer: Answer, kept: Picture | None = None, steady: bool = False) -> Picture:
    """The picture of an aim with its answer; the Curve where the one named cannot be drawn of it.

    `kept` is the one shown now, whose axes stay where they can; with `steady`, as in a drag, as long as they can.
    """
    if name not in pictures_for(answer):
        name = "Curve"
    if name == "Curve":
        high = kept.x_high if isinstance(kept, Curve) else None
        return curve_of(aim, answer, high, steady)
    if name == "Steps":
        return steps_of(aim, answer)
    return errors_of(answer, effect_words(aim, answer))


def effect_words(aim: Aim, answer: Answer) -> str:
    """The planned effect in a few words: `difference 12 ms`."""
    design = design_named(aim.design)
    assumption = design.assumption(design.primary)
    value = with_unit(assumption, answer.effect[design.primary], aim.words.unit, digits=4)
    return f"{assumption.label.lower()} {value}"
