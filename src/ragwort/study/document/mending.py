"""A study as it was read, made one that every view can show: nothing is lost, what is unfit becomes a draft."""

from __future__ import annotations

import json
from typing import Any, TypeVar

from ragwort.designs import Design, RequestError, design_named
from ragwort.study.document.aim import VALUE, Aim, Entry, Setting, Words
from ragwort.study.document.model import Study
from ragwort.study.document.part import new_id
from ragwort.study.results.whatif import NUMERIC
from ragwort.study.words.numbers import value_text

_DRAFT = 2_000  # characters kept of a value that cannot be used

Kept = TypeVar("Kept", bound=Setting)


def mended(study: Study) -> Study:
    """The same study with each id once, and values that their assumptions cannot have as drafts with a fault."""
    seen: set[str] = set()
    return study.changed(aims=tuple(_mended_aim(_of_its_own(aim, seen)) for aim in study.aims))


def _of_its_own(kept: Any, seen: set[str]) -> Any:
    """With another id where its own is taken, or empty."""
    if not kept.id or kept.id in seen:
        kept = kept.changed(id=new_id())
    seen.add(kept.id)
    return kept


def _mended_aim(aim: Aim) -> Aim:
    try:
        design = design_named(aim.design)
    except RequestError:
        return aim  # nothing is known of its values; whoever looks at it is told
    aim = aim.changed(words=_mended_words(aim.words))
    seen: set[str] = set()
    scenarios = tuple(_of_its_own(_mended_setting(kept, design), seen) for kept in aim.scenarios)
    expected = _mended_entry(design, design.primary, aim.expected)
    return _mended_setting(aim, design).changed(scenarios=scenarios, expected=expected)


def _mended_words(words: Words) -> Words:
    """People are always called something."""
    usual = Words()
    one, many = words.one.strip() or usual.one, words.many.strip() or usual.many
    return words if (one, many) == (words.one, words.many) else words.changed(one=one, many=many)


def _mended_setting(setting: Kept, design: Design) -> Kept:
    known = {assumption.name for assumption in design.assumptions}
    entries = {
        name: _mended_entry(design, name, entry) if name in known else entry for name, entry in setting.entries.items()
    }
    return setting.changed(entries=entries) if entries != setting.entries else setting


def _mended_entry(design: Design, name: str, entry: Entry) -> Entry:
    assumption = design.assumption(name)
    if assumption.kind not in NUMERIC and (entry.low, entry.high) != (None, None):
        entry = entry.changed(low=None, high=None)  # what is no single number has no range
    if entry.value is None:
        return entry
    try:
        value = assumption.check(entry.value)
        value_text(assumption, value)
    except RequestError as error:
        return _as_draft(entry, error.message)
    except (ArithmeticError, AttributeError, LookupError, TypeError, ValueError):  # a list of anything at all
        return _as_draft(entry, f"{assumption.label} cannot be read: it must be {assumption.allowed()}.")
    return entry if value == entry.value else entry.changed(value=value)


def _as_draft(entry: Entry, fault: str) -> Entry:
    typed = entry.draft or json.dumps(entry.value, ensure_ascii=False)[:_DRAFT]
    return entry.unreadable(VALUE, typed, fault).changed(value=None)
