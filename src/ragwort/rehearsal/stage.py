"""The stage of a rehearsal: the plan that is true, the plan that is analysed by, whom to enrol, and the world."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ragwort.designs import Answer, Design, RequestError, settle
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import number_text
from ragwort.designs.request import values_in_force
from ragwort.designs.sizes import Enrolment
from ragwort.rehearsal.departures import NONE, Departing, Rehearsed, correlated
from ragwort.stats.studies import Found, World

MOST_PEOPLE = 5_000_000  # of one study, that still fit into memory
_BARELY = 1 + 1e-12  # rounding
_RELATION = {"random": 0, "high": 1, "low": -1}


@dataclass(frozen=True, eq=False)
class Planned:
    """A design with every assumption settled, also the one that was found. One is equal to itself only."""

    design: Design
    values: dict[str, Any]
    answer: Answer
    unit: str = ""
    label: str = ""  # of the primary effect in the study's own words; the design's where empty

    @property
    def rehearsed(self) -> Rehearsed:
        """As departures are asked about it."""
        primary = self.design.assumption(self.answer.primary)
        named = replace(primary, label=self.label) if self.label else primary
        return Rehearsed(self.answer.plan, self.values, named, self.unit)


def planned(
    design: Design,
    find: str,
    assumptions: Mapping[str, Any],
    unit: str = "",
    label: str = "",
    known: Answer | None = None,
) -> Planned:
    """Settle what is to be rehearsed, unless the answer is `known` already. Raises `RequestError`."""
    answer = settle(design, find, assumptions) if known is None else known
    values, _ = values_in_force(design, find, assumptions)
    if find == "effect":
        values = {**values, answer.primary: answer.answer}
    elif find != "n":
        values = {**values, find: answer.answer}
    return Planned(design, values, answer, unit, label)


@dataclass(frozen=True)
class Stage:
    """Everything that a chunk of studies needs."""

    truth: Plan
    analyst: Plan
    sizes: tuple[int, ...]  # drawn, by group
    asked: Departing
    more: float  # enrolled for each one analysed, where people come in clusters

    def world(self, rng: np.random.Generator) -> World:
        """A world with these random numbers."""
        asked = self.asked
        lost, related = asked.lost, _RELATION[asked.related]
        return World(rng, asked.drawn_shape(), asked.apart, lost, related, self.more, asked.idle)

    def draw(self, rng: np.random.Generator, count: int) -> Any:
        """The data of so many studies."""
        return self.truth.draw(self.sizes, self.world(rng), count)

    def analyse(self, data: Any) -> Found:
        """What an analyst finds in them."""
        with np.errstate(all="ignore"):
            return self.analyst.analyse(data, self.asked.analysis)

    @property
    def people(self) -> int:
        """How many are drawn for one study."""
        return max(1, math.ceil(sum(self.sizes) * self.more))


def stage(of: Planned, asked: Departing, groups: tuple[int, ...] = ()) -> Stage:
    """The stage for one world, at the planned sizes unless others are given.

    Raises `RequestError` where the world contradicts the plan, or the study is too large.
    """
    truth = _truth(of, asked)
    _refuse_bounds(of, asked, truth)
    groups, more = groups or of.answer.groups, 1.0
    if asked.lost is not None:
        groups, more = _enrolled(of, groups)
    found = Stage(truth, of.answer.plan, groups, asked, more)
    if found.people > MOST_PEOPLE:
        raise RequestError(
            "n",
            f"Studies of {number_text(found.people)} cannot be rehearsed: {number_text(MOST_PEOPLE)} people at most.",
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
    plan, changes = of.answer.plan, _true_values(of, asked)
    if changes:
        plan = of.design.plan({**of.values, **changes}, "power")
    if asked.effect is None:
        return plan
    if asked.effect == NONE:
        return with_effect(plan, plan.at_null)
    effect = _stated(of, float(asked.effect)) - float(np.ravel(getattr(plan, "edge", 0.0))[0])
    if not plan.furthest(False) * _BARELY <= effect <= plan.furthest(True) * _BARELY:
        name, value = of.rehearsed.primary.label.lower(), number_text(float(asked.effect))
        raise RequestError(
            "effect", f"A true effect of {value} ({name}) contradicts the other assumptions: it is too large."
        )
    return with_effect(plan, effect)


def _stated(of: Planned, primary: float) -> float:
    """The effect of a plan whose primary effect is this."""
    gone = of.design.effect_names() - of.design.stands_alone
    values = {name: value for name, value in of.values.items() if name not in gone}
    beside = _beside(of.design, of.answer.primary) - set(values)
    if beside:  # stated in another way: of four cells one
        values |= {name: value for name, value in of.design.in_other_words(of.values).items() if name in beside}
    return float(of.design.stated_effect({**values, of.answer.primary: primary}))


def _beside(design: Design, primary: str) -> set[str]:
    """What is stated together with the primary effect."""
    way = next((way for ways in design.ways for way in ways if primary in way.names), None)
    return set() if way is None else {name for name in way.names if name != primary}


def with_effect(plan: Plan, effect: float) -> Plan:
    """The plan with another effect; means and several terms keep their pattern."""
    changes: dict[str, Any] = {"effect": effect}
    share = effect / float(plan.effect) if plan.effect else 0.0
    means, terms = getattr(plan, "means", ()), getattr(plan, "terms", ())
    if means:
        centre = sum(means) / len(means)
        changes["means"] = tuple(centre + share * (mean - centre) for mean in means)
    if terms:
        changes["terms"] = tuple(term.replace(effect=share * float(term.effect)) for term in terms)
    return plan.replace(**changes)


def _true_values(of: Planned, asked: Departing) -> dict[str, Any]:
    changes: dict[str, Any] = {}
    if asked.alike is not None and (name := correlated(of.values)):
        changes[name] = _within(of, name, asked.alike * of.values[name])
    if asked.cv is not None:
        changes["cluster_size_cv"] = asked.cv
    return changes


def _within(of: Planned, name: str, value: float) -> float:
    assumption = of.design.assumption(name)
    if not assumption.allows(value):
        wrong = f"{assumption.label} would be {number_text(value)}, but must be {assumption.allowed()}."
        raise RequestError("alike", wrong)
    return value


def _refuse_bounds(of: Planned, asked: Departing, truth: Plan) -> None:
    if asked.shape != "bounded":
        return
    unit = float(getattr(truth, "sd1", getattr(truth, "sd", 1.0)))
    centre = float(truth.effect) / unit if hasattr(truth, "sd1") or hasattr(truth, "sd") else float(truth.effect)
    for mean in (0.0, centre):
        if why := asked.drawn_shape().room(mean, asked.apart or 1.0):
            raise RequestError("shape", f"Such a scale cannot be had: {why}.")
