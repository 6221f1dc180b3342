"""The picture of the aim: drawn by `figures`, shown as a bitmap, with the design as a point that can be dragged.

The frame (axes, grid, titles) is kept as a bitmap; an edit that leaves the axes alone draws only the curves over it.
"""

from __future__ import annotations

import time
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QEvent, QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QGuiApplication, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPixmap, QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QMenu, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ragwort.app.kit.jobs import Jobs
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, link
from ragwort.app.session.answers import STOPPED
from ragwort.app.session.session import Session
from ragwort.designs import Answer
from ragwort.figures.curve import Curve, step_at
from ragwort.figures.pictures import FORMATS, PICTURES, Picture, picture_of, pictures_for
from ragwort.stats.patience import Late, within
from ragwort.study import edits
from ragwort.study.model import Aim
from ragwort.study.numbers import count_text, percent_text
from ragwort.study.outcome import PATIENCE, Outcome, Pending, Problem

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

TEXT_POINTS = 9.4  # at 100 dots an inch
OVERDUE = 60  # ms that a picture of an answer before may stay as it is
SETTLE = 90  # ms without an edit until labels find their places


class Canvas(QWidget):
    """One picture as a bitmap."""

    point_dragged = Signal(float)  # x of the data
    drag_ended = Signal()
    nudged = Signal(int)
    painted_first = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._painted = False
        self.setObjectName("canvas")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(theme.px(240), theme.px(150))
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.picture: Picture | None = None
        self.stale, self._waiting = "", False
        self._image = QImage()
        self._figure: Figure | None = None
        self._axes: Axes | None = None
        self._keys: dict[str, object] = {}  # what each layer was made for
        self._layers: dict[str, Any] = {}
        self._dragging = False
        self._hover: tuple[float, float, str] | None = None
        self._settle = QTimer(self, singleShot=True, interval=SETTLE)
        self._settle.timeout.connect(self._draw_properly)

    def show_picture(
        self, picture: Picture | None, stale: str = "", dragging: bool = False, waiting: bool = False
    ) -> None:
        """Show a picture; or, with `stale`, say why the one shown is out of date (`waiting`: but not for long).

        What an edit moves is drawn at once; places for all labels are searched when edits pause, and never in a drag.
        """
        self.stale, self._waiting = stale, waiting
        if picture is not None:
            self.picture = picture
            self.setAccessibleName(picture.says)
            self._draw_quickly()
            if not dragging:
                self._settle.start()
        self._hover = None
        self.update()

    def forget(self) -> None:
        """Show nothing."""
        self.picture, self.stale, self._image = None, "", QImage()
        self.update()

    def _draw_quickly(self) -> None:
        if self._has_room():
            from ragwort.figures.drawing import draw_live

            self._keep_backgrounds()
            self._draw_over(self._layers["kept"], draw_live)

    def _draw_properly(self) -> None:
        if self._has_room():
            from ragwort.figures.drawing import draw_kept_and_named, draw_marks

            self._keep_backgrounds()
            self._add_layer("kept", "scale", draw_kept_and_named)
            self._draw_over(self._layers["scale"], draw_marks)

    def _has_room(self) -> bool:
        return self.picture is not None and self.width() >= 50 and self.height() >= 50

    def _draw_over(self, background: Any, draw: Any) -> None:
        self._figure.canvas.restore_region(background)
        self._paint_and_remove(draw)
        self._take_image()

    def _paint_and_remove(self, draw: Any) -> None:
        marks = draw(self._axes, self.picture, self._look())
        for mark in marks:
            self._axes.draw_artist(mark)
        for mark in marks:
            mark.remove()

    def _keep_backgrounds(self) -> None:
        """The bitmaps under the live marks, each made anew only when what it depends on has changed."""
        from ragwort.figures.drawing import draw_kept, draw_scale, draw_sheet, new_figure

        size = (self.width(), self.height(), self.devicePixelRatioF(), self.theme.colours.name)
        keys: dict[str, object] = {"empty": size}
        keys["sheet"] = (size, self.picture.sheet())
        keys["scale"] = (keys["sheet"], self.picture.frame())
        keys["kept"] = (keys["scale"], self.picture.kept())
        if keys["empty"] != self._keys.get("empty"):
            dots = 100 * self.devicePixelRatioF()
            self._figure, self._axes = new_figure(self.width() / 100, self.height() / 100, self._look(), dots)
            self._axes.set_axis_off()
            self._figure.canvas.draw()
            self._layers["empty"] = self._figure.canvas.copy_from_bbox(self._figure.bbox)  # type: ignore[attr-defined]
        below = "empty"
        for layer, draw in (("sheet", draw_sheet), ("scale", draw_scale), ("kept", draw_kept)):
            if keys[layer] != self._keys.get(layer):
                self._add_layer(layer, below, draw)
            below = layer
        self._keys = keys

    def _add_layer(self, layer: str, below: str, draw: Any) -> None:
        self._figure.canvas.restore_region(self._layers[below])
        self._paint_and_remove(draw)
        self._layers[layer] = self._figure.canvas.copy_from_bbox(self._figure.bbox)

    def _look(self) -> Any:
        from ragwort.figures.drawing import Look

        return Look(self.theme.colours, TEXT_POINTS * self.theme.scale)

    def _take_image(self) -> None:
        buffer = self._figure.canvas.buffer_rgba()
        height, width = buffer.shape[:2]
        image = QImage(buffer, width, height, QImage.Format.Format_RGBA8888)
        image.setDevicePixelRatio(self.devicePixelRatioF())
        self._image = image.copy()
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._settle.start()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.PaletteChange:
            self._settle.start()

    def paintEvent(self, event: QPaintEvent) -> None:
        if not self._painted:
            self._painted = True
            QTimer.singleShot(0, self.painted_first.emit)
        painter = QPainter(self)
        if not self._image.isNull():
            painter.setOpacity(0.32 if self.stale else 1.0)
            painter.drawImage(QPointF(0, 0), self._image)
            painter.setOpacity(1.0)
        if self.stale:
            self._paint_stale(painter)
        elif self._hover is not None:
            self._paint_hover(painter)
        if self.hasFocus():
            self._paint_focus(painter)

    def _paint_focus(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)  # whatever was painted before: the frame is not filled
        painter.setPen(self.theme.colour("leaf"))
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 6, 6)

    def _paint_stale(self, painter: QPainter) -> None:
        painter.setFont(self.theme.body)
        wrap = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        area = self.rect().adjusted(self.theme.px(60), 0, -self.theme.px(40), 0)
        words = painter.boundingRect(area, wrap, self.stale)
        margin = self.theme.px(10)
        painter.setBrush(self.theme.colour("raised"))
        painter.setPen(self.theme.colour("hairline"))
        painter.drawRoundedRect(words.adjusted(-margin, -margin, margin, margin), 6, 6)
        painter.setPen(self.theme.colour("quiet" if self._waiting else "brick"))
        painter.drawText(words, wrap, self.stale)

    def _paint_hover(self, painter: QPainter) -> None:
        x, y, words = self._hover
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(self.theme.quiet)
        width = painter.fontMetrics().horizontalAdvance(words) + self.theme.px(16)
        left = min(max(x + 12, 0), self.width() - width)
        box = self.rect().adjusted(0, 0, 0, 0)
        box.setRect(int(left), int(min(y + 14, self.height() - self.theme.px(26))), width, self.theme.px(24))
        painter.setBrush(self.theme.colour("raised"))
        painter.setPen(self.theme.colour("hairline"))
        painter.drawRoundedRect(box, 6, 6)
        painter.setPen(self.theme.colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
        painter.setBrush(self.theme.colour("ink"))
        painter.drawEllipse(QPointF(x, y), 3, 3)

    # --- the point ---

    def _data_x(self, pixel: float) -> float:
        return float(self._axes.transData.inverted().transform((pixel * self.devicePixelRatioF(), 0))[0])

    def point_at(self) -> QPointF | None:
        """Where the design's point is, in the widget's pixels."""
        if not isinstance(self.picture, Curve) or self._axes is None or self.stale:
            return None
        x, y = self._axes.transData.transform(self.picture.point) / self.devicePixelRatioF()
        return QPointF(x, self.height() - y)

    def _near_point(self, at: QPointF) -> bool:
        point = self.point_at()
        return point is not None and (at - point).manhattanLength() < self.theme.px(16)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._near_point(event.position()):
            self._dragging = True
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragging and self._axes is not None:
            self.point_dragged.emit(self._data_x(event.position().x()))
            return
        near = self._near_point(event.position())
        self.setCursor(Qt.CursorShape.OpenHandCursor if near else Qt.CursorShape.ArrowCursor)
        self._hover = None if near else self._reading(event.position())
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._dragging:
            self._dragging = False
            self.setCursor(Qt.CursorShape.OpenHandCursor)
            self.drag_ended.emit()

    def leaveEvent(self, event: QEvent) -> None:
        self._hover = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        pages: dict[int, int] = {Qt.Key.Key_PageUp: 10, Qt.Key.Key_PageDown: -10}
        steps: dict[int, int] = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, **pages}
        if event.key() in steps:
            self.nudged.emit(steps[event.key()])
        else:
            super().keyPressEvent(event)

    def _reading(self, at: QPointF) -> tuple[float, float, str] | None:
        """The value of the nearest curve under the pointer."""
        if not isinstance(self.picture, Curve) or self._axes is None or self.stale:
            return None
        import numpy as np

        x = self._data_x(at.x())
        best: tuple[float, float, float, str] | None = None
        for series in self.picture.series:
            if not series.x[0] <= x <= min(series.x[-1], self.picture.x_high):
                continue
            nearest = int(np.argmin(np.abs(series.x - x)))
            point = (float(series.x[nearest]), float(series.power[nearest]))
            px, py = self._axes.transData.transform(point) / self.devicePixelRatioF()
            away = abs(self.height() - py - at.y())
            if away < self.theme.px(26) and (best is None or away < best[0]):
                place = "per group" if self.picture.per_group else "in all"
                words = f"{count_text(int(point[0]))} {place}, {percent_text(point[1])}"
                named = words if len(self.picture.series) == 1 else f"{series.label}: {words}"
                best = (away, px, self.height() - py, named)
        return None if best is None else best[1:]

    def bitmap(self) -> QPixmap:
        """What is shown, for the clipboard."""
        return QPixmap.fromImage(self._image)


class PictureView(QWidget):
    """Tabs, the picture, and the line of text that says what it shows."""

    export_asked = Signal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.name = PICTURES[0]
        self._slow: set[tuple[str, str, str, str]] = set()  # kinds of picture that were not there in time
        self._shown_for: object = None  # what a picture that took time was made for
        self.ready = False  # pictures wait for matplotlib, which is imported once the window has been painted
        self._loading = Jobs(self)
        self._working = Jobs(self)  # pictures that take time
        self._overdue = QTimer(self, singleShot=True, interval=OVERDUE)
        self._overdue.timeout.connect(self._mark_old)
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(26), theme.px(8), theme.px(18), theme.px(8))
        column.setSpacing(theme.px(2))
        column.addLayout(self._tabs())
        self.canvas = Canvas(theme)
        self.canvas.point_dragged.connect(self._drag_to)
        self.canvas.drag_ended.connect(session.end_scrub)
        self.canvas.nudged.connect(self._nudge)
        self.canvas.painted_first.connect(self._load)
        column.addWidget(self.canvas, 1)
        self.says = Elided(name="quiet")
        self.says.setContentsMargins(theme.px(4), 0, 0, 0)
        foot = QHBoxLayout()
        foot.addWidget(self.says, 1)
        self.stop = link("Stop", self._stop_or_start, "smallLink")
        self.stop.hide()
        foot.addWidget(self.stop)
        column.addLayout(foot)
        session.answers.progressed.connect(self._show_progress)
        session.changed.connect(self.refresh)

    def _tabs(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(0)
        row.setContentsMargins(self.theme.px(4), 0, 0, 0)
        self._group = QButtonGroup(self)
        for name in PICTURES:
            tab = QPushButton(name, checkable=True, checked=name == self.name)
            tab.setObjectName("pictureTab")
            tab.setAccessibleName(f"Picture {name}")
            tab.setCursor(Qt.CursorShape.PointingHandCursor)
            tab.clicked.connect(lambda _=False, name=name: self.show_tab(name))
            self._group.addButton(tab)
            row.addWidget(tab)
        row.addStretch(1)
        row.addWidget(link("Copy", self.copy))
        row.addSpacing(self.theme.px(10))
        self._export = link("Export", lambda: None)
        menu = QMenu(self._export)
        for kind in FORMATS:
            title = "Data as CSV…" if kind == "csv" else f"Picture as {kind.upper()}…"
            menu.addAction(title, lambda kind=kind: self.export_asked.emit(kind))
        self._export.setMenu(menu)
        self._export.setStyleSheet("QPushButton::menu-indicator { image: none; width: 0; }")
        row.addWidget(self._export)
        return row

    def _load(self) -> None:
        if self.ready:
            return
        from ragwort.figures.drawing import prepare

        self._loading.start(lambda _: prepare(), lambda _: self.start(), self._load_failed)

    def start(self) -> None:
        """Draw from now on: matplotlib is loaded."""
        self.ready = True
        self.refresh()

    def _load_failed(self, error: Exception) -> None:
        self.says.set_text("Pictures cannot be drawn on this machine.")
        raise error

    def finish(self) -> None:
        """Wait until no thread works any more: for closing the window."""
        self._loading.finish()
        self._overdue.stop()
        self._working.finish()

    def show_tab(self, name: str) -> None:
        """Bring another picture into view."""
        self.name, self._shown_for = name, None
        for tab in self._group.buttons():
            tab.setChecked(tab.text() == name)
        self.canvas.forget()
        self.refresh()

    def copy(self) -> None:
        """The picture on the clipboard."""
        QGuiApplication.clipboard().setPixmap(self.canvas.bitmap())

    def refresh(self) -> None:
        """Draw the session's aim."""
        aim = self.session.aim
        if not self.ready:
            return
        if aim is None:
            self.canvas.forget()
            self.says.set_text("")
            return
        outcome = self.session.outcome(aim)
        self._show_stop(outcome)
        if isinstance(outcome, Problem):
            self._give_up()
            waiting = isinstance(outcome, Pending)
            self.canvas.show_picture(None, outcome.message, waiting=waiting)
            self.says.set_text("Out of date." if waiting else "Out of date: there is no answer to draw.")
            return
        self._show_tabs(outcome)
        picture = self._picture_soon(aim, outcome)
        if picture is None:
            self._draw_later(aim, outcome)
        else:
            self._give_up()
            self._shown_for = None
            self._show(picture)

    def _picture_soon(self, aim: Aim, answer: Answer) -> Picture | None:
        """The picture, unless it takes longer than a view can wait; one of this kind did before, or does now."""
        kind = (aim.id, aim.design, aim.find, self.name)
        if kind in self._slow:
            return None
        try:
            with within(PATIENCE):
                return self.picture(aim, answer)
        except Late:
            self._slow.add(kind)
            return None

    def _show(self, picture: Picture) -> None:
        self.canvas.show_picture(picture, dragging=self.session.scrubbing)
        self.says.set_text(picture.says)

    def _give_up(self) -> None:
        self._overdue.stop()
        self._working.cancel()

    def _draw_later(self, aim: Aim, answer: Answer) -> None:
        """A picture that takes time: the one shown stays meanwhile, marked as old."""
        wanted = (self.name, aim, answer.design, answer.find, answer.answer)
        if wanted == self._shown_for and self.canvas.picture is not None:
            self._show(self.canvas.picture)
            return
        self._overdue.start()

        def show(picture: Picture) -> None:
            self._overdue.stop()
            self._shown_for = wanted
            self._show(picture)

        self._working.start(lambda _: self._timed(aim, answer), show, self._drawing_failed)

    def _timed(self, aim: Aim, answer: Answer) -> Picture:
        """The picture, worked out elsewhere; where that took no time after all, the next of its kind is waited for."""
        kind, started = (aim.id, aim.design, aim.find, self.name), time.thread_time()
        picture = self.picture(aim, answer)
        if time.thread_time() - started < PATIENCE:
            self._slow.discard(kind)
        return picture

    def _mark_old(self) -> None:
        self.canvas.show_picture(None, "The picture is being worked out.", waiting=True)
        self.says.set_text("Out of date.")

    @property
    def busy(self) -> bool:
        """Whether a picture is being worked out."""
        return self._working.busy

    @staticmethod
    def _drawing_failed(error: Exception) -> None:
        raise error

    def _show_tabs(self, answer: Answer) -> None:
        """The tabs of the pictures that there are of this answer; another is taken where the one in view is not."""
        names = pictures_for(answer)
        for tab in self._group.buttons():
            tab.setVisible(tab.text() in names)
        if self.name not in names:
            self.name = names[0]
            self._shown_for = None
            self.canvas.forget()
        for tab in self._group.buttons():
            tab.setChecked(tab.text() == self.name)

    def _show_stop(self, outcome: Outcome) -> None:
        waiting = isinstance(outcome, Pending)
        stopped = not waiting and isinstance(outcome, Problem) and outcome.message == STOPPED
        self.stop.setVisible(waiting or stopped)
        self.stop.setText("Stop" if waiting else "Work it out")

    def _stop_or_start(self) -> None:
        answers = self.session.answers
        (answers.stop if answers.busy else answers.start_again)()

    def _show_progress(self, share: float) -> None:
        if self.canvas.stale and self.session.answers.busy:
            self.says.set_text(f"Out of date. The answer is being worked out: {percent_text(share, 0)}.")

    def picture(self, aim: Aim, answer: Answer) -> Picture:
        """The picture in view, with its axes kept where they can be."""
        return picture_of(self.name, aim, answer, self.canvas.picture, steady=self.session.scrubbing)

    # --- the point ---

    def _drag_to(self, x: float) -> None:
        aim, picture = self.session.aim, self.canvas.picture
        if aim is None or not isinstance(picture, Curve):
            return
        outcome = self.session.outcome(aim)
        if isinstance(outcome, Answer):
            step = step_at(outcome.plan, x, picture.per_group)
            self.session.scrub(edits.drag_to_step(self.session.study, aim.id, step))

    def _nudge(self, steps: int) -> None:
        aim, picture = self.session.aim, self.canvas.picture
        if aim is None or not isinstance(picture, Curve):
            return
        outcome = self.session.outcome(aim)
        if isinstance(outcome, Answer):
            step = step_at(outcome.plan, picture.point[0], picture.per_group) + steps
            self.session.do(edits.drag_to_step(self.session.study, aim.id, step))
