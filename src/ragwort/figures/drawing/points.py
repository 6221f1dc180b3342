"""Points and labels among lines, on scales of any two quantities."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

import numpy as np

from ragwort.figures.drawing.pencil import (
    Look,
    extent,
    keep_inside,
    line,
    nice_ticks,
    offset,
    scale_text,
    text_at,
    wrapped,
)
from ragwort.figures.labels import Box, Pixels
from ragwort.figures.shown.shown import Beyond

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.text import Text

ABOVE = 6  # lines and their labels
_ALONG = (0.62, 0.5, 0.74, 0.38, 0.84, 0.26, 0.14, 0.93)  # of a line, where its label may stand
_SHORT = 60  # pixels of a line that is too short for a label
_NOWHERE: Pixels = np.zeros((0, 2))


def scales(axes: Axes, look: Look, grid: bool = False) -> list[Artist]:
    """Numbers below and on the left, at the limits that the axes have; with `grid` a line at each height."""
    (low, high), least = axes.get_xlim(), axes.get_ylim()[0]
    below = [scale_text(axes, look, (tick, least), _number(tick), below=True) for tick in nice_ticks(low, high)]
    return [*heights(axes, look, grid), *below]


def heights(axes: Axes, look: Look, grid: bool = False) -> list[Artist]:
    """Numbers on the left; with `grid` a line at each."""
    least, most = axes.get_ylim()
    found: list[Artist] = []
    for tick in nice_ticks(least, most, 6):
        share = (tick - least) / (most - least)
        if grid:
            style: dict[str, Any] = {"color": look.palette.hairline, "linewidth": 0.8, "transform": axes.transAxes}
            found.append(line(axes, [0, 1], [share, share], **style))
        found.append(scale_text(axes, look, (0, share), _number(tick)))
    return found


def _number(value: float) -> str:
    return f"{value:.10g}".replace("-", "\u2212")


def dot(axes: Axes, at: tuple[float, float], colour: str, edge: str, size: float) -> Artist:
    """A round mark, above lines and their labels."""
    style = {"markersize": size, "color": colour, "markeredgecolor": edge, "markeredgewidth": 1.5}
    return line(axes, [at[0]], [at[1]], marker="o", linewidth=0, zorder=ABOVE, **style)


def beside(axes: Axes, at: tuple[float, float], text: Text, look: Look, names: Sequence[Box] = ()) -> Text:
    """A label above a point, on the side where there is more room, or where it covers none of `names`.

    Lines behind it are covered.
    """
    least, most = axes.get_ylim()
    top, right = at[1] > least + 0.88 * (most - least), _left_of_it(axes, at, text)
    text.set_bbox({"facecolor": look.palette.paper, "alpha": 0.92, "pad": 1.2, "linewidth": 0})
    text.set_zorder(ABOVE)
    sides = [(right, top), (not right, top), (right, not top), (not right, not top)]
    for side in [*(sides if names else []), sides[0]]:
        _put_beside(axes, at, text, 0.95 * look.text, *side)
        if not names or _is_clear(axes, text, names):
            break
    return text


def _put_beside(axes: Axes, at: tuple[float, float], text: Text, away: float, right: bool, top: bool) -> None:
    """The label's right end at the point, or its left; its top, or its foot."""
    place = offset(axes.transData, axes, x=-away if right else away, y=-away if top else 0.6 * away)
    text.set(transform=place, position=at, ha="right" if right else "left", va="top" if top else "bottom")
    keep_inside(axes, text, axes.get_window_extent().x0)


def _is_clear(axes: Axes, text: Text, names: Sequence[Box]) -> bool:
    """Whether a label stands within the axes' height and over none of the names."""
    area, box = axes.get_window_extent(), box_of(text)
    return area.y0 <= box.bottom and box.top <= area.y1 and not any(box.overlaps(name) for name in names)


def box_of(text: Text) -> Box:
    """Where a text stands, in pixels of the figure."""
    found = text.get_window_extent()
    return Box(found.x0, found.y0, found.x1, found.y1)


def _left_of_it(axes: Axes, at: tuple[float, float], text: Text) -> bool:
    """Whether a label goes to the left of its point: in the right half, unless it would run over the scale there."""
    area, x = axes.get_window_extent(), float(axes.transData.transform(at)[0])
    before, after = x - area.x0, axes.figure.bbox.width - x
    wide = 1.1 * text.get_window_extent().width
    return bool(before > after if before < wide else x > (area.x0 + area.x1) / 2)


@dataclass
class Ground:
    """What labels on lines keep away from, in pixels."""

    apart: float  # between the middles of two labels
    middles: list[Any] = field(default_factory=list)
    boxes: list[Box] = field(default_factory=list)  # not to be covered

    def is_free(self, middle: Any, box: Box, lines: Pixels) -> bool:
        """Whether a label can stand there, with other lines at these points."""
        near = any(np.hypot(*(middle - other)) < self.apart for other in self.middles)
        return not near and not any(box.overlaps(other) for other in self.boxes) and not box.holds_any(lines)


def place_along(
    axes: Axes, pieces: Sequence[Any], text: Text, ground: Ground, turned: bool = True, lines: Pixels = _NOWHERE
) -> tuple[tuple[float, float], float] | None:
    """A place for a label along the longest piece of a line, away from other labels, and its slope there in degrees.

    None where the line is too short, or too close to others everywhere. `ground` gains the place. With `turned` the
    label follows the line; it is kept off the points of other `lines` where it can be.
    """
    pixels, along = max((_measured(axes, piece) for piece in pieces), key=lambda each: float(each[1][-1]))
    if along[-1] < _SHORT:
        return None
    for avoided in (lines, _NOWHERE) if len(lines) else (_NOWHERE,):
        for middle, angle in _stations(pixels, along):
            box = _around(middle, extent(text), angle if turned else 0.0)
            if ground.is_free(middle, box, avoided):
                ground.middles.append(middle)
                ground.boxes.append(box)
                x, y = axes.transData.inverted().transform(middle)
                return (float(x), float(y)), angle
    return None


def _stations(pixels: Pixels, along: Any) -> Iterator[tuple[Any, float]]:
    """Where a label may stand on a line, best first: its middle, and the slope in degrees, within 90 either way."""
    length = float(along[-1])
    for share in _ALONG:
        ends = [
            np.array([np.interp(s * length, along, axis) for axis in pixels.T]) for s in (share - 0.03, share + 0.03)
        ]
        across = ends[1] - ends[0]
        yield (ends[0] + ends[1]) / 2, (float(np.degrees(np.arctan2(across[1], across[0]))) + 90) % 180 - 90


def _around(middle: Any, size: tuple[float, float], angle: float) -> Box:
    """The upright rectangle round a label that is turned by degrees."""
    cosine, sine = abs(np.cos(np.radians(angle))), abs(np.sin(np.radians(angle)))
    across, up = (size[0] * cosine + size[1] * sine) / 2, (size[0] * sine + size[1] * cosine) / 2
    return Box(middle[0] - across, middle[1] - up, middle[0] + across, middle[1] + up)


def _measured(axes: Axes, piece: Any) -> tuple[Any, Any]:
    """A piece in pixels, and how far along it each of its points is."""
    pixels = axes.transData.transform(piece)
    return pixels, np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(pixels, axis=0).T))])


def hatched(axes: Axes, place: tuple[float, float, float, float], colour: str, transform: Any) -> Artist:
    """A strip of fine lines: left, bottom, width, height."""
    from matplotlib.patches import Rectangle

    left, bottom, width, height = place
    strip = Rectangle((left, bottom), width, height, transform=transform)
    strip.set(facecolor="none", edgecolor=colour, linewidth=0.0, hatch="////")
    return axes.add_artist(strip)


def cannot_be_had(axes: Axes, beyond: Beyond | None, look: Look) -> list[Artist]:
    """Sample sizes that cannot be had, hatched, where the axis goes so far; the words where there is room for them."""
    low, high = (0.0, 0.0) if beyond is None else axes.get_xlim() if beyond.axis == "x" else axes.get_ylim()
    if beyond is None or beyond.start >= high:
        return []
    start = max((beyond.start - low) / (high - low), 0.0)
    across = beyond.axis == "x"
    place = (start, 0.0, 1 - start, 1.0) if across else (0.0, start, 1.0, 1 - start)
    ends = ([start, start], [0, 1]) if across else ([0, 1], [start, start])
    dots: dict[str, Any] = {"color": look.palette.leaf, "linewidth": 1.1, "linestyle": (0, (1.2, 2.4))}
    dots["transform"] = axes.transAxes
    marks = [hatched(axes, place, look.palette.hairline, axes.transAxes), line(axes, *ends, **dots)]
    text = text_at(axes, beyond.words, look.small, look.palette.leaf)
    place_of, aside = (1.0, -4) if beyond.at_end else (0.0, 5)
    text.set(transform=offset(axes.transAxes, axes, x=aside, y=5), position=(place_of, 0.0 if across else start))
    text.set(ha="right" if beyond.at_end else "left")
    text.set_bbox({"facecolor": look.palette.paper, "pad": 1.0, "linewidth": 0})
    area = axes.get_window_extent()
    if text.get_window_extent().width > (1 - start if across else 1) * area.width or area.height < 9 * look.text:
        text.remove()
        return marks
    return [*marks, text]


def box_of_words(axes: Axes, beyond: Beyond | None, look: Look) -> list[Box]:
    """Where the words of what cannot be had stand; none where there are none."""
    marks = cannot_be_had(axes, beyond, look)
    boxes = [box_of(mark) for mark in marks[2:]]  # type: ignore[arg-type]
    for mark in marks:
        mark.remove()
    return boxes


def in_the_middle(axes: Axes, words: str, look: Look) -> Artist:
    """Why there is nothing to draw, and what to do about it."""
    width = axes.get_window_extent().width
    text = text_at(axes, wrapped(words, width / (0.62 * look.text)), look.text, look.palette.quiet)
    text.set(position=(0.5, 0.5), ha="center", va="center", linespacing=1.5)
    return text
