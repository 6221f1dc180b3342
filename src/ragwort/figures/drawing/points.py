"""Points and labels among lines, on scales of any two quantities."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

from ragwort.figures.drawing.pencil import Look, keep_inside, line, nice_ticks, offset, scale_text, text_at, wrapped

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.text import Text

ABOVE = 6  # lines and their labels
_ALONG = (0.62, 0.5, 0.74, 0.38, 0.84, 0.26, 0.14, 0.93)  # of a line, where its label may stand
_SHORT = 60  # pixels of a line that is too short for a label


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


def beside(axes: Axes, at: tuple[float, float], text: Text, look: Look) -> Artist:
    """A label above a point, on the side where there is more room; lines behind it are covered."""
    least, most = axes.get_ylim()
    top, away = at[1] > least + 0.88 * (most - least), 0.95 * look.text
    right = _left_of_it(axes, at, text)
    place = offset(axes.transData, axes, x=-away if right else away, y=-away if top else 0.6 * away)
    text.set(transform=place, position=at, ha="right" if right else "left", va="top" if top else "bottom")
    text.set_bbox({"facecolor": look.palette.paper, "alpha": 0.92, "pad": 1.2, "linewidth": 0})
    text.set_zorder(ABOVE)
    keep_inside(axes, text)
    return text


def _left_of_it(axes: Axes, at: tuple[float, float], text: Text) -> bool:
    """Whether a label goes to the left of its point: in the right half, unless it would run over the scale there."""
    area, x = axes.get_window_extent(), float(axes.transData.transform(at)[0])
    before, after = x - area.x0, axes.figure.bbox.width - x
    wide = 1.1 * text.get_window_extent().width
    return bool(before > after if before < wide else x > (area.x0 + area.x1) / 2)


def place_along(
    axes: Axes, pieces: Sequence[Any], labels: list[Any], apart: float
) -> tuple[tuple[float, float], float] | None:
    """A place along the longest piece of a line, away from other labels, and its slope there in degrees.

    None where the line is too short, or too close to others everywhere. `labels` gains the place.
    """
    pixels, along = max((_measured(axes, piece) for piece in pieces), key=lambda each: float(each[1][-1]))
    length = float(along[-1])
    if length < _SHORT:
        return None
    for share in _ALONG:
        ends = [
            np.array([np.interp(s * length, along, axis) for axis in pixels.T]) for s in (share - 0.03, share + 0.03)
        ]
        middle, across = (ends[0] + ends[1]) / 2, ends[1] - ends[0]
        if all(np.hypot(*(middle - other)) >= apart for other in labels):
            labels.append(middle)
            angle = float(np.degrees(np.arctan2(across[1], across[0])))
            x, y = axes.transData.inverted().transform(middle)
            return (float(x), float(y)), (angle + 90) % 180 - 90
    return None


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


def in_the_middle(axes: Axes, words: str, look: Look) -> Artist:
    """Why there is nothing to draw, and what to do about it."""
    width = axes.get_window_extent().width
    text = text_at(axes, wrapped(words, width / (0.75 * look.text)), look.text, look.palette.quiet)
    text.set(position=(0.5, 0.5), ha="center", va="center", linespacing=1.5)
    return text
