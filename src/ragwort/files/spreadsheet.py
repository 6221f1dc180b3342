"""An ODS workbook, its rows written one by one: a tree of all cells in memory would be fifty times as large.

The package makes everything around the tables, which are streamed into its place for them (OpenDocument 1.3, part 3,
section 9.1).
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable, Sequence
from typing import Any

from ragwort.files.texts import for_cell

Rows = Iterable[Sequence[str | int | float | None]]
_CONTENT = "content.xml"
_LONG_AGO = (1980, 1, 1, 0, 0, 0)  # the time of every part, so that two alike are alike


def ods_bytes(tables: Sequence[tuple[str, Rows]]) -> bytes:
    """Sheets by name: texts as texts, numbers as numbers, None as an empty cell. The same rows make the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(_around())) as was, zipfile.ZipFile(out, "w") as now:
        for part in was.infolist():
            made = zipfile.ZipInfo(part.filename, _LONG_AGO)
            made.compress_type, made.external_attr = part.compress_type, part.external_attr
            if part.filename == _CONTENT:
                with now.open(made, "w", force_zip64=True) as file:
                    _write_content(file, tables)
            else:
                now.writestr(made, _in_order(part.filename, was.read(part)))
    return out.getvalue()


def _around() -> bytes:
    from odf.opendocument import OpenDocumentSpreadsheet

    empty = io.BytesIO()
    OpenDocumentSpreadsheet().save(empty)
    return empty.getvalue()


def _in_order(name: str, data: bytes) -> bytes:
    """XML in its canonical form (W3C, Canonical XML 2.0): the package writes attributes in any order."""
    from xml.etree.ElementTree import canonicalize

    if not name.endswith(".xml"):
        return data
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{canonicalize(data.decode())}'.encode()


def _write_content(file: Any, tables: Sequence[tuple[str, Rows]]) -> None:
    from xml.sax.saxutils import quoteattr

    file.write(_HEAD.encode())
    for name, rows in tables:
        file.write(f"<table:table table:name={quoteattr(name)}>".encode())
        for row in rows:
            cells = "".join(map(_cell, row))
            file.write(f"<table:table-row>{cells}</table:table-row>".encode())
        file.write(b"</table:table>")
    file.write(_END.encode())


_HEAD = (
    '<?xml version="1.0" encoding="UTF-8"?>\n<office:document-content office:version="1.2" '
    'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
    'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" '
    'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body><office:spreadsheet>'
)
_END = "</office:spreadsheet></office:body></office:document-content>"


def _cell(value: str | int | float | None) -> str:
    from xml.sax.saxutils import escape

    if value is None or value == "":
        return "<table:table-cell/>"
    if isinstance(value, str):
        text = escape(str(for_cell(value)))
        return f'<table:table-cell office:value-type="string"><text:p>{text}</text:p></table:table-cell>'
    typed = f'office:value-type="float" office:value="{value!r}"'
    return f"<table:table-cell {typed}><text:p>{value:.12g}</text:p></table:table-cell>"
