"""Free space in a picture of curves, where labels can stand."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

from ragwort.figures.drawing.pencil import (
    extent,
    line,
)
from ragwort.figures.labels import Box, dense, is_free, place, place_away
from ragwort.figures.shown.curve import Curve, Series

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.text import Text


_TOP = 1.05  # power to which the limit is drawn, a little above certainty


class Room:
    """Free space of one axes, in pixels."""

    def __init__(self, axes: Axes, curve: Curve, names: Sequence[Box] = (), words: Sequence[Box] = ()) -> None:
        """`names` are labels that are there already, `words` what else is not to be covered."""
        self._axes, self._names = axes, names
        box = axes.get_window_extent()
        self._area = Box(box.x0 + 2, box.y0 + 2, box.x1, box.y1 + 22)
        self._curves = {id(s): self._visible(s) for s in curve.series if not s.same_line}
        at, power = curve.point
        stem = self._pixels(np.array([[at, 0.0], [at, power]]))
        grid = [*np.arange(0, 1.01, 0.2), *([curve.target] if curve.target is not None else [])]
        ends = np.linspace(*curve.x.ends, max(2, int(box.width / 4)))
        across = self._pixels(np.column_stack([np.tile(ends, len(grid)), np.repeat(grid, len(ends))]))
        self._obstacles = np.concatenate([*self._curves.values(), dense(stem), across, self._limit(curve)])
        point = stem[1]
        dots = self._pixels(np.array([series.design for series in curve.series]))
        self._taken = [*words, *(Box(x - 9, y - 9, x + 9, y + 9) for x, y in (point, *dots))]

    def _pixels(self, data: Any) -> Any:
        return self._axes.transData.transform(data)

    def _limit(self, curve: Curve) -> Any:
        """The dotted line from which on no more can be had."""
        if curve.beyond is None or curve.beyond.axis != "x":
            return np.empty((0, 2))
        return dense(self._pixels(np.array([[curve.beyond.start, 0.0], [curve.beyond.start, _TOP]])))

    def _visible(self, series: Series) -> Any:
        """The part of a curve that is seen: a kept scenario may go on a million times as far."""
        points = self._pixels(np.column_stack([series.x, series.power]))
        points = points[np.isfinite(points).all(axis=1)]
        edge, last = self._area.right, int(np.searchsorted(points[:, 0], self._area.right, side="right"))
        if last == 0:
            return points[:1] if len(points) else np.array([[edge, self._area.bottom]])
        inside = points[:last]
        if last < len(points):
            inside = np.vstack([inside, [edge, np.interp(edge, points[:, 0], points[:, 1])]])
        return dense(inside)

    def beside_point(self, point: tuple[float, float], axes: Axes, text: Text) -> Artist:
        """Left above the design where there is room, as the curve comes from the left below."""
        width, height = extent(text)
        x, y = self._pixels(np.array([point]))[0]
        places = [
            Box(x - 12 - width, y + 8, x - 12, y + 8 + height),
            Box(x + 14, y - 14 - height, x + 14 + width, y - 14),
            Box(x + 14, y + 14, x + 14 + width, y + 14 + height),
            Box(x + 14, y - 40 - height, x + 14 + width, y - 40),
            Box(x - 12 - width, y + 24, x - 12, y + 24 + height),
            Box(x - width / 2, y + 30, x + width / 2, y + 30 + height),
            Box(x + 14, y - 70 - height, x + 14 + width, y - 70),
        ]
        shifted = [self._shifted(box) for box in (places[2], places[1])]
        free = [box for box in places if box.inside(self._area)] or [box for box in shifted if box.inside(self._area)]
        free = free or shifted[-1:]
        alone = [box for box in free if not any(box.overlaps(name) for name in self._names)]
        clear = [box for box in alone if not box.holds_any(self._obstacles)]
        return self.put(text, (clear or alone or free)[0])

    def _shifted(self, box: Box) -> Box:
        """The same as far to the left as the picture ends."""
        over = max(box.right - self._area.right, 0.0)
        return Box(box.left - over, box.bottom, box.right - over, box.top)

    def along(self, series: Series, text: Text) -> list[Artist]:
        """Beside its curve, else led to it by a line, else not at all."""
        own = self._curves[id(series)]
        rivals = [line for line in self._curves.values() if line is not own]
        box = place(own, extent(text), rivals, self._obstacles, self._taken, self._area, at_end=series.own)
        return [self.put(text, box)] if box is not None else self._led(own, text)

    def _led(self, own: Any, text: Text) -> list[Artist]:
        """A label in free space with a thin line to its curve."""
        found = place_away(own, extent(text), self._obstacles, self._taken, self._area)
        if found is None:
            return [self.put(text, None)]
        box, anchor = found
        ends = np.array([[box.left - 3, (box.bottom + box.top) / 2], anchor])
        self._obstacles = np.concatenate([self._obstacles, dense(ends)])
        x, y = self._axes.transAxes.inverted().transform(ends).T
        style: dict[str, Any] = {"color": text.get_color(), "linewidth": 0.7, "transform": self._axes.transAxes}
        return [line(self._axes, x, y, **style), self.put(text, box)]

    def near(self, point: tuple[float, float], text: Text) -> list[Artist]:
        """Beside a mark on the curve, else led to it by a line, else not at all."""
        width, height = extent(text)
        x, y = self._pixels(np.array([point]))[0]
        spots = [
            (x - 10 - width, y + 6),
            (x - 10 - width, y + 16),
            (x - width / 2, y + 14),
            (x - width / 2, y + 22),
        ]
        spots += [(x - width / 2, y + 30), (x + 10, y - 12 - height), (x + 10, y - 30 - height)]
        for left, bottom in spots:
            box = Box(left, bottom, left + width, bottom + height)
            if box.inside(self._area) and is_free(box, self._obstacles, self._taken):
                return [self.put(text, box)]
        return self._led(np.array([[x, y], [x, y]]), text)

    def put(self, text: Text, box: Box | None) -> Artist:
        if box is None:
            text.set_visible(False)
        else:
            self._taken.append(box)
            x, y = self._axes.transAxes.inverted().transform((box.left, box.bottom))
            text.set_position((x, y))
        return text
