"""Sources that stay true, and example values that nobody takes for decisions."""

from __future__ import annotations

from ragwort.demo import sampler_study
from ragwort.designs import design_named
from ragwort.report import report_bytes
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.words.provenance import example_words, examples_of, source_words, with_examples


def source_of(study: Study, name: str = "difference") -> str:
    """Where a value of the demo's first aim is said to come from."""
    aim = study.aim("reaction")
    return source_words(aim, design_named(aim.design).assumption(name))


def test_a_value_typed_over_keeps_its_source_as_what_was() -> None:
    """Until the value is back, or another source is given."""
    study = sampler_study()
    assert source_of(study) == "from smallest worthwhile difference"
    typed = edits.type_value(study, "reaction", "difference", "10").study
    typed = edits.type_value(typed, "reaction", "difference", "9").study
    assert source_of(typed) == "was 12\u00a0ms, from smallest worthwhile difference"
    assert source_of(edits.type_value(typed, "reaction", "difference", "12").study) == source_of(study)
    assert source_of(edits.set_remark(typed, "reaction", "difference", "source", "a guess").study) == "from a guess"
    assert "was 12" in report_bytes(typed, "html").decode()


def test_a_value_found_and_given_does_not_claim_a_source() -> None:
    """The smallest detectable effect is not the smallest worthwhile one."""
    found = edits.move_flower(sampler_study(), "reaction", "effect").study
    given = edits.move_flower(found, "reaction", "n").study
    assert source_of(given).startswith("was 12")


def fresh() -> tuple[Study, Aim]:
    """A study with one new aim."""
    aim = edits.new_aim(design_named("two-means"), "Aim 1")
    return Study(aims=(aim,)), aim


def test_starting_values_are_examples_until_somebody_decides() -> None:
    """By typing another, by confirming one, or all."""
    study, aim = fresh()
    assert [each.name for each in examples_of(aim)] == ["difference", "sd"]
    assert example_words(aim).startswith("Difference and standard deviation are examples to start from")
    typed = edits.type_value(study, aim.id, "sd", "24").study
    assert example_words(typed.aims[0]).startswith("Difference is an example to start from")
    confirmed = edits.confirm(typed, aim.id, "difference").study
    assert example_words(confirmed.aims[0]) == ""
    assert with_examples(confirmed) == []
    assert with_examples(edits.confirm(study, aim.id).study) == []


def test_what_has_no_say_is_no_example() -> None:
    """The difference, while it is what is found."""
    study, aim = fresh()
    found = edits.move_flower(study, aim.id, "effect").study.aims[0]
    assert [each.name for each in examples_of(found)] == ["sd"]


def test_stating_an_example_another_way_decides_nothing() -> None:
    """Two means worked out from the example difference are examples too; another design's start as well."""
    study, aim = fresh()
    way = next(way for ways in design_named("two-means").ways for way in ways if "mean1" in way.names)
    stated = edits.choose_way(study, aim.id, way).study.aims[0]
    assert {each.name for each in examples_of(stated)} == {"mean1", "mean2", "sd"}
    typed = edits.type_value(study, aim.id, "sd", "24").study
    changed = edits.change_design(typed, aim.id, design_named("cluster-means")).study.aims[0]
    assert "sd" not in {each.name for each in examples_of(changed)}
    assert "icc" in {each.name for each in examples_of(changed)}


def test_the_report_says_first_what_is_an_example() -> None:
    """And never claims that the study needs so many."""
    study, aim = fresh()
    text = report_bytes(study, "html").decode().replace("\u00a0", " ")
    assert text.index("Not confirmed") < text.index(
        "128 participants would have to be recruited with the example values"
    )
    assert "example value, not confirmed" in text
    text = report_bytes(edits.confirm(study, aim.id).study, "html").decode().replace("\u00a0", " ")
    assert "128 participants will be recruited" in text
    assert "Not confirmed" not in text


def test_examples_are_said_in_the_number_they_have() -> None:
    """Of groups there is a number; known shares are several."""
    for design, said in (
        ("anova-one-way", "The number of groups is an example to start from"),
        ("chi-square-fit", "Known shares are examples to start from"),
        ("two-means", "Standard deviation is an example to start from"),
    ):
        study = Study(aims=(edits.new_aim(design_named(design), "Aim 1"),))
        aim = edits.move_flower(study, study.aims[0].id, "effect").study.aims[0]
        assert example_words(aim).startswith(said)
