"""What every drawing is made with: paper, lines, text, scales and titles, in our fonts."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import TYPE_CHECKING, Any

import numpy as np

from ragwort.figures.palette import FONT_FOLDER, Palette
from ragwort.figures.shown.shown import Shown

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure
    from matplotlib.text import Text


LOW = 2.0  # inches: a picture less high keeps its titles closer


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

    from matplotlib import font_manager, rcdefaults, rcParams

    # A matplotlibrc, of the user or in the folder that the program is started in, has no say in our pictures.
    # Settings are made once for the whole process: changing them for one drawing would touch others under way in
    # other threads. Letters keep their own widths; files are the same each time, their text is shapes (SVG) or
    # embedded (PDF). Each weight that a fallback font lacks would be logged.
    rcdefaults()
    rcParams.update({"text.hinting": "none", "svg.fonttype": "path", "svg.hashsalt": "ragwort", "pdf.fonttype": 42})
    rcParams["hatch.linewidth"] = 0.5
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


def shown(words: str) -> str:
    """Words as they can be drawn: no mathematics between dollar signs, a box for what no font has."""
    known = _drawable()
    return "".join(c if ord(c) in known or c == "\n" else "\u25af" for c in words).replace("$", r"\$")


def new_figure(
    width: float, height: float, look: Look, dpi: float = 100.0, in_window: bool = False
) -> tuple[Figure, Axes]:
    """An empty figure of this size in inches, with one axes placed for our pictures."""
    from matplotlib.figure import Figure

    font_families()
    figure = Figure(figsize=(width, height), dpi=dpi, facecolor=look.palette.paper)
    _put_on_canvas(figure, in_window)
    axes = figure.add_axes(place_of_axes(figure, look))
    axes.set_facecolor("none")
    return figure, axes


def _put_on_canvas(figure: Figure, in_window: bool) -> None:
    if in_window:
        from ragwort.figures.drawing.letters import WindowCanvas

        WindowCanvas(figure)
    else:
        from ragwort.figures.drawing.outlines import FileCanvas

        FileCanvas(figure)


def place_of_axes(
    figure: Any, look: Look, width_share: float = 1.0, left_inches: float = 0.72, titled: bool = False
) -> tuple[float, float, float, float]:
    """Where the axes go, as shares of the figure: left, bottom, width, height."""
    width, height = figure.get_size_inches()
    left, right = left_inches * look.text / 9 / width, 0.24 / width
    under, over = (0.47, 0.22) if height < LOW else (0.62, 0.30)
    bottom, top = under * look.text / 9 / height, (over + titled * 0.2 * look.text / 9) / height
    return left, bottom, width_share * (1 - right) - left, 1 - bottom - top


def x_scale(axes: Axes, look: Look, low: float, high: float, bottom: float = 0.0) -> list[Artist]:
    """Numbers across, under the level at which the scale up begins."""
    ticks = nice_ticks(low, high)
    return [scale_text(axes, look, (tick, bottom), f"{tick:.10g}".replace("-", "\u2212"), below=True) for tick in ticks]


def nice_ticks(low: float, high: float, most: int = 9) -> list[float]:
    """At most `most` round numbers from `low` to `high`, apart by 1, 2, 2.5 or 5 times a power of ten."""
    size = 10.0 ** np.floor(np.log10((high - low) / most))
    step = next(size * k for k in (1, 2, 2.5, 5, 10, 20) if (high - low) / (size * k) <= most - 1)
    first, last = int(np.ceil(low / step - 1e-9)), int(np.floor(high / step + 1e-9))
    return [float(f"{k * step:.10g}") for k in range(first, last + 1)]


def scale_text(axes: Axes, look: Look, at: tuple[float, float], words: str, below: bool = False) -> Artist:
    """A number of a scale: `below` a place in data coordinates, or left of one in axes coordinates."""
    text = text_at(axes, words, look.small, look.palette.quiet)
    if below:
        text.set(transform=offset(axes.transData, axes, y=-6), position=at, ha="center", va="top")
    else:
        text.set(transform=offset(axes.transAxes, axes, x=-6), position=at, ha="right", va="center")
    return text


def titles(axes: Axes, look: Look, x_words: str, y_words: str) -> list[Artist]:
    """What the two directions mean."""
    below = text_at(axes, x_words, look.text, look.palette.ink)
    down = -1.9 if figure_of(axes).get_size_inches()[1] < LOW else -2.6
    below.set(transform=offset(axes.transAxes, axes, y=down * look.text), position=(0.5, 0), ha="center", va="top")
    left = text_at(axes, y_words, look.text, look.palette.ink)
    left.set(transform=offset(axes.transAxes, axes, x=-4.2 * look.text), position=(0, 0.5), rotation=90)
    left.set(ha="center", va="center")
    _keep_below_the_top(axes, left)
    return [below, left]


def _keep_below_the_top(axes: Axes, text: Text) -> None:
    """Move words that run upwards down, where they would leave the picture."""
    box, height = text.get_window_extent(), axes.figure.bbox.height
    over = max(box.y1 - height + 2, 0.0)
    if over:
        x, y = text.get_transform().transform(text.get_position())
        at_x, at_y = text.get_transform().inverted().transform((x, max(y - over, box.height / 2)))
        text.set_position((float(at_x), float(at_y)))


def heading(axes: Axes, look: Look, picture: Shown) -> list[Artist]:
    """The user's own title above the picture, where there is one."""
    words = picture.words_for("title")
    if not words:
        return []
    text = text_at(axes, short(words, 90), look.text * 1.1, look.palette.ink, bold=True)
    text.set(transform=offset(axes.figure.transFigure, axes, x=6, y=-5), position=(0, 1), va="top")
    return [text]


def with_caption(figure: Figure, look: Look, words: str) -> Any:
    """Put a caption below the picture; the box, in inches, that holds both."""
    from matplotlib.transforms import Bbox

    width, height = figure.get_size_inches()
    edge = 0.6 * look.text / 72  # inches
    text = figure.text(edge / width, 0, shown(wrapped(words, 72 * width / (0.5 * look.text))), va="top")
    text.set(color=look.palette.ink, fontsize=look.text, family=font_families(), linespacing=1.4)
    below = text.get_window_extent().height / figure.dpi + 2 * edge
    return Bbox([[0, -below], [width, height]])


def offset(transform: Any, axes: Any, x: float = 0, y: float = 0) -> Any:
    from matplotlib.transforms import offset_copy

    return offset_copy(transform, axes.figure, x=x, y=y, units="points")


def line(axes: Axes, x: Any, y: Any, **style: Any) -> Artist:
    """A line in data coordinates; an axes' own `plot` takes ten times as long."""
    from matplotlib.lines import Line2D

    return axes.add_artist(Line2D(np.asarray(x), np.asarray(y), **style))


def target_line(axes: Axes, ends: tuple[float, float], target: float, look: Look) -> Artist:
    """The power asked for, from one end of the axis to the other."""
    return line(axes, ends, [target] * 2, color=look.palette.target, linewidth=1.1, linestyle=(0, (1.2, 2.4)))


def keep_inside(axes: Axes, text: Text, start: float = 0.0) -> None:
    """Move a label sideways where it would leave the picture; `start` is where that begins, in pixels."""
    extent, width = text.get_window_extent(), axes.figure.bbox.width
    start = min(start, max(width - extent.width, 0.0))
    over = max(extent.x1 - width, 0.0) - max(start - extent.x0, 0.0)
    if over:
        x, y = text.get_transform().transform(text.get_position())
        inside = text.get_transform().inverted().transform((x - over, y))
        text.set_position((float(inside[0]), float(inside[1])))


def figure_of(axes: Axes) -> Any:
    return axes.figure


def points(figure: Any) -> Any:
    """From points (1/72 inch, from the lower left) to the figure's pixels."""
    from matplotlib.transforms import Affine2D

    return Affine2D().scale(1 / 72) + figure.dpi_scale_trans


def wrapped(words: str, characters: float) -> str:
    import textwrap

    return textwrap.fill(words, max(int(characters), 20))


def text_at(axes: Axes, words: str, size: float, colour: str, bold: bool = False) -> Text:
    return axes.text(
        0,
        0,
        shown(words),
        transform=axes.transAxes,
        color=colour,
        fontsize=size,
        family=font_families(),
        weight=600 if bold else 400,
        va="bottom",
    )


def extent(text: Text) -> tuple[float, float]:
    box = text.get_window_extent()
    return float(box.width), float(box.height)


def short(label: str, most: int = 32) -> str:
    return label if len(label) <= most else f"{label[: most - 1]}…"
