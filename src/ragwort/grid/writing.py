"""A grid as a file: CSV, XLSX, ODS or a Markdown table."""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from ragwort import __version__
from ragwort.base.wording import listed
from ragwort.designs import design_named
from ragwort.files.excel import xlsx_bytes
from ragwort.files.spreadsheet import ods_bytes
from ragwort.files.texts import csv_bytes, for_cell, legal
from ragwort.grid.combinations import Asked
from ragwort.grid.table import EACH, LIMIT, columns_of, fixed_words, remark_on, summary
from ragwort.grid.work import Results
from ragwort.study.results.resources import NO_LIMITS, Limits

if TYPE_CHECKING:
    from xlsxwriter import Workbook

Cell = str | float | int | None
_RESULTS, _ABOUT = "Results", "How they came about"


def grid_bytes(results: Results, kind: str, limits: Limits = NO_LIMITS) -> bytes:
    """A grid in one of `GRID_FORMATS`. Raises `ValueError` on another."""
    if kind not in GRID_FORMATS:
        raise ValueError(f"A grid is written as {', '.join(GRID_FORMATS)}, not {kind!r}.")
    return GRID_FORMATS[kind](results, limits)


def rows_of(results: Results, limits: Limits = NO_LIMITS) -> tuple[list[str], list[list[Cell]]]:
    """The headings and the rows of a grid, numbers as numbers in the units of requests; the last says what is amiss."""
    columns = [column for column in columns_of(results, limits) if column.name not in (EACH, LIMIT)]
    groups, chosen = results.groups.shape[1], (*results.asked.chosen, "design")
    head = [column.name if column.name in results.asked.columns else column.label for column in columns]
    head += (
        [f"{results.asked.design.group_word or 'group'} {number + 1}" for number in range(groups)] if groups > 1 else []
    )
    if limits.count is not None:
        head.append("to spare")
    rows = []
    for row in range(results.asked.count):
        cells = [column.text(row) if column.name in chosen else _cell(column.numbers[row]) for column in columns]
        cells += [_cell(size) for size in results.groups[row]] if groups > 1 else []
        if limits.count is not None:
            cells.append(_cell(limits.count - results.enrol[row]))
        rows.append([*cells, remark_on(results, row)])
    return [*head, "remark"], rows


def _cell(number: float) -> Cell:
    number = float(number)
    if math.isnan(number):
        return None
    return int(number) if number.is_integer() and abs(number) < 2**53 else number


def about(results: Results, limits: Limits = NO_LIMITS) -> list[tuple[str, str]]:
    """How the results came about: what was asked, what was the same in all rows, by which version."""
    asked = results.asked
    request = {"design": asked.design.id, "find": asked.find, "assumptions": dict(asked.values)}
    return [
        ("Aim", asked.aim.name),
        ("Design", listed(_designs(asked))),
        ("Found", asked.find),
        ("Varied", ", ".join(asked.columns)),
        ("The same in all rows", fixed_words(results).replace("\u00a0", " ")),
        ("Rows", summary(results, limits)),
        ("Request, apart from what is varied", json.dumps(request, ensure_ascii=False, default=str)),
        ("Ragwort", __version__),
    ]


def _designs(asked: Asked) -> list[str]:
    if asked.which is None:
        return [asked.design.title]
    return [design_named(template.aim.design).title for template in asked.templates]


def _csv(results: Results, limits: Limits) -> bytes:
    head, rows = rows_of(results, limits)
    return csv_bytes([head, *(["" if cell is None else cell for cell in row] for row in rows)])


def _markdown(results: Results, limits: Limits) -> bytes:
    columns = columns_of(results, limits)
    lines = [_line([column.label for column in columns])]
    lines.append(_line(["---" if column.words else "---:" for column in columns]))
    for row in range(results.asked.count):
        lines.append(_line([column.text(row) for column in columns]))
    said = limits.any  # in the column of the limit
    reasons = [] if said else [f"Row {row + 1}: {reason}" for row, reason in sorted(results.reasons.items())]
    return "\n".join([*lines, *([""] if reasons else []), *reasons, ""]).encode()


def _line(cells: Sequence[str]) -> str:
    return f"| {' | '.join(legal(cell).replace('|', chr(92) + '|') for cell in cells)} |"


def _xlsx(results: Results, limits: Limits) -> bytes:
    """Typed columns under a heading that stays, and a sheet that says how they came about."""
    return xlsx_bytes(lambda book: _fill(book, results, limits), comments=f"Written by Ragwort {__version__}")


def _fill(book: Workbook, results: Results, limits: Limits) -> None:
    strong = book.add_format({"bold": True, "bottom": 1})
    sheet = book.add_worksheet(_RESULTS)
    head, rows = rows_of(results, limits)
    sheet.freeze_panes(1, 0)
    sheet.set_column(0, len(head) - 2, 12)
    sheet.set_column(len(head) - 1, len(head) - 1, 60)
    table: list[Sequence[Cell]] = [head, *rows]
    for at, row in enumerate(table):
        for place, cell in enumerate(row):
            if cell is not None:
                sheet.write(at, place, for_cell(cell), strong if at == 0 else None)
    described = book.add_worksheet(_ABOUT)
    described.set_column(0, 0, 34)
    described.set_column(1, 1, 100)
    for at, (what, text) in enumerate(about(results, limits)):
        described.write_string(at, 0, what, strong)
        described.write_string(at, 1, str(for_cell(text)))


def _ods(results: Results, limits: Limits) -> bytes:
    """The same two sheets."""
    head, rows = rows_of(results, limits)
    return ods_bytes(((_RESULTS, [head, *rows]), (_ABOUT, about(results, limits))))


GRID_FORMATS: dict[str, Callable[[Results, Limits], bytes]] = {"csv": _csv, "xlsx": _xlsx, "ods": _ods, "md": _markdown}
