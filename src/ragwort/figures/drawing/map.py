"""The drawing of Map: contour lines like a walker's, the design as a point with its two coordinates."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import (
    Look,
    line,
    offset,
    short,
    text_at,
)
from ragwort.figures.drawing.points import ABOVE, Ground, beside, box_of, dot, hatched, place_along, scales
from ragwort.figures.labels import Box
from ragwort.figures.scales.axes import SIZE, Axis
from ragwort.figures.shown.map import Contour, Map

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.text import Text

_STRIP = 7  # points that the strip of a plausible range is high


class MapDrawing(Drawing[Map]):
    """Lines of equal power, which stay while the point is dragged."""

    left = 0.80

    @override
    def scale(self, axes: Axes, picture: Map, look: Look) -> list[Artist]:
        """The numbers, what is plausible and what can be had."""
        axes.set(xlim=picture.x.ends, ylim=picture.y.ends)
        plausible = [*_plausible(axes, picture.x, look, "x"), *_plausible(axes, picture.y, look, "y")]
        return [*scales(axes, look), *_limit(axes, picture, look), *plausible]

    @override
    def marks(self, axes: Axes, picture: Map, look: Look) -> list[Artist]:
        ground = _ground(axes, picture, look)
        return [
            *_target(axes, picture, look, ground),
            *_kept(axes, picture, look, ground),
            *_point(axes, picture, look),
        ]

    @override
    def kept(self, axes: Axes, picture: Map, look: Look) -> list[Artist]:
        """The lines, and kept scenarios as small named points; off the point as it is now."""
        ground = _ground(axes, picture, look)
        for mark in _target(axes, picture, look, ground):
            mark.remove()
        return _kept(axes, picture, look, ground)

    @override
    def kept_and_named(self, axes: Axes, picture: Map, look: Look) -> list[Artist]:
        return self.kept(axes, picture, look)

    @override
    def live(self, axes: Axes, picture: Map, look: Look, names: Sequence[Box] = ()) -> list[Artist]:
        """The point, and the line of the target, which goes through it where n is found."""
        point = _point(axes, picture, look, names)
        taken = [*names, _round(axes, picture.point, look), box_of(point[-1])]  # type: ignore[arg-type]
        ground = Ground(_apart(axes, look), boxes=taken)
        return [*_target(axes, picture, look, ground), *point]


def _point(axes: Axes, picture: Map, look: Look, names: Sequence[Box] = ()) -> list[Artist]:
    colours, (x, y) = look.palette, picture.point
    stems = {"color": colours.found, "linewidth": 1.4}
    return [
        line(axes, [x, x], [picture.y.ends[0], y], **stems),
        line(axes, [picture.x.ends[0], x], [y, y], **stems),
        dot(axes, (x, y), colours.found, colours.paper, 10.5),
        beside(axes, (x, y), _point_label(axes, picture, look), look, names),
    ]


def _ground(axes: Axes, picture: Map, look: Look) -> Ground:
    """What the labels of lines keep off."""
    words = _limit_boxes(axes, picture, look)
    return Ground(_apart(axes, look), boxes=[*_boxes_of_point(axes, picture, look, words), *words])


def _limit_boxes(axes: Axes, picture: Map, look: Look) -> list[Box]:
    """Where the words about the limit stand, in pixels."""
    words = _limit_words(axes, picture, look)
    boxes = [box_of(text) for text in words]
    for text in words:
        text.remove()
    return boxes


def _apart(axes: Axes, look: Look) -> float:
    """Pixels between the middles of two labels."""
    return 3.2 * look.text * float(axes.figure.dpi) / 72


def _target(axes: Axes, picture: Map, look: Look, ground: Ground) -> list[Artist]:
    """The line of the power asked for."""
    return [mark for each in picture.contours if each.target for mark in _contour(axes, each, look, ground)]


def _kept(axes: Axes, picture: Map, look: Look, ground: Ground) -> list[Artist]:
    """The other lines, over them what was said of the limit, and the scenarios."""
    lines = [mark for each in picture.contours if not each.target for mark in _contour(axes, each, look, ground)]
    return [*lines, *_limit_words(axes, picture, look), *_scenarios(axes, picture, look, ground.boxes)]


def _scenarios(axes: Axes, picture: Map, look: Look, taken: list[Box]) -> list[Artist]:
    found: list[Artist] = []
    for x, y, name in picture.named:
        label = text_at(axes, short(name), look.small, look.palette.slate)
        found.append(dot(axes, (x, y), look.palette.slate, look.palette.paper, 5.5))
        found.append(beside(axes, (x, y), label, look, taken))
        box = box_of(label)
        if _is_cramped(axes, look) or any(box.overlaps(other) for other in taken):
            label.set_visible(False)  # its name is read under the pointer
        else:
            taken.append(box)
    return found


def _point_label(axes: Axes, picture: Map, look: Look) -> Text:
    return text_at(axes, picture.point_label, look.text, look.palette.found_text, bold=True)


def _boxes_of_point(axes: Axes, picture: Map, look: Look, names: Sequence[Box]) -> list[Box]:
    """Where the point and its label stand, in pixels."""
    label = _point_label(axes, picture, look)
    found = box_of(beside(axes, picture.point, label, look, names))
    label.remove()
    return [found, _round(axes, picture.point, look)]


def _round(axes: Axes, point: tuple[float, float], look: Look) -> Box:
    """Where the point itself stands, in pixels."""
    x, y = axes.transData.transform(point)
    reach = 0.8 * look.text * axes.figure.dpi / 72
    return Box(x - reach, y - reach, x + reach, y + reach)


def _contour(axes: Axes, contour: Contour, look: Look, ground: Ground) -> list[Artist]:
    colours = look.palette
    colour, width = (colours.ink, 2.2) if contour.target else (colours.quiet, 0.9)
    marks: list[Artist] = [line(axes, *piece.T, color=colour, linewidth=width) for piece in contour.pieces]
    text = text_at(axes, contour.label, look.small, colour, bold=contour.target)
    placed = place_along(axes, contour.pieces, text, ground)
    if placed is None:
        text.remove()
        return marks
    at, angle = placed
    text.set(transform=axes.transData, position=at, ha="center", va="center", rotation=angle)
    text.set_bbox({"facecolor": colours.paper, "pad": 0.8, "linewidth": 0})
    return [*marks, text]


def _limit(axes: Axes, picture: Map, look: Look) -> list[Artist]:
    """What cannot be had, where the map goes so far."""
    start = _start_of_limit(picture)
    if start is None:
        return []
    dots = {"color": look.palette.leaf, "linewidth": 1.1, "linestyle": (0, (1.2, 2.4)), "transform": axes.transAxes}
    return [
        hatched(axes, (0, start, 1, 1 - start), look.palette.hairline, axes.transAxes),
        line(axes, [0, 1], [start, start], **dots),
    ]


def _limit_words(axes: Axes, picture: Map, look: Look) -> list[Text]:
    start = _start_of_limit(picture)
    if start is None or _is_cramped(axes, look):
        return []
    text = text_at(axes, picture.limit_words, look.small, look.palette.leaf)
    text.set(transform=offset(axes.transAxes, axes, x=5, y=4), position=(0, start), va="bottom")
    text.set_bbox({"facecolor": look.palette.paper, "pad": 1.0, "linewidth": 0})
    text.set_zorder(ABOVE)
    return [text]


def _start_of_limit(picture: Map) -> float | None:
    """From which share of the height on sizes cannot be had; None where all can."""
    low, high = picture.y.ends
    if picture.limit is None or picture.y.name != SIZE or picture.limit >= high:
        return None
    return max((picture.limit - low) / (high - low), 0.0)


def _is_cramped(axes: Axes, look: Look) -> bool:
    """Whether the map is too low for words beside its lines."""
    return bool(axes.get_window_extent().height < 14 * look.text * axes.figure.dpi / 100)


def _plausible(axes: Axes, axis: Axis, look: Look, direction: str) -> list[Artist]:
    """The plausible range of an assumption as a strip along its axis."""
    if axis.plausible is None:
        return []
    low, high = axis.ends
    start, end = (min(max((each - low) / (high - low), 0.0), 1.0) for each in axis.plausible)
    box = axes.get_window_extent()
    thick = _STRIP * axes.figure.dpi / 72
    place = (start, 0.0, end - start, thick / box.height)
    if direction == "y":
        place = (0.0, start, thick / box.width, end - start)
    strip = hatched(axes, place, look.palette.slate, axes.transAxes)
    if direction == "y" or end > 0.86 or _is_cramped(axes, look):
        return [strip]
    text = text_at(axes, "plausible", look.small, look.palette.slate)
    text.set(transform=offset(axes.transAxes, axes, x=4, y=-1), position=(end, 0))
    return [strip, text]
