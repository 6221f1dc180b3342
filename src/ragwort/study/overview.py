"""What the whole study needs: the largest enrolment of its aims against the limit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ragwort.designs import Answer
from ragwort.study.model import Aim, Study
from ragwort.study.outcome import Outcome, at_hand, to_enrol


@dataclass(frozen=True)
class Needs:
    """How many participants the study must enrol, and which aim says so."""

    count: int
    aim_name: str
    aim_id: str
    many: str
    limit: int | None

    @property
    def spare(self) -> int | None:
        """Participants left under the limit (negative where it is exceeded); None without a limit."""
        return None if self.limit is None else self.limit - self.count


def needs_of(study: Study, outcome: Callable[[Aim], Outcome] = at_hand) -> Needs | None:
    """What the study needs by the outcomes of its aims; None while none has an answer."""
    counted = [(aim, outcome(aim)) for aim in study.aims]
    answered = [(to_enrol(found), aim) for aim, found in counted if isinstance(found, Answer)]
    if not answered:
        return None
    count, aim = max(answered, key=lambda pair: pair[0])
    return Needs(count, aim.name, aim.id, aim.words.many, study.limit)
