"""Expected size: how large a study with interim analyses becomes on average, against the true effect."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.designs import Answer, Plan, design_named, settle
from ragwort.designs.looks import LOOKS
from ragwort.designs.refusals import RequestError
from ragwort.figures.scales.axes import Axis, with_typed_ends
from ragwort.figures.scales.quantity import Quantity
from ragwort.figures.shown.shown import Pointer, Reading, Seen, SeenLine, Shown, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.results.looks import course_of
from ragwort.study.results.outcome import request_of
from ragwort.study.words.looks import unit_of
from ragwort.study.words.numbers import count_text, percent_text

ASKED = {"": "expected size", "early": "chance of stopping before the end"}
_POINTS = 401
_BEYOND = (-1.0, 4.0)  # times the planned effect, between which it is worked out
_SHOWN = 1.6  # times the planned effect, up to which it is shown


@dataclass(frozen=True)
class ExpectedSize(Shown):
    """What the picture shows: a line over true effects, in the units of the axes."""

    zooms: ClassVar[str] = "x"
    x_label: str
    x: Axis
    asked: str  # one of `ASKED`
    label_of_y: str
    effects: NDArray[np.float64]
    values: NDArray[np.float64]
    most: float | None  # the largest size
    fixed: float | None  # that of a study with one analysis and the same power
    planned: tuple[float, float]
    point_label: str
    unit: str
    says: str
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return self.label_of_y

    @property
    def y_high(self) -> float:
        """The end of the scale up."""
        return 100.0 if self.asked else 1.12 * max(self.most or 0.0, self.fixed or 0.0)

    @override
    def axes(self) -> dict[str, Axis]:
        return {"x": self.x}

    @override
    def frame(self) -> tuple[object, ...]:
        return ("expected size", self.asked, self.x, self.y_high)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        low, high = self.x.ends
        return self._read(at.x) if low <= at.x <= high else None

    def _read(self, x: float) -> Reading:
        y = float(np.interp(x, self.effects, self.values))
        said = percent_text(y / 100) if self.asked else f"{count_text(round(y))} {self.unit}"
        return Reading(x, y, f"{said} if the true {self.x.words} is {self.x.text(x, '')}")

    @override
    def walk(self) -> list[Reading]:
        return [self._read(float(x)) for x in np.linspace(*self.x.ends, 11)]

    @override
    def seen(self) -> Seen:
        others = [f"with a single analysis {count_text(round(self.fixed))}"] if self.fixed else []
        return Seen([SeenLine(ASKED[self.asked], self.effects, self.values)], unit=self.unit, others=others)

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = [self.x.label, self.label_of_y]
        found: list[list[object]] = [[float(x), float(y)] for x, y in zip(self.effects, self.values, strict=True)]
        return [head, *found]


def expected_size_of(aim: Aim, answer: Answer) -> ExpectedSize:
    """The expected size of an answer with interim analyses."""
    course = course_of(answer)
    assert course is not None
    plan, looks, sizes = course.plan, course.looks, answer.sizes()
    asked = aim.steer("Expected size").y
    asked = asked if asked in ASKED else ""
    effects = np.linspace(*_BEYOND, _POINTS) * float(plan.effect)
    effects = effects[(effects > plan.furthest_at(sizes, False)) & (effects < plan.furthest_at(sizes, True))]
    moved = plan.replace(effect=effects)
    x = np.broadcast_to(np.asarray(next(iter(moved.effect_report().values())), dtype=float), effects.shape)
    drifts = looks.fixed_drift(np.broadcast_to(moved.power(sizes), effects.shape))
    early, shares = looks.bounds(course.drift).expected(drifts)
    quantity = Quantity(design_named(aim.design).assumption(answer.primary), aim)
    order = np.argsort(x)
    x, early, shares = x[order] * quantity.scale, early[order], shares[order]
    total = course.what_ends()[1]
    values = 100 * early if asked else total * shares
    planned = float(answer.effect[answer.primary]) * quantity.scale
    there = float(np.interp(planned, x, values))
    unit = unit_of(aim, answer) or aim.words.many
    said = percent_text(there / 100, 0) if asked else f"{count_text(round(there))} {unit}"
    axis = _axis(aim, quantity, null=_null(plan) * quantity.scale, planned=planned)
    return ExpectedSize(
        x_label=f"true {axis.label}",
        x=axis,
        asked=asked,
        label_of_y="chance of stopping before the end, %" if asked else f"expected {unit}",
        effects=x,
        values=values,
        most=None if asked else total,
        fixed=None if asked else _fixed(aim, answer),
        planned=(planned, there),
        point_label=f"{said} with the planned effect",
        unit="" if asked else unit,
        says=_says(float(np.interp(planned, x, shares)), total, unit),
    )


def _null(plan: Plan) -> float:
    """No effect, as effects are reported."""
    return float(np.ravel(next(iter(plan.replace(effect=0.0).effect_report().values())))[0])


def _axis(aim: Aim, quantity: Quantity, *, null: float, planned: float) -> Axis:
    """From no effect to well beyond the planned one."""
    end = null + _SHOWN * (planned - null)
    ends = (min(null, end), max(null, end))
    axis = Axis(quantity.name, quantity.words, quantity.unit, ends, quantity.scale, None, ends)
    return with_typed_ends(axis, aim.steer("Expected size").changed(x=quantity.name), "x")


def _fixed(aim: Aim, answer: Answer) -> float | None:
    """How large a study with one analysis must be for the same power."""
    design = design_named(aim.design)
    request = request_of(design, aim)["assumptions"]
    names = {each.name for each in LOOKS} | design.unused_names("n")
    asked = {name: value for name, value in request.items() if name not in names}
    try:
        found = settle(design, "n", {**asked, "power": float(answer.power), **_found(answer)})
    except RequestError:
        return None
    events = answer.plan.events_expected(answer.sizes()) is not None
    return float(found.n_more["events"]) if events else float(found.total)


def _found(answer: Answer) -> dict[str, float]:
    """What was found, where that was no size and no power."""
    return {answer.primary: float(answer.answer)} if answer.find == "effect" else {}


def _says(share: float, total: float, unit: str) -> str:
    return (
        f"With the planned effect {count_text(round(total * share))} {unit} are expected, and "
        f"{count_text(round(total))} are needed at most: plan for these."
    )
