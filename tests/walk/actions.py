"""What a user may do. Each action is one function of the walk, declared with its weight."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt
from PySide6.QtGui import QGuiApplication, QImage, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QLineEdit, QScrollBar, QWidget
from shiboken6 import isValid

from ragwort.app.kit.plain_text import PlainText
from ragwort.app.session.token import Token
from ragwort.designs import all_designs
from ragwort.figures.pictures import PICTURES
from ragwort.study import edits

if TYPE_CHECKING:
    from tests.walk.engine import Walk

Action = Callable[["Walk"], str]
ACTIONS: list[tuple[Action, int]] = []

KEYS = "Tab Backtab Up Down Left Right PageUp PageDown Home End Return Escape Delete Backspace Space F2"
TEXTS = (
    "12", "0.5", "1,5", "80 %", "8 to 16", "3 : 2", "0", "1", "-4", "1e400", "1e-300", "9" * 40, "abc", "", " ", "²",
    "12 ms", "12,5 %", "½", "10-20", "~12", ">0.8", "12..5", "1 000", "1'000", "−4", "5e-3", "+3", ".5", "12.", "1/3",
    "0.8.1", "80%%", "--", "12 or 13", "1:2:3", "2³", "１２", "١٢", "1e", "0x10", "1_000", "\ufeff12", "none", "true",
    "1.234,5", "1,234", "0.3 0.2; 0.2 0.3", "412, 405, 398", "0.5 0.3 0.2", "age, ward (4 levels), age × ward", "NaN",
    "🌙 night", "x" * 300, "$x^{2", "=1+1", "<b>", "0.05", "0.9", "20", "150", "2", "64", "a\tb\nc", "50; 60",
)  # fmt: skip
NOT_PRESSED = ("Copy", "Export")  # reach outside the window: have actions of their own
LEFT_OUT = ("file.quit", "view.light", "view.dark", "view.desktop", "help.about")


def action(weight: int) -> Callable[[Action], Action]:
    """Declare what a user may do."""

    def declare(act: Action) -> Action:
        ACTIONS.append((act, weight))
        return act

    return declare


def _place(walk: Walk) -> QPoint:
    window = walk.window
    return QPoint(walk.rng.randrange(window.width()), walk.rng.randrange(window.height()))


def _under(walk: Walk, at: QPoint) -> tuple[QWidget, QPoint]:
    widget = walk.window.childAt(at) or walk.window
    return widget, widget.mapFrom(walk.window, at)


def _name(widget: QWidget) -> str:
    return f"{type(widget).__name__} {widget.accessibleName()[:30] or widget.objectName()}"


def _visible(walk: Walk, *kinds: type) -> list[QWidget]:
    found = [each for kind in kinds for each in walk.window.findChildren(kind)]
    return [each for each in found if each.isVisible() and each.isEnabled()]


@action(14)
def press_a_key(walk: Walk) -> str:
    """On whatever has the focus."""
    key = walk.rng.choice(KEYS.split())
    widget = QApplication.focusWidget() or walk.window
    name = _name(widget)
    walk.send(lambda: QTest.keyClick(widget, getattr(Qt.Key, f"Key_{key}")))
    return f"{key} on {name}"


@action(10)
def type_somewhere(walk: Walk) -> str:
    """Over what a field has, or on from it."""
    fields = _visible(walk, QLineEdit, PlainText)
    if not fields:
        return "nothing to type into"
    field, text = walk.rng.choice(fields), walk.rng.choice(TEXTS)
    name = _name(field)
    walk.send(lambda: field.setFocus(Qt.FocusReason.TabFocusReason))
    if not isValid(field):
        return f"{name} went when it was to take the focus"
    if not field.hasFocus():
        return f"{name} does not take the focus"
    if walk.rng.random() < 0.8:
        walk.send(field.selectAll)
    for character in text[:12]:
        walk.send(lambda c=character: _type(c))
    if walk.rng.random() < 0.5:
        walk.send(lambda: QTest.keyClick(QApplication.focusWidget() or walk.window, Qt.Key.Key_Return))
    return f"typed {text[:12]!r} into {name}"


def _type(character: str) -> None:
    focused = QApplication.focusWidget()
    if focused is None:
        return
    if character.isascii() and character.isprintable():
        QTest.keyClicks(focused, character)
    elif isinstance(focused, QLineEdit):
        focused.insert(character)  # QtTest has no keys beyond ASCII
        focused.textEdited.emit(focused.text())


@action(16)
def click_a_button(walk: Walk) -> str:
    """Any that can be seen."""
    buttons = [
        b for b in _visible(walk, QAbstractButton) if b.text() not in NOT_PRESSED and not b.visibleRegion().isEmpty()
    ]
    if not buttons:
        return "no button"
    button = walk.rng.choice(buttons)
    name = _name(button)
    walk.send(lambda: QTest.mouseClick(button, Qt.MouseButton.LeftButton))
    return f"clicked {name}"


@action(10)
def click_anywhere(walk: Walk) -> str:
    """Left, right or double."""
    widget, at = _under(walk, _place(walk))
    name, how = _name(widget), walk.rng.choice(("left", "left", "right", "double"))
    if how == "right":
        walk.send(lambda: QTest.mouseClick(widget, Qt.MouseButton.RightButton, pos=at))
        walk.ask_for_menu(widget, at)
    elif how == "double":
        for step in (QTest.mouseClick, QTest.mouseDClick, QTest.mouseRelease):  # the second press has its own release
            if isValid(widget):
                walk.send(lambda step=step: step(widget, Qt.MouseButton.LeftButton, pos=at))
    else:
        walk.send(lambda: QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=at))
    return f"{how} click on {name}"


@action(8)
def hover(walk: Walk) -> str:
    """The pointer over something."""
    widget, at = _under(walk, _place(walk))
    name = _name(widget)
    walk.send(lambda: QTest.mouseMove(widget, at))
    return f"hover over {name}"


@action(5)
def hold_and_drag(walk: Walk) -> str:
    """From anywhere, some way, in steps; on the picture often from its point."""
    canvas = walk.window.bench.picture.canvas
    point = canvas.point_at() if canvas.isVisible() else None
    if point is not None and walk.rng.random() < 0.5:
        widget, at = canvas, point.toPoint()
    else:
        widget, at = _under(walk, _place(walk))
    name, by = _name(widget), QPoint(walk.rng.randint(-120, 120), walk.rng.randint(-60, 60))
    walk.send(lambda: QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=at))
    for step in range(1, 5):
        if isValid(widget):  # a list that is found anew takes its entries away
            walk.send(lambda s=step: walk.drag_over(widget, at + by * s / 4))
    if isValid(widget):
        walk.send(lambda: QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=at + by))
    return f"dragged {name} by {by.x()}, {by.y()}"


@action(4)
def turn_the_wheel(walk: Walk) -> str:
    """Up or down."""
    widget, at = _under(walk, _place(walk))
    delta = QPoint(0, walk.rng.choice((-240, -120, 120, 240)))
    none, phase = Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase
    event = QWheelEvent(
        QPointF(at), QPointF(widget.mapToGlobal(at)), QPoint(), delta, Qt.MouseButton.NoButton, none, phase, False
    )
    name = _name(widget)
    walk.send(lambda: QApplication.sendEvent(widget, event))
    return f"wheel {delta.y()} on {name}"


@action(2)
def drag_a_scroll_bar(walk: Walk) -> str:
    """By its handle, and by a press beside it."""
    bars = _visible(walk, QScrollBar)
    if not bars:
        return "no scroll bar"
    bar = walk.rng.choice(bars)
    name, at, to = (
        _name(bar),
        *(QPoint(walk.rng.randrange(bar.width()), walk.rng.randrange(bar.height())) for _ in "ab"),
    )
    walk.send(lambda: QTest.mousePress(bar, Qt.MouseButton.LeftButton, pos=at))
    if isValid(bar):
        walk.send(lambda: walk.drag_over(bar, to))
    if isValid(bar):
        walk.send(lambda: QTest.mouseRelease(bar, Qt.MouseButton.LeftButton, pos=to))
    return f"scrolled {name}"


@action(5)
def paste_anything(walk: Walk) -> str:
    """A text, a picture, nothing."""
    what = walk.rng.choice((*TEXTS, None, QImage(3, 3, QImage.Format.Format_RGB32), "1\t2\n3\t4", "\n" * 9, "5\n6\n7"))
    data = QMimeData()
    if isinstance(what, str):
        data.setText(what)
    elif what is not None:
        data.setImageData(what)
    QGuiApplication.clipboard().setMimeData(data)
    widget = QApplication.focusWidget() or walk.window
    name = _name(widget)
    walk.send(lambda: QTest.keyClick(widget, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier))
    return f"pasted {str(what)[:20]!r} on {name}"


@action(9)
def undo_or_redo(walk: Walk) -> str:
    """Some steps of either."""
    which = walk.rng.choice(("edit.undo", "edit.undo", "edit.redo"))
    for _ in range(walk.rng.choice((1, 1, 1, 2, 5))):
        walk.send(walk.window.by_id[which].trigger)
    return which


@action(8)
def nudge_a_word(walk: Walk) -> str:
    """Of any sentence, by the arrows or dragged sideways, a little or to its bounds and beyond."""
    words = [each for each in _visible(walk, Token) if each.piece.kind == "value"]
    if not words:
        return "no word to nudge"
    word, times = walk.rng.choice(words), walk.rng.choice((1, 2, 5, 40))
    name, way = _name(word), walk.rng.choice(("Up", "Down", "PageUp", "PageDown", "drag"))
    if way == "drag":
        by = QPoint(walk.rng.choice((-1, 1)) * times * 12, 0)
        walk.send(lambda: QTest.mousePress(word, Qt.MouseButton.LeftButton, pos=word.rect().center()))
        for step in range(1, 9):
            if isValid(word):
                walk.send(lambda s=step: walk.drag_over(word, word.rect().center() + by * s / 8))
        if isValid(word):
            walk.send(lambda: QTest.mouseRelease(word, Qt.MouseButton.LeftButton, pos=word.rect().center() + by))
        return f"dragged {name} by {by.x()}"
    walk.send(lambda: word.setFocus(Qt.FocusReason.TabFocusReason))
    for _ in range(times):
        walk.send(lambda: QTest.keyClick(QApplication.focusWidget() or walk.window, getattr(Qt.Key, f"Key_{way}")))
    return f"{way} {times} times on {name}"


@action(5)
def choose_by_keyboard(walk: Walk) -> str:
    """A word that is picked: opened, gone through and taken, or left, without the pointer."""
    words = [each for each in _visible(walk, Token) if each.piece.kind == "choice" or each.piece.found]
    if not words:
        return "no word to choose"
    word, down, last = walk.rng.choice(words), walk.rng.randrange(5), walk.rng.choice(("Return", "Return", "Escape"))
    name = _name(word)
    walk.send(lambda: word.setFocus(Qt.FocusReason.TabFocusReason))
    walk.send(lambda: QTest.keyClick(word, walk.rng.choice((Qt.Key.Key_Return, Qt.Key.Key_Space, Qt.Key.Key_F2))))
    for key in ["Down"] * down + [last]:
        popup = QApplication.activePopupWidget()
        if popup is not None:
            walk.send(lambda p=popup, k=key: QTest.keyClick(p, getattr(Qt.Key, f"Key_{k}")))
    return f"chose by keyboard in {name}, {down} down, {last}"


@action(3)
def export_something(walk: Walk) -> str:
    """Any export that can be had, of whatever page is in view; what it writes is opened again by the engine."""
    exports = [each for each in walk.window.enabled_commands() if "xport" in each.title() or "ave" in each.title()]
    chosen = walk.rng.choice(exports)
    walk.send(walk.window.by_id[chosen.id].trigger)
    return f"export {chosen.id}"


@action(7)
def run_a_command(walk: Walk) -> str:
    """Any that can be used now."""
    chosen = walk.rng.choice([each for each in walk.window.enabled_commands() if each.id not in LEFT_OUT])
    walk.send(walk.window.by_id[chosen.id].trigger)
    return f"command {chosen.id}"


@action(4)
def go_elsewhere(walk: Walk) -> str:
    """Another page, aim or picture."""
    window, aims = walk.window, walk.window.session.study.aims
    where = walk.rng.choice(("page", "aim", "picture"))
    if where == "page":
        page = walk.rng.choice(("Bench", "Bench", "Grid", "Rehearse", "Rehearse", "Sheet", "Report", "Choose"))
        walk.send(lambda: window.show_page(page))
        return f"page {page}"
    if where == "aim" and aims:
        aim = walk.rng.choice(aims)
        walk.send(lambda: window.session.select(aim.id))
        return f"aim {aim.name[:20]} ({aim.design})"
    picture = walk.rng.choice(PICTURES)
    walk.send(lambda: window.bench.picture.show_tab(picture))
    return f"picture {picture}"


@action(2)
def add_an_aim(walk: Walk) -> str:
    """Of any design; a study of very many aims loses one again."""
    window, design = walk.window, walk.rng.choice(all_designs())
    if len(window.session.study.aims) > 12:
        gone = walk.rng.choice(window.session.study.aims)
        walk.send(lambda: window.session.do(edits.delete_aim(window.session.study, gone.id)))
        return f"deleted {gone.name[:20]}"
    walk.send(lambda: window.show_page("Bench"))
    walk.send(lambda: window.aims.add(design))
    return f"added {design.id}"


@action(2)
def resize(walk: Walk) -> str:
    """From the smallest to a large screen."""
    width, height = walk.rng.randint(900, 1700), walk.rng.randint(560, 1000)
    walk.send(lambda: walk.window.resize(width, height))
    return f"resized to {width} x {height}"


@action(1)
def change_the_theme(walk: Walk) -> str:
    """Rarely: everything is made anew."""
    if walk.rng.random() < 0.7:
        return "kept the theme"
    theme = walk.rng.choice(("light", "dark"))
    walk.send(lambda: walk.window.set_theme(theme))
    return f"theme {theme}"
