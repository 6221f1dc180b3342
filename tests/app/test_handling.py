"""What the pointer does to a picture beside moving its point: framing, pins, words of one's own."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu

from ragwort.app.picture.canvas import Canvas
from ragwort.app.shell.window import Window
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.map import Map
from ragwort.study.document.pages import Steer

from .conftest import settle, wait_until


def canvas_of(window: Window, picture: str = "Curve") -> Canvas:
    """With the picture there and drawn."""
    window.bench.picture.show_tab(picture)
    settle(window)
    canvas = window.bench.picture.canvas
    wait_until(lambda: canvas.picture is not None and canvas.point_at() is not None)
    return canvas


def steer(window: Window, picture: str = "Curve") -> Steer:
    """What is kept of it."""
    return window.session.aim.steer(picture)


def run(window: Window, name: str) -> None:
    """A command, as the finder runs it."""
    next(command for command in window.commands if command.id == name).run()


def wheel(canvas: Canvas, at: QPoint, notches: int) -> None:
    """Turn the wheel over a place."""
    place, turned = QPointF(at), QPoint(0, 120 * notches)
    nothing, phase = Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase
    event = QWheelEvent(
        place, QPointF(canvas.mapToGlobal(at)), QPoint(), turned, Qt.MouseButton.NoButton, nothing, phase, False
    )
    QApplication.sendEvent(canvas, event)


def drag(canvas: Canvas, start: QPoint, *to: QPoint) -> None:
    """Press, move, release."""
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    for place in to:
        QTest.mouseMove(canvas, place)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=to[-1])


def foot(canvas: Canvas, x: float) -> QPoint:
    """Among the numbers below."""
    return (canvas.pixel_at((x, 0.0)) + QPointF(0, 8)).toPoint()


def test_the_wheel_looks_closer_and_a_double_click_takes_it_back(window: Window) -> None:
    """The place under the pointer stays under it; turns in one go are undone together."""
    canvas = canvas_of(window)
    at = canvas.pixel_at((64.0, 0.3)).toPoint()
    wheel(canvas, at, 1)
    settle(window)
    wheel(canvas, at, 1)
    settle(window)
    shown = canvas.picture
    assert isinstance(shown, Curve)
    assert shown.x.ends[1] - shown.x.ends[0] == pytest.approx(160 / 1.25**2, abs=1)
    assert canvas.data_at(QPointF(at))[0] == pytest.approx(64, abs=1)
    QTest.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.pixel_at((70.0, 0.3)).toPoint())
    settle(window)
    assert steer(window).ends == {}
    window.session.undo()
    settle(window)
    assert steer(window).ends != {}
    window.session.undo()
    settle(window)
    assert steer(window).ends == {}


def test_the_paper_is_moved_by_hand(window: Window) -> None:
    """What was taken hold of stays under the pointer; a map moves both ways; one undo takes it back."""
    canvas = canvas_of(window, "Map")
    start = canvas.pixel_at((9.0, 120.0))
    target = start + QPointF(40, 30)
    there = canvas.data_at(target)
    drag(canvas, start.toPoint(), (start + QPointF(20, 15)).toPoint(), target.toPoint())
    settle(window)
    shown = canvas.picture
    assert isinstance(shown, Map)
    assert shown.x.ends[0] == pytest.approx(6 + 9 - there[0], abs=0.1)
    assert shown.y.ends[0] == pytest.approx(2 + 120 - there[1], abs=2)
    assert window.session.aim.entry("difference").value == 12
    window.session.undo()
    settle(window)
    assert steer(window, "Map").ends == {}


def test_a_pin_is_put_moved_named_and_taken_away(window: Window) -> None:
    """By a click among the numbers, a drag, a double click, a drag off the picture; the sentence follows."""
    canvas, sentence = canvas_of(window), window.bench.picture.steering
    QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=foot(canvas, 110.0))
    settle(window)
    (pin,) = steer(window).pins
    assert (pin.axis, pin.at) == ("n", pytest.approx(110, abs=1))
    assert sentence.text().endswith((", read at 110.", ", read at 109.", ", read at 111."))
    (flag,) = canvas.picture.flags
    assert "per group: 95." in flag.words.replace("\u00a0", " ")
    pole = canvas.pixel_at((flag.x, 0.5)).toPoint()
    drag(canvas, pole, pole + QPoint(-30, 0), pole + QPoint(-60, 0))
    settle(window)
    moved = steer(window).pins[0].at
    assert moved < 105
    QTest.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.pixel_at((moved, 0.5)).toPoint())
    editor = canvas.findChild(QLineEdit, "pictureWords")
    QTest.keyClicks(editor, "a full rota")
    QTest.keyClick(editor, Qt.Key.Key_Return)
    settle(window)
    assert canvas.picture.flags[0].words.startswith("a full rota: ")
    pole = canvas.pixel_at((moved, 0.5)).toPoint()
    drag(canvas, pole, pole + QPoint(0, -20), QPoint(pole.x(), 2))
    settle(window)
    assert steer(window).pins == ()
    window.session.undo()
    (back,) = steer(window).pins
    assert (back.at, back.name) == (moved, "a full rota")


def test_the_menu_has_what_the_pointer_can(window: Window) -> None:
    """By the keyboard too: on the first pin where there is one."""
    canvas = canvas_of(window)
    run(window, "view.read")
    settle(window)
    assert steer(window).pins[0].at == 64
    window.bench.picture.handling.show_menu(QPoint(40, 40), 0, 64.0)
    menu = canvas.findChild(QMenu)
    titles = [action.text() for action in menu.actions()]
    assert titles[:2] == ["Name this reading…", "Remove this reading"]
    menu.actions()[1].trigger()
    menu.close()
    settle(window)
    assert steer(window).pins == ()
    run(window, "view.nearer")
    settle(window)
    assert steer(window).ends
    run(window, "view.reset-axes")
    settle(window)
    assert steer(window).ends == {}


def test_words_are_typed_over_in_place(window: Window) -> None:
    """Below, beside, above and the caption; emptied they are the picture's own again."""
    canvas, says = canvas_of(window), window.bench.picture.says
    for part, words in (("x", "nurses in each room"), ("y", "chance"), ("title", "More is more")):
        QTest.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=_within(canvas, part))
        editor = canvas.findChild(QLineEdit, "pictureWords")
        QTest.keyClicks(editor, words)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        settle(window)
        assert canvas.picture.words_for(part) == words
        wait_until(lambda: canvas.findChild(QLineEdit, "pictureWords") is None)
    QTest.mouseDClick(says, Qt.MouseButton.LeftButton)
    editor = canvas.findChild(QLineEdit, "pictureWords")
    QTest.keyClicks(editor, "Our own words.")
    QTest.keyClick(editor, Qt.Key.Key_Return)
    settle(window)
    assert says.whole() == "Our own words."
    wait_until(lambda: canvas.findChild(QLineEdit, "pictureWords") is None)
    QTest.mouseDClick(says, Qt.MouseButton.LeftButton)
    editor = canvas.findChild(QLineEdit, "pictureWords")
    editor.clear()
    QTest.keyClick(editor, Qt.Key.Key_Return)
    settle(window)
    assert says.whole().startswith("Power is 80.1")


def _within(canvas: Canvas, part: str) -> QPoint:
    """A place that belongs to the words, whatever the size of the canvas."""
    area = canvas.area()
    places = {"x": (area.center().x(), canvas.height() - 4), "y": (6, area.center().y()), "title": (area.left() + 9, 3)}
    return QPointF(*places[part]).toPoint()


def test_the_size_for_which_it_is_taken_out_is_kept(window: Window) -> None:
    """Chosen in the menu of ways out, with the page as the usual one."""
    canvas_of(window)
    view = window.bench.picture
    view.check_size()
    assert [action.data() for action in view.sizes.actions() if action.isChecked()] == ["page"]
    view.sizes.actions()[2].trigger()
    settle(window)
    assert steer(window).size == "slide"


def test_words_left_half_typed_count_for_their_own_picture(window: Window) -> None:
    """Another aim, another tab or a click elsewhere ends the typing; nothing typed is lost or lands elsewhere."""
    canvas = canvas_of(window)
    window.bench.picture.handling.ask_title()
    QTest.keyClicks(canvas.findChild(QLineEdit, "pictureWords"), "For the board")
    window.session.select("alertness")
    window.bench.picture.show_tab("Map")
    settle(window)
    assert canvas.findChild(QLineEdit, "pictureWords") is None
    study = window.session.study
    assert study.aim("reaction").steer("Curve").texts == {"title": "For the board"}
    assert study.aim("alertness").steer("Map").texts == {}
    window.bench.picture.handling.ask_title()
    window.bench.ledger.setFocus()
    wait_until(lambda: canvas.findChild(QLineEdit, "pictureWords") is None)


def test_plus_and_minus_look_closer_about_the_point(window: Window) -> None:
    """By the keyboard, as by the wheel."""
    canvas = canvas_of(window)
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_Plus)
    settle(window)
    ends = steer(window).ends
    assert ends["x_high"] - ends["x_low"] == pytest.approx(128, abs=1)
    QTest.keyClick(canvas, Qt.Key.Key_Minus)
    settle(window)
    assert steer(window).ends["x_high"] == pytest.approx(160, abs=1)


def test_shift_and_an_arrow_read_along_the_curve(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    """The reading moves, is shown and announced; the design stays where it is."""
    said: list[str] = []
    monkeypatch.setattr("ragwort.app.picture.canvas.say", lambda _, words: said.append(words))
    canvas = canvas_of(window)
    canvas.setFocus()
    for _ in range(3):
        QTest.keyClick(canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert len(set(said)) == 3
    assert canvas.hover is not None
    assert canvas.hover.words == said[-1]
    assert window.session.aim.entry("power").value == 0.8
    assert "through the target 80%" in canvas.accessibleDescription()
