"""A sheet and its allocation list as files; the same sheet makes the same file, byte for byte."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import TYPE_CHECKING, Any

from ragwort.files.excel import xlsx_bytes
from ragwort.files.spreadsheet import ods_bytes
from ragwort.files.texts import csv_bytes, for_cell, legal
from ragwort.sheet.parts import Cell, Column, Sheet

if TYPE_CHECKING:
    from xlsxwriter import Workbook

SHEET_FORMATS = ("csv", "xlsx", "ods")
LIST_KINDS = ("csv", "xlsx")
_LONGEST_LIST = 255  # characters of the choices of a cell
_CODEBOOK, _SHEET, _CHOICES = "Codebook", "Sheet", "Choices"


def sheet_bytes(sheet: Sheet, kind: str) -> bytes:
    """The sheet; a workbook has a codebook beside it."""
    return {"csv": _csv, "xlsx": _xlsx, "ods": _ods}[kind](sheet)


def _table(sheet: Sheet) -> list[Sequence[Cell]]:
    return [tuple(column.name for column in sheet.columns), *sheet.rows]


def _csv(sheet: Sheet) -> bytes:
    return csv_bytes([["" if cell is None else cell for cell in row] for row in _table(sheet)])


def codebook(sheet: Sheet) -> list[tuple[str, ...]]:
    """What each column holds, and what there is to say of the whole."""
    rows: list[tuple[str, ...]] = [("Column", "Holds", "Filled in", "Allowed")]
    rows += [(c.name, c.help, "yes" if c.given else "by you", c.allowed()) for c in sheet.columns]
    return [*rows, ("", "", "", ""), *((what, text, "", "") for what, text in sheet.about)]


def _xlsx(sheet: Sheet) -> bytes:
    """Typed columns with drop-downs and checks under a heading that stays, and the codebook."""

    def fill(book: Workbook) -> None:
        strong, dated = book.add_format({"bold": True, "bottom": 1}), book.add_format({"num_format": "yyyy-mm-dd"})
        page = book.add_worksheet(_SHEET)
        page.freeze_panes(1, 1)
        for place, column in enumerate(sheet.columns):
            page.set_column(
                place, place, max(10, min(34, len(column.name) + 3)), dated if column.kind == "date" else None
            )
            page.write_string(0, place, str(for_cell(column.name)), strong)
            _check(page, place, column, len(sheet.rows))
        for at, row in enumerate(sheet.rows, start=1):
            for place, cell in enumerate(row):
                if cell is not None:
                    page.write(at, place, for_cell(cell))
        _add_codebook(book, sheet, strong)
        _add_choices(book, sheet)

    return xlsx_bytes(fill, title=sheet.title)


def _check(page: Any, place: int, column: Column, rows: int) -> None:
    """What a spreadsheet refuses in a column."""
    told = {"error_title": "Not allowed", "error_message": legal(f"Allowed: {column.allowed()}.")[:250]}
    if column.kind == "choice" and column.choices:
        source = _choices(column.choices) or f"={_CHOICES}!{_range(place, len(column.choices))}"
        page.data_validation(1, place, rows, place, {"validate": "list", "source": source, **told})
    elif column.kind in ("number", "whole"):
        limits = {
            "validate": "integer" if column.kind == "whole" else "decimal",
            "criteria": "between",
            "minimum": -1e300 if column.low is None else _plain(column.low),
            "maximum": 1e300 if column.high is None else _plain(column.high),
        }
        page.data_validation(1, place, rows, place, {**limits, **told})
    elif column.kind == "date":
        after = {"validate": "date", "criteria": ">=", "value": date(1900, 1, 1), **told}
        page.data_validation(1, place, rows, place, after)


def _choices(choices: Sequence[str]) -> list[str]:
    """The choices as they can stand in the check itself; none where they need cells of their own.

    A list within a check is one quoted text, parted by commas.
    """
    as_cells = [str(for_cell(choice)) for choice in choices]
    one = ",".join(as_cells)
    return as_cells if len(one) <= _LONGEST_LIST and one.count(",") == len(choices) - 1 and '"' not in one else []


def _range(place: int, count: int) -> str:
    from xlsxwriter.utility import xl_range_abs

    return str(xl_range_abs(0, place, count - 1, place))


def _add_choices(book: Any, sheet: Sheet) -> None:
    """On a sheet of their own, the choices that cannot stand within a check."""
    needed = {place: column.choices for place, column in enumerate(sheet.columns) if column.kind == "choice"}
    needed = {place: choices for place, choices in needed.items() if choices and not _choices(choices)}
    if needed:
        page = book.add_worksheet(_CHOICES)
        for place, choices in needed.items():
            page.write_column(0, place, [str(for_cell(choice)) for choice in choices])


def _plain(value: float) -> float | int:
    return int(value) if value == int(value) else value


def _add_codebook(book: Any, sheet: Sheet, strong: Any) -> None:
    page = book.add_worksheet(_CODEBOOK)
    page.set_column(0, 0, 30)
    page.set_column(1, 3, 44)
    for at, row in enumerate(codebook(sheet)):
        for place, text in enumerate(row):
            page.write_string(at, place, str(for_cell(text)), strong if at == 0 else None)


def _ods(sheet: Sheet) -> bytes:
    return ods_bytes(((_SHEET, _table(sheet)), (_CODEBOOK, codebook(sheet))))


# --- the list ---


def list_rows(sheet: Sheet, seed: int) -> list[Sequence[Cell]]:
    """The allocation list: a heading, a line for each, and below it what can be said of it."""
    head: list[Sequence[Cell]] = [("for", "arm", "code", "stratum", "block")]
    rows: list[Sequence[Cell]] = [(e.id, e.arm, e.code, e.stratum, e.block or None) for e in sheet.list]
    return [*head, *rows, (None,) * 5, ("seed", seed, None, None, None), *_said_of(sheet)]


def _said_of(sheet: Sheet) -> list[Sequence[Cell]]:
    found = sheet.properties
    if found is None:
        return []
    rows: list[Sequence[Cell]] = [
        (f"in {a}", n, None, None, None) for a, n in zip(sheet.arms, found.by_arm, strict=True)
    ]
    for stratum, counts in found.by_stratum:
        for arm, count in zip(sheet.arms, counts, strict=True):
            rows.append((f"in {arm}", count, None, sheet.strata.get(stratum, ""), None))
    return [*rows, ("longest run", found.longest_run, None, None, None)]


def list_bytes(sheet: Sheet, seed: int, kind: str) -> bytes:
    """The allocation list as a file of its own."""
    rows = list_rows(sheet, seed)
    if kind == "csv":
        return csv_bytes([["" if cell is None else cell for cell in row] for row in rows])

    def fill(book: Workbook) -> None:
        page = book.add_worksheet("Allocation list")
        page.freeze_panes(1, 0)
        page.set_column(0, 4, 22)
        for at, row in enumerate(rows):
            for place, cell in enumerate(row):
                if cell is not None:
                    page.write(at, place, for_cell(cell))

    return xlsx_bytes(fill, title=sheet.title)
