"""Numbers as people type and read them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ragwort.designs import design_named
from ragwort.study.words.numbers import (
    NumberError,
    nudged,
    parse,
    parse_range,
    percent_text,
    range_text,
    ratio_text,
    value_text,
    with_unit,
)

DESIGN = design_named("two-means")


def read(name: str, text: str, unit: str = "ms") -> object:
    """A text typed into the row of an assumption."""
    return parse(DESIGN.assumption(name), text, unit)


@pytest.mark.parametrize(
    ("name", "text", "value"),
    [
        ("sd", "1.5", 1.5),
        ("sd", "1,5", 1.5),
        ("sd", " 24 ms ", 24.0),
        ("difference", "−12", -12.0),
        ("difference", "1e-3", 0.001),
        ("n", "1,200", 1200),
        ("n", "12 000", 12000),
        ("power", "80", 0.8),
        ("power", "80%", 0.8),
        ("power", "0.8", 0.8),
        ("power", "82.5%", 0.825),
        ("dropout", "7", 0.07),
        ("dropout", "0", 0.0),
        ("alpha", "5%", 0.05),
        ("ratio", "1 : 2", 2.0),
        ("ratio", "2:1", 0.5),
        ("sides", "two-sided", "two"),
    ],
)
def test_what_people_type_is_understood(name: str, text: str, value: object) -> None:
    """Decimal comma, units, per cent, ratios, typographic minus."""
    assert read(name, text) == value


@pytest.mark.parametrize(
    ("name", "text", "says"),
    [
        ("sd", "", "is empty"),
        ("sd", "abc", "is not a number"),
        ("sd", "nan", "is not a number"),
        ("sd", "1e400", "too large"),
        ("sd", "0", "above 0"),
        ("sd", "-5", "above 0"),
        ("sd", "12,500", "12.500 or 12500"),
        ("alpha", "0", "above 0 and below 1"),
        ("alpha", "5", "type 0.05"),
        ("power", "100", "below 100%"),
        ("power", "-3%", "not −3%"),
        ("ratio", "0:1", "above 0"),
        ("ratio", "1:0", "above 0"),
        ("n", "12.5", "whole number"),
        ("n", "100000000", "10\u2009000\u2009000"),
        ("sides", "three", "two, greater or less"),
    ],
)
def test_what_cannot_be_read_says_what_could(name: str, text: str, says: str) -> None:
    """The message names what is allowed."""
    with pytest.raises(NumberError) as caught:
        read(name, text)
    assert says in str(caught.value).replace("10 000 000", "10\u2009000\u2009000")


@given(st.floats(1e-6, 1e9), st.sampled_from(["sd", "difference"]))
def test_a_value_reads_back_as_it_was_shown(value: float, name: str) -> None:
    """What the ledger shows can be typed again."""
    shown = value_text(DESIGN.assumption(name), value)
    assert read(name, shown) == pytest.approx(value, rel=1e-11)


def test_ranges_are_typed_and_shown() -> None:
    """Two numbers, lower first; one end may be open in the file."""
    sd = DESIGN.assumption("sd")
    assert parse_range(sd, "8 to 16") == parse_range(sd, "8–16") == parse_range(sd, "8 - 16") == (8, 16)
    assert parse_range(sd, " ") == (None, None)
    assert parse_range(DESIGN.assumption("power"), "80 to 90%") == (0.8, 0.9)
    assert range_text(sd, 8, 16) == "8 to 16"
    assert range_text(sd, None, 16) == "to 16"
    for wrong in ("8", "16 to 8", "a to b", "1 to 2 to 3"):
        with pytest.raises(NumberError):
            parse_range(sd, wrong)


def test_numbers_are_shown_as_people_write_them() -> None:
    """No exponent for everyday sizes, no 100% for nearly all, a no-break space before the unit."""
    sd = DESIGN.assumption("sd")
    assert value_text(sd, 1234567.0) == "1\u2009234\u2009567"
    assert value_text(sd, 0.00005) == "0.00005"
    assert with_unit(sd, 11.977660, "ms", digits=4) == "11.98\u00a0ms"
    assert percent_text(0.99999) == "> 99.9%"
    assert percent_text(0.0001) == "< 0.1%"
    assert percent_text(1.0) == "100.0%"
    assert (ratio_text(2), ratio_text(0.5), ratio_text(0.4)) == ("1 : 2", "2 : 1", "1 : 0.4")


@pytest.mark.parametrize(
    ("name", "value", "steps", "result"),
    [
        ("sd", 12, 1, 13),
        ("sd", 1.7, -1, 1.6),
        ("sd", 24.3, 1, 25),
        ("power", 0.8, 5, 0.85),
        ("power", 0.99, 1, 0.99),
        ("alpha", 0.05, 1, 0.055),
        ("n", 128, -1, 127),
        ("n", 1280, 1, 1290),
        ("difference", 0, -1, -1),
    ],
)
def test_a_nudge_lands_on_round_numbers_inside_the_bounds(name: str, value: float, steps: int, result: float) -> None:
    """About a tenth of the leading digit; what would leave the bounds stays."""
    assert nudged(DESIGN.assumption(name), value, steps) == pytest.approx(result)


@pytest.mark.parametrize("typed", ["30 months", "30 month", "30", "30months"])
def test_a_time_is_read_with_its_unit_or_without(typed: str) -> None:
    follow_up = design_named("survival").assumption("follow_up")
    assert parse(follow_up, typed, "months") == 30
    assert with_unit(follow_up, 30, "months") == "30\u00a0months"
    assert with_unit(follow_up, 1, "months") == "1\u00a0month"
    assert with_unit(follow_up, 6, "month") == "6\u00a0months"
    assert with_unit(follow_up, 6, "cycle") == "6\u00a0cycle"
    assert with_unit(follow_up, 6, "") == "6"


def test_a_rate_is_so_many_per_unit() -> None:
    rate = design_named("two-rates").assumption("rate1")
    assert with_unit(rate, 1.4, "years") == "1.4\u00a0per year"
    assert parse(rate, "1.4 per year", "years") == 1.4


def test_per_cent_stay_per_cent() -> None:
    """Half a per cent is not a half."""
    assert parse(design_named("two-proportions").assumption("proportion1"), "0.5%", "") == 0.005
