"""What the menus of the page Grid offer."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QMenu, QWidget

from ragwort.figures.pictures import PICTURE_FORMATS
from ragwort.grid.writing import GRID_FORMATS

_TITLES = {"csv": "Rows as CSV…", "xlsx": "Rows as XLSX…", "ods": "Rows as ODS…", "md": "Rows as a Markdown table…"}


def ways_out(parent: QWidget, rows: Callable[[str], None], chart: Callable[[str], None]) -> QMenu:
    """Every kind of file for the rows, and for the chart."""
    menu = QMenu(parent)
    for kind in GRID_FORMATS:
        menu.addAction(_TITLES[kind], lambda kind=kind: rows(kind))
    menu.addSeparator()
    for kind in PICTURE_FORMATS:
        title = "Data of the chart as CSV…" if kind == "csv" else f"Chart as {kind.upper()}…"
        menu.addAction(title, lambda kind=kind: chart(kind))
    return menu
