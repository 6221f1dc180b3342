"""What is kept from one drawing to the next changes no byte of a file."""

from __future__ import annotations

import io
from typing import Any

import pytest
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.backends.backend_svg import FigureCanvasSVG
from matplotlib.figure import Figure

from ragwort.demo import sampler_study
from ragwort.designs import Answer
from ragwort.figures.drawing import Look, draw
from ragwort.figures.drawing.outlines import FileCanvas
from ragwort.figures.drawing.pencil import font_families, new_figure
from ragwort.figures.palette import PRINT
from ragwort.figures.pictures import Picture, Scene, picture_of, pictures_for
from ragwort.study.results.outcome import outcome_of

TEXTS = (
    "Power 80%, gjpqy (ÄÉ)",
    "η² ≥ 0.06 \u25af ⅓",
    "two\nlines",
    "Power 80%, gjpqy (ÄÉ)",
    r"$\alpha^2$",
)


def written(figure: Figure) -> bytes:
    """The figure as SVG."""
    file = io.BytesIO()
    figure.savefig(file, format="svg", metadata={"Date": None})
    return file.getvalue()


def texts_on(canvas: type[Any], **style: Any) -> Figure:
    """Some words, on a figure that this canvas writes."""
    figure = Figure(figsize=(4, 4), dpi=100)
    canvas(figure)
    for place, words in enumerate(TEXTS):
        figure.text(0.1, 0.1 + 0.15 * place, words, family=font_families(), **style)
    return figure


@pytest.mark.parametrize("style", [{}, {"weight": 600, "fontsize": 13.0}, {"rotation": 30, "alpha": 0.5}])
def test_texts_are_written_as_matplotlib_writes_them(style: dict[str, Any]) -> None:
    """Also the second time, and in another size after that."""
    for size in (8.0, 8.0, 11.0):
        given = {"fontsize": size, **style}
        assert written(texts_on(FileCanvas, **given)) == written(texts_on(FigureCanvasSVG, **given))


@pytest.mark.parametrize("style", [{}, {"weight": 600, "fontsize": 13.0}, {"rotation": 30}])
def test_texts_are_measured_as_matplotlib_measures_them(style: dict[str, Any]) -> None:
    """While a picture is laid out."""
    ours, theirs = (texts_on(each, **style).texts for each in (FileCanvas, FigureCanvasAgg))
    assert [each.get_window_extent().bounds for each in ours] == [each.get_window_extent().bounds for each in theirs]


def drawn_in_the_demo() -> list[Picture]:
    """One picture of each kind that the demo study has, from the last to the first and back."""
    found: dict[str, Picture] = {}
    for aim in sampler_study().aims:
        answer = outcome_of(aim)
        if isinstance(answer, Answer):
            found.update((name, picture_of(name, Scene(aim, answer))) for name in pictures_for(answer))
    return [*reversed(found.values()), *found.values()]


def test_a_used_sheet_is_as_good_as_a_new_one() -> None:
    """Nothing of the picture before stays, and nothing of it moves the next."""
    look, size = Look(PRINT), (6.4, 3.9)
    used = new_figure(*size, look)[0]
    pictures = drawn_in_the_demo()
    assert len(pictures) > 10
    for picture in pictures:
        assert written(draw(picture, look, *size, used=used)) == written(draw(picture, look, *size))
