"""The sentence of every design at its starting values, word by word: read aloud, it is plain English."""

from __future__ import annotations

import pytest

from ragwort.demo import sampler_study, second_sampler_study
from ragwort.designs import Answer, Design, all_designs, design_named
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Problem, outcome_of
from ragwort.study.words.sentence import plain_text, sentence_of, size_remark

from .readings import READINGS, readings

DESIGNS = pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)


def said(aim: Aim) -> str:
    """The sentence of an aim."""
    return plain_text(sentence_of(aim, outcome_of(aim)))


def test_every_sentence_word_by_word() -> None:
    """A change of wording is a change of the protocol text: it is made knowingly, and the readings are read again."""
    assert READINGS.read_text() == "\n".join(readings()) + "\n"


@DESIGNS
def test_without_an_answer_no_number_is_left_over(design: Design) -> None:
    """Alpha typed as nonsense: what was typed stands there, and dashes for what would follow."""
    aim = edits.new_aim(design, "aim")
    name, words = ("alpha", "at alpha nonsense") if design.tested else ("confidence", "nonsense confidence")
    broken = edits.type_value(Study(aims=(aim,)), aim.id, name, "nonsense").study.aims[0]
    assert said(broken).startswith("Recruit \u2014 ")
    assert words in said(broken)
    assert size_remark(broken, outcome_of(broken)) == ""


@DESIGNS
def test_nothing_that_can_be_typed_leaves_an_aim_without_its_sentence(design: Design) -> None:
    """In any way of stating it: what contradicts the rest is what the message says, and the sentence stands."""
    study = Study(aims=(edits.new_aim(design, "aim"),))
    for way in (None, *(way for ways in (*design.ways, design.sizes) for way in ways)):
        stated = study if way is None else edits.choose_way(study, study.aims[0].id, way).study
        for assumption in design.assumptions:
            for text in ("0", "-1", "999999", "1e-300", "2, 3, -1"):
                aim = edits.type_value(stated, stated.aims[0].id, assumption.name, text).study.aims[0]
                assert plain_text(sentence_of(aim, Problem(assumption.name, "as it is"))).strip()


@DESIGNS
def test_words_of_the_study_take_the_place_of_stand_ins(design: Design) -> None:
    """Nurses are recruited where the study says nurses."""
    aim = edits.new_aim(design, "aim")
    named = edits.set_words(Study(aims=(aim,)), aim.id, one="nurse", many="nurses").study.aims[0]
    assert f"{outcome_of(named).total} nurses" in said(named)


def test_singular_plural_and_sides() -> None:
    """One predictor adds; one group; a one-sided test says what it looks for."""
    study = Study(aims=(edits.new_aim(design_named("regression-added"), "aim"),))
    one = edits.set_value(study, study.aims[0].id, "tested", 1).study.aims[0]
    assert "the effect of 1 predictor (f² = 0.15), adjusted for 4 others, with" in said(one)
    study = Study(aims=(edits.new_aim(design_named("anova-repeated"), "aim"),))
    within = edits.set_value(study, study.aims[0].id, "term", "within").study
    within = edits.set_value(within, within.aims[0].id, "groups", 1).study
    assert "a change in means over 4 measurements (f = 0.25" in said(within.aims[0])
    study = Study(aims=(edits.new_aim(design_named("paired-means"), "aim"),))
    less = edits.set_value(study, study.aims[0].id, "sides", "less").study
    less = edits.set_value(less, less.aims[0].id, "difference", -5).study
    assert "a mean 5 lower with the second condition than with the first" in said(less.aims[0])
    assert said(less.aims[0]).endswith("at alpha 0.05, looking only for lower values with the second condition.")


def test_the_second_sampler_study_has_an_answer_to_every_aim() -> None:
    """Ten aims of ten designs that the first demo has none of, two of them with a margin."""
    aims = second_sampler_study().aims
    first = {aim.design for aim in sampler_study().aims}
    assert len({aim.design for aim in aims} - (first - {"two-means"})) == len(aims) == 10
    assert sum("margin" in aim.entries or "margin_low" in aim.entries for aim in aims) == 2
    for aim in aims:
        outcome = outcome_of(aim)
        assert isinstance(outcome, Answer), (aim.name, outcome)
        assert "—" not in plain_text(sentence_of(aim, outcome))
