"""A made-up data set as a file."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from ragwort.files.excel import xlsx_bytes
from ragwort.files.texts import csv_bytes, for_cell
from ragwort.rehearsal.dataset import DataSet

if TYPE_CHECKING:
    from xlsxwriter import Workbook

DATA_FORMATS = ("csv", "xlsx")
_MADE_UP = "Made-up data of a rehearsed study: nobody was measured."


def data_bytes(data: DataSet, kind: str) -> bytes:
    """The file: a line of labels and one for each row; a workbook says on a second sheet that all is made up."""
    rows = [data.labels, *(tuple("" if cell is None else cell for cell in row) for row in data.rows)]
    return csv_bytes(rows) if kind == "csv" else _workbook(rows, data.words)


def _workbook(rows: Sequence[Sequence[object]], words: str) -> bytes:
    def fill(book: Workbook) -> None:
        sheet = book.add_worksheet("Made-up data")
        sheet.freeze_panes(1, 0)
        for number, row in enumerate(rows):
            sheet.write_row(number, 0, [for_cell(cell) for cell in row])
        about = book.add_worksheet("About")
        about.write_column(0, 0, [_MADE_UP, words])

    return xlsx_bytes(fill)
