"""Every picture by name, in the order of its tabs."""

from __future__ import annotations

from ragwort.designs import Answer, design_named
from ragwort.figures.curve import Curve, curve_of
from ragwort.figures.errors import Errors, errors_of
from ragwort.study.model import Aim
from ragwort.study.numbers import with_unit

PICTURES = ("Curve", "Errors")
FORMATS = ("svg", "pdf", "png", "csv")  # in which each can be exported
Picture = Curve | Errors


def picture_of(name: str, aim: Aim, answer: Answer, kept: Picture | None = None, steady: bool = False) -> Picture:
    """The picture of an aim with its answer.

    `kept` is the one shown now, whose axes stay where they can; with `steady`, as in a drag, as long as they can.
    """
    if name == "Curve":
        high = kept.x_high if isinstance(kept, Curve) else None
        return curve_of(aim, answer, high, steady)
    return errors_of(answer, effect_words(aim, answer))


def effect_words(aim: Aim, answer: Answer) -> str:
    """The planned effect in a few words: `difference 12 ms`."""
    design = design_named(aim.design)
    assumption = design.assumption(design.primary)
    value = with_unit(assumption, answer.effect[design.primary], aim.words.unit, digits=4)
    return f"{assumption.label.lower()} {value}"
