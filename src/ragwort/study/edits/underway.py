"""What is known of a study that is under way: typed, or taken from a file."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from ragwort.designs.assumption import Assumption
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Interim
from ragwort.study.document.part import Unreadable
from ragwort.study.edits.common import given, no_edit_of_what_is_gone
from ragwort.study.words.numbers import NumberError, parse

UNDERWAY_NAME = "saying how far the study is"
SEEN_AS = {
    "z": "z",
    "p": "p",
    "estimate": "the estimate and its standard error",
    "summaries": "what is reported of each group",
}
_MOST = 10_000_000


@dataclass(frozen=True)
class Place:
    """Something that is typed."""

    name: str
    asked: Assumption


def _number(name: str, label: str, **bounds: Any) -> Place:
    return Place(name, Assumption(name, label, bounds.pop("kind", "number"), "Looks", "", **bounds))


PLACES = {
    each.name: each
    for each in (
        _number("now", "There now", low=0, open_low=True, high=_MOST),
        _number("z", "z", low=-40, high=40),
        _number("p", "p", low=0, open_low=True, high=1, open_high=True),
        _number("estimate", "Estimate"),
        _number("error", "Standard error", low=0, open_low=True),
        _number("blinded", "Seen", low=0, open_low=True),
        _number("of", "Of how many", kind="count", low=2, high=_MOST),
        _number("beside", "Seen besides", low=0, high=1000),
    )
}
SUMMARIES = {
    f"{each.name}{group}": each
    for group in (1, 2)
    for each in (
        _number("mean", "Mean"),
        _number("sd", "SD", low=0, open_low=True),
        _number("yes", "With the outcome", kind="count", low=0, high=_MOST),
        _number("events", "Events", kind="count", low=0, high=_MOST),
        _number("n", "Of how many", kind="count", low=1, high=_MOST),
    )
}


@no_edit_of_what_is_gone
def type_summary(study: Study, aim_id: str, groups: int, place: str, text: str) -> Edit:
    """Take typed text for one of `SUMMARIES` of an aim of so many groups.

    With the last of how many each group has, so many have come.
    """
    interim = study.aim(aim_id).interim
    changed = interim.typed(place, text, lambda typed: {"summary": _summary(interim, place, typed)})
    sizes = [changed.summary[name] for name in _sizes(groups) if name in changed.summary]
    if place in _sizes(groups) and len(sizes) == groups and not changed.faulty(place):
        changed = changed.readable("now", now=sum(sizes))
    return _with(study, aim_id, changed)


def _sizes(groups: int) -> list[str]:
    return [f"n{group}" for group in range(1, groups + 1)]


def _summary(interim: Interim, place: str, text: str) -> dict[str, float]:
    value = given(SUMMARIES[place].asked, text.strip())
    others = {name: each for name, each in interim.summary.items() if name != place}
    return others if value is None else {**others, place: float(value)}


@no_edit_of_what_is_gone
def type_interim(study: Study, aim_id: str, place: str, text: str) -> Edit:
    """Take typed text for one of `PLACES`, or `before`; empty for nothing; else it is kept beside the last good one."""
    interim = study.aim(aim_id).interim
    read = _before if place == "before" else lambda typed: {place: given(PLACES[place].asked, _plain(place, typed))}
    return _with(study, aim_id, interim.typed(place, text, read))


def _plain(place: str, text: str) -> str:
    """A share may be typed with %."""
    stripped = text.strip()
    if place == "blinded" and stripped.endswith("%"):
        return f"{float(parse(PLACES['blinded'].asked, stripped[:-1])) / 100:.12g}"
    return stripped


def _before(text: str) -> dict[str, Any]:
    counts = []
    for part in text.replace(";", " ").replace(", ", " ").split():
        try:
            counts.append(float(parse(PLACES["now"].asked, part)))
        except NumberError as error:
            raise Unreadable(f"Type how many there were at each look before, as in 40 80. {error}") from error
    if any(later <= earlier for earlier, later in pairwise(counts)):
        raise Unreadable("At each look there must have been more than at the one before.")
    return {"before": tuple(counts[:20])}


@no_edit_of_what_is_gone
def choose_interim(study: Study, aim_id: str, **changes: Any) -> Edit:
    """How the comparison is stated, in which direction it points, whether an SD is adjusted, or what a file gave."""
    return _with(study, aim_id, study.aim(aim_id).interim.changed(**changes))


def _with(study: Study, aim_id: str, interim: Interim) -> Edit:
    return Edit(UNDERWAY_NAME, study.with_aim(study.aim(aim_id).changed(interim=interim)))
