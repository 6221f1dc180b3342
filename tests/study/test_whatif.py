"""What was found, given to the same design: it finds what was asked for."""

from __future__ import annotations

import pytest

from ragwort.designs import Answer, all_designs, design_named, settle
from ragwort.designs.design import Design, Way
from ragwort.figures.pictures import Scene, picture_of, pictures_for
from ragwort.study import edits
from ragwort.study.model import Study
from ragwort.study.outcome import outcome_of
from ragwort.study.whatif import values_for

WAYS = [(design, way) for design in all_designs() for way in design.effect_ways()]


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
        assert all(picture_of(each, Scene(aim, answer)).foot for each in pictures_for(answer))
