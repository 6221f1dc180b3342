"""The stage of a rehearsal: the plan that is true, the plan that is analysed by, whom to enrol, and the world."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ragwort.designs import RequestError
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import plain_number
from ragwort.designs.sizes import Enrolment
from ragwort.rehearsal.departures import DEPARTURES, Departing
from ragwort.rehearsal.planned import Planned
from ragwort.stats.simulated import Found, Population

MOST_PEOPLE = 5_000_000  # of one study, that still fit into memory


@dataclass(frozen=True)
class Stage:
    """Everything that a chunk of studies needs."""

    truth: Plan
    analyst: Plan
    sizes: tuple[int, ...]  # drawn, by group
    asked: Departing
    more: float  # enrolled for each one analysed, where people come in clusters

    def world(self, rng: np.random.Generator) -> Population:
        """A world with these random numbers."""
        return Population(
            rng, **{name: each for departure in DEPARTURES for name, each in departure.draws(self.asked).items()}
        )

    def draw(self, rng: np.random.Generator, count: int) -> Any:
        """The data of so many studies."""
        return self.truth.draw(self.sizes, self.world(rng), count)

    def analyse(self, data: Any) -> Found:
        """What an analyst finds in them."""
        with np.errstate(all="ignore"):
            return self.analyst.analyse(data, self.asked["analysis"] or "")

    @property
    def people(self) -> int:
        """How many are drawn for one study."""
        return max(1, math.ceil(sum(self.sizes) * self.more))


def stage(of: Planned, asked: Departing, groups: tuple[int, ...] = ()) -> Stage:
    """The stage for one world, at the planned sizes unless others are given.

    Raises `RequestError` where the world contradicts the plan, or the study is too large.
    """
    truth = _truth(of, asked)
    groups, more = groups or of.answer.groups, 1.0
    if asked["lost"] is not None:
        groups, more = _enrolled(of, groups)
    analyst = of.answer.plan.settled_at(of.answer.sizes())
    for departure in DEPARTURES:
        analyst = departure.analyst(asked, analyst)
    found = Stage(truth, analyst, groups, asked, more)
    if found.people > MOST_PEOPLE:
        raise RequestError(
            "n",
            f"Studies of {plain_number(found.people)} cannot be rehearsed: {plain_number(MOST_PEOPLE)} people at most.",
        )
    return found


def _enrolled(of: Planned, groups: tuple[int, ...]) -> tuple[tuple[int, ...], float]:
    """Whom to draw so that dropout leaves `groups`: more people, more clusters, or more in each (how many times)."""
    lost, clusters = of.design.enrolment(of.values), of.answer.plan.clusters_at(np.array(groups, float)[:, None])
    if not lost.dropout > 0:
        return groups, 1.0
    if clusters and not lost.by_clusters:
        return groups, 1 / (1 - float(lost.dropout))
    return Enrolment(lost.dropout, by_clusters=lost.by_clusters).people(groups, clusters), 1.0


def _truth(of: Planned, asked: Departing) -> Plan:
    """The plan whose assumptions are those of the world."""
    changes = {name: value for each in DEPARTURES for name, value in each.values(asked, of).items()}
    plan = of.design.plan({**of.values, **changes}, "power") if changes else of.answer.plan
    for departure in DEPARTURES:
        plan = departure.truth(asked, of, plan)
    for departure in DEPARTURES:
        departure.refuse_truth(asked, plan)
    return plan
