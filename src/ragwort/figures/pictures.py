"""Every picture by name, in the order of its tabs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ragwort.designs import Answer, CountsPlan, StatisticPlan, design_named
from ragwort.figures.curve import Curve, curve_of
from ragwort.figures.error_rates import Errors, errors_of
from ragwort.figures.steps import Steps, steps_of
from ragwort.study.model import Aim
from ragwort.study.numbers import with_unit

FORMATS = ("svg", "pdf", "png", "csv")  # in which each can be exported
Picture = Curve | Errors | Steps


@dataclass(frozen=True)
class Kind:
    """A kind of picture: of which answers it can be drawn, and how it is worked out."""

    name: str  # on its tab
    fits: Callable[[Answer], bool]
    make: Callable[[Aim, Answer, Picture | None, bool], Picture]  # `kept` and `steady`: see `picture_of`


def _curve(aim: Aim, answer: Answer, kept: Picture | None, steady: bool) -> Curve:
    return curve_of(aim, answer, kept.x_high if isinstance(kept, Curve) else None, steady)


def _rejects(answer: Answer) -> bool:
    """Whether there is one statistic, and a region in which it rejects."""
    plan = answer.plan
    if not isinstance(plan, StatisticPlan):
        return False
    return any(limit is not None for limit in plan.test(answer.sizes()).limits(plan.alpha, plan.sides))


def _errors(aim: Aim, answer: Answer, kept: Picture | None, steady: bool) -> Errors:
    return errors_of(answer, effect_words(aim, answer))


def _goes_up_and_down(answer: Answer) -> bool:
    return isinstance(answer.plan, CountsPlan)


def _steps(aim: Aim, answer: Answer, kept: Picture | None, steady: bool) -> Steps:
    return steps_of(aim, answer)


KINDS = (  # in the order of their tabs; the first can be drawn of any answer
    Kind("Curve", lambda answer: True, _curve),
    Kind("Errors", _rejects, _errors),
    Kind("Steps", _goes_up_and_down, _steps),
)
PICTURES = tuple(kind.name for kind in KINDS)


def pictures_for(answer: Answer) -> tuple[str, ...]:
    """The pictures that can be drawn of an answer."""
    return tuple(kind.name for kind in KINDS if kind.fits(answer))


def picture_of(name: str, aim: Aim, answer: Answer, kept: Picture | None = None, steady: bool = False) -> Picture:
    """The picture of an aim with its answer; the first where the one named cannot be drawn of it.

    `kept` is the one shown now, whose axes stay where they can; with `steady`, as in a drag, as long as they can.
    """
    kind = next((kind for kind in KINDS if kind.name == name and kind.fits(answer)), KINDS[0])
    return kind.make(aim, answer, kept, steady)


def effect_words(aim: Aim, answer: Answer) -> str:
    """The planned effect in a few words: `difference 12 ms`."""
    design = design_named(aim.design)
    assumption = design.assumption(design.primary)
    value = with_unit(assumption, answer.effect[design.primary], aim.words.unit, digits=4)
    return f"{assumption.label.lower()} {value}"
