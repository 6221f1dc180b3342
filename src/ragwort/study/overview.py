"""What the whole study needs: the largest enrolment of its aims against the limit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ragwort.designs import Answer
from ragwort.study.model import Aim, Setting, Study
from ragwort.study.outcome import Outcome, at_hand, to_enrol
from ragwort.study.resources import Bound, bounds_of


@dataclass(frozen=True)
class Needs:
    """How many participants the study must enrol, and which aim says so."""

    count: int
    aim_name: str
    aim_id: str
    many: str
    spare: int | None  # left under the tightest limit of any aim, negative where it is exceeded; None without one
    bound: Bound | None  # that limit


def needs_of(study: Study, outcome: Callable[[Aim, Setting | None], Outcome] = at_hand) -> Needs | None:
    """What the study needs by the outcomes of its aims as planned; None while none has an answer."""
    counted = [(aim, outcome(aim, aim.planned_scenario)) for aim in study.aims]
    answered = [(to_enrol(found), aim) for aim, found in counted if isinstance(found, Answer)]
    if not answered:
        return None
    count, aim = max(answered, key=lambda pair: pair[0])
    spare, bound = _tightest(study, counted)
    return Needs(count, aim.name, aim.id, aim.words.many, spare, bound)


def _tightest(study: Study, counted: list[tuple[Aim, Outcome]]) -> tuple[int | None, Bound | None]:
    """How many are left under the limit that leaves the fewest, and which that is."""
    found = [
        (bounds[0].count - to_enrol(answer), at, bounds[0])
        for at, (aim, answer) in enumerate(counted)
        if isinstance(answer, Answer) and (bounds := bounds_of(study, aim, answer))
    ]
    spare, _, bound = min(found, key=lambda each: each[:2]) if found else (None, 0, None)
    return spare, bound
