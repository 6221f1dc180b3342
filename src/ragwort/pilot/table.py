"""A file of data as named columns of text, whatever its kind."""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from typing import Any

from ragwort.files import FileError, digest_of, read_plain, short
from ragwort.files.workbook import workbook_rows

LARGEST = 300_000_000  # bytes of a file
LARGEST_COLUMNS = 2_000
MOST_CELLS = 30_000_000
TABLE_FORMATS = (".csv", ".tsv", ".txt", ".xlsx", ".ods")
_MARKS = (
    (codecs.BOM_UTF32_LE, "utf-32"),  # begins as the mark of UTF-16 does
    (codecs.BOM_UTF32_BE, "utf-32"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_AT_ONCE = 300  # rows; with more, Python looks for garbage among rows still in hand, which takes most of the time
_REPORT_EVERY = 30  # times that many
_USUAL_ROWS = 200_000  # of a long file: how many there are is not known before they are read
_LINE = 100_000  # characters of a line that are looked at for its delimiter
_BEGINNING = 1_000_000  # characters in which the first rows are looked for


_LONG_WORD = re.compile(r"\S{61,}")


class PilotError(ValueError):
    """A file that cannot be used; the message says why, and what would do. Long words of the file are cut in it."""

    def __init__(self, message: str) -> None:
        super().__init__(_LONG_WORD.sub(lambda found: short(found.group()), message))


@dataclass(frozen=True)
class Table:
    """Columns by name, in order, each with one text a row; empty where a cell is empty."""

    name: str  # of the file
    digest: str  # SHA-256 of its bytes, so that it can be told whether it has changed
    columns: dict[str, list[str]]
    decimal: str = ""  # the sign before the decimals, where the file's kind says it

    @property
    def rows(self) -> int:
        """Rows below the heading."""
        return len(next(iter(self.columns.values())))


def read_table(path: Path, progress: Callable[[float], None] = lambda _: None) -> Table:
    """Read a file whose first row names the columns.

    `progress` hears shares done (0..1) and may raise to stop. Raises `PilotError`.
    """
    kind, name = path.suffix.lower(), short(path.name)
    if kind not in TABLE_FORMATS:
        raise PilotError(f"{name} cannot be read: pilot files are {', '.join(TABLE_FORMATS)}.")
    try:
        data = read_plain(path, LARGEST)
        if not data.strip():
            raise PilotError(f"{name} is empty.")
        progress(0.1)
        rows, decimal = _sheet_rows(name, data, progress) if kind in (".xlsx", ".ods") else _text_rows(name, data)
        columns = _columns(name, rows, lambda row: progress(0.2 + 0.8 * (1 - 1 / (1 + row / _USUAL_ROWS))))
    except FileError as error:
        raise PilotError(str(error)) from error
    return Table(path.name, digest_of(data), columns, decimal)


def _sheet_rows(name: str, data: bytes, progress: Callable[[float], None]) -> tuple[Iterator[Sequence[str]], str]:
    """Rows of a workbook, whose numbers come to us with a point."""
    return workbook_rows(data, name, lambda: progress(0.1)), "."


def _text_rows(name: str, data: bytes) -> tuple[Iterator[Sequence[str]], str]:
    """Rows of a text file in any usual encoding; the delimiter is found from its first rows.

    Where a comma parts the cells, a point stands before decimals; else that is not known.
    """
    encoding = _encoding(name, data)
    delimiter = _delimiter(data.decode(encoding)[:_BEGINNING])
    rows = csv.reader(io.TextIOWrapper(io.BytesIO(data), encoding, newline=""), delimiter=delimiter)
    return _checked(name, rows), "." if delimiter == "," else ""


def _encoding(name: str, data: bytes) -> str:
    """UTF-8 with or without a mark, UTF-16 or -32 with one, else Latin-1. Raises `PilotError` for what is no text."""
    marked = next((encoding for mark, encoding in _MARKS if data.startswith(mark)), "")
    if not marked and b"\0" in data[:2000]:
        raise PilotError(f"{name} is no text file: save it as CSV, XLSX or ODS.")
    likely = marked or "utf-8-sig"
    try:
        data.decode(likely)
    except UnicodeDecodeError as error:
        if marked:
            raise PilotError(f"{name} is cut short or damaged: its text ends inside a character.") from error
        return "latin-1"
    return likely


def _checked(name: str, rows: Any) -> Iterator[Sequence[str]]:
    """The rows of a CSV reader with anything in them."""
    try:
        for row in rows:
            if any(map(str.strip, row)):
                yield row
    except csv.Error as error:
        long = (
            f"a cell there has more than {csv.field_size_limit()} characters. Is a quotation mark there never closed?"
        )
        why = long if "field limit" in str(error) else f"{error}. Is a quotation mark there never closed?"
        raise PilotError(f"{name} cannot be read at line {rows.line_num}: {why}") from error


def _delimiter(text: str) -> str:
    """The sign that parts most cells of the heading and of the first rows alike."""
    lines = [line[:_LINE] for line in text.splitlines()[:20] if line.strip()]

    def evenness(sign: str) -> tuple[int, int]:
        counts = [len(next(csv.reader([line], delimiter=sign), ())) for line in lines] or [0]
        return (sum(count == counts[0] for count in counts) if counts[0] > 1 else 0, counts[0])

    return max(("\t", ";", ",", "|"), key=evenness)


def _columns(name: str, rows: Iterator[Sequence[str]], progress: Callable[[int], None]) -> dict[str, list[str]]:
    """Some rows at a time: that is fast, lets go of what is read, and can be stopped in between."""
    first = next(rows, ())
    if len(first) > LARGEST_COLUMNS:
        raise PilotError(f"{name} has {len(first)} columns; keep what is needed (at most {LARGEST_COLUMNS}).")
    heading = _names(first)
    columns: list[list[str]] = [[] for _ in heading]
    width, number = len(heading), 0
    while some := list(islice(rows, _AT_ONCE)):
        even = [row if len(row) == width else [*row, *[""] * width][:width] for row in some]
        for column, cells in zip(columns, zip(*even, strict=True), strict=True):
            column.extend(map(str.strip, cells))
        number += len(some)
        if number * width > MOST_CELLS:
            raise PilotError(f"{name} has more than {MOST_CELLS // 10**6} million cells; keep what is needed.")
        if number // _AT_ONCE % _REPORT_EVERY == 0:
            progress(number)
    if not number:
        raise PilotError(f"{name} has no rows below its heading: the first row names the columns, the data follow.")
    return dict(zip(heading, columns, strict=True))


def _names(heading: Sequence[str]) -> list[str]:
    """Names of the columns, each once: `column 3` for an empty one, `score (2)` for a second of the name."""
    names: dict[str, None] = {}
    seen: Counter[str] = Counter()
    for at, text in enumerate(heading, start=1):
        plain = name = text.strip() or f"column {at}"
        while name in names:
            seen[plain] += 1
            name = f"{plain} ({seen[plain] + 1})"
        names[name] = None
    return list(names)
