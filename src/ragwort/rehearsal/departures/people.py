"""People who are lost, or who take no part."""

from __future__ import annotations

from typing import Any

from typing_extensions import override

from ragwort.designs.assumption import Assumption, Choice
from ragwort.designs.refusals import plain_percent
from ragwort.rehearsal.departures.departure import Asked, Departing, Departure, Say, Word
from ragwort.rehearsal.planned import Planned
from ragwort.study.words.sentence import Piece

_LOST = Assumption(
    "lost",
    "Lost",
    "share",
    "Sample",
    "The share of those recruited whose outcome is missing in the end; the plan's own dropout is part of it.",
    low=0,
    high=1,
    open_high=True,
)
_RELATED = Assumption(
    "related",
    "Who is lost",
    "choice",
    "Sample",
    "Whether loss goes with the outcome: with an outcome one SD higher, the odds of being lost are 2.7 times as large, "
    "or as small.",
    default="random",
    choices=(
        Choice("random", "at random", "at random"),
        Choice("high", "more of those with high outcomes", "mostly high"),
        Choice("low", "more of those with low outcomes", "mostly low"),
    ),
)
_RELATION = {"random": 0, "high": 1, "low": -1}
_IDLE = Assumption(
    "idle",
    "Not taking part",
    "share",
    "Sample",
    "The share of every group but the first that gets nothing new, and is analysed all the same.",
    low=0,
    high=1,
)


class Lost(Departure):
    """Outcomes that are missing in the end."""

    name, label = "lost", "people lost"
    why = "other people are analysed than the plan counts on"
    slots = (_LOST, _RELATED)
    plain = {"related": _RELATED.default}

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        related = {each.value: each.label for each in _RELATED.choices}
        return {"lost": Word(_LOST, "nobody", first=0.15), "related": Word(_RELATED, choices=related)}

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        if asked["lost"] is None:
            return ""
        who = {"high": ", mostly those with high outcomes", "low": ", mostly those with low outcomes"}
        return f"{plain_percent(asked['lost'])} lost{who.get(asked['related'], '')}"

    @override
    def pieces(self, say: Say) -> list[Piece]:
        found = [say.value("lost"), Piece("text", " lost")]
        return [*found, Piece("text", " "), say.choice("related")] if say.asks("lost") else found

    @override
    def goes_with(self, slot: str, value: Any) -> tuple[str, ...]:
        return ("related",) if slot == "lost" and value is None else ()

    @override
    def usual(self, of: Planned) -> dict[str, Asked]:
        return {"lost": {"lost": 0.15}}

    @override
    def draws(self, asked: Departing) -> dict[str, Any]:
        return {"lost": asked["lost"], "related": _RELATION[asked["related"] or "random"]}


class Idle(Departure):
    """People who get nothing new."""

    name, label = "idle", "people who take no part"
    why = "those who take no part dilute the effect"
    slots = (_IDLE,)
    plain = {"idle": 0.0}

    @override
    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        return {"idle": Word(_IDLE, "everybody", first=0.1)}

    @override
    def barred(self, of: Planned) -> str:
        there = "arms" in of.plan.traits and of.plan.has_test
        return "" if there else "There is no group that gets something new, whose effect could be missed."

    @override
    def says(self, asked: Departing, of: Planned) -> str:
        return f"{plain_percent(asked['idle'])} taking no part" if asked["idle"] else ""

    @override
    def pieces(self, say: Say) -> list[Piece]:
        return [say.value("idle"), Piece("text", " taking no part" if say.asks("idle") else " taking part")]

    @override
    def usual(self, of: Planned) -> dict[str, Asked]:
        return {"idle": {"idle": 0.1}}

    @override
    def draws(self, asked: Departing) -> dict[str, Any]:
        return {"idle": asked["idle"] or 0.0}
