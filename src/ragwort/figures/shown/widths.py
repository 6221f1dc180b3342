"""Half widths: how wide the intervals of studies of the planned size come out, which the SD of each sample decides."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ragwort.base import patience
from ragwort.designs import Answer, Plan, design_named
from ragwort.figures.scales.quantity import Quantity
from ragwort.figures.shown.rehearsed import Estimates
from ragwort.stats import simulated
from ragwort.study.document.aim import Aim
from ragwort.study.words.numbers import count_text, percent_text

STUDIES = 10_000
_ROUGHLY = 1_000
_FEWEST = 20
_MOST_VALUES = 20_000_000  # that are drawn in all: of large studies fewer are made up
_AT_ONCE = 1_000_000
_BARS = 40
_SEED = 1
_REACH = 1.15  # beyond the widest


def widths_of(aim: Aim, answer: Answer, rough: bool = False) -> Estimates:
    """The half widths of made-up studies at the sizes of an answer, beside the one that is asked for."""
    plan, people = answer.plan, sum(answer.groups)
    studies = min(_ROUGHLY if rough else STUDIES, max(_MOST_VALUES // people, _FEWEST))
    quantity = Quantity(design_named(aim.design).assumption(answer.primary), aim)
    widths, narrow = _drawn(plan, answer.groups, studies)
    widths = quantity.scale * widths
    asked = quantity.scale * float(plan.effect)
    ends = _ends(np.append(widths, asked))
    edges = np.linspace(*ends, _BARS + 1)
    kept, wider = (np.histogram(widths[which], edges)[0] for which in (narrow, ~narrow))
    share = percent_text(float(narrow.mean()), 0)
    words = f"asked for {quantity.text(float(plan.effect))}"
    return Estimates(
        edges=tuple(float(each) for each in edges),
        found=tuple(int(each) for each in kept),
        missed=tuple(int(each) for each in wider),
        replicates=studies,
        truth=asked,
        truth_words=words,
        loud=None,
        loud_words="",
        x_label=f"half width of the interval{f', {quantity.unit}' if quantity.unit else ''}",
        says=f"In {share} of {count_text(studies)} made-up studies the interval is no wider (gold); hatched: wider.",
        success="no wider than asked for",
    )


def _drawn(plan: Plan, groups: tuple[int, ...], studies: int) -> tuple[NDArray[np.float64], NDArray[np.bool_]]:
    """The half width of each study, and whether it is as narrow as asked for."""
    population = simulated.Population(np.random.default_rng(_SEED))
    each = max(1, _AT_ONCE // sum(groups))
    widths, narrow = [], []
    for done in range(0, studies, each):
        patience.check()
        patience.report(done / studies)
        found = plan.analyse(plan.draw(groups, population, min(each, studies - done)))
        assert found.low is not None and found.high is not None
        widths.append((found.high - found.low) / 2)
        narrow.append(found.rejected(float(plan.alpha)))
    return np.concatenate(widths), np.concatenate(narrow)


def _ends(values: NDArray[np.float64]) -> tuple[float, float]:
    """Round the values, with some room."""
    low, high = float(values.min()), float(values.max())
    room = (high - low) * (_REACH - 1) or 0.05 * high or 1.0
    return max(low - room, 0.0), high + room
