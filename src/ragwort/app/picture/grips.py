"""What is held by the pointer in a picture, from the press of the button to its release."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar

from PySide6.QtCore import QPointF, Qt
from typing_extensions import override

if TYPE_CHECKING:
    from ragwort.app.picture.canvas import Canvas

_FAR = 4  # pixels that a click may move


class Held:
    """Something held."""

    cursor: ClassVar[Qt.CursorShape] = Qt.CursorShape.ClosedHandCursor

    def __init__(self, canvas: Canvas, at: QPointF) -> None:
        self.canvas, self.start = canvas, at
        self.dragged = False

    def move(self, at: QPointF) -> None:
        """The pointer is elsewhere."""
        self.dragged = self.dragged or (at - self.start).manhattanLength() >= _FAR
        if self.dragged:
            self.drag(at)

    def drag(self, at: QPointF) -> None:
        """It is dragged there."""

    def release(self, at: QPointF) -> None:
        """The button is let go."""
        if self.dragged:
            self.canvas.drag_ended.emit()


class Point(Held):
    """The design's point, or one of several."""

    def __init__(self, canvas: Canvas, at: QPointF, which: int) -> None:
        super().__init__(canvas, at)
        canvas.in_hand = which

    @override
    def move(self, at: QPointF) -> None:
        """From the first pixel on."""
        self.dragged = True
        self.canvas.point_dragged.emit(*self.canvas.data_at(at))

    @override
    def release(self, at: QPointF) -> None:
        self.canvas.drag_ended.emit()


class Pin(Held):
    """A pin."""

    def __init__(self, canvas: Canvas, at: QPointF, number: int) -> None:
        super().__init__(canvas, at)
        self.number = number

    @override
    def drag(self, at: QPointF) -> None:
        self.canvas.pin_dragged.emit(self.number, self.canvas.data_at(at)[0])

    @override
    def release(self, at: QPointF) -> None:
        """Off the axes it goes."""
        if self.dragged:
            self.canvas.pin_dropped.emit(self.number, self.canvas.zone_at(at) not in ("paper", "axis"))


class Paper(Held):
    """The paper, which is moved under the axes."""

    def __init__(self, canvas: Canvas, at: QPointF) -> None:
        super().__init__(canvas, at)
        self.from_x, self.from_y = canvas.data_at(at)

    @override
    def drag(self, at: QPointF) -> None:
        """What was taken hold of stays under the pointer."""
        x, y = self.canvas.data_at(at)
        self.canvas.panned.emit(self.from_x - x, self.from_y - y)


class Scale(Held):
    """The numbers below: a click there asks for a pin."""

    cursor: ClassVar[Qt.CursorShape] = Qt.CursorShape.ArrowCursor

    @override
    def release(self, at: QPointF) -> None:
        if not self.dragged:
            self.canvas.pin_asked.emit(self.canvas.data_at(at)[0])


def held_at(canvas: Canvas, at: QPointF) -> Held | None:
    """What a press of the button takes hold of; None where there is nothing to be held."""
    zone, flag, picture = canvas.zone_at(at), canvas.flag_at(at), canvas.picture
    if picture is None or (not zone and not canvas.near_point(at)):
        return None
    if (which := canvas.point_under(at)) >= 0:
        return Point(canvas, at, which)
    if flag >= 0:
        return Pin(canvas, at, flag)
    if zone == "paper" and picture.zooms:
        return Paper(canvas, at)
    return Scale(canvas, at) if zone == "axis" and picture.pinned else None
