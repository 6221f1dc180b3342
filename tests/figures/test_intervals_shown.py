"""The pictures of aims that end with an interval: the curve of the half width, and how wide intervals come out."""

from __future__ import annotations

import io

import numpy as np
import pytest

from ragwort.designs import Answer, Design, all_designs, design_named
from ragwort.figures.export import picture_bytes
from ragwort.figures.pictures import PICTURE_FORMATS, Scene, picture_of, pictures_for
from ragwort.figures.shown.rehearsed import Estimates
from ragwort.figures.shown.trace import Trace
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of

PRECISE = [design for design in all_designs() if not design.tested]


def made(design: Design) -> tuple[Aim, Answer]:
    """A new aim with its answer."""
    aim = edits.new_aim(design, "Aim")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    return aim, answer


@pytest.mark.parametrize("design", PRECISE, ids=lambda design: design.id)
def test_each_has_a_curve_of_its_half_width_and_their_distribution(design: Design) -> None:
    """And nothing that needs a test; what is seen in made-up studies is what the formula says."""
    aim, answer = made(design)
    assert pictures_for(answer)[:2] == ("Curve", "Half widths")
    assert not {"Errors", "Map", "Spread", "Split"} & set(pictures_for(answer))
    curve, widths = (picture_of(name, Scene(aim, answer)) for name in ("Curve", "Half widths"))
    assert isinstance(curve, Trace)
    assert curve.find == "effect"
    assert isinstance(widths, Estimates)
    assert sum(widths.found) / widths.replicates == pytest.approx(answer.power, abs=0.02)
    assert sum(widths.found) + sum(widths.missed) == widths.replicates
    for kind in PICTURE_FORMATS:
        assert len(io.BytesIO(picture_bytes(widths, kind)).getvalue()) > 100


def test_moving_the_point_asks_for_the_half_width_there() -> None:
    """With a size to be found; with a chance the chance moves, and of a given size the size."""
    aim, _ = made(design_named("precision-mean"))
    study = Study(aims=(aim,))
    moved = edits.drag_to_step(study, aim.id, 100).study.aims[0]
    found = outcome_of(moved)
    assert isinstance(found, Answer)
    assert found.total == 100
    assert moved.values()["half_width"] >= found.effect["half_width"]
    assured = edits.set_value(study, aim.id, "goal", "assured").study
    further = edits.drag_to_step(assured, aim.id, 70).study.aims[0]
    again = outcome_of(further)
    assert isinstance(again, Answer)
    assert again.total == 70
    assert further.values()["half_width"] == aim.values()["half_width"]


def test_a_size_that_is_typed_finds_the_half_width_from_then_on() -> None:
    """As planned; with a chance the chance is found."""
    aim, _ = made(design_named("precision-mean"))
    study = Study(aims=(aim,))
    assert edits.drag_over(study, aim.id, {"n": 80}).study.aims[0].find == "effect"
    assured = edits.set_value(study, aim.id, "goal", "assured").study
    assert edits.drag_over(assured, aim.id, {"n": 80}).study.aims[0].find == "power"


def test_large_studies_are_made_up_less_often() -> None:
    """So that the picture comes, whatever is typed."""
    aim, _ = made(design_named("precision-mean"))
    large = edits.set_value(Study(aims=(aim,)), aim.id, "half_width", 0.02).study.aims[0]
    answer = outcome_of(large)
    assert isinstance(answer, Answer)
    picture = picture_of("Half widths", Scene(large, answer))
    assert isinstance(picture, Estimates)
    assert 20 <= picture.replicates < 10_000
    assert np.isfinite(picture.edges).all()


def test_a_limit_that_is_asked_for_is_not_dragged_into_a_half_width() -> None:
    """The point is of half widths: what was stated instead of one stays as it is."""
    aim, _ = made(design_named("precision-proportion"))
    way = design_named("precision-proportion").ways[0][1]
    study = edits.choose_way(Study(aims=(aim,)), aim.id, way).study
    moved = edits.drag_to_step(study, aim.id, 500).study.aims[0]
    assert moved.values() == study.aims[0].values()
    assert "half_width" not in moved.values()
