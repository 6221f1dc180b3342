"""What the protocol says is typed in its panel, undone, saved, and signed off."""

from __future__ import annotations

import json
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from ragwort.app.shell.window import Window
from ragwort.app.sources.protocol_panel import ProtocolPanel
from ragwort.report.sections.content import report_of
from ragwort.report.tree import Bullets, Paragraph
from ragwort.study import edits
from ragwort.study.document.files import read_study, write_study
from tests.app.conftest import retype, settle


def opened(window: Window) -> ProtocolPanel:
    window.bench.show_panel("protocol")
    return window.bench.right.of(ProtocolPanel)


def test_statements_are_typed_and_stand_in_the_report(window: Window, tmp_path: Path) -> None:
    """Each in its place, with one undo; saved and read again; what is empty is said to be not stated."""
    panel = opened(window)
    for name, text in {"missing": "multiple imputation", "interim": "none planned", "author": "A. Marsh"}.items():
        retype(panel.fields[name], text)
    retype(panel.fields["time_point"], "at 4 am after six weeks")
    panel.kind.setCurrentIndex(panel.kind.findData("randomised"))
    panel.kind.activated.emit(panel.kind.currentIndex())
    write_study(window.session.study, tmp_path / "s.ragwort")
    study = read_study(tmp_path / "s.ragwort")
    said = " ".join(block.text for block in report_of(study).blocks if isinstance(block, Paragraph))
    for text in (
        "Kind of study: randomised trial. Missing data: multiple imputation. Interim analyses: none planned.",
        "by A. Marsh.",
        "reaction time at 4 am (at 4 am after six weeks), will be compared",
        "Not stated: analysis set and estimand, multiplicity, time point of the outcome and recruitment",
    ):
        assert text in said
    window.session.undo()
    assert panel.kind.currentText() == "not stated"


def test_a_stage_above_the_one_before_it_is_refused(window: Window) -> None:
    """It is said why, what was typed stays, and what was stated before is what holds."""
    panel = opened(window)
    retype(panel.fields["screened"], "40")
    retype(panel.fields["eligible"], "50")
    assert "at most 40" in panel.fault.whole()
    assert panel.fields["eligible"].text() == "50"
    assert window.session.study.protocol.eligible != 50
    retype(panel.fields["eligible"], "12,5")  # with a decimal comma
    assert (panel.fault.isVisible(), window.session.study.protocol.eligible) == (False, 12.5)
    retype(panel.fields["eligible"], "twenty")
    assert "not a number" in panel.fault.whole()
    retype(panel.fields["eligible"], "20")
    assert not panel.fault.isVisible()
    retype(panel.fields["screened"], "10")
    assert "at least 20" in panel.fault.whole()
    assert window.session.study.protocol.screened == 40


def test_a_plan_is_signed_off_and_what_changes_is_listed(window: Window) -> None:
    """Nobody signs without a name and a day; then each change is said, and undo takes it back."""
    panel = opened(window)
    assert not panel.sign.isEnabled()
    QTest.keyClicks(panel.signer, "A. Marsh")
    QTest.keyClicks(panel.day, "2 March 2026")
    QTest.mouseClick(panel.sign, Qt.MouseButton.LeftButton)
    assert "signed off by A. Marsh on 2 March 2026" in panel.signed.whole()
    assert "Nothing has changed since." in panel.signed.whole()
    window.session.do(edits.set_value(window.session.study, "reaction", "sd", 28))
    assert "Reaction time: standard deviation 24 → 28\u00a0ms; 144 → 194 to be recruited" in panel.signed.whole()
    listed = [block for block in report_of(window.session.study).blocks if isinstance(block, Bullets)]
    assert any("standard deviation 24 → 28" in line for bullets in listed for line in bullets.items)
    window.session.undo()
    assert "Nothing has changed since." in panel.signed.whole()
    window.session.undo()
    assert window.session.study.signed is None


def test_an_old_file_of_strata_says_in_the_window_what_is_counted_otherwise(window: Window, tmp_path: Path) -> None:
    """As it is opened, over the pages; saved once, nothing is said any more."""
    strata = [{"share": 0.6, "mean_size": 10, "sd_size": 2}, {"share": 0.4, "mean_size": 30, "sd_size": 6}]
    entries = {"difference": 3, "sd": 6, "icc": 0.04, "strata": strata}
    aim = {"id": "a", "name": "Errors", "design": "cluster-means"}
    aim["entries"] = {name: {"value": value} for name, value in entries.items()}
    path = tmp_path / "old.ragwort"
    path.write_text(json.dumps({"format": "ragwort-study", "schema_version": 2, "title": "Old", "aims": [aim]}))
    assert window.studies.open_path(path)
    assert "Errors is now counted in whole clusters and by the t distribution" in window.notice.text.text()
    settle(window)
    assert "wards" not in window.bench.sentence.text()
    assert "clusters per arm" in window.bench.sentence.text()
    window.session.save(path)
    window.notice.clear()
    assert window.studies.open_path(path)
    assert not window.notice.isVisible()
