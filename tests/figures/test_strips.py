"""Strips of a pilot file's groups: what is drawn, where, and that it all fits."""

from __future__ import annotations

import numpy as np
import pytest

from ragwort.figures.drawing import Look
from ragwort.figures.palette import DARK, LIGHT
from ragwort.figures.shown.strips import scale_of, strips
from ragwort.pilot import Measured, Sorted
from ragwort.pilot.parts import SHOWN, measured

RNG = np.random.default_rng(12)
FEW = measured("few", RNG.normal(400, 24, 40), "score")
MANY = measured("many", RNG.normal(420, 24, SHOWN + 1), "score")
SHARES = (Sorted("a", 40, 0, (("yes", 10), ("no", 30))), Sorted("b", 0, 3, (("yes", 0), ("no", 0))))


def test_numbers_share_a_scale_that_holds_them_all() -> None:
    """A little room at both ends; shares go from 0 to 1."""
    low, high = scale_of((FEW, MANY))
    assert low < min(FEW.five[0], MANY.five[0])
    assert high > max(FEW.five[-1], MANY.five[-1])
    assert scale_of(SHARES) == (0, 1)


def test_each_value_is_a_dot_inside_its_row_and_many_are_a_silhouette() -> None:
    """Dots at their values; bars mirrored about the middle of the row; mean and median where they are."""
    (axes,) = strips((FEW, MANY), 4, 0.3, Look(LIGHT)).axes
    dots = next(line for line in axes.lines if line.get_marker() == ".")
    assert sorted(dots.get_xdata()) == sorted(FEW.values)
    assert 0 < min(dots.get_ydata()) < max(dots.get_ydata()) < 1
    (silhouette,) = (each for each in axes.collections)
    heights = silhouette.get_paths()[0].vertices[:, 1]
    assert heights.min() + heights.max() == pytest.approx(3)  # about 1.5, the middle of the second row
    means = [float(line.get_xdata()[0]) for line in axes.lines if line.get_marker() == "o"]
    assert means == [FEW.mean, MANY.mean]
    assert isinstance(MANY, Measured)
    assert sum(MANY.bars) == MANY.n


def test_shares_fill_their_bar() -> None:
    """Each category as wide as its share; a group in which nobody answered has none."""
    (axes,) = strips(SHARES, 4, 0.3, Look(DARK)).axes
    widths = [bar.get_width() for bar in axes.patches]
    assert widths == [0.25, 0.75, 0, 0]


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=lambda palette: palette.name)
def test_strips_are_drawn_in_the_colours_of_the_theme(palette: object) -> None:
    """On nothing, so that the page shows through; the ink of the theme is there."""
    figure = strips((FEW,), 4, 0.3, Look(palette))  # type: ignore[arg-type]
    figure.canvas.draw()
    pixels = np.asarray(figure.canvas.buffer_rgba())
    assert pixels.shape == (30, 400, 4)
    assert (pixels[..., 3] == 0).mean() > 0.3
    ink = tuple(int(palette.ink[at : at + 2], 16) for at in (1, 3, 5))  # type: ignore[attr-defined]
    assert (pixels[..., :3] == ink).all(axis=-1).any()
