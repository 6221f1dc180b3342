"""How text enters what we write: a spreadsheet runs no formula, a document gets no character that it cannot hold."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence

# What XML 1.0 has no place for (section 2.2 of its specification), which HTML and PDF would not show either.
_ILLEGAL = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufdd0-\ufdef\ufffe\uffff]")
_NUMBER = re.compile(r"[+-]?[0-9.]+(?:[eE][+-]?[0-9]+)?")
_STARTS_A_FORMULA = ("=", "+", "-", "@", "\uff1d", "\uff0b", "\uff0d", "\uff20")


def legal(text: str) -> str:
    """The text with U+FFFD in place of each character that no document can hold.

    A byte order mark, which a text that was pasted can have anywhere and nobody sees, is left out: PDF/UA-1 (ISO
    14289-1, 7.21.8) has no place for it.
    """
    return _ILLEGAL.sub("\ufffd", text.replace("\ufeff", ""))


def for_cell(value: object) -> object:
    """A value as a spreadsheet may have it: text that a formula could start with gets an apostrophe before it."""
    if not isinstance(value, str):
        return value
    text = legal(value)
    begins = text.lstrip()
    risky = begins.startswith(_STARTS_A_FORMULA) or text.startswith(("\t", "\r", "\n"))
    return f"'{text}" if risky and not _NUMBER.fullmatch(begins) else text


def csv_bytes(rows: Iterable[Sequence[object]]) -> bytes:
    """Rows as a CSV file in UTF-8."""
    text = io.StringIO()
    csv.writer(text).writerows([for_cell(cell) for cell in row] for row in rows)
    return text.getvalue().encode()
