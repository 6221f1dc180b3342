"""What a limit on participants means for an aim: the largest design under it, the ways out above it, the room below."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from ragwort.designs import Answer, Design, Plan, RequestError, design_named, settle
from ragwort.designs.request import values_in_force
from ragwort.designs.ways_out import WayOut
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import to_enrol, values_with_defaults
from ragwort.study.results.whatif import stated_sizes, values_for
from ragwort.study.words.found import found_text, power_text, reached_text
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import count_text
from ragwort.study.words.sentence import people


@dataclass(frozen=True)
class Out:
    """A way out, worked out."""

    way: WayOut
    answer: Answer
    values: dict[str, Any]  # what changes in the aim, sizes among it
    says: str  # what comes of it, in words
    fits: bool  # under the limit


def largest_under(aim: Aim, answer: Answer, limit: int) -> tuple[int, ...] | None:
    """The groups of the largest design of which no more than the limit are enrolled; None where there is none."""
    counting, plan = answer.plan.counting, answer.plan
    lost = design_named(aim.design).enrolment(values_with_defaults(aim))

    def groups(step: int) -> tuple[tuple[int, ...], int]:
        """The groups, and how many are recruited for them."""
        sizes = plan.better(counting.ways(np.array([step])))
        found = tuple(counting.in_groups(sizes[:, 0]))
        return found, sum(lost.people(found, plan.clusters_at(sizes)) or found)

    low, high = counting.lowest, counting.highest + 1  # the first enrols few enough, the last too many
    if groups(low)[1] > limit:
        return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if groups(middle)[1] <= limit else (low, middle)
    return groups(low)[0]


Most = Callable[[Answer], int | None]  # how many an answer can enrol, where that depends on the answer


def ways_out(aim: Aim, answer: Answer, limit: int, most: Most | None = None) -> list[Out]:
    """What would bring an aim that finds its sample size under the limit, each worked out; none where it is under.

    `most` says how many another answer can enrol, where money or clusters set the limit.
    """
    if answer.find != "n" or to_enrol(answer) <= limit:
        return []
    design = design_named(aim.design)
    values, _ = values_in_force(design, "n", values_for(aim, answer, "n"))
    ways = design.ways_out(values, float(np.asarray(answer.plan.effect)))
    found = [_worked_out(aim, answer, limit, way, most) for way in ways]
    outs = [out for out in found if out is not None and to_enrol(out.answer) < to_enrol(answer)]
    return sorted(outs, key=lambda out: not out.fits)


def room(aim: Aim, answer: Answer, limit: int, most: Most | None = None) -> list[Out]:
    """What as many as can be had would buy an aim that needs fewer: more power, a smaller effect."""
    if answer.find != "n" or to_enrol(answer) >= limit:
        return []
    design = design_named(aim.design)
    values, _ = values_in_force(design, "n", values_for(aim, answer, "n"))
    ways = [way for way in design.ways_out(values, float(np.asarray(answer.plan.effect))) if way.find != "n"]
    found = [_worked_out(aim, answer, limit, way, most) for way in ways]
    return [out for out in found if out is not None and out.answer.total > answer.total]


def _worked_out(aim: Aim, answer: Answer, limit: int, way: WayOut, most: Most | None) -> Out | None:
    """None where it has no answer."""
    design = design_named(aim.design)
    tried = [dict(way.changes)]
    if way.find != "n":
        groups = largest_under(aim, answer, limit)
        tried = [] if groups is None else [{**way.changes, **sizes} for sizes in _sizes(aim, groups, answer.plan)]
    base = {name: value for name, value in values_for(aim, answer, way.find).items() if name not in _size_names(design)}
    aside = {"direction": base["direction"]} if way.find == "effect" and "direction" in base else {}
    outs = []
    for changes in ({**each, **aside} for each in tried):
        try:
            found = settle(design, way.find, {**base, **changes})
        except RequestError:
            continue
        allowed = limit if most is None else most(found)
        fits = allowed is None or to_enrol(found) <= allowed
        outs.append(Out(way, found, changes, _says(aim, answer, found, way), fits))
    return next((out for out in outs if out.fits), outs[0] if outs else None)


def _size_names(design: Design) -> set[str]:
    return {name for way in design.sizes for name in way.names}


def _sizes(aim: Aim, groups: tuple[int, ...], plan: Plan) -> list[dict[str, Any]]:
    """The sizes as they can be given: as the aim has them first; whole clusters may be more than can be had."""
    design = design_named(aim.design)
    found = design.sizes_as_values(groups, plan)
    ways = [{name: found[name] for name in way.names} for way in design.sizes]
    return [stated_sizes(design, aim, groups, plan), *ways]


def _says(aim: Aim, before: Answer, found: Answer, way: WayOut) -> str:
    """`A difference of 13.1 ms instead of 12 ms is found with 80% power by 240 staff to enrol.`"""
    enrolled = f"{count_text(to_enrol(found))} {aim.words.many} to be recruited"
    if way.find == "power":
        return f"{reached_text(found)} power instead of {power_text(before.plan.target)}, with {enrolled}."
    if way.find == "effect":
        design = design_named(aim.design)
        label = label_of(design.assumption(design.unknown_of("effect", aim.values())), aim)
        power = f"{power_text(found.plan.target)} power and " if found.plan.has_test else ""
        return f"{label} {found_text(found, aim.words.unit)}, with {power}{enrolled}."
    saved = to_enrol(before) - to_enrol(found)
    return f"{enrolled}, {count_text(saved)} fewer, with the power asked for."


def said_of(aim: Aim, answer: Answer, limit: int, outs: list[Out]) -> str:
    """How an aim stands to the limit, and what its ways out, or the room below, are: a sentence over their list."""
    needed = to_enrol(answer)
    if needed > limit:
        over = f"{_people(aim, needed)} to be recruited are {count_text(needed - limit)} more than available."
        return f"{over} Each of these would bring the number down; none is done by itself." if outs else over
    if needed == limit:
        return f"As many are available as are needed: {_people(aim, limit)}."
    spare = f"{_people(aim, limit - needed)} more are available than are needed."
    return f"{spare} What that would buy:" if outs else spare


def _people(aim: Aim, count: int) -> str:
    """Where a line may break between the number and its word."""
    return people(aim, count).replace("\u00a0", " ")
