"""The map: its powers are the core's, its lines lie where the power is what they say, its point is the design."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, all_designs, answer_request, design_named
from ragwort.figures.pictures import Scene, picture_of, pictures_for, reported
from ragwort.figures.shown import map as maps
from ragwort.figures.shown.map import DRAGGED, Map
from ragwort.figures.shown.shown import Pointer
from ragwort.figures.steering.sentences import SENTENCES, plain
from ragwort.figures.steering.typed import read_end
from ragwort.study import edits
from ragwort.study.document.aim import Entry
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.numbers import NumberError


def map_in(study: Study, kept: Map | None = None, aim: str = "reaction", steady: bool = False) -> Map:
    """The map of an aim of a study."""
    outcome = outcome_of(study.aim(aim))
    assert isinstance(outcome, Answer)
    made = picture_of("Map", Scene(study.aim(aim), outcome, study.limit, kept, steady))
    assert isinstance(made, Map)
    return made


def power(**values: float) -> float:
    """What the core answers."""
    given = {"difference": 12, "sd": 24, **values}
    return float(answer_request({"design": "two-means", "find": "power", "assumptions": given})["power"])


def test_the_map_is_what_the_core_answers() -> None:
    """Difference across, staff per group up; the lines, the point, the scenarios that lie on it, and the limit."""
    made = map_in(sampler_study())
    assert (made.x.label, made.y.label, made.x.ends) == ("difference, ms", "staff per group, analysed", (6.0, 18.0))
    for row, column in ((5, 3), (30, 30), (60, 55)):
        n = int(2 * made.at_y[row])
        assert made.z[row, column] == pytest.approx(power(difference=made.at_x[column], n=n), abs=1e-12)
    for contour in made.contours:
        x, y = contour.pieces[0][len(contour.pieces[0]) // 2]
        near = [power(difference=x, n=2 * size) for size in (int(y), int(y) + 1)]
        assert near[0] - 0.01 <= contour.level <= near[1] + 0.01
    assert [contour.label for contour in made.contours if contour.target] == ["80%"]
    assert made.point == (12.0, 64.0)
    assert [name for *_, name in made.named] == ["Difference 10 ms", "Power 90%"]
    assert made.limit == 108.0


def test_another_target_draws_the_lines_anew() -> None:
    """Its own moves though no other does."""
    study = sampler_study()
    made = map_in(study)
    moved = map_in(edits.set_value(study, "reaction", "power", 0.83).study, made)
    assert moved.basis == made.basis
    assert moved.frame() == made.frame()
    assert moved.kept() != made.kept()


def test_a_drag_has_fewer_places_and_its_end_has_all_again() -> None:
    """Unless the finer ones are there already."""
    study = sampler_study()
    fine = map_in(study)
    wider = edits.set_value(study, "reaction", "sd", 26).study
    dragged = map_in(wider, fine, steady=True)
    assert len(dragged.at_x) == DRAGGED < len(fine.at_x)
    assert len(map_in(wider, dragged).at_x) == len(fine.at_x)
    assert map_in(study, fine, steady=True).z is fine.z


def test_the_map_is_read_under_the_pointer() -> None:
    """Between the values computed, a scenario by its name, and nothing outside."""
    made = map_in(sampler_study())
    assert made.reading(Pointer(12.0, 64.0, (0.02, 0.5))).words == "12\u00a0ms, 64 per group: about 80%"
    assert made.reading(Pointer(10.05, 92.0, (0.02, 0.5))).words.startswith("Difference 10 ms: ")
    assert made.reading(Pointer(3.0, 64.0, (0.02, 0.5))) is None


def test_two_assumptions_and_their_ends() -> None:
    """As the sentence asks: names, ends that were typed, axes that change places; kept powers are not computed anew."""
    study = edits.choose_for_picture(sampler_study(), "reaction", "Map", {"x": "sd", "y": "difference"}).study
    study = edits.set_ends(study, "reaction", "Map", {"x_low": 12.0}, {"x": "sd"}).study
    made = map_in(study)
    assert (made.x.name, made.y.name, made.x.ends[0]) == ("sd", "difference", 12.0)
    assert made.z[3, 4] == pytest.approx(power(difference=made.at_y[3], sd=made.at_x[4], n=128), abs=1e-12)
    sentence = SENTENCES["Map"]
    aim, answer = study.aim("reaction"), outcome_of(study.aim("reaction"))
    assert isinstance(answer, Answer)
    said = plain(sentence.pieces(aim, answer, made)).replace("\u00a0", " ")
    assert said == "Power over standard deviation from 12 to 30 ms and difference from 6 to 18 ms."
    assert sentence.chosen(aim, answer, made, "x", "difference") == {"x": "difference", "y": "sd"}
    with pytest.raises(NumberError, match="lower to the higher"):
        read_end(aim, made, "x_high", "12")
    moved = map_in(edits.set_value(study, "reaction", "difference", 13).study, made)
    assert (moved.z is made.z) == (moved.basis == made.basis)


def test_the_report_has_a_map_that_was_asked_for() -> None:
    """And none where nobody did."""
    for aim, count in ((sampler_study().aim("alertness"), 0), (sampler_study().aim("reaction"), 1)):
        outcome = outcome_of(aim)
        assert isinstance(outcome, Answer)
        assert sum(isinstance(shown, Map) for _, shown in reported(Scene(aim, outcome))) == count


@pytest.mark.parametrize("design", [each for each in all_designs() if each.tested], ids=lambda design: design.id)
def test_every_design_has_a_map_of_any_two_axes(design: object, monkeypatch: pytest.MonkeyPatch) -> None:
    """For whatever is found; the point lies within, where the power is the answer's."""
    monkeypatch.setattr(maps, "PLACES", 13)
    study = Study(aims=(edits.new_aim(design, "Aim 1"),))
    aim_id = study.aims[0].id
    assert isinstance(outcome_of(study.aims[0]), Answer)  # at hand from here on
    for find in reversed(design.finds_with(study.aims[0].values())):
        asked = edits.move_flower(study, aim_id, find).study
        made = map_in(asked, aim=aim_id)
        assert np.isfinite(made.z).any()
    outcome = outcome_of(asked.aim(aim_id))
    names = [name for name, *_ in SENTENCES["Map"].offers(asked.aim(aim_id), outcome, made, "x")]
    for x, y in pairwise(names):
        shown = map_in(edits.choose_for_picture(asked, aim_id, "Map", {"x": x, "y": y}).study, aim=aim_id)
        assert (shown.x.name, shown.y.name) == (x, y)
        assert np.isfinite(shown.z).any(), (x, y)
        for at, (low, high) in zip(shown.point, (shown.x.ends, shown.y.ends), strict=True):
            assert low <= at <= high, (x, y)


@pytest.mark.parametrize(("difference", "groups"), [(20.0, (102, 102)), (-2e8, (1, 1))])
def test_one_cluster_an_arm_can_be_found_but_not_given(difference: float, groups: tuple[int, int]) -> None:
    """Huge clusters and a huge effect: the pictures then go by participants, or by the fewest that can be given."""
    design = design_named("cluster-means")
    aim = edits.new_aim(design, "Few wards")
    entries = {name: entry for name, entry in aim.entries.items() if name not in ("cluster_size", "distribution")}
    entries["strata"] = Entry(value=[{"share": 1.0, "mean_size": 500, "sd_size": 20}])
    entries["sizes"] = Entry(value="exact")
    aim = aim.changed(entries={**entries, "difference": Entry(value=difference)})
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    assert answer.groups == groups
    for name in pictures_for(answer):
        assert picture_of(name, Scene(aim, answer)).says


def test_a_map_over_values_none_of_which_can_be_had_is_empty() -> None:
    """Not a map of one row: of an exact test, whose plans are made one by one."""
    aim = sampler_study().aim("awake")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    made = picture_of("Map", Scene(aim, answer))
    assert isinstance(made, Map)
    values, _ = maps.values_in_force(design_named(aim.design), "power", maps.values_for(aim, answer, "power"))
    drawn = maps.Drawn(aim, answer, design_named(aim.design), values, made.per_group)
    sizes, rows = maps.over_sizes(drawn, made.x, made.y, np.linspace(-300.0, -200.0, 5))
    assert rows.shape == (5, len(sizes))
    assert np.isnan(rows).all()
    assert maps.contours(np.arange(5.0), sizes, rows.T, 0.8) == ()
