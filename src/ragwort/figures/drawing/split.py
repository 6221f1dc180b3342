"""The drawing of Split: what is found over the ratio of two groups, the best split beside the design's own."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, keep_inside, line, offset, scale_text, text_at
from ragwort.figures.drawing.points import ABOVE, box_of, dot, heights
from ragwort.figures.shown.split import Split

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.text import Text

_FLAT = 0.5  # doublings around the best split in which the line is hardly steeper than a label is wide
_ROOMY = 11  # letters high, from where on a name has room under the line
_NEAR = 0.05  # doublings between two splits that are one to the eye


class SplitDrawing(Drawing[Split]):
    """One line; an open ring at its best place."""

    left = 0.80

    @override
    def scale(self, axes: Axes, picture: Split, look: Look) -> list[Artist]:
        """Doublings as ratios."""
        axes.set(xlim=picture.ends, ylim=picture.y_ends)
        low, high = (round(end) for end in picture.ends)
        places = range(low, high + 1, max(1, math.ceil((high - low) / 8)))
        below = [scale_text(axes, look, (at, picture.y_ends[0]), _ratio(at), below=True) for at in places]
        return [*heights(axes, look, grid=True), *below]

    @override
    def marks(self, axes: Axes, picture: Split, look: Look) -> list[Artist]:
        colours = look.palette
        x, y = picture.line
        best, point = _best(axes, picture, look), _point(axes, picture, look)
        if best and point and box_of(best[-1]).overlaps(box_of(point[-1])):
            best.pop().remove()  # the point's own label matters more
        return [line(axes, x, y, color=colours.ink, linewidth=2.0), *_stem(axes, picture, look), *best, *point]


def _ratio(doublings: int) -> str:
    return f"1 : {2**doublings}" if doublings >= 0 else f"{2**-doublings} : 1"


def _best(axes: Axes, picture: Split, look: Look) -> list[Any]:
    """A ring and its name, unless the design is there."""
    best, colours = picture.best, look.palette
    if best is None or abs(best.x - picture.point[0]) < _NEAR:
        return []
    style: dict[str, Any] = {"color": colours.paper, "markeredgecolor": colours.slate, "markeredgewidth": 1.6}
    ring = line(axes, [best.x], [best.y], marker="o", linewidth=0, markersize=8, zorder=ABOVE, **style)
    text = text_at(axes, picture.best_label, look.small, colours.slate)
    if axes.get_window_extent().height < _ROOMY * look.text * axes.figure.dpi / 72:
        hill = picture.asked == "power"  # no room under the ring: where the line leaves some
        text.set(position=(0.5, 0.04 if hill else 0.96), ha="center", va="bottom" if hill else "top")
        return [ring, text]
    return [ring, _near_label(axes, (best.x, best.y), text, look, -1)]


def _point(axes: Axes, picture: Split, look: Look) -> list[Any]:
    """The design's own split and its label."""
    if picture.handle is None:
        return []
    colours = look.palette
    text = text_at(axes, picture.point_label, look.text, colours.found_text, bold=True)
    label = _near_label(axes, picture.point, text, look, 1, _side(picture))
    return [dot(axes, picture.point, colours.found, colours.paper, 10), label]


def _stem(axes: Axes, picture: Split, look: Look) -> list[Artist]:
    x, y = picture.point
    return [line(axes, [x, x], [picture.y_ends[0], y], color=look.palette.found, linewidth=1.3)]


def _side(picture: Split) -> str:
    """On which side of the point its label stands: where the line goes down, or in the middle where it does not."""
    away = 0.0 if picture.best is None else picture.point[0] - picture.best.x
    if abs(away) < _FLAT:
        return "center"
    return "left" if (away < 0) == (picture.asked != "power") else "right"


def _near_label(axes: Axes, at: tuple[float, float], text: Text, look: Look, up: int, side: str = "center") -> Artist:
    away = {"left": 0.7, "center": 0.0, "right": -0.7}[side] * look.text
    text.set(transform=offset(axes.transData, axes, x=away, y=0.9 * up * look.text), position=at)
    text.set(ha=side, va="bottom" if up > 0 else "top", zorder=ABOVE)
    text.set_bbox({"facecolor": look.palette.paper, "alpha": 0.92, "pad": 1.0, "linewidth": 0})
    keep_inside(axes, text)
    return text
