"""Interim analyses that come at other times than planned."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from typing_extensions import override

from ragwort.base.wording import one_of
from ragwort.designs.assumption import Assumption
from ragwort.designs.looks import LookedPlan
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError, said
from ragwort.rehearsal.departures.departure import Asked, Departing, Departure, Say, Word
from ragwort.rehearsal.planned import Planned
from ragwort.study.words.sentence import Piece

_TIMING = Assumption("timing", "Timing of looks", "choice", "Looks", "When the data are really looked at.", default="")
_PART = 0.5  # of the way to the look before, or to the one after, that a look comes early or late
_WORDS = {
    "": "looks as planned",
    "early": "looks early, alpha spent as due",
    "late": "looks late, alpha spent as due",
    "early-kept": "looks early at the planned boundaries",
    "late-kept": "looks late at the planned boundaries",
}


class OtherTimes(Departure):
    """Looks come early or late; boundaries follow what is due by then, or stay as they were planned."""

    name, label = "timing", "looks at other times"
    why = "the looks come at other times than planned"
    slots = (_TIMING,)
    plain = {"timing": ""}

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        return {"timing": Word(_TIMING, choices=_WORDS)}

    @override
    def barred(self, of: Planned) -> str:
        plan = of.plan
        return "" if isinstance(plan, LookedPlan) and plan.looks is not None else "No interim analyses are planned."

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        return _WORDS[asked["timing"]] if asked["timing"] else ""

    @override
    def pieces(self, say: Say) -> list[Piece]:
        return [say.choice("timing")]

    @override
    def check(self, slot: str, value: Any, asked: Asked, of: Planned) -> Any:
        if value not in _WORDS:
            raise RequestError(
                "timing", f"Looks can be {one_of([each for each in _WORDS if each])}, not {said(value)}."
            )
        return value

    @override
    def usual(self, of: Planned) -> dict[str, Asked]:
        return {"looks-late": {"timing": "late"}}

    @override
    def analyst(self, asked: Departing, plan: Plan) -> Plan:
        timing = asked["timing"]
        if not timing or not isinstance(plan, LookedPlan) or plan.looks is None:
            return plan
        when = _moved(plan.looks.fractions, early=timing.startswith("early"))
        if timing.endswith("kept"):
            return plan.replace(taken_at=when)
        return plan.replace(looks=replace(plan.looks, fractions=when))


def _moved(fractions: tuple[float, ...], early: bool) -> tuple[float, ...]:
    """Each look but the last nearer to the one before, or to the one after."""
    ends = (0.0, *fractions)
    near = ends[:-2] if early else ends[2:]
    return (*(t + _PART * (end - t) for t, end in zip(fractions[:-1], near, strict=True)), 1.0)
