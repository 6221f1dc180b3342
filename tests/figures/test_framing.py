"""Pictures framed otherwise, their pins and the user's own words on them."""

from __future__ import annotations

import io
import math

import pytest
from pypdf import PdfReader

from ragwort.demo import sampler_study
from ragwort.designs import Answer, answer_request
from ragwort.figures.by_words import wanted
from ragwort.figures.export import picture_bytes
from ragwort.figures.paper import SIZES
from ragwort.figures.pictures import Picture, Scene, picture_of, reported
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.map import Map
from ragwort.figures.shown.split import Split
from ragwort.figures.shown.trace import Trace
from ragwort.figures.steering.framing import moved, zoomed
from ragwort.figures.steering.sentences import SENTENCES, plain
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of


def scene_of(study: Study, aim: str = "reaction") -> Scene:
    """What its pictures are made from."""
    answer = outcome_of(study.aim(aim))
    assert isinstance(answer, Answer)
    return Scene(study.aim(aim), answer, study.limit)


def framed(study: Study, picture: str, ends: dict[str, float]) -> Study:
    """With other ends for the axes of the first aim's picture."""
    axes = {"x": "n"} if picture == "Curve" else {"x": "difference", "y": "n"}
    return edits.set_ends(study, "reaction", picture, ends, axes).study


def sentence(study: Study, shown: Picture) -> str:
    """That of the curve."""
    scene = scene_of(study)
    return plain(SENTENCES["Curve"].pieces(scene.aim, scene.answer, shown)).replace("\u00a0", " ")


def test_a_curve_looked_at_more_closely() -> None:
    """The place under the pointer stays; the sentence says from where to where; as close as four people, no closer."""
    study = sampler_study()
    shown = picture_of("Curve", scene_of(study))
    ends = zoomed(study.aim("reaction"), shown, (64.0, 0.5), 0.5)
    assert ends == {"x_low": 32.0, "x_high": 112.0}
    study = framed(study, "Curve", ends)
    near = picture_of("Curve", scene_of(study))
    assert isinstance(near, Curve)
    assert near.x.ends == (32.0, 112.0)
    assert near.series[0].x[0] == 32
    assert near.series[0].x[-1] == 112
    assert "staff per group from 32 to 112, as planned" in sentence(study, near)
    assert moved(study.aim("reaction"), near, (-50.0, 0.0)) == {"x_low": 0.0, "x_high": 80.0}
    assert zoomed(study.aim("reaction"), near, (64.0, 0.5), 0.01) == {}
    study = edits.reset_ends(study, "reaction", "Curve").study
    assert sentence(study, picture_of("Curve", scene_of(study))).startswith(
        "Power against staff per group from 0 to 160, "
    )


def test_a_map_is_framed_both_ways_and_never_beyond_what_is_allowed() -> None:
    """Both axes at once; a bound that is open is never reached."""
    study = edits.choose_for_picture(sampler_study(), "reaction", "Map", {"x": "difference", "y": "sd"}).study
    shown = picture_of("Map", scene_of(study))
    assert isinstance(shown, Map)
    aim = study.aim("reaction")
    wide = zoomed(aim, shown, (12.0, 24.0), 10.0)
    assert wide["x_low"] == -48.0
    assert wide["y_low"] > 0
    assert moved(aim, shown, (2.0, -100.0))["x_high"] == 20.0
    assert moved(aim, shown, (0.0, -100.0))["y_low"] == pytest.approx(0.012)


def test_pins_say_what_compute_answers() -> None:
    """On the curve of power and on any other; by name; those of another axis wait; the data have the same."""
    study = sampler_study()
    for at in (55, 80.0):
        study = edits.put_pin(study, "reaction", "Curve", "n", at).study
    study = edits.put_pin(study, "reaction", "Curve", "difference", 10.0).study
    study = edits.change_pin(study, "reaction", "Curve", 1, name="a full rota").study
    shown = picture_of("Curve", scene_of(study))
    given = {"difference": 12, "sd": 24}
    power = answer_request({"design": "two-means", "find": "power", "assumptions": {**given, "n": 110}})["power"]
    assert [flag.words.replace("\u00a0", " ") for flag in shown.flags] == [
        f"55 per group: {100 * power:.1f}%",
        "a full rota: 80 per group: 88.2%",
    ]
    assert sentence(study, shown).endswith(", read at 55 and 80.")
    study = edits.choose_for_picture(study, "reaction", "Curve", {"y": "n", "x": "difference"}).study
    trace = picture_of("Curve", scene_of(study))
    (flag,) = trace.flags
    enrol = answer_request(
        {"design": "two-means", "find": "n", "assumptions": {**given, "difference": 10, "dropout": 0.1}}
    )["n"]["enrol"]
    assert flag.words.replace("\u00a0", " ") == f"10 ms: {sum(enrol)} staff"
    assert flag.y == sum(enrol)


def test_a_pin_where_nothing_is_found_says_why() -> None:
    """And it is drawn all the same."""
    study = edits.choose_for_picture(sampler_study(), "reaction", "Curve", {"y": "n", "x": "difference"}).study
    study = edits.set_ends(study, "reaction", "Curve", {"x_low": -5.0, "x_high": 20.0}, {"x": "difference"}).study
    study = edits.put_pin(study, "reaction", "Curve", "difference", 0.0).study
    shown = picture_of("Curve", scene_of(study))
    assert math.isnan(shown.flags[0].y)
    assert "no effect there is nothing to detect" in shown.flags[0].words
    assert picture_bytes(shown, "svg").startswith(b"<?xml")


def test_no_more_pins_than_can_be_read() -> None:
    """The thirteenth is not put; one taken away is gone; a pin that is not there is no fault."""
    study = sampler_study()
    for at in range(14):
        study = edits.put_pin(study, "reaction", "Curve", "n", 10.0 + at).study
    assert len(study.aim("reaction").steer("Curve").pins) == 12
    study = edits.remove_pin(study, "reaction", "Curve", 0).study
    assert [pin.at for pin in study.aim("reaction").steer("Curve").pins][:2] == [11.0, 12.0]
    assert edits.change_pin(study, "reaction", "Curve", 40, at=5.0).study == study


def test_one_sided_beside_two_sided_with_the_kept_scenarios() -> None:
    """Each line is the core's; scenarios that are the aim's own line here are not drawn twice."""
    study = edits.choose_for_picture(sampler_study(), "reaction", "Curve", {"family": "sides"}).study
    shown = picture_of("Curve", scene_of(study))
    assert isinstance(shown, Trace)
    assert [line.label for line in shown.lines] == ["now", "one-sided", "Cautious SD", "Difference 10 ms"]
    for line, more in zip(shown.lines, ({}, {"sides": "greater"}, {"sd": 28}, {"difference": 10}), strict=True):
        for at in (5, 20):
            values = {"difference": 12, "sd": 24, "n": int(2 * line.x[at]), **more}
            answer = answer_request({"design": "two-means", "find": "power", "assumptions": values})
            assert line.y[at] == pytest.approx(100 * answer["power"], abs=1e-9)
    assert "also one-sided, with scenarios" in sentence(study, shown)


def test_kept_scenarios_are_drawn_where_they_are_asked_for() -> None:
    """Beside the aim as planned, unless it is to be without; beside the lines of an assumption, if it is to be with."""

    def labels(**changes: str) -> tuple[list[str], str]:
        study = edits.choose_for_picture(sampler_study(), "reaction", "Curve", changes).study
        shown = picture_of("Curve", scene_of(study))
        assert isinstance(shown, Trace | Curve)
        lines = shown.lines if isinstance(shown, Trace) else shown.series
        return [line.label for line in lines], sentence(study, shown)

    kept = [each.name for each in sampler_study().aim("reaction").scenarios]
    assert labels()[0] == ["now", *kept]
    assert labels(kept="without") == (
        ["now"],
        "Power against staff per group from 0 to 160, as planned, without scenarios.",
    )
    assert labels(family="sd")[0] == ["now", "20\u00a0ms", "28\u00a0ms"]
    with_both, said = labels(family="sd", kept="with")
    assert with_both == ["now", "20\u00a0ms", "28\u00a0ms", "Cautious SD", "Difference 10 ms"]
    assert said.endswith("also for standard deviation 20, 28 ms, with scenarios.")


def test_a_picture_asked_for_in_words_has_pins_costs_and_both_tests() -> None:
    """Whatever order the words come in."""
    study = sampler_study()
    aim = study.aim("reaction")
    curve = wanted(study, aim, "curve", {"pin": "10, 14", "x": "difference", "family": "sides", "kept": "without"})
    assert [flag.x for flag in curve.flags] == [10.0, 14.0]
    assert isinstance(curve, Trace)
    assert [line.label for line in curve.lines] == ["now", "one-sided"]
    split = wanted(study, aim, "split", {"cost": "120, 45", "y": "cost"})
    assert isinstance(split, Split)
    assert split.costs == (120.0, 45.0)


def worded(aim: Aim) -> Aim:
    """With the user's own words on its curve."""
    texts = {"title": "More staff, more power", "x": "nurses in each room", "caption": "What we showed the board."}
    return aim.changed(pictures={"Curve": aim.steer("Curve").changed(texts=texts)})


def test_own_words_stand_in_the_picture_its_file_and_the_report() -> None:
    """What is not said anew is said as ever."""
    scene = scene_of(sampler_study().with_aim(worded(sampler_study().aim("reaction"))))
    shown = picture_of("Curve", scene)
    assert [shown.words_for(part) for part in ("title", "x", "y")] == [
        "More staff, more power",
        "nurses in each room",
        "power, %",
    ]
    text = PdfReader(io.BytesIO(picture_bytes(shown, "pdf"))).pages[0].extract_text()
    assert "More staff, more power" in text
    assert "nurses in each room" in text
    assert b"What we showed the board." in picture_bytes(shown, "svg")
    assert "What we showed the board." not in text
    alone = PdfReader(io.BytesIO(picture_bytes(shown, "pdf", alone=True))).pages[0]
    assert "What we showed the board." in alone.extract_text()
    assert 72 * 3.9 + 15 < float(alone.mediabox.height) < 72 * 3.9 + 40
    assert reported(scene)[0][1].words_for("caption") == "What we showed the board."


@pytest.mark.parametrize("size", SIZES)
def test_a_picture_is_as_large_as_what_it_is_for(size: str) -> None:
    """In points of the page; letters as large as they are read there."""
    shown = picture_of("Curve", scene_of(sampler_study()))
    box = PdfReader(io.BytesIO(picture_bytes(shown, "pdf", size=size))).pages[0].mediabox
    assert (float(box.width), float(box.height)) == pytest.approx((72 * SIZES[size].width, 72 * SIZES[size].height))
