"""What was exported, opened by readers that are not ours: what cannot be opened raises."""

from __future__ import annotations

import csv
import io
import json
import xml.sax
import zipfile
from collections.abc import Callable
from pathlib import Path
from xml.etree import ElementTree


def opened(path: Path) -> None:
    """Open a file as its ending says. Raises whatever its reader does; `KeyError` for an ending that none is for."""
    READERS[path.suffix.lower().removeprefix(".")](path.read_bytes())


def _xlsx(data: bytes) -> None:
    from openpyxl import load_workbook

    for sheet in load_workbook(io.BytesIO(data)).worksheets:
        assert [list(row) for row in sheet.iter_rows(values_only=True)], f"{sheet.title} is empty"
    _parts(data)


def _ods(data: bytes) -> None:
    from odf.opendocument import load
    from odf.table import Table, TableRow

    tables = load(io.BytesIO(data)).spreadsheet.getElementsByType(Table)
    assert tables, "there is no sheet"
    assert all(table.getElementsByType(TableRow) for table in tables)
    _parts(data)


def _docx(data: bytes) -> None:
    import docx

    assert docx.Document(io.BytesIO(data)).paragraphs, "there is no paragraph"
    _parts(data)


def _parts(data: bytes) -> None:
    """Every part of an archive that is XML is well formed."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.testzip() is None
        for name in archive.namelist():
            if name.endswith((".xml", ".rels")):
                xml.sax.parseString(archive.read(name), xml.sax.ContentHandler())


def _pdf(data: bytes) -> None:
    from pypdf import PdfReader

    reader = PdfReader(io.BytesIO(data), strict=True)
    assert len(reader.pages) > 0
    assert all(page.extract_text() is not None for page in reader.pages)


def _html(data: bytes) -> None:
    from lxml import etree

    parser = etree.HTMLParser(recover=True)
    root = etree.fromstring(data, parser)
    assert root is not None
    assert root.find("body") is not None


def _png(data: bytes) -> None:
    from PIL import Image

    with Image.open(io.BytesIO(data)) as image:
        image.load()
        assert min(image.size) > 10


def _csv(data: bytes) -> None:
    rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline="")))
    assert rows, "there is no row"


def _text(data: bytes) -> None:
    assert data.decode().strip(), "it is empty"


READERS: dict[str, Callable[[bytes], None]] = {
    "xlsx": _xlsx,
    "ods": _ods,
    "docx": _docx,
    "pdf": _pdf,
    "svg": lambda data: ElementTree.fromstring(data) and None,
    "html": _html,
    "png": _png,
    "csv": _csv,
    "md": _text,
    "txt": _text,
    "json": lambda data: json.loads(data),
    "ragwort": lambda data: json.loads(data),
}
