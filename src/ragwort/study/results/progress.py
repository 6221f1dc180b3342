"""How far along a pilot or a running study is: who has an outcome so far, and how many more each group needs.

It counts people and knows no result: looking at results before the planned number is another matter, and is said.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ragwort.base.patience import Late, within
from ragwort.designs import Answer, design_named
from ragwort.designs.sizes import Enrolment
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import PATIENCE, values_with_defaults
from ragwort.study.words.found import power_text
from ragwort.study.words.naming import cluster_word, names_of
from ragwort.study.words.numbers import count_text, percent_text

PEEKING = (
    "These are counts of people, not results. Testing at this point and again later raises alpha, unless such looks "
    "were planned."
)


@dataclass(frozen=True)
class GroupProgress:
    """One group: how many it needs and has, with an outcome."""

    name: str
    needed: int
    so_far: int
    enrol: int  # to enrol still, dropout allowed for

    @property
    def more(self) -> int:
        """How many more are needed."""
        return max(self.needed - self.so_far, 0)

    @property
    def share(self) -> float:
        """How much of what is needed is there, at most all of it."""
        return min(self.so_far / self.needed, 1.0)


@dataclass(frozen=True)
class Progress:
    """All groups of an aim."""

    stages: tuple[GroupProgress, ...]
    says: tuple[str, ...]  # in words, line by line

    @property
    def more(self) -> int:
        """How many more are needed, all groups together."""
        return sum(stage.more for stage in self.stages)


def stage_names(aim: Aim, answer: Answer) -> tuple[str, ...]:
    """What the groups of an answer are called; everybody together where there is one."""
    if len(answer.groups) == 1:
        return (aim.words.many,)
    design = design_named(aim.design)
    known = names_of(aim, "groups") or aim.words.groups
    return tuple(
        known[at] if at < len(known) and known[at] else f"{design.group_word} {at + 1}"
        for at in range(len(answer.groups))
    )


def progress_of(aim: Aim, answer: Answer) -> Progress:
    """How far along an aim is; groups of which nothing was said have nobody yet."""
    counts = (aim.so_far.counts if aim.so_far is not None else ())[: len(answer.groups)]
    counts = (*counts, *([0] * (len(answer.groups) - len(counts))))
    lost = Enrolment(values_with_defaults(aim).get("dropout", 0.0))
    named = zip(stage_names(aim, answer), answer.groups, counts, strict=True)
    stages = tuple(
        GroupProgress(name, needed, so_far, _more(lost, max(needed - so_far, 0))) for name, needed, so_far in named
    )
    return Progress(stages, _said(aim, answer, stages, float(lost.dropout)))


def _more(lost: Enrolment, still: int) -> int:
    """How many more are recruited so that as many are analysed."""
    return sum(lost.people([still])) if lost.needed else still


def _said(aim: Aim, answer: Answer, stages: tuple[GroupProgress, ...], dropout: float) -> tuple[str, ...]:
    so_far, more = sum(stage.so_far for stage in stages), sum(stage.more for stage in stages)
    needed = sum(stage.needed for stage in stages)
    has = f"{count_text(so_far)} of {count_text(needed)} {aim.words.many} have an outcome so far"
    clusters = _clusters(aim, answer)
    if not more:
        return (f"{has}: every group has what was planned.", *_surplus(stages), *clusters)
    enrol = sum(stage.enrol for stage in stages)
    allowed = (
        f", so recruit {count_text(enrol)} to allow for {percent_text(dropout, 0)} dropout" if enrol > more else ""
    )
    lines = [f"{has}: {count_text(more)} more are needed{allowed}.", *_surplus(stages), *clusters]
    power = power_now(aim, answer, tuple(stage.so_far for stage in stages))
    if power is not None:
        lines.append(f"Ending here would leave {power_text(power, answer.plan.target)} power for the planned effect.")
    return tuple(lines)


def _clusters(aim: Aim, answer: Answer) -> list[str]:
    """Where whole clusters are allocated, people alone do not say how far along a study is."""
    if "clusters" not in answer.n_more:
        return []
    numbers = " and ".join(count_text(number) for number in answer.n_more["clusters"])
    return [
        f"They must come from {numbers} {cluster_word(aim)}, arm by arm: more people in fewer of them are not enough."
    ]


def _surplus(stages: tuple[GroupProgress, ...]) -> list[str]:
    over = [stage.name for stage in stages if stage.so_far > stage.needed]
    if not over or not any(stage.more for stage in stages):
        return []
    return [f"More than planned in {' and '.join(over)} does not make up for fewer elsewhere."]


def power_now(aim: Aim, answer: Answer, counts: tuple[int, ...]) -> float | None:
    """Power for the planned effect at the counts so far; None where it is not defined or would take long."""
    if min(counts) < 2 or design_named(aim.design).clusters:
        return None
    try:
        with np.errstate(invalid="ignore", divide="ignore"), within(PATIENCE):  # too few degrees of freedom: no number
            power = float(answer.plan.power(np.array(counts, dtype=float)[:, None])[0])
    except Late:
        return None
    return power if 0 < power < 1 else None
