"""The drawing of Drivers: a bar for each assumption, from what is found at one end of its range to the other."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import (
    Look,
    keep_inside,
    line,
    nice_ticks,
    offset,
    scale_text,
    text_at,
)
from ragwort.figures.drawing.points import hatched, in_the_middle
from ragwort.figures.shown.drivers import NO_RANGES, Bar, Drivers, End

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

_ROW = 3.1  # heights of letters that a bar with its label needs; with less, labels stand beside the bars
_NAMES = 9  # heights of letters that two names beside each other need
_LABELS = 0.9  # room for these, in lengths of the scale


class DriversDrawing(Drawing[Drivers]):
    """Bars over the scale of what is found, and the design's own answer through all of them."""

    left = 0.26

    @override
    def scale(self, axes: Axes, picture: Drivers, look: Look) -> list[Artist]:
        low, high = picture.ends
        start = low if _is_roomy(axes, picture, look) else low - _LABELS * (high - low)  # labels beside the bars
        axes.set(xlim=(start, high), ylim=(0, 1))
        if not picture.bars:
            return []
        ticks = nice_ticks(*picture.ends, most=7)
        grid = {"color": look.palette.hairline, "linewidth": 0.8}
        texts = [scale_text(axes, look, (tick, 0), f"{tick:.10g}", below=True) for tick in ticks]
        return [*(line(axes, [tick, tick], [0, 1], **grid) for tick in ticks), *texts]

    @override
    def marks(self, axes: Axes, picture: Drivers, look: Look) -> list[Artist]:
        if not picture.bars:
            return [in_the_middle(axes, NO_RANGES, look)]
        limit, point = _limit(axes, picture, look), _point(axes, picture, look)
        _keep_apart(axes, limit, point, look)
        marks = [*limit, *point]
        for row, bar in enumerate(picture.bars):
            marks += _bar(axes, picture, look, bar, picture.place_of(row))
        return marks


def _limit(axes: Axes, picture: Drivers, look: Look) -> list[Artist]:
    if picture.limit is None:
        return []
    dots = {"color": look.palette.leaf, "linewidth": 1.1, "linestyle": (0, (1.2, 2.4))}
    text = text_at(axes, f"{picture.limit:.0f} are available", look.small, look.palette.leaf)
    side = "center" if not _crowded(axes, picture, look) else "left" if picture.limit >= picture.point else "right"
    text.set(transform=offset(axes.transData, axes, y=4), position=(picture.limit, 1), ha=side)
    keep_inside(axes, text)
    return [line(axes, [picture.limit] * 2, [0, 1], **dots), text]


def _point(axes: Axes, picture: Drivers, look: Look) -> list[Artist]:
    stem = line(axes, [picture.point] * 2, [0, 1], color=look.palette.found, linewidth=1.6)
    text = text_at(axes, picture.point_label, look.text, look.palette.found_text, bold=True)
    near = _crowded(axes, picture, look)
    side = "right" if near and (picture.limit or 0.0) >= picture.point else "left" if near else "center"
    text.set(transform=offset(axes.transData, axes, y=4), position=(picture.point, 1), ha=side)
    keep_inside(axes, text)
    return [stem, text]


def _crowded(axes: Axes, picture: Drivers, look: Look) -> bool:
    """Whether the names of the limit and of the design would run into each other."""
    if picture.limit is None:
        return False
    (left, _), (right, _) = axes.transData.transform([(picture.limit, 1), (picture.point, 1)])
    return bool(abs(left - right) < _NAMES * look.text * axes.figure.dpi / 72)


def _keep_apart(axes: Axes, limit: list[Artist], point: list[Artist], look: Look) -> None:
    """At an edge of the picture both names may still meet: then that of the limit stands above the other."""
    if limit and limit[-1].get_window_extent().overlaps(point[-1].get_window_extent()):
        text: Any = limit[-1]
        x, y = text.get_position()
        up = offset(text.get_transform(), axes, y=1.3 * look.text)
        text.set(transform=up, position=(x, y))


def _is_roomy(axes: Axes, picture: Drivers, look: Look) -> bool:
    """Whether there is room for a label above each bar."""
    height: float = axes.get_window_extent().height
    return height / max(len(picture.bars), 1) >= _ROW * look.text * axes.figure.dpi / 72


def _bar(axes: Axes, picture: Drivers, look: Look, bar: Bar, y: float) -> list[Artist]:
    colours = look.palette
    low, high = picture.ends
    places = sorted(
        low if end.at is None and end is bar.low else high if end.at is None else end.at for end in bar.ends
    )
    roomy = _is_roomy(axes, picture, look)
    marks = _hatched_bar(axes, look, places, y) if picture.supposed else [_solid_bar(axes, look, places, y)]
    label = text_at(axes, bar.label, look.text if roomy else look.small, colours.ink)
    label.set(position=(0, y), va="center", bbox={"facecolor": colours.paper, "pad": 1.0, "linewidth": 0})
    marks.append(label)
    if not roomy:
        return marks
    label.set(transform=offset(axes.transAxes, axes, y=0.75 * look.text), va="bottom")
    if bar.meets:
        meets = text_at(axes, bar.meets, look.small, colours.quiet)
        meets.set(transform=offset(axes.transAxes, axes, y=0.75 * look.text), position=(1, y), ha="right")
        meets.set_visible(not meets.get_window_extent().overlaps(label.get_window_extent()))  # read under the pointer
        marks.append(meets)
    return [*marks, *(_end(axes, look, end, end.at == places[0], y) for end in bar.ends if end.at is not None)]


def _solid_bar(axes: Axes, look: Look, places: list[float], y: float) -> Artist:
    return line(axes, places, [y, y], color=look.palette.ink, linewidth=4.5, solid_capstyle="butt")


def _hatched_bar(axes: Axes, look: Look, places: list[float], y: float) -> list[Artist]:
    """What is only supposed: an outline, hatched."""
    height = 0.6 * look.text * float(axes.figure.dpi) / 72 / float(axes.get_window_extent().height)
    low, high = y - height / 2, y + height / 2
    box = hatched(axes, (places[0], low, places[1] - places[0], height), look.palette.slate, axes.transData)
    x, edge = [places[0], places[1], places[1], places[0], places[0]], [low, low, high, high, low]
    return [box, line(axes, x, edge, color=look.palette.slate, linewidth=0.9)]


def _end(axes: Axes, look: Look, end: End, leftmost: bool, y: float) -> Artist:
    """The value at one end, beside the bar."""
    text = text_at(axes, end.words, look.small, look.palette.quiet)
    aside = -0.5 * look.text if leftmost else 0.5 * look.text
    text.set(transform=offset(axes.transData, axes, x=aside), position=(end.at, y))
    text.set(ha="right" if leftmost else "left", va="center")
    keep_inside(axes, text)
    return text
