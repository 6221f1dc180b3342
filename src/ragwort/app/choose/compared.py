"""Two designs side by side: the number that each needs, what its other tests would need, what it buys."""

from __future__ import annotations

from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QVBoxLayout

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped
from ragwort.study.results.side_by_side import Beside, Side


class Compared(QFrame):
    """A column for each of the two, and the difference in one sentence below; or a line that says what to do."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("compared")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(6))
        sides = QHBoxLayout()
        sides.setSpacing(theme.px(24))
        column.addLayout(sides)
        self._cells: list[list[QLabel]] = []
        for _ in range(2):
            cells: list[QLabel] = [Wrapped("", name) for name in ("strong", "bigNumber", "", "quiet", "quiet")]
            one = QVBoxLayout()
            one.setSpacing(theme.px(3))
            for cell in cells:
                one.addWidget(cell)
            one.addStretch(1)
            sides.addLayout(one, 1)
            self._cells.append(cells)
        self.says = Wrapped("", "")
        column.addWidget(self.says)

    def say(self, words: str) -> None:
        """Only a line."""
        for cell in (cell for cells in self._cells for cell in cells):
            cell.hide()
        self.says.setText(words)

    def show_both(self, both: Beside) -> None:
        """Both designs."""
        for cells, side in zip(self._cells, both.sides, strict=True):
            for cell, text in zip(cells, _texts(side), strict=True):
                cell.setText(text)
                cell.setVisible(bool(text))
        shared = f"On the same {', '.join(both.shared)}." if both.shared else "On their own starting values."
        self.says.setText(f"{both.says} {shared}")

    def text(self) -> str:
        """All that is shown, line by line."""
        lines = [cell.text() for cells in self._cells for cell in cells if not cell.isHidden()]
        return "\n".join([*lines, self.says.text()])


def _texts(side: Side) -> tuple[str, ...]:
    number, why_not = (side.words, "") if side.total is not None else ("", side.words)
    taken = f"with {side.taken}" if side.taken else ""
    others = f"Other tests: {side.others}." if side.others else ""
    return side.design.title, number, why_not or taken, others, side.buys
