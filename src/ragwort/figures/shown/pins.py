"""What is read at the pins of a curve."""

from __future__ import annotations

import math

import numpy as np

from ragwort.designs import Answer
from ragwort.figures.scales.axes import step_at, x_at
from ragwort.figures.scales.quantity import Unknown
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.shown import Flag
from ragwort.figures.shown.trace import Trace, found_at
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Pin
from ragwort.study.words.numbers import count_text, percent_text


def flags_of(aim: Aim, answer: Answer, picture: Curve | Trace) -> tuple[Flag, ...]:
    """The pins that stand on the axis shown and within its ends."""
    low, high = picture.x.ends
    found = []
    for number, pin in enumerate(aim.steer("Curve").pins):
        if pin.axis == picture.x.name and low <= pin.at * picture.x.scale <= high:
            made = (
                _on_curve(answer, picture, pin) if isinstance(picture, Curve) else _on_trace(aim, answer, picture, pin)
            )
            words = f"{pin.name}: {made[2]}" if pin.name else made[2]
            found.append(Flag(number, made[0], made[1], words, pin.name))
    return tuple(sorted(found, key=lambda flag: flag.x))


def _on_curve(answer: Answer, picture: Curve, pin: Pin) -> tuple[float, float, str]:
    plan = answer.plan
    steps = np.array([step_at(plan, pin.at, picture.per_group)])
    x, power = float(x_at(plan, steps, picture.per_group)[0]), float(plan.power_along(steps)[0])
    return x, power, f"{count_text(int(x))} {picture.place}: {percent_text(power)}"


def _on_trace(aim: Aim, answer: Answer, picture: Trace, pin: Pin) -> tuple[float, float, str]:
    x, outcome = found_at(aim, answer, picture, pin.at)
    said = Unknown(picture.find, aim)
    place = picture.x.text(x, picture.place)
    if isinstance(outcome, Answer):
        return x, said.number(outcome), f"{place}: {said.text(outcome)}"
    return x, math.nan, f"{place}: {outcome.message}"
