"""Texts kept as bitmaps look as matplotlib sets them, wherever they stand on whole pixels."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.figure import Figure

from ragwort.figures.drawing.letters import WindowCanvas
from ragwort.figures.drawing.pencil import font_families

TEXTS = ("Power 80%, gjpqy (ÄÉ)", "η² of 0.06", "two\nlines")


def sheet(canvas: type[FigureCanvasAgg], angle: float, dpi: float = 100, **style: Any) -> tuple[Any, list[Any]]:
    """The bitmap of some texts (rows, columns, RGBA) and where each stands."""
    figure = Figure(figsize=(4, 4), dpi=dpi, facecolor="#fdfcf7")
    canvas(figure)
    style = {
        "family": font_families(),
        "rotation": angle,
        "rotation_mode": "anchor",
        "va": "baseline",
        "color": "#8a6d00",
        **style,
    }
    made = [figure.text((60 + 100 * k) / 400, 200 / 400, words, **style) for k, words in enumerate(TEXTS)]
    figure.canvas.draw()
    return np.array(figure.canvas.buffer_rgba()).astype(int), [each.get_window_extent().bounds for each in made]


@pytest.mark.parametrize("angle", [0, 90])
@pytest.mark.parametrize("style", [{}, {"weight": 600, "fontsize": 13.0}, {"alpha": 0.5}])
def test_words_look_as_they_do_in_files(angle: float, style: dict[str, Any]) -> None:
    """Up to what mixing twice rounds; they take as much room."""
    (ours, places), (theirs, others) = (sheet(each, angle, **style) for each in (WindowCanvas, FigureCanvasAgg))
    assert np.ptp(theirs[..., 0]) > 50
    assert np.mean(np.abs(ours - theirs)) < 0.12
    np.testing.assert_allclose(places, others)


def test_a_change_of_colour_size_or_resolution_is_seen() -> None:
    """Nothing is kept that would look otherwise."""
    usual, _ = sheet(WindowCanvas, 0)
    assert not np.array_equal(usual, sheet(WindowCanvas, 0, color="#203040")[0])
    assert not np.array_equal(usual, sheet(WindowCanvas, 0, fontsize=12.0)[0])
    assert sheet(WindowCanvas, 0, dpi=200)[0].shape == (800, 800, 4)
