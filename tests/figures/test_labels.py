"""Labels on lines cover no other label, no point, and no other line where they can help it."""

from __future__ import annotations

import numpy as np
import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer
from ragwort.figures.drawing import Look, boxes_of_texts, draw, draw_frame, drawing_of, new_figure
from ragwort.figures.labels import Box, dense
from ragwort.figures.palette import LIGHT
from ragwort.figures.pictures import Picture, Scene, picture_of, pictures_for
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of

SIZES = ((7.4, 4.4), (5.2, 3.0))
STUDY = sampler_study()


def shown(kind: str, study: Study, aim: str = "reaction") -> Picture:
    """A picture of an aim of a study."""
    outcome = outcome_of(study.aim(aim))
    assert isinstance(outcome, Answer)
    return picture_of(kind, Scene(study.aim(aim), outcome, study.limit))


def names_over(picture: Picture, size: tuple[float, float]) -> list[tuple[str, str]]:
    """Which words of a drawing lie over each other; numbers of scales stand apart by themselves."""
    axes = draw(picture, Look(LIGHT), *size).axes[0]
    texts = [text for text in axes.texts if text.get_visible() and text.get_text()]
    boxes = boxes_of_texts(list(texts))
    words = [text.get_text() for text in texts]
    pairs = [(i, j) for i in range(len(boxes)) for j in range(i)]
    return [(words[i], words[j]) for i, j in pairs if _inner(boxes[i]).overlaps(_inner(boxes[j]))]


def _inner(box: Box) -> Box:
    return Box(box.left + 2, box.bottom + 2, box.right - 2, box.top - 2)


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("aim", [aim.id for aim in STUDY.aims])
def test_no_words_of_a_map_lie_over_others(aim: str, size: tuple[float, float]) -> None:
    """The point's label, those of the lines, the names of scenarios, the limit's words."""
    outcome = outcome_of(STUDY.aim(aim))
    assert isinstance(outcome, Answer)
    if "Map" in pictures_for(outcome):
        assert names_over(shown("Map", STUDY, aim), size) == []


def test_a_dragged_point_reads_where_no_label_is_covered() -> None:
    """What was placed before stays; the point's own label goes to another side where it can."""
    look, covered, apart = Look(LIGHT), 0, 0
    _, axes = new_figure(7.4, 4.4, look)
    made = shown("Map", STUDY)
    draw_frame(axes, made, look)
    names = boxes_of_texts(drawing_of(made).kept_and_named(axes, made, look))
    for difference in np.arange(8, 17, 0.25):
        moved = shown("Map", edits.set_value(STUDY, "reaction", "difference", float(difference)).study)
        axes.set(xlim=made.x.ends, ylim=made.y.ends)  # type: ignore[attr-defined]
        label = boxes_of_texts(drawing_of(moved).live(axes, moved, look, names))[0]
        covered += any(label.overlaps(name) for name in names)
        apart += 1
    assert covered <= apart // 10


def test_the_name_of_a_line_is_kept_off_the_others() -> None:
    """In a family of lines that lie close together."""
    chosen = {"x": "difference", "y": "n", "family": "sd"}
    study = edits.choose_for_picture(STUDY, "reaction", "Curve", chosen).study
    made = shown("Curve", study)
    axes = draw(made, Look(LIGHT), 7.4, 4.4).axes[0]
    lines = [np.column_stack([each.x, each.y]) for each in made.lines]  # type: ignore[attr-defined]
    pixels = [dense(axes.transData.transform(each[np.isfinite(each).all(axis=1)])) for each in lines]
    for text in axes.texts:
        if text.get_text() in {each.label for each in made.lines}:  # type: ignore[attr-defined]
            box = boxes_of_texts([text])[0]
            assert sum(_inner(box).holds_any(each) for each in pixels) <= 1


@pytest.mark.parametrize("kind", ["Curve", "Map", "Drivers"])
@pytest.mark.parametrize("aim", [aim.id for aim in STUDY.aims])
def test_in_a_small_picture_no_words_leave_it(kind: str, aim: str) -> None:
    """Nor do they run over those of the scale, or over each other."""
    made = shown(kind, STUDY, aim)
    figure = draw(made, Look(LIGHT), 3.7, 1.7)
    texts = [text for text in figure.axes[0].texts if text.get_visible() and text.get_text()]
    for box in boxes_of_texts(list(texts)):
        assert box.left >= -1
        assert box.right <= figure.bbox.width + 1
    if kind == "Drivers":
        assert names_over(made, (3.7, 1.7)) == []


@pytest.mark.parametrize("size", SIZES)
def test_names_of_scenarios_keep_off_what_is_said_of_the_limit(size: tuple[float, float]) -> None:
    assert names_over(shown("Curve", STUDY), size) == []
