"""Whatever numbers come in, an answer or an error comes out: finite, as JSON, and soon."""

from __future__ import annotations

import json
import random
import time
import warnings
from typing import Any

import pytest

from ragwort.designs import Design, RequestError, all_designs, answer_request, design_named, settle
from ragwort.figures.pictures import pictures_for

VALUES = [0, 1, -1, 0.5, 1e-300, 1e300, 1e-12, 1e-6, 1e6, 2, 3, 7, 0.999999, 10**7, True, "two", None]
VALUES += [[1, 2], [0.5, 0.5], [2, 3], [1], [], [[0.5, 0.5]], [[0.25, 0.25], [0.25, 0.25]], [[1], [1, 2]], {"a": 1}]


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_no_request_breaks_anything(design: Design) -> None:
    """300 requests with up to three assumptions replaced by something extreme or of another kind."""
    chosen = random.Random(f"ragwort {design.id}")
    names = [assumption.name for assumption in design.assumptions]
    slowest = 0.0
    for _ in range(300):
        assumptions = {**design.starting, "n": chosen.choice([4, 10, 100, 10**7])}
        for name in chosen.sample(names, chosen.choice([1, 2, 3])):
            assumptions[name] = chosen.choice(VALUES)
        start = time.perf_counter()
        answer = answer_request({"design": design.id, "find": chosen.choice(design.finds), "assumptions": assumptions})
        slowest = max(slowest, time.perf_counter() - start)
        text = json.dumps(answer, allow_nan=False)
        assert json.loads(text) == answer
        if "error" in answer:
            assert answer["error"]["message"].endswith(".")
    assert slowest < 20, "a request that never ends would hang the window; this is no timing test"


@pytest.mark.parametrize(
    ("design", "values"),
    [
        ("trend-proportions", {"proportions": [0.0, 0.5, 1.0], "scores": [0, 1, 2]}),
        ("rank-sum", {"difference": 999_999.0, "sd": 10.0}),
        ("rank-sum", {"difference": 5.0, "sd": 1e-300}),
    ],
)
def test_the_next_smaller_size_of_an_effect_without_scatter(design: str, values: dict[str, Any]) -> None:
    """Its power is a number, and nothing warns of a division."""
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        smaller = settle(design_named(design), "n", values).next_smaller()
    assert smaller is None or 0 <= smaller[1] <= 1


@pytest.mark.parametrize("cv", [1e-99, 1e-20, 1e-9, 0.99e-8, 1.01e-8])
def test_a_tiny_cv_is_an_sd_of_logarithms(cv: float) -> None:
    """Its square may vanish, the SD does not: every picture can be drawn of it."""
    values = {"scale": "log", "n": 12, "mean_ratio": 1.0, "cv": cv, "hypothesis": "equivalence"}
    answer = settle(design_named("crossover-means"), "power", values)
    assert answer.power == 1.0
    assert answer.plan.inner.sd == pytest.approx(cv, rel=1e-12)
    assert pictures_for(answer)


def test_a_cv_that_vanishes_is_refused() -> None:
    with pytest.raises(RequestError, match="too small to compute with"):
        settle(design_named("crossover-means"), "power", {"scale": "log", "n": 12, "mean_ratio": 1.1, "cv": 1e-320})
