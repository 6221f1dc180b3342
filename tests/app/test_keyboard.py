"""Everything without a mouse: Tab reaches each control, arrows nudge, Enter and F2 edit, Delete deletes."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QSessionManager
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from ragwort.app.session.token import Token
from ragwort.app.shell.endings import Endings
from ragwort.app.shell.window import PAGES, Window
from ragwort.designs import design_named
from ragwort.study import edits

from .conftest import retype, settle, type_into, wait_until


def test_tab_walks_through_sentence_ledger_and_shelf(window: Window) -> None:
    """The values of the sentence, the rows of the ledger, the picture and the cards are all on the way."""
    window.activateWindow()
    window.bench.sentence.tokens[0].setFocus()
    seen = set()
    for _ in range(120):
        focused = QApplication.focusWidget()
        seen.add(f"{type(focused).__name__} {focused.objectName()} {focused.accessibleName()}")
        QTest.keyClick(focused, Qt.Key.Key_Tab)
    text = "\n".join(sorted(seen))
    for part in (
        "Token token-sd",
        "ValueLine value Standard deviation",
        "Canvas canvas",
        "Card",
        "FlowerButton flower-power",
    ):
        assert part in text, part


@pytest.mark.parametrize(
    ("key", "result"),
    [
        (Qt.Key.Key_Up, "25"),
        (Qt.Key.Key_Down, "23"),
        (Qt.Key.Key_PageUp, "34"),
        (Qt.Key.Key_PageDown, "14"),
    ],
)
def test_arrows_nudge_in_the_ledger(window: Window, key: Qt.Key, result: str) -> None:
    """One step, or ten with Page Up and Page Down; undone as one."""
    editor = window.bench.ledger.row("sd").editor
    editor.setFocus()
    QTest.keyClick(editor, key)
    assert editor.text() == result
    window.session.undo()
    assert window.session.aim.values()["sd"] == 24


def test_a_nudge_at_the_bound_shows_what_is_meant(window: Window) -> None:
    """0.9 typed as a share is 90%; where no arrow moves it any more it is shown so all the same."""
    editor = window.bench.ledger.row("dropout").editor
    editor.setFocus()
    retype(editor, "0.9", enter=False)
    assert window.session.aim.values()["dropout"] == 0.9
    QTest.keyClick(editor, Qt.Key.Key_PageUp)
    assert editor.text() == f"{100 * window.session.aim.values()['dropout']:g}"


def test_space_moves_the_flower(window: Window) -> None:
    """On the ring before a row."""
    flower = window.bench.ledger.row("difference").flower
    flower.setFocus()
    QTest.keyClick(flower, Qt.Key.Key_Space)
    assert window.session.aim.find == "effect"
    assert flower.isChecked()


def test_enter_types_over_a_value_of_the_sentence(window: Window) -> None:
    """Enter opens the editor on the whole value, Enter keeps."""
    token = window.bench.sentence.findChild(Token, "token-power")
    token.setFocus()
    QTest.keyClick(token, Qt.Key.Key_Return)
    editor = window.bench.sentence.findChild(QLineEdit, "tokenEditor")
    assert editor.selectedText() == "80"
    retype(editor, "90")
    assert window.session.aim.values()["power"] == 0.9


def test_cards_are_worked_by_keys(window: Window) -> None:
    """F2 renames an aim and a scenario; Enter selects and returns."""
    card = window.aims.cards[1]
    card.setFocus()
    QTest.keyClick(card, Qt.Key.Key_Return)
    assert window.session.aim_id == "alertness"
    QTest.keyClick(card, Qt.Key.Key_F2)
    retype(card.findChild(QLineEdit, "nameEdit"), "Awake")
    assert window.session.aim.name == "Awake"
    window.session.select("reaction")
    kept = window.bench.shelf.cards[1]
    QTest.keyClick(kept, Qt.Key.Key_F2)
    retype(kept.findChild(QLineEdit, "nameEdit"), "Wide")
    assert window.bench.shelf.cards[1].title == "Wide"
    QTest.keyClick(window.bench.shelf.cards[1], Qt.Key.Key_Return)
    assert window.session.aim.values()["sd"] == 28


def test_values_typed_are_not_lost_by_undo_of_something_else(window: Window) -> None:
    """A draft that cannot be read survives an edit elsewhere, and its undo."""
    editor = window.bench.ledger.row("sd").editor
    retype(editor, "abc")
    window.session.do(edits.rename_aim(window.session.study, "reaction", "Other"))
    window.session.undo()
    assert window.bench.ledger.row("sd").editor.text() == "abc"


def test_pages_and_the_picture_have_keys(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """Alt and a number for the pages; the picture is copied and exported without a mouse."""
    window.activateWindow()
    settle(window)
    keys = [getattr(Qt.Key, f"Key_{number}") for number in range(len(PAGES), 0, -1)]
    for key, page in zip(keys, reversed(PAGES), strict=True):
        QTest.keyClick(window, key, Qt.KeyboardModifier.AltModifier)
        assert window.pages.name == page
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    QApplication.clipboard().clear()
    QTest.keyClick(window, Qt.Key.Key_G, both)
    assert not QApplication.clipboard().pixmap().isNull()
    answers["save"] = tmp_path / "curve.svg"
    QTest.keyClick(window, Qt.Key.Key_E, both)
    wait_until((tmp_path / "curve.svg").exists)
    assert b"<svg" in (tmp_path / "curve.svg").read_bytes()


@pytest.mark.own_window
def test_the_session_managers_word_keeps_unsaved_work(window: Window, tmp_path: Path) -> None:
    """Logging out: what is typed and not saved is in the recovery copy before the session may end."""
    hints = []

    class Manager:
        def setRestartHint(self, hint: QSessionManager.RestartHint) -> None:
            hints.append(hint)

    type_into(window, "sd", "31", enter=False)
    endings = Endings(QApplication.instance(), window)
    endings.keep(Manager())
    endings.forget()
    assert hints == [QSessionManager.RestartHint.RestartIfRunning]
    (copy,) = (tmp_path / "recovery").glob("*.ragwort*")
    assert json.loads(copy.read_text())["ended"] is True
    assert '"value":31' in copy.read_text().replace(" ", "")


def _press_undo(again: bool = False) -> None:
    keys = Qt.KeyboardModifier
    QTest.keyClick(
        QApplication.focusWidget(), Qt.Key.Key_Z, keys.ControlModifier | (keys.ShiftModifier if again else keys(0))
    )


def test_undo_in_a_field_is_the_studys(window: Window) -> None:
    """Typed over, taken back while still there: as if nothing had been typed, also whether it was an example."""
    window.activateWindow()
    session = window.session
    aim = edits.new_aim(design_named("two-means"), "Another")
    session.do(edits.add_aim(session.study, aim), aim.id)
    settle(window)
    before = session.study
    editor = window.bench.ledger.row("sd").editor
    assert session.aim.entry("sd").example
    editor.setFocus()
    editor.selectAll()
    QTest.keyClicks(editor, "31")
    assert session.aim.values()["sd"] == 31
    _press_undo()
    assert session.study == before
    assert editor.text() == "10"
    assert editor.hasFocus()
    _press_undo(again=True)
    assert editor.text() == "31"
    _press_undo()
    QTest.keyClick(editor, Qt.Key.Key_Tab)
    assert session.study == before


def test_undo_works_in_the_next_field(window: Window) -> None:
    """Where Tab has led to is a field, too: it does not keep the keys to itself."""
    window.activateWindow()
    editor = window.bench.ledger.row("sd").editor
    retype(editor, "31")
    QTest.keyClick(editor, Qt.Key.Key_Tab)
    assert QApplication.focusWidget() is not editor
    _press_undo()
    assert window.session.aim.values()["sd"] == 24
    assert editor.text() == "24"


def test_undo_while_typing_in_the_sentence(window: Window) -> None:
    """The editor over a word closes, and what was typed there is gone."""
    window.activateWindow()
    before = window.session.study
    token = next(each for each in window.bench.sentence.tokens if each.piece.name == "sd")
    token.setFocus()
    QTest.keyClicks(token, "3")
    QTest.keyClicks(QApplication.focusWidget(), "1")
    assert window.session.aim.values()["sd"] == 31
    _press_undo()
    assert window.session.study == before
    assert not token.typing
