"""A column has one decimal sign and one grouping sign; nothing is guessed value by value."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ragwort.files.numerals import COMMA, POINT, WAYS, Signs, fitting, number_in
from ragwort.pilot import Data, PilotError, read_table
from ragwort.pilot.columns import Unsure


def data(tmp_path: Path, text: str) -> Data:
    """A file with this text, read."""
    (tmp_path / "p.csv").write_text(text)
    return Data(read_table(tmp_path / "p.csv"))


@pytest.mark.parametrize(
    ("cells", "numbers"),
    [
        (("1.234,5", "12"), (1234.5, 12)),
        (("1,5", "2"), (1.5, 2)),
        (("1,234.5", "2"), (1234.5, 2)),
        (("1,234", "5.25"), (1234, 5.25)),
        (("1.234", "0,5"), (1234, 0.5)),
        (("1 234,5", "7"), (1234.5, 7)),
        (("1\u202f234.5", "−7"), (1234.5, -7)),
        (("1'234.5", "1'000"), (1234.5, 1000)),
        (("0.123", "2.345"), (0.123, 2.345)),
        (("1e3", "2.5E-1"), (1000, 0.25)),
    ],
)
def test_a_column_is_read_by_its_own_signs(tmp_path: Path, cells: tuple[str, ...], numbers: tuple[float, ...]) -> None:
    """Found from all of it."""
    found = data(tmp_path, "x;y\n" + "".join(f"{cell};a\n" for cell in cells)).numbers("x")
    assert found.tolist() == list(numbers)


def test_a_mixture_names_its_rows(tmp_path: Path) -> None:
    """1,5 is not fifteen beside 2.5."""
    with pytest.raises(PilotError, match=r"x is no number in row 2 \(“1,5”\) \(it has a decimal point elsewhere\)"):
        data(tmp_path, "x;y\n1,5;a\n2.5;b\n3.5;c\n").numbers("x")


def test_where_both_ways_fit_it_is_asked(tmp_path: Path) -> None:
    """And the answer holds for the file."""
    pilot = data(tmp_path, "x;y\n1.234;a\n2.345;b\n")
    with pytest.raises(Unsure, match=r"is 1\.234 1\.234 or 1234\?") as asked:
        pilot.numbers("x")
    assert [(signs.decimal, number) for signs, number in asked.value.readings] == [(".", 1.234), (",", 1234.0)]
    pilot.settle(",")
    assert pilot.numbers("x").tolist() == [1234, 2345]
    pilot.settle(".")
    assert pilot.numbers("x").tolist() == [1.234, 2.345]


def test_other_columns_and_the_delimiter_decide(tmp_path: Path) -> None:
    """What leaves no doubt elsewhere in the file speaks for a column that does."""
    assert data(tmp_path, "x;z\n1.234;0,5\n2.345;1,25\n").numbers("x").tolist() == [1234, 2345]
    assert data(tmp_path, "x;z\n1.234;0.5\n2.345;1.25\n").numbers("x").tolist() == [1.234, 2.345]
    assert data(tmp_path, "x,z\n1.234,a\n2.345,b\n").numbers("x").tolist() == [1.234, 2.345]
    with pytest.raises(Unsure):
        data(tmp_path, "x;y;z\n1.234;0.5;0,5\n2.345;1.25;1,5\n").numbers("x")


def test_what_only_looks_like_a_number_is_none(tmp_path: Path) -> None:
    """Raised digits, thousands of digits, signs of programming languages."""
    for cell in ("²", "9" * 5000, "1_000", "0x10", "١٢", "infinity", "1,23,456", "12.34.5"):
        with pytest.raises(PilotError, match="is no number in row 2"):
            data(tmp_path, f"x;y\n{cell};a\n3;b\n").numbers("x")
        assert data(tmp_path, f"x;y\n{cell};a\n3;b\n4;c\n").columns[0].kind in ("groups", "text")


def _written(number: float, signs: Signs) -> str:
    whole, _, decimals = f"{number:,.3f}".partition(".")
    return whole.replace(",", signs.grouping) + signs.decimal + decimals


@given(st.lists(st.floats(-1e9, 1e9).map(lambda x: round(x, 3)), min_size=1, max_size=20), st.sampled_from(WAYS))
def test_numbers_come_back_from_any_way_of_writing(numbers: list[float], signs: Signs) -> None:
    """The way in which they were written fits, and gives them back; no other gives something else unasked."""
    texts = [_written(number, signs) for number in numbers]
    assert [number_in(text, signs) for text in texts] == pytest.approx(numbers, abs=1e-9)
    ways = fitting(texts)
    assert any([number_in(t, way) for t in texts] == [number_in(t, signs) for t in texts] for way in ways)
    if len(ways) == 1:
        assert np.array_equal([number_in(t, ways[0]) for t in texts], [number_in(t, signs) for t in texts])


def test_typed_numbers_follow_the_same_rules() -> None:
    """A list is a column: one sign for all of it."""
    from ragwort.designs import design_named
    from ragwort.study.words.numbers import NumberError, parse

    means = design_named("anova-one-way").assumption("means")
    sd = design_named("two-means").assumption("sd")
    assert parse(means, "1.234,5; 2,5; 3") == [1234.5, 2.5, 3]
    assert parse(sd, "1.234,5") == parse(sd, "1,234.5") == parse(sd, "1 234.5") == 1234.5
    assert parse(sd, "1.234") == 1.234
    with pytest.raises(NumberError, match=r"2\.5 is written with another decimal sign"):
        parse(means, "1,5; 2.5; 3,5")
    with pytest.raises(NumberError, match=r"can mean 1\.234 or 1234"):
        parse(sd, "1,234")
    assert (POINT.words, COMMA.words) == ("a decimal point", "a decimal comma")
