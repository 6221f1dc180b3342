"""Fields in which every keystroke counts at once: all of one visit are undone together, and none is lost."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QLineEdit

from ragwort.app.session.session import Session
from ragwort.study.document.history import Edit


class _Beginning(QObject):
    """Shows the beginning of a long text once its field is left."""

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.FocusOut and isinstance(watched, QLineEdit):
            watched.setCursorPosition(0)
        return False


class _StudysUndo(QObject):
    """Undo and redo are the study's: the field's own would type the old text anew, and do nothing in the next field."""

    def __init__(self, editor: QLineEdit, session: Session) -> None:
        super().__init__(editor)
        self._editor, self._session = editor, session

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        if event.matches(QKeySequence.StandardKey.Undo):
            self._move(self._session.undo)
        elif event.matches(QKeySequence.StandardKey.Redo):
            self._move(self._session.redo)
        else:
            return False
        return True

    def _move(self, act: Callable[[], None]) -> None:
        self._editor.setModified(False)  # what the study has is shown again
        act()
        self._editor.selectAll()


def undo_with_study(editor: QLineEdit, session: Session) -> None:
    """Undo and redo pressed in `editor` take back and bring again what was done in the study."""
    editor.installEventFilter(_StudysUndo(editor, session))


def make_live(editor: QLineEdit, session: Session, edit: Callable[[str], Edit]) -> None:
    """From now on what is typed into `editor` becomes the edit that `edit` makes of it."""

    def typed(text: str) -> None:
        made = edit(text)
        session.do(made, joined=f"{made.label} {session.aim_id} {id(editor)}")

    def left() -> None:
        if editor.isModified():
            editor.setModified(False)
            session.leave_field("", anew=True)

    editor.textEdited.connect(typed)
    editor.editingFinished.connect(left)
    editor.installEventFilter(_Beginning(editor))
    undo_with_study(editor, session)


def is_being_typed(editor: QLineEdit) -> bool:
    """Whether the field must not be written over: somebody is in the middle of it."""
    return editor.hasFocus() and editor.isModified()


def show_in(editor: QLineEdit, text: str) -> None:
    """Show what the study has, unless somebody is in the middle of typing."""
    if not is_being_typed(editor) and editor.text() != text:
        editor.setText(text)
        editor.setCursorPosition(0)
