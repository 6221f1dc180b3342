"""What people get wrong in the further designs: the field is named, and what would be allowed is said."""

from __future__ import annotations

import re
from typing import Any

import pytest

from ragwort.designs import Design, all_designs, answer_request, design_named

CASES: list[tuple[str, dict[str, Any], str, str]] = [
    ("anova-one-way", {"groups": 1}, "groups", "from 2 to"),
    ("rank-sum", {"difference": None, "sd": None, "probability": 1e-20}, "probability", "hardly any two overlap"),
    ("anova-one-way", {"weights": [1, 2]}, "weights", "3 groups but 2 weights"),
    ("anova-one-way", {"weights": [2, 2, 3]}, "weights", "exactly 1"),
    ("anova-one-way", {"means": [1, 2], "sd": 3, "f": None}, "groups", "2 means"),
    ("anova-one-way", {"weights": [1, 1, 2], "balance": "any"}, "balance", "no relative sizes"),
    ("anova-factorial", {"levels": [2, 1]}, "levels", "from 2 to"),
    ("anova-factorial", {"levels": [2, 2.5]}, "levels", "whole number"),
    ("anova-factorial", {"term": [1, 3]}, "term", "the factors are 1 to 2"),
    ("anova-factorial", {"term": [1, 1]}, "term", "twice"),
    ("anova-factorial", {"f": None, "term": None, "terms": [{"term": [1]}]}, "terms", '"f": 0.25'),
    ("anova-repeated", {"correlation": -0.4}, "correlation", "above -0.333333"),
    ("anova-repeated", {"sphericity": 0.2}, "sphericity", "at least 0.333333"),
    ("anova-repeated", {"groups": 1}, "groups", "2 groups or more"),
    ("anova-repeated", {"term": "time"}, "term", "between, within or interaction"),
    ("correlation", {"rho": 1}, "rho", "above -1 and below 1"),
    ("regression-overall", {"predictors": 0}, "predictors", "from 1"),
    ("regression-overall", {"find": "power", "n": 4}, "n", "5 or more"),
    ("regression-added", {"tested": 6}, "tested", "only 5 predictors"),
    (
        "regression-added",
        {"f_squared": None, "r_squared_full": 0.2, "r_squared_reduced": 0.3},
        "r_squared_reduced",
        "less",
    ),
    (
        "regression-coefficient",
        {
            "partial_r": None,
            "slope": 1,
            "sd_predictor": 1,
            "sd_residual": 1,
            "predictors": 1,
            "r_squared_predictors": 0.2,
        },
        "r_squared_predictors",
        "must be 0",
    ),
    ("chi-square-fit", {"proportions": [0.5, 0.2, 0.2, 0.2]}, "proportions", "add up to 1.1, 0.1 over"),
    ("chi-square-fit", {"proportions": [0.5, 0.5]}, "proportions", "4 known shares but 2"),
    ("chi-square-fit", {"null_proportions": [0, 0.5, 0.25, 0.25]}, "null_proportions", "above 0"),
    ("chi-square-table", {"table": [[0.5, 0.5], [0, 0]]}, "table", "empty"),
    ("chi-square-table", {"table": [[0.25, 0.25], [0.5]]}, "table", "2 or more numbers"),
    ("chi-square-table", {"table": [[0.25, 0.25], [0.2, 0.2, 0.1]]}, "table", "equally long"),
    ("chi-square-table", {"table": None, "w": 0.3}, "df", "without df"),
    ("chi-square-table", {"w": 0.9}, "w", "proportions make it"),
    ("paired-means", {"sd_difference": None, "sd1": 3, "sd2": 3, "correlation": 1}, "correlation", "no variability"),
    ("one-mean", {"sd_known": "yes"}, "sd_known", "true or false"),
]


@pytest.mark.parametrize(
    ("design", "changes", "field", "says"), CASES, ids=[f"{c[0]}-{c[2]}-{i}" for i, c in enumerate(CASES)]
)
def test_a_bad_assumption_is_named(design: str, changes: dict[str, Any], field: str, says: str) -> None:
    """Starting values with something changed (None: left out)."""
    find = changes.pop("find", "n")
    values = {k: v for k, v in {**design_named(design).starting, **changes}.items() if v is not None}
    error = answer_request({"design": design, "find": find, "assumptions": values})["error"]
    assert error["field"] == field, error
    assert says in error["message"]


def test_an_effect_beyond_its_bounds_names_the_largest_power() -> None:
    """A table of two rows has w of at most 1: what that reaches is said."""
    request = {
        "design": "chi-square-table",
        "find": "effect",
        "assumptions": {"table": [[0.3, 0.2], [0.2, 0.3]], "n": 3},
    }
    error = answer_request(request)["error"]
    assert error["field"] == "w"
    assert "the largest power reachable is" in error["message"]


def test_several_terms_are_powered_together() -> None:
    """The n that powers both is the larger of their own, and the smallest power is reported."""
    terms = [{"term": [1], "f": 0.2}, {"term": [1, 2], "f": 0.25}]
    request = {
        "design": "anova-factorial",
        "find": "n",
        "assumptions": {"levels": [2, 3], "terms": terms, "power": 0.9},
    }
    answer = answer_request(request)
    assert answer["answer"] == max(term["n"] for term in answer["details"]["terms"]) == 270
    assert answer["power"] == pytest.approx(min(term["power"] for term in answer["details"]["terms"]))


def test_a_total_that_does_not_fill_the_cells_shows_the_next_that_does() -> None:
    """With its power; nothing is said where the cells are full."""
    given = {"levels": [2, 3], "term": [1, 2], "f": 0.25}
    answer = answer_request({"design": "anova-factorial", "find": "power", "assumptions": {**given, "n": 160}})
    assert answer["n"]["next_multiple"] == 162
    assert "the next total that does is 162, with 81.26% power" in answer["notes"][0]
    full = answer_request({"design": "anova-factorial", "find": "power", "assumptions": {**given, "n": 162}})
    assert "next_multiple" not in full["n"]
    assert full["notes"] == []


def test_an_even_split_gives_the_size_of_each_part() -> None:
    """Four equal known shares; two rows of one size; nothing for uneven ones."""
    even = {"null_proportions": [0.25] * 4, "proportions": [0.4, 0.2, 0.2, 0.2]}
    answer = answer_request({"design": "chi-square-fit", "find": "n", "assumptions": even})
    assert (answer["answer"], answer["n"]["per_group"]) == (91, 23)
    rows = {"table": [[0.3, 0.2], [0.2, 0.3]]}
    assert answer_request({"design": "chi-square-table", "find": "n", "assumptions": rows})["n"]["per_group"] == 99
    uneven = {"table": [[0.4, 0.2], [0.1, 0.3]]}
    assert "per_group" not in answer_request({"design": "chi-square-table", "find": "n", "assumptions": uneven})["n"]


@pytest.mark.parametrize(
    ("design", "asked", "field", "called"),
    [
        ("chi-square-fit", {"null_proportions": [0.5, 0.3], "proportions": [0.4, 0.6]}, "null_proportions", "Known"),
        ("chi-square-fit", {"null_proportions": [0.5, 0.5], "proportions": [0.4, 0.4]}, "proportions", "Expected"),
        ("chi-square-table", {"table": [[0.2, 0.2], [0.2, 0.2]]}, "table", "The shares of the table"),
        ("paired-proportions", {"cells": [[0.2, 0.1], [0.3, 0.2]]}, "cells", "The four cells"),
        ("rank-sum", {"proportions1": [0.5, 0.5], "proportions2": [0.2, 0.6]}, "proportions2", "The shares of group 2"),
    ],
)
def test_shares_that_do_not_add_up_are_called_what_they_are(
    design: str, asked: dict[str, object], field: str, called: str
) -> None:
    """Not by the name that they have in a request."""
    error = answer_request({"design": design, "find": "n", "assumptions": asked})["error"]
    assert error["field"] == field
    assert re.match(rf"{called}.* must add up to 1; they add up to 0\.8, 0\.2 under", error["message"])


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_every_way_to_state_a_size_is_answered_or_refused(design: Design) -> None:
    """Whatever is found: also a number of events alone where a time to watch people is."""
    for find in design.finds:
        for way in design.sizes:
            given = {**design.starting, **dict.fromkeys(way.names, 60)}
            told = answer_request({"design": design.id, "find": find, "assumptions": given})
            assert "answer" in told or told["error"]["field"], (find, way.label, told)


def test_events_alone_do_not_say_how_long_people_are_watched() -> None:
    """A size is asked for, and beside one events are left out with a note."""
    given = {"hazard_ratio": 0.7, "median1": 12, "accrual": 12, "events": 300}
    asked = {"design": "survival", "find": "follow_up", "assumptions": given}
    assert answer_request(asked)["error"]["message"].endswith("It can be stated as n or n1 and n2.")
    sized = answer_request({**asked, "assumptions": {**given, "n": 400}})
    assert sized["answer"] == pytest.approx(14.14, abs=0.01)
    assert any(note.startswith("events was given but has no say") for note in sized["notes"])
