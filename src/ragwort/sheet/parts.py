"""What a sheet is made of: columns that say what may stand in them, rows, and ids by a pattern."""

from __future__ import annotations

import re
import string
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from ragwort.files import short
from ragwort.sheet.allocation import Place, Properties, SheetError

Kind = Literal["text", "number", "whole", "choice", "date"]
Cell = str | int | float | None
WORDS = ("number", "centre", "cluster", "stratum")
LONGEST_ID = 60
_LONGEST_PATTERN = 200  # characters
_FORM = re.compile(r"[^\d{}.]?[<>=^]?0?[0-5]?[0-9]?[dxXbo]?", re.ASCII)  # how a number is written, 59 digits at most


@dataclass(frozen=True)
class Column:
    """One column: what it holds, what may stand in it, and whether it is filled in already."""

    name: str
    kind: Kind = "text"
    help: str = ""
    low: float | None = None
    high: float | None = None
    choices: tuple[str, ...] = ()
    given: bool = False

    def allowed(self) -> str:
        """What may stand in it, in words."""
        if self.kind == "choice":
            return ", ".join(self.choices)
        if self.kind == "date":
            return "a date"
        if self.kind == "text":
            return "text"
        whole = "a whole number" if self.kind == "whole" else "a number"
        if self.low is None and self.high is None:
            return whole
        if self.high is None:
            return f"{whole} from {self.low:g} on"
        return f"{whole} up to {self.high:g}" if self.low is None else f"{whole} from {self.low:g} to {self.high:g}"


@dataclass(frozen=True)
class Listed:
    """One line of the allocation list: whom it is for, what arm, in which stratum and block."""

    id: str
    arm: str
    code: str
    stratum: str = ""
    block: int = 0


@dataclass(frozen=True)
class Sheet:
    """A collection sheet, its codebook and, apart from it, the allocation list."""

    title: str
    columns: tuple[Column, ...]
    rows: tuple[tuple[Cell, ...], ...]
    about: tuple[tuple[str, str], ...]
    list: tuple[Listed, ...] = ()
    properties: Properties | None = None
    arms: tuple[str, ...] = ()
    strata: Mapping[tuple[int, ...], str] = field(default_factory=dict)


def id_of(pattern: str, number: int, words: Mapping[str, object]) -> str:
    """The id with this number. Raises `SheetError` where the pattern is none."""
    try:
        made = pattern.format_map({"number": number, **words})
    except KeyError as error:
        raise SheetError("pattern", f"The pattern has no word {{{error.args[0]}}}: {_words()}.") from error
    except (ValueError, IndexError, AttributeError, TypeError) as error:
        raise SheetError(
            "pattern", f"{pattern!r} is no pattern: it is like NS-{{number:03}}, with {_words()}."
        ) from error
    return made[:LONGEST_ID]


def _words() -> str:
    return ", ".join(f"{{{word}}}" for word in WORDS)


def check_pattern(pattern: str) -> None:
    """Refuse a pattern with fields that are none. Raises `SheetError`."""
    try:
        fields = [(name, form) for _, name, form, _ in string.Formatter().parse(pattern) if name is not None]
    except ValueError as error:
        raise SheetError("pattern", f"{pattern!r} is no pattern: {error}. It is like NS-{{number:03}}.") from error
    for name, form in fields:
        if name not in WORDS:
            raise SheetError("pattern", f"The pattern has no word {{{short(name)}}}: {_words()}.")
        if not _FORM.fullmatch(form or ""):
            raise SheetError(
                "pattern",
                f"{short(pattern)} is no pattern: after the colon stands how many digits, as in {{number:03}}.",
            )
    if len(pattern) > _LONGEST_PATTERN:
        raise SheetError("pattern", f"A pattern has at most {_LONGEST_PATTERN} characters, not {len(pattern)}.")


def check_ids(ids: Sequence[str], pattern: str) -> None:
    """Refuse ids that come twice. Raises `SheetError`."""
    seen: set[str] = set()
    for each in ids:
        if each in seen:
            raise SheetError(
                "pattern", f"{pattern!r} gives the id {each} twice: it needs {{number}}, as in NS-{{number:03}}."
            )
        seen.add(each)


def codes(count: int) -> tuple[str, ...]:
    """Letters that stand for arms where they are masked: A, B, …"""
    return tuple(chr(ord("A") + place) if place < 26 else f"Z{place}" for place in range(count))


__all__ = ["Cell", "Column", "Listed", "Place", "Sheet", "check_ids", "check_pattern", "codes", "id_of"]
