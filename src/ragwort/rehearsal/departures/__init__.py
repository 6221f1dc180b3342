"""How a rehearsed world may depart from the plan. Each departure is declared once: what it asks for, which designs
can take it, what it changes in the draws, in the true values or in the analysis, and how it is said.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ragwort.base.wording import one_of
from ragwort.designs.refusals import RequestError, said
from ragwort.rehearsal.departures.analysed import OtherAnalysis
from ragwort.rehearsal.departures.assumed import NONE, Alike, ClusterSizes, TrueEffect
from ragwort.rehearsal.departures.departure import Asked, Departing, Departure, Say, Word
from ragwort.rehearsal.departures.outcomes import Apart, OtherShape
from ragwort.rehearsal.departures.people import Idle, Lost
from ragwort.rehearsal.departures.timing import OtherTimes
from ragwort.rehearsal.planned import Planned

DEPARTURES: tuple[Departure, ...] = (
    OtherShape(),
    Apart(),
    Lost(),
    Idle(),
    Alike(),
    ClusterSizes(),
    TrueEffect(),
    OtherTimes(),
    OtherAnalysis(),
)  # in the order in which a sentence says them

__all__ = [
    "DEPARTURES",
    "NONE",
    "Asked",
    "Departing",
    "Departure",
    "Say",
    "Word",
    "departure_of",
    "in_words",
    "read",
    "takes",
    "what_departs",
    "words_of",
]


def takes(of: Planned) -> list[Departure]:
    """The departures that a design can take."""
    return [each for each in DEPARTURES if not each.barred(of)]


def departure_of(slot: str, of: Planned) -> Departure | None:
    """The departure that asks for a slot."""
    return next((each for each in DEPARTURES if slot in _slots(each, of)), None)


def _slots(departure: Departure, of: Planned) -> list[str]:
    return list(dict.fromkeys([*(each.name for each in departure.slots), *departure.words(of, {})]))


def words_of(of: Planned, asked: Asked) -> dict[str, Word]:
    """Every word of a world's sentence, by slot."""
    return {slot: word for each in DEPARTURES for slot, word in each.words(of, asked).items()}


def read(asked: Mapping[str, Any], of: Planned) -> Departing:
    """What is asked, as parsed from JSON, checked. Raises `RequestError` that names what is wrong."""
    if not isinstance(asked, Mapping):
        raise RequestError("departures", f"A departure is an object of names and values, not {said(asked)}.")
    checked = {name: _checked(str(name), value, asked, of) for name, value in asked.items() if name != "name"}
    found = Departing(str(asked.get("name", "")), what_departs(checked))
    for departure in DEPARTURES:
        if departure.says(found, of) and (why := departure.barred(of)):
            raise RequestError(_slots(departure, of)[0], f"This design cannot have {departure.label}. {why}")
        departure.refuse(found, of)
    return found


def what_departs(asked: Asked) -> dict[str, Any]:
    """Only what is otherwise than planned."""
    plain = {slot: value for each in DEPARTURES for slot, value in each.plain.items()}
    return {slot: value for slot, value in asked.items() if value is not None and value != plain.get(slot)}


def _checked(slot: str, value: Any, asked: Asked, of: Planned) -> Any:
    departure = departure_of(slot, of)
    if departure is None:
        known = [name for each in DEPARTURES for name in _slots(each, of)]
        raise RequestError(slot, f"There is no departure {said(slot)}; there is {one_of(known)}.")
    return departure.check(slot, value, asked, of)


def in_words(asked: Departing, of: Planned) -> str:
    """The world in words: `skewed outcomes (lognormal, skewness 2), 15% lost`; `as planned` where nothing departs."""
    parts = [words for departure in DEPARTURES if (words := departure.says(asked, of))]
    return ", ".join(parts) or "as planned"
