"""Templates are looked at with care: what has no end, is monstrous or broken, or fetches from elsewhere is refused."""

from __future__ import annotations

import io
import os
import resource
import subprocess
import sys
import zipfile
from collections.abc import Callable
from pathlib import Path

import docx
import pytest
from docx.opc.constants import RELATIONSHIP_TYPE

from ragwort.files import FileError
from ragwort.report import report_bytes
from ragwort.study.document.model import Study

STUDY = Study(title="x")


def test_an_institutions_css_dresses_html(tmp_path: Path) -> None:
    """It stands after ours; what is no CSS is refused in one sentence."""
    css = tmp_path / "house.css"
    css.write_text("h1 { color: teal }")
    assert "h1 { color: teal }" in report_bytes(Study(title="x"), "html", template=css).decode()
    for bad in (b"\xff\xfe{", b"a{} </STYLE><script>", b"nothing"):
        css.write_bytes(bad)
        with pytest.raises(FileError, match="cannot be used as a template"):
            report_bytes(Study(title="x"), "html", template=css)


@pytest.mark.parametrize(
    "css",
    [
        '@import "http://example.org/a.css"; a {}',
        "@IMPORT url(other.css); a {}",
        '@im\\70ort "a.css"; a {}',
        "a { background: url(http://example.org/a.png) }",
        "a { background: url( '//example.org/a.png' ) }",
        "a { background: u\\72l(a.png) }",
        "@media print { a { b: image-set('http://example.org/a.png' 1x) } }",
        "@font-face { src: local(Inter), url(https://example.org/a.woff2) }",
        "a { --picture: url(http://example.org/a.png) }",
        "a { b: url(http://example.org/a.png",
    ],
)
def test_css_that_fetches_is_refused(css: str, tmp_path: Path) -> None:
    """However its letters are written, at any depth, unfinished too."""
    (tmp_path / "house.css").write_text(css)
    with pytest.raises(FileError, match=r"house.css cannot be used as a template: it fetches"):
        report_bytes(STUDY, "html", template=tmp_path / "house.css")


def test_css_that_brings_what_it_needs_is_taken(tmp_path: Path) -> None:
    """Pictures as data, references within the page, addresses that are only words."""
    css = "a { background: url(data:image/png;base64,AAAA) } b { fill: url(#c); content: 'http://example.org' }"
    (tmp_path / "house.css").write_text(css)
    assert css in report_bytes(STUDY, "html", template=tmp_path / "house.css").decode()


@pytest.mark.parametrize("kind", ["docx", "html"])
def test_what_has_no_end_is_refused_at_once(kind: str, tmp_path: Path) -> None:
    """Pipes, devices, folders, files that are too large."""
    os.mkfifo(tmp_path / "pipe")
    with (tmp_path / "large").open("wb") as file:
        file.truncate(10**9)
    for place in (tmp_path / "pipe", Path("/dev/zero"), tmp_path, tmp_path / "large", tmp_path / "none"):
        with pytest.raises(FileError):
            report_bytes(STUDY, kind, template=place)


def letterhead(folder: Path, change: Callable[[dict[str, bytes]], None] = lambda _: None) -> Path:
    """A letterhead whose parts were changed."""
    made = io.BytesIO()
    document = docx.Document()
    document.sections[0].header.paragraphs[0].text = "Institute of Sleep"
    document.save(made)
    with zipfile.ZipFile(made) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    change(parts)
    with zipfile.ZipFile(folder / "letter.docx", "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in parts.items():
            archive.writestr(name, content)
    return folder / "letter.docx"


MAIN = "word/document.xml"


def _bomb(parts: dict[str, bytes]) -> None:
    parts[MAIN] = parts[MAIN].replace(b"<w:body>", b"<w:body>" + b"<w:p/>" * 20_000_000)


def _without_body(parts: dict[str, bytes]) -> None:
    start, end = parts[MAIN].index(b"<w:body>"), parts[MAIN].index(b"</w:body>") + len(b"</w:body>")
    parts[MAIN] = parts[MAIN][:start] + parts[MAIN][end:]


def _with_entities(parts: dict[str, bytes]) -> None:
    head, body = parts[MAIN].split(b"<w:document", 1)
    parts[MAIN] = (
        head + b'<!DOCTYPE d [<!ENTITY nobody "x">]><w:document' + body.replace(b"<w:body>", b"<w:body>&nobody;")
    )


def _with_a_field(parts: dict[str, bytes]) -> None:
    field = b"<w:p><w:r><w:instrText> DDE</w:instrText></w:r><w:r><w:instrText>AUTO c:\\x</w:instrText></w:r></w:p>"
    parts[MAIN] = parts[MAIN].replace(b"<w:body>", b"<w:body>" + field)


def _broken(parts: dict[str, bytes]) -> None:
    parts[MAIN] = parts[MAIN][:-40]


def _empty(parts: dict[str, bytes]) -> None:
    parts[MAIN] = b"<a/>"


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (_bomb, "unpacked it is larger than"),
        (_without_body, "it has no body"),
        (_with_entities, "declares entities"),
        (_with_a_field, "a field that fetches something .DDEAUTO."),
        (_broken, "it is no DOCX document, or is damaged"),
        (_empty, "cannot be used as a template"),
    ],
)
def test_odd_letterheads_are_refused(change: Callable[[dict[str, bytes]], None], says: str, tmp_path: Path) -> None:
    """In one sentence each."""
    template = letterhead(tmp_path, change)
    with pytest.raises(FileError, match=says):
        report_bytes(STUDY, "docx", template=template)


def test_a_bomb_takes_little_memory(tmp_path: Path) -> None:
    """A report on it ends within bounds in which it could not be unpacked."""
    template = letterhead(tmp_path, _bomb)
    assert template.stat().st_size < 1_000_000
    program = (
        "import sys; from pathlib import Path; from ragwort.report.writers.letterhead import letterhead_in; "
        "letterhead_in(Path(sys.argv[1]), print)"
    )
    limit = lambda: resource.setrlimit(resource.RLIMIT_AS, (700_000_000, 700_000_000))  # noqa: E731
    command = [sys.executable, "-c", program, str(template)]
    environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
    done = subprocess.run(command, preexec_fn=limit, env=environment, capture_output=True, text=True, check=False)
    assert "FileError" in done.stderr
    assert "MemoryError" not in done.stderr


def test_a_letterhead_without_a_page_size_is_written_on(tmp_path: Path) -> None:
    """Sections are optional in the format: it gets A4."""

    def change(parts: dict[str, bytes]) -> None:
        start, end = parts[MAIN].index(b"<w:sectPr"), parts[MAIN].index(b"</w:sectPr>") + len(b"</w:sectPr>")
        parts[MAIN] = parts[MAIN][:start] + parts[MAIN][end:]

    made = docx.Document(io.BytesIO(report_bytes(STUDY, "docx", template=letterhead(tmp_path, change))))
    assert made.sections[0].page_width.cm == pytest.approx(21.0, abs=0.01)


def test_links_of_a_letterhead_become_words_and_what_it_fetches_is_refused(tmp_path: Path) -> None:
    """A hyperlink in body and header is told; a picture or a template from elsewhere is not taken."""
    document = docx.Document()
    for part, root in ((document.part, document.element.body), (document.sections[0].header.part, None)):
        key = part.relate_to("https://example.org", RELATIONSHIP_TYPE.HYPERLINK, is_external=True)
        link = docx.oxml.parse_xml(
            '<w:p xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" xmlns:r="http://schemas.'
            f'openxmlformats.org/officeDocument/2006/relationships"><w:hyperlink r:id="{key}"><w:r><w:t>our site</w:t>'
            "</w:r></w:hyperlink></w:p>"
        )
        (part._element if root is None else root).insert(0, link)
    document.save(str(tmp_path / "letter.docx"))
    told: list[str] = []
    made = report_bytes(STUDY, "docx", template=tmp_path / "letter.docx", tell=told.append)
    assert told == ["letter.docx: 2 links to other places became plain words."]
    with zipfile.ZipFile(io.BytesIO(made)) as archive:
        assert not [name for name in archive.namelist() if b"External" in archive.read(name)]
    assert "our site" in docx.Document(io.BytesIO(made)).element.xpath("string(//w:hyperlink)")
    document.part.relate_to("http://example.org/a.png", RELATIONSHIP_TYPE.IMAGE, is_external=True)
    document.save(str(tmp_path / "letter.docx"))
    with pytest.raises(FileError, match=r"fetches something from elsewhere .*image: http://example.org/a.png"):
        report_bytes(STUDY, "docx", template=tmp_path / "letter.docx")
