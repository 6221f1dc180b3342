"""From plain answers and loose words to designs: every declaration is walked."""

from __future__ import annotations

import itertools

import pytest

from ragwort.designs import Answer, Design, all_designs
from ragwort.designs.choosing import GUARDS, QUESTIONS, fits, guards, nearest, needs, search, taken_by
from ragwort.study import edits
from ragwort.study.results.outcome import outcome_of

DESIGNS = pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)


@DESIGNS
def test_every_design_answers_every_question(design: Design) -> None:
    """With options that there are; it has names, says what it buys, and what it needs."""
    takes = taken_by(design)
    assert set(takes) == {question.name for question in QUESTIONS}
    for question in QUESTIONS:
        assert set(takes[question.name]) <= {option.value for option in question.options}
        assert takes[question.name]
    assert len(design.known_as) >= 3
    assert design.buys.endswith(".")
    assert needs(design)


@DESIGNS
def test_its_own_answers_lead_to_a_design(design: Design) -> None:
    """Whatever it takes, in every combination, leaves it in the list with the answers as its reason."""
    names = list(taken_by(design))
    for values in itertools.product(*taken_by(design).values()):
        verdict = next(f for f in fits(dict(zip(names, values, strict=True))) if f.design is design)
        assert verdict.fits
        assert verdict.reason.startswith("Fits: ")


@DESIGNS
def test_a_wrong_answer_rules_it_out_with_the_reason(design: Design) -> None:
    """One answer at a time: the reason says what it is for and what was said."""
    for question in QUESTIONS:
        for option in question.options:
            verdict = next(f for f in fits({question.name: option.value}) if f.design is design)
            assert verdict.fits == (option.value in taken_by(design)[question.name])
            if not verdict.fits:
                assert verdict.reason.endswith(f"not {option.phrase}.")


@DESIGNS
def test_a_new_aim_shows_what_was_asked_for(design: Design) -> None:
    """With no difference in truth and an example of a margin; it has an answer at once."""
    for claim in design.claims:
        aim = edits.new_aim(design, "New", claim=claim)
        outcome = outcome_of(aim)
        assert isinstance(outcome, Answer), outcome
        kinds = {"difference": "difference", "not-worse": "non-inferiority", "alike": "equivalence"}
        assert aim.values().get("hypothesis", "difference") == kinds.get(claim, "difference")
        assert (claim in ("difference", "size")) == ("margin" not in outcome.effect)


@DESIGNS
def test_a_design_is_found_by_each_of_its_names(design: Design) -> None:
    """Among the first three, by its title first."""
    assert search(design.title)[0] is design
    for name in design.known_as:
        assert design in search(name), name


@pytest.mark.parametrize(
    ("typed", "first"),
    [
        ("welsh", "two-means"),
        ("studnet", "two-means"),
        ("t-test", "two-means"),
        ("2x3 anova", "anova-factorial"),
        ("2 x 2 x 2", "anova-factorial"),
        ("chi2 goodness", "chi-square-fit"),
        ("χ² independence", "chi-square-table"),
        ("pre post", "paired-means"),
        ("before after", "paired-means"),
        ("pre-post control", "anova-repeated"),
        ("moderator", "regression-added"),
        ("moderater", "regression-added"),
        ("fishers exact", "two-proportions"),
        ("binomal", "one-proportion"),
        ("pearson", "correlation"),
        ("corelation", "correlation"),
        ("slope", "regression-coefficient"),
        ("ICC wards", "cluster-means"),
        ("R squared", "regression-overall"),
        ("oneway", "anova-one-way"),
    ],
)
def test_loose_words_find_the_design(typed: str, first: str) -> None:
    """Common names, abbreviations and slips of the keyboard."""
    assert search(typed)[0].id == first


def test_words_that_mean_nothing_find_nothing() -> None:
    """And no words find all."""
    assert search("zebra crossing lights") == []
    assert search("  the test of ") == all_designs()


def test_answers_narrow_at_once_and_can_be_left_open() -> None:
    """One answer keeps what it allows; a design that fits always stands before one that does not."""
    everything = fits({})
    assert all(verdict.fits and not verdict.reason for verdict in everything)
    whole = fits({"whole": "yes"})
    assert [v.design.id for v in whole if v.fits] == ["cluster-means", "cluster-proportions"]
    assert [v.fits for v in whole] == sorted((v.fits for v in whole), reverse=True)


@pytest.mark.parametrize(
    ("answers", "typed", "names"),
    [
        ({}, "", set()),
        ({"compared": "known", "same": "once"}, "", {"estimate"}),
        ({"compared": "known", "same": "twice"}, "", set()),
        ({"compared": "two", "same": "twice"}, "", {"interaction"}),
        ({"compared": "two", "same": "once"}, "", set()),
        ({}, "moderation", {"product"}),
        ({"compared": "factors"}, "", {"screen"}),
        ({"measured": "count"}, "", {"count"}),
        ({}, "is it as good as the usual lamp", {"margin"}),
        ({}, "equivalence of two means", {"margin"}),
        ({"measured": "time"}, "", {"proportional"}),
        ({}, "two variances", {"normal-scatter"}),
    ],
)
def test_guards_speak_only_when_pointed_to(answers: dict[str, str], typed: str, names: set[str]) -> None:
    """Each with its reason."""
    assert {guard.name for guard in guards(answers, typed)} == names
    assert all(len(guard.text) > 60 for guard in GUARDS)


def test_words_that_no_design_meets_in_full_lead_to_the_nearest() -> None:
    """What few designs are called counts for more; what each lacks is told; words of nothing lead nowhere."""
    assert search("logistic non inferior") == []
    found = nearest("logistic non inferior")
    assert (found[0][0].id, found[0][1]) == ("logistic", ("non", "inferior"))
    assert [design.id for design in search("survival non inferior")] == ["survival"]
    assert nearest("zzz qqq") == []
    assert "two-means" in {design.id for design in search("non-inferiority")}
