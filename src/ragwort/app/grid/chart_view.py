"""The chart of a grid, under its sentence."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided
from ragwort.app.picture.canvas import Canvas
from ragwort.app.session.live_sentence import LiveSentence
from ragwort.app.session.live_text import SMALL
from ragwort.app.session.session import Session
from ragwort.grid.chart import GridChart, chart_of, chart_sentence, nothing_drawn
from ragwort.grid.work import Results
from ragwort.study.results.resources import Limits
from ragwort.study.slots.slot import Sentence


class ChartView(QWidget):
    """Shows the results as the aim's grid asks for it."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.chart: GridChart | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(20), theme.px(10), theme.px(18), theme.px(10))
        self.sentence = LiveSentence(session, theme, "chartSentence", SMALL)
        column.addWidget(self.sentence)
        self.canvas = Canvas(theme)
        column.addWidget(self.canvas, 1)
        self.says = Elided(name="quiet")
        column.addWidget(self.says)

    def show_results(self, results: Results | None, limits: Limits, stale: str) -> None:
        """Draw what is worked out; with `stale`, say why it is out of date."""
        self.chart = None if results is None or not results.done else chart_of(results, limits)
        if results is not None:
            self.sentence.show_sentence(self._sentence(self.chart, results, limits))
        if self.chart is None:
            self.canvas.forget()
        else:
            self.canvas.show_picture(self.chart, stale)
        self.says.set_text(self.chart.says if self.chart is not None else nothing_drawn(results))

    def _sentence(self, chart: GridChart | None, results: Results, limits: Limits) -> Sentence:
        """What the chart shows; nothing where there is none."""
        return Sentence() if chart is None else chart_sentence(results.asked.aim.id, chart, results, limits)
