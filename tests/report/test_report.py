"""The report says what the answers say, in every format."""

from __future__ import annotations

import errno
import io
import json
import re
from collections.abc import Iterator
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

import docx
import pytest
from pypdf import PdfReader

from ragwort.demo import sampler_study
from ragwort.designs import Answer, all_designs, answer_request, design_named
from ragwort.files import FileError, write_whole
from ragwort.report import REPORT_FORMATS, report_bytes, report_of
from ragwort.report.sections.statements import LENGTHS, statement_of
from ragwort.report.tree import Bullets, Code, Document, FigureBlock, Heading, Paragraph, Table
from ragwort.report.writers.plain import write_text
from ragwort.report.writers.preview import write_preview
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Writing
from ragwort.study.document.writing import SECTIONS, ordered
from ragwort.study.results.outcome import outcome_of

STATEMENT = (
    "64 staff per group (128 in total) are needed for at least 80% power (attained: 80.1%) to detect a "
    "difference of 12 ms"
)


class _Words(HTMLParser):
    """All text of a page, and whether its tags close."""

    def __init__(self) -> None:
        super().__init__()
        self.text, self.open = "", []

    def handle_starttag(self, tag: str, attrs: object) -> None:
        if tag not in ("meta", "img", "br", "path", "use"):
            self.open.append(tag)

    def handle_endtag(self, tag: str) -> None:
        if tag not in ("path", "use"):
            assert self.open.pop() == tag

    def handle_data(self, data: str) -> None:
        self.text += data


def words_of(study: Study, kind: str) -> str:
    """The text of a report, spaces made single."""
    made = report_bytes(study, kind)
    if kind == "docx":
        text = " ".join(_docx_texts(made))
    elif kind in ("md", "txt"):
        text = re.sub(r"\\(.)", r"\1", made.decode())
    elif kind == "pdf":
        text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(made)).pages)
    else:
        parser = _Words()
        parser.feed(made.decode())
        assert parser.open == []
        text = parser.text
    return " ".join(text.replace("\u00a0", " ").split())


def _docx_texts(made: bytes) -> list[str]:
    """Every paragraph and cell."""
    found = docx.Document(io.BytesIO(made))
    cells = [cell.text for table in found.tables for row in table.rows for cell in row.cells]
    return [*(paragraph.text for paragraph in found.paragraphs), *cells]


def first_aim() -> Study:
    """The demo study with its first aim only."""
    return sampler_study().changed(aims=sampler_study().aims[:1])


@pytest.mark.parametrize("kind", REPORT_FORMATS)
def test_the_report_holds_what_a_protocol_needs(kind: str) -> None:
    """Statement, assumptions with ranges and sources, answer, method, scenarios, references, how to reproduce."""
    text = words_of(sampler_study(), kind)
    for part in (
        "Night-shift lighting",
        STATEMENT,
        "Allowing for 10% dropout, 144 staff (72 per group) will be recruited.",
        "20 to 28",
        "pilot of 60 nights",
        "12 ms is about what one cup of coffee buys",
        "noncentral t distribution",
        "Cautious SD",
        "174 staff",
        "Biometrika 1947; 34: 28-35.",
        "“ragwort compute FILE”",
        '"difference": 12',
        "Welch's degrees of freedom are an approximation",
    ):
        assert part in text, part


def test_the_requests_are_short_and_whole() -> None:
    """The numbers of a list stand beside each other; what is printed can be computed."""
    printed = next(each.text for each in report_of(sampler_study()).blocks if isinstance(each, Code))
    assert '"means": [412, 405, 398]' in printed
    requests = json.loads(printed)
    found = [outcome_of(aim) for aim in sampler_study().aims]
    assert [answer_request(request)["answer"] for request in requests] == [each.answer for each in found]


def test_the_tree_has_both_pictures_for_each_aim() -> None:
    """Curve and Errors, each with its line of text; and the scenarios side by side where there are any."""
    document = report_of(sampler_study())
    captions = [block.caption for block in document.blocks if isinstance(block, FigureBlock)]
    assert len(captions) == 1  # of the first, as nobody says which are primary
    every = report_of(edits.show_section(sampler_study(), "pictures", True).study)
    captions = [block.caption for block in every.blocks if isinstance(block, FigureBlock)]
    # The exact test has its steps too, aims with ranges their drivers, one has a map and a spread, one a split.
    assert len(captions) == 2 * len(sampler_study().aims) + 1 + 2 + 3 + 1  # the last is of the grid
    assert all(caption.endswith(".") for caption in captions)
    tables = [block for block in document.blocks if isinstance(block, Table) and block.head[0] == "Scenario"]
    assert [row[2] for row in tables[0].rows] == ["128 staff", "174 staff", "184 staff", "172 staff"]


def test_markup_in_names_stays_text() -> None:
    """Angle brackets, ampersands and dollar signs of a user's words are shown, not obeyed."""
    study = edits.rename_aim(first_aim(), "reaction", "<b>R&D</b> $x$").study
    study = edits.set_words(study, "reaction", unit="<ms>").study
    for kind in REPORT_FORMATS:
        assert "<b>R&D</b> $x$" in words_of(study, kind)
    assert "&lt;b&gt;R&amp;D" in write_preview(report_of(study), 600)


def test_an_aim_without_an_answer_says_why() -> None:
    """No old number in a report."""
    study = edits.type_value(first_aim(), "reaction", "sd", "-5").study
    text = words_of(study, "pdf")
    assert "There is no answer yet. Standard deviation must be above 0" in text
    assert STATEMENT not in text


def test_empty_and_extreme_studies_are_written() -> None:
    """No aim at all; a name of 200 letters without a space; characters that Inter lacks."""
    assert "No aim of this study has an answer yet" in words_of(Study(), "pdf")
    study = edits.rename_aim(first_aim(), "reaction", "x" * 500).study
    study = edits.set_words(study, "reaction", unit="🌙", many="работники").study
    assert "работники" in words_of(study, "pdf")


def test_progress_runs_from_start_to_end_and_can_stop() -> None:
    """What the window shows as progress; an exception from it stops the work."""
    heard: list[float] = []
    report_bytes(first_aim(), "pdf", heard.append)
    assert heard == sorted(heard)
    assert heard[-1] == 1.0

    def stop(_: float) -> None:
        raise InterruptedError

    with pytest.raises(InterruptedError):
        report_bytes(first_aim(), "html", stop)


def test_an_unknown_kind_is_refused() -> None:
    """With what would be allowed."""
    with pytest.raises(ValueError, match="html or pdf or docx"):
        report_bytes(first_aim(), "odt")


def test_the_guide_has_a_chapter_for_every_design() -> None:
    """Each names what must hold of the data, how far the formula is exact, every assumption, and its references."""
    from ragwort.report.guide import chapter_of, guide

    said = [getattr(block, "text", "") or " ".join(getattr(block, "items", ())) for block in guide().blocks]
    for design in all_designs():
        assert design.title in said
        chapter = [getattr(b, "text", "") or " ".join(getattr(b, "items", ())) for b in chapter_of(design).blocks]
        whole = " ".join(chapter)
        assert design.approximation in whole
        assert all(text in whole for text in (*design.data_assumptions, *design.references))
        assert all(a.label in " ".join(said) for a in design.assumptions)
    assert "Power was" not in " ".join(said)


def _texts(document: Document) -> list[str]:
    """Every text of the tree."""
    found: list[str] = []
    for block in document.blocks:
        if isinstance(block, Heading | Paragraph | Code):
            found.append(block.text)
        elif isinstance(block, Bullets):
            found += block.items
        elif isinstance(block, FigureBlock):
            found.append(block.caption)
        elif isinstance(block, Table):
            found += [block.caption, *block.head, *(cell for row in block.rows for cell in row)]
    return [text for text in found if text.strip()]


@pytest.mark.parametrize("kind", REPORT_FORMATS)
def test_every_writer_writes_every_text_of_the_tree(kind: str) -> None:
    """Sentences, cells, captions, requests: none is left out, cut or changed."""

    def bare(text: str) -> str:
        return re.sub(r"[\s\u00ad|#>*=·`-]+", "", text.replace("\u2011", "-").lower())

    study = sampler_study().changed(aims=(*sampler_study().aims[:2], *sampler_study().aims[8:11]))
    whole = bare(re.sub(r"Night-shift lighting \d+", "", words_of(study, kind)))  # what stands at a page's foot

    def is_there(text: str) -> bool:
        over_lines = kind == "txt" and all(bare(word) in whole for word in text.split())  # a cell beside others
        return bare(text) in whole or over_lines

    assert not [text for text in _texts(report_of(study)) if not is_there(text)]


def test_a_wide_table_of_plain_text_goes_over_lines() -> None:
    """No line is longer than the text's; each column reads on below; short tables are as they were."""
    long = "what the planned difference and the variability rest on, and where each of them comes from " * 2
    table = Table("Wide", ("Guideline", "Asks for", "Here"), (("ICH E9", long, "under Method"), ("SPIRIT", "n", "1")))
    lines = write_text(Document("T", (table,))).decode().splitlines()
    assert max(map(len, lines)) <= 92
    head = next(line for line in lines if line.startswith("Guideline"))
    first, last = head.index("Asks for"), head.index("Here")
    rows = lines[lines.index(head) + 2 :]
    column = " ".join(line[first:last].strip() for line in rows[:-1]).split()
    assert column == long.split()
    assert rows[-1].split() == ["SPIRIT", "n", "1"]


def test_a_docx_has_real_styles_heading_rows_and_alternative_texts(tmp_path: Path) -> None:
    """What a word processor and a screen reader need; on a letterhead too."""
    made = docx.Document(io.BytesIO(report_bytes(first_aim(), "docx")))
    styles = {paragraph.style.name for paragraph in made.paragraphs}
    assert {"Title", "Heading 1"} & styles
    assert {"Heading 2", "Heading 3", "Caption", "List Bullet", "Intense Quote"} <= styles
    assert all(table.rows[0]._tr.xpath("./w:trPr/w:tblHeader") for table in made.tables)
    drawings = made.element.xpath("//wp:docPr")
    assert len(drawings) == len(report_of(first_aim()).pictures())
    assert all(len(drawing.get("descr")) > 20 for drawing in drawings)
    letterhead = docx.Document()
    letterhead.sections[0].header.paragraphs[0].text = "Institute of Sleep"
    letterhead.save(str(tmp_path / "letter.docx"))
    on_it = docx.Document(io.BytesIO(report_bytes(first_aim(), "docx", template=tmp_path / "letter.docx")))
    assert on_it.sections[0].header.paragraphs[0].text == "Institute of Sleep"
    (tmp_path / "no.docx").write_text("no document")
    with pytest.raises(FileError, match="it is no DOCX document"):
        report_bytes(first_aim(), "docx", template=tmp_path / "no.docx")


def test_odd_titles_and_empty_studies_in_every_kind() -> None:
    """500 characters, right-to-left, emoji, marks of every format, nothing at all."""
    for title in ("x" * 500, "מחקר 🌙 שינה", "<b>&$|*\\_`#~[a](b)", ""):
        for kind in REPORT_FORMATS:
            made = words_of(Study(title=title), kind)
            if kind in ("txt", "docx", "html", "md"):
                assert " ".join(title.split()).replace("\\", "") in made.replace("\\", "")


@pytest.mark.parametrize("aim", sampler_study().aims, ids=lambda aim: aim.id)
def test_three_statements_each_holding_the_shorter(aim: Aim) -> None:
    """Words that can be pasted: no identifier, no nan, one space between sentences."""
    short, paragraph, full = (statement_of(aim, length) for length in LENGTHS)
    assert full.startswith(paragraph)
    assert len(short) < len(paragraph) < len(full)
    for text in (short, paragraph, full):
        assert not re.search(r"\bnan\b|\bNone\b|\{|\}|_[a-z]|  ", text)
        assert text.endswith(".")


def test_a_pdf_has_an_outline_of_its_headings() -> None:
    """Each heading once, in order, leading to a page that is there; its title is the study's."""
    document = report_of(first_aim())
    reader = PdfReader(io.BytesIO(report_bytes(first_aim(), "pdf")))

    def flat(entries: list[Any]) -> list[Any]:
        return [each for entry in entries for each in (flat(entry) if isinstance(entry, list) else [entry])]

    found = flat(reader.outline)
    assert [entry.title for entry in found] == [b.text for b in document.blocks if isinstance(b, Heading)]
    pages = [reader.get_destination_page_number(entry) for entry in found]
    assert pages == sorted(pages)
    assert reader.metadata is not None
    assert reader.metadata.title == "Night-shift lighting"


def test_sections_are_left_out_moved_and_have_own_words() -> None:
    """In every kind of file; what is left out of one aim is left out of all, own words are the aim's."""
    study = edits.show_section(first_aim(), "figure", False).study
    study = edits.move_section(study, "grid", -10).study
    study = edits.set_own_text(study, "reaction", "method", "before", "Chosen by the board.\n\nIn May.").study
    study = edits.set_own_text(study, "", "overview", "after", "Funded by nobody.").study
    headings = [block.text for block in report_of(study).blocks if isinstance(block, Heading)]
    assert headings.index("Sample size under other assumptions") < headings.index("Alternative scenarios")
    assert "Appendix B. Figures" not in headings and "Appendix B. Further tables" in headings
    for kind in REPORT_FORMATS:
        text = words_of(study, kind)
        places = [text.index(part) for part in ("Funded by nobody.", "Chosen by the board.", "In May.")]
        assert places == sorted(places)
    again = edits.show_section(study, "figure", True).study
    assert "Appendix B. Figures" in [block.text for block in report_of(again).blocks if isinstance(block, Heading)]
    assert edits.set_own_text(study, "reaction", "method", "before", " ").study.aims[0].texts == {}


@pytest.mark.parametrize("order", [(), ("method", "size"), ("guidelines",), ("gone", "errors")])
def test_every_section_has_its_place_whatever_was_moved(order: tuple[str, ...]) -> None:
    """Those that were moved as they were moved, none twice, none lost."""
    found = ordered(Writing(order=order), SECTIONS)
    assert sorted(found) == sorted(SECTIONS)
    assert [name for name in found if name in order] == [name for name in order if name in SECTIONS]


def test_a_pdf_is_tagged_and_its_pictures_said() -> None:
    """A structure tree with headings, tables with heading cells, lists, figures that each have a text; fonts inside."""
    reader = PdfReader(io.BytesIO(report_bytes(first_aim(), "pdf")))
    root: Any = reader.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert root["/Lang"].startswith("en")
    tags = list(_tagged(root["/StructTreeRoot"]))
    kinds = {str(tag["/S"]) for tag in tags}
    assert {"/H1", "/H2", "/H3", "/P", "/Table", "/TH", "/TD", "/L", "/LI", "/Figure", "/Caption"} <= kinds
    said = [str(tag.get("/Alt", "")) for tag in tags if tag["/S"] == "/Figure"]
    assert [picture.says for picture in report_of(first_aim()).pictures()] == [each for each in said if len(each) > 20]
    fonts = [font.get_object() for page in reader.pages for font in page["/Resources"].get("/Font", {}).values()]
    assert fonts
    assert all("/FontFile" in str(font["/DescendantFonts"][0]["/FontDescriptor"]) for font in fonts)
    assert not any("/Image" in str(page["/Resources"].get("/XObject", "")) for page in reader.pages)  # vectors


def _tagged(node: Any) -> Iterator[Any]:
    """Every element of a structure tree."""
    children = node.get("/K", [])
    for child in children if isinstance(children, list) else [children]:
        child = child.get_object() if hasattr(child, "get_object") else child
        if isinstance(child, dict) and "/S" in child:
            yield child
            yield from _tagged(child)


def test_papers() -> None:
    """A4 and Letter, in PDF and DOCX."""
    for paper, width in (("A4", 595), ("Letter", 612)):
        study = edits.choose_paper(Study(title="Paper"), paper).study
        page = PdfReader(io.BytesIO(report_bytes(study, "pdf"))).pages[0]
        assert float(page.mediabox.width) == pytest.approx(width, abs=1)
        section = docx.Document(io.BytesIO(report_bytes(study, "docx"))).sections[0]
        assert section.page_width is not None
        assert section.page_width.pt == pytest.approx(width, abs=1)


def titles(outline: list) -> list[str]:
    """Of all levels."""
    return [title for each in outline for title in (titles(each) if isinstance(each, list) else [each.title])]


def test_sixty_aims_and_two_of_one_name() -> None:
    """All of them are written up, each under its own number."""
    first = first_aim().aims[0]
    many = tuple(first.changed(id=f"aim{at}", scenarios=(), pictures={}, name="Same name") for at in range(60))
    study = Study(title="Many", aims=many)
    text = words_of(study, "txt")
    assert all(f"Aim {at}: Same name" in text for at in range(1, 61))
    outline = PdfReader(io.BytesIO(report_bytes(study.changed(aims=many[:2]), "pdf"))).outline
    assert [title for title in titles(outline) if "Same name" in title][:2] == ["Aim 1: Same name", "Aim 2: Same name"]


def test_a_full_disk_costs_no_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The old report stays whole, and the message says what happened."""
    out = tmp_path / "out.txt"
    out.write_text("the old one")

    def full(*_: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    with pytest.raises(FileError, match="space"):
        write_whole(out, report_bytes(Study(title="x"), "txt"))
    assert out.read_text() == "the old one"
    assert [each.name for each in tmp_path.iterdir()] == ["out.txt"]


@pytest.mark.parametrize("aim", sampler_study().aims, ids=lambda aim: aim.id)
def test_statements_of_each_unknown_to_each_side(aim: Aim) -> None:
    """A careful sentence whatever is found: no identifier, no sign that stumbles, no `64 and 64`."""
    design = design_named(aim.design)
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    sizes = {n: Entry(value=v) for n, v in design.sizes_as_values(answer.groups, answer.plan).items()}
    sided = any(assumption.name == "sides" for assumption in design.assumptions)
    for find in design.finds:
        for side in ("two", "greater", "less") if sided else ("",):
            entries = {**aim.entries, **sizes, **({"sides": Entry(value=side)} if side else {})}
            there = aim.changed(find=find, entries=entries, scenarios=(), planned="")
            if not isinstance(outcome_of(there), Answer):
                continue
            for length in LENGTHS:
                text = statement_of(there, length)
                assert not re.search(r"\bnan\b|None|[{}]|_[a-z]|  |(?<!− )\b1 [a-z]+s\b|\b(\d+) and \1 ", text)
                assert text[0].isupper() or text[0].isdigit()
                assert text.endswith(".")


def test_guidelines_stand_once_and_then_where_they_are_answered_otherwise() -> None:
    """The first aim that has an answer has them all; a further one what is its own, or that nothing is."""
    first = first_aim().aims[0]
    broken = edits.type_value(first_aim(), first.id, "alpha", "x").study.aims[0]
    unsaid = first.changed(id="b", name="No dropout", entries=first.entries | {"dropout": Entry(value=0.0)})
    again = first.changed(id="c", name="Again")
    study = Study(aims=(broken.changed(id="a"), first, unsaid, again))
    study = edits.show_section(study, "guidelines", True).study
    further = report_bytes(study, "txt").decode().partition("Further tables")[2]
    chapters = ["", *further.split("\nAim ")[1:]]
    assert [chapter.count("CONSORT 7b") for chapter in chapters] == [0, 1, 0, 0]
    assert "answered otherwise than for aim 2, Reaction time" in " ".join(chapters[2].split())
    assert chapters[2].count("ICH E9 3.5") == 1
    assert "Nothing allows for those who withdraw." in " ".join(chapters[2].split())
    assert "What reporting guidelines ask for is answered as for aim 2, Reaction time." in " ".join(chapters[3].split())


@pytest.mark.parametrize(("ranges", "sources"), [(True, True), (True, False), (False, True), (False, False)])
def test_no_column_of_the_assumptions_stands_empty(ranges: bool, sources: bool) -> None:
    """What is said of none has no column, and the caption does not speak of it."""
    aim, kept = first_aim().aims[0], {}
    for name, entry in aim.entries.items():
        bare = {} if ranges else {"low": None, "high": None}
        kept[name] = entry.changed(source=entry.source if sources else "", example=False, was=None, **bare)
    aim = aim.changed(entries=kept)
    tables = [block for block in report_of(Study(aims=(aim,))).blocks if isinstance(block, Table)]
    table = next(each for each in tables if each.head[0] == "Planning value")
    assert table.head == ("Planning value", "Value", *["Plausible range"] * ranges, *["Source"] * sources)
    assert all(len(row) == len(table.head) for row in table.rows)
    assert (("plausible" in table.caption), ("sources" in table.caption)) == (ranges, sources)
