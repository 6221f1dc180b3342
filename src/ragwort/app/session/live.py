"""Fields in which every keystroke counts at once: all of one visit are undone together, and none is lost."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QLineEdit

from ragwort.app.session.session import Session
from ragwort.study.history import Edit


class _Beginning(QObject):
    """Shows the beginning of a long text once its field is left."""

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.FocusOut and isinstance(watched, QLineEdit):
            watched.setCursorPosition(0)
        return False


def make_live(editor: QLineEdit, session: Session, edit: Callable[[str], Edit]) -> None:
    """From now on what is typed into `editor` becomes the edit that `edit` makes of it."""

    def typed(text: str) -> None:
        made = edit(text)
        session.do(replace(made, merge=f"{made.label} {session.aim_id} {id(editor)}"))

    def left() -> None:
        if editor.isModified():
            editor.setModified(False)
            session.leave_field("")

    editor.textEdited.connect(typed)
    editor.editingFinished.connect(left)
    editor.installEventFilter(_Beginning(editor))


def is_being_typed(editor: QLineEdit) -> bool:
    """Whether the field must not be written over: somebody is in the middle of it."""
    return editor.hasFocus() and editor.isModified()


def show_in(editor: QLineEdit, text: str) -> None:
    """Show what the study has, unless somebody is in the middle of typing."""
    if not is_being_typed(editor) and editor.text() != text:
        editor.setText(text)
        editor.setCursorPosition(0)
