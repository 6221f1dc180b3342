"""Every conversion case of the reference folder, and every way there and back."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ragwort.designs.conversions import ROUTES, convert

FILES = sorted((Path(__file__).parents[1] / "reference").glob("conversions*.jsonl"))
CASES = [json.loads(line) for file in FILES for line in file.read_text().splitlines()]


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["id"])
def test_conversion_agrees_with_reference(case: dict[str, Any]) -> None:
    """Numbers to 1e-7 relative (1e-12 where the formula is closed), errors as errors."""
    answer, expect = convert(case["convert"]), case["expect"]
    if isinstance(expect, dict) and ("error" in expect or "error_field" in expect):
        assert "error" in answer
        assert expect.get("error_field", answer["error"]["field"]) == answer["error"]["field"]
    elif isinstance(expect, dict):
        assert answer["low"] == pytest.approx(expect["low"], rel=1e-7, abs=1e-9)
        assert answer["high"] == pytest.approx(expect["high"], rel=1e-7, abs=1e-9)
    else:
        assert answer["value"] == pytest.approx(expect, rel=1e-12, abs=1e-14)


def there_and_back(given: dict[str, Any], to: str, back: str) -> float:
    """Convert, and convert the result back with the same side information."""
    there = convert({"from": given, "to": to})["value"]
    side = {name: value for name, value in given.items() if name != back}
    return float(convert({"from": {to: there, **side}, "to": back})["value"])


@given(st.floats(-5, 5), st.integers(2, 500), st.integers(2, 500))
def test_d_comes_back(d: float, n1: int, n2: int) -> None:
    """Through t, g, r and the odds ratio."""
    for given_, to in (({"n1": n1, "n2": n2}, "t"), ({"n1": n1, "n2": n2}, "g"), ({}, "r"), ({}, "odds_ratio")):
        assert there_and_back({"d": d, **given_}, to, "d") == pytest.approx(d, rel=1e-12, abs=1e-12)


@given(st.floats(0.01, 0.99), st.floats(0.01, 0.99))
def test_proportions_come_back(p1: float, p2: float) -> None:
    """Through difference, ratio, odds ratio and h."""
    for to in ("risk_difference", "risk_ratio", "odds_ratio", "h"):
        assert there_and_back({"proportion2": p2, "proportion1": p1}, to, "proportion2") == pytest.approx(p2, abs=1e-12)


@pytest.mark.parametrize(
    ("request_", "field"),
    [
        ({"from": {"t": 2.5, "n1": 20}, "to": "d"}, "n2"),
        ({"from": {"d": 0.5}, "to": "wings"}, "to"),
        ({"from": {"wings": 2}, "to": "d"}, "wings"),
        ({"from": {"d": "0.5"}, "to": "r"}, "d"),
        ({"from": {}, "to": "d"}, "from"),
        ({"from": {"size": "huge"}, "to": "d"}, "size"),
        ("text", "from"),
        ({"from": {"d": 1000}, "to": "odds_ratio"}, "from"),
        ({"from": {"mean1": 1e308, "mean2": -1e308, "sd": 1e-300}, "to": "d"}, "from"),
    ],
)
def test_a_bad_conversion_is_named(request_: Any, field: str) -> None:
    """The field to mend, in words."""
    error = convert(request_)["error"]
    assert error["field"] == field
    assert error["message"].endswith(".")


def test_a_size_by_convention_is_marked_as_a_last_resort() -> None:
    """The number never comes without the warning."""
    answer = convert({"from": {"size": "large"}, "to": "w"})
    assert answer["value"] == 0.5
    assert "last resort" in answer["notes"][0]


def test_no_two_routes_need_the_same() -> None:
    """What is given always says which formula is meant."""
    keys = [(route.to, route.needs) for route in ROUTES]
    assert len(set(keys)) == len(keys)


def test_w_is_no_larger_than_its_table_lets_it_be() -> None:
    """A V or φ above 1 is none."""
    for request in (
        {"from": {"w": 1.2, "rows": 2, "columns": 2}, "to": "cramers_v"},
        {"from": {"w": 1.2}, "to": "phi"},
    ):
        assert convert(request)["error"]["field"] == "w"
    assert convert({"from": {"w": 1.2, "rows": 3, "columns": 3}, "to": "cramers_v"})["value"] < 1
