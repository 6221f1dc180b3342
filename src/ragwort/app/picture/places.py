"""Where things are in a picture on screen: pixels of the widget, units of the axes, what lies under the pointer."""

from __future__ import annotations

import math
from typing import Any

from PySide6.QtCore import QPoint, QPointF, QRectF
from PySide6.QtWidgets import QWidget

from ragwort.app.kit.theme import Theme
from ragwort.figures.pictures import Picture

TEXT_POINTS = 9.4  # at 100 dots an inch


class Places(QWidget):
    """A widget with a picture on it."""

    theme: Theme
    picture: Picture | None
    stale: str  # why the picture is old; empty where it is not
    axes: Any  # matplotlib's; None before the first picture

    # --- the point ---

    def data_at(self, at: QPointF) -> tuple[float, float]:
        """The place of a pixel of the widget, in the units of the axes."""
        dots = self.devicePixelRatioF()
        x, y = self.axes.transData.inverted().transform((at.x() * dots, (self.height() - at.y()) * dots))
        return float(x), float(y)

    def pixel_at(self, place: tuple[float, float]) -> QPointF:
        """The pixel of the widget at a place of the axes."""
        x, y = self.axes.transData.transform(place) / self.devicePixelRatioF()
        return QPointF(x, self.height() - y)

    def point_at(self) -> QPointF | None:
        """Where the design's point is, in the widget's pixels."""
        if self.picture is None or self.picture.handle is None or self.axes is None or self.stale:
            return None
        return self.pixel_at(self.picture.handle)

    # --- what is under the pointer ---

    def near_point(self, at: QPointF) -> bool:
        """Whether a point that can be dragged is there."""
        return self.point_under(at) >= 0

    def point_under(self, at: QPointF) -> int:
        """Which of the points that can be dragged is there; -1 where none is."""
        if self.picture is None or not self.picture.moves or self.axes is None or self.stale:
            return -1
        far = [(at - self.pixel_at(each)).manhattanLength() for each in self.picture.handles]
        nearest = min(range(len(far)), key=far.__getitem__, default=-1)
        return nearest if nearest >= 0 and far[nearest] < self.theme.px(16) else -1

    def flag_at(self, at: QPointF) -> int:
        """The pin whose pole or dot is there; -1 where none is."""
        if self.picture is None or self.axes is None or self.stale:
            return -1
        for flag in self.picture.flags:
            foot = self.pixel_at((flag.x, self.axes.get_ylim()[0]))
            top = foot.y() if math.isnan(flag.y) else self.pixel_at((flag.x, flag.y)).y()
            reach = self.theme.px(7)
            if abs(at.x() - foot.x()) < reach and top - reach <= at.y() <= foot.y() + 2 * reach:
                return flag.number
        return -1

    def area(self) -> QRectF:
        """Where the axes are, in pixels of the widget."""
        box, dots = self.axes.get_window_extent(), self.devicePixelRatioF()
        return QRectF(box.x0 / dots, self.height() - box.y1 / dots, box.width / dots, box.height / dots)

    def zone_at(self, at: QPointF) -> str:
        """What lies there: `paper`, `axis` (the numbers below), the words `x`, `y` or `title`; nothing without axes."""
        if self.picture is None or self.axes is None or self.stale:
            return ""
        area, row = self.area(), 2 * TEXT_POINTS * self.theme.scale
        if area.contains(at):
            return "paper"
        if at.y() > area.bottom() + row:
            return "x"
        if at.y() > area.bottom():
            return "axis" if area.left() <= at.x() <= area.right() else ""
        return "title" if at.y() < area.top() else "y" if at.x() < area.left() else ""

    def place_of(self, part: str) -> QPoint:
        """The middle of the words `x`, `y`, `title` or `caption`, in pixels of the widget."""
        area, height = self.area() if self.axes is not None else QRectF(self.rect()), self.height()
        middle = {"x": (area.center().x(), height - 14), "y": (0, area.center().y()), "title": (area.left(), 10)}
        return QPointF(*middle.get(part, (area.left(), height))).toPoint()

    # --- the pointer ---
