"""Pilot files of every kind, and everything that can be wrong with one."""

from __future__ import annotations

import statistics
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest

from ragwort.demo.pilot import DIFFERENCE, SD, pilot_csv
from ragwort.pilot import READINGS, Data, Measured, Numbers, PilotError, Table, filtered, read_table

Write = Callable[..., Path]


@pytest.fixture
def write(tmp_path: Path) -> Write:
    """Write a pilot file."""

    def make(text: str | bytes, name: str = "pilot.csv", encoding: str = "utf-8") -> Path:
        path = tmp_path / name
        path.write_bytes(text if isinstance(text, bytes) else text.encode(encoding))
        return path

    return make


ROWS = [("a", 1.5), ("b", 2.5), ("a", 3.0), ("b", 4.75), ("a", 2.25), ("b", 3.5)]


def lines(sign: str, comma: bool = False, heading: str = "") -> str:
    """Two columns as text."""
    head = heading or f"room{sign}score"
    body = [f"{room}{sign}{score}".replace(".", ",") if comma else f"{room}{sign}{score}" for room, score in ROWS]
    return "\n".join([head, *body]) + "\n"


def summarise(table: Table, outcome: str, group: str) -> Numbers:
    """The outcome by group."""
    return READINGS["several_groups"].read(filtered(Data(table)), {"outcome": outcome, "group": group})


def scores(found: Numbers) -> dict[str, tuple[int, float, float]]:
    """n, mean and SD by group."""
    return {each.name: (each.n, each.mean, each.sd) for each in found.parts if isinstance(each, Measured)}


def expected() -> dict[str, tuple[int, float, float]]:
    """The same from the standard library."""
    groups = {name: [score for room, score in ROWS if room == name] for name in ("a", "b")}
    return {
        n: (len(v), pytest.approx(statistics.mean(v)), pytest.approx(statistics.stdev(v))) for n, v in groups.items()
    }


@pytest.mark.parametrize(
    ("text", "name", "encoding"),
    [
        (lines(","), "p.csv", "utf-8"),
        (lines(","), "p.csv", "utf-8-sig"),
        (lines(","), "p.csv", "utf-16"),
        (lines(";"), "p.csv", "utf-8"),
        (lines(";", comma=True), "p.csv", "utf-8"),
        (lines("\t"), "p.tsv", "utf-8"),
        (lines("|"), "p.txt", "utf-8"),
        (lines(",").replace("\n", "\r\n"), "P.CSV", "utf-8"),
        ('"room","score"\n' + "\n".join(f'"{room}","{score}"' for room, score in ROWS), "p.csv", "utf-8"),
        ("\n\n" + lines(",") + "\n\n", "p.csv", "utf-8"),
    ],
)
def test_text_files_of_every_kind(write: Write, text: str, name: str, encoding: str) -> None:
    """Delimiters, decimal commas, quotes, a byte-order mark, line ends, empty lines."""
    table = read_table(write(text, name, encoding))
    assert list(table.columns) == ["room", "score"]
    assert scores(summarise(table, "score", "room")) == expected()
    assert len(table.digest) == 64


def test_latin_1_and_quoted_delimiters(write: Write) -> None:
    """Names with accents that are not UTF-8; a delimiter inside quotes is text."""
    table = read_table(write('größe;"salle; nuit"\n1,5;été\n2,5;hiver\n', encoding="latin-1"))
    assert list(table.columns) == ["größe", "salle; nuit"]
    assert table.columns["salle; nuit"] == ["été", "hiver"]


def workbook(path: Path, rows: list[list[object]]) -> Path:
    """A minimal XLSX: what a spreadsheet program would save, written by hand."""
    cells = []
    for number, row in enumerate(rows, start=1):
        made = "".join(
            f'<c t="inlineStr"><is><t>{value}</t></is></c>' if isinstance(value, str) else f"<c><v>{value}</v></c>"
            for value in row
        )
        cells.append(f'<row r="{number}">{made}</row>')
    main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
    office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
    package = "http://schemas.openxmlformats.org/package/2006"
    parts = {
        "[Content_Types].xml": f'<Types xmlns="{package}/content-types"><Default Extension="rels" '
        'ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" '
        'ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>',
        "_rels/.rels": f'<Relationships xmlns="{package}/relationships"><Relationship Id="r1" '
        f'Type="{office}/officeDocument" Target="xl/workbook.xml"/></Relationships>',
        "xl/workbook.xml": f'<workbook xmlns="{main}" xmlns:r="{office}"><sheets><sheet name="data" sheetId="1" '
        'r:id="r1"/></sheets></workbook>',
        "xl/_rels/workbook.xml.rels": f'<Relationships xmlns="{package}/relationships"><Relationship Id="r1" '
        f'Type="{office}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
        "xl/worksheets/sheet1.xml": f'<worksheet xmlns="{main}"><sheetData>{"".join(cells)}</sheetData></worksheet>',
    }
    with zipfile.ZipFile(path, "w") as archive:
        for name, text in parts.items():
            archive.writestr(name, f'<?xml version="1.0" encoding="UTF-8"?>{text}')
    return path


def open_document(path: Path, rows: list[list[object]]) -> Path:
    """A minimal ODS."""
    body = ""
    for row in rows:
        made = "".join(
            f'<table:table-cell office:value-type="string"><text:p>{value}</text:p></table:table-cell>'
            if isinstance(value, str)
            else f'<table:table-cell office:value-type="float" office:value="{value}"><text:p>{value}</text:p>'
            "</table:table-cell>"
            for value in row
        )
        body += f"<table:table-row>{made}</table:table-row>"
    spaces = " ".join(
        f'xmlns:{name}="urn:oasis:names:tc:opendocument:xmlns:{name}:1.0"' for name in ("office", "table", "text")
    )
    content = (
        f'<?xml version="1.0" encoding="UTF-8"?><office:document-content {spaces}><office:body><office:spreadsheet>'
        f'<table:table table:name="data">{body}</table:table></office:spreadsheet></office:body>'
        "</office:document-content>"
    )
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("content.xml", content)
        archive.writestr(
            "META-INF/manifest.xml",
            '<?xml version="1.0" encoding="UTF-8"?><manifest:manifest '
            'xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:file-entry '
            'manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.spreadsheet"/>'
            "</manifest:manifest>",
        )
    return path


@pytest.mark.parametrize(("make", "name"), [(workbook, "p.xlsx"), (open_document, "p.ods")])
def test_workbooks(tmp_path: Path, make: Callable[..., Path], name: str) -> None:
    """The first sheet with anything in it, numbers and words."""
    rows: list[list[object]] = [["room", "score"], *([room, score] for room, score in ROWS)]
    table = read_table(make(tmp_path / name, rows))
    assert scores(summarise(table, "score", "room")) == expected()


def test_missing_values_are_counted_and_left_out(write: Write) -> None:
    """Empty cells and the usual words for missing; a row without a group belongs to none."""
    text = lines(",") + "a,\nb,NA\nb,n/a\n,9\n"
    summary = summarise(read_table(write(text)), "score", "room")
    assert scores(summary) == expected()
    assert {each.name: each.missing for each in summary.parts} == {"a": 1, "b": 2}


@pytest.mark.parametrize(
    ("text", "name", "says"),
    [
        ("", "p.csv", "is empty"),
        ("room,score\n", "p.csv", "no rows below its heading"),
        (b"\x00\x01\x02\x00", "p.csv", "no text file"),
        (b"PK\x03\x04 broken", "p.xlsx", "no workbook or is damaged"),
        (b"\xd0\xcf\x11\xe0 locked", "p.xlsx", "protected by a password"),
        ("room,score\na,1\n".encode("utf-16")[:-1], "p.csv", "cut short"),
        ("x", "p.doc", "pilot files are .csv"),
        ('a,b\n1,"never closed\n' + "1,2\n" * 50_000, "p.csv", "quotation mark there never closed"),
        (",".join(f"c{i}" for i in range(10_000)) + "\n" + "1," * 9_999 + "1\n", "p.csv", "10000 columns"),
    ],
)
def test_files_that_cannot_be_used_say_why(write: Write, text: str | bytes, name: str, says: str) -> None:
    """And what would do."""
    with pytest.raises(PilotError, match=says):
        read_table(write(text, name))


def test_a_file_that_vanishes(tmp_path: Path) -> None:
    """Deleted between choosing and reading."""
    with pytest.raises(PilotError, match="There is no file"):
        read_table(tmp_path / "gone.csv")


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ("a,1\na,two\nb,3\nb,4", r"no number in row 3 \(“two”\)"),
        ("a,1\na,2\nb,3", "only one value of score in “b”"),
        ("a,\na,NA\nb,3\nb,4", "missing in every row in “a”"),
        ("a,5\na,5\nb,3\nb,4", "without variability"),
        ("\n".join(f"g{i},{i}" for i in range(60)), "too many for groups"),
    ],
)
def test_data_that_cannot_be_used_say_why(write: Write, body: str, says: str) -> None:
    """The column, the group, the rows."""
    with pytest.raises(PilotError, match=says):
        summarise(read_table(write(f"room,score\n{body}\n")), "score", "room")


def test_columns_without_or_with_the_same_name(write: Write) -> None:
    """Each can still be chosen."""
    assert list(read_table(write("x,,x\n1,2,3\n")).columns) == ["x", "column 2", "x (2)"]
    assert list(read_table(write("x,x (2),x,x\n1,2,3,4\n")).columns) == ["x", "x (2)", "x (3)", "x (4)"]


def test_progress_is_told_and_can_stop(write: Write) -> None:
    """A long file is heard of as it is read."""
    heard: list[float] = []
    table: Table = read_table(write("x,y\n" + "1,2\n" * 50_000), heard.append)
    assert table.rows == 50_000
    assert heard == sorted(heard)
    assert len(heard) >= 3

    def stop(_: float) -> None:
        raise InterruptedError

    with pytest.raises(InterruptedError):
        read_table(write("x\n1\n"), stop)


def test_the_demo_pilot_has_the_demo_effect(write: Write) -> None:
    """60 nights: 12.0 ms apart with a pooled SD of 24.0 ms."""
    table = read_table(write(pilot_csv()))
    assert table.rows == 60
    found = scores(summarise(table, "reaction time", "room"))
    (_, mean1, sd1), (_, mean2, sd2) = found.values()
    assert mean2 - mean1 == pytest.approx(DIFFERENCE, abs=0.01)
    assert (sd1, sd2) == (pytest.approx(SD, abs=0.01), pytest.approx(SD, abs=0.01))
