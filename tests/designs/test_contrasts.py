"""Contrasts with a name: the published ones, at right angles, and as they are typed and put in."""

from __future__ import annotations

import math

import pytest

from ragwort.designs import design_named
from ragwort.designs.catalogue.anova.named_contrasts import (
    MOST_GROUPS,
    NAMED_CONTRASTS,
    bend,
    first_against_all,
    straight_line,
)
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.numbers import NumberError, parse, value_text
from ragwort.study.words.sentence import plain_text, sentence_of

DESIGN = design_named("anova-contrast")
COEFFICIENTS = DESIGN.assumption("coefficients")


@pytest.mark.parametrize("groups", [2, 3, 4, 7, 12, MOST_GROUPS])
def test_all_add_up_to_nothing_and_are_taken(groups: int) -> None:
    """Also once they have been shown, and typed again as they are shown."""
    for offer in NAMED_CONTRASTS:
        values = offer.values({"coefficients": [0.0] * groups})
        if not values:
            assert groups == 2
            continue
        assert math.fsum(values["coefficients"]) == pytest.approx(0, abs=1e-12)
        assert len(values["coefficients"]) == groups
        shown = value_text(COEFFICIENTS, values["coefficients"])
        assert parse(COEFFICIENTS, shown) == pytest.approx(values["coefficients"], abs=1e-11)


def test_trends_are_those_of_the_tables() -> None:
    """Fisher and Yates, table XXIII."""
    assert [straight_line(each) for each in (3, 4, 5)] == [[-1, 0, 1], [-3, -1, 1, 3], [-2, -1, 0, 1, 2]]
    assert bend(5) == [2, -1, -2, -1, 2]
    assert bend(6) == [5, -1, -4, -4, -1, 5]
    for groups in range(3, 12):
        line, curve = straight_line(groups), bend(groups)
        assert math.fsum(a * b for a, b in zip(line, curve, strict=True)) == 0


@pytest.mark.parametrize(
    ("coefficients", "kind"),
    [
        ([-3, -1, 1, 3], "a linear trend contrast of 6 with coefficients −3, −1, 1 and 3"),
        ([1.5, 0.5, -0.5, -1.5], "a linear trend contrast of 6 with"),
        ([2, -4, 2], "a quadratic trend contrast of 6 with"),
        ([-1, 0, 1], "a contrast of 6 with"),  # as well the last against the first
        ([-3, -1, 1, 3.001], "a contrast of 6 with"),
        ([0, 0, 0, 0], "a contrast of 6 with"),
    ],
)
def test_a_trend_is_called_one(coefficients: list[float], kind: str) -> None:
    """In the sentence, whatever its scale and direction."""
    aim = edits.new_aim(DESIGN, "Aim 1")
    study = edits.set_value(Study(aims=(aim,)), aim.id, "coefficients", coefficients).study
    assert kind in plain_text(sentence_of(study.aims[0], outcome_of(study.aims[0])))


def test_a_third_is_typed_and_shown_as_one() -> None:
    """Where decimals would not add up to 0; there only."""
    assert value_text(COEFFICIENTS, first_against_all(3)) == "2/3, −1/3, −1/3"
    assert parse(COEFFICIENTS, "2/3; -1/3; -1/3") == pytest.approx(first_against_all(3), abs=1e-15)
    assert value_text(COEFFICIENTS, [-1.0, 0.5, 0.5]) == "−1, 0.5, 0.5"
    for text in ("1/0, 1", "1/, 2"):
        with pytest.raises(NumberError):
            parse(COEFFICIENTS, text)
    with pytest.raises(NumberError):
        parse(DESIGN.assumption("means"), "1/3, 2/3")


def test_one_is_put_in_with_what_belongs_to_it() -> None:
    """The comparisons that share alpha with it; and what does not add up is centred."""
    aim = edits.new_aim(DESIGN, "Dose")
    study = Study(aims=(aim,))
    typed = edits.type_value(study, aim.id, "coefficients", "-1, 0, 0, 2").study
    assert "add up to 0" in outcome_of(typed.aims[0]).message
    centred = edits.rescale(typed, aim.id, "coefficients").study
    assert centred.aims[0].values()["coefficients"] == [-1.25, -0.25, -0.25, 1.75]
    label = "Each against the first, sharing alpha"
    taken = edits.take_offer(centred, aim.id, "coefficients", label).study.aims[0].values()
    assert (taken["coefficients"], taken["comparisons"]) == ([-1, 1, 0, 0], 3)
