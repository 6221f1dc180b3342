"""What the study calls things stands in sentence, ledger, breakdown and report; stand-ins where it has no names."""

from __future__ import annotations

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, Design, all_designs, design_named
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.breakdown import breakdown_of
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.naming import name_at, names_of, names_of_numbers, namings_of, title_of
from ragwort.study.words.sentence import plain_text, sentence_of

DESIGNS = pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)


def said(aim: Aim) -> str:
    """The sentence of an aim."""
    return plain_text(sentence_of(aim, outcome_of(aim)))


@DESIGNS
def test_every_name_in_the_sentence_is_the_studys_own(design: Design) -> None:
    """Whatever is named in the sentence can be renamed there, and an empty name brings the stand-in back."""
    aim = edits.new_aim(design, "Aim")
    study = Study(aims=(aim,))
    pieces = [piece for piece in sentence_of(aim, outcome_of(aim)) if piece.kind == "name"]
    for piece in pieces:
        key, _, index = piece.name.partition(".")
        study = edits.rename(study, aim.id, key, int(index), f"our {key} {index}").study
    for piece in pieces:
        assert f"our {piece.name.replace('.', ' ')}" in said(study.aims[0])
    for piece in pieces:
        key, _, index = piece.name.partition(".")
        study = edits.rename(study, aim.id, key, int(index), " ").study
    assert study.aims[0].words.names == {}
    assert said(study.aims[0]) == said(aim)


def test_names_typed_in_one_line_are_taken_in_order() -> None:
    """Apart by commas; one that is left out keeps its stand-in."""
    aim = edits.new_aim(design_named("anova-one-way"), "Aim")
    study = edits.type_names(Study(aims=(aim,)), aim.id, "groups", "usual, , brighter , ").study
    assert names_of(study.aims[0], "groups") == ("usual", "group 2", "brighter")
    assert "among usual, group 2 and brighter" in said(study.aims[0])
    assert edits.type_names(study, aim.id, "groups", "").study.aims[0].words.names == {}


def test_more_groups_than_can_be_listed_are_counted() -> None:
    """Twelve groups are not read out one by one."""
    aim = edits.new_aim(design_named("anova-one-way"), "Aim")
    many = edits.set_value(Study(aims=(aim,)), aim.id, "groups", 12).study.aims[0]
    assert "among the 12 groups" in said(many)
    assert name_at(many, "groups", 400) == "401"


def test_levels_and_terms_go_by_the_factors_names() -> None:
    """`Levels of lighting`; a term is said by its factors."""
    aim = sampler_study().aim("caffeine")
    assert [title_of(naming, aim) for naming in namings_of(aim)] == [
        "Factors",
        "Levels of lighting",
        "Levels of caffeine",
    ]
    term = design_named("anova-factorial").assumption("term")
    assert names_of_numbers(term, aim) == "lighting × caffeine"


def test_strata_have_names_in_the_breakdown() -> None:
    """Small, medium and large wards, not strata 1 to 3."""
    aim = sampler_study().aim("errors")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    table = breakdown_of(aim, answer)
    assert table is not None
    assert [row[0] for row in table.rows] == ["small wards", "medium wards", "large wards", "together"]


def test_the_demo_never_says_a_stand_in() -> None:
    """Its aims are named throughout."""
    for aim in sampler_study().aims:
        text = said(aim)
        for stand_in in ("group 1", "arm 1", "factor 1", "the first", "one variable", "the reference", "category"):
            assert stand_in not in text, text
