"""The live sentence reads as plain English in every state."""

from __future__ import annotations

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import design_named
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.scenarios import difference_words, suggested_name
from ragwort.study.words.sentence import plain_text, sentence_of, size_remark


def said(study: Study, aim_id: str = "reaction") -> str:
    """The sentence of an aim."""
    aim = study.aim(aim_id)
    return plain_text(sentence_of(aim, outcome_of(aim)))


def test_the_sentence_of_the_demo() -> None:
    """The protocol text, word by word."""
    study = sampler_study()
    assert said(study) == (
        "Recruit 144 staff so that 128 (64 per group) are analysed, to detect a difference of 12 ms between brighter "
        "and usual lighting (SD 24 ms, d = 0.50) with at least 80% power, using a two-sided t test at alpha 0.05."
    )
    aim = study.aim("reaction")
    assert size_remark(aim, outcome_of(aim)) == (
        "Power at these sizes is 80.1%. This allows for 10% dropout (72 per group to be recruited)."
    )
    assert said(study, "alertness") == (
        "Recruit 228 staff so that 204 (102 per group) are analysed, to detect a mean of 6.4 points with brighter "
        "against 5.5 points with usual lighting (SDs 1.7 points and 2.2 points, d = −0.46), with at least 90% power, "
        "using a two-sided Welch t test at alpha 0.05."
    )


@pytest.mark.parametrize(
    ("find", "flower"),
    [
        ("n", "128"),
        ("power", "80.1%"),
        ("effect", "12.0 ms"),
        ("alpha", "0.050"),
    ],
)
def test_the_flower_stands_on_what_is_found(find: str, flower: str) -> None:
    """Exactly one value is found, and it is the one asked for."""
    aim = edits.move_flower(sampler_study(), "reaction", find).study.aim("reaction")
    found = [piece.text for piece in sentence_of(aim, outcome_of(aim)) if piece.found]
    assert found == [flower.replace(" ", "\u00a0")]


def test_a_one_sided_test_names_its_direction() -> None:
    """What it commits to is in the sentence."""
    study = edits.set_value(sampler_study(), "reaction", "sides", "greater").study
    assert said(study).endswith("a one-sided t test at alpha 0.05, looking only for higher values with usual lighting.")
    less = edits.set_value(edits.set_value(study, "reaction", "sides", "less").study, "reaction", "difference", -12)
    assert "only for lower values" in said(less.study)


def test_without_an_answer_there_is_a_dash_and_never_an_old_number() -> None:
    """What was typed stands in the sentence, marked; what follows from it is a dash."""
    aim = edits.type_value(sampler_study(), "reaction", "sd", "abc").study.aim("reaction")
    pieces = sentence_of(aim, outcome_of(aim))
    assert [piece.text for piece in pieces if piece.fault] == ["abc"]
    assert "Recruit — staff so that — (— per group) are analysed" in plain_text(pieces)
    assert "128" not in plain_text(pieces)


def test_sizes_by_group_and_one_person_read_well() -> None:
    """`32 + 64` where groups differ, the singular where there is one."""
    study = edits.set_value(sampler_study(), "reaction", "ratio", 2.0).study
    assert "Recruit 161 staff so that 144 (48 + 96) are analysed" in said(study)
    given = edits.move_flower(study, "reaction", "power").study
    given = edits.set_value(given, "reaction", "n", 1).study
    assert "With 1 member of staff (— per group), a two-sided t test" in said(given)


def test_scenarios_say_how_they_differ() -> None:
    """In a few words; a new one is named after its difference."""
    aim = sampler_study().aim("reaction")
    assert [difference_words(aim, kept) for kept in aim.scenarios] == ["SD 28 ms", "difference 10 ms", "power 90%"]
    changed = edits.set_value(sampler_study(), "reaction", "sd", 26.0).study.aim("reaction")
    assert suggested_name(changed) == "SD 26 ms"


def test_what_is_known_in_other_words_stands_without_an_answer() -> None:
    """Pairs stated as a two-by-two: the shares that differ follow from it, whatever else is wrong."""
    design = design_named("paired-proportions")
    study = Study(aims=(edits.new_aim(design, "aim"),))
    (way,) = (way for ways in design.ways for way in ways if way.label == "a two-by-two")
    cells = edits.choose_way(study, study.aims[0].id, way).study
    for alpha in ("0.05", "nonsense"):
        aim = edits.type_value(cells, cells.aims[0].id, "alpha", alpha).study.aims[0]
        assert "between 25% of pairs discordant in favour of" in plain_text(sentence_of(aim, outcome_of(aim))).replace(
            "\u00a0", " "
        )
