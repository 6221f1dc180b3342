"""The smallest worthwhile effect and the expected one, apart: sentence, text, assurance and sensitivity."""

from __future__ import annotations

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer
from ragwort.figures.shown.drivers import drivers_of
from ragwort.figures.shown.spread import spread_of
from ragwort.report.sections.protocol import paragraph
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.sensitivity import alternatives, largest
from ragwort.study.words.sentence import plain_text, sentence_of


def _study(kind: str = "worthwhile", expected: str = "") -> Study:
    study = edits.plan_effect_on(sampler_study(), "reaction", kind).study
    return edits.type_expected(study, "reaction", expected).study


def _answered(study: Study) -> tuple[Aim, Answer]:
    aim = study.aim("reaction")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    return aim, answer


@pytest.mark.parametrize(
    ("kind", "words"),
    [("worthwhile", ", the smallest considered worthwhile,"), ("expected", ", the one expected,"), ("", "")],
)
def test_the_sentence_says_which_effect_is_planned_on(kind: str, words: str) -> None:
    aim, answer = _answered(_study(kind))
    said = plain_text(sentence_of(aim, answer))
    assert f"d = 0.50){words} with at least 80% power" in said
    assert words.strip(" ,") in paragraph(aim, answer)


def test_a_found_effect_is_of_no_kind() -> None:
    aim = _study().aim("reaction")
    entries = {**aim.entries, "n": Entry(value=128)}
    found = aim.changed(find="effect", entries={k: v for k, v in entries.items() if k != "difference"})
    assert "worthwhile" not in plain_text(sentence_of(found, outcome_of(found)))


def test_the_paragraph_gives_the_reason_and_what_is_expected() -> None:
    study = _study(expected="15 (12 to 20)")
    study = edits.set_remark(study, "reaction", "difference", "note", "a cup of coffee does as much").study
    text = paragraph(*_answered(study)).replace("\u00a0", " ")
    assert "Reason for the difference: a cup of coffee does as much." in text
    assert "Expected is a difference of 15 ms (plausible range 12 to 20)." in text


def test_the_smallest_worthwhile_effect_is_no_uncertain_truth() -> None:
    """It has no bar and is not drawn; the expected one is, where somebody has stated its range."""
    aim, answer = _answered(_study())
    assert {bar.name for bar in drivers_of(aim, answer, "power", None).bars} == {"sd", "dropout"}
    worst = largest(aim)
    assert worst is not None
    assert "standard deviation" in worst[0]
    assert any("difference" in words for words, _ in alternatives(aim))
    fixed = spread_of(aim, answer)
    with_expected, again = _answered(_study(expected="15 (12 to 20)"))
    bars = {bar.name: bar.label for bar in drivers_of(with_expected, again, "power", None).bars}
    assert bars["difference"].startswith("expected difference 12 to 20")
    assert spread_of(with_expected, again).mean > fixed.mean + 0.05


@pytest.mark.parametrize(
    ("typed", "value", "ends"),
    [
        ("15", 15, (None, None)),
        ("15 (12 to 20)", 15, (12, 20)),
        ("15; 12 to 20", 15, (12, 20)),
        ("", None, (None,) * 2),
    ],
)
def test_what_is_typed_as_expected(typed: str, value: float | None, ends: tuple[float | None, ...]) -> None:
    expected = _study(expected=typed).aim("reaction").expected
    assert (expected.value, (expected.low, expected.high)) == (value, ends)
    assert not expected.fault


@pytest.mark.parametrize("typed", ["much", "15 (12 to", "15 (20 to 12)", "15 (a to b)", "((", "nan"])
def test_what_cannot_be_read_is_kept_and_said(typed: str) -> None:
    """Beside the last one that could be."""
    study = edits.type_expected(_study(expected="15 (12 to 20)"), "reaction", typed).study
    expected = study.aim("reaction").expected
    assert expected.value == 15
    if expected.fault:
        assert edits.expected_text(study.aim("reaction")) == typed


def test_another_design_expects_nothing_yet() -> None:
    from ragwort.designs import design_named

    study = _study(expected="15 (12 to 20)")
    changed = edits.change_design(study, "reaction", design_named("two-proportions")).study.aim("reaction")
    assert changed.expected == Entry()
    assert changed.planned_on == "worthwhile"
