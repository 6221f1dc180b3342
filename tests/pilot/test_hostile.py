"""Pilot files as an attacker or a broken program writes them: each its own message, in bounded time and memory."""

from __future__ import annotations

import io
import os
import time
import zipfile
from pathlib import Path
from typing import Any

import pytest

from ragwort.files import workbook
from ragwort.pilot import PilotError, read_table

_TYPES = (
    '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" '
    'ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/'
    'vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>'
)
_MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
_LINKS = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
_PACKAGE = "http://schemas.openxmlformats.org/package/2006/relationships"


def sheet(cells: str) -> bytes:
    """A workbook of one sheet with these cells, as small as it can be."""
    parts = {
        "[Content_Types].xml": _TYPES,
        "_rels/.rels": f'<Relationships xmlns="{_PACKAGE}"><Relationship Id="r1" Type="{_LINKS}/officeDocument" '
        'Target="xl/workbook.xml"/></Relationships>',
        "xl/workbook.xml": f'<workbook xmlns="{_MAIN}" xmlns:r="{_LINKS}"><sheets><sheet name="s" sheetId="1" '
        'r:id="r1"/></sheets></workbook>',
        "xl/_rels/workbook.xml.rels": f'<Relationships xmlns="{_PACKAGE}"><Relationship Id="r1" '
        f'Type="{_LINKS}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
        "xl/worksheets/sheet1.xml": f'<worksheet xmlns="{_MAIN}"><sheetData>{cells}</sheetData></worksheet>',
    }
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name, content in parts.items():
            archive.writestr(name, content)
    return file.getvalue()


def cell(place: str, value: str) -> str:
    """One cell in a row of its own."""
    row = "".join(c for c in place if c.isdigit())
    return f'<row r="{row}"><c r="{place}"><v>{value}</v></c></row>'


def test_a_workbook_is_read_in_a_process_of_its_own(tmp_path: Path) -> None:
    """Heading and numbers, as they stand there."""
    (tmp_path / "p.xlsx").write_bytes(sheet(cell("A1", "1") + cell("A2", "1.5") + cell("A3", "-2")))
    table = read_table(tmp_path / "p.xlsx")
    assert table.columns == {"1": ["1.5", "-2"]}


@pytest.mark.parametrize(
    "cells",
    [
        cell("A1", "1") + cell("XFD1048576", "2"),
        cell("A1", "1") + cell("XFD9999999", "2"),
        cell("A1", "1") + cell("AAAAAAAAA1", "2"),
        cell("A1", "1") + '<row r="4294967295"><c r="A4294967295"><v>1</v></c></row>',
    ],
    ids=["last cell", "row beyond", "column beyond", "row of four billion"],
)
def test_a_cell_far_away_costs_a_message_only(tmp_path: Path, cells: str) -> None:
    """A sheet of 17 thousand million cells, cells beyond any sheet."""
    (tmp_path / "p.xlsx").write_bytes(sheet(cells))
    with pytest.raises(PilotError, match=r"p\.xlsx (cannot be opened|has|is)"):
        read_table(tmp_path / "p.xlsx")


def test_a_small_archive_that_unpacks_to_too_much_is_refused(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """It meets the limit of memory, which is made smaller here."""
    monkeypatch.setattr(workbook, "MOST_MEMORY", 400_000_000)
    row = "<row>" + "<c><v>1</v></c>" * 50 + "</row>"
    (tmp_path / "p.xlsx").write_bytes(sheet(row * 250_000))
    assert (tmp_path / "p.xlsx").stat().st_size < 10_000_000
    started = time.monotonic()
    with pytest.raises(PilotError, match="more than 2 GB of memory, 20 million cells or 60 seconds"):
        read_table(tmp_path / "p.xlsx")
    assert time.monotonic() - started < workbook.MOST_TIME + 30


def test_a_workbook_that_takes_too_long_is_given_up(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Its process is ended."""
    monkeypatch.setattr(workbook, "MOST_TIME", -1)
    (tmp_path / "p.xlsx").write_bytes(sheet(cell("A1", "1") + cell("A2", "2")))
    with pytest.raises(PilotError, match="seconds"):
        read_table(tmp_path / "p.xlsx")


def test_reading_a_workbook_can_be_stopped(tmp_path: Path) -> None:
    """The listener raises, and no process is left."""

    class Enough(Exception):
        pass

    def stop(share: float) -> None:
        if share > 0:
            raise Enough

    (tmp_path / "p.xlsx").write_bytes(sheet(cell("A1", "1") + cell("A2", "2")))
    with pytest.raises(Enough):
        read_table(tmp_path / "p.xlsx", stop)


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"a,b\n1," + b"x" * 140_000 + b"\n", "more than 131072 characters"),
        (b"a," * 100_000 + b"a\n", "100001 columns"),
        ("a\n1\n".encode("utf-32")[:-1], "cut short"),
    ],
    ids=["long cell", "columns", "half a character"],
)
def test_odd_text_files_say_what_is_wrong(tmp_path: Path, content: bytes, says: str) -> None:
    """In one sentence."""
    (tmp_path / "p.csv").write_bytes(content)
    with pytest.raises(PilotError, match=says) as caught:
        read_table(tmp_path / "p.csv")
    assert len(str(caught.value)) < 300


def test_what_is_no_file_is_refused_at_once(tmp_path: Path) -> None:
    """A pipe that nobody writes to, a device without end, a folder."""
    os.mkfifo(tmp_path / "p.csv")
    (tmp_path / "d.csv").mkdir()
    (tmp_path / "z.csv").symlink_to("/dev/zero")
    for name, says in (("p.csv", "pipe"), ("d.csv", "folder"), ("z.csv", "device")):
        with pytest.raises(PilotError, match=says):
            read_table(tmp_path / name)


def test_a_file_that_changes_while_it_is_read_is_not_read_by_halves(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Somebody saves it at that moment."""
    from ragwort.files import reading

    path, rest = tmp_path / "p.csv", os.read
    path.write_text("a\n1\n")

    def read(descriptor: int, count: int) -> Any:
        with path.open("a") as file:
            file.write("2\n")
        monkeypatch.setattr(reading.os, "read", rest)
        return rest(descriptor, count)

    monkeypatch.setattr(reading.os, "read", read)
    with pytest.raises(PilotError, match="changed while it was read"):
        read_table(path)


def test_utf_32_is_read(tmp_path: Path) -> None:
    """With its mark."""
    (tmp_path / "p.csv").write_bytes("schlaf,ö\n1,2\n".encode("utf-32"))
    assert read_table(tmp_path / "p.csv").columns == {"schlaf": ["1"], "ö": ["2"]}
