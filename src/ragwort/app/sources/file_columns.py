"""Choosing what the columns of a pilot file are: a box for each role of a reading, and the rows that are wanted."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from PySide6.QtCore import QSignalBlocker, Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QCompleter,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Box, discard, label, link
from ragwort.pilot import RELATIONS, Column, Filter, Role
from ragwort.pilot.filters import WITHOUT_VALUE

NONE = "none"
WIDE = 520  # px from which three boxes stand on a line
PAUSE = 250  # ms without a key until a typed value counts


class Roles(QWidget):
    """A box for each role. `chosen` says that the user has chosen something else."""

    chosen = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.boxes: dict[str, Box] = {}
        self.lists: dict[str, QListWidget] = {}
        self._roles: tuple[Role, ...] = ()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(theme.px(8))
        self._grid.setVerticalSpacing(theme.px(4))

    def ask(self, roles: tuple[Role, ...], columns: Sequence[Column]) -> None:
        """Boxes for these roles, two or three a line; a list of columns takes a line of its own."""
        while self._grid.count():
            gone = self._grid.takeAt(0).widget()
            if gone is not None:
                discard(gone)
        self.boxes, self.lists, self._roles = {}, {}, roles
        names, at = [column.name for column in columns], 0
        a_line = 3 if self.width() >= self.theme.px(WIDE) and len(roles) != 4 else 2
        for column in (1, 3, 5):
            self._grid.setColumnStretch(column, 1 if column < 2 * a_line else 0)
        for role in roles:
            if role.kind == "columns":
                at += -at % a_line
                self._add_list(role, columns, at // a_line)
                at += a_line
                continue
            box = Box(
                self.theme, role.label, () if role.kind == "value" else [*([NONE] if role.optional else []), *names]
            )
            box.activated.connect(lambda _: self.chosen.emit())
            self.boxes[role.name] = box
            self._grid.addWidget(label(role.label, "quiet"), at // a_line, at % a_line * 2)
            self._grid.addWidget(box, at // a_line, at % a_line * 2 + 1)
            at += 1

    def _add_list(self, role: Role, columns: Sequence[Column], row: int) -> None:
        ticks = QListWidget()
        ticks.setObjectName("ticks")
        ticks.setAccessibleName(role.label)
        ticks.setFlow(QListWidget.Flow.LeftToRight)
        ticks.setWrapping(True)
        ticks.setResizeMode(QListWidget.ResizeMode.Adjust)
        ticks.setFixedHeight(self.theme.px(50))
        for column in columns:
            item = QListWidgetItem(column.name, ticks)
            item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsUserCheckable | Qt.ItemFlag.ItemIsSelectable)
            item.setCheckState(Qt.CheckState.Unchecked)
        ticks.itemChanged.connect(lambda _: self.chosen.emit())
        self.lists[role.name] = ticks
        self._grid.addWidget(label(role.label, "quiet"), row, 0)
        self._grid.addWidget(ticks, row, 1, 1, 5)

    def show_choices(self, choices: Mapping[str, Any], values: Mapping[str, Sequence[str]]) -> None:
        """What was chosen or guessed, and the values that can be chosen from."""
        for name, box in self.boxes.items():
            if name in values:
                box.clear()
                box.addItems(list(values[name]))
            box.setCurrentText(str(choices.get(name) or NONE))
        for name, ticks in self.lists.items():
            with QSignalBlocker(ticks):
                for at in range(ticks.count()):
                    on = ticks.item(at).text() in choices.get(name, ())
                    ticks.item(at).setCheckState(Qt.CheckState.Checked if on else Qt.CheckState.Unchecked)

    def choices(self) -> dict[str, Any]:
        """What is chosen now, by role."""
        optional = {role.name for role in self._roles if role.optional}
        made: dict[str, Any] = {}
        for name, box in self.boxes.items():
            text = box.currentText()
            made[name] = "" if name in optional and box.currentIndex() == 0 else text
        for name, ticks in self.lists.items():
            items = [ticks.item(at) for at in range(ticks.count())]
            made[name] = [item.text() for item in items if item.checkState() == Qt.CheckState.Checked]
        return made


class Conditions(QWidget):
    """Which rows are wanted: a line for each condition. `changed` says that they have."""

    changed = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.lines: list[tuple[QWidget, Box, Box, QLineEdit]] = []
        self._names: list[str] = []
        self.pause = QTimer(self, singleShot=True, interval=PAUSE)
        self.pause.timeout.connect(self.changed.emit)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(theme.px(4))
        self.add_link = link("+ keep only some rows", self.add, "smallLink")
        row = QHBoxLayout()
        row.addWidget(self.add_link)
        row.addStretch(1)
        self._column.addLayout(row)

    def reset(self, columns: Sequence[Column]) -> None:
        """No condition, for a new file."""
        self._names = [column.name for column in columns]
        for line in [each[0] for each in self.lines]:
            self._drop(line)

    def add(self) -> None:
        """A line for one more condition."""
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(self.theme.px(6))
        column, relation = (
            Box(self.theme, "Column of the condition", self._names),
            Box(self.theme, "Relation", RELATIONS),
        )
        value = QLineEdit()
        value.setAccessibleName("Value of the condition")
        value.setPlaceholderText("value")
        value.setMinimumWidth(self.theme.px(56))
        column.activated.connect(lambda _: self.pause.start())
        relation.activated.connect(lambda _: self._relation_chosen(relation, value))
        value.textEdited.connect(lambda _: self.pause.start())
        row.addWidget(label("only rows where", "quiet"))
        for widget, stretch in ((column, 3), (relation, 2), (value, 3)):
            row.addWidget(widget, stretch)
        remove = link("remove", lambda: self._remove(line), "smallLink")
        row.addWidget(remove)
        self.lines.append((line, column, relation, value))
        self._column.insertWidget(len(self.lines) - 1, line)
        self.add_link.setText("+ another condition")
        column.setFocus()

    def _relation_chosen(self, relation: Box, value: QLineEdit) -> None:
        value.setVisible(relation.currentText() not in WITHOUT_VALUE)
        self.pause.start()

    def offer(self, values: Mapping[str, Sequence[str]]) -> None:
        """Complete what is typed from the values that a column has."""
        for _, column, _, value in self.lines:
            completer = QCompleter(list(values.get(column.currentText(), ())), value)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            completer.activated.connect(lambda _: self.pause.start())
            value.setCompleter(completer)

    def _remove(self, line: QWidget) -> None:
        self._drop(line)
        self.changed.emit()

    def _drop(self, line: QWidget) -> None:
        self.lines = [each for each in self.lines if each[0] is not line]
        discard(line)
        if not self.lines:
            self.add_link.setText("+ keep only some rows")

    def filters(self) -> tuple[Filter, ...]:
        """The conditions; one whose value is not typed yet says nothing."""
        made = []
        for _, column, relation, value in self.lines:
            if value.text().strip() or relation.currentText() in WITHOUT_VALUE:
                text = "" if relation.currentText() in WITHOUT_VALUE else value.text().strip()
                made.append(Filter(column.currentText(), relation.currentText(), text))
        return tuple(made)
