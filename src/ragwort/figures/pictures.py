"""Every picture by name, in the order of its tabs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ragwort.base.wording import listed, uncapital
from ragwort.designs import Answer, CountsPlan, StatisticPlan, design_named
from ragwort.designs.design import in_running_text
from ragwort.designs.works import OHAGAN
from ragwort.figures.scales.axes import SIZE, largest_size, words_beyond
from ragwort.figures.shown.asked import asked
from ragwort.figures.shown.boundaries import boundaries_of, has_looks
from ragwort.figures.shown.curve import Curve, curve_of
from ragwort.figures.shown.drivers import drivers_of, held_of
from ragwort.figures.shown.error_rates import errors_of
from ragwort.figures.shown.events import counts_events, events_of
from ragwort.figures.shown.expected_size import expected_size_of
from ragwort.figures.shown.look_times import look_times_of
from ragwort.figures.shown.map import Map, map_of
from ragwort.figures.shown.pins import flags_of
from ragwort.figures.shown.shown import Beyond, Shown
from ragwort.figures.shown.split import Split, can_be_split, split_of
from ragwort.figures.shown.spread import spread_of
from ragwort.figures.shown.steps import steps_of
from ragwort.figures.shown.trace import Trace, trace_of
from ragwort.figures.shown.two_tests import has_two_tests, two_tests_of
from ragwort.figures.shown.widths import widths_of
from ragwort.study.document.aim import Aim
from ragwort.study.results.looks import course_of
from ragwort.study.results.outcome import finds_of, values_with_defaults
from ragwort.study.results.whatif import uncertain
from ragwort.study.words.naming import names_of
from ragwort.study.words.numbers import with_unit

PICTURE_FORMATS = ("svg", "pdf", "png", "csv")  # in which each can be exported
Picture = Shown


@dataclass(frozen=True)
class Scene:
    """What a picture is made from."""

    aim: Aim
    answer: Answer
    limit: int | None = None  # how many participants can be had
    kept: Picture | None = None  # the one shown now, whose axes stay where they can
    steady: bool = False  # as in a drag: as long as they can
    rough: bool = False  # at few places, to be there soon


@dataclass(frozen=True)
class Kind:
    """A kind of picture: of which answers it can be drawn, and how it is worked out."""

    name: str  # on its tab
    fits: Callable[[Answer], bool]
    make: Callable[[Scene], Picture]
    about: Callable[[Aim], str]  # what the report says above it
    has_rough: bool = False  # whether it is worked out at many places, and sooner at few
    reported: Callable[[Aim, Answer], bool] = lambda aim, answer: True  # whether the report has it


def _curve(scene: Scene) -> Picture:
    steer = asked(scene.aim, scene.answer)
    if steer is not None:
        old = scene.kept if isinstance(scene.kept, Trace) else None
        trace = trace_of(scene.aim, scene.answer, steer, old, scene.steady, scene.rough)
        beyond = _beyond(scene, trace.x.name, trace.find, trace.per_group)
        return replace(trace, beyond=beyond and replace(beyond, at_end=beyond.axis == "x" or _falls(trace)))
    axis = scene.kept.x if isinstance(scene.kept, Curve) else None
    curve = curve_of(scene.aim, scene.answer, axis, scene.steady, scene.rough)
    return replace(curve, beyond=_beyond(scene, SIZE, "power", curve.per_group))


def _falls(trace: Trace) -> bool:
    """Whether the aim's own line is lower at its right end than at its left."""
    known = trace.lines[0].y[np.isfinite(trace.lines[0].y)]
    return bool(known.size and known[-1] < known[0])


def _beyond(scene: Scene, x: str, y: str, per_group: bool) -> Beyond | None:
    """Where a curve of sample sizes goes beyond what can be had."""
    if scene.limit is None or (x != SIZE and y != "n"):
        return None
    if x != SIZE:
        return Beyond("y", float(scene.limit), words_beyond(scene.limit))
    lost = design_named(scene.aim.design).enrolment(values_with_defaults(scene.aim))
    return Beyond("x", largest_size(scene.answer, lost, scene.limit, per_group), "more than available")


def _map(scene: Scene) -> Picture:
    kept = scene.kept if isinstance(scene.kept, Map) else None
    return map_of(scene.aim, scene.answer, scene.limit, kept, scene.steady, scene.rough)


def _rejects(answer: Answer) -> bool:
    """Whether there is one statistic, and a region in which it rejects."""
    plan = answer.plan
    if not isinstance(plan, StatisticPlan):
        return has_two_tests(answer)
    return any(limit is not None for limit in plan.test(answer.sizes()).limits(plan.tested_alpha, plan.sides))


def _errors(scene: Scene) -> Picture:
    if has_two_tests(scene.answer):
        return two_tests_of(scene.answer, effect_words(scene.aim, scene.answer))
    course = course_of(scene.answer)
    if course is None:
        return errors_of(scene.answer, effect_words(scene.aim, scene.answer))
    once = replace(scene.answer, plan=course.plan, power=course.fixed_power)
    made = errors_of(once, effect_words(scene.aim, scene.answer))
    return replace(made, says=f"With a single analysis at the end: {uncapital(made.says)}")


def _drivers_caption(aim: Aim) -> str:
    """What moves, and what of the effect stays as it is meanwhile."""
    held = held_of(aim, aim.values())
    how = "the others as planned" if held is None else f"the {held.label} held, all else as planned"
    return f"One-way sensitivity analysis: each planning value by itself at the ends of its plausible range, {how}."


def _split_caption(aim: Aim) -> str:
    """With the prices, where somebody has typed them."""
    costs, names = aim.steer("Split").costs, names_of(aim, "groups")
    prices = [f"{value:g} with {names[int(slot[-1]) - 1]}" for slot, value in sorted(costs.items())]
    return f"Allocation ratio and cost, for each {aim.words.one} {listed(prices)}." if prices else _ALLOCATION


_ALLOCATION = "Allocation ratio and sample size."


def _goes_up_and_down(answer: Answer) -> bool:
    return isinstance(answer.plan, CountsPlan)


def _steps(scene: Scene) -> Picture:
    return steps_of(scene.aim, scene.answer)


def _drivers(scene: Scene) -> Picture:
    asked = scene.aim.steer("Drivers").y
    find = asked if asked in finds_of(scene.aim) else scene.answer.find
    return drivers_of(scene.aim, scene.answer, find, scene.limit)


def _split(scene: Scene) -> Picture:
    kept = scene.kept if isinstance(scene.kept, Split) else None
    return split_of(scene.aim, scene.answer, kept, scene.rough)


def _has_ranges(aim: Aim, answer: Answer) -> bool:
    return bool(uncertain(aim, answer.find))


def _always(answer: Answer) -> bool:
    return True


def _tests(answer: Answer) -> bool:
    return answer.plan.has_test


def _is_of_interval(answer: Answer) -> bool:
    return not answer.plan.has_test


def _about_errors(aim: Aim) -> str:
    if aim.values().get("hypothesis") == "equivalence":
        return "The estimate with a true effect on either margin (dashed) and with the planned one."
    return "The test statistic without an effect (dashed) and with the planned one."


def _about_curve(aim: Aim) -> str:
    steer = aim.steer("Curve")
    drawn = steer.y or steer.x or steer.family
    return "The answer against what it depends on." if drawn else f"Power against the number of {aim.words.many}."


KINDS = (  # in the order of their tabs; the first can be drawn of any answer
    Kind("Curve", _always, _curve, _about_curve, has_rough=True),
    Kind(
        "Half widths",
        _is_of_interval,
        lambda scene: widths_of(scene.aim, scene.answer, scene.rough),
        lambda aim: "Half widths of the intervals of made-up studies of the planned size.",
        has_rough=True,
    ),
    Kind(
        "Map",
        _tests,
        _map,
        lambda aim: "Power over two assumptions.",
        reported=lambda aim, answer: "Map" in aim.pictures,
        has_rough=True,
    ),
    Kind(
        "Errors",
        _rejects,
        _errors,
        _about_errors,
    ),
    Kind(
        "Boundaries",
        has_looks,
        lambda scene: boundaries_of(scene.aim, scene.answer),
        lambda aim: "Stopping boundaries of the interim analyses and of the final one.",
    ),
    Kind(
        "Expected size",
        has_looks,
        lambda scene: expected_size_of(scene.aim, scene.answer),
        lambda aim: "The size that the study is expected to have at its end, against the true effect.",
    ),
    Kind(
        "Look times",
        has_looks,
        lambda scene: look_times_of(scene.aim, scene.answer),
        lambda aim: "What becomes of the error when an interim analysis comes at another time than planned.",
        reported=lambda aim, answer: "Look times" in aim.pictures,
    ),
    Kind(
        "Drivers",
        _always,
        _drivers,
        lambda aim: _drivers_caption(aim),
        reported=_has_ranges,
    ),
    Kind(
        "Spread",
        _tests,
        lambda scene: spread_of(scene.aim, scene.answer, scene.rough),
        lambda aim: f"Distribution of power over the plausible ranges (assurance; {OHAGAN.words}).",
        reported=lambda aim, answer: "Spread" in aim.pictures,
        has_rough=True,
    ),
    Kind(
        "Split",
        can_be_split,
        _split,
        lambda aim: _split_caption(aim),
        reported=lambda aim, answer: "Split" in aim.pictures,
        has_rough=True,
    ),
    Kind(
        "Events",
        counts_events,
        lambda scene: events_of(scene.aim, scene.answer),
        lambda aim: "Expected events over the calendar: in each arm (dashed, dotted) and together.",
    ),
    Kind("Steps", _goes_up_and_down, _steps, lambda aim: "Power of an exact test, size by size."),
)
PICTURES = tuple(kind.name for kind in KINDS)


def pictures_for(answer: Answer) -> tuple[str, ...]:
    """The pictures that can be drawn of an answer."""
    return tuple(kind.name for kind in KINDS if kind.fits(answer))


def reported(scene: Scene) -> list[tuple[str, Picture]]:
    """The pictures that a report has, each with the words above it."""
    aim, answer = scene.aim, scene.answer
    kinds = [kind for kind in KINDS if kind.fits(answer) and kind.reported(aim, answer)]
    return [(kind.about(aim), _made(kind, scene)) for kind in kinds]


def has_rough(name: str) -> bool:
    """Whether a picture can be had roughly, and sooner."""
    return any(kind.has_rough for kind in KINDS if kind.name == name)


def picture_of(name: str, scene: Scene) -> Picture:
    """The picture of an aim with its answer; the first where the one named cannot be drawn of it."""
    kind = next((kind for kind in KINDS if kind.name == name and kind.fits(scene.answer)), KINDS[0])
    return _made(kind, scene)


def _made(kind: Kind, scene: Scene) -> Picture:
    steer = scene.aim.steer(kind.name)
    with np.errstate(all="ignore"):  # at extreme values a limit may lie beyond what can be held
        made: Any = kind.make(scene)
        pinned = isinstance(made, Curve | Trace) and steer.pins
        flags = {"flags": flags_of(scene.aim, scene.answer, made)} if pinned else {}
    return replace(made, texts=tuple(sorted(steer.texts.items())), **flags)  # type: ignore[no-any-return]


def effect_words(aim: Aim, answer: Answer) -> str:
    """The planned effect in a few words: `difference 12 ms`."""
    design = design_named(aim.design)
    assumption = design.assumption(answer.primary)
    value = with_unit(assumption, answer.effect[answer.primary], aim.words.unit, digits=4)
    return f"{in_running_text(assumption.label)} {value}"
