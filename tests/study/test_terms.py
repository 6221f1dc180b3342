"""Predictors by name are counted as the model counts them."""

from __future__ import annotations

import pytest

from ragwort.designs import design_named
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.words.numbers import NumberError
from ragwort.study.words.terms import count_terms, is_named


@pytest.mark.parametrize(
    ("text", "count"),
    [
        ("age", 1),
        ("age, chronotype, caffeine", 3),
        ("age, caffeine, age × caffeine", 3),
        ("age, caffeine, age * caffeine", 3),
        ("age; caffeine; age x caffeine", 3),
        ("ward (4 levels)", 3),
        ("age, ward [4], age × ward", 7),
        ("room (2 levels), ward (3 levels), room × ward", 5),
        ("max load, x-ray dose", 2),
    ],
)
def test_terms_are_counted(text: str, count: int) -> None:
    """A factor with k levels takes k - 1 columns, a product the product of its factors'."""
    assert is_named(text)
    assert count_terms(text) == count


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("age, Age", "named twice"),
        ("age, caffeine, caffeine × age, age × caffeine", "named twice"),
        ("age, age × caffeine", "caffeine must be a term of its own"),
        ("ward (1 level)", "is no term"),
        ("age × ", "is no term"),
    ],
)
def test_slips_are_named(text: str, says: str) -> None:
    """What is wrong, and with which term."""
    with pytest.raises(NumberError, match=says):
        count_terms(text)


def test_a_number_names_nothing() -> None:
    """Digits, also with an exponent, stay numbers."""
    assert not any(is_named(text) for text in ("3", "1 000", "1e3", ""))


def test_names_typed_for_an_aim_stay_with_it() -> None:
    """The count is the value; a number typed later takes the names' place; a slip loses nothing."""
    study = Study(aims=(edits.new_aim(design_named("regression-added"), "aim"),))
    aim_id = study.aims[0].id
    named = edits.type_value(study, aim_id, "predictors", "age, caffeine,  age × caffeine").study
    tested = edits.type_value(named, aim_id, "tested", "age × caffeine").study
    assert tested.aims[0].values()["predictors"] == 3
    assert tested.aims[0].values()["tested"] == 1
    assert tested.aims[0].entry("predictors").terms == "age, caffeine, age × caffeine"
    slip = edits.type_value(tested, aim_id, "predictors", "age, age").study.aims[0].entry("predictors")
    assert (slip.value, slip.draft) == (3, "age, age")
    plain = edits.type_value(tested, aim_id, "predictors", "5").study.aims[0].entry("predictors")
    assert (plain.value, plain.terms) == (5, "")
