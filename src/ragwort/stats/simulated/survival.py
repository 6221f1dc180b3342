"""Times until an event in two arms, and the log-rank test.

Source: Collett, *Modelling Survival Data in Medical Research* (2nd ed., 2003), sections 2.5 and 3.3.
"""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.found import Found, Level, divided
from ragwort.stats.simulated.population import Population

_ROUNDS = 12  # of Newton's method
_FURTHEST = 20.0  # log hazard ratio


@dataclass(frozen=True)
class Times:
    """How long each participant was watched and whether the event came (studies x participants); arm 1 stands first.

    A lost participant was watched for no time.
    """

    time: Array
    event: Array
    arms: tuple[int, int]
    entry: Array | None = None  # when each came, where they do not all come at once

    def until(self, share: float) -> Times:
        """As it is at the calendar time of the event that is due, of those that come in all. See `early.InOrder`."""
        entry = np.zeros_like(self.time) if self.entry is None else self.entry
        seen = np.where(self.event > 0, entry + self.time, np.inf)
        due = np.ceil(share * self.event.sum(axis=1) - 1e-9).astype(int)
        ordered = np.sort(seen, axis=1)
        now = np.take_along_axis(ordered, np.maximum(due - 1, 0)[:, None], axis=1)
        watched = np.clip(now - entry, 0.0, None)
        time = np.minimum(self.time, watched)
        return Times(time, np.where(self.time <= watched, self.event, 0.0), self.arms, entry)

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant; lost ones are NaN."""
        group = np.repeat([0.0, 1.0], self.arms)
        there = self.time[number] > 0
        time, event = (np.where(there, each[number], np.nan) for each in (self.time, self.event))
        return {"group": group, "outcome": time, "event": event}


def draw_times(
    population: Population,
    count: int,
    arms: tuple[int, int],
    hazard: float,
    log_ratio: float,
    plan: tuple[float, float, float],
) -> Times:
    """Exponential times, with even entry, the end of the study and losses; `plan`: accrual, follow-up, loss.

    An infinite follow-up watches everybody until the event.
    """
    accrual, follow_up, loss = plan
    n = sum(arms)
    second = np.broadcast_to(population.taken(log_ratio, (count, arms[1])), (count, arms[1]))
    own = np.concatenate([np.zeros((count, arms[0])), second], axis=1)
    until = population.rng.exponential(1.0, (count, n)) / (hazard * np.exp(own))
    left_to_enter = population.rng.random((count, n))
    watched = follow_up + accrual * left_to_enter
    if loss > 0:
        watched = np.minimum(watched, population.rng.exponential(1 / loss, (count, n)))
    time, event = np.minimum(until, watched), (until <= watched).astype(float)
    kept = population.kept(np.log(np.maximum(until * hazard, 1e-12)))
    if kept is not None:
        time, event = np.where(kept, time, 0.0), np.where(kept, event, 0.0)
    return Times(time, event, arms, accrual * (1 - left_to_enter) if accrual else None)


def analyse_times(data: Times, level: Level) -> Found:
    """The log-rank test; the estimate is the log hazard ratio of Cox's model, its interval by its information."""
    ones, twos, second, event = _at_risk(data)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.where(ones + twos > 0, twos / np.maximum(ones + twos, 1), 0.0)
    gap = (event * (second - share)).sum(axis=1)
    spread = (event * share * (1 - share)).sum(axis=1)
    told = spread > 0
    tested = level.z(np.where(told, gap, np.nan), np.sqrt(np.where(told, spread, np.nan)))
    ratio, error = _fitted(ones, twos, second, event)
    plain = level.z(ratio, error)
    return Found(tested.p, ratio, tested.statistic, plain.low, plain.high)


def _at_risk(data: Times) -> tuple[Array, Array, Array, Array]:
    """In the order of time: how many of each arm were at risk, who is of arm 2, and whose event came."""
    order = np.argsort(data.time, axis=1)
    group = np.repeat([0.0, 1.0], data.arms)[order]
    event = np.take_along_axis(data.event, order, axis=1)
    twos = np.cumsum(group[:, ::-1], axis=1)[:, ::-1]
    ones = np.cumsum((1 - group)[:, ::-1], axis=1)[:, ::-1]
    return ones, twos, group, event


def _fitted(ones: Array, twos: Array, second: Array, event: Array) -> tuple[Array, Array]:
    beta = np.zeros(len(event))
    for _ in range(_ROUNDS):
        weighted = twos * np.exp(beta)[:, None]
        share = weighted / np.maximum(ones + weighted, 1e-300)
        score = (event * (second - share)).sum(axis=1)
        information = (event * share * (1 - share)).sum(axis=1)
        beta = np.clip(beta + np.clip(divided(score, information), -2, 2), -_FURTHEST, _FURTHEST)
    with np.errstate(divide="ignore"):
        return beta, np.sqrt(1 / information)
