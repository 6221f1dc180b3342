"""The worlds of an aim: those it lists, or the usual ones of its design."""

from __future__ import annotations

import math
import re
from functools import lru_cache

from ragwort.designs import RequestError
from ragwort.rehearsal.departures import DEPARTURES, NONE, Departing, in_words, read
from ragwort.rehearsal.stage import Planned, stage, with_effect
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import World

PLANNED = "planned"  # the world that is always there
_SMALLER = 2 / 3  # of the planned effect, to one significant digit fewer than it is stated with


def worlds_of(aim: Aim, of: Planned) -> tuple[World, ...]:
    """The worlds in order; the one as planned first."""
    return aim.rehearsing.worlds or usual(of)


def chosen_of(aim: Aim, of: Planned) -> World:
    """The world in view."""
    worlds = worlds_of(aim, of)
    return next((each for each in worlds if each.id == aim.rehearsing.chosen), worlds[0])


@lru_cache(maxsize=8)
def usual(of: Planned) -> tuple[World, ...]:
    """What is most often feared, as far as the design can take it."""
    there = of.rehearsed
    takes = {each.name for each in DEPARTURES if not each.barred(there)}
    feared = (
        ("skewed", "shape", {"shape": "lognormal", "size": 2.0}),
        ("apart", "apart", {"apart": 1.5}),
        ("lost", "lost", {"lost": 0.15}),
        ("idle", "idle", {"idle": 0.1}),
        ("alike", "alike", {"alike": 1.5}),
        ("smaller", "effect", {"effect": _smaller(of)}),
        ("nothing", "effect", {"effect": NONE}),
    )
    found = [World(id=PLANNED)]
    for world_id, departure, asked in feared:
        world = World(id=world_id, asked=asked)
        if departure in takes and not why_not(world, of):
            found.append(world)
    return tuple(found)


def _smaller(of: Planned) -> float:
    """A true effect on the way from the planned one to none, as a person would have typed it."""
    effect = of.answer.effect[of.answer.primary]
    nothing = _without(of)
    aimed = nothing + _SMALLER * (effect - nothing)
    digits = max(0, 1 - math.floor(math.log10(abs(aimed)))) if aimed else 0
    return round(aimed, digits)


def _without(of: Planned) -> float:
    """The primary effect where there is none."""
    report = with_effect(of.answer.plan, 0.0).effect_report()
    return float(report[of.answer.primary]) if of.answer.primary in report else 0.0


def departing(world: World, of: Planned) -> Departing:
    """What the world asks. Raises `RequestError`."""
    for name, draft in world.drafts.items():
        raise RequestError(name, draft.fault)
    return read({**world.asked, **({"name": world.name} if world.name else {})}, of.rehearsed)


def why_not(world: World, of: Planned) -> str:
    """Why the world cannot be had; empty where it can."""
    try:
        stage(of, departing(world, of))
    except RequestError as error:
        return error.message
    return ""


def title_of(world: World, of: Planned) -> str:
    """What the world is called: its own name, or what departs."""
    if world.name:
        return world.name
    try:
        words = in_words(departing(world, of), of.rehearsed)
    except RequestError:
        return "A world that cannot be had"
    brief = re.sub(
        r"a true (.+) of ", r"true \1 ", re.sub(r" \([^)]*\d[^)]*\)", "", words)
    )  # the rest: in the sentence
    return brief[:1].upper() + brief[1:]
