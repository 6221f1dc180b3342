"""The sentence of every design at its starting values, word by word: read aloud, it is plain English."""

from __future__ import annotations

import pytest

from ragwort.designs import Design, all_designs, design_named
from ragwort.study import edits
from ragwort.study.model import Aim, Study
from ragwort.study.outcome import outcome_of
from ragwort.study.sentence import plain_text, sentence_of, size_remark

SENTENCES = {
    "two-means": (
        "Recruit 128 participants (64 per group) to detect a difference of 5 between group 1 and group 2 (SD 10, d "
        "0.50) with 80 % power, using a two-sided t test at alpha 0.05."
    ),
    "one-mean": (
        "Recruit 34 participants to detect a difference of 5 from the reference (SD 10, d 0.50) with 80 % power, "
        "using a two-sided one-sample t test at alpha 0.05."
    ),
    "paired-means": (
        "Recruit 34 pairs to detect a mean difference of 5 within pairs (SD of the differences 10, d 0.50) with 80 "
        "% power, using a two-sided paired t test at alpha 0.05."
    ),
    "anova-one-way": (
        "Recruit 159 participants (53 per group) to detect a difference among 3 groups (f 0.25) with 80 % power, "
        "using a one-way analysis of variance at alpha 0.05."
    ),
    "anova-factorial": (
        "Recruit 162 participants to detect the interaction of factors 1 and 2 in a design with 2 × 3 levels (f "
        "0.25) with 80 % power, using an analysis of variance at alpha 0.05."
    ),
    "anova-repeated": (
        "Recruit 24 participants to detect a difference in change between groups (f 0.25) with 2 groups and 4 "
        "measurements (correlation 0.5) with 80 % power, using a repeated-measures analysis of variance at alpha "
        "0.05."
    ),
    "one-proportion": (
        "Recruit 210 participants to detect a proportion of 60 % where the reference is 50 %, with 80 % power, using "
        "a two-sided exact binomial test at alpha 0.05."
    ),
    "two-proportions": (
        "Recruit 326 participants (163 per group) to detect a change in the proportion from 30 % with group 1 to 45 % "
        "with group 2 (h 0.31), with 80 % power, using a two-sided test with pooled variance at alpha 0.05."
    ),
    "cluster-means": (
        "Recruit 320 participants in clusters of 20 (8 clusters per arm; intracluster correlation 0.05) to detect a "
        "difference of 5 between arm 1 and arm 2 (SD 10, d 0.50) with 80 % power, using a two-sided t test of "
        "clusters at alpha 0.05."
    ),
    "cluster-proportions": (
        "Recruit 1100 participants in clusters of 25 (22 clusters per arm; intracluster correlation 0.02) to detect a "
        "change in the proportion from 30 % with arm 1 to 40 % with arm 2, with 80 % power, using a two-sided test "
        "with pooled variance at alpha 0.05."
    ),
    "correlation": (
        "Recruit 84 participants to detect a correlation of 0.3 with 80 % power, using a two-sided exact test of "
        "Pearson's correlation at alpha 0.05."
    ),
    "regression-overall": (
        "Recruit 77 participants to detect that 3 predictors together explain the outcome (f² 0.15) with 80 % "
        "power, using the F test of a regression at alpha 0.05."
    ),
    "regression-added": (
        "Recruit 68 participants to detect what 2 of 5 predictors add (f² 0.15) with 80 % power, using the F test "
        "of the added terms at alpha 0.05."
    ),
    "regression-coefficient": (
        "Recruit 82 participants to detect the effect of one of 3 predictors (partial correlation 0.3, f² 0.10) "
        "with 80 % power, using a two-sided t test of its coefficient at alpha 0.05."
    ),
    "chi-square-fit": (
        "Recruit 91 participants to detect shares other than the known ones (0.4, 0.2, 0.2, 0.2 against 0.25, "
        "0.25, 0.25, 0.25, w 0.35) with 80 % power, using a chi-square test of fit at alpha 0.05."
    ),
    "chi-square-table": (
        "Recruit 197 participants to detect that the two variables of a table go together (proportions 0.3 0.2; "
        "0.2 0.3, w 0.20) with 80 % power, using a chi-square test at alpha 0.05."
    ),
}
DESIGNS = pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)


def said(aim: Aim) -> str:
    """The sentence of an aim."""
    return plain_text(sentence_of(aim, outcome_of(aim)))


@DESIGNS
def test_the_sentence_word_by_word(design: Design) -> None:
    """A change of wording is a change of the protocol text: it is made here knowingly."""
    assert said(edits.new_aim(design, "aim")) == SENTENCES[design.id]


@DESIGNS
def test_without_an_answer_no_number_is_left_over(design: Design) -> None:
    """Alpha typed as nonsense: what was typed stands there, and dashes for what would follow."""
    aim = edits.new_aim(design, "aim")
    broken = edits.type_value(Study(aims=(aim,)), aim.id, "alpha", "nonsense").study.aims[0]
    assert said(broken).startswith("Recruit \u2014 ")
    assert "at alpha nonsense" in said(broken)
    assert size_remark(broken, outcome_of(broken)) == ""


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
    assert "what 1 of 5 predictors adds" in said(one)
    study = Study(aims=(edits.new_aim(design_named("anova-repeated"), "aim"),))
    within = edits.set_value(study, study.aims[0].id, "term", "within").study
    within = edits.set_value(within, within.aims[0].id, "groups", 1).study
    assert "with 1 group and 4 measurements" in said(within.aims[0])
    study = Study(aims=(edits.new_aim(design_named("paired-means"), "aim"),))
    less = edits.set_value(study, study.aims[0].id, "sides", "less").study
    less = edits.set_value(less, less.aims[0].id, "difference", -5).study
    assert said(less.aims[0]).endswith("a one-sided paired t test at alpha 0.05, looking only for lower values.")
