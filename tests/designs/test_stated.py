"""What people state in other quantities than the design's own is taken as it is stated, and said."""

from __future__ import annotations

from typing import Any

import pytest

from ragwort.designs import answer_request


def _answer(design: str, find: str = "n", **assumptions: Any) -> dict[str, Any]:
    return answer_request({"design": design, "find": find, "assumptions": assumptions})


@pytest.mark.parametrize(
    ("design", "stated", "same", "note"),
    [
        ("two-means", {"d": 0.5}, {"difference": 0.5, "sd": 1}, "d 0.5 is taken as difference 0.5 and sd 1."),
        ("two-means", {"d": -0.5, "sd": 24}, {"difference": -12, "sd": 24}, "taken as difference -12."),
        ("two-means", {"d": 1, "sd1": 3, "sd2": 4}, {"difference": 12.5**0.5, "sd1": 3, "sd2": 4}, "difference 3.5"),
        ("one-mean", {"d": 0.5}, {"difference": 0.5, "sd": 1}, "sd 1"),
        ("paired-means", {"d": 0.5}, {"difference": 0.5, "sd_difference": 1}, "sd_difference 1"),
        (
            "paired-means",
            {"d": 0.5, "sd1": 3, "sd2": 4, "correlation": 0.5},
            {"difference": 0.5 * 13**0.5, "sd1": 3, "sd2": 4, "correlation": 0.5},
            "difference 1.80278",
        ),
        (
            "two-proportions",
            {"proportion1": 0.3, "odds_ratio": 2},
            {"proportion1": 0.3, "proportion2": 6 / 13},
            "proportion2 0.461538",
        ),
        ("two-proportions", {"proportion1": 0.3, "risk_ratio": 1.5}, {"proportion1": 0.3, "proportion2": 0.45}, "0.45"),
    ],
)
def test_a_size_is_the_same_however_the_effect_is_stated(
    design: str, stated: dict[str, Any], same: dict[str, Any], note: str
) -> None:
    """The answer and the notes, but for the one that says what was made of it."""
    found, expected = _answer(design, **stated), _answer(design, **same)
    assert found["n"] == expected["n"]
    assert found["power"] == pytest.approx(expected["power"], abs=1e-12)
    assert note in found["notes"][0]


def test_the_published_example_of_an_odds_ratio() -> None:
    """Schlesselman (1982), chapter 6."""
    found = _answer("two-proportions", proportion1=0.3, odds_ratio=2)
    assert (found["answer"], found["power"]) == (282, pytest.approx(0.800968025630, abs=1e-9))


@pytest.mark.parametrize(
    ("design", "values"),
    [
        ("two-means", {"difference": 12, "sd": 24}),
        ("two-proportions", {"proportion1": 0.3, "proportion2": 0.45}),
        ("two-variances", {"sd1": 3, "sd2": 4}),
        ("two-rates", {"rate1": 1, "rate2": 2, "exposure": 1}),
        ("two-correlations", {"rho1": 0.1, "rho2": 0.4}),
        ("rank-sum", {"d": 0.5}),
        ("survival", {"hazard_ratio": 0.7, "median1": 12, "accrual": 12, "follow_up": 12}),
    ],
)
def test_every_design_of_two_groups_takes_a_size_per_group(design: str, values: dict[str, Any]) -> None:
    """As two sizes that are the same; of half a person it says what would be allowed."""
    found = _answer(design, "power", n_per_group=64, **values)
    assert found["power"] == _answer(design, "power", n1=64, n2=64, **values)["power"]
    assert _answer(design, "power", n_per_group=64.5, **values)["error"]["field"] == "n_per_group"
    assert _answer(design, "power", n_per_group=64, n1=60, n2=60, **values)["error"]["field"] == "n_per_group"


@pytest.mark.parametrize(
    ("stated", "field"),
    [
        ({"odds_ratio": 2}, "proportion1"),
        ({"odds_ratio": 0, "proportion1": 0.3}, "odds_ratio"),
        ({"odds_ratio": "two", "proportion1": 0.3}, "odds_ratio"),
        ({"odds_ratio": 2, "proportion1": "some"}, "proportion1"),
        ({"odds_ratio": 2, "proportion1": 0.3, "proportion2": 0.4}, "odds_ratio"),
        ({"risk_ratio": 4, "proportion1": 0.3}, "risk_ratio"),
    ],
)
def test_what_cannot_be_made_of_it_is_said(stated: dict[str, Any], field: str) -> None:
    """By the name that was stated, or by the one that is missing."""
    assert _answer("two-proportions", **stated)["error"]["field"] == field


def test_all_that_is_missing_is_named_at_once() -> None:
    """In one message, the first field first."""
    error = _answer("survival")["error"]
    assert error["field"] == "hazard_ratio"
    for label in ("Hazard ratio", "Median of arm 1", "Accrual period", "Follow-up"):
        assert f"{label} is missing" in error["message"]
