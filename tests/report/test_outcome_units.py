"""A standardised effect said in the unit of the outcome."""

from __future__ import annotations

from ragwort.demo import sampler_study
from ragwort.report.sections.outcome_units import in_outcome_units
from ragwort.study.document.aim import Entry


def test_f_is_said_by_the_sd_of_another_aim_with_the_same_outcome() -> None:
    """Lighting and caffeine has f = 0.25 and the reaction time of the first aim, whose SD is 24 ms."""
    study = sampler_study()
    aim = next(each for each in study.aims if each.design == "anova-factorial")
    said = in_outcome_units(study, aim).replace("\u00a0", " ")
    assert said == "f = 0.25 corresponds to a standard deviation of 6 ms among the means (SD 24 ms)."


def test_d_is_a_difference() -> None:
    study = sampler_study()
    aim = study.aims[0].changed(design="signed-rank", entries={"d": Entry(value=0.5)})
    said = in_outcome_units(study.changed(aims=(study.aims[0], aim)), aim).replace("\u00a0", " ")
    assert said == "d = 0.5 corresponds to a difference of 12 ms (SD 24 ms)."


def test_nothing_is_said_where_nothing_is_known() -> None:
    """Another outcome, no SD anywhere, an effect in its own unit."""
    study = sampler_study()
    factorial = next(each for each in study.aims if each.design == "anova-factorial")
    assert in_outcome_units(study.changed(aims=(factorial,)), factorial) == ""
    other = factorial.changed(words=factorial.words.changed(outcome="something else"))
    assert in_outcome_units(study, other) == ""
    assert in_outcome_units(study, study.aims[0]) == ""
    one_way = next(each for each in study.aims if each.design == "anova-one-way")
    assert in_outcome_units(study, one_way) == ""
