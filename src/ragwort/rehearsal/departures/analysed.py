"""Data that are analysed otherwise than planned."""

from __future__ import annotations

from typing import Any

from typing_extensions import override

from ragwort.base.wording import one_of
from ragwort.designs.assumption import Assumption
from ragwort.designs.refusals import RequestError, said
from ragwort.rehearsal.departures.departure import Asked, Departing, Departure, Say, Word
from ragwort.rehearsal.planned import Planned
from ragwort.study.words.sentence import Piece

_ANALYSIS = Assumption("analysis", "Analysis", "choice", "Sample", "How the data are analysed.", default="")


class OtherAnalysis(Departure):
    """A common mistake of analysis."""

    name, label = "analysis", "another analysis"
    why = "the analysis is another than the one planned"
    slots = (_ANALYSIS,)
    plain = {"analysis": ""}

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        return {"analysis": Word(_ANALYSIS, choices={"": "the planned analysis", **of.plan.wrong_ways})}

    @override
    def barred(self, of: Planned) -> str:
        return "" if of.plan.wrong_ways else "There is no common mistake of analysis for this design here."

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        return of.plan.wrong_ways.get(asked["analysis"] or "", "")

    @override
    def pieces(self, say: Say) -> list[Piece]:
        return [say.choice("analysis")]

    @override
    def check(self, slot: str, value: Any, asked: Asked, of: Planned) -> Any:
        if not isinstance(value, str) or (value and value not in of.plan.wrong_ways):
            ways = one_of(list(of.plan.wrong_ways) or ["no other"])
            raise RequestError("analysis", f"The analysis can be {ways} here, not {said(value)}.")
        return value
