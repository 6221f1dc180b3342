"""The small grids of the ledger: typing, keys, rows, a spreadsheet's clipboard, faults and undo."""

from __future__ import annotations

import re

import pytest
from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QHelpEvent, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu, QPushButton, QToolTip

from ragwort.app.kit.cells import Cells
from ragwort.app.kit.widgets import NameEdit
from ragwort.app.shell.window import Window
from ragwort.designs import design_named
from ragwort.study import edits
from ragwort.study.document.model import Study

from .conftest import MakeWindow, retype, settle, type_into, wait_until


def cells_of(window: Window, name: str) -> Cells:
    """The grid of a row."""
    cells = window.bench.ledger.row(name).cells
    assert cells is not None
    return cells


def values(window: Window, name: str) -> object:
    """What the study holds."""
    return window.session.aim.values()[name]


def fault(window: Window, name: str) -> str:
    """The message in a row."""
    return window.bench.ledger.row(name).fault_line.text()


@pytest.fixture
def table(window: Window) -> Window:
    """The demo's choice of drink: two rows, three columns."""
    window.session.select("drinks")
    return window


def type_cell(cells: Cells, row: int, column: int, text: str) -> None:
    """Type into a cell, key by key, and leave it with Enter."""
    cells.table.setFocus()
    cells.table.setCurrentCell(row, column)
    QTest.keyClick(cells.table, text[0])  # opens the cell
    editor = cells.table.findChildren(QLineEdit)[-1]
    QTest.keyClicks(editor, text[1:])
    QTest.keyPress(editor, Qt.Key.Key_Return)
    wait_until(lambda: not any(each.isVisible() for each in cells.table.findChildren(QLineEdit)))


def test_a_cell_is_typed_and_undone(table: Window) -> None:
    """The study follows at once; a table that does not add up says by how much; undo brings all back."""
    cells = cells_of(table, "table")
    before = values(table, "table")
    type_cell(cells, 0, 0, "0.2")
    assert "add up to 1.08" in fault(table, "table")
    type_cell(cells, 1, 0, "0.14")
    assert fault(table, "table") == ""
    assert values(table, "table") == [[0.2, 0.2, 0.18], [0.14, 0.18, 0.1]]
    table.session.undo()
    table.session.undo()
    assert values(table, "table") == before
    assert cells.table.item(0, 0).text() == "0.12"


def test_shares_that_do_not_add_up_are_rescaled_on_request(table: Window) -> None:
    """A link under the fault divides them by their sum; it is gone once they add up; one undo takes it back."""
    cells = cells_of(table, "table")
    cells.table.setCurrentCell(0, 0)
    cells.paste("30\t20\t0\n10\t20\t20")
    assert "must be from 0 to 1" in fault(table, "table")
    cells.paste("0.6\t0.4\t0.2\n0.2\t0.4\t0.2")
    row = table.bench.ledger.row("table")
    assert row.rescale_link.isVisible()
    QTest.mouseClick(row.rescale_link, Qt.MouseButton.LeftButton)
    assert values(table, "table") == [[0.3, 0.2, 0.1], [0.1, 0.2, 0.1]]
    assert not row.rescale_link.isVisible()
    assert cells.table.item(0, 0).text() == "0.3"
    table.session.undo()
    assert values(table, "table")[0][0] == 0.6
    table.session.select("errors")
    strata = cells_of(table, "strata")
    strata.table.setCurrentCell(0, 0)
    strata.paste("50%\t8\t2")
    QTest.mouseClick(table.bench.ledger.row("strata").rescale_link, Qt.MouseButton.LeftButton)
    assert sum(row["share"] for row in values(table, "strata")) == pytest.approx(1, abs=1e-12)
    assert "Recruit" in table.bench.sentence.text()
    assert fault(table, "strata") == ""


def test_text_in_a_cell_is_kept_and_said(table: Window) -> None:
    """What cannot be read stays where it was typed."""
    cells = cells_of(table, "table")
    type_cell(cells, 0, 1, "many")
    assert "“many” is not a number" in fault(table, "table")
    assert cells.table.item(0, 1).text() == "many"


def test_a_spreadsheet_is_pasted_and_copied(table: Window) -> None:
    """Tabs and line breaks; the grid grows to hold it."""
    cells = cells_of(table, "table")
    cells.table.setCurrentCell(0, 0)
    QApplication.clipboard().setText("0.1\t0.2\t0.1\t0.1\n0.1\t0.1\t0.1\t0.05\n0.05\t0.05\t0.03\t0.02\n")
    cells.table.setFocus()
    QTest.keyClick(cells.table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert values(table, "table")[2] == [0.05, 0.05, 0.03, 0.02]
    assert (cells.table.rowCount(), cells.table.columnCount()) == (3, 4)
    QTest.keyClick(cells.table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QApplication.clipboard().text().splitlines()[1] == "0.1\t0.1\t0.1\t0.05"


def test_rows_and_columns_come_and_go(table: Window) -> None:
    """By key and by link; a row counts once something is in it; one row and one column always stay."""
    cells = cells_of(table, "table")
    cells.table.setFocus()
    cells.table.setCurrentCell(1, 0)
    QTest.keyClick(cells.table, Qt.Key.Key_Plus, Qt.KeyboardModifier.ControlModifier)
    assert cells.table.rowCount() == 3
    assert len(values(table, "table")) == 2
    QTest.keyClick(cells.table, Qt.Key.Key_Minus, Qt.KeyboardModifier.ControlModifier)
    cells.add_column()
    assert cells.table.columnCount() == 4
    for _ in range(5):
        cells.remove_column()
        cells.remove_row()
    assert (cells.table.rowCount(), cells.table.columnCount()) == (1, 1)
    cells.table.setCurrentCell(0, 0)
    QTest.keyClick(cells.table, Qt.Key.Key_Delete)
    assert cells.text_at(0, 0) == ""
    assert fault(table, "table")


def test_enter_goes_down_and_opens_a_row_after_the_last(window: Window) -> None:
    """Group means, one below the other; a column of a spreadsheet and a row of it are both taken."""
    window.session.select("kinds")
    row = window.bench.ledger.row("means")
    row.flip_cells()
    assert row.cells.isVisible()
    assert not row.editor.isVisible()
    type_cell(row.cells, 2, 0, "399")
    assert row.cells.table.rowCount() == 4
    assert row.cells.table.currentRow() == 3
    row.cells.table.setCurrentCell(0, 0)
    row.cells.paste("410\t404\t398")
    assert values(window, "means") == [410, 404, 398]


def test_several_terms_are_powered_together(window: Window) -> None:
    """Chosen as a way to state the effect; typed as factors and f; a factor that is not there is named."""
    window.session.select("caffeine")
    ways = design_named("anova-factorial").ways[0]
    window.session.do(edits.choose_way(window.session.study, "caffeine", ways[2]))
    cells = cells_of(window, "terms")
    assert [cells.table.item(0, column).text() for column in (0, 1)] == ["1×2", "0.25"]
    cells.table.setCurrentCell(0, 0)
    cells.paste("1\t0.3\n1×2\t0.2")
    assert values(window, "terms") == [{"term": [1], "f": 0.3}, {"term": [1, 2], "f": 0.2}]
    said = window.bench.sentence.text()
    assert "to detect the effect of lighting (f = 0.3) and the interaction of lighting and caffeine" in said
    cells.paste("3\t0.3")
    assert "the factors are 1 to 2" in fault(window, "terms")
    cells.paste("1\t0.3")
    window.session.do(edits.choose_way(window.session.study, "caffeine", ways[0]))
    assert values(window, "term") == [1, 2]
    assert values(window, "f") == 0.2


def test_strata_need_three_values_in_each_row(window: Window) -> None:
    """Which row, and what it needs."""
    window.session.select("errors")
    cells = cells_of(window, "strata")
    cells.table.setCurrentCell(0, 0)
    cells.paste("50%\t10\t2\n50%\t20\t")
    assert fault(window, "strata").startswith("A cell of strata of cluster sizes is empty: type a number")
    window.bench.ledger.row("strata").flip_cells()
    editor = window.bench.ledger.row("strata").editor
    editor.setText("")
    QTest.keyClicks(editor, "50% 10 2; 50% 20")
    assert "Row 2 of strata of cluster sizes needs 3 values: share of people, mean size" in fault(window, "strata")


def test_a_ledger_is_as_high_at_first_as_after_an_edit(window: Window) -> None:
    """Nothing that is hidden leaves its margins behind."""
    for aim in window.session.study.aims:
        window.session.select(aim.id)
        settle(window)
        ledger = window.bench.ledger
        ledger.built_for = None  # built anew
        window.session.changed.emit()
        settle(window)
        first = ledger.widget().sizeHint().height()
        window.session.changed.emit()
        settle(window)
        assert ledger.widget().sizeHint().height() == first, aim.name


def test_rows_keep_their_height(table: Window) -> None:
    """The grid is as high as its rows: none is pulled higher at its head, or the last would be out of sight."""
    cells = cells_of(table, "table")
    head = cells.table.verticalHeader()
    at = QPoint(head.width() // 2, head.sectionSize(0) - 1)
    before = [head.sectionSize(row) for row in range(head.count())]
    QTest.mousePress(head.viewport(), Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(head.viewport(), at + QPoint(0, 20))
    QTest.mouseMove(head.viewport(), at + QPoint(0, 40))
    QTest.mouseRelease(head.viewport(), Qt.MouseButton.LeftButton, pos=at + QPoint(0, 40))
    assert [head.sectionSize(row) for row in range(head.count())] == before


def test_an_emptied_cell_of_a_list_keeps_its_place_and_its_name(window: Window) -> None:
    """The numbers below it stay beside their names: the list does not move up, and says what is missing."""
    aim = edits.new_aim(design_named("trend-proportions"), "More light")
    window.session.do(edits.add_aim(window.session.study, aim), then_show=aim.id)
    way = next(each for each in design_named(aim.design).ways[0] if "proportions" in each.names)
    window.session.do(edits.choose_way(window.session.study, aim.id, way))
    settle(window)
    window.bench.ledger.row("proportions").show_cells(True)
    cells = cells_of(window, "proportions")
    cells.table.setCurrentCell(0, 0)
    cells.paste("0.80\n0.87\n0.93")
    assert values(window, "proportions") == [0.8, 0.87, 0.93]
    cells.table.setFocus()
    cells.table.setCurrentCell(0, 0)
    QTest.keyClick(cells.table, Qt.Key.Key_Delete)
    assert [cells.table.item(at, 0).text() for at in range(3)] == ["", "0.87", "0.93"]
    assert "A cell of proportions is empty: type a number, or take out its row" in fault(window, "proportions")
    row = window.bench.ledger.row("proportions")
    assert row.editor.text() == "?; 0.87; 0.93"
    type_cell(cells, 0, 0, "0.7")
    assert values(window, "proportions") == [0.7, 0.87, 0.93]
    cells.table.setCurrentCell(2, 0)
    QTest.keyClick(cells.table, Qt.Key.Key_Delete)  # the last one: the list is shorter, the empty row waits
    assert "must have 3 to 1000 entries, not 2" in fault(window, "proportions")


def test_rows_and_columns_are_named_in_their_headers(window: Window) -> None:
    """A double click on a header; sentence and strip follow, undo takes the name back."""
    window.session.select("drinks")
    settle(window)
    cells = cells_of(window, "table")
    assert [cells.table.horizontalHeaderItem(at).text() for at in range(3)] == ["coffee", "tea", "water"]
    cells.table.verticalHeader().sectionDoubleClicked.emit(0)
    editor = cells.table.findChild(NameEdit)
    retype(editor, "daylight and a very long name", enter=False)
    assert editor.width() < cells.table.width() / 2  # over its header, not over the grid
    retype(editor, "daylight")
    assert cells.table.verticalHeaderItem(0).text() == "daylight"
    assert window.bench.detail.names["rows"].text() == "daylight, usual lighting"
    window.session.undo()
    assert cells.table.verticalHeaderItem(0).text() == "brighter"
    window.bench.detail.open_row("Names")
    retype(window.bench.detail.names["variables"], "drink, kind of light")
    assert "an association between drink and kind of light" in window.bench.sentence.text()


def test_contrasts_are_taken_by_name(open_window: MakeWindow) -> None:
    """From a menu at the row; one undo takes all of it back."""
    aim = edits.new_aim(design_named("anova-contrast"), "Dose")
    window = open_window(Study(aims=(aim,)))
    row = window.bench.ledger.row("coefficients")
    offers = next(each for each in row.findChildren(QPushButton) if each.accessibleName() == "Coefficients by name")
    QTest.mouseClick(offers, Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    chosen = next(each for each in menu.actions() if each.text().startswith("Each against the mean of all"))
    assert chosen.text().endswith(": 2/3, −1/3, −1/3")
    QTest.mouseClick(menu, Qt.MouseButton.LeftButton, pos=menu.actionGeometry(chosen).center())
    settle(window)
    assert row.editor.text() == "2/3, −1/3, −1/3"
    assert "coefficients 2/3, −1/3 and −1/3" in window.bench.sentence.text()
    assert window.session.aim.values()["comparisons"] == 3
    window.session.undo()
    assert row.editor.text() == "−1, 0, 1"
    assert "comparisons" not in window.session.aim.values()


def test_pairs_are_stated_as_a_two_by_two_that_adds_up(open_window: MakeWindow) -> None:
    """From the pairs that disagree to all four cells; counts are rescaled; the table keeps its size."""
    window = open_window(Study(aims=(edits.new_aim(design_named("paired-proportions"), "Nap"),)))
    session = window.session
    session.do(edits.choose_way(session.study, session.aim_id, design_named("paired-proportions").ways[0][2]))
    settle(window)
    assert values(window, "cells") == [[0.325, 0.1], [0.25, 0.325]]
    row, cells = window.bench.ledger.row("cells"), cells_of(window, "cells")
    assert [cells.table.horizontalHeaderItem(at).text() for at in (0, 1)] == ["second: yes", "second: no"]
    assert not cells.findChildren(QPushButton)
    cells.table.setCurrentCell(0, 0)
    cells.paste("34\t12\n9\t45")
    settle(window)
    assert "add up to 100" in row.fault_line.text()
    QTest.mouseClick(row.rescale_link, Qt.MouseButton.LeftButton)
    settle(window)
    assert values(window, "cells") == [[0.34, 0.12], [0.09, 0.45]]
    assert "between 9% of pairs" in window.bench.sentence.text()
    cells.add_row()
    cells.remove_row()
    assert cells.table.rowCount() == 2


def inked(image: QImage) -> list[int]:
    """The first and the last column of pixels that has any paint."""
    columns = [x for x in range(image.width()) if any(image.pixelColor(x, y).alpha() for y in range(image.height()))]
    return [columns[0], columns[-1]]


def test_a_list_is_never_cut_to_other_numbers(window: Window) -> None:
    """Four shares stand in full; of eight, as many as fit and …, painted so; all while it is in hand, and to hover."""
    window.aims.add(design_named("chi-square-fit"))
    line = window.bench.ledger.row("null_proportions").editor
    assert line.shown() == line.text() == "0.25, 0.25, 0.25, 0.25"
    type_into(window, "null_proportions", ", ".join(["0.125"] * 8))
    assert len(line.shown().split(", ")) < 8
    window.bench.ledger.row("alpha").editor.setFocus()
    assert re.fullmatch(r"(0\.125, )+…", line.shown())
    seen = line.grab().toImage()
    line.setText(line.shown())
    assert inked(line.grab().toImage()) == pytest.approx(inked(seen), abs=3)
    line.setText("0.12 0.2 0.18; 0.22 0.18 0.25")
    assert re.fullmatch(r"(0\.12 0\.2 0\.18; )(0\.22 )?…", line.shown())
    line.setText("0.125, " * 7 + "0.126")
    QApplication.sendEvent(line, QHelpEvent(QEvent.Type.ToolTip, line.rect().center(), QPoint(300, 300)))
    assert QToolTip.text() == line.text()
    QToolTip.hideText()


def test_a_number_is_never_cut_to_another(window: Window) -> None:
    """One with more digits than there is room for says that there are more."""
    type_into(window, "sd", "24000000000.5")
    window.bench.ledger.row("alpha").editor.setFocus()
    line = window.bench.ledger.row("sd").editor
    assert line.text() == "24000000000.5"
    assert re.fullmatch(r"240+…", line.shown())


def test_a_line_is_as_wide_as_it_is_shown_beside_its_link(window: Window) -> None:
    """Also after its cells were in view, whose link is longer."""
    window.aims.add(design_named("chi-square-table"))
    type_into(window, "table", "0.12 0.2 0.18; 0.22 0.18 0.1")
    row = window.bench.ledger.row("table")
    assert row.cells.isVisible()
    row.flip_cells()
    wide = row.editor.width()
    window.session.changed.emit()
    assert row.editor.width() == wide
