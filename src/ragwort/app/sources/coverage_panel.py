"""What guidelines ask of the aim in view; a click on what is missing goes to its field."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Standing, Wrapped, discard, label, link
from ragwort.app.session.session import Session
from ragwort.app.sources.sidepanel import SidePanel, scrolled
from ragwort.designs import Answer
from ragwort.study.results.outcome import Problem
from ragwort.study.words.coverage import Checked, Point, covered, said

_INTRO = "Checked is only whether something stands there, not whether it is right."


class CoveragePanel(SidePanel):
    """Opened from the menu over the picture."""

    key = "coverage"

    field_wanted = Signal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "coverage", "What guidelines ask for")
        self.column.addWidget(Wrapped(_INTRO, "quiet"))
        body = QWidget()
        self._grid = QGridLayout(body)
        self._grid.setContentsMargins(0, 0, theme.px(8), 0)
        self._grid.setHorizontalSpacing(theme.px(14))
        self._grid.setVerticalSpacing(theme.px(7))
        self._grid.setColumnStretch(1, 1)
        self._grid.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._shown: object = None
        self.column.addWidget(scrolled(body), 1)
        session.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Check again."""
        aim = self.session.aim
        if not self.isVisible() or aim is None:
            return
        outcome = self.session.outcome(aim.as_planned())
        if not isinstance(outcome, Answer | Problem):
            return  # being worked out: what stands there stays until then
        points = covered(self.session.study, aim, outcome)
        if points != self._shown:
            self._shown = points
            self._fill(points)

    def _fill(self, points: list[tuple[Point, Checked]]) -> None:
        while (item := self._grid.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                discard(widget)
        before = ""
        for row, (point, found) in enumerate(points):
            guideline = label(point.guideline if point.guideline != before else "", "strong")
            self._grid.addWidget(guideline, row, 0, Qt.AlignmentFlag.AlignTop)
            self._grid.addWidget(self._cell(point, found), row, 1)
            before = point.guideline

    def _cell(self, point: Point, found: Checked) -> QWidget:
        """What is asked, what stands there, and the way to where it is missing."""
        cell = QWidget()
        column = QVBoxLayout(cell)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(self.theme.px(1))
        column.addWidget(Standing(point.asks))
        column.addWidget(Standing(said(found), "fault" if found.missing else "quiet"))
        if found.missing and found.field:
            go = link("Go to the field", lambda: self.field_wanted.emit(found.field), "smallLink", flush=True)
            go.setAccessibleName(f"Go to the field: {found.missing}")
            column.addWidget(go, 0, Qt.AlignmentFlag.AlignLeft)
        return cell
