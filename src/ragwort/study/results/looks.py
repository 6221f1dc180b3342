"""The interim analyses of an answer, look by look: what is there then, what is spent, where the study would stop."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from ragwort.designs import Answer
from ragwort.designs.looks import Course, LookedPlan


@dataclass(frozen=True)
class Look:
    """One look. Bounds are None where nothing is spent; chances are of ending at it."""

    number: int  # from 1
    fraction: float
    counted: int | None  # people, events or clusters; None where people wait for events
    events: float | None  # that are expected then, where people wait for them
    when: float | None  # in the study's time, where something says it
    spent: float  # of alpha, up to this look, both sides
    bound: float | None
    p: float  # nominal
    effect: float | None  # on the boundary
    futility: float | None
    futility_effect: float | None
    reject_effect: float  # with the planned effect
    reject_null: float  # without one
    give_up_effect: float
    give_up_null: float


def course_of(answer: Answer) -> Course | None:
    """How its studies go; None where no interim analyses are planned."""
    plan = answer.plan
    return plan.course_at(answer.sizes()) if isinstance(plan, LookedPlan) and plan.looks is not None else None


def looks_of(answer: Answer) -> list[Look]:
    """All looks, the last one included; none where there are no interim analyses."""
    course = course_of(answer)
    if course is None:
        return []
    return [_look(answer, course, at) for at in range(len(course.looks.fractions))]


def _look(answer: Answer, course: Course, at: int) -> Look:
    details, t = answer.details, course.looks.fractions[at]
    counted = answer.n_more.get("looks")
    bound, futility = details["efficacy_bounds"][at], _at(details, "futility_bounds", at)
    times = details.get("look_times")
    sides = 2 if course.looks.two_sided else 1
    waited = answer.n_more.get("events") if counted is None else None
    return Look(
        number=at + 1,
        fraction=t,
        counted=None if counted is None else sum(counted[at]),
        events=None if waited is None else t * float(waited),
        when=None if times is None else times[at],
        spent=float(course.looks.spent[at]) * sides,
        bound=bound,
        p=details["nominal_p"][at],
        effect=_effect(course, bound, t),
        futility=futility,
        futility_effect=_effect(course, futility, t),
        reject_effect=_at(details, "reject_effect", at) or 0.0,
        reject_null=_at(details, "reject_null", at) or 0.0,
        give_up_effect=_at(details, "give_up_effect", at) or 0.0,
        give_up_null=_at(details, "give_up_null", at) or 0.0,
    )


def _at(details: dict[str, Any], name: str, at: int) -> float | None:
    found = details.get(name)
    return None if found is None else found[at]


def _effect(course: Course, bound: float | None, t: float) -> float | None:
    if bound is None or bound == 0 or not math.isfinite(bound):
        return None
    down = course.looks.two_sided and float(course.plan.effect) < 0  # the side on which the planned effect lies
    return course.effect_at(-bound if down else bound, t)
