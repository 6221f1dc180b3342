"""The sentence that a picture is steered by, in the window."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu, QWidget

from ragwort.app.kit.widgets import PassingEdit
from ragwort.app.session.token import Token
from ragwort.app.shell.window import Window
from ragwort.figures.shown.drivers import Drivers
from ragwort.figures.shown.map import Map
from ragwort.figures.shown.split import Split
from ragwort.study.document.files import read_study, write_study

from .conftest import MakeWindow, settle, wait_until


def shown(window: Window, picture: str) -> str:
    """Bring a picture into view; its sentence."""
    window.bench.picture.show_tab(picture)
    settle(window)
    return window.bench.picture.steering.text()


def token(window: Window, slot: str) -> Token:
    """A word of the sentence."""
    return next(each for each in window.bench.picture.steering.tokens if each.piece.name == slot)


def pick(window: Window, slot: str, words: str) -> None:
    """Choose in the list of a word, as by a click."""
    QTest.mouseClick(token(window, slot), Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    menu.setActiveAction(next(action for action in menu.actions() if action.text() == words))
    QTest.keyClick(menu, Qt.Key.Key_Return)
    settle(window)


def test_another_picture_is_shown_while_a_word_is_typed(window: Window) -> None:
    """What was typed counts, and the other picture's sentence is whole."""
    shown(window, "Map")
    low = token(window, "x_low")
    low.setFocus()
    QTest.keyClicks(low, "4")
    window.bench.picture.show_tab("Curve")
    settle(window)
    assert window.bench.picture.steering.text().startswith("Power against staff per group")
    assert window.session.aim.steer("Map").ends == {"x_low": 4.0}


def test_a_list_that_is_open_goes_with_its_word(window: Window) -> None:
    """Nothing can be picked of a picture that is not there any more."""
    shown(window, "Curve")
    word = next(each for each in window.bench.picture.steering.tokens if each.piece.kind == "choice")
    QTest.mouseClick(word, Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    window.bench.picture.steering.forget()
    assert QApplication.activePopupWidget() is None
    shown(window, "Map")


def test_a_map_is_steered_saved_and_taken_back(window: Window, open_window: MakeWindow, tmp_path: Path) -> None:
    """Choices, typed ends, half-typed ones with their fault; undone one by one; there again in another window."""
    steering = window.bench.picture.steering
    assert shown(window, "Map") == "Power over difference from 6 to 18 ms and staff per group from 2 to 160."
    pick(window, "y", "standard deviation")
    assert steering.text() == "Power over difference from 6 to 18 ms and standard deviation from 18 to 30 ms."
    low = token(window, "x_low")
    low.setFocus()
    QTest.keyClicks(low, "3")
    editor = steering.findChild(QLineEdit, "tokenEditor")
    QTest.keyClicks(editor, "x")
    settle(window)
    assert "is not a number" in steering.sentence.remark
    assert window.session.aim.steer("Map").ends == {"x_low": 3.0}
    QTest.keyClick(editor, Qt.Key.Key_Backspace)
    QTest.keyClick(editor, Qt.Key.Key_Return)
    settle(window)
    assert steering.text().startswith("Power over difference from 3 to 18 ms")
    picture = window.bench.picture.canvas.picture
    assert isinstance(picture, Map)
    assert picture.x.ends == (3.0, 18.0)
    write_study(window.session.study, tmp_path / "s.ragwort")
    other = open_window(read_study(tmp_path / "s.ragwort"))
    assert shown(other, "Map") == steering.text()
    window.session.undo()
    settle(window)
    assert steering.text().startswith("Power over difference from 6 to 18 ms and standard deviation")
    window.session.undo()
    settle(window)
    assert steering.text().endswith("staff per group from 2 to 160.")


def test_the_point_of_a_map_is_dragged_both_ways(window: Window) -> None:
    """Difference and size follow the pointer; one undo takes both back; arrow keys move it a step."""
    shown(window, "Map")
    canvas = window.bench.picture.canvas
    start = canvas.point_at().toPoint()
    target = canvas.pixel_at((10.0, 92.0)).toPoint()
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    for share in (0.3, 0.7, 1.0):
        QTest.mouseMove(canvas, start + QPoint(*(round(share * d) for d in (target - start).toTuple())))
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=target)
    settle(window)
    aim = window.session.aim
    assert aim.values()["difference"] == pytest.approx(10, abs=0.1)
    assert window.session.outcome(aim).groups[0] == pytest.approx(92, abs=2)
    window.session.undo()
    settle(window)
    assert window.session.aim.values()["difference"] == 12
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    settle(window)
    assert window.session.aim.values()["difference"] == 13
    QTest.keyClick(canvas, Qt.Key.Key_Up)
    settle(window)
    assert window.session.outcome(window.session.aim).groups[0] == 56


def test_drivers_ask_another_question(window: Window) -> None:
    """Chosen in the sentence; an aim without ranges says what to do; another aim in view has its own sentence."""
    assert shown(window, "Drivers").startswith("How far the sample size moves")
    pick(window, "y", "power")
    picture = window.bench.picture.canvas.picture
    assert isinstance(picture, Drivers)
    assert picture.x_label == "power, %"
    assert "The power depends most on difference 8 to 16" in window.bench.picture.says.whole()
    window.session.select("crossover")
    settle(window)
    wait_until(lambda: "Nothing has a plausible range yet" in window.bench.picture.canvas.picture.says)
    assert window.bench.picture.canvas.picture.supposed
    assert window.bench.picture.plausible.isVisible()
    QTest.mouseClick(window.bench.picture.plausible, Qt.MouseButton.LeftButton)
    wait_until(lambda: window.focusWidget() is window.bench.ledger.row("difference").range_field)
    assert window.bench.picture.steering.text().startswith("How far the sample size moves")


def test_a_split_is_priced_and_taken(window: Window) -> None:
    """A cost typed over moves the cheapest split; the point is dragged there, and by keys; each is one undo."""
    assert shown(window, "Split") == "Sample size with 80% power, split between brighter and usual lighting."
    pick(window, "y", "cost")
    steering, canvas = window.bench.picture.steering, window.bench.picture.canvas
    assert steering.text().endswith("which cost 1 and 1 for each member of staff.")
    word = token(window, "cost_1")
    word.setFocus()
    QTest.keyClicks(word, "4")
    QTest.keyClick(steering.findChild(QLineEdit, "tokenEditor"), Qt.Key.Key_Return)
    settle(window)
    assert window.session.aim.steer("Split").costs == {"cost_1": 4.0}
    made = canvas.picture
    assert isinstance(made, Split)
    assert made.best is not None
    assert made.best.x == pytest.approx(1.0, abs=0.2)
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=canvas.point_at().toPoint())
    for share in (0.5, 1.0):
        QTest.mouseMove(canvas, canvas.pixel_at((share * made.best.x, made.best.y)).toPoint())
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton)
    settle(window)
    assert window.session.aim.entry("ratio").value == pytest.approx(2.0**made.best.x, abs=0.06)
    QTest.keyClick(canvas, Qt.Key.Key_Left)
    settle(window)
    assert window.session.aim.entry("ratio").value < 2.0**made.best.x
    window.session.undo()
    window.session.undo()
    settle(window)
    assert window.session.aim.entry("ratio").value == 1
    assert canvas.picture.point[0] == 0.0


def test_a_sentence_is_painted_anew_when_its_words_move(window: Window) -> None:
    """Also where nothing of it changes but the room that an open editor takes."""
    sentence = window.bench.sentence
    token = sentence.findChild(Token, "token-alpha")
    painted: list[bool] = []
    for act in (lambda: QTest.keyClick(token, Qt.Key.Key_F2), lambda: open_editor_in(sentence).done.emit()):
        settle(window)
        before = [at for at, _ in sentence.words_at]
        sentence.update = lambda: painted.append(True)  # type: ignore[method-assign]
        painted.clear()
        act()
        moved = [at for at, _ in sentence.words_at] != before
        assert moved
        assert painted


def open_editor_in(sentence: QWidget) -> PassingEdit:
    """What is being typed over a word."""
    return next(each for each in sentence.findChildren(PassingEdit) if each.isVisible())


def test_the_words_of_a_picture_come_before_it_with_tab(window: Window) -> None:
    """However late they were made: all the words in reading order, then the picture."""
    for picture in ("Curve", "Map"):
        shown(window, picture)
        window.bench.picture.export_link.setFocus()
        passed: list[QWidget] = []
        while (focus := QApplication.focusWidget()) is not window.bench.picture.canvas:
            assert focus is not None
            assert len(passed) < 20
            passed.append(focus)
            QTest.keyClick(focus, Qt.Key.Key_Tab)
        assert passed[1:] == window.bench.picture.steering.tokens
