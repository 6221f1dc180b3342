"""Search commands: type a few letters of what you want to do."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget
from shiboken6 import isValid

from ragwort.app.kit.command import Command
from ragwort.app.kit.theme import Theme


def matches(words: str, command: Command) -> bool:
    """Whether every word typed occurs in the command's label, menu or further names, in any order."""
    text = " ".join((command.label, command.menu, *command.finds)).lower()
    return all(word in text for word in words.lower().split())


class Finder(QFrame):
    """A list of commands over the window, narrowed by typing."""

    def __init__(self, over: QWidget, theme: Theme, commands: Callable[[], list[Command]]) -> None:
        super().__init__(over)
        self._over, self.theme, self._usable = over, theme, commands
        self._before: QWidget | None = None
        self.setObjectName("finder")
        self.setFixedWidth(theme.px(460))
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(10), theme.px(10), theme.px(10), theme.px(10))
        self.search = QLineEdit()
        self.search.setPlaceholderText("What do you want to do?")
        self.search.setAccessibleName("Search commands")
        self.search.textChanged.connect(self._narrow)
        self.search.installEventFilter(self)
        self.list = QListWidget()
        self.list.setAccessibleName("Commands found")
        self.list.itemClicked.connect(lambda _: self._run())
        column.addWidget(self.search)
        column.addWidget(self.list)
        self.hide()

    def open(self, words: str = "") -> None:
        """Show every command that can be used now, or those that these words find."""
        self._before = self._over.focusWidget()
        self._commands = self._usable()
        self.search.setText(words)
        self._narrow(words)
        self.adjustSize()
        self.move((self._over.width() - self.width()) // 2, self.theme.px(60))
        self.show()
        self.raise_()
        self.search.setFocus()

    def _narrow(self, words: str) -> None:
        self.list.clear()
        for command in self._commands:
            if matches(words, command):
                shortcut = f"      {command.shortcut}" if command.shortcut else ""
                item = QListWidgetItem(f"{command.title()}{shortcut}")
                item.setData(Qt.ItemDataRole.UserRole, command.id)
                self.list.addItem(item)
        if self.list.count() == 0:
            nothing = QListWidgetItem("Nothing that can be done now is called so.")
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addItem(nothing)
        self.list.setCurrentRow(0)
        rows = max(1, min(self.list.count(), 11))
        self.list.setFixedHeight(rows * max(self.list.sizeHintForRow(0), self.theme.px(28)) + self.theme.px(6))
        self.adjustSize()

    def _close(self) -> None:
        """Hide, and give the focus back to whatever had it."""
        before = self._before if self._before is not None and isValid(self._before) else self._over
        before.setFocus()
        self.hide()

    def _run(self) -> None:
        item = self.list.currentItem()
        self._close()
        wanted = None if item is None else item.data(Qt.ItemDataRole.UserRole)
        for command in self._commands:
            if command.id == wanted:
                command.run()
                return

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.FocusOut and not self.list.hasFocus():
            self.hide()
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                by = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + by)))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._run()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self._close()
                return True
        return False
