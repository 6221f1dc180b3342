"""A rehearsal kept with its aim: what was asked, what came of it, and whether the aim has changed since."""

from __future__ import annotations

from collections.abc import Sequence

import ragwort
from ragwort.designs import design_named
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.records import as_json, digest, tally_as_json
from ragwort.rehearsal.tally import Tally
from ragwort.rehearsal.worlds import departing, title_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Rehearsed, World
from ragwort.study.results.outcome import request_of


def request_digest(aim: Aim) -> str:
    """What the aim asks, as it is planned."""
    return digest(request_of(design_named(aim.design), aim.as_planned()))


def kept_of(aim: Aim, of: Planned, done: Sequence[tuple[World, Tally]]) -> tuple[Rehearsed, ...]:
    """What is kept of these worlds."""
    return tuple(_kept(aim, of, world, tally) for world, tally in done)


def _kept(aim: Aim, of: Planned, world: World, tally: Tally) -> Rehearsed:
    return Rehearsed(
        words=title_of(world, of),
        asked=world.asked,
        times=tally.replicates,
        seed=aim.rehearsing.seed,
        request=request_digest(aim),
        version=ragwort.__version__,
        found=as_json(of, departing(world, of), tally, aim.rehearsing.seed),
        tally=tally_as_json(tally),
    )


def has_changed(aim: Aim) -> bool:
    """Whether something was kept of which the aim asks something else now."""
    kept = aim.rehearsing.kept
    return bool(kept) and any(each.request != request_digest(aim) for each in kept)
