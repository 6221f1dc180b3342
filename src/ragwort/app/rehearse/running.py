"""Rehearsals on a thread: the world in view first, then the rest; what is done is kept until something changes."""

from __future__ import annotations

import json
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial

import numpy as np
from PySide6.QtCore import QObject, Signal

from ragwort.app.kit.jobs import Jobs, Ticket
from ragwort.base.patience import heard_by
from ragwort.rehearsal import Tally, rehearse, stage
from ragwort.rehearsal.by_size import AtSize, Needed, at_sizes, needed
from ragwort.rehearsal.dataset import DataSet, data_set
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.worlds import departing
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import World
from ragwort.study.results.outcome import key_of

EVERY = 0.12  # seconds between two looks at a rehearsal that grows
_KEPT = 200
_SPAN = (0.4, 1.6)  # times the planned size, and the larger of it and the one found: where power by size is shown
_DOTS, _EACH = 9, 4_000  # sizes, and studies at each


@dataclass
class Done:
    """What is known of one world."""

    tally: Tally | None = None
    complete: bool = False
    seconds: float = 0.0
    sizes: tuple[AtSize, ...] = ()
    needed: Needed | None = None
    data: dict[int, DataSet] = field(default_factory=dict)


@dataclass(frozen=True)
class Wanted:
    """What a page wants worked out: of worlds that can be had."""

    aim: Aim
    of: Planned
    worlds: tuple[World, ...]  # the one in view first
    by_size: bool = False
    number: int = 0  # of the study that is looked at; 0 for none


def key_of_world(aim: Aim, world: World) -> str:
    """What a rehearsal of this world depends on."""
    asked = json.dumps(world.asked, sort_keys=True)
    return f"{key_of(aim.as_planned())}|{asked}|{aim.rehearsing.times}|{aim.rehearsing.seed}"


class Running(QObject):
    """Works out what is wanted, one thing after another."""

    grown = Signal()
    _came = Signal(object, str, object)  # ticket, key, what there is

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.jobs = Jobs(self)
        self.known: OrderedDict[str, Done] = OrderedDict()
        self._ticket: Ticket | None = None
        self._came.connect(self._take)
        self._wanted: Wanted | None = None

    def done(self, aim: Aim, world: World) -> Done:
        """What is known so far."""
        return self.known.get(key_of_world(aim, world), Done())

    @property
    def busy(self) -> bool:
        """Whether a rehearsal is under way."""
        return self.jobs.busy

    def want(self, wanted: Wanted) -> None:
        """Work out what is missing of this, in place of what was wanted before."""
        if self._wanted is not None and self.jobs.busy and _same(self._wanted, wanted):
            return
        self._wanted = wanted
        if not self._missing(wanted):
            self.jobs.cancel()
            return
        self.jobs.start(partial(self._work, wanted), lambda _: self.grown.emit())

    def stop(self) -> None:
        """Give up; what is done stays, and what is still on its way comes too late."""
        self._wanted = self._ticket = None
        self.jobs.cancel()

    def finish(self) -> None:
        """Stop, and wait until no thread works any more: for closing the window."""
        self.jobs.finish()

    def is_missing(self, wanted: Wanted) -> bool:
        """Whether something of this is still to be worked out."""
        return self._missing(wanted)

    def _missing(self, wanted: Wanted) -> bool:
        worlds = [self.done(wanted.aim, world) for world in wanted.worlds]
        first = worlds[0]
        size = wanted.by_size and first.needed is None
        return size or (wanted.number > 0 and wanted.number not in first.data) or not all(w.complete for w in worlds)

    def _work(self, wanted: Wanted, ticket: Ticket) -> None:
        """In a thread: the data set, the worlds, the sizes, each handed over as it comes."""
        self._ticket = ticket
        hand_over: Callable[[str, object], None] = partial(self._came.emit, ticket)
        first = wanted.worlds[0]
        known = self.done(wanted.aim, first)
        if wanted.number and wanted.number not in known.data:
            _look_at_one(wanted, first, hand_over)
        for world in wanted.worlds:
            if not self.done(wanted.aim, world).complete:
                _rehearse(wanted, world, ticket, hand_over)
        if wanted.by_size and known.needed is None:
            _search(wanted, first, hand_over)

    def _take(self, ticket: Ticket, key: str, what: object) -> None:
        if ticket is not self._ticket:
            return
        done = self.known.setdefault(key, Done())
        self.known.move_to_end(key)
        if isinstance(what, DataSet):
            done.data = {what.number: what}
        elif isinstance(what, tuple) and isinstance(what[0], Needed):
            done.needed, done.sizes = what
        elif isinstance(what, tuple):
            done.tally, done.complete, done.seconds = what
        while len(self.known) > _KEPT:
            self.known.popitem(last=False)
        self.grown.emit()


def _same(first: Wanted, second: Wanted) -> bool:
    """Whether two pages want the same numbers."""
    keys = [[key_of_world(each.aim, world) for world in each.worlds] for each in (first, second)]
    return keys[0] == keys[1] and (first.by_size, first.number) == (second.by_size, second.number)


def _rehearse(wanted: Wanted, world: World, ticket: Ticket, hand_over: Callable[[str, object], None]) -> None:
    key, started, last = key_of_world(wanted.aim, world), time.monotonic(), 0.0

    def seen(tally: Tally) -> None:
        nonlocal last
        if time.monotonic() - last > EVERY:
            last = time.monotonic()
            hand_over(key, (_copied(tally), False, last - started))

    staged = stage(wanted.of, departing(world, wanted.of))
    rehearsing = wanted.aim.rehearsing
    with heard_by(ticket.progress, ticket.check):
        tally = rehearse(staged, rehearsing.times, rehearsing.seed, seen)
    hand_over(key, (tally, True, time.monotonic() - started))


def _copied(tally: Tally) -> Tally:
    """As it is now, while it goes on growing."""
    from copy import deepcopy

    return deepcopy(tally)


def _look_at_one(wanted: Wanted, world: World, hand_over: Callable[[str, object], None]) -> None:
    rehearsing = wanted.aim.rehearsing
    number = min(wanted.number, rehearsing.times)
    staged = stage(wanted.of, departing(world, wanted.of))
    data = data_set(wanted.of, staged, wanted.aim, number, rehearsing.times, rehearsing.seed)
    hand_over(key_of_world(wanted.aim, world), data)


def _search(wanted: Wanted, world: World, hand_over: Callable[[str, object], None]) -> None:
    asked, seed = departing(world, wanted.of), wanted.aim.rehearsing.seed
    found = needed(wanted.of, asked, seed=seed)
    widest = max(wanted.of.answer.total, found.n or 0) * _SPAN[1]
    totals = [float(total) for total in np.linspace(wanted.of.answer.total * _SPAN[0], widest, _DOTS)]
    sizes = at_sizes(wanted.of, asked, totals, _EACH, seed)
    hand_over(key_of_world(wanted.aim, world), (found, tuple(sizes)))
