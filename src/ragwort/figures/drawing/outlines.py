"""Texts as outlines, for SVG files: the same words stand in picture after picture, and each is set once.

What is written is what matplotlib's own canvas writes, to the byte; only what it would work out anew is kept.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import Any, cast

from matplotlib.backends.backend_agg import FigureCanvasAgg, RendererAgg
from matplotlib.backends.backend_mixed import MixedModeRenderer
from matplotlib.backends.backend_svg import RendererSVG
from matplotlib.font_manager import FontProperties, findfont, get_font
from matplotlib.text import TextToPath
from typing_extensions import override

from ragwort.figures.drawing.letters import FontKey, line_of, measured

Files = tuple[str, ...]
Size = tuple[float, float, float]  # width, height and descent
Glyph = tuple[str, float, float, float]  # its name, where it stands, and how much larger than it is kept
Setting = tuple[list[Glyph], Any, list[Any]]  # glyphs, outlines by name, rules (of mathematics)


class FileCanvas(FigureCanvasAgg):
    """A figure that is written as SVG; as bitmaps it is matplotlib's own."""

    def get_renderer(self) -> RendererAgg:
        """What measures texts while a picture is laid out."""
        wanted = (*self.get_width_height(physical=True), self.figure.dpi)
        if getattr(self, "_made_for", None) != wanted:
            self._made_for, self._own = wanted, _Measuring(*wanted)
            self.renderer = self._own
        return self._own

    def print_svg(
        self,
        filename: Any,
        *,
        bbox_inches_restore: Any = None,
        metadata: Mapping[str, Any] | None = None,
        **settled: Any,
    ) -> None:
        """Write to an open file of bytes, as `FigureCanvasSVG.print_svg` does; `settled` is what the figure knows."""
        import codecs

        dpi, (width, height) = self.figure.dpi, self.figure.get_size_inches()
        self.figure.dpi = 72
        own = _Outlining(72 * width, 72 * height, codecs.getwriter("utf-8")(filename), image_dpi=dpi, metadata=metadata)
        paper: Any = MixedModeRenderer(self.figure, width, height, dpi, own, bbox_inches_restore=bbox_inches_restore)
        self.figure.draw(paper)
        paper.finalize()


class _Measuring(RendererAgg):
    """matplotlib's renderer, which measures each text once."""

    @override
    def get_text_width_height_descent(self, s: str, prop: FontProperties, ismath: Any) -> Size:
        if ismath:
            return cast(Size, super().get_text_width_height_descent(s, prop, ismath))
        return measured(s, FontKey(prop), self.dpi)

    def _get_font_height_metrics(self, prop: FontProperties) -> tuple[float | None, float | None, float | None]:
        return line_of(FontKey(prop), self.dpi)


class _Outlining(RendererSVG):
    """matplotlib's renderer of SVG, which measures and outlines each text once."""

    def __init__(self, width: float, height: float, file: Any, **given: Any) -> None:
        super().__init__(width, height, file, **given)
        self._text2path = _Outlines()

    def _get_font_height_metrics(self, prop: FontProperties) -> tuple[float | None, float | None, float | None]:
        return line_of(FontKey(prop), 72.0)


class _Outlines(TextToPath):
    def __init__(self) -> None:
        super().__init__()
        self._files: dict[int, Files] = {}  # of the fonts that were asked for

    def _get_font(self, prop: FontProperties) -> Any:
        files = _files_of(FontKey(prop))
        font = _font_of(files)
        self._files[id(font)] = files
        return font

    @override
    def get_text_width_height_descent(self, s: str, prop: FontProperties, ismath: Any) -> Size:
        if ismath:
            return super().get_text_width_height_descent(s, prop, ismath)
        return _outlines_size(s, FontKey(prop))

    @override
    def get_glyphs_with_font(
        self,
        font: Any,
        s: str,
        glyph_map: Any = None,
        return_new_glyphs_only: bool = False,
        *,
        features: Any = None,
        language: Any = None,
    ) -> Setting:
        files = self._files.get(id(font))
        if features or language or files is None:
            shaped: Any = {"features": features, "language": language}
            return cast(Setting, super().get_glyphs_with_font(font, s, glyph_map, return_new_glyphs_only, **shaped))
        known = {} if glyph_map is None else glyph_map
        glyphs, paths = _set(files, s)
        new = {name: path for name, path in paths.items() if name not in known}
        return glyphs, new if return_new_glyphs_only else {**known, **new}, []


_PLAIN = TextToPath()


@lru_cache(maxsize=256)
def _files_of(key: FontKey) -> Files:
    """The files of a font and of those that stand in for it."""
    found: list[str] = []
    for family in key.prop.get_family():
        alone = key.prop.copy()
        alone.set_family(family)
        found.append(findfont(alone))
    return tuple(found)


def _font_of(files: Files) -> Any:
    """This thread's own; others may have made it another size since."""
    font = get_font(files)
    font.set_size(_PLAIN.FONT_SCALE, _PLAIN.DPI)
    return font


@lru_cache(maxsize=4096)
def _outlines_size(words: str, key: FontKey) -> Size:
    """Width, height and descent in points."""
    found: Size = _PLAIN.get_text_width_height_descent(words, key.prop, False)
    return found


@lru_cache(maxsize=4096)
def _set(files: Files, words: str) -> tuple[list[Glyph], dict[str, Any]]:
    """The glyphs of some words and their outlines by name, the same in every thread."""
    glyphs, paths, _ = _PLAIN.get_glyphs_with_font(_font_of(files), words)
    return glyphs, dict(paths)
