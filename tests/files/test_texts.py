"""Names that are formulas, markup or control characters stay names in everything that is written."""

from __future__ import annotations

import csv
import io
import xml.etree.ElementTree as ElementTree

import pytest

from ragwort.demo import sampler_study
from ragwort.figures.export import picture_bytes
from ragwort.figures.pictures import PICTURE_FORMATS, Scene, picture_of, pictures_for
from ragwort.files.texts import csv_bytes
from ragwort.report import report_bytes
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of

NAMES = [
    "=HYPERLINK(0)",
    "+1+1",
    "@x",
    "\ttab",
    "-2+3",
    " =1",
    "a\0b",
    "$x^{2",
    "<b>&amp;",
    "שלום",
    "\x1b[2J",
    "x" * 2000,
]


def named(name: str) -> Study:
    """An aim of the demo, with this name for everything that has one."""
    study = sampler_study().changed(title=name, background=name)
    aim = next(aim for aim in study.aims if aim.id == "crossover")
    words = aim.words.changed(outcome=name, unit=name[:20], many=name, names={"groups": (name, name)})
    study = study.changed(aims=(aim.changed(name=name, words=words),))
    kept = edits.keep_scenario(study, aim.id, name).study
    return edits.set_value(kept, aim.id, "sd_difference", 30).study


@pytest.mark.parametrize("name", NAMES)
def test_any_name_can_be_written_everywhere(name: str) -> None:
    """Pictures and reports of all kinds; SVG and HTML stay well formed; no cell of a CSV is a formula."""
    study = named(name)
    aim = study.aims[0]
    outcome = outcome_of(aim)
    picture = picture_of(pictures_for(outcome)[0], Scene(aim, outcome))
    files = {kind: picture_bytes(picture, kind) for kind in PICTURE_FORMATS}
    ElementTree.fromstring(files["svg"])
    for row in csv.reader(io.StringIO(files["csv"].decode())):
        assert not any(cell.lstrip(" \t").startswith(("=", "+", "@")) for cell in row)
    html = report_bytes(study, "html").decode()
    assert "\0" not in html
    assert "\x1b" not in html


def test_any_name_can_be_set_in_a_pdf() -> None:
    """All of them in one report: setting each alone starts a process each time."""
    studies = [named(name) for name in NAMES]
    aims = tuple(study.aims[0].changed(id=f"aim{at}", scenarios=()) for at, study in enumerate(studies))
    backgrounds = "\n".join(study.background for study in studies)
    assert report_bytes(studies[0].changed(aims=aims, background=backgrounds), "pdf").startswith(b"%PDF")


def test_numbers_stay_numbers_in_a_spreadsheet() -> None:
    """Also negative ones, and those that come as text."""
    assert csv_bytes([["a", -1.5, "-2.5", "+3e-4", "−1", "-x"]]) == "a,-1.5,-2.5,+3e-4,−1,'-x\r\n".encode()
