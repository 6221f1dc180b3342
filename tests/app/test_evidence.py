"""The panel that finds an effect from what is known, in the window."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QPushButton

from ragwort.app.evidence import SAME_DATA, EvidencePanel
from ragwort.app.window import Window
from ragwort.demo.pilot import pilot_csv
from ragwort.designs import all_designs
from ragwort.study import edits
from ragwort.study.files import read_study, write_study

from .conftest import MakeWindow, retype, settle


def opened(window: Window) -> EvidencePanel:
    """The panel, opened by its link in the ledger."""
    links = window.bench.ledger.findChildren(QPushButton)
    QTest.mouseClick(
        next(each for each in links if each.text() == "from evidence" and each.isVisible()), Qt.MouseButton.LeftButton
    )
    return window.bench.evidence


def fill(panel: EvidencePanel, route: str, **texts: str) -> None:
    """Choose a route and type its inputs."""
    QTest.mouseClick(panel.buttons[route], Qt.MouseButton.LeftButton)
    for name, text in texts.items():
        editor = panel.editors[name]
        assert isinstance(editor, QLineEdit)
        retype(editor, text, enter=False)


def wait_for(panel: EvidencePanel) -> None:
    """Until the pilot file is read and summarised."""
    while panel.pilot.jobs.busy:
        QTest.qWait(5)


DATA = {"mean1": "412", "mean2": "396", "sd1": "24", "sd2": "26", "n1": "30", "n2": "30"}


def test_data_of_an_earlier_study_become_the_effect(window: Window) -> None:
    """Live result with interval; taken over with its source; opened again as it was; undone at once."""
    before = window.session.aim
    panel = opened(window)
    assert window.bench.right.currentWidget() is panel
    fill(panel, "means", **DATA)
    assert "difference \u221216 ms, standard deviation 25.02 ms (d \u22120.64)" in panel.result.text().replace(
        "\u00a0", " "
    )
    assert "95 % interval of d: \u22121.16 to \u22120.12" in panel.interval.text()
    assert SAME_DATA in panel.interval.text()
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert window.bench.right.currentWidget() is not panel
    assert "a difference of \u221216 ms" in window.bench.sentence.text()
    entry = window.session.aim.entry("difference")
    assert entry.source.startswith("means and SDs of two groups (Mean of group 1 412")
    assert opened(window).editors["mean1"].text() == "412"
    assert panel.route.name == "means"
    window.session.undo()
    assert window.session.aim == before


def test_planning_on_the_lower_limit(window: Window) -> None:
    """The limit nearer to none takes the effect's place, and the source says so; without one it is not offered."""
    panel = opened(window)
    fill(panel, "means", **DATA)
    QTest.mouseClick(panel.lower, Qt.MouseButton.LeftButton)
    assert window.session.aim.values()["difference"] == -2.944
    assert window.session.aim.entry("difference").source.endswith("lower limit")
    fill(opened(window), "means", **{**DATA, "mean2": "411"})
    assert not panel.lower.isVisible()
    assert "no lower limit" in panel.interval.text()


def test_what_is_wrong_is_said_and_nothing_typed_is_lost(window: Window) -> None:
    """Missing, unreadable, impossible; from route to route and back."""
    panel = opened(window)
    fill(panel, "t", t="2.5", n1="1")
    assert "People in group 1 must be" in panel.fault.text()
    assert not panel.use.isEnabled()
    retype(panel.editors["n1"], "20", enter=False)
    assert "People in group 2 is missing" in panel.fault.text()
    fill(panel, "worthwhile", difference="abc")
    assert "is not a number" in panel.fault.text()
    fill(panel, "t")
    assert panel.editors["t"].text() == "2.5"
    fill(panel, "t", n2="22", sd="24")
    assert panel.fault.text() == ""
    assert panel.use.isEnabled()


def test_a_table_of_counts_becomes_proportions(window: Window) -> None:
    """Typed in cells."""
    window.session.select("drinks")
    panel = opened(window)
    panel.editors["counts"].paste("10\t20\t20\n20\t20\t10")
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert window.session.aim.values()["table"] == [[0.1, 0.2, 0.2], [0.2, 0.2, 0.1]]
    assert window.session.aim.entry("table").source.startswith("a table of counts")


def test_evidence_is_saved_and_goes_into_the_report(window: Window, tmp_path: Path) -> None:
    """The study file keeps route and inputs; the report prints the source."""
    from ragwort.report import report_of
    from ragwort.report.preview import write_preview

    panel = opened(window)
    fill(panel, "means", **DATA)
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    path = tmp_path / "evidence.ragwort"
    write_study(window.session.study, path)
    again = read_study(path)
    assert again.aims[0].entry("difference").evidence.inputs == DATA
    assert "means and SDs of two groups" in write_preview(report_of(again), 600)


def test_every_design_with_evidence_opens_its_panel(open_window: MakeWindow) -> None:
    """Each route shows its inputs; another aim gives the picture back; a found effect asks for no evidence."""
    window = open_window()
    for design in all_designs():
        window.aims.add(design)
        settle(window)
        names = [each.text() for each in window.bench.ledger.findChildren(QPushButton) if each.isVisible()]
        assert ("from evidence" in names) == bool(design.evidence)
        if design.evidence:
            panel = opened(window)
            for route in design.evidence:
                panel.choose(route)
                assert len(panel.editors) == len(route.inputs)
            window.session.do(edits.move_flower(window.session.study, window.session.aim_id, "effect"))
            settle(window)
            names = [each.text() for each in window.bench.ledger.findChildren(QPushButton) if each.isVisible()]
            assert "from evidence" not in names
    window.session.select("reaction")
    assert window.bench.right.currentIndex() == 0


def test_a_pilot_file_fills_the_inputs(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """Chosen, read off the thread, outcome and groups guessed and changeable; the source names file and columns."""
    path = tmp_path / "pilot.csv"
    path.write_text(pilot_csv())
    answers["open"] = path
    panel = opened(window)
    fill(panel, "means")
    QTest.mouseClick(panel.pilot.open_link, Qt.MouseButton.LeftButton)
    wait_for(panel)
    assert (panel.pilot.outcome.currentText(), panel.pilot.group.currentText()) == ("reaction time", "room")
    panel.pilot.outcome.setCurrentText("age")
    panel.pilot.outcome.activated.emit(4)
    wait_for(panel)
    assert "difference 12" not in panel.result.text()
    panel.pilot.outcome.setCurrentText("reaction time")
    panel.pilot.outcome.activated.emit(2)
    wait_for(panel)
    assert "60 rows; 30 in brighter, 30 in usual lighting, 0 missing" in panel.pilot.state.text()
    assert panel.result.text().replace("\u00a0", " ").startswith("difference 12 ms, standard deviation 24 ms")
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert window.session.aim.values()["difference"] == 12
    assert window.session.aim.entry("sd").source.startswith("pilot file pilot.csv, reaction time by room, SHA-256 ")
    assert "Recruit 128 staff" in window.bench.sentence.text()


def test_a_bad_pilot_file_says_why_and_typing_on_is_possible(window: Window, tmp_path: Path) -> None:
    """Nothing typed is lost; a number typed over is no longer the file's."""
    panel = opened(window)
    fill(panel, "means", **DATA)
    panel.pilot.read(tmp_path / "gone.csv")
    wait_for(panel)
    assert "gone.csv cannot be read" in panel.pilot.state.text()
    assert panel.editors["mean1"].text() == "412"
    path = tmp_path / "pilot.csv"
    path.write_text("room,score\na,1\na,2\na,4\n")
    panel.pilot.read(path)
    wait_for(panel)
    assert "only one group" in panel.pilot.state.text()
    path.write_text(pilot_csv())
    panel.pilot.read(path)
    wait_for(panel)
    retype(panel.editors["sd1"], "30", enter=False)
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert not window.session.aim.entry("difference").source.startswith("pilot file")
