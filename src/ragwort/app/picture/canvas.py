"""One picture as a bitmap, with the design as a point that can be dragged.

The frame (axes, grid, titles) is kept as a bitmap; an edit that leaves the axes alone draws only the curves over it.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QContextMenuEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import say
from ragwort.app.picture.grips import Held, held_at
from ragwort.app.picture.overlay import paint_focus, paint_message, paint_reading
from ragwort.app.picture.places import TEXT_POINTS, Places
from ragwort.figures.described import described
from ragwort.figures.labels import Box
from ragwort.figures.pictures import Picture
from ragwort.figures.shown.shown import Pointer, Reading

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from ragwort.figures.drawing import Drawing

_STEPS: dict[int, tuple[int, int]] = {  # by key: to the right, up
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
    Qt.Key.Key_PageUp: (10, 0),
    Qt.Key.Key_PageDown: (-10, 0),
}
_NEARER = {Qt.Key.Key_Plus: 1, Qt.Key.Key_Equal: 1, Qt.Key.Key_Minus: -1}  # notches of the wheel
SETTLE = 90  # ms without an edit until labels find their places


class Canvas(Places):
    """One picture as a bitmap."""

    point_dragged = Signal(float, float)  # x and y of the data
    drag_ended = Signal()
    zoomed = Signal(float, float, float)  # about which place, and how many notches of the wheel
    panned = Signal(float, float)  # by how much more of the data
    reset_asked = Signal()
    pin_asked = Signal(float)  # x
    pin_dragged = Signal(int, float)  # which, and to which x
    pin_dropped = Signal(int, bool)  # which, and whether off the axis
    words_asked = Signal(str, QPoint)  # other words for a part of the picture, and where that is
    menu_asked = Signal(QPoint, int, float)  # where, on which pin (-1: none), at which x
    nudged = Signal(int, int)  # steps to the right, and up
    painted_first = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._painted = False
        self.setObjectName("canvas")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(theme.px(240), theme.px(84))
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.picture: Picture | None = None
        self.stale, self._waiting = "", False
        self.image = QImage()
        self._figure: Figure | None = None
        self.axes: Axes | None = None
        self._keys: dict[str, object] = {}  # what each layer was made for
        self._layers: dict[str, Any] = {}
        self.names: list[Box] = []  # where kept scenarios have theirs
        self._held: Held | None = None
        self.in_hand = 0  # which of the picture's points the keys move: the one that was held last
        self._read_at: float | None = None  # where the keys read
        self.hover: Reading | None = None  # x and y in pixels
        self.settling = QTimer(self, singleShot=True, interval=SETTLE)
        self.settling.timeout.connect(self._draw_properly)

    def show_picture(
        self, picture: Picture | None, stale: str = "", dragging: bool = False, waiting: bool = False
    ) -> None:
        """Show a picture; or, with `stale`, say why the one shown is out of date (`waiting`: but not for long).

        What an edit moves is drawn at once; places for all labels are searched when edits pause, and never in a drag.
        """
        self.stale, self._waiting = stale, waiting
        if picture is not None:
            self.picture = picture
            self._draw_quickly()
            if not dragging:
                self.setAccessibleName(picture.words_for("caption"))
                self.setAccessibleDescription(described(picture))
                self.settling.start()
        self.hover, self._read_at = None, None
        self.update()

    @property
    def busy(self) -> bool:
        """Whether labels are yet to find their places."""
        return self.settling.isActive()

    def forget(self) -> None:
        """Show nothing."""
        self.picture, self.stale, self.image = None, "", QImage()
        self.update()

    def _draw_quickly(self) -> None:
        if self._has_room():
            self._keep_backgrounds()
            self._draw_over(self._layers["kept"], partial(self._drawing.live, names=self.names))

    def _draw_properly(self) -> None:
        if self._has_room():
            self._keep_backgrounds()
            self.names = self._add_named()
            self._draw_over(self._layers["scale"], self._drawing.marks)

    @property
    def _drawing(self) -> Drawing[Any]:
        from ragwort.figures.drawing import drawing_of

        assert self.picture is not None
        return drawing_of(self.picture)

    def _has_room(self) -> bool:
        return self.picture is not None and self.width() >= 50 and self.height() >= 50

    def _draw_over(self, background: Any, draw: Any) -> None:
        self._figure.canvas.restore_region(background)
        self._paint_and_remove(draw)
        self._take_image()

    def _paint_and_remove(self, draw: Any) -> None:
        """Draw marks on the bitmap."""
        marks = draw(self.axes, self.picture, self._look())
        for mark in marks:
            self.axes.draw_artist(mark)
        for mark in marks:
            mark.remove()

    def _keep_backgrounds(self) -> None:
        """The bitmaps under the live marks, each made anew only when what it depends on has changed."""
        from ragwort.figures.drawing import draw_sheet

        size = (self.width(), self.height(), self.devicePixelRatioF(), self.theme.colours.name)
        keys: dict[str, object] = {"empty": size}
        keys["sheet"] = (size, self.picture.sheet())
        keys["scale"] = (keys["sheet"], self.picture.frame())
        keys["kept"] = (keys["scale"], self.picture.kept())
        if keys["empty"] != self._keys.get("empty"):
            self._fit_figure()
            self._figure.canvas.draw()
            self._layers["empty"] = self._figure.canvas.copy_from_bbox(self._figure.bbox)
        below = "empty"
        for layer, draw in (("sheet", draw_sheet), ("scale", self._drawing.scale), ("kept", self._drawing.kept)):
            if keys[layer] != self._keys.get(layer):
                self.names = []
                self._add_layer(layer, below, draw)
            below = layer
        self._keys = keys

    def _fit_figure(self) -> None:
        """A figure of the canvas's size; the one there is takes it over, as making its axes is slow."""
        from ragwort.figures.drawing import new_figure

        dots, width, height = 100 * self.devicePixelRatioF(), self.width() / 100, self.height() / 100
        if self._figure is None:
            self._figure, self.axes = new_figure(width, height, self._look(), dots, in_window=True)
            self.axes.set_axis_off()
        self._figure.set_dpi(dots)
        self._figure.set_size_inches(width, height)
        self._figure.set_facecolor(self.theme.colours.paper)

    def _add_layer(self, layer: str, below: str, draw: Any) -> None:
        self._figure.canvas.restore_region(self._layers[below])
        self._paint_and_remove(draw)
        self._layers[layer] = self._figure.canvas.copy_from_bbox(self._figure.bbox)

    def _add_named(self) -> list[Box]:
        """The layer of what is kept, with its names; where those are."""
        from ragwort.figures.drawing import boxes_of_texts

        marks: list[Any] = []
        if self.axes is not None and self.picture is not None:
            marks = self._drawing.kept_and_named(self.axes, self.picture, self._look())
        boxes = boxes_of_texts(marks)
        self._add_layer("kept", "scale", lambda *_: marks)
        return boxes

    def _look(self) -> Any:
        from ragwort.figures.drawing import Look

        return Look(self.theme.colours, TEXT_POINTS * self.theme.scale)

    def _take_image(self) -> None:
        buffer = self._figure.canvas.buffer_rgba()
        height, width = buffer.shape[:2]
        image = QImage(buffer, width, height, QImage.Format.Format_RGBA8888)
        image.setDevicePixelRatio(self.devicePixelRatioF())
        self.image = image.copy()
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.settling.start()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.PaletteChange:
            self.settling.start()

    def paintEvent(self, event: QPaintEvent) -> None:
        if not self._painted:
            self._painted = True
            QTimer.singleShot(0, self, self.painted_first.emit)
        painter = QPainter(self)
        if not self.image.isNull():
            painter.setOpacity(0.32 if self.stale else 1.0)
            painter.drawImage(QPointF(0, 0), self.image)
            painter.setOpacity(1.0)
        if self.stale:
            paint_message(painter, self.theme, self.rect(), self.stale, "quiet" if self._waiting else "brick")
        elif self.hover is not None:
            paint_reading(painter, self.theme, self.rect(), self.hover)
        if self.hasFocus():
            paint_focus(painter, self.theme, self.rect())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._held = held_at(self, event.position())
            if self._held is not None:
                self.setCursor(self._held.cursor)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is not None and self.axes is not None:
            self._held.move(event.position())
            self.hover = None
            return
        near = self.near_point(event.position()) or self.flag_at(event.position()) >= 0
        self.setCursor(Qt.CursorShape.OpenHandCursor if near else Qt.CursorShape.ArrowCursor)
        self.hover = None if near else self.reading_at(event.position())
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held is not None and event.button() == Qt.MouseButton.LeftButton:
            held, self._held = self._held, None
            self.setCursor(Qt.CursorShape.ArrowCursor)
            held.release(event.position())

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._held = None
        flag, zone = self.flag_at(event.position()), self.zone_at(event.position())
        if flag >= 0:
            self.words_asked.emit(f"pin {flag}", event.position().toPoint())
        elif zone in ("x", "y", "title"):
            self.words_asked.emit(zone, self.place_of(zone))
        elif zone == "paper":
            self.reset_asked.emit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        notches = event.angleDelta().y() / 120
        zooms = self.picture is not None and self.picture.zooms and self._held is None
        if not zooms or not notches or self.zone_at(event.position()) not in ("paper", "axis"):
            super().wheelEvent(event)
            return
        self.zoomed.emit(*self.data_at(event.position()), notches)
        event.accept()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if self.picture is None or self.axes is None or self.stale:
            return
        at = QPointF(event.pos())
        if event.reason() == QContextMenuEvent.Reason.Keyboard:
            at = self.point_at() or self.area().center()
            self.menu_asked.emit(
                at.toPoint(), self.picture.flags[0].number if self.picture.flags else -1, self.data_at(at)[0]
            )
            return
        self.menu_asked.emit(at.toPoint(), self.flag_at(at), self.data_at(at)[0])

    def leaveEvent(self, event: QEvent) -> None:
        self.hover = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = self.picture.moves if self.picture is not None else ""
        across, up = _STEPS.get(event.key(), (0, 0))
        if across and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.read_on(across)
            return
        nearer = _NEARER.get(event.key(), 0)
        if (across and "x" in moves) or (up and "y" in moves):
            self.nudged.emit(across, up)
        elif nearer and self.picture is not None and self.picture.handle is not None:
            self.zoomed.emit(*self.picture.handle, nearer)
        else:
            super().keyPressEvent(event)

    def read_on(self, steps: int) -> None:
        """Walk along what is shown and say what is read there; from the design's point at first."""
        if self.picture is None or self.axes is None or self.stale:
            return
        readings = self.picture.walk()
        if not readings:
            return
        start = self._read_at if self._read_at is not None else (self.picture.handle or (readings[0].x, 0.0))[0]
        nearest = min(range(len(readings)), key=lambda at: abs(readings[at].x - start))
        found = readings[min(max(nearest + steps, 0), len(readings) - 1)]
        self._read_at = found.x
        place = self.pixel_at((found.x, found.y))
        self.hover = Reading(place.x(), place.y(), found.words)
        say(self, found.words)
        self.update()

    def reading_at(self, at: QPointF) -> Reading | None:
        """What is read under the pointer, at its pixel."""
        if self.picture is None or self.axes is None or self.stale:
            return None
        (x, y), (right, above) = self.data_at(at), self.data_at(at + QPointF(1, -1))
        found = self.picture.reading(Pointer(x, y, (right - x, above - y)))
        if found is None:
            return None
        place = self.pixel_at((found.x, found.y))
        return Reading(place.x(), place.y(), found.words)

    def bitmap(self) -> QPixmap:
        """What is shown, for the clipboard."""
        return QPixmap.fromImage(self.image)
