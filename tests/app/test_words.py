"""Every word of every live sentence, nudged to its bounds; and every kind of control is reached by the walk."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from shiboken6 import isValid

from ragwort.app.session.token import Token
from ragwort.app.shell.window import Window
from ragwort.rehearsal import edits as sentences
from ragwort.rehearsal.of_aim import planned_of
from ragwort.rehearsal.planned import Planned
from ragwort.study import edits
from tests.walk import reach
from tests.walk.actions import ACTIONS
from tests.walk.sameness import settle

Place = Callable[[Window], None]


def _picture(name: str, **words: str) -> Place:
    def show(window: Window) -> None:
        window.show_page("Bench")
        window.bench.picture.show_tab(name)
        if words:
            session = window.session
            session.do(edits.choose_for_picture(session.study, session.aim_id, name, words))

    return show


def _with_grid(window: Window) -> None:
    window.show_page("Grid")
    settle(window)


def _with_limits(window: Window) -> None:
    session = window.session
    session.do(edits.set_study(session.study, limit=100))
    window.show_page("Bench")
    window.bench.show_panel("ways")


def _with_sharing(window: Window) -> None:
    window.show_page("Bench")
    window.by_id["study.sharing"].trigger()


PLACES: dict[str, Place] = {
    "Curve": _picture("Curve"),
    "Curve of n against difference": _picture("Curve", y="n", x="difference"),
    "Map": _picture("Map"),
    "Drivers": _picture("Drivers"),
    "Split": _picture("Split"),
    "Spread": _picture("Spread"),
    "Grid": _with_grid,
    "Rehearse": lambda window: window.show_page("Rehearse"),
    "Sheet": lambda window: window.show_page("Sheet"),
    "limits": _with_limits,
    "sharing": _with_sharing,
}
KEYS = [Qt.Key.Key_Down] * 2 + [Qt.Key.Key_PageDown] * 5 + [Qt.Key.Key_Up] + [Qt.Key.Key_PageUp] * 9 + [Qt.Key.Key_Down]


def _words(window: Window) -> list[Token]:
    return [each for each in window.findChildren(Token) if each.isVisible() and each.isEnabled()]


@pytest.mark.parametrize("where", list(PLACES))
def test_a_word_nudged_to_its_bounds_never_fails(window: Window, where: str) -> None:
    """By the arrows and dragged, whichever word it is; what is typed in place is not left torn."""
    PLACES[where](window)
    settle(window)
    for place in range(len(_words(window))):
        words = _words(window)
        if place >= len(words) or words[place].piece.kind != "value":
            continue
        word, name = words[place], words[place].piece.name
        for key in KEYS:
            word = next((each for each in _words(window) if each.piece.name == name), None)
            if word is None:
                break
            word.setFocus()
            QTest.keyClick(word, key)
            QApplication.processEvents()
        if word is not None and isValid(word):
            _drag(word, -900)
        word = next((each for each in _words(window) if each.piece.name == name), None)
        if word is not None:
            _drag(word, 2000)
        if name == "times":  # a million studies need not be waited for
            edit = sentences.type_word(window.session.study, window.session.aim_id, _planned(window), name, "100")
            window.session.do(edit)
        settle(window)
    assert window.session.study.aims


@pytest.mark.parametrize("where", ["Bench", "Curve", "Grid", "Rehearse", "Sheet", "limits", "sharing"])
def test_a_word_says_what_it_can_and_nothing_else(window: Window, where: str) -> None:
    """Arrows move what says so, and are one undo; what says only "Type" opens though the pointer wanders."""
    if where != "Bench":
        PLACES[where](window)
    settle(window)
    shown = _pages(window, where)
    for name in [each.piece.name for each in shown if each.piece.kind == "value" and not each.piece.found]:
        word, before = _word(window, where, name), window.session.study
        assert ("find it instead" in word.toolTip()) == bool(word.unknowns), name
        if "press ↑ ↓" in word.toolTip():
            word.setFocus()
            QTest.keyClick(word, Qt.Key.Key_Up)
            if where != "Curve":  # what an axis ends at may be at its bound
                assert window.session.study != before, name
            QTest.keyClick(_word(window, where, name), Qt.Key.Key_Up)
            while window.session.study != before:
                window.session.undo()
                assert window.session.study == before, f"{name} is undone in two"
        else:
            assert word.cursor().shape() == Qt.CursorShape.PointingHandCursor
            centre = word.rect().center()
            QTest.mousePress(word, Qt.MouseButton.LeftButton, pos=centre)
            QTest.mouseMove(word, centre + QPoint(12, 0))
            QTest.mouseRelease(word, Qt.MouseButton.LeftButton, pos=centre + QPoint(12, 0))
            assert word.typing, name
            QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
        settle(window)


def _pages(window: Window, where: str) -> list[Token]:
    """The words of one sentence; on the Bench those of the picture are others."""
    on_top = [each for each in _words(window) if each.parentWidget() is window.bench.sentence]
    if where == "Bench":
        return on_top
    return [each for each in _words(window) if each not in on_top]


def _word(window: Window, where: str, name: str) -> Token:
    return next(each for each in _pages(window, where) if each.piece.name == name)


def _planned(window: Window) -> Planned:
    aim = window.session.aim
    assert aim is not None
    return planned_of(aim)


def _drag(word: Token, by: int) -> None:
    centre = word.rect().center()
    QTest.mousePress(word, Qt.MouseButton.LeftButton, pos=centre)
    for step in range(1, 6):
        if isValid(word):
            QTest.mouseMove(word, centre + QPoint(by * step // 5, 0))
            QApplication.processEvents()
    if isValid(word):
        QTest.mouseRelease(word, Qt.MouseButton.LeftButton, pos=centre + QPoint(by, 0))
    QApplication.processEvents()


def test_the_zero_of_an_axis_can_be_pressed_on(window: Window) -> None:
    """“from 0 to 160”: down does nothing, up comes in, and it never crosses the other end."""
    window.show_page("Bench")
    window.bench.picture.show_tab("Curve")
    settle(window)
    word = next(each for each in _words(window) if each.piece.name == "x_low")
    assert word.piece.text.strip() == "0"
    for key in (Qt.Key.Key_Down, Qt.Key.Key_PageDown, Qt.Key.Key_Up):
        word.setFocus()
        QTest.keyClick(word, key)
        settle(window)
        word = next(each for each in _words(window) if each.piece.name == "x_low")
    for _ in range(60):
        word.setFocus()
        QTest.keyClick(word, Qt.Key.Key_PageUp)
        word = next(each for each in _words(window) if each.piece.name == "x_low")
    settle(window)
    low, high = window.bench.picture.canvas.picture.x.ends
    assert low < high


@pytest.mark.parametrize("page", ["Choose", "Bench", "Grid", "Rehearse", "Report", "Sheet", "limits", "sharing"])
def test_the_walk_reaches_every_kind_of_control(window: Window, page: str) -> None:
    """Each has an action declared for it, and each of those is there."""
    study = window.session.study
    window.session.open(study.changed(aims=study.aims[:2]), None)  # a report of thirteen aims takes a while
    PLACES.get(page, lambda shown: shown.show_page(page))(window)
    settle(window)
    assert reach.unreached(window) == set()
    known = {act.__name__ for act, _ in ACTIONS}
    assert {name for names in reach.REACHED.values() for name in names} <= known


def test_the_effect_says_of_which_kind_it_is(window: Window) -> None:
    """Chosen below its help; the expected one beside it is typed, its fault shown, and undone in one step each."""
    window.resize(1280, 860)
    window.bench.detail.show_assumption("difference")
    row = window.bench.detail.effect
    assert row.isVisible()
    assert not row.expected.isVisible()
    row.kind.setCurrentIndex(1)
    row.kind.activated.emit(1)
    assert "the smallest considered worthwhile" in window.bench.sentence.text()
    assert row.expected.isVisible()
    QTest.mouseClick(row.expected, Qt.MouseButton.LeftButton)
    QTest.keyClicks(row.expected, "15 (20 to 12)")
    assert row.fault.isVisible()
    row.expected.selectAll()
    QTest.keyClicks(row.expected, "15 (12 to 20)")
    assert not row.fault.isVisible()
    expected = window.session.study.aims[0].expected
    assert (expected.value, expected.low, expected.high) == (15, 12, 20)
    QTest.keyClick(row.expected, Qt.Key.Key_Return)
    window.session.undo()
    window.session.undo()
    assert "worthwhile" not in window.bench.sentence.text()
    window.bench.detail.show_assumption("sd")
    assert not row.isVisible()


def test_leaving_a_word_tells_nobody_where_nothing_was_typed(window: Window) -> None:
    """What was typed and is forgotten tells once; an editor that is opened and left, not at all."""
    settle(window)
    told: list[None] = []
    window.session.changed.connect(lambda: told.append(None))
    for keys, times in (("", 0), ("3", 2)):  # the keystroke itself, and that it is forgotten
        word = _word(window, "Bench", "sd")
        word.setFocus()
        QTest.keyClick(word, Qt.Key.Key_F2)
        QTest.keyClicks(QApplication.focusWidget(), keys)
        told.clear() if not keys else None
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
        assert len(told) == times, keys
    assert window.session.aim is not None
    assert window.session.aim.values()["sd"] == 24
