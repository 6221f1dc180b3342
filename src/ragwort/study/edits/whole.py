"""The study's own title, background and limit."""

from __future__ import annotations

from typing import Any

from ragwort.designs.assumption import Assumption
from ragwort.study.edits.common import fault_of, short_name
from ragwort.study.history import Edit
from ragwort.study.model import MOST_PEOPLE, Study
from ragwort.study.numbers import parse


def retitle(study: Study, title: str) -> Edit:
    """Give the study another title; an empty one changes nothing."""
    return set_study(study, title=short_name(title) or study.title)


def set_study(study: Study, merge: str = "", **changes: Any) -> Edit:
    """Change the study's title, background or limit."""
    return Edit(f"changing the study's {' and '.join(changes)}", study.changed(**changes), merge)


LIMIT = Assumption("limit", "The study's limit", "count", "Sample", "", low=1, high=MOST_PEOPLE)


def type_limit(study: Study, text: str) -> Edit:
    """Take typed text as how many can be had at most, empty for no limit; what cannot be read is kept as it is."""
    fault = limit_fault(text)
    if fault:
        changed = study.changed(limit_draft=text)
    else:
        changed = study.changed(limit=parse(LIMIT, text) if text.strip() else None, limit_draft="")
    return Edit("changing the study's limit", changed)


def limit_fault(text: str) -> str:
    """Why a typed limit cannot be read; empty where it can."""
    return fault_of(LIMIT, text)
