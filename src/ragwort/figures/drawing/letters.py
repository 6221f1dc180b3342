"""Texts kept as bitmaps: in a window the same words are drawn again and again, and setting them is most of a frame.

Words go to whole pixels here; files are drawn by matplotlib's own canvas, which places them exactly.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any, cast

import numpy as np
from matplotlib.backends.backend_agg import FigureCanvasAgg, RendererAgg
from matplotlib.colors import to_rgba
from matplotlib.font_manager import FontProperties, findfont, get_font
from typing_extensions import override

_EDGE = 3  # pixels around a bitmap, for letters that reach out of their box


class WindowCanvas(FigureCanvasAgg):
    """A figure's bitmap for a window."""

    def get_renderer(self) -> RendererAgg:
        """The renderer of the figure's size, made anew when that changes."""
        wanted = (*self.get_width_height(physical=True), self.figure.dpi)
        if getattr(self, "_made_for", None) != wanted:
            self._made_for, self._own = wanted, WindowRenderer(*wanted)
            self.renderer = self._own
        return self._own


class WindowRenderer(RendererAgg):
    """matplotlib's renderer, which sets each text once."""

    @override
    def draw_text(
        self,
        gc: Any,
        x: float,
        y: float,
        s: str,
        prop: FontProperties,
        angle: float,
        ismath: Any = False,
        mtext: Any = None,
    ) -> None:
        """`y` counts downwards."""
        if ismath:
            super().draw_text(gc, x, y, s, prop, angle, ismath, mtext)
            return
        colour = to_rgba(gc.get_rgb(), gc.get_alpha())
        left, above, image = _bitmap(s, FontKey(prop), self.dpi, angle, colour)
        bottom = int(self.height) - (round(y) - above) - image.shape[0]
        self.draw_image(gc, round(x) - left, bottom, image[::-1])

    @override
    def get_text_width_height_descent(self, s: str, prop: FontProperties, ismath: Any) -> tuple[float, float, float]:
        if ismath:
            return cast(tuple[float, float, float], super().get_text_width_height_descent(s, prop, ismath))
        return measured(s, FontKey(prop), self.dpi)

    def _get_font_height_metrics(self, prop: FontProperties) -> tuple[float | None, float | None, float | None]:
        """Ascent, descent and gap of a line; matplotlib looks all fonts through for each text where nobody says."""
        return line_of(FontKey(prop), self.dpi)


class FontKey:
    """Properties of a font as they are now: they can be changed later, which a key must not be."""

    def __init__(self, prop: FontProperties) -> None:
        self.prop = prop.copy()
        self._hash = hash(self.prop)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        return isinstance(other, FontKey) and self._hash == other._hash and self.prop == other.prop


@lru_cache(maxsize=4096)
def measured(words: str, font: FontKey, dpi: float) -> tuple[float, float, float]:
    """Width, height and descent in pixels."""
    found: tuple[float, float, float] = RendererAgg(1, 1, dpi).get_text_width_height_descent(words, font.prop, False)
    return found


@lru_cache(maxsize=256)
def line_of(font: FontKey, dpi: float) -> tuple[float | None, float | None, float | None]:
    """Ascent, descent and gap of a line in pixels; None where the font does not say."""
    file = get_font(findfont(font.prop))
    head, table = file.get_sfnt_table("head"), file.get_sfnt_table("OS/2")
    if head is None or table is None:
        return None, None, None
    scale = font.prop.get_size_in_points() * dpi / 72 / head["unitsPerEm"]
    return table["sTypoAscender"] * scale, -table["sTypoDescender"] * scale, table["sTypoLineGap"] * scale


@lru_cache(maxsize=1024)
def _bitmap(
    words: str, font: FontKey, dpi: float, angle: float, colour: tuple[float, float, float, float]
) -> tuple[int, int, Any]:
    """How far its left edge is left of the origin, its top above it, and the bitmap (rows, columns, RGBA)."""
    width, height, descent = measured(words, font, dpi)
    ascent = height - descent
    cosine, sine = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    corners = [(x * cosine - y * sine, x * sine + y * cosine) for x in (0, width) for y in (-descent, ascent)]
    left = _EDGE + math.ceil(-min(x for x, _ in corners))
    above = _EDGE + math.ceil(max(y for _, y in corners))
    right = _EDGE + math.ceil(max(x for x, _ in corners))
    below = _EDGE + math.ceil(-min(y for _, y in corners))
    paper = RendererAgg(left + right, above + below, dpi)
    pen = paper.new_gc()
    pen.set_foreground(colour, isRGBA=True)
    pen.set_alpha(colour[3])
    paper.draw_text(pen, left, above, words, font.prop, angle)
    return left, above, np.array(paper.buffer_rgba())
