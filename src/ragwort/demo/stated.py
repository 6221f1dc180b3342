"""What both demo studies are built with: values with their range, source and reason, and statements of the protocol."""

from __future__ import annotations

from typing import Any

from ragwort.study import edits
from ragwort.study.document.aim import Entry
from ragwort.study.document.model import Study


def given(value: Any, plausible: tuple[float, float] | None = None, source: str = "", why: str = "") -> Entry:
    """A value with how far it is plausible, where it comes from, and why it is this one."""
    low, high = plausible or (None, None)
    return Entry(value=value, low=low, high=high, source=source, note=why)


def with_statements(study: Study, **statements: str) -> Study:
    """The study with statements of its protocol, as if they had been typed."""
    for name, text in statements.items():
        study = edits.state(study, name, text).study
    return study
