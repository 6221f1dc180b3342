"""What each row of a grid costs, how long it takes to recruit, and which of the study's limits it breaks."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ragwort.grid.work import Results
from ragwort.study.results.resources import Limits, costs, money_text, monthly, months_in_words, rounded_up
from ragwort.study.words.naming import cluster_word
from ragwort.study.words.numbers import MINUS, count_text

Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class Use:
    """Of one resource, how much each row takes, how much there is, and what too much is called."""

    used: Numbers
    most: float
    over: str  # `{} too many`, with the excess put in

    @property
    def room(self) -> Numbers:
        """What is left, as a share of what there is; negative where it is not enough."""
        return (self.most - self.used) / self.most


def cost_by_row(results: Results, limits: Limits) -> Numbers | None:
    """What each row costs; None where that is not known."""
    if results.asked.which is not None and limits.has.cluster_cost:
        return None  # the rows of several designs do not all tell how many clusters they have
    return costs(limits.has, results.enrolled, clusters_by_row(results))


def months_by_row(results: Results, limits: Limits) -> Numbers | None:
    """How long each row takes to recruit; None where no rate is given."""
    rate = monthly(limits.has)
    return None if rate is None else np.asarray(results.enrol / rate)


def clusters_by_row(results: Results) -> Numbers | None:
    """How many clusters each row has; None where people do not come in clusters of one known size."""
    asked = results.asked
    size = asked.columns.get("cluster_size", asked.values.get("cluster_size"))
    if not asked.design.clusters or size is None or asked.which is not None:
        return None
    each = results.groups / np.reshape(np.asarray(size, dtype=float), (-1, 1))
    return np.asarray(np.nansum(np.ceil(each - 1e-9), axis=1) + 0 * results.enrol)


def uses(results: Results, limits: Limits) -> list[Use]:
    """What is limited and known of each row."""
    has = limits.has
    cost, months, clusters = cost_by_row(results, limits), months_by_row(results, limits), clusters_by_row(results)
    known = [
        (results.enrol, limits.count, "too many"),
        (clusters, has.clusters, f"{cluster_word(results.asked.aim)} too many"),
        (cost, has.budget, "over budget"),
        (months, has.months, "too long"),
    ]
    return [Use(used, most, over) for used, most, over in known if used is not None and most is not None]


def beyond(results: Results, limits: Limits) -> NDArray[np.bool_]:
    """The rows that need more than can be had of anything."""
    found = [each.used > each.most * (1 + 1e-12) for each in uses(results, limits)]
    return np.any(found, axis=0) if found else np.zeros(results.asked.count, dtype=bool)


def room(results: Results, limits: Limits) -> Numbers:
    """By row what is left: of participants where nothing else is limited, otherwise the least share of anything."""
    known = uses(results, limits)
    if limits.count is not None and len(known) == 1:
        return np.asarray(limits.count - results.enrol)
    return np.min([each.room for each in known], axis=0) if known else np.full(results.asked.count, math.nan)


def room_words(results: Results, limits: Limits, row: int) -> str:
    """`+96` or `−5` where only participants are limited; `5 too many, 3 000 € over budget`, `96 to spare`, `fits`."""
    if limits.count is not None and len(uses(results, limits)) == 1:
        left = int(limits.count - results.enrol[row])
        return f"{'+' if left >= 0 else MINUS}{count_text(abs(left))}"
    said = [_excess(each, limits, row) for each in uses(results, limits) if each.used[row] > each.most * (1 + 1e-12)]
    if said:
        return ", ".join(said)
    if limits.count is None:
        return "fits"
    return f"{count_text(int(limits.count - results.enrol[row]))} to spare"


def _excess(use: Use, limits: Limits, row: int) -> str:
    more = float(use.used[row] - use.most)
    if use.over == "over budget":
        return f"{money_text(more, limits.has)} {use.over}"
    if use.over == "too long":
        return f"{months_in_words(rounded_up(more))} {use.over}"
    return f"{count_text(int(more))} {use.over}"
