"""A field for what a route from evidence asks: a number, a list, a table, a choice."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit, QWidget

from ragwort.app.kit.cells import Cells
from ragwort.app.kit.plain_text import PlainText
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Box
from ragwort.designs.assumption import Assumption


def input_of(theme: Theme, asked: Assumption, text: str, typed: Callable[[str], None]) -> QWidget:
    """A field for what a route asks; each keystroke is `typed`."""
    if asked.chosen:
        made: QWidget = _box(theme, asked, text, typed)
    elif asked.kind == "list":
        made = _list_editor(theme, text, typed)
    elif asked.several:
        cells = Cells(theme, asked)
        cells.show_text(text)
        if not text:
            cells.show_blank(2, len(asked.fields) or 2)
        cells.edited.connect(typed)
        made = cells
    else:
        line = QLineEdit(text)
        line.setFixedWidth(theme.px(96))
        line.setAlignment(Qt.AlignmentFlag.AlignRight)
        line.setPlaceholderText("" if asked.required else "if known")
        line.textEdited.connect(typed)
        made = line
    made.setAccessibleName(asked.label)
    return made


def _box(theme: Theme, asked: Assumption, text: str, typed: Callable[[str], None]) -> Box:
    box = Box(theme, asked.label)
    for choice in asked.choices:
        box.addItem(choice.label, choice.value)
    box.widen()
    value = text or asked.default or asked.choices[0].value
    box.setCurrentIndex(max(box.findData(value), box.findText(value)))
    typed(box.currentData())
    box.currentIndexChanged.connect(lambda _: typed(box.currentData()))
    return box


def _list_editor(theme: Theme, text: str, typed: Callable[[str], None]) -> PlainText:
    """Numbers typed or pasted, apart by spaces, line breaks or semicolons."""
    editor = PlainText(text, "type or paste: 398 412 405 …")
    editor.setFixedHeight(theme.px(64))
    editor.textChanged.connect(lambda: typed(editor.toPlainText()))
    return editor
