"""Several values as they are typed."""

from __future__ import annotations

import pytest

from ragwort.designs import design_named
from ragwort.figures.steering.typed import values_from
from ragwort.study.words.lists import ends_in, said, several
from ragwort.study.words.numbers import NumberError

TWO_MEANS = design_named("two-means")


@pytest.mark.parametrize(
    ("name", "text", "values"),
    [
        ("difference", "8, 10, 12", (8, 10, 12)),
        ("difference", "8,10,12", (8, 10, 12)),
        ("difference", "8 10 12", (8, 10, 12)),
        ("difference", "8 and 12 ms", (8, 12)),
        ("difference", "1,5; 2,5", (1.5, 2.5)),
        ("difference", "8\n10\n\n12\n", (8, 10, 12)),
        ("difference", "8\t10\t8", (8, 10)),
        ("difference", "8 to 16 by 2 ms", (8, 10, 12, 14, 16)),
        ("difference", "8:16:4", (8, 12, 16)),
        ("difference", "16 to 8 by -4", (16, 12, 8)),
        ("difference", "8 to 9 by 0.1", (8, 8.1, 8.2, 8.3, 8.4, 8.5, 8.6, 8.7, 8.8, 8.9, 9)),
        ("alpha", "0.01 to 0.06 in 6 steps", (0.01, 0.02, 0.03, 0.04, 0.05, 0.06)),
        ("power", "80, 90", (0.8, 0.9)),
        ("power", "80 to 95 % by 5", (0.8, 0.85, 0.9, 0.95)),
        ("power", "0.8 to 0.9 by 0.05", (0.8, 0.85, 0.9)),
        ("ratio", "1 : 1, 1 : 2", (1, 2)),
    ],
)
def test_values_are_read(name: str, text: str, values: tuple[float, ...]) -> None:
    """Lists, ranges, columns; each value once; and what is said of them reads the same."""
    assumption = TWO_MEANS.assumption(name)
    found = several(assumption, text, "ms" if name == "difference" else "")
    assert found == values
    assert several(assumption, said(assumption, found)) == pytest.approx(values, rel=1e-9)


@pytest.mark.parametrize(
    ("name", "text", "fault"),
    [
        ("difference", "", "Type values of difference, as in “8, 10, 12” or “8 to 16 by 2”."),
        ("difference", "8 to 16", "Say the step, as in “8 to 16 by 2”, or how many values: “8 to 16 in 5 steps”."),
        ("difference", "8 to 16 by 0", "A range from 8 to 16 goes up: its step cannot be 0."),
        ("difference", "16 to 8 by 2", "A range from 16 to 8 goes down: its step cannot be 2."),
        ("difference", "8 to 16 by x", "The step “x” is not a number"),
        ("difference", "0 to 1e9 by 1", "These are 1 000 000 001 values: a grid takes 100 000 at most."),
        ("difference", "0 to 1e308 by 1e-300", "These are endlessly many values"),
        ("difference", "8 to 16 in 1 steps", "A range has 2 steps or more, 100 000 at most, not 1."),
        ("sd", "-4 to 4 by 2", "Standard deviation must be above 0, not -4."),
        ("sd", "20, none", "“none” is not a number"),
    ],
)
def test_what_cannot_be_read_is_said(name: str, text: str, fault: str) -> None:
    """With what could be typed."""
    with pytest.raises(NumberError) as said_of_it:
        several(TWO_MEANS.assumption(name), text)
    assert fault in str(said_of_it.value).replace("\u2009", " ")


def test_many_values_are_said_in_short() -> None:
    """As a range where they are one, otherwise the first and the last."""
    assumption = TWO_MEANS.assumption("sd")
    assert said(assumption, tuple(float(x) for x in range(10, 31))) == "10 to 30 by 1"
    assert said(assumption, (1, 2, 4, 8, 16, 32, 64)) == "1, 2, 4, … 64 (7 values)"
    assert said(TWO_MEANS.assumption("power"), tuple(x / 100 for x in range(80, 90))) == "80 to 89 by 1"


@pytest.mark.parametrize("text", ["6,18", "6, 18", "6 to 18", "6:18", "6:18:2", "6 to 18 by 3", "6 to 18 in 5 steps"])
def test_the_ends_of_an_axis_are_typed_as_a_list_or_a_range(text: str) -> None:
    """Both forms that a grid and a picture take."""
    assert ends_in(design_named("two-means").assumption("difference"), text) == (6, 18)


@pytest.mark.parametrize("text", ["20, 24, 28", "20:28:4", "20 to 28 by 4", "20 to 28 in 3 steps", "20,24,28"])
def test_the_lines_of_a_picture_are_typed_as_a_list_or_a_range(text: str) -> None:
    """And more than can be told apart are refused."""
    sd = design_named("two-means").assumption("sd")
    assert values_from(sd, text) == (20, 24, 28)
    with pytest.raises(NumberError, match="can be told apart"):
        values_from(sd, "1 to 100 by 1")
