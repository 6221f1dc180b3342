"""The worlds of an aim: those it lists, or the usual ones of its design."""

from __future__ import annotations

import re
from functools import lru_cache

from ragwort.base.wording import capital
from ragwort.designs import RequestError
from ragwort.rehearsal.departures import Departing, in_words, read, takes
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.stage import stage
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import World

PLANNED = "planned"  # the world that is always there


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
    feared = {name: asked for each in takes(of) for name, asked in each.usual(of).items()}
    worlds = [World(id=name, asked=dict(asked)) for name, asked in feared.items()]
    return (World(id=PLANNED), *(world for world in worlds if not why_not(world, of)))


def departing(world: World, of: Planned) -> Departing:
    """What the world asks. Raises `RequestError`."""
    for name, draft in world.drafts.items():
        raise RequestError(name, draft.fault)
    return read({**world.asked, **({"name": world.name} if world.name else {})}, of)


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
        words = in_words(departing(world, of), of)
    except RequestError:
        return "A world that cannot be had"
    brief = re.sub(
        r"a true (.+) of ", r"true \1 ", re.sub(r" \([^)]*\d[^)]*\)", "", words)
    )  # the rest: in the sentence
    return capital(brief)
