"""What all edits share: an edit of something gone changes nothing; an assumption's entry is put back."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar, cast

from ragwort.designs import Design, design_named
from ragwort.designs.assumption import Assumption
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.part import Gone
from ragwort.study.words.numbers import parse

LONGEST_NAME = 200  # characters of an aim's or scenario's name


def short_name(name: str) -> str:
    """A name on one line, at most `LONGEST_NAME` characters."""
    return " ".join(name.split())[:LONGEST_NAME]


AnEdit = TypeVar("AnEdit", bound=Callable[..., Edit])


def no_edit_of_what_is_gone(edit: AnEdit) -> AnEdit:
    """An edit of an aim or a scenario that is not there any more changes nothing: a menu or an editor outlived it."""

    @wraps(edit)
    def careful(study: Study, *given: Any, **more: Any) -> Edit:
        try:
            return edit(study, *given, **more)
        except Gone:
            return Edit("", study)

    return cast(AnEdit, careful)


def typing(aim_id: str, name: str) -> str:
    """What joins the keystrokes in one field to a single undo."""
    return f"type {aim_id} {name}"


def is_allowed(design: Design, name: str, value: Any) -> bool:
    return design.assumption(name).allows(value)


def given(assumption: Assumption, text: str) -> Any:
    """What typed text is of an assumption; None where nothing is typed. Raises `NumberError`."""
    return parse(assumption, text) if text.strip() else None


def aim_and_assumption(study: Study, aim_id: str, name: str) -> tuple[Aim, Assumption]:
    """An aim and one of its design's assumptions. Raises `Gone` where its design has become another one meanwhile."""
    aim = study.aim(aim_id)
    try:
        return aim, design_named(aim.design).assumption(name)
    except KeyError:
        raise Gone(name) from None


def with_entry(study: Study, aim: Aim, name: str, entry: Entry, label: str) -> Edit:
    entries = {**aim.entries, name: entry}
    return Edit(label, study.with_aim(aim.changed(entries=entries)))
