"""What was found, given to the same design: it finds what was asked for."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from ragwort.designs import Answer, all_designs, design_named, settle
from ragwort.designs.design import Design, Way
from ragwort.designs.drawn_out import shares_with, table_with
from ragwort.figures.pictures import Scene, picture_of, pictures_for
from ragwort.stats.effects import w_of_fit
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.whatif import values_for

WAYS = [(design, way) for design in all_designs() if design.tested for way in design.effect_ways()]


@pytest.mark.parametrize(("design", "way"), WAYS, ids=lambda each: each.id if isinstance(each, Design) else each.label)
def test_a_found_effect_has_the_power_it_was_found_for(design: Design, way: Way) -> None:
    """In whichever way it is stated; within what its four digits say."""
    study = Study(aims=(edits.new_aim(design, "Aim 1"),))
    aim_id = study.aims[0].id
    study = edits.choose_way(study, aim_id, way).study
    aim = edits.move_flower(study, aim_id, "effect").study.aims[0]
    answer = outcome_of(aim)
    if isinstance(answer, Answer):  # a shift of whole tables cannot be found
        again = settle(design, "power", values_for(aim, answer, "power"))
        assert again.power == pytest.approx(answer.power, abs=2e-3)


def test_what_was_stated_before_another_choice_has_no_say() -> None:
    """A ratio of means from when the scale was the log; an effect size of ranks beside a difference and an SD."""
    for design, name, value in (("crossover-means", "mean_ratio", 2.0), ("rank-sum", "d", 0.8)):
        study = Study(aims=(edits.new_aim(design_named(design), "Aim 1"),))
        study = edits.move_flower(study, study.aims[0].id, "effect").study
        aim = edits.set_value(study, study.aims[0].id, name, value).study.aims[0]
        answer = outcome_of(aim)
        assert isinstance(answer, Answer)
        assert name not in values_for(aim, answer, "power")
        assert not any("nan" in picture_of(each, Scene(aim, answer)).foot for each in pictures_for(answer))


@pytest.mark.parametrize(
    ("design", "stated", "kept"),
    [
        ("anova-one-way", {"means": [412.0, 405.0, 398.0], "sd": 24.0}, {"sd": 24.0}),
        ("ancova", {"means": [412.0, 398.0], "sd": 24.0, "r_squared": 0.3}, {"sd": 24.0, "r_squared": 0.3}),
        ("anova-contrast", {"means": [412.0, 405.0, 398.0], "sd": 24.0}, {"coefficients": [-1.0, 0.0, 1.0]}),
        ("regression-added", {"r_squared_full": 0.4, "r_squared_reduced": 0.3}, {"r_squared_reduced": 0.3}),
        (
            "regression-coefficient",
            {"slope": -0.8, "sd_predictor": 4.0, "sd_residual": 12.0, "r_squared_predictors": 0.2},
            {"sd_predictor": 4.0, "sd_residual": 12.0, "r_squared_predictors": 0.2},
        ),
        (
            "chi-square-fit",
            {"null_proportions": [0.1, 0.2, 0.3, 0.4], "proportions": [0.15, 0.25, 0.25, 0.35]},
            {"null_proportions": [0.1, 0.2, 0.3, 0.4]},
        ),
        ("chi-square-table", {"table": [[0.1, 0.2, 0.2], [0.2, 0.2, 0.1]]}, {}),
    ],
    ids=lambda each: each if isinstance(each, str) else "",
)
def test_what_was_stated_is_only_drawn_out(design: str, stated: dict[str, Any], kept: dict[str, Any]) -> None:
    """The flower goes to the effect and to the power: as many numbers as before, in their pattern, at the target."""
    study = Study(aims=(edits.new_aim(design_named(design), "Aim 1"),))
    aim_id = study.aims[0].id
    for ways in design_named(design).ways:
        for way in ways:
            if set(way.names) <= stated.keys():
                study = edits.choose_way(study, aim_id, way).study
    for name, value in stated.items():
        study = edits.set_value(study, aim_id, name, value).study
    sized = edits.move_flower(study, aim_id, "effect").study  # at the whole number of people that reaches the target
    back = edits.move_flower(sized, aim_id, "power").study.aims[0]
    answer = outcome_of(back)
    assert isinstance(answer, Answer)
    assert answer.power == pytest.approx(0.8, abs=3e-3)
    values = back.values()
    assert {name: values[name] for name in kept} == kept
    for name, before in stated.items():
        assert np.shape(values[name]) == np.shape(before)
        assert np.allclose(values[name], before, rtol=0.1, atol=0.02)


def test_shares_that_no_such_pattern_makes_grow_in_the_rarest() -> None:
    """From no difference at all, and from one that would leave 0 to 1; a table has none like it then."""
    known = [0.1, 0.3, 0.6]
    for shares, w in ((known, 0.5), ([0.05, 0.3, 0.65], 2.0)):
        drawn = shares_with(w, shares, known)
        assert sum(drawn) == pytest.approx(1, abs=1e-12)
        assert w_of_fit(drawn, known) == pytest.approx(w, abs=2e-3)
        assert drawn[0] > known[0]
    assert table_with(0.9, [[0.1, 0.2], [0.3, 0.4]]) == []
    assert table_with(0.5, [[0.25, 0.25], [0.25, 0.25]]) == []
