"""The groups of a pilot file as a table: numbers on the left, how they lie on the right."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QGridLayout, QSizePolicy, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, discard, label
from ragwort.figures.drawing import Look
from ragwort.figures.shown.strips import strips
from ragwort.pilot import Measured, Part, Sorted
from ragwort.study.words.numbers import MINUS, count_text

ROW = 30  # px
MOST_ROWS = 24  # more are counted, not shown
DOTS = 96.0  # an inch
NARROW = 470  # px; less wide, the five numbers go and the strips stay


class Strips(QWidget):
    """How the groups lie, drawn as wide as there is room."""

    def __init__(self, theme: Theme, parts: Sequence[Part]) -> None:
        super().__init__()
        self.theme, self.parts = theme, parts
        self._image = QImage()
        self._drawn_for: object = None
        self.setMinimumWidth(theme.px(80))
        self.setFixedHeight(theme.px(ROW) * len(parts))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("How the values of each group lie, on one scale")

    def _draw(self) -> None:
        ratio = self.devicePixelRatioF()
        look = Look(self.theme.colours, 9.0 * self.theme.scale)
        figure = strips(self.parts, self.width() / DOTS, self.theme.px(ROW) / DOTS, look, DOTS * ratio)
        figure.canvas.draw()
        buffer = figure.canvas.buffer_rgba()
        image = QImage(buffer, buffer.shape[1], buffer.shape[0], QImage.Format.Format_RGBA8888).copy()
        image.setDevicePixelRatio(ratio)
        self._image = image

    def paintEvent(self, event: QPaintEvent) -> None:
        wanted = (self.width(), self.devicePixelRatioF(), self.theme.colours.name)
        if wanted != self._drawn_for:
            self._drawn_for = wanted
            self._draw()
        QPainter(self).drawImage(0, 0, self._image)


class Groups(QWidget):
    """n, missing, mean, SD, five numbers and a strip for each group."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.parts: tuple[Part, ...] = ()
        self._five: list[QWidget] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(theme.px(14))
        self._grid.setVerticalSpacing(0)

    def show_parts(self, parts: Sequence[Part]) -> None:
        """Show these groups."""
        while self._grid.count():
            gone = self._grid.takeAt(0).widget()
            if gone is not None:
                discard(gone)
        self.parts, self._five = tuple(parts), []
        if not parts:
            return
        shown = self.parts[:MOST_ROWS]
        self._show_heads()
        for row, part in enumerate(shown, start=1):
            self._show_row(row, part)
            self._grid.setRowMinimumHeight(row, self.theme.px(ROW))
        for first, run in _on_one_scale(shown):
            self._grid.addWidget(Strips(self.theme, run), first + 1, 6, len(run), 1)
        if len(shown) < len(self.parts):
            more = label(f"and {len(self.parts) - len(shown)} more", "quiet")
            self._grid.addWidget(more, len(shown) + 1, 0, 1, 7)
        self._grid.setColumnStretch(6, 1)

    def _show_heads(self) -> None:
        measured = ("n", "missing", "mean", "SD", "lowest · quartiles · highest")
        heads = ("n", "missing", "how many of each") if self._sorted() else measured
        for at, head in enumerate(heads, start=1):
            made = label(head, "quiet")
            made.setAlignment(self._side(at))
            self._grid.addWidget(made, 0, at)
            if at == 5:
                self._five.append(made)

    def _side(self, column: int) -> Qt.AlignmentFlag:
        side = Qt.AlignmentFlag.AlignLeft if column in (0, 3) and self._sorted() else Qt.AlignmentFlag.AlignRight
        side = Qt.AlignmentFlag.AlignLeft if column in (0, 5) else side
        return side | Qt.AlignmentFlag.AlignVCenter

    def _sorted(self) -> bool:
        return bool(self.parts) and isinstance(self.parts[0], Sorted)

    def _show_row(self, row: int, part: Part) -> None:
        name = Elided(part.name)
        name.setMinimumWidth(self.theme.px(70))
        name.setMaximumWidth(self.theme.px(150))
        self._grid.addWidget(name, row, 0)
        cells = [(1, count_text(part.n)), (2, count_text(part.missing))]
        if isinstance(part, Measured):
            five = "  ".join(_short(each) for each in part.five)
            cells += [(3, _short(part.mean)), (4, _short(part.sd)), (5, five)]
        else:
            cells.append((3, ", ".join(_counted(part, name, count) for name, count in part.counts[:4])))
        for at, text in cells:
            made = label(text, "quiet" if at == 5 else "")
            made.setAlignment(self._side(at))
            self._grid.addWidget(made, row, at)
            if at == 5:
                self._five.append(made)

    def resizeEvent(self, event: QResizeEvent) -> None:
        for each in self._five:
            each.setVisible(self.width() >= self.theme.px(NARROW))


def _on_one_scale(parts: Sequence[Part]) -> list[tuple[int, list[Part]]]:
    """Neighbours that share a scale, with the place of the first."""
    runs: list[tuple[int, list[Part]]] = []
    for at, part in enumerate(parts):
        alone = isinstance(part, Measured) and part.apart
        if alone or not runs or (isinstance(runs[-1][1][0], Measured) and runs[-1][1][0].apart):
            runs.append((at, [part]))
        else:
            runs[-1][1].append(part)
    return runs


def _short(value: float) -> str:
    """Four digits are enough to see what a column is like."""
    text = f"{value:.4g}"
    return (f"{value:.0f}" if "e" in text and abs(value) >= 1 else text).replace("-", MINUS)


def _counted(part: Sorted, name: str, count: int) -> str:
    share = f" ({100 * count / part.n:.0f}%)" if part.n else ""
    return f"{name[:20]} {count_text(count)}{share}"
