"""Where the labels of curves go: beside their curve, covering neither a line nor each other.

Works in pixels on plain numbers, so that it can be tested without a drawing.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Pixels = NDArray[np.float64]  # n x 2


@dataclass(frozen=True)
class Box:
    """A rectangle in pixels: left, bottom, right, top."""

    left: float
    bottom: float
    right: float
    top: float

    def overlaps(self, other: Box) -> bool:
        """Whether the two rectangles share any area."""
        return (
            self.left < other.right and other.left < self.right and self.bottom < other.top and other.bottom < self.top
        )

    def holds_any(self, points: Pixels) -> bool:
        """Whether any of the points lies inside."""
        x, y = points[:, 0], points[:, 1]
        return bool(np.any((x > self.left) & (x < self.right) & (y > self.bottom) & (y < self.top)))

    def distance(self, points: Pixels) -> float:
        """The distance from the rectangle to the nearest of the points."""
        x, y = points[:, 0], points[:, 1]
        across = np.maximum(np.maximum(self.left - x, x - self.right), 0)
        up = np.maximum(np.maximum(self.bottom - y, y - self.top), 0)
        return float(np.hypot(across, up).min())

    def inside(self, other: Box) -> bool:
        """Whether this rectangle lies wholly within the other."""
        return (
            self.left >= other.left
            and self.right <= other.right
            and self.bottom >= other.bottom
            and self.top <= other.top
        )


# Places along a curve to try first to last, as shares of its visible length, and distances from it in pixels.
_ALONG = (0.62, 0.72, 0.52, 0.82, 0.42, 0.92, 0.32, 0.22, 0.12)
_AWAY = (6.0, 12.0, 20.0)


MOST_POINTS = 20_000


def dense(points: Pixels, step: float = 4.0) -> Pixels:
    """Points along a polyline at most about `step` pixels apart, as far as `MOST_POINTS` allow."""
    if len(points) < 2:
        return points
    lengths = np.hypot(*np.diff(points, axis=0).T)
    walked = np.concatenate([[0.0], np.cumsum(lengths)])
    if walked[-1] == 0:
        return points[:1]
    at = np.linspace(0, walked[-1], min(max(2, int(walked[-1] / step)), MOST_POINTS))
    return np.column_stack([np.interp(at, walked, points[:, 0]), np.interp(at, walked, points[:, 1])])


def place(
    curve: Pixels,
    size: tuple[float, float],
    rivals: list[Pixels],
    obstacles: Pixels,
    taken: list[Box],
    area: Box,
    at_end: bool = False,
) -> Box | None:
    """A free rectangle of this size (width, height) beside `curve`; None where there is none.

    `rivals` are other labelled curves, which must be farther from the label than its own; `obstacles` all points to
    keep clear of (dense, the curves' among them); `taken` the rectangles already given away. With `at_end` the far
    end of the curve is tried first.
    """
    width, height = size
    along = sorted(_ALONG, reverse=True) if at_end else _ALONG
    for away in _AWAY:
        for share in along:
            x, y = curve[int(share * (len(curve) - 1))]
            below = Box(x + away, y - away - height, x + away + width, y - away)
            above = Box(x - away - width, y + away, x - away, y + away + height)
            for box in (below, above):
                if box.inside(area) and is_free(box, obstacles, taken):
                    own = box.distance(curve)
                    if all(box.distance(rival) > own + 4 for rival in rivals):
                        return box
    return None


def place_away(
    curve: Pixels, size: tuple[float, float], obstacles: Pixels, taken: list[Box], area: Box
) -> tuple[Box, tuple[float, float]] | None:
    """A free rectangle some way right below a point of `curve`, and that point, for a label with a leader."""
    width, height = size
    for at in dict.fromkeys(int(share * (len(curve) - 1)) for share in _ALONG):
        x, y = curve[at]
        for across, down in ((24, 30), (24, 44), (34, 60), (44, 80), (54, 104), (64, 130)):
            box = Box(x + across, y - down - height, x + across + width, y - down)
            if box.inside(area) and is_free(box, obstacles, taken) and not _leader_crosses(box, x, y, taken):
                return box, (float(x), float(y))
    return None


def _leader_crosses(box: Box, x: float, y: float, taken: list[Box]) -> bool:
    leader = dense(np.array([[box.left - 3, (box.bottom + box.top) / 2], [x, y]]))
    return any(other.holds_any(leader[:-2]) for other in taken)


def is_free(box: Box, obstacles: Pixels, taken: list[Box]) -> bool:
    """Whether a rectangle, with a little air round it, touches no obstacle and no other rectangle."""
    padded = Box(box.left - 3, box.bottom - 2, box.right + 3, box.top + 2)
    return not any(padded.overlaps(other) for other in taken) and not padded.holds_any(obstacles)
