"""Requests as people get them wrong: each answer names the field and says what would be allowed."""

from __future__ import annotations

import json
from typing import Any

import pytest

from ragwort.designs import answer_request

GOOD = {"difference": 12, "sd": 24}


def error_of(request: Any) -> tuple[str, str]:
    """Field and message of the error that a request gets."""
    error = answer_request(request)["error"]
    return error["field"], error["message"]


@pytest.mark.parametrize(
    ("changes", "field", "says"),
    [
        ({"sd": 0}, "sd", "above 0"),
        ({"sd": -24}, "sd", "not -24"),
        ({"sd": "24"}, "sd", "must be a number"),
        ({"sd": True}, "sd", "must be a number"),
        ({"sd": 10**400}, "sd", "too large"),
        ({"alpha": 0}, "alpha", "above 0 and below 1"),
        ({"alpha": 1}, "alpha", "above 0 and below 1"),
        ({"power": 0.04}, "power", "above alpha"),
        ({"ratio": 0}, "ratio", "above 0"),
        ({"dropout": 1}, "dropout", "at least 0 and below 1"),
        ({"sides": "both"}, "sides", "two, greater or less"),
        ({"sdd": 24}, "sdd", "Did you mean 'sd'"),
        ({"sd1": 3, "sd2": 3}, "sd1", "give one SD"),
    ],
)
def test_a_bad_assumption_is_named(changes: dict[str, Any], field: str, says: str) -> None:
    """The field is the one to mend, the message says how."""
    found, message = error_of({"design": "two-means", "find": "n", "assumptions": GOOD | changes})
    assert found == field
    assert says in message


@pytest.mark.parametrize(
    ("sizes", "field"),
    [
        ({"n": 3}, "n"),
        ({"n": 12.5}, "n"),
        ({"n1": 1, "n2": 4}, "n1"),
        ({"n1": 5}, "n2"),
        ({"n1": 5, "n2": 6, "n": 12}, "n"),
        ({}, "n"),
        ({"n": 10**8}, "n"),
    ],
)
def test_a_bad_size_is_named(sizes: dict[str, Any], field: str) -> None:
    """One participant, half a participant, a size for one group only."""
    assert error_of({"design": "two-means", "find": "power", "assumptions": GOOD | sizes})[0] == field


@pytest.mark.parametrize(
    ("request_", "field"),
    [
        ("text", "request"),
        ([], "request"),
        ({}, "design"),
        ({"design": "two-means"}, "find"),
        ({"design": ["two-means"], "find": "n"}, "design"),
        ({"design": "two-means", "find": {}}, "find"),
        ({"design": "two-means", "find": "n", "assumptions": 3}, "assumptions"),
        ({"design": "two-means", "find": "n", "assumption": GOOD}, "assumption"),
    ],
)
def test_a_malformed_request_is_an_answer_too(request_: Any, field: str) -> None:
    """Whatever JSON holds gets an error, never an exception."""
    assert error_of(request_)[0] == field


def test_what_is_given_too_much_is_noted() -> None:
    """A size beside an unknown size is ignored, and said to be."""
    answer = answer_request({"design": "two-means", "find": "n", "assumptions": GOOD | {"n": 40}})
    assert answer["answer"] == 128
    assert answer["notes"] == ["n was given but is not used when n is found."]


def test_answer_is_plain_json_that_reads_back() -> None:
    """Whole numbers are whole, everything is finite, and reading it back gives the same numbers."""
    answer = answer_request({"design": "two-means", "find": "n", "assumptions": GOOD | {"dropout": 0.1}})
    assert json.loads(json.dumps(answer, allow_nan=False)) == answer
    assert answer["details"]["df"] == 126
    assert isinstance(answer["details"]["df"], int)
    assert answer["n"] == {"total": 128, "groups": [64, 64], "enrol": [72, 72]}


def test_the_number_of_means_stands_for_the_groups() -> None:
    """As the contract says; a number that disagrees is an error."""
    given = {"means": [398, 405, 412], "sd": 24}
    alone = answer_request({"design": "anova-one-way", "find": "n", "assumptions": given})
    both = answer_request({"design": "anova-one-way", "find": "n", "assumptions": {**given, "groups": 3}})
    assert alone == both
    other = answer_request({"design": "anova-one-way", "find": "n", "assumptions": {**given, "groups": 4}})
    assert other["error"]["field"] == "groups"
