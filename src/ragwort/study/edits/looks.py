"""Interim analyses: how many, when, and what each may spend; a boundary or an amount of one's own makes both own."""

from __future__ import annotations

from typing import Any

from ragwort.designs import Answer, design_named
from ragwort.designs.looks import FRACTIONS, Course
from ragwort.designs.looks.reading import fractions_in
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.files.numerals import typed_number
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.part import Unreadable
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.results.looks import course_of
from ragwort.study.results.outcome import soon, values_with_defaults
from ragwort.study.words.looks import MOST_LOOKS, read_looks

LOOKS_NAME = "planning interim analyses"
_SPENT, _SPENDING, _WHEN = "spent", "spending", FRACTIONS.name
_APART = 0.02  # of the way between its neighbours, that a look keeps from either
_DIGITS = 6  # of shares and amounts that were worked out


@no_edit_of_what_is_gone
def type_looks(study: Study, aim_id: str, text: str) -> Edit:
    """Take typed text as the looks: how many, or after which shares or counts; else it is kept beside the last good."""
    aim = study.aim(aim_id)
    entry = aim.entry(_WHEN).typed("value", text, lambda typed: {"value": _checked(read_looks(typed, _total(aim)))})
    if entry.fault:
        return _with(study, aim, {_WHEN: entry})
    return plan_looks(study, aim_id, entry.value)


@no_edit_of_what_is_gone
def plan_looks(study: Study, aim_id: str, fractions: Any) -> Edit:
    """Look after these shares of the information; None: only at the end. Own amounts are spent as evenly as before."""
    aim = study.aim(aim_id)
    before, own = _fractions(aim), _numbers(aim, _SPENT)
    entries: dict[str, Entry | None] = {_WHEN: None if fractions is None else _given(fractions)}
    if own and len(own) == len(before) and fractions is not None:
        entries[_SPENT] = _given([_between(t, before, own) for t in fractions])
    return _with(study, aim, entries)


@no_edit_of_what_is_gone
def add_look(study: Study, aim_id: str) -> Edit:
    """One more interim analysis, in the middle of the longest time without one."""
    fractions = _fractions(study.aim(aim_id)) or [1.0]
    if len(fractions) >= MOST_LOOKS:
        return Edit(LOOKS_NAME, study)
    ends = [0.0, *fractions]
    at = max(range(len(fractions)), key=lambda each: ends[each + 1] - ends[each])
    between = float(f"{(ends[at] + ends[at + 1]) / 2:.{_DIGITS}g}")
    return plan_looks(study, aim_id, sorted([*fractions, between]))


@no_edit_of_what_is_gone
def remove_look(study: Study, aim_id: str, at: int) -> Edit:
    """One look less; without any the study has one analysis at its end."""
    fractions = _fractions(study.aim(aim_id))
    left = [t for each, t in enumerate(fractions) if each != at]
    return plan_looks(study, aim_id, left if len(left) > 1 and at < len(fractions) - 1 else None)


@no_edit_of_what_is_gone
def move_look(study: Study, aim_id: str, at: int, fraction: float) -> Edit:
    """A look at another share of the information, between its neighbours; own amounts stay with their looks."""
    aim = study.aim(aim_id)
    fractions = _fractions(aim)
    if not 0 <= at < len(fractions) - 1:
        return Edit(LOOKS_NAME, study)
    return _with(study, aim, {_WHEN: _given(moved_fractions(fractions, at, fraction))})


def moved_fractions(fractions: list[float], at: int, fraction: float) -> list[float]:
    """Looks with one of them elsewhere, between its neighbours."""
    ends = [0.0, *fractions]
    room = _APART * (ends[at + 2] - ends[at])
    moved = min(max(fraction, ends[at] + room), ends[at + 2] - room)
    return [*fractions[:at], float(f"{moved:.4g}"), *fractions[at + 1 :]]


@no_edit_of_what_is_gone
def type_look(study: Study, aim_id: str, at: int, text: str) -> Edit:
    """Take typed text as when one look is: a share, per cent, or a count of what it comes after."""
    aim = study.aim(aim_id)

    def read(typed: str) -> dict[str, Any]:
        fraction = _number(typed, "a share of the information, or how many there are by then", _total(aim))
        fractions = _fractions(aim)
        fractions[at] = fraction
        return {"value": _checked(fractions)}

    return _with(study, aim, {_WHEN: aim.entry(_WHEN).typed(f"after {at}", text, read)})


@no_edit_of_what_is_gone
def type_spent(study: Study, aim_id: str, at: int, text: str) -> Edit:
    """Take typed text as the alpha spent up to one look; spending becomes own."""
    aim = study.aim(aim_id)
    return _own(study, aim, at, f"spent {at}", text, lambda course: _number(text, "an alpha spent, such as 0.01"))


@no_edit_of_what_is_gone
def type_boundary(study: Study, aim_id: str, at: int, text: str, scale: str = "z") -> Edit:
    """Take typed text as the boundary of one look, as `z`, `p` or the `effect` itself; spending becomes own."""
    aim = study.aim(aim_id)

    def spent(course: Course) -> float:
        value = _number(text, {"z": "a z such as 2.5", "p": "a p such as 0.01"}.get(scale, "an effect"))
        z = course.z_of(value, scale, at)
        if z is None:
            raise Unreadable(f"{plain_number(value)} is no boundary for efficacy: type one on the side of the effect.")
        return course.spent_with(at, z)

    return _own(study, aim, at, f"{scale} {at}", text, spent)


@no_edit_of_what_is_gone
def scale_spent(study: Study, aim_id: str) -> Edit:
    """Own amounts, each as large a part of alpha as before, after alpha has changed."""
    aim = study.aim(aim_id)
    spent, alpha = _numbers(aim, _SPENT), float(values_with_defaults(aim)["alpha"])
    if not spent or spent[-1] <= 0:
        return Edit(LOOKS_NAME, study)
    scaled = [float(f"{each * alpha / spent[-1]:.{_DIGITS}g}") for each in spent[:-1]] + [alpha]
    return _with(study, aim, {_SPENT: _given(scaled)})


def _own(study: Study, aim: Aim, at: int, place: str, text: str, amount: Any) -> Edit:
    """Own spending, with another amount at one look; where that cannot be had it is kept as typed, and why."""
    outcome = soon(aim)
    course = course_of(outcome) if isinstance(outcome, Answer) else None
    entry = aim.entry(_WHEN)
    if course is None:
        return _with(study, aim, {_WHEN: entry.unreadable(place, text, "There is no answer whose looks could change.")})
    try:
        spent = course.all_spent(at, amount(course))
    except (Unreadable, RequestError) as error:
        return _with(study, aim, {_WHEN: entry.unreadable(place, text, getattr(error, "message", str(error)))})
    own = [float(f"{each:.{_DIGITS}g}") for each in spent[:-1]] + [spent[-1]]
    changes = {_WHEN: entry.readable(place), _SPENT: _given(own), _SPENDING: _given("own")}
    return _with(study, aim, dict(changes))


def _with(study: Study, aim: Aim, entries: dict[str, Entry | None]) -> Edit:
    changed = {**aim.entries, **{name: entry for name, entry in entries.items() if entry is not None}}
    kept = {name: entry for name, entry in changed.items() if entries.get(name, entry) is not None}
    return Edit(LOOKS_NAME, study.with_aim(aim.changed(entries=kept)))


def _given(value: Any) -> Entry:
    return Entry(value=value)


def _fractions(aim: Aim) -> list[float]:
    return _numbers(aim, _WHEN)


def _numbers(aim: Aim, name: str) -> list[float]:
    value: Any = aim.entry(name).value
    return [float(each) for each in value] if isinstance(value, list) else []


def _checked(fractions: list[float] | None) -> list[float] | None:
    """Shares that looks can be at. Raises `Unreadable`."""
    if fractions is None:
        return None
    try:
        return list(fractions_in({_WHEN: FRACTIONS.check(fractions)}))
    except RequestError as error:
        raise Unreadable(error.message) from error


def _total(aim: Aim) -> float | None:
    """What shares of the information are of: people, events or clusters; None where that is not known."""
    outcome = soon(aim)
    if not isinstance(outcome, Answer):
        return None
    if "clusters" in outcome.n_more and "enrol_clusters" not in outcome.n_more:
        return float(sum(outcome.n_more["clusters"]))
    waited = design_named(aim.design).counted(aim.values(), aim.find) or "events" in outcome.n_more
    return float(outcome.n_more["events"]) if waited and "events" in outcome.n_more else float(outcome.total)


def _number(text: str, what: str, total: float | None = None) -> float:
    """A number as people type it: with %, or, where there is a total, out of it. Raises `Unreadable`."""
    cleaned = text.strip().lstrip("±").rstrip("%").strip()
    try:
        read = typed_number(cleaned)
    except (ValueError, OverflowError):
        raise Unreadable(f"“{text.strip()[:24]}” is not {what}.") from None
    value = read[0] if isinstance(read, list) else read
    if text.strip().endswith("%"):
        return value / 100
    return value / total if total and value > 1 else value


def _between(t: float, fractions: list[float], spent: list[float]) -> float:
    """What was spent by a share of the information, between the looks that there were."""
    ends, amounts = [0.0, *fractions], [0.0, *spent]
    for low, high, less, more in zip(ends, ends[1:], amounts, amounts[1:], strict=False):
        if t <= high:
            return float(f"{less + (more - less) * (t - low) / (high - low):.{_DIGITS}g}") if t < high else more
    return amounts[-1]
