"""What a study's money, time and clusters allow: the most that an aim can enrol, what a design costs and how long."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ragwort.designs import Answer
from ragwort.study.document.aim import Aim, Words
from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Resources
from ragwort.study.results.outcome import clusters_to_enrol, to_enrol
from ragwort.study.words.naming import cluster_word
from ragwort.study.words.numbers import count_text

SLACK = 1e-9  # so much a quotient may fall short of a whole number by rounding


@dataclass(frozen=True)
class Limits:
    """All that limits a study: how many can be had, and what else it has."""

    count: int | None = None  # participants
    has: Resources = field(default_factory=Resources)

    @property
    def any(self) -> bool:
        """Whether there is any limit at all."""
        has = self.has
        months = has.months if has.per_month is not None else None
        return any(each is not None for each in (self.count, has.clusters, has.budget, months))


NO_LIMITS = Limits()


def limits_of(study: Study) -> Limits:
    """What limits a study."""
    return Limits(study.limit, study.resources)


@dataclass(frozen=True)
class Bound:
    """How many can be enrolled at most, and what says so."""

    count: int
    by: str  # `limit`, `clusters`, `budget` or `months`
    words: str  # `the budget of 36 000 €`
    about: bool = False  # as participants of one group or cluster cost more than others


def bounds_of(study: Study, aim: Aim, answer: Answer) -> list[Bound]:
    """What limits the enrolment of an aim, the tightest first; empty where nothing does."""
    if answer.counted:  # how many people that takes is not said
        return []
    found = [_by_limit(study), _by_months(study.resources), _by_clusters(study, aim, answer), _by_budget(study, answer)]
    return sorted((bound for bound in found if bound is not None), key=lambda bound: bound.count)


def limit_of(study: Study, aim: Aim, answer: Answer) -> int | None:
    """How many an aim can enrol at most; None where nothing limits it."""
    bounds = bounds_of(study, aim, answer)
    return bounds[0].count if bounds else None


def _by_limit(study: Study) -> Bound | None:
    return None if study.limit is None else Bound(study.limit, "limit", f"the limit of {count_text(study.limit)}")


def _by_months(has: Resources) -> Bound | None:
    rate = monthly(has)
    if has.months is None or rate is None:
        return None
    count = math.floor(has.months * rate + SLACK)
    return Bound(count, "months", f"{months_in_words(has.months)} of recruitment")


def _by_clusters(study: Study, aim: Aim, answer: Answer) -> Bound | None:
    clusters, most = clusters_of(answer), study.resources.clusters
    if clusters is None or most is None:
        return None
    count = math.floor(most * to_enrol(answer) / clusters + SLACK)
    return Bound(count, "clusters", f"the {count_text(most)} {cluster_word(aim)}")


def _by_budget(study: Study, answer: Answer) -> Bound | None:
    """By the share of each group, and whole clusters of the design's own size."""
    has, cost = study.resources, cost_of(study.resources, answer)
    if has.budget is None or not cost:
        return None
    count = math.floor(has.budget * to_enrol(answer) / cost + SLACK)
    about = len(set(has.costs)) > 1 or bool(has.cluster_cost and clusters_of(answer))
    return Bound(count, "budget", f"the budget of {money_text(has.budget, has)}", about)


def clusters_of(answer: Answer) -> int | None:
    """How many clusters a design has in all; None where people are not in clusters."""
    return clusters_to_enrol(answer) or None


def cost_of(has: Resources, answer: Answer) -> float | None:
    """What a design costs; None where no cost is given, or not for as many groups as it has."""
    enrolled = np.array([answer.enrol or answer.groups], dtype=float)
    clusters = clusters_of(answer)
    found = costs(has, enrolled, None if clusters is None else np.array([float(clusters)]))
    return None if found is None else float(found[0])


def costs(
    has: Resources, enrolled: NDArray[np.float64], clusters: NDArray[np.float64] | None
) -> NDArray[np.float64] | None:
    """The same for many: `enrolled` is rows x groups (NaN where a row has fewer), `clusters` a number a row."""
    each = _each(has, enrolled.shape[1])
    if each is None:
        return None
    found = np.nansum(enrolled * each, axis=1) + 0 * enrolled[:, 0]
    return np.asarray(found if clusters is None else found + clusters * (has.cluster_cost or 0.0))


def _each(has: Resources, groups: int) -> NDArray[np.float64] | None:
    """What one of each group costs."""
    if not has.costs and has.cluster_cost is None:
        return None
    if len(has.costs) > 1 and len(has.costs) != groups:
        return None
    return np.full(groups, has.costs[0]) if len(has.costs) == 1 else np.array(has.costs or [0.0] * groups)


def monthly(has: Resources) -> float | None:
    """How many all centres recruit in a month; None where no rate is given."""
    return None if has.per_month is None else has.per_month * (has.centres or 1)


def months_for(has: Resources, count: int) -> float | None:
    """How long it takes to recruit so many; None where no rate is given."""
    rate = monthly(has)
    return None if rate is None else count / rate


def spent_words(has: Resources, answer: Answer, people: str) -> str:
    """`To recruit 144 staff costs 21 600 € and takes 7.2 months.`, as far as that is known; empty where nothing is."""
    cost, months = cost_of(has, answer), months_for(has, to_enrol(answer))
    said = [] if cost is None else [f"costs {money_text(cost, has)}"]
    said += [] if months is None else [f"takes {months_in_words(rounded_up(months))}"]
    return f"To recruit {people} {' and '.join(said)}." if said else ""


def rounded_up(months: float) -> float:
    """Months to the next tenth."""
    return math.ceil(months * 10 - 1e-6) / 10


def months_in_words(months: float) -> str:
    """`1 month`, `7.2 months`."""
    return f"{amount_text(months)}\u00a0month{'' if months == 1 else 's'}"


def money_text(amount: float, has: Resources) -> str:
    """An amount with its currency."""
    return f"{amount_text(amount)}\u00a0{has.currency}" if has.currency else amount_text(amount)


def amount_text(amount: float) -> str:
    """`36 000`, `12.50`, `7.2`."""
    whole, cents = f"{amount:.2f}".split(".")
    return count_text(int(whole)) if cents == "00" else f"{count_text(int(whole))}.{cents.rstrip('0')}"


def unmatched(has: Resources, answer: Answer) -> str:
    """Why a design has no cost although costs are given; empty where it has one."""
    if len(has.costs) < 2 or len(has.costs) == len(answer.groups):
        return ""
    own = len(answer.groups)
    return f"Costs are given for {len(has.costs)} groups; this aim has {own}: its cost is not known."


def said_of_bounds(bounds: Sequence[Bound], words: Words) -> str:
    """`218 staff at most, by the budget of 36 000 €; 240 by the limit of 240.`"""
    if not bounds:
        return ""
    first, *others = bounds
    counts = [f"{'about ' if each.about else ''}{count_text(each.count)}" for each in bounds]
    rest = "".join(f"; {count} by {each.words}" for count, each in zip(counts[1:], others, strict=True))
    whom = words.one if first.count == 1 else words.many
    return f"{counts[0]} {whom} at most, by {first.words}{rest}."
