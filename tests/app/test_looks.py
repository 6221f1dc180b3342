"""Interim analyses in the window: planned by a click, typed over, dragged, undone, saved; what is seen under way."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton, QWidget

from ragwort.app.bench.looks_table import LooksTable
from ragwort.app.shell.window import Window
from ragwort.app.sources.underway_panel import UnderwayPanel
from ragwort.demo import second_demo_study
from ragwort.demo.half_way import half_way_csv
from ragwort.designs import design_named
from ragwort.study import edits
from ragwort.study.document.files import read_study, write_study

from .conftest import MakeWindow, retype, settle, wait_until


def table(window: Window) -> LooksTable:
    """The looks in the ledger."""
    found = window.bench.ledger.looks
    assert found is not None
    return found


def press(within: QWidget, words: str) -> None:
    """Click a link."""
    button = next(each for each in within.findChildren(QPushButton) if each.text() == words and not each.isHidden())
    button.click()


def planned(window: Window, words: str = "one half-way") -> LooksTable:
    """The aim in view with looks, by a click in the ledger."""
    press(table(window), words)
    settle(window)
    return table(window)


def fractions(window: Window) -> object:
    """As the study has them."""
    assert window.session.aim is not None
    return window.session.aim.values().get("fractions")


def rows(window: Window) -> list[list[str]]:
    """What stands in the table."""
    return [[*(cell.text() for cell in line.cells.values()), line.chance.text()] for line in table(window).lines]


def test_looks_are_planned_by_a_click_and_undone_at_once(window: Window) -> None:
    """The sentence, the table, the tabs follow; none again."""
    planned(window)
    assert "with one interim analysis after 64" in window.bench.sentence.sentence.text()
    assert rows(window) == [
        ["64", "0.0031", "±2.963", "17.8", "16.4%"],
        ["128", "0.0500", "±1.969", "8.35", "63.6%"],
    ]
    tabs = [tab.text() for tab in window.bench.picture.tabs.buttons() if not tab.isHidden()]
    assert "Boundaries" in tabs
    window.session.undo()
    settle(window)
    assert fractions(window) is None
    planned(window, "two evenly")
    assert len(rows(window)) == 3
    press(table(window), "no interim analyses")
    settle(window)
    assert fractions(window) is None


def test_columns_change_what_they_show(window: Window) -> None:
    """z or p, the chance with the planned effect or without."""
    there = planned(window)
    press(there, "z ▾")
    assert rows(window)[0][2] == "0.0031"
    press(there, "chance ▾")
    assert rows(window)[0][4] == "0.3%"


@pytest.mark.parametrize(
    ("cell", "text", "shown"),
    [("after", "32", "32"), ("after", "25 %", "32"), ("spent", "0.01", "0.0100"), ("bound", "3", "±3.000"),
     ("effect", "20", "20")],
)  # fmt: skip
def test_every_cell_is_typed_over(window: Window, cell: str, text: str, shown: str) -> None:
    """And undone as one step."""
    there = planned(window)
    retype(there.lines[0].cells[cell], text)
    settle(window)
    assert rows(window)[0][list(there.lines[0].cells).index(cell)] == shown
    window.session.undo()
    settle(window)
    assert rows(window)[0] == ["64", "0.0031", "±2.963", "17.8", "16.4%"]


def test_what_cannot_be_is_kept_beside_its_fault(window: Window) -> None:
    """More than alpha; half-typed; Escape is another matter."""
    there = planned(window)
    retype(there.lines[0].cells["spent"], "0.2", enter=False)
    settle(window)
    assert "to 0.05" in there.fault.text()
    assert there.lines[0].cells["spent"].text() == "0.2"
    retype(there.lines[0].cells["spent"], "0.01", enter=False)
    settle(window)
    assert there.fault.text() == ""


def test_another_look_and_one_less(window: Window) -> None:
    """By the links below and beside."""
    planned(window)
    press(table(window), "+ another look")
    settle(window)
    assert fractions(window) == [0.25, 0.5, 1]
    table(window).lines[0].remove.click()
    settle(window)
    assert fractions(window) == [0.5, 1]


def test_own_amounts_meet_another_alpha(window: Window) -> None:
    """The fault stands in the table, with the way out of it."""
    there = planned(window)
    retype(there.lines[0].cells["spent"], "0.01")
    retype(window.bench.ledger.row("alpha").editor, "0.04")
    settle(window)
    assert "all of alpha" in there.fault.text()
    there.rescale.click()
    settle(window)
    assert table(window).fault.text() == ""
    assert rows(window)[0][1] == "0.0080"


def test_the_word_in_the_sentence_takes_looks_as_people_type_them(window: Window) -> None:
    """Through the slot that the sentence offers."""
    planned(window)
    edit = window.bench.sentence.sentence.slot(window.session.study, "fractions").written("25%, 50%")
    assert edit is not None
    window.session.do(edit)
    settle(window)
    assert fractions(window) == [0.25, 0.5, 1]
    assert "two interim analyses after 32 and 64" in window.bench.sentence.sentence.text()


def test_a_look_is_dragged_in_the_picture(window: Window) -> None:
    """Its boundary follows; let go, one undo brings it back."""
    planned(window)
    window.bench.picture.show_tab("Boundaries")
    settle(window)
    canvas = window.bench.picture.canvas
    wait_until(lambda: canvas.picture is not None and bool(canvas.picture.handles) and not canvas.busy)
    start = canvas.pixel_at(canvas.picture.handles[0])
    end = start - QPointF(60, 0)
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for share in (0.3, 0.6, 1.0):
        QTest.mouseMove(canvas, (start + (end - start) * share).toPoint())
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=end.toPoint())
    settle(window)
    moved = fractions(window)
    assert isinstance(moved, list)
    assert moved[0] < 0.49
    window.session.undo()
    assert fractions(window) == [0.5, 1]
    canvas.setFocus()
    wait_until(lambda: not canvas.stale)
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    settle(window)
    moved = fractions(window)
    assert isinstance(moved, list)
    assert moved[0] == pytest.approx(0.51)


def test_looks_are_saved_and_read_again(window: Window, tmp_path: Path) -> None:
    """With what is seen under way."""
    planned(window)
    panel = opened(window)
    retype(panel.editors["now"], "64")
    retype(panel.editors["z"], "-3.1")
    path = tmp_path / "looks.ragwort"
    write_study(window.session.study, path)
    again = read_study(path).aim(window.session.aim_id)
    assert again.values()["fractions"] == [0.5, 1]
    assert (again.interim.now, again.interim.z) == (64.0, -3.1)


def opened(window: Window) -> UnderwayPanel:
    """The panel, by its link under the looks."""
    press(table(window), "under way?")
    settle(window)
    panel = window.bench.right.of(UnderwayPanel)
    assert window.bench.right.currentWidget() is panel
    return panel


def test_what_is_seen_is_held_against_the_boundary(window: Window) -> None:
    """z, p with its direction, an estimate; faults beside; nothing lost."""
    planned(window)
    panel = opened(window)
    retype(panel.editors["now"], "64")
    assert "boundary for efficacy z = ±2.963" in panel.says.text()
    retype(panel.editors["z"], "-3.1")
    assert "crosses the boundary" in panel.says.text()
    panel.seen_as.setCurrentIndex(1)
    panel.seen_as.activated.emit(1)
    retype(panel.editors["p"], "0.2")
    assert "crosses no boundary" in panel.says.text()
    assert "(predictive power)" in panel.says.text()
    retype(panel.editors["now"], "500")
    assert "up to all of the information" in panel.fault.text()
    retype(panel.editors["now"], "6x", enter=False)
    assert "is not a number" in panel.fault.text()
    assert panel.editors["now"].text() == "6x"


def test_sizes_again_without_unblinding(window: Window) -> None:
    """An SD of all together; the planned difference taken out of it."""
    planned(window)
    panel = opened(window)
    retype(panel.editors["blinded"], "30")
    retype(panel.editors["of"], "64")
    plain = panel.again.text()
    assert "in place of 128" in plain
    panel.adjusted.setChecked(True)
    settle(window)
    assert panel.again.text() != plain


def test_the_half_way_file_in_the_window(open_window: MakeWindow, tmp_path: Path) -> None:
    """The second demo study: opened, its columns guessed, said to the committee."""
    window = open_window(second_demo_study())
    window.session.select("errors")
    settle(window)
    panel = opened(window)
    path = tmp_path / "half-way.csv"
    path.write_text(half_way_csv())
    panel.file.file.read(path)
    wait_until(lambda: not panel.busy and bool(panel.says.text()))
    assert panel.file.boxes["cluster"].currentText() == "ward"
    assert "8 of 14 wards (50% of the information). This look was planned" in panel.says.text()
    assert "crosses no boundary" in panel.says.text()
    assert "half-way.csv" in panel.file.said.whole()


def test_designs_without_looks_have_no_table(window: Window) -> None:
    """And those with them have."""
    design = design_named("anova-one-way")
    window.session.do(edits.change_design(window.session.study, window.session.aim_id, design))
    settle(window)
    assert window.bench.ledger.looks is None


def test_summaries_are_held_against_the_boundary(window: Window) -> None:
    """Mean, SD and size of each group; who has come follows; undone one by one."""
    planned(window)
    panel = opened(window)
    panel.seen_as.setCurrentIndex(3)
    panel.seen_as.activated.emit(3)
    assert panel.summaries.isVisible()
    assert panel.summaries.editors["yes1"].isHidden()
    for place, text in (("mean1", "182"), ("sd1", "26"), ("n1", "31"), ("mean2", "160"), ("sd2", "22")):
        retype(panel.summaries.editors[place], text)
    assert "z =" not in panel.says.text()
    retype(panel.summaries.editors["n2"], "33")
    assert panel.editors["now"].text() == "64"
    assert "crosses the boundary" in panel.says.text()
    retype(panel.summaries.editors["sd2"], "wide", enter=False)
    assert "is not a number" in panel.fault.text()
    assert panel.summaries.editors["sd2"].text() == "wide"
