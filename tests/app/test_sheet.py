"""The page Sheet, in the window."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu
from python_calamine import CalamineWorkbook

from ragwort.app.session import asking
from ragwort.app.sheet.page import SheetPage
from ragwort.app.shell.window import Window

from .conftest import retype, settle, wait_until


@pytest.fixture
def page(window: Window) -> SheetPage:
    """The page in view, its sheet made."""
    window.show_page("Sheet")
    done(window)
    return window.pages.of(SheetPage)


def done(window: Window) -> None:
    """Wait until the sheet is made."""
    settle(window)
    wait_until(lambda: not window.pages.of(SheetPage).busy)


def type_over(page: SheetPage, window: Window, name: str, text: str) -> None:
    """Type a word key by key, and leave it."""
    word = next(each for each in page.sentence.tokens if each.piece.name == name)
    word.setFocus()
    QTest.keyClick(word, Qt.Key.Key_Return)
    assert word.editor is not None
    retype(word.editor, text)
    done(window)


def choose(page: SheetPage, window: Window, name: str, words: str) -> None:
    """Choose in the list of a word, as by a click."""
    word = next(each for each in page.sentence.tokens if each.piece.name == name)
    QTest.mouseClick(word, Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    menu.setActiveAction(next(action for action in menu.actions() if action.text() == words))
    QTest.keyClick(menu, Qt.Key.Key_Return)
    done(window)


def heads(page: SheetPage) -> list[str]:
    """The columns in view."""
    return [page.rows.horizontalHeaderItem(at).text() for at in range(page.rows.columnCount())]


def test_the_sheet_is_there_at_once_and_follows_the_sentence(page: SheetPage, window: Window) -> None:
    """Blind at first; with codes; by strata typed in the sentence; undone."""
    assert heads(page) == ["id", "reaction time at 4 am, ms", "date", "notes"]
    assert page.rows.item(0, 0).text() == "P-001"
    assert "72 brighter, 72 usual lighting" in page.allocation.text()
    choose(page, window, "shown", "as codes")
    assert "allocation" in heads(page)
    choose(page, window, "method", "at random in blocks, stratum by stratum")
    assert "name what makes the strata" in page.sentence.text()
    assert page.rows.rowCount() == 0
    type_over(page, window, "strata", "sex: f, m")
    assert heads(page)[:2] == ["id", "sex"]
    assert "f: 36 brighter, 36 usual lighting" in page.allocation.text()
    window.session.undo()
    done(window)
    assert "name what makes the strata" in page.sentence.text()


def test_words_that_cannot_be_read_or_do_not_fit_say_why(page: SheetPage, window: Window) -> None:
    """Nothing typed is lost, and no old sheet stands for it."""
    for name, text, fault in (
        ("blocks", "5", "A block of 5 does not fit the ratio 1 : 1"),
        ("pattern", "NS", "gives the id NS twice"),
        ("allowed", "9 to 1", "begins above its end"),
    ):
        type_over(page, window, name, text)
        assert fault in page.sentence.text()
        assert page.rows.rowCount() == 0
        window.session.undo()
        done(window)
    assert page.rows.rowCount() == 144


def test_every_aim_has_its_sheet(page: SheetPage, window: Window) -> None:
    """Visits, pairs, clusters, categories; one without an answer says so."""
    for aim in window.session.study.aims:
        window.session.select(aim.id)
        done(window)
        assert page.rows.rowCount() > 50
        assert page.columns.rowCount() == page.rows.columnCount()
    window.session.select(window.session.study.aims[0].id)
    window.show_page("Bench")
    retype(window.bench.ledger.row("sd").editor, "-1")
    window.show_page("Sheet")
    done(window)
    assert "A sheet needs an answer first." in page.empty.text()


def test_the_sheet_the_list_and_the_labels_are_exported(
    page: SheetPage, window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Each to its own file; the sheet does not tell what the list tells."""
    places = iter([tmp_path / "s.xlsx", tmp_path / "l.csv", tmp_path / "e.pdf"])
    monkeypatch.setattr(asking, "place_to_save", lambda *_: next(places))
    for click in (
        lambda: page.sheet_wanted.emit("xlsx"),
        lambda: page.list_wanted.emit("csv"),
        lambda: page.labels_wanted.emit(),
    ):
        click()
        wait_until(lambda: not window.exports.jobs.busy)
    rows = CalamineWorkbook.from_path(tmp_path / "s.xlsx").get_sheet_by_name("Sheet").to_python()
    assert len(rows) == 145
    assert not any("brighter" in row for row in rows)
    assert (tmp_path / "l.csv").read_text().splitlines()[1].startswith("P-001,")
    assert (tmp_path / "e.pdf").read_bytes().startswith(b"%PDF")


def test_the_last_column_fills_its_table_whatever_was_shown_before(page: SheetPage, window: Window) -> None:
    """Also after another aim's sheet, and with columns that were asked for in the sentence."""
    type_over(page, window, "columns", "age, shift")
    for aim in window.session.study.aims[:4]:
        window.session.select(aim.id)
        done(window)
        for table in (page.rows, page.columns):
            wait_until(lambda table=table: table.horizontalHeader().length() >= table.viewport().width())
