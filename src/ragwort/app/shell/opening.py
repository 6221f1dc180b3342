"""What is seen while the program still loads: the window's frame with the study's own words, where they will stand."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QRect, Qt, QTimer, Signal
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ragwort.app.kit.theme import Theme

LARGEST = 2_000_000  # bytes of a file that is looked into for its words
MOST_AIMS = 40
TOP, BOTTOM, AIMS_WIDE, FIRST_CARD, CARD = (
    34,
    40,
    236,
    41,
    61,
)  # pixels of the drawing board, as the real parts have them


@dataclass(frozen=True)
class FirstWords:
    """The title of a study and the names of its aims."""

    title: str = ""
    aims: tuple[str, ...] = ()


def words_in(file: Path) -> FirstWords | None:
    """The words of a study file, read in haste; None where it must be read with care first.

    Whether the file can be opened is found out later; what is wrong with it is said then.
    """
    try:
        if not file.is_file() or file.stat().st_size > LARGEST:
            return None
        data = json.loads(file.read_bytes())
        return FirstWords(str(data["title"]), tuple(str(aim["name"]) for aim in data["aims"][:MOST_AIMS]))
    except (OSError, ValueError, LookupError, TypeError, RecursionError):
        return None


class Opening(QWidget):
    """The frame, and the words that are known."""

    painted = Signal()

    def __init__(self, theme: Theme, words: FirstWords) -> None:
        super().__init__()
        self.theme, self.words = theme, words

    def paintEvent(self, event: QPaintEvent) -> None:
        px, painter = self.theme.px, QPainter(self)
        top, foot, wide = px(TOP), self.height() - px(BOTTOM), px(AIMS_WIDE)
        painter.fillRect(self.rect(), self.theme.colour("paper"))
        painter.fillRect(QRect(0, top, wide, foot - top), self.theme.colour("panel"))
        painter.fillRect(QRect(0, foot, self.width(), px(BOTTOM)), self.theme.colour("panel"))
        painter.setPen(self.theme.colour("hairline"))
        painter.drawLine(0, top - 1, self.width(), top - 1)
        painter.drawLine(wide - 1, top, wide - 1, foot)
        painter.drawLine(0, foot, self.width(), foot)
        self._paint_words(painter, top, foot)
        QTimer.singleShot(0, self, self.painted.emit)

    def _paint_words(self, painter: QPainter, top: int, foot: int) -> None:
        px = self.theme.px
        painter.setPen(self.theme.colour("quiet"))
        painter.setFont(self.theme.font(11, 600))
        painter.drawText(px(16), top + px(27), "AIMS")
        painter.setFont(self.theme.font(12))
        status = QRect(px(AIMS_WIDE), foot, self.width() - px(AIMS_WIDE + 18), px(BOTTOM))
        painter.drawText(status, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self.words.title)
        painter.setPen(self.theme.colour("ink"))
        painter.setFont(self.theme.font(14, 600))
        for number, name in enumerate(self.words.aims):
            line = QRect(px(20), top + px(FIRST_CARD + CARD * number) + px(8), px(AIMS_WIDE - 48), px(20))
            if line.bottom() < foot - px(140):
                words = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, line.width())
                painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, words)
