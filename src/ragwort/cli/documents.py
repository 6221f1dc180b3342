"""What is written out: reports, pictures, the guide, the demo study."""

from __future__ import annotations

from pathlib import Path

import click

from ragwort.cli.inputs import aim_called, study_in
from ragwort.cli.output import BadInput, complain, say
from ragwort.files import FileError, check_place, write_whole

_EDITIONS = ("spirit-2025", "spirit-2013", "consort-2025", "consort-2010", "arrive-2.0", "strobe-2007", "ich-e9")


@click.command()
@click.argument("study", type=click.Path(path_type=Path))
@click.option(
    "-o", "--output", type=click.Path(path_type=Path), help="A .html, .pdf, .docx, .md or .txt file to write."
)
@click.option("--aim", default="", help="Of one aim only, by its name or its number.")
@click.option("--template", type=click.Path(path_type=Path), help="A .docx letterhead to write on; for .html a .css.")
@click.option("--paper", type=click.Choice(["A4", "Letter"]), help="For .pdf and .docx; the study's own without this.")
@click.option("--statement", type=click.Choice(["short", "paragraph", "full"]), help="Print this statement only.")
@click.option("--checklist", type=click.Choice(_EDITIONS), help="Write this guideline's checklist instead.")
def report(
    study: Path,
    output: Path | None,
    aim: str,
    template: Path | None,
    paper: str | None,
    statement: str | None,
    checklist: str | None,
) -> None:
    """Write the report of the study file STUDY."""
    from ragwort.figures.by_words import NotWanted
    from ragwort.report import document_bytes, report_of
    from ragwort.report.sections.checklist import checklist_of
    from ragwort.report.sections.statements import statement_of
    from ragwort.study import edits
    from ragwort.study.document.files import read_study_file
    from ragwort.study.document.writing import paper_of
    from ragwort.study.sharing.family import role_told
    from ragwort.study.words.protocol import taken_in

    kind = _kind_of(output, template, statement, checklist)
    try:
        if output is not None:
            check_place(output)
        found = read_study_file(study)
        whole = found.study
        if found.remark:
            complain(found.remark)
        wanted = whole if not aim else whole.changed(aims=(aim_called(whole, aim),))
        if paper is not None:
            wanted = edits.choose_paper(wanted, paper).study
        if statement is not None:
            taken, seen_by = taken_in(whole), whole.protocol.committee
            roles = [(each, role_told(whole, each)) for each in wanted.aims]
            say("\n\n".join(statement_of(each, statement, role, taken, seen_by) for each, role in roles))
        if output is not None:
            document = report_of(wanted) if checklist is None else checklist_of(wanted, checklist)
            write_whole(output, document_bytes(document, kind, paper_of(wanted), template=template, tell=say))
    except (FileError, NotWanted) as error:
        raise BadInput(str(error)) from error
    if output is not None:
        say(f"Wrote {output}")


def _kind_of(output: Path | None, template: Path | None, statement: str | None, checklist: str | None) -> str:
    """As what kind of file it is written; empty where only a statement is printed. Raises `BadInput`."""
    from ragwort.report import REPORT_FORMATS

    if checklist is not None and output is None:
        raise BadInput("name a file to write the checklist to, as in -o OUT.docx.")
    if statement is None and output is None:
        raise BadInput("name a file to write the report to, as in -o OUT.pdf, or ask for a --statement.")
    kind = "" if output is None else output.suffix.lower().removeprefix(".")
    if output is not None and kind not in REPORT_FORMATS:
        raise BadInput(
            f"the report is written as .{' or .'.join(REPORT_FORMATS)}, not {output.suffix or 'without an ending'}."
        )
    if template is not None and kind not in ("docx", "html"):
        raise BadInput("a template is for a report that is written as .docx or .html.")
    return kind


@click.command()
@click.argument("source")
@click.option("-o", "--output", required=True, type=click.Path(path_type=Path), help="A .svg, .pdf, .png or .csv file.")
@click.option("--picture", default="curve", help="Which picture: curve, map, errors, drivers, spread, split or steps.")
@click.option("--aim", default="", help="The aim of a study, by its name; the first without this.")
@click.option("--x", default="", help="What runs across: a name, or with the ends of its axis, as in difference=6,18.")
@click.option("--y", default="", help="What runs up or is asked for.")
@click.option("--family", default="", help="Lines for several values of an assumption, as in sd=20,24,28; or sides.")
@click.option("--kept", type=click.Choice(["with", "without"]), help="Whether kept scenarios are drawn beside a curve.")
@click.option("--pin", default="", help="Where a curve is read besides, as in 110,140.")
@click.option("--cost", default="", help="What one participant of each group costs, as in 120,45.")
@click.option("--size", type=click.Choice(["column", "page", "slide"]), default="page", help="For what it is drawn.")
def picture(source: str, output: Path, picture: str, aim: str, size: str, **words: str | None) -> None:
    """Draw a picture of the study or the JSON request in SOURCE (- for standard input)."""
    from ragwort.figures.by_words import NotWanted, aim_named, wanted
    from ragwort.figures.export import picture_bytes
    from ragwort.figures.pictures import PICTURE_FORMATS

    kind = output.suffix.lower().removeprefix(".")
    if kind not in PICTURE_FORMATS:
        raise BadInput(
            f"a picture is written as .{', .'.join(PICTURE_FORMATS)}, not {output.suffix or 'without an ending'}."
        )
    try:
        check_place(output)
        study = study_in(source)
        shown = wanted(study, aim_named(study, aim), picture, {name: text for name, text in words.items() if text})
        write_whole(output, picture_bytes(shown, kind, size=size, alone=True))
    except (FileError, NotWanted) as error:
        raise BadInput(str(error)) from error
    say(f"{shown.says}\nWrote {output}")


@click.command()
@click.argument("output", type=click.Path(path_type=Path))
def guide(output: Path) -> None:
    """Write the user guide to OUTPUT, one HTML file."""
    from ragwort.report.guide import guide as whole_guide
    from ragwort.report.writers.html import write_html

    try:
        check_place(output)
        write_whole(output, write_html(whole_guide()))
    except FileError as error:
        raise BadInput(str(error)) from error
    say(f"Wrote {output}")


@click.command()
@click.argument("folder", type=click.Path(path_type=Path))
def demo(folder: Path) -> None:
    """Work the demo study through and write its file, answers, pictures and reports to FOLDER."""
    from ragwort.demo.work_through import work_through

    try:
        for line in work_through(folder):
            say(line)
    except FileError as error:
        raise BadInput(str(error)) from error
