"""Power of an exact test size by size: why one more participant can mean less power, as a saw-tooth and a table."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.designs import Answer, CountsPlan, Plan, design_named
from ragwort.figures.shown.shown import Shown, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.words.numbers import count_text, percent_text

MOST_STEPS = 700  # along the saw-tooth
AROUND = 12  # sizes before the first and after the steady one

WHY = (
    "Why power can fall: counts are whole. While a limit stands still, each participant added makes the test a little "
    "stricter than alpha asks; when it moves by one, the actual alpha and the power jump up."
)


@dataclass(frozen=True)
class Steps(Shown):
    """What the picture Steps shows; arrays run along the sizes."""

    x_label: str
    x: NDArray[np.float64]  # participants per group where groups are equal, otherwise in all
    sizes: tuple[str, ...]  # as the table says them
    limits: dict[str, NDArray[np.float64]]  # each rejection limit by what it is called; NaN where there is none
    alpha: NDArray[np.float64]  # actual
    power: NDArray[np.float64]
    target: float | None
    marks: dict[int, str]  # place along the sizes: `first`, `steady`, or the design itself
    places: tuple[int, ...]  # along the sizes, that matter most: the first, the steady, the design itself
    says: str
    why: str = WHY
    texts: Texts = ()

    @property
    def x_range(self) -> tuple[float, float]:
        """The ends of the x axis."""
        return float(self.x[0]) - 1.0, float(self.x[-1]) + 1.0

    @property
    def y_range(self) -> tuple[float, float]:
        """The ends of the power axis, close around the powers shown."""
        powers = [*self.power, *([self.target] if self.target is not None else [])]
        room = max(0.12 * (max(powers) - min(powers)), 0.01)
        return max(min(powers) - room, 0.0), min(max(powers) + room, 1.04)

    @property
    @override
    def y_label(self) -> str:
        return "power, %"

    @override
    def frame(self) -> tuple[object, ...]:
        return ("steps", self.x_label, self.x_range, self.y_range)

    def head(self) -> list[str]:
        """The names of the table's columns."""
        return ["n", *self.limits, "actual alpha", "power"]

    def row(self, at: int) -> list[str]:
        """One row of the table in words."""
        limits = ["none" if np.isnan(limit[at]) else f"{limit[at]:.0f}" for limit in self.limits.values()]
        return [self.sizes[at], *limits, f"{self.alpha[at]:.4f}", percent_text(float(self.power[at]))]

    def around(self, most: int) -> list[int | None]:
        """At most so many rows of the table around the places that matter; None for a gap between them."""
        found: list[int | None] = []
        for size in range(1, most + 1):
            reach, more = size // 2, size % 2
            near = sorted({at + by for at in self.places for by in range(-reach, reach + more)})
            wider: list[int | None] = []
            for at in (at for at in near if 0 <= at < len(self.x)):
                wider += [None, at] if wider and at - 1 != wider[-1] else [at]
            if len(wider) > most:
                break
            found = wider
        return found

    def rows(self) -> list[list[object]]:
        """The data behind the picture: a heading row and one row a size."""
        found: list[list[object]] = [["n", "in words", *self.limits, "actual alpha", "power", "remark"]]
        for at in range(len(self.x)):
            limits = ["" if np.isnan(limit[at]) else int(limit[at]) for limit in self.limits.values()]
            numbers = [float(self.alpha[at]), float(self.power[at])]
            found.append([int(self.x[at]), self.sizes[at], *limits, *numbers, self.marks.get(at, "")])
        return found


def steps_of(aim: Aim, answer: Answer) -> Steps:
    """The steps around an answer of an exact test."""
    plan = answer.plan
    assert isinstance(plan, CountsPlan)
    here = _step_of(answer)
    first, steady = (answer.n_more.get(name, here) for name in ("first", "steady"))
    steps = _around(plan, first, steady)
    ways = [plan.better(plan.counting.ways(np.array([step]))) for step in steps]
    groups = np.concatenate(ways, axis=1)
    marks = {int(steady - steps[0]): "steady", int(first - steps[0]): "first"} if "first" in answer.n_more else {}
    if first == steady and marks:
        marks = {int(first - steps[0]): "first and steady"}
    equal = plan.counting.equal_groups > 1
    many, group = aim.words.many, design_named(aim.design).group_word
    power = plan.power_along(steps)
    return Steps(
        x_label=f"{many} per {group}" if equal else (many if len(groups) == 1 else f"total {many}"),
        x=groups[0] if equal else groups.sum(axis=0),
        sizes=tuple(" + ".join(count_text(int(size)) for size in column) for column in groups.T),
        limits=plan.rejection_limits(groups),
        alpha=plan.actual_alpha(groups),
        power=power,
        target=plan.target if answer.find == "n" else None,
        marks=marks,
        places=tuple(sorted({int(step - steps[0]) for step in (first, steady, here)})),
        says=_says(answer, first, steady, power, plan.step_words),
    )


def _step_of(answer: Answer) -> int:
    counting = answer.plan.counting
    step = counting.step_near(float(answer.total))
    return int(min(max(step, counting.lowest), answer.plan.last_step))


def _around(plan: Plan, first: int, steady: int) -> NDArray[np.int64]:
    low, high = first - AROUND, steady + AROUND
    if high - low > MOST_STEPS:
        low = high - MOST_STEPS
    return np.arange(max(low, plan.counting.lowest), high + 1)


def _says(answer: Answer, first: int, steady: int, power: NDArray[np.float64], where: str) -> str:
    falls = int((np.diff(power) < 0).sum())
    text = f"Power falls at {falls} of the {len(power) - 1} steps shown"
    if "first" in answer.n_more and first != steady:
        text += (
            f"; {percent_text(answer.plan.target, 0)} is first reached at {count_text(first)}{where} and kept from "
            f"{count_text(steady)} on"
        )
    return f"{text}.".replace("\u00a0", " ")
