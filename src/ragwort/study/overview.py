"""What the whole study needs: the largest enrolment of its aims against the limit."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.designs import Answer
from ragwort.study.model import Study
from ragwort.study.outcome import at_hand, to_enrol


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


def needs_of(study: Study) -> Needs | None:
    """What the study needs; None while no aim has an answer."""
    counted = [(aim, at_hand(aim)) for aim in study.aims]
    answered = [(to_enrol(outcome), aim) for aim, outcome in counted if isinstance(outcome, Answer)]
    if not answered:
        return None
    count, aim = max(answered, key=lambda pair: pair[0])
    return Needs(count, aim.name, aim.id, aim.words.many, study.limit)
