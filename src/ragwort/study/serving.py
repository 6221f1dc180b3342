"""Whether one recruitment can serve all aims of a study, so that one total says how many it needs.

It can where the aims count the same unit (people, pairs), allocate the same (people or clusters) to the same arms in
the same ratio, or ask for one sample that any of them can use. Where nobody can derive it, the user can say it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.study.model import Aim, Study
from ragwort.study.naming import cluster_word

TOGETHER = "together"  # the user says that the same participants serve all aims
Answered = Sequence[tuple[Aim, Answer]]


@dataclass(frozen=True)
class Allocation:
    """Whom an aim counts, what it allocates, and to which arms."""

    unit: str
    clusters: str  # what is allocated as a whole; empty where people are
    ratio: tuple[float, ...]  # of the arms to the first; empty where any sample will do

    def goes_with(self, other: Allocation) -> bool:
        """Whether one recruitment can serve both."""
        same_arms = not self.ratio or not other.ratio or self.ratio == other.ratio
        return self.unit == other.unit and self.clusters == other.clusters and same_arms


def allocation_of(aim: Aim, answer: Answer) -> Allocation:
    """What an aim recruits."""
    clusters = cluster_word(aim) if design_named(aim.design).clusters else ""
    groups = answer.groups if len(answer.groups) > 1 else ()
    ratio = tuple(round(size / groups[0], 1) for size in groups) if groups else ()
    return Allocation(answer.counted or aim.words.many, clusters, ratio)


def serves_all(study: Study, answered: Answered) -> bool:
    """Whether one recruitment serves every aim that sets a size."""
    if study.serving == TOGETHER and can_be_said(answered):  # pairs that came later are no people
        return True
    asked = [allocation_of(aim, answer) for aim, answer in answered if aim.role != "exploratory"]
    return all(one.goes_with(other) for at, one in enumerate(asked) for other in asked[at + 1 :])


def can_be_said(answered: Answered) -> bool:
    """Whether a user can say that one recruitment serves all: the aims count the same unit."""
    return len({allocation_of(aim, answer).unit for aim, answer in answered if aim.role != "exploratory"}) == 1


def ignore_clusters(answered: Answered) -> tuple[str, list[str]]:
    """What is allocated as a whole somewhere in the study, and the aims that ignore it; empty where none does."""
    found = [(aim, allocation_of(aim, answer)) for aim, answer in answered]
    clusters = next((allocation.clusters for _, allocation in found if allocation.clusters), "")
    return clusters, [aim.name for aim, allocation in found if clusters and not allocation.clusters]
