"""An XLSX workbook to be written: text stays text, and the same contents make the same bytes."""

from __future__ import annotations

import io
from collections.abc import Callable
from datetime import UTC, datetime
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from xlsxwriter import Workbook

_OPTIONS = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}


def xlsx_bytes(fill: Callable[[Workbook], None], **properties: str) -> bytes:
    """A workbook with these document properties, its sheets filled by `fill`."""
    from xlsxwriter import Workbook

    buffer = io.BytesIO()
    with Workbook(buffer, _OPTIONS) as book:
        book.set_properties({**properties, "created": datetime(2000, 1, 1, tzinfo=UTC)})
        fill(book)
    return buffer.getvalue()
