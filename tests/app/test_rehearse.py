"""The page Rehearse, in the window."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu
from pytestqt.qtbot import QtBot

from ragwort.app.kit.table import CalmTable
from ragwort.app.kit.theme import DARK, make_theme
from ragwort.app.rehearse.page import RehearsePage
from ragwort.app.session.token import Token
from ragwort.app.shell.window import Window
from ragwort.figures.shown.by_size import BySize
from ragwort.figures.shown.one_study import OneStudy
from ragwort.figures.shown.rehearsed import Estimates, PValues, Worlds
from ragwort.study.document.files import read_study

from .conftest import MakeWindow, retype, settle, wait_until


@pytest.fixture
def page(window: Window) -> RehearsePage:
    """The page in view, with what it rehearses worked out."""
    window.show_page("Rehearse")
    done(window)
    return window.pages.of(RehearsePage)


def done(window: Window) -> None:
    """Wait until nothing is rehearsed any more."""
    settle(window)
    wait_until(lambda: not window.pages.of(RehearsePage).busy)


def token(page: RehearsePage, name: str) -> Token:
    """A word of the sentence."""
    return next(each for each in page.sentence.tokens if each.piece.name == name)


def type_over(page: RehearsePage, window: Window, name: str, text: str) -> None:
    """Type a word key by key, and leave it."""
    word = token(page, name)
    word.setFocus()
    QTest.keyClick(word, Qt.Key.Key_Return)
    editor = word.editor
    assert editor is not None
    retype(editor, text)
    done(window)


def cell(page: RehearsePage, row: int, column: int) -> str:
    """What stands in the table."""
    item = page.table.item(row, column)
    assert item is not None
    return item.text().replace("\u00a0", " ")


def test_the_worlds_are_rehearsed_and_the_formula_is_beside(page: RehearsePage) -> None:
    """Power as planned agrees; unequal SDs cost; without an effect the table says alpha."""
    assert [cell(page, row, 0) for row in range(3)] == ["As planned", "Skewed outcomes", "SDs 1.5 times apart"]
    assert cell(page, 0, 1) == "80.2%"
    assert cell(page, 0, 3) == "80.1%"
    assert float(cell(page, 2, 1).rstrip("%")) < 62
    assert cell(page, page.table.rowCount() - 1, 3) == "α 5%"
    assert "The formula and the rehearsal agree." in page.sentence.text()
    assert "overstate the effect by 12% on average" in page.pictures.says.text()


def test_a_world_is_typed_undone_and_saved(
    page: RehearsePage, window: Window, open_window: MakeWindow, tmp_path: Path
) -> None:
    """What departs is a world of its own; one undo for the whole word; there again after saving and opening."""
    rows = page.table.rowCount()
    type_over(page, window, "lost", "40%")
    assert page.table.rowCount() == rows + 1
    assert cell(page, rows, 0) == "40% lost"
    assert float(cell(page, rows, 1).rstrip("%")) < 70
    path = tmp_path / "s.ragwort"
    window.session.save(path)
    window.session.undo()
    done(window)
    assert page.table.rowCount() == rows
    other = open_window(read_study(path))
    other.show_page("Rehearse")
    done(other)
    assert cell(other.pages.of(RehearsePage), rows, 0) == "40% lost"


def test_a_word_that_cannot_be_read_shows_a_dash_and_why(page: RehearsePage, window: Window) -> None:
    """No old number stands for it, nothing typed is lost."""
    type_over(page, window, "apart", "2x")
    row = page.table.currentRow()
    assert cell(page, row, 1) == "—"
    assert "“2x” is not a number" in page.sentence.text()
    assert page.pictures.shown is None
    type_over(page, window, "apart", "2")
    assert float(cell(page, row, 1).rstrip("%")) < 60


def test_a_shape_is_chosen_from_the_list_and_a_world_by_the_keys(page: RehearsePage, window: Window) -> None:
    """By mouse in the sentence; by arrow in the table."""
    QTest.mouseClick(token(page, "shape"), Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    menu.setActiveAction(next(action for action in menu.actions() if action.text() == "heavy-tailed"))
    QTest.keyClick(menu, Qt.Key.Key_Return)
    done(window)
    assert "heavy-tailed outcomes (t with 3 degrees of freedom)" in page.sentence.text()
    page.table.setFocus()
    QTest.keyClick(page.table, Qt.Key.Key_Up)
    done(window)
    assert "no effect at all" in page.sentence.text()
    QTest.mouseClick(page.remove, Qt.MouseButton.LeftButton)
    assert "No effect at all" not in [cell(page, row, 0) for row in range(page.table.rowCount())]


def test_every_picture_and_the_table_of_one_study(page: RehearsePage, window: Window) -> None:
    """Each tab has its picture; the table has the study that the words are of; the next one is another."""
    for name, kind in (
        ("Power", Worlds),
        ("Estimates", Estimates),
        ("p-values", PValues),
        ("By size", BySize),
        ("One study", OneStudy),
    ):
        page.pictures.show_tab(name)
        done(window)
        assert isinstance(page.pictures.shown, kind)
        assert page.pictures.says.text()
    words = page.one_words.text()
    QTest.mouseClick(page.as_table, Qt.MouseButton.LeftButton)
    assert page.pictures.table.rowCount() == 128
    QTest.mouseClick(page.next, Qt.MouseButton.LeftButton)
    done(window)
    assert page.one_words.text().startswith("Study 2: ")
    assert page.one_words.text() != words
    QTest.mouseClick(page.as_table, Qt.MouseButton.LeftButton)
    assert isinstance(page.pictures.shown, OneStudy)


def test_a_rehearsal_is_kept_and_says_when_the_aim_changed(page: RehearsePage, window: Window) -> None:
    """Kept with all its worlds; after another SD it says so; what was kept can be left out."""
    QTest.mouseClick(page.keep, Qt.MouseButton.LeftButton)
    aim = window.session.aim
    assert aim is not None
    assert len(aim.rehearsing.kept) == page.table.rowCount()
    assert page.kept_note.text().endswith("kept.")
    window.show_page("Bench")
    retype(window.bench.ledger.row("sd").editor, "26")
    window.show_page("Rehearse")
    done(window)
    assert "the aim has changed since" in page.kept_note.text()
    QTest.mouseClick(page.leave_out, Qt.MouseButton.LeftButton)
    assert window.session.aim is not None
    assert not window.session.aim.rehearsing.kept


def test_a_long_rehearsal_is_stopped_and_keeps_what_is_done(page: RehearsePage, window: Window, qtbot: QtBot) -> None:
    """A million studies: the table fills while it works; Stop leaves what there is, Go on begins anew."""
    type_over_soon(page, "times", "1000000")
    chosen = lambda: page.running.done(*page_world(page, window))  # noqa: E731
    qtbot.waitUntil(lambda: (tally := chosen().tally) is not None and 0 < tally.replicates < 1_000_000, timeout=30_000)
    page.refresh()  # as an edit asks for, a moment before somebody stops it
    assert page.wait.isActive()
    QTest.mouseClick(page.stop, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not page.busy)
    assert page.stop.text() == "Go on"
    assert "Making up" not in page.one_words.text()
    so_far = chosen().tally.replicates
    QApplication.processEvents()
    assert chosen().tally.replicates == so_far, "what was still on its way came after it was stopped"
    assert "studies so far" in page.sentence.text()
    assert page.sentence.text().endswith("left.")


def page_world(page: RehearsePage, window: Window) -> tuple[object, object]:
    """The aim and the world in view."""
    wanted = page.wanted()
    assert wanted is not None
    return wanted.aim, wanted.worlds[0]


def type_over_soon(page: RehearsePage, name: str, text: str) -> None:
    """Type a word without waiting for what comes of it."""
    word = token(page, name)
    word.setFocus()
    QTest.keyClick(word, Qt.Key.Key_Return)
    assert word.editor is not None
    retype(word.editor, text)


def test_an_aim_without_an_answer_and_no_aim_say_so(page: RehearsePage, window: Window) -> None:
    """Why there is nothing to rehearse."""
    window.show_page("Bench")
    retype(window.bench.ledger.row("sd").editor, "-1")
    window.show_page("Rehearse")
    done(window)
    assert "A rehearsal needs an answer first." in page.empty.text()
    assert not page.sentence.isVisible()


def test_the_table_follows_the_theme_and_the_width(page: RehearsePage, window: Window) -> None:
    """Inks are those of the theme; columns that there is no room for are left out, the last first."""
    window.set_theme("dark")
    item = page.table.item(0, 0)
    assert item is not None
    assert item.foreground().color().name() == DARK.ink.lower()
    window.set_theme("light")
    page.table.setFixedWidth(300)
    wait_until(lambda: page.table.isColumnHidden(5))
    assert not page.table.isColumnHidden(1)


def test_a_world_that_was_just_made_is_in_view(page: RehearsePage, window: Window) -> None:
    """Also in a small window, where the table shows a few rows."""
    window.resize(1024, 600)
    type_over(page, window, "lost", "30%")
    last = page.table.rowCount() - 1
    assert page.table.currentRow() == last
    wait_until(
        lambda: page.table.viewport().rect().contains(page.table.visualItemRect(page.table.item(last, 0)).center())
    )


def test_a_row_half_in_view_comes_into_it_when_it_is_pressed(qtbot: QtBot) -> None:
    """At once; and nothing moves by itself afterwards."""
    table = CalmTable(make_theme(False), "Rows")
    qtbot.addWidget(table)
    table.show_rows(["a", "b"], [(at, at * 2.5) for at in range(60)])
    table.resize(300, 300)
    table.show()
    last = QPoint(20, table.viewport().height() - 3)
    assert table.visualItemRect(table.itemAt(last)).bottom() > table.viewport().height()
    QTest.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=last)
    assert table.visualItemRect(table.currentItem()).bottom() <= table.viewport().height()


def test_a_halted_rehearsal_does_not_say_that_it_makes_up_a_study(page: RehearsePage, window: Window) -> None:
    """Also where an edit had it wait a moment just before somebody stopped it."""
    settle(window)
    wanted = page.wanted()
    assert wanted is not None
    page.running.known.clear()
    page.show_all()
    assert "Making up" in page.one_words.text()
    page.halted = page.key_of(wanted)
    page.wait.start()
    page.show_all()
    assert "Making up" not in page.one_words.text()
    wait_until(lambda: not page.wait.isActive())
    assert "Making up" not in page.one_words.text()


def test_no_study_is_made_up_of_a_world_that_cannot_be(page: RehearsePage, window: Window) -> None:
    """Even while others are rehearsed nothing is said to come."""
    type_over(page, window, "apart", "2x")
    page.wait.start()
    page.show_all()
    assert page.busy
    assert page.one_words.text() == ""
