"""A file of data as named columns of text, whatever its kind."""

from __future__ import annotations

import codecs
import csv
import hashlib
import io
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from typing import Any

LARGEST_COLUMNS = 2_000
KINDS = (".csv", ".tsv", ".txt", ".xlsx", ".ods")
_AT_ONCE = 300  # rows; with more, Python looks for garbage among rows still in hand, which takes most of the time
_REPORT_EVERY = 30  # times that many
_USUAL_ROWS = 200_000  # of a long file: how many there are is not known before they are read
_BEGINNING = 1_000_000  # characters in which the first rows are looked for


class PilotError(ValueError):
    """A file that cannot be used; the message says why, and what would do."""


@dataclass(frozen=True)
class Table:
    """Columns by name, in order, each with one text a row; empty where a cell is empty."""

    name: str  # of the file
    digest: str  # SHA-256 of its bytes, so that it can be told whether it has changed
    columns: dict[str, list[str]]

    @property
    def rows(self) -> int:
        """Rows below the heading."""
        return len(next(iter(self.columns.values())))


def read_table(path: Path, progress: Callable[[float], None] = lambda _: None) -> Table:
    """Read a file whose first row names the columns.

    `progress` hears shares done (0..1) and may raise to stop. Raises `PilotError`.
    """
    kind = path.suffix.lower()
    if kind not in KINDS:
        raise PilotError(f"{path.name} cannot be read: pilot files are {', '.join(KINDS)}.")
    try:
        data = path.read_bytes()
    except OSError as error:
        raise PilotError(f"{path.name} cannot be read: {error.strerror}.") from error
    if not data.strip():
        raise PilotError(f"{path.name} is empty.")
    progress(0.1)
    rows = _sheet_rows(path, data) if kind in (".xlsx", ".ods") else _text_rows(path, data)
    columns = _columns(path.name, rows, lambda row: progress(0.2 + 0.8 * (1 - 1 / (1 + row / _USUAL_ROWS))))
    return Table(path.name, hashlib.sha256(data).hexdigest(), columns)


def _text_rows(path: Path, data: bytes) -> Iterator[Sequence[str]]:
    """Rows of a text file in any usual encoding; the delimiter is found from its first rows."""
    encoding = _encoding(path, data)
    delimiter = _delimiter(data.decode(encoding)[:_BEGINNING])
    rows = csv.reader(io.TextIOWrapper(io.BytesIO(data), encoding, newline=""), delimiter=delimiter)
    return _checked(path, rows)


def _encoding(path: Path, data: bytes) -> str:
    """UTF-8 with or without a mark, UTF-16 with one, else Latin-1. Raises `PilotError` where it is no text."""
    marked = data[:2] in (codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)
    if not marked and b"\0" in data[:2000]:
        raise PilotError(f"{path.name} is no text file: save it as CSV, XLSX or ODS.")
    likely = "utf-16" if marked else "utf-8-sig"
    try:
        data.decode(likely)
    except UnicodeDecodeError as error:
        if marked:
            raise PilotError(f"{path.name} is cut short or damaged: its text ends inside a character.") from error
        return "latin-1"
    return likely


def _checked(path: Path, rows: Any) -> Iterator[Sequence[str]]:
    """The rows of a CSV reader with anything in them."""
    try:
        for row in rows:
            if any(map(str.strip, row)):
                yield row
    except csv.Error as error:
        raise PilotError(
            f"{path.name} cannot be read at line {rows.line_num} ({error}): is a quotation mark there never closed?"
        ) from error


def _delimiter(text: str) -> str:
    """The sign that parts most cells of the heading and of the first rows alike."""
    lines = [line for line in text.splitlines()[:20] if line.strip()]

    def evenness(sign: str) -> tuple[int, int]:
        counts = [len(next(csv.reader([line], delimiter=sign))) for line in lines]
        return (sum(count == counts[0] for count in counts) if counts[0] > 1 else 0, counts[0])

    return max(("\t", ";", ",", "|"), key=evenness)


def _sheet_rows(path: Path, data: bytes) -> Iterator[Sequence[str]]:
    """Rows of the first sheet of a workbook that has any."""
    from python_calamine import CalamineError, CalamineWorkbook

    try:
        workbook = CalamineWorkbook.from_filelike(io.BytesIO(data))
        sheets = [workbook.get_sheet_by_name(name).to_python() for name in workbook.sheet_names]
    except CalamineError as error:
        why = "it is protected by a password" if data[:4] == b"\xd0\xcf\x11\xe0" else "it is no workbook or is damaged"
        raise PilotError(f"{path.name} cannot be opened: {why}. Save it as CSV and open that.") from error
    rows = next((sheet for sheet in sheets if sheet), [])
    return ([_cell_text(cell) for cell in row] for row in rows)


def _cell_text(cell: Any) -> str:
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return str(cell)


def _columns(name: str, rows: Iterator[Sequence[str]], progress: Callable[[int], None]) -> dict[str, list[str]]:
    """Some rows at a time: that is fast, lets go of what is read, and can be stopped in between."""
    heading = _names(next(rows, ()))
    if len(heading) > LARGEST_COLUMNS:
        raise PilotError(f"{name} has {len(heading)} columns; keep what is needed (at most {LARGEST_COLUMNS}).")
    columns: list[list[str]] = [[] for _ in heading]
    width, number = len(heading), 0
    while some := list(islice(rows, _AT_ONCE)):
        even = [row if len(row) == width else [*row, *[""] * width][:width] for row in some]
        for column, cells in zip(columns, zip(*even, strict=True), strict=True):
            column.extend(map(str.strip, cells))
        number += len(some)
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
