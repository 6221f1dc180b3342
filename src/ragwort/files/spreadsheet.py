"""A table of an ODS workbook."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from ragwort.files.texts import for_cell

if TYPE_CHECKING:
    from odf.opendocument import OpenDocument


def add_table(document: OpenDocument, name: str, rows: Sequence[Sequence[str | int | float | None]]) -> None:
    """Add a sheet: texts as texts, numbers as numbers, None as an empty cell."""
    from odf.table import Table, TableCell, TableRow
    from odf.text import P

    table = Table(name=name)
    for row in rows:
        line = TableRow()
        for cell in row:
            if isinstance(cell, str) or cell is None:
                made = TableCell(valuetype="string") if cell else TableCell()
                made.addElement(P(text=str(for_cell(cell or ""))))
            else:
                made = TableCell(valuetype="float", value=repr(cell))
                made.addElement(P(text=f"{cell:.12g}"))
            line.addElement(made)
        table.addElement(line)
    document.spreadsheet.addElement(table)
