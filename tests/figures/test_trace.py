"""The curve of anything against anything: its points are the core's answers."""

from __future__ import annotations

import math

import numpy as np
import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, all_designs, answer_request
from ragwort.designs.design import Design
from ragwort.figures.pictures import Picture, Scene, picture_of
from ragwort.figures.shown import trace as traces
from ragwort.figures.shown.asked import names_across
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.shown import Pointer
from ragwort.figures.shown.trace import Trace
from ragwort.figures.steering.sentences import SENTENCES, plain
from ragwort.figures.steering.typed import values_from
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.numbers import NumberError


def drawn(study: Study, aim: str = "reaction", kept: Picture | None = None, **words: str) -> Picture:
    """The curve of an aim, asked for by the words of its sentence."""
    study = edits.choose_for_picture(study, aim, "Curve", words).study if words else study
    outcome = outcome_of(study.aim(aim))
    assert isinstance(outcome, Answer)
    return picture_of("Curve", Scene(study.aim(aim), outcome, study.limit, kept))


def answer(find: str, **values: float) -> dict[str, float]:
    """What the core answers for the demo's first aim with other values."""
    given = {"difference": 12, "sd": 24, "power": 0.8, **values}
    return answer_request({"design": "two-means", "find": find, "assumptions": given})


def test_sample_size_against_the_effect_for_a_range() -> None:
    """Enrolment along the difference, for the SD as planned and at both ends of its range."""
    trace = drawn(sampler_study(), y="n", x="difference", family="sd")
    assert isinstance(trace, Trace)
    assert [line.label.replace("\u00a0", " ") for line in trace.lines] == ["now", "20 ms", "28 ms"]
    for line, sd in zip(trace.lines, (24, 20, 28), strict=True):
        for at in (0, 16, 32):
            found = answer("n", difference=line.x[at], sd=sd, dropout=0.1)
            assert line.y[at] == sum(found["n"]["enrol"])
    assert trace.point == (12.0, 144.0)
    assert trace.target is None
    assert trace.reading(Pointer(12.0, 140.0, (0.02, 1.0))).words.replace("\u00a0", " ") == "now, 12 ms: 144 staff"
    assert len(trace.rows()) == 1 + 3 * 33


def test_lines_for_typed_values() -> None:
    """In any of the ways to write several; those that are out of bounds have no line; seven are too many."""
    sd = next(each for each in all_designs() if each.id == "two-means").assumption("sd")
    for text in ("20, 24, 28 ms", "20 24 28", "20,24,28", "20; 24; 28", "20, 24 and 28"):
        assert values_from(sd, text, "ms") == (20.0, 24.0, 28.0)
    assert values_from(sd, "20.5, 24.25") == (20.5, 24.25)
    for text, fault in (
        ("", "Type the values"),
        ("1 2 3 4 5 6 7", "At most 6"),
        ("0", "above 0"),
        ("x", "not a number"),
    ):
        with pytest.raises(NumberError, match=fault):
            values_from(sd, text)
    study = edits.choose_for_picture(sampler_study(), "reaction", "Curve", {"y": "power", "x": "difference"}).study
    study = edits.set_in_picture(study, "reaction", "Curve", "values", {"family": "sd", "values": (22, 26, -1)}).study
    made = drawn(study)
    assert isinstance(made, Trace)
    assert [line.label.replace("\u00a0", " ") for line in made.lines] == ["now", "22 ms", "26 ms"]
    assert made.target == 80.0
    line = made.lines[1]
    assert line.y[3] == pytest.approx(100 * answer("power", difference=line.x[3], sd=22, n=128)["power"])


def test_the_smallest_effect_against_the_sample_size() -> None:
    """Of the sizes that the design can have."""
    trace = drawn(sampler_study(), y="effect", x="n")
    assert isinstance(trace, Trace)
    for at in (5, 20):
        found = answer("effect", n=2 * int(trace.lines[0].x[at]))
        assert trace.lines[0].y[at] == pytest.approx(found["answer"], rel=1e-9)


def test_a_line_ends_where_nothing_is_found_and_says_why() -> None:
    """No wall and no zero: a difference of 0 has no sample size."""
    study = edits.set_value(sampler_study(), "reaction", "difference", 1.5).study
    study = edits.choose_for_picture(study, "reaction", "Curve", {"y": "n", "x": "difference"}).study
    study = edits.set_ends(study, "reaction", "Curve", {"x_low": 0.0}, {"x": "difference"}).study
    trace = drawn(study)
    assert isinstance(trace, Trace)
    assert math.isnan(trace.lines[0].y[0])
    assert np.isfinite(trace.lines[0].y[1:]).all()
    assert "nothing is found at 0 ms: With no effect there is nothing to detect" in trace.says


def test_what_is_asked_for_by_default_is_the_curve_of_power() -> None:
    """Also where the words ask for what cannot be: a design that has changed."""
    for words in ({}, {"y": "power", "x": "n"}, {"x": "icc", "family": "icc"}, {"y": "icc"}):
        assert isinstance(drawn(sampler_study(), **words), Curve)


def test_lines_are_kept_while_only_the_point_moves() -> None:
    """A drag along the axis computes the point alone."""
    trace = drawn(sampler_study(), y="n", x="difference")
    study = edits.choose_for_picture(sampler_study(), "reaction", "Curve", {"y": "n", "x": "difference"}).study
    moved = drawn(edits.set_value(study, "reaction", "difference", 11).study, kept=trace)
    assert isinstance(trace, Trace)
    assert isinstance(moved, Trace)
    assert moved.lines is trace.lines
    assert moved.y_ends == trace.y_ends
    assert moved.point == (11.0, float(sum(answer("n", difference=11, dropout=0.1)["n"]["enrol"])))


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_every_design_has_a_curve_of_all_it_finds(design: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    """Against the first and the last that it depends on; the sentence says which."""
    monkeypatch.setattr(traces, "POINTS", 3)  # exact tests take their time
    study = Study(aims=(edits.new_aim(design, "Aim 1"),))
    aim = study.aims[0]
    outcome = outcome_of(aim)
    assert isinstance(outcome, Answer)
    for find in design.finds_with(aim.values()):
        names = names_across(aim, outcome, find)
        for x in {names[0], names[-1]}:
            made = drawn(study, aim.id, y=find, x=x)
            if isinstance(made, Trace):
                assert (made.find, made.x.name) == (find, x)
                assert np.isfinite(made.lines[0].y).any(), (find, x)
                words = plain(SENTENCES["Curve"].pieces(aim, outcome, made))
                assert " against " in words
