"""The values of assumptions, their ranges, sources and notes."""

from __future__ import annotations

import math
from typing import Any

from ragwort.designs import design_named
from ragwort.designs.agreement import is_whole
from ragwort.designs.assumption import Assumption
from ragwort.study.document.aim import RANGE, VALUE, Aim, Entry
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.edits.common import aim_and_assumption, no_edit_of_what_is_gone, with_entry
from ragwort.study.results.outcome import values_with_defaults
from ragwort.study.words.numbers import NumberError, parse, parse_range
from ragwort.study.words.terms import count_terms, is_named


@no_edit_of_what_is_gone
def type_value(study: Study, aim_id: str, name: str, text: str) -> Edit:
    """Take typed text as the value of an assumption; text that cannot be read is kept beside the last good value."""
    aim, assumption = aim_and_assumption(study, aim_id, name)
    if not text.strip() and design_named(aim.design).is_optional(name):
        return with_entry(study, aim, name, aim.entry(name).readable(VALUE, value=None), f"clearing {name}")
    named = assumption.named and is_named(text)
    try:
        value = count_terms(text, name == "predictors") if named else parse(assumption, text, aim.words.unit)
    except NumberError as error:
        entry = aim.entry(name).unreadable(VALUE, text, str(error))
        return with_entry(study, aim, name, entry, f"typing {assumption.label.lower()}")
    return set_value(study, aim_id, name, value, terms=" ".join(text.split()) if named else "")


@no_edit_of_what_is_gone
def set_value(study: Study, aim_id: str, name: str, value: Any, terms: str = "") -> Edit:
    """Set an assumption to a checked value. Raises `RequestError` where it is out of bounds."""
    aim, assumption = aim_and_assumption(study, aim_id, name)
    entry = aim.entry(name).given(assumption.check(value), terms)
    aim = aim.changed(entries={**aim.entries, **_stated_with(aim, name)})
    return with_entry(study, aim, name, entry, f"changing {assumption.label.lower()}")


def _stated_with(aim: Aim, name: str) -> dict[str, Entry]:
    """What followed of itself and is stated together with `name`: it stays as it was, the study's own from now on."""
    design = design_named(aim.design)
    together = {each for ways in design.ways for way in ways if name in way.names for each in way.names} - {name}
    followed = {each for each in together if each not in aim.entries and design.assumption(each).default is None}
    known = values_with_defaults(aim) if followed else {}
    return {each: Entry(value=known[each]) for each in followed if each in known}


def rescaled(assumption: Assumption, value: Any) -> Any:
    """Shares that do not add up to 1, each divided by their sum; what is to add up to 0, less its mean.

    None where nothing is wrong or nothing can be done.
    """
    if assumption.adds_to_zero and value:
        middle = math.fsum(value) / len(value)
        return [each - middle for each in value] if middle and any(each != value[0] for each in value) else None
    if not assumption.adds_to_one or value is None:
        return None
    if assumption.kind == "records":
        shares = [row.get("share") for row in value]
    else:
        shares = [each for row in value for each in row] if assumption.kind == "table" else list(value)
    if not all(isinstance(each, int | float) and each >= 0 for each in shares):
        return None
    total = math.fsum(shares)
    if total <= 0 or is_whole(total):
        return None
    if assumption.kind == "records":
        return [{**row, "share": row["share"] / total} for row in value]
    if assumption.kind == "table":
        return [[each / total for each in row] for row in value]
    return [each / total for each in value]


@no_edit_of_what_is_gone
def rescale(study: Study, aim_id: str, name: str) -> Edit:
    """Make the numbers of an assumption add up to what they must."""
    aim, assumption = aim_and_assumption(study, aim_id, name)
    value = rescaled(assumption, aim.values().get(name))
    if value is None:
        return Edit(f"rescaling {assumption.label.lower()}", study)
    changed = set_value(study, aim_id, name, value)
    return Edit(f"rescaling {assumption.label.lower()}", changed.study)


@no_edit_of_what_is_gone
def take_offer(study: Study, aim_id: str, name: str, label: str) -> Edit:
    """Put in what the design offers at an assumption under this label; nothing where it does not apply."""
    aim, assumption = aim_and_assumption(study, aim_id, name)
    offer = next(each for each in design_named(aim.design).offers[name] if each.label == label)
    for each, value in offer.values(aim.values()).items():
        study = set_value(study, aim_id, each, value).study
    return Edit(f"choosing {assumption.label.lower()}", study)


@no_edit_of_what_is_gone
def confirm(study: Study, aim_id: str, *names: str) -> Edit:
    """Take example values as decided: those named, or all of the aim."""
    aim = study.aim(aim_id)
    confirmed = {
        name: entry.changed(example=False) if entry.example and (name in names or not names) else entry
        for name, entry in aim.entries.items()
    }
    return Edit("confirming example values", study.with_aim(aim.changed(entries=confirmed)))


@no_edit_of_what_is_gone
def drop_draft(study: Study, aim_id: str, name: str) -> Edit:
    """Forget text that could not be read: back to the last good value."""
    aim, assumption = aim_and_assumption(study, aim_id, name)
    entry = aim.entry(name).readable(VALUE)
    return with_entry(study, aim, name, entry, f"restoring {assumption.label.lower()}")


@no_edit_of_what_is_gone
def type_range(study: Study, aim_id: str, name: str, text: str) -> Edit:
    """Take typed text as the plausible range; text that cannot be read is kept beside the last good range."""
    aim, assumption = aim_and_assumption(study, aim_id, name)
    label = f"changing the range of {assumption.label.lower()}"
    entry = aim.entry(name).typed(RANGE, text, lambda typed: _range_in(typed, assumption, aim))
    return with_entry(study, aim, name, entry, label)


def _range_in(text: str, assumption: Assumption, aim: Aim) -> dict[str, float | None]:
    low, high = parse_range(assumption, text, aim.words.unit)
    return {"low": low, "high": high}


@no_edit_of_what_is_gone
def set_remark(study: Study, aim_id: str, name: str, field: str, text: str) -> Edit:
    """Set the `source` or the `note` of an assumption."""
    aim, assumption = aim_and_assumption(study, aim_id, name)
    entry = aim.entry(name).changed(**{field: text.strip()})
    if field == "source":
        entry = entry.changed(was=None)
    return with_entry(study, aim, name, entry, f"changing the {field} of {assumption.label.lower()}")
