"""The drawings of the pictures, with matplotlib: one drawing for window and report.

Each picture is drawn in two parts: the frame (axes, grid, titles), which stays while an edit moves the curves, and
the marks (curves, areas, point, labels), which are drawn anew. The window keeps the frame as a bitmap.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cache
from typing import TYPE_CHECKING, Any

import numpy as np

from ragwort.figures.curve import Curve, Series
from ragwort.figures.error_rates import Errors
from ragwort.figures.labels import Box, dense, is_free, place, place_away
from ragwort.figures.palette import FONT_FOLDER, Palette
from ragwort.figures.steps import Steps
from ragwort.study.found import power_text
from ragwort.study.numbers import percent_text

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure
    from matplotlib.text import Text

Picture = Curve | Errors | Steps
_DASHES: tuple[Any, ...] = ((0, (5, 3)), (0, (1.2, 2.2)), (0, (7, 2, 1.5, 2)), (0, (3, 2)), (0, (9, 3)))


@dataclass(frozen=True)
class Look:
    """Colours and the size of body text in points."""

    palette: Palette
    text: float = 9.0

    @property
    def small(self) -> float:
        return self.text * 0.92


@cache
def font_families() -> tuple[str, ...]:
    """The fonts of pictures, ours first; loads them into matplotlib."""
    import logging

    from matplotlib import font_manager, rcParams

    # Settings are made once for the whole process: changing them for one drawing would touch others under way in
    # other threads. Letters keep their own widths; files are the same each time, their text is shapes (SVG) or
    # embedded (PDF). Each weight that a fallback font lacks would be logged.
    rcParams.update({"text.hinting": "none", "svg.fonttype": "path", "svg.hashsalt": "ragwort", "pdf.fonttype": 42})
    logging.getLogger("matplotlib.font_manager").setLevel(logging.ERROR)
    for name in ("Regular", "SemiBold"):
        font_manager.fontManager.addfont(FONT_FOLDER / f"Inter-{name}.ttf")
    return ("Inter", "DejaVu Sans")


def prepare() -> None:
    """Import what drawing needs, which takes a moment: for a thread of its own while a window starts."""
    import matplotlib.backends.backend_agg
    import matplotlib.figure  # noqa: F401

    font_families()
    _drawable()


@cache
def _drawable() -> frozenset[int]:
    """The characters that our fonts or the fallback have."""
    from matplotlib import font_manager
    from matplotlib.ft2font import FT2Font

    paths = [str(FONT_FOLDER / "Inter-Regular.ttf"), str(font_manager.findfont("DejaVu Sans"))]
    return frozenset(code for path in paths for code in FT2Font(path).get_charmap())


def _shown(words: str) -> str:
    """Words as they can be drawn: no mathematics between dollar signs, a box for what no font has."""
    known = _drawable()
    return "".join(c if ord(c) in known or c == "\n" else "\u25af" for c in words).replace("$", r"\$")


def new_figure(width: float, height: float, look: Look, dpi: float = 100.0) -> tuple[Figure, Axes]:
    """An empty figure of this size in inches, with one axes placed for our pictures."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    font_families()
    figure = Figure(figsize=(width, height), dpi=dpi, facecolor=look.palette.paper)
    FigureCanvasAgg(figure)
    axes = figure.add_axes(_place(figure, look))
    axes.set_facecolor("none")
    return figure, axes


def _place(figure: Any, look: Look, width_share: float = 1.0) -> tuple[float, float, float, float]:
    """Where the axes go, as shares of the figure: left, bottom, width, height."""
    width, height = figure.get_size_inches()
    left, right = 0.72 * look.text / 9 / width, 0.24 / width
    bottom, top = 0.62 * look.text / 9 / height, 0.30 / height
    return left, bottom, width_share * (1 - right) - left, 1 - bottom - top


def draw_frame(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Grid, scales and titles of a picture."""
    return [*draw_sheet(axes, picture, look), *draw_scale(axes, picture, look)]


def draw_sheet(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Of the frame, what stays at any limits: titles, and the scale of power.

    Drawn by us: matplotlib's own axis makes some thirty objects anew each time, which costs five times as much.
    """
    axes.set_axis_off()
    axes.set_position(_place(axes.figure, look, _SAW_SHARE if isinstance(picture, Steps) else 1.0))
    if isinstance(picture, Steps):
        return _titles(axes, look, picture.x_label, "power, %")
    if isinstance(picture, Errors):
        return _titles(axes, look, picture.x_label, "how often")
    axes.set_ylim(0, 1.04)
    roomy = axes.get_window_extent().height >= 11 * look.text
    levels = np.arange(0, 1.01, 0.2 if roomy else 0.5)
    grid: dict[str, Any] = {"color": look.palette.hairline, "linewidth": 0.8, "transform": axes.transAxes}
    words = [f"{100 * level:.0f}{' %' if level > 0.99 else ''}" for level in levels]
    return [
        *(_line(axes, [0, 1], [level / 1.04] * 2, **grid) for level in levels),
        *(_scale_text(axes, look, (0, level / 1.04), each) for level, each in zip(levels, words, strict=True)),
        *_titles(axes, look, picture.x_label, "power, %"),
    ]


def draw_scale(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Of the frame, what goes with the limits: the numbers below."""
    if isinstance(picture, Curve):
        axes.set_xlim(0, picture.x_high)
        return _x_scale(axes, look, 0, picture.x_high)
    if isinstance(picture, Steps):
        return _steps_scale(axes, picture, look)
    low, high = float(picture.x[0]), float(picture.x[-1])
    axes.set(xlim=(low, high), ylim=(0, picture.y_high))
    ground = _line(axes, [low, high], [0, 0], color=look.palette.hairline, linewidth=1.0)
    return [ground, *_x_scale(axes, look, low, high)]


def draw_marks(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Curves, areas and labels of a picture, back to front."""
    if isinstance(picture, Steps):
        return _steps_marks(axes, picture, look)
    return _curve_marks(axes, picture, look) if isinstance(picture, Curve) else _errors_marks(axes, picture, look)


def draw_kept(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Of the marks, those of kept scenarios, without their names."""
    return _scenario_marks(axes, picture, look) if isinstance(picture, Curve) else []


def draw_kept_and_named(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Of the marks, those of kept scenarios, with their names where `draw_marks` has them."""
    if not isinstance(picture, Curve):
        return []
    labels = _curve_labels(axes, picture, look)
    names = [mark for series, marks in labels if series is not None and not series.own for mark in marks]
    shown = {id(mark) for mark in names}
    for mark in (mark for _, marks in labels for mark in marks if id(mark) not in shown):
        mark.remove()
    return [*_scenario_marks(axes, picture, look), *names]


def draw_live(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Of the marks, those that an edit moves, without a search for places: quick enough for every frame of a drag."""
    if not isinstance(picture, Curve):
        return draw_marks(axes, picture, look)
    own = replace(picture, ten_more=None, series=tuple(s for s in picture.series if s.own))
    text = _text(axes, own.point_label, look.text, look.palette.found_text, bold=True)
    return [*_own_marks(axes, own, look), _Room(axes, own).beside_point(own.point, axes, text)]


def draw(picture: Picture, look: Look, width: float, height: float, dpi: float = 100.0) -> Figure:
    """A whole picture, `width` x `height` inches."""
    figure, axes = new_figure(width, height, look, dpi)
    draw_frame(axes, picture, look)
    draw_marks(axes, picture, look)
    return figure


# --- Curve ----------------------------------------------------------------------------------------------------


def _x_scale(axes: Axes, look: Look, low: float, high: float) -> list[Artist]:
    ticks = nice_ticks(low, high)
    return [_scale_text(axes, look, (tick, 0), f"{tick:.10g}".replace("-", "\u2212"), below=True) for tick in ticks]


def nice_ticks(low: float, high: float, most: int = 9) -> list[float]:
    """At most `most` round numbers from `low` to `high`, apart by 1, 2, 2.5 or 5 times a power of ten."""
    size = 10.0 ** np.floor(np.log10((high - low) / most))
    step = next(size * k for k in (1, 2, 2.5, 5, 10, 20) if (high - low) / (size * k) <= most - 1)
    first, last = int(np.ceil(low / step - 1e-9)), int(np.floor(high / step + 1e-9))
    return [float(f"{k * step:.10g}") for k in range(first, last + 1)]


def _scale_text(axes: Axes, look: Look, at: tuple[float, float], words: str, below: bool = False) -> Artist:
    """A number of a scale: `below` a place in data coordinates, or left of one in axes coordinates."""
    text = _text(axes, words, look.small, look.palette.quiet)
    if below:
        text.set(transform=_offset(axes.transData, axes, y=-6), position=at, ha="center", va="top")
    else:
        text.set(transform=_offset(axes.transAxes, axes, x=-6), position=at, ha="right", va="center")
    return text


def _titles(axes: Axes, look: Look, x_words: str, y_words: str) -> list[Artist]:
    """What the two directions mean."""
    below = _text(axes, x_words, look.text, look.palette.ink)
    below.set(transform=_offset(axes.transAxes, axes, y=-2.6 * look.text), position=(0.5, 0), ha="center", va="top")
    left = _text(axes, y_words, look.text, look.palette.ink)
    left.set(transform=_offset(axes.transAxes, axes, x=-4.2 * look.text), position=(0, 0.5), rotation=90)
    left.set(ha="center", va="center")
    return [below, left]


def _offset(transform: Any, axes: Any, x: float = 0, y: float = 0) -> Any:
    from matplotlib.transforms import offset_copy

    return offset_copy(transform, axes.figure, x=x, y=y, units="points")


def _line(axes: Axes, x: Any, y: Any, **style: Any) -> Artist:
    """A line in data coordinates; an axes' own `plot` takes ten times as long."""
    from matplotlib.lines import Line2D

    return axes.add_artist(Line2D(np.asarray(x), np.asarray(y), **style))


def _curve_marks(axes: Axes, curve: Curve, look: Look) -> list[Artist]:
    return [
        *_scenario_marks(axes, curve, look),
        *_own_marks(axes, curve, look),
        *(mark for _, marks in _curve_labels(axes, curve, look) for mark in marks),
    ]


def _scenario_marks(axes: Axes, curve: Curve, look: Look) -> list[Artist]:
    slate = look.palette.slate
    marks = []
    for index, series in enumerate(s for s in curve.series if not s.own):
        if not series.same_line:
            dashes = _DASHES[index % len(_DASHES)]
            style = {"linestyle": dashes, "drawstyle": _drawstyle(series)}
            marks.append(_line(axes, series.x, series.power, color=slate, linewidth=1.3, **style))
    points = [s.design for s in curve.series if not s.own and s.design[0] <= curve.x_high]
    if points:
        x, power = zip(*points, strict=True)
        marks.append(_line(axes, x, power, color=slate, linewidth=0, marker="o", markersize=4.5))
    return marks


def _target_line(axes: Axes, ends: tuple[float, float], target: float, look: Look) -> Artist:
    """The power asked for, from one end of the axis to the other."""
    return _line(axes, ends, [target] * 2, color=look.palette.target, linewidth=1.1, linestyle=(0, (1.2, 2.4)))


def _own_marks(axes: Axes, curve: Curve, look: Look) -> list[Artist]:
    colours = look.palette
    marks = [
        _line(axes, s.x, s.power, color=colours.ink, linewidth=1.3 if s.stepped else 2.0, drawstyle=_drawstyle(s))
        for s in curve.series
        if s.own
    ]
    for at, height, _ in curve.named:
        dot = {"markersize": 6, "color": colours.paper, "markeredgecolor": colours.found_text}
        marks.append(_line(axes, [at], [height], marker="o", linewidth=0, **dot))
    if curve.target is not None:
        marks.append(_target_line(axes, (0, curve.x_high), curve.target, look))
    x, power = curve.point
    marks.append(_line(axes, [x, x], [0, power], color=colours.found, linewidth=1.3, solid_capstyle="butt"))
    if curve.ten_more is not None:
        at, height = curve.ten_more
        marks.append(_line(axes, [at, at], [height - 0.022, height + 0.022], color=colours.quiet, linewidth=1.2))
    dot = {"markersize": 10, "color": colours.found, "markeredgecolor": colours.paper, "markeredgewidth": 1.6}
    marks.append(_line(axes, [x], [power], marker="o", linewidth=0, **dot))
    return marks


def _drawstyle(series: Series) -> str:
    return "steps-mid" if series.stepped else "default"


def _curve_labels(axes: Axes, curve: Curve, look: Look) -> list[tuple[Series | None, list[Artist]]]:
    """Direct labels with the series that each names (None for the rest): the design, ten more, the curves."""
    room = _Room(axes, curve)
    colours = look.palette
    point = _text(axes, curve.point_label, look.text, colours.found_text, bold=True)
    labels: list[tuple[Series | None, list[Artist]]] = [(None, [room.beside_point(curve.point, axes, point)])]
    if curve.ten_more is not None:
        text = _text(axes, "from here ten more buy less than 1 point", look.small * 0.95, colours.quiet)
        labels.append((None, room.near(curve.ten_more, text)))
    for at, height, words in curve.named:
        text = _text(axes, words, look.small, colours.found_text)
        labels.append((None, room.near((at, height), text)))
    for series in curve.series:
        if series.own and len(curve.series) == 1:
            continue
        colour = colours.ink if series.own else colours.slate
        text = _text(axes, _short(series.label), look.small, colour, bold=series.own)
        labels.append((series, room.near(series.design, text) if series.same_line else room.along(series, text)))
    return labels


class _Room:
    """Free space of one axes, in pixels."""

    def __init__(self, axes: Axes, curve: Curve) -> None:
        self._axes = axes
        box = axes.get_window_extent()
        self._area = Box(box.x0 + 2, box.y0 + 2, box.x1, box.y1 + 22)
        self._curves = {id(s): self._visible(s) for s in curve.series if not s.same_line}
        at, power = curve.point
        stem = self._pixels(np.array([[at, 0.0], [at, power]]))
        grid = [*np.arange(0, 1.01, 0.2), *([curve.target] if curve.target is not None else [])]
        across = [dense(self._pixels(np.array([[0, level], [curve.x_high, level]]))) for level in grid]
        self._obstacles = np.concatenate([*self._curves.values(), dense(stem), *across])
        point = stem[1]
        dots = self._pixels(np.array([series.design for series in curve.series]))
        self._taken = [Box(x - 9, y - 9, x + 9, y + 9) for x, y in (point, *dots)]

    def _pixels(self, data: Any) -> Any:
        return self._axes.transData.transform(data)

    def _visible(self, series: Series) -> Any:
        """The part of a curve that is seen: a kept scenario may go on a million times as far."""
        points = self._pixels(np.column_stack([series.x, series.power]))
        edge, last = self._area.right, int(np.searchsorted(points[:, 0], self._area.right, side="right"))
        if last == 0:
            return points[:1]
        inside = points[:last]
        if last < len(points):
            inside = np.vstack([inside, [edge, np.interp(edge, points[:, 0], points[:, 1])]])
        return dense(inside)

    def beside_point(self, point: tuple[float, float], axes: Axes, text: Text) -> Artist:
        """Left above the design where there is room, as the curve comes from the left below."""
        width, height = _extent(text)
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
        free = [box for box in places if box.inside(self._area)] or places[1:2]
        clear = [box for box in free if not box.holds_any(self._obstacles)]
        return self._put(text, (clear or free)[0])

    def along(self, series: Series, text: Text) -> list[Artist]:
        """Beside its curve, else led to it by a line, else not at all."""
        own = self._curves[id(series)]
        rivals = [line for line in self._curves.values() if line is not own]
        box = place(own, _extent(text), rivals, self._obstacles, self._taken, self._area, at_end=series.own)
        return [self._put(text, box)] if box is not None else self._led(own, text)

    def _led(self, own: Any, text: Text) -> list[Artist]:
        """A label in free space with a thin line to its curve."""
        found = place_away(own, _extent(text), self._obstacles, self._taken, self._area)
        if found is None:
            return [self._put(text, None)]
        box, anchor = found
        ends = np.array([[box.left - 3, (box.bottom + box.top) / 2], anchor])
        x, y = self._axes.transAxes.inverted().transform(ends).T
        style: dict[str, Any] = {"color": text.get_color(), "linewidth": 0.7, "transform": self._axes.transAxes}
        return [_line(self._axes, x, y, **style), self._put(text, box)]

    def near(self, point: tuple[float, float], text: Text) -> list[Artist]:
        """Beside a mark on the curve, else led to it by a line, else not at all."""
        width, height = _extent(text)
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
                return [self._put(text, box)]
        return self._led(np.array([[x, y], [x, y]]), text)

    def _put(self, text: Text, box: Box | None) -> Artist:
        if box is None:
            text.set_visible(False)
        else:
            self._taken.append(box)
            x, y = self._axes.transAxes.inverted().transform((box.left, box.bottom))
            text.set_position((x, y))
        return text


# --- Errors ---------------------------------------------------------------------------------------------------


def _errors_marks(axes: Axes, errors: Errors, look: Look) -> list[Artist]:
    colours = look.palette
    x, rejected = errors.x, errors.rejected()
    marks: list[Artist] = [
        axes.fill_between(x, errors.effect, where=rejected, color=colours.found, alpha=0.32, linewidth=0),
        axes.fill_between(
            x,
            errors.effect,
            where=~rejected,
            facecolor="none",
            edgecolor=colours.slate,
            hatch="////",
            linewidth=0,
        ),
        axes.fill_between(x, errors.null, where=rejected, color=colours.ink, alpha=0.75, linewidth=0),
    ]
    dashes: Any = (0, (4, 2.4))
    marks.append(_line(axes, x, errors.shown(errors.null), color=colours.ink, linewidth=1.3, linestyle=dashes))
    marks.append(_line(axes, x, errors.shown(errors.effect), color=colours.found_text, linewidth=2.0))
    marks.extend(
        _line(axes, [limit, limit], [0, errors.y_high * 0.77], color=colours.quiet, linewidth=1.0)
        for limit in (errors.lower, errors.upper)
        if limit is not None
    )
    return [*marks, *_errors_labels(axes, errors, look)]


_LOW = 15  # times the size of the text: a picture less high than this has room for one row of values


def _errors_labels(axes: Axes, errors: Errors, look: Look) -> list[Artist]:
    """A title over each hill and a row of values at the height of the limits."""
    colours = look.palette
    null_at, effect_at = errors.peak(errors.null), errors.peak(errors.effect)
    apart = abs(errors.x[null_at] - errors.x[effect_at]) > 0.24 * (errors.x[-1] - errors.x[0])
    left_first = errors.x[null_at] <= errors.x[effect_at]
    lift = 0.02 * errors.y_high
    null_style, effect_style = ("right", "left") if left_first else ("left", "right")
    null_place = (errors.x[null_at], errors.null[null_at] + lift, "center" if apart else null_style)
    if errors.one_ended:
        # Right of the falling curve, two thirds up.
        beside = int(np.argmax(errors.null[null_at:] < 0.6 * errors.y_high)) + null_at
        null_place = (errors.x[beside] + 0.012 * errors.x[-1], 0.62 * errors.y_high, "left")
    effect_place = (errors.x[effect_at], errors.effect[effect_at] + lift, "center" if apart else effect_style)
    marks: list[Artist] = []
    for (x, y, align), label, colour in (
        (null_place, "no effect", colours.ink),
        (effect_place, errors.effect_label, colours.found_text),
    ):
        text = _text(axes, _short(label), look.text, colour, bold=True)
        text.set(transform=axes.transData, position=(x, y), ha=align)
        marks.append(text)
    room = axes.get_window_extent()
    if room.height < _LOW * look.text:
        marks = []  # one row of values is all that there is room for
    return [*marks, *_error_values(axes, errors, look)[: None if marks else 2]]


def _error_values(axes: Axes, errors: Errors, look: Look) -> list[Artist]:
    colours = look.palette
    ahead = errors.x[errors.peak(errors.effect)] >= errors.x[errors.peak(errors.null)]
    limit = errors.upper if (ahead and errors.upper is not None) or errors.lower is None else errors.lower
    assert limit is not None
    towards = 1 if limit == errors.upper else -1
    gap = 0.012 * (errors.x[-1] - errors.x[0]) * towards
    beyond, before = ("left", "right") if towards > 0 else ("right", "left")
    rows = (
        (limit + gap, 0.965, f"power {power_text(errors.power)}", colours.found_text, beyond),
        (limit - gap, 0.965, f"missed {percent_text(1 - errors.power)}", colours.slate, before),
        (
            limit + gap,
            0.895,
            f"alpha {100 * errors.alpha:.3g} %" + (" in both tails" if errors.lower and errors.upper else ""),
            colours.ink,
            beyond,
        ),
    )
    marks: list[Artist] = []
    for x, height, words, colour, align in rows:
        text = _text(axes, words, look.small, colour, bold=True)
        text.set(transform=axes.transData, position=(x, errors.y_high * height), ha=align)
        _keep_inside(axes, text)
        marks.append(text)
    return marks


def _keep_inside(axes: Axes, text: Text) -> None:
    """Move a label sideways where it would leave the picture."""
    extent, width = text.get_window_extent(), axes.figure.bbox.width
    over = max(extent.x1 - width, 0.0) - max(-extent.x0, 0.0)
    if over:
        x, y = text.get_transform().transform(text.get_position())
        inside = text.get_transform().inverted().transform((x - over, y))
        text.set_position((float(inside[0]), float(inside[1])))


# --- Steps ----------------------------------------------------------------------------------------------------

_SAW_SHARE = 0.52  # of the width; the table has the rest


def _steps_scale(axes: Axes, steps: Steps, look: Look) -> list[Artist]:
    (low, high), (least, most) = steps.x_range, steps.y_range
    axes.set(xlim=(low, high), ylim=(least, most))
    marks: list[Artist] = []
    for level in nice_ticks(100 * least, 100 * most, 6):
        share = (level / 100 - least) / (most - least)
        grid = {"color": look.palette.hairline, "linewidth": 0.8, "transform": axes.transAxes}
        marks += [_line(axes, [0, 1], [share, share], **grid), _scale_text(axes, look, (0, share), f"{level:.10g}")]
    ticks = [tick for tick in nice_ticks(low, high, 6) if tick.is_integer() and tick > 0]
    return [*marks, *(_scale_text(axes, look, (tick, least), f"{tick:.10g}", below=True) for tick in ticks)]


def _steps_marks(axes: Axes, steps: Steps, look: Look) -> list[Artist]:
    colours = look.palette
    marks = [_line(axes, steps.x, steps.power, color=colours.ink, linewidth=1.3, drawstyle="steps-mid")]
    if steps.target is not None:
        marks.append(_target_line(axes, steps.x_range, steps.target, look))
    for at, words in steps.marks.items():
        dot = {"markersize": 7, "color": colours.found, "markeredgecolor": colours.paper}
        marks.append(_line(axes, [steps.x[at]], [steps.power[at]], marker="o", linewidth=0, **dot))
        text = _text(axes, words, look.small, colours.found_text, bold=True)
        place = _offset(axes.transData, axes, x=-4, y=5)
        text.set(transform=place, position=(steps.x[at], steps.power[at]), ha="right")
        marks.append(text)
    return [*marks, *_steps_table(axes, steps, look)]


def _steps_table(axes: Axes, steps: Steps, look: Look) -> list[Artist]:
    """The table right of the saw-tooth, and below it why power can fall; where there is little room, less of both."""
    colours, figure = look.palette, _figure_of(axes)
    width, height = figure.get_size_inches() * 72  # points
    left, right, top = width * _SAW_SHARE + 2.2 * look.text, width - 1.4 * look.text, height - 1.6 * look.text
    columns = _columns_that_fit(steps, right - left, look)
    heads = [steps.head()[at].replace(" at or ", "\nat or\n").replace("actual ", "actual\n") for at in columns]
    ends = np.linspace(left, right, len(columns) + 1)[1:]
    line, tall = 1.62 * look.text, max(words.count("\n") for words in heads) + 1
    why = _wrapped(steps.why, (width - left) / (0.5 * look.small))
    space = top - (0.8 + tall) * 0.8 * line
    room = space - (why.count("\n") + 2) * 1.3 * look.small
    if room < 7 * line:
        why, room = "", space
    marks: list[Artist] = []

    def write(words: str, x: float, y: float, colour: str, bold: bool = False, align: str = "right") -> None:
        text = _text(axes, words, look.small, colour, bold)
        text.set(transform=_points(figure), position=(x, y), ha=align, va="top", linespacing=1.15)
        marks.append(text)

    for words, end in zip(heads, ends, strict=True):
        write(words, end, top, colours.quiet)
    y = top - (0.4 + 0.8 * tall) * line
    for at in steps.around(max(int(room / line), 1)):
        if at is None:
            write("…", ends[0], y, colours.quiet)
        else:
            short = steps.target is not None and steps.power[at] < steps.target
            colour = colours.found_text if at in steps.marks else colours.quiet if short else colours.ink
            for column, end in zip(columns, ends, strict=True):
                write(steps.row(at)[column], end, y, colour, bold=at in steps.marks)
        y -= line
    if why:
        write(why, left, y - 0.4 * line, colours.quiet, align="left")
    return marks


def _columns_that_fit(steps: Steps, width: float, look: Look) -> list[int]:
    """The columns of the table, without the rejection limits where they would touch each other."""
    every = list(range(len(steps.head())))
    return every if width >= 3.8 * look.text * len(every) else [0, *every[-2:]]


def _figure_of(axes: Axes) -> Any:
    return axes.figure


def _points(figure: Any) -> Any:
    """From points (1/72 inch, from the lower left) to the figure's pixels."""
    from matplotlib.transforms import Affine2D

    return Affine2D().scale(1 / 72) + figure.dpi_scale_trans


def _wrapped(words: str, characters: float) -> str:
    import textwrap

    return textwrap.fill(words, max(int(characters), 20))


# --- text -----------------------------------------------------------------------------------------------------


def _text(axes: Axes, words: str, size: float, colour: str, bold: bool = False) -> Text:
    return axes.text(
        0,
        0,
        _shown(words),
        transform=axes.transAxes,
        color=colour,
        fontsize=size,
        family=font_families(),
        weight=600 if bold else 400,
        va="bottom",
    )


def _extent(text: Text) -> tuple[float, float]:
    box = text.get_window_extent()
    return float(box.width), float(box.height)


def _short(label: str, most: int = 32) -> str:
    return label if len(label) <= most else f"{label[: most - 1]}…"
