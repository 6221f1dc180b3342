"""A small picture beside the help of an assumption."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.designs.illustration import MANY, PairsSeen

_SQUARE, _APART = 8, 1  # px


class Illustrated(QWidget):
    """Pairs of people, a square for each; hidden where there is nothing to show."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._shown: PairsSeen | None = None
        self.setObjectName("illustrated")
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.hide()

    def show_pairs(self, pairs: PairsSeen | None, says: str = "") -> None:
        """Show these, or nothing."""
        self._shown = pairs
        self.setVisible(pairs is not None)
        self.setAccessibleName(says)
        self.setToolTip(says)
        self.update()

    def sizeHint(self) -> QSize:
        side = MANY * self.theme.px(_SQUARE)
        return QSize(side, side)

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._shown is None:
            return
        painter = QPainter(self)
        side = self.theme.px(_SQUARE)
        for down, row in enumerate(self._shown.ahead):
            for across, ahead in enumerate(row):
                place = QRectF(across * side, down * side, side - _APART, side - _APART)
                painter.fillRect(place, self._ink(ahead))

    def _ink(self, ahead: float) -> QColor:
        if ahead == 0:
            return self.theme.colour("hairline")
        ink = self.theme.colour("leaf")
        ink.setAlphaF(1.0 if ahead == 1 else 0.45)
        return ink
