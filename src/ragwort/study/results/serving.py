"""Whether one recruitment can serve all aims of a study, so that one total says how many it needs.

It can where the aims count the same unit (people, pairs), allocate the same (people or clusters) to the same arms in
the same ratio, or ask for one sample that any of them can use. Where nobody can derive it, the user can say it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import to_enrol
from ragwort.study.words.naming import cluster_word

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
    asked = [each for each in answered if each[0].role != "exploratory"]
    return all(_go_together(study, one, other) for at, one in enumerate(asked) for other in asked[at + 1 :])


def _go_together(study: Study, one: tuple[Aim, Answer], other: tuple[Aim, Answer]) -> bool:
    """Whether one recruitment can serve two aims, or is said to: that pairs are people nobody can say."""
    first, second = allocation_of(*one), allocation_of(*other)
    said = any({one[0].id, other[0].id} <= set(ids) for ids in study.served_together)
    return first.goes_with(second) or (said and first.unit == second.unit)


def said_of(study: Study) -> bool:
    """Whether the user has said anything on whom the aims share."""
    return study.serving == TOGETHER or bool(study.served_together)


def sayable(found: Sequence[Recruitment]) -> tuple[tuple[Recruitment, Recruitment], ...]:
    """Recruitments of the same unit, two by two: the user may say that they are one."""
    pairs = [(one, other) for at, one in enumerate(found) for other in found[at + 1 :]]
    return tuple((one, other) for one, other in pairs if one.allocation.unit == other.allocation.unit)


def design_effect_of(answered: Answered) -> float | None:
    """The design effect of the study's clusters, which aims of single people would have, too; None without any."""
    found = (answer.details["design_effect"] for _, answer in answered if "design_effect" in answer.details)
    return next(map(float, found), None)


def can_be_said(answered: Answered) -> bool:
    """Whether a user can say that one recruitment serves all: the aims count the same unit."""
    return len({allocation_of(aim, answer).unit for aim, answer in answered if aim.role != "exploratory"}) == 1


def ignore_clusters(answered: Answered) -> tuple[str, list[str]]:
    """What is allocated as a whole somewhere in the study, and the aims that ignore it; empty where none does."""
    found = [(aim, allocation_of(aim, answer)) for aim, answer in answered]
    clusters = next((allocation.clusters for _, allocation in found if allocation.clusters), "")
    return clusters, [aim.name for aim, allocation in found if clusters and not allocation.clusters]


@dataclass(frozen=True)
class Recruitment:
    """Aims that one recruitment can serve, and the one of them that sets its size."""

    aims: tuple[tuple[Aim, Answer], ...]
    leading: tuple[Aim, Answer]
    allocation: Allocation

    @property
    def count(self) -> int:
        """How many are recruited."""
        return to_enrol(self.leading[1])

    @property
    def short(self) -> tuple[tuple[Aim, Answer], ...]:
        """Further aims that would need more: they set no size, as a primary aim does."""
        return tuple((aim, found) for aim, found in self.aims if to_enrol(found) > self.count)


def sets_size(answered: Answered) -> tuple[Aim, Answer]:
    """Of aims that one recruitment serves, the one that sets its size: the largest of the primary ones, if any.

    Raises `ValueError` where there are none.
    """
    told = any(aim.role for aim, _ in answered)
    primary = [each for each in answered if not each[0].role] if told else []
    confirmatory = [each for each in answered if each[0].role != "exploratory"]
    return max(primary or confirmatory or answered, key=lambda each: to_enrol(each[1]))


def recruitments(study: Study, answered: Answered) -> tuple[Recruitment, ...]:
    """The recruitments that a study takes, the one of its primary aims first."""
    parts: list[list[tuple[Aim, Answer]]] = []
    single = serves_all(study, answered)
    for aim, answer in sorted(answered, key=lambda each: _RANKS.get(each[0].role, 0)):
        fitting = (part for part in parts if single or all(_go_together(study, (aim, answer), each) for each in part))
        found = next(fitting, None)
        if found is None:
            parts.append([(aim, answer)])
        else:
            found.append((aim, answer))
    return tuple(_recruitment(part) for part in parts)


_RANKS = {"": 0, "secondary": 1, "exploratory": 2}


def _recruitment(part: Answered) -> Recruitment:
    allocations = [allocation_of(aim, answer) for aim, answer in part]
    allocation = next((each for each in allocations if each.ratio), allocations[0])
    return Recruitment(tuple(part), sets_size(part), allocation)


def how_allocated(found: Recruitment) -> str:
    """What a recruitment allocates: `wards to 2 arms`, `3 groups`, `2 groups, 1 : 1.5`, `one sample`."""
    arms, ratio = len(found.allocation.ratio), found.allocation.ratio
    if not arms:
        return "one sample"
    word = design_named(found.leading[0].design).group_word
    number = f"{arms} {word}s"
    uneven = "" if len(set(ratio)) == 1 else f", {' : '.join(f'{each:g}' for each in ratio)}"
    return f"{found.allocation.clusters} to {number}{uneven}" if found.allocation.clusters else f"{number}{uneven}"
