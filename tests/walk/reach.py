"""Which actions of the walk reach each kind of control; a test fails for a kind that none reaches."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

# By the class that Python or Qt gives it, the names of actions in `actions.py`.
REACHED: dict[str, tuple[str, ...]] = {
    "Token": ("nudge_a_word", "choose_by_keyboard", "press_a_key", "click_anywhere"),
    "QLineEdit": ("type_somewhere", "paste_anything", "press_a_key"),
    "PlainText": ("type_somewhere", "paste_anything"),
    "QAbstractButton": ("click_a_button", "press_a_key"),
    "QComboBox": ("turn_the_wheel", "press_a_key", "click_anywhere"),
    "QTabBar": ("press_a_key", "click_anywhere"),
    "QAbstractItemView": ("press_a_key", "click_anywhere", "turn_the_wheel"),
    "QAbstractScrollArea": ("turn_the_wheel", "press_a_key", "click_anywhere"),
    "QScrollBar": ("drag_a_scroll_bar",),
    "QSplitterHandle": ("hold_and_drag",),
    "Canvas": ("hover", "hold_and_drag", "press_a_key", "click_anywhere"),
    "QMenu": ("choose_by_keyboard", "run_a_command"),
    "QMenuBar": ("click_anywhere", "press_a_key"),
}


def controls(window: QWidget) -> Iterator[QWidget]:
    """What takes the focus or follows the pointer, as far as it is shown."""
    for each in window.findChildren(QWidget):
        takes = each.focusPolicy() != Qt.FocusPolicy.NoFocus or each.hasMouseTracking()
        if takes and each.isVisible() and each.isEnabled() and not each.objectName().startswith("qt_"):
            yield each


def unreached(window: QWidget) -> set[str]:
    """The kinds of control in view that no action is declared to reach."""
    return {type(each).__name__ for each in controls(window) if not _is_reached(each)}


def _is_reached(widget: QWidget) -> bool:
    names = {kind.__name__ for kind in type(widget).__mro__}
    plain = type(widget) is QWidget or "QFrame" in {type(widget).__name__}
    return plain or bool(names & REACHED.keys())
