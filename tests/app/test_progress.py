"""The panel that says how far along we are, in the window."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from ragwort.app.shell.window import Window
from ragwort.app.sources.progress_panel import ProgressPanel
from ragwort.demo.pilot import pilot_csv
from ragwort.study import edits

from .conftest import retype, settle, wait_until


def opened(window: Window) -> ProgressPanel:
    """The panel, opened by its link in the ledger."""
    links = window.bench.ledger.findChildren(QPushButton)
    asked = next(each for each in links if each.text().startswith("how far along") and each.isVisible())
    QTest.mouseClick(asked, Qt.MouseButton.LeftButton)
    assert window.bench.right.currentWidget() is window.bench.right.of(ProgressPanel)
    return window.bench.right.of(ProgressPanel)


def wait_for(panel: ProgressPanel) -> None:
    """Until the file is read and counted."""
    wait_until(lambda: not panel.busy)


def shown(panel: ProgressPanel) -> list[tuple[str, str, str]]:
    """Needed, so far and still needed, as on screen."""
    return [
        (needed.text(), editor.text(), more.text())
        for editor, (needed, more, _) in zip(panel.editors, panel.figures, strict=True)
    ]


def test_counts_are_typed_and_what_is_missing_follows(window: Window) -> None:
    """Live; a fault is said and nothing lost; undone; it follows the answer."""
    panel = opened(window)
    assert shown(panel) == [("64", "", "64"), ("64", "", "64")]
    retype(panel.editors[0], "41", enter=False)
    retype(panel.editors[1], "70", enter=False)
    assert shown(panel) == [("64", "41", "23"), ("64", "70", "enough")]
    assert "23 more are needed, so recruit 26" in panel.says.text()
    retype(panel.editors[0], "4x", enter=False)
    assert "is not a number" in panel.fault.text()
    assert panel.editors[0].text() == "4x"
    retype(panel.editors[0], "40", enter=False)
    assert panel.fault.text() == ""
    window.session.do(edits.type_value(window.session.study, window.session.aim_id, "power", "90"))
    settle(window)
    assert [row[0] for row in shown(panel)] == ["86", "86"]
    window.session.undo()
    panel.editors[0].clearFocus()
    window.session.undo()
    assert window.session.aim.so_far.counts == (41, 70)  # all that was typed for a group is one step
    assert shown(panel)[0][1] == "41"
    QTest.keyClick(panel, Qt.Key.Key_Escape)
    assert window.bench.right.currentIndex() == 0


def test_counts_come_from_a_file(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """Groups found by their names; conditions narrow; a group can be another value; the source is kept."""
    answers["open"] = tmp_path / "running.csv"
    (tmp_path / "running.csv").write_text(pilot_csv())
    panel = opened(window)
    QTest.mouseClick(panel.file.open_link, Qt.MouseButton.LeftButton)
    wait_for(panel)
    wait_for(panel)
    assert panel.group.currentText() == "room"
    assert [box.currentText() for box in panel.boxes] == ["brighter", "usual lighting"]
    assert shown(panel) == [("64", "30", "34"), ("64", "30", "34")]
    assert window.session.aim.so_far.source.startswith("running.csv, by room, SHA-256 ")
    QTest.mouseClick(panel.conditions.add_link, Qt.MouseButton.LeftButton)
    _, column, relation, value = panel.conditions.lines[0]
    column.setCurrentText("ward")
    relation.setCurrentText("is not")
    QTest.keyClicks(value, "harbour")
    wait_for(panel)
    assert window.session.aim.so_far.counts[0] < 30
    assert "where ward is not harbour" in panel.source.whole()
    panel.boxes[0].setCurrentText("usual lighting")
    panel.boxes[0].activated.emit(panel.boxes[0].currentIndex())
    assert window.session.aim.so_far.counts == (30, 30)


def test_an_open_file_changes_only_the_aim_it_was_opened_for(
    window: Window, answers: dict[str, object], tmp_path: Path
) -> None:
    """Looking at other aims, or coming back, is no edit; what was typed over a count stays."""
    answers["open"] = tmp_path / "running.csv"
    (tmp_path / "running.csv").write_text(pilot_csv())
    panel = opened(window)
    QTest.mouseClick(panel.file.open_link, Qt.MouseButton.LeftButton)
    wait_for(panel)
    wait_for(panel)
    retype(panel.editors[0], "33", enter=False)
    before = window.session.study
    for aim in before.aims:
        window.session.select(aim.id)
        settle(window)
        wait_for(panel)
    window.session.select("reaction")
    window.bench.right.setCurrentIndex(0)
    opened(window)
    wait_for(panel)
    assert window.session.study is before
    assert shown(panel)[0][1] == "33"


def test_without_an_answer_no_old_numbers_are_shown(window: Window) -> None:
    """The table goes while something is wrong, and comes back with what was counted."""
    panel = opened(window)
    retype(panel.editors[0], "41", enter=False)
    window.session.do(edits.type_value(window.session.study, window.session.aim_id, "sd", "-1"))
    settle(window)
    assert not panel.editors[0].isVisible()
    assert "There is no answer" in panel.says.text()
    window.session.undo()
    assert panel.editors[0].isVisible()
    assert shown(panel)[0] == ("64", "41", "23")


def test_one_group_counts_rows_and_another_aim_its_own_groups(
    window: Window, answers: dict[str, object], tmp_path: Path
) -> None:
    """No groups are asked for where there is one; the table follows the aim; a bad file says why."""
    panel = opened(window)
    window.session.select("age")
    settle(window)
    assert len(panel.editors) == 1
    answers["open"] = tmp_path / "running.csv"
    (tmp_path / "running.csv").write_text(pilot_csv())
    QTest.mouseClick(panel.file.open_link, Qt.MouseButton.LeftButton)
    wait_for(panel)
    wait_for(panel)
    assert shown(panel)[0][1] == "60"
    assert not panel.group.isVisible()
    panel.file.read(tmp_path / "gone.csv")
    wait_for(panel)
    assert "There is no file" in panel.fault.text()
    assert shown(panel)[0][1] == "60"
    QTest.mouseClick(
        next(each for each in panel.findChildren(QPushButton) if each.accessibleName() == "Back to the picture"),
        Qt.MouseButton.LeftButton,
    )
    assert window.bench.right.currentIndex() == 0
