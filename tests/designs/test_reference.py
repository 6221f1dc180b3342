"""Every reference case of the designs that exist, against answers computed independently of this code."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from ragwort.designs import all_designs, answer_request

FOLDER = Path(__file__).parents[1] / "reference"
KNOWN = {design.id for design in all_designs()}
FIELDS_OF_N = ("groups", "clusters", "first", "steady", "looks", "enrol")
LIMITS = ("half_width", "lower", "upper")  # of an interval


def _cases() -> list[dict[str, Any]]:
    lines = [line for path in sorted(FOLDER.glob("*.jsonl")) for line in path.read_text().splitlines()]
    cases = [json.loads(line) for line in lines]
    return [case for case in cases if "request" in case and case["request"]["design"] in KNOWN]


def test_every_design_has_reference_cases() -> None:
    """A design without a single independent case would pass this module unseen."""
    assert {case["request"]["design"] for case in _cases()} == KNOWN


@pytest.mark.parametrize("case", [pytest.param(case, id=case["id"]) for case in _cases()])
def test_answer_agrees_with_reference(case: dict[str, Any]) -> None:
    """Integers equal, power within 1e-9 (exact correlation 1e-7), other numbers within 1e-7 relative."""
    answer, expect = answer_request(case["request"]), case["expect"]
    if "error" in expect or "error_field" in expect:
        assert "error" in answer, answer
        assert expect.get("error_field", answer["error"]["field"]) == answer["error"]["field"]
        assert answer["error"]["message"].endswith((".", "?"))
        return
    assert "error" not in answer, answer
    precise = 1e-7 if case["request"]["design"] == "correlation" else 1e-9
    assert {name: answer["effect"][name] for name in LIMITS if name in expect} == pytest.approx(
        {name: expect[name] for name in LIMITS if name in expect}, rel=1e-9, abs=1e-15
    )
    for name, value in ((name, value) for name, value in expect.items() if name not in LIMITS):
        if name == "answer" and case["request"]["find"] != "power":
            exact = case["request"]["find"] == "n"
            assert answer["answer"] == (value if exact else pytest.approx(value, rel=1e-7))
        elif name in ("power", "answer"):
            assert answer[name] == pytest.approx(value, abs=precise, rel=0)
        elif name in FIELDS_OF_N:
            assert answer["n"][name] == value
        elif name == "events":
            assert answer["n"][name] == pytest.approx(value, rel=1e-7)
        elif name == "strata":
            assert answer["details"][name] == value
        elif value is None:
            assert answer["details"][name] is None
        elif isinstance(value, list):
            found = answer["details"][name]
            assert [each is None for each in found] == [each is None for each in value]
            assert [each for each in found if each is not None] == pytest.approx(
                [each for each in value if each is not None], rel=1e-7, abs=1e-9
            )
        else:
            assert answer["details"][name] == pytest.approx(value, rel=1e-7, abs=1e-12)
