"""What a study without an aim shows: where to start."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import label, link

WAYS = (
    ("choose", "Choose a design", "Say what is measured and compared; the designs that fit are listed, with reasons."),
    ("demo", "Open the demo study", "Night-shift lighting: made-up aims of many kinds, to look around in."),
    ("open", "Open a study…", "Go on with one that was saved."),
)


class Invitation(QWidget):
    """A link for each way to start, with a line that says what it does. `asked` carries the way's name."""

    asked = Signal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(26), theme.px(20), theme.px(26), theme.px(20))
        column.setSpacing(theme.px(2))
        for name, words, says in WAYS:
            column.addWidget(link(words, lambda name=name: self.asked.emit(name)), alignment=Qt.AlignmentFlag.AlignLeft)
            line = label(says, "quiet")
            line.setContentsMargins(theme.px(5), 0, 0, theme.px(16))
            column.addWidget(line)
        column.addStretch(1)
