"""What is found at the end of what is possible passes the power asked for, and says so."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.designs import all_designs, answer_request
from ragwort.stats.noncentral import chi_square_above, chi_square_below, chi_square_limit


def _answer(design: str, find: str, **assumptions: Any) -> dict[str, Any]:
    return answer_request({"design": design, "find": find, "assumptions": assumptions})


@pytest.mark.parametrize(
    ("design", "find", "assumptions", "end"),
    [
        ("signed-rank", "alpha", {"d": 34, "n": 9, "sides": "greater"}, "smallest alpha at which this test can reject"),
        ("rank-sum", "alpha", {"d": 88520, "n1": 18, "n2": 5}, "smallest alpha at which this test can reject"),
        (
            "survival",
            "follow_up",
            {"hazard_ratio": 1.5, "hazard1": 16, "n": 2190, "accrual": 48},
            "no follow-up after recruiting",
        ),
        (
            "cluster-means",
            "icc",
            {"difference": 30, "sd": 10, "cluster_size": 2, "clusters": 300},
            "an intracluster correlation of 1",
        ),
        (
            "cluster-means",
            "cluster_size",
            {"difference": 30, "sd": 10, "clusters": 30, "icc": 0.1},
            "one participant per cluster",
        ),
        ("two-means", "n", {"difference": 500, "sd": 10}, "the smallest sample that this test can be done with"),
    ],
)
def test_the_end_of_what_is_possible_is_said(design: str, find: str, assumptions: dict[str, Any], end: str) -> None:
    """In one sentence for all, with the power that there is."""
    found = _answer(design, find, **assumptions)
    assert found["power"] > 0.8 + 1e-6
    (note,) = [note for note in found["notes"] if note.startswith("Even")]
    assert end in note
    assert "gives more than the power asked for" in note


@pytest.mark.parametrize("design", [design.id for design in all_designs() if design.tested])
def test_what_is_found_gives_what_was_asked_or_says_otherwise(design: str) -> None:
    """Every number that is no whole one, of every design, from where it starts."""
    from ragwort.designs import design_named, settle

    declared = design_named(design)
    sized = settle(declared, "n", declared.starting)
    sizes = declared.sizes_as_values(sized.groups, sized.plan)
    for find in ("effect", "alpha", *declared.further):
        for power in (0.5, 0.99):
            values = {**declared.starting, **sizes, "power": power}
            given = {k: v for k, v in values.items() if k not in declared.unused_names(find)}
            found = answer_request({"design": design, "find": find, "assumptions": given})
            if "error" in found or abs(found["power"] - power) < 1e-6 or find in ("cluster_size", "events"):
                continue
            assert found["power"] > power
            assert [note for note in found["notes"] if "gives more than" in note or "rises in steps" in note], find


def test_powers_are_never_above_1() -> None:
    """Sums of many small chances."""
    shares = {"proportion1": 0.3, "proportion2": 0.686, "n1": 4226, "n2": 255, "method": "fisher"}
    assert _answer("two-proportions", "power", **shares)["power"] <= 1
    pairs = {"cells": [[0.25, 0.398], [0.07, 0.282]], "n": 4455, "method": "exact"}
    assert _answer("paired-proportions", "power", **pairs)["power"] <= 1


def test_an_alpha_of_fit_is_found_however_small() -> None:
    """Against zero misfit the tail is that of the plain chi-square."""
    given = {"rmsea": 0.08, "observed": 14, "parameters": 22, "n": 1000, "null_rmsea": 0}
    found = _answer("model-fit", "alpha", **given)
    assert found["power"] == pytest.approx(0.8, abs=1e-9)
    df = 14 * 15 / 2 - 22
    limit = stats.chi2.isf(found["answer"], df)
    assert stats.ncx2.sf(limit, df, 999 * df * 0.08**2) == pytest.approx(0.8, abs=1e-9)
    again = _answer("model-fit", "power", **given, alpha=found["answer"])
    assert again["power"] == pytest.approx(0.8, abs=1e-9)


def test_limits_of_thin_tails_give_the_tails_back() -> None:
    """On both sides, for degrees of freedom and noncentralities over nine decades; or no number at all."""
    rng = np.random.default_rng(1)
    missing = 0
    for _ in range(400):
        df, shift, tail = 10 ** rng.uniform(0, 5), 10 ** rng.uniform(-3, 9), 10 ** rng.uniform(-140, -0.1)
        above = bool(rng.random() < 0.5)
        limit = float(chi_square_limit(tail, df, shift, above))
        missing += np.isnan(limit)
        back = (chi_square_above if above else chi_square_below)(limit, df, shift)
        assert np.isnan(limit) or float(back) == pytest.approx(tail, rel=2e-6)
    assert missing < 8
    assert np.isnan(chi_square_limit(1e-200, 5.0, 3.0, above=True))
    assert chi_square_limit(1e-200, 5.0, 0.0, above=True) == pytest.approx(stats.chi2.isf(1e-200, 5))


def test_events_are_events() -> None:
    """No people, no groups, nobody to enrol: how many people they take is another question."""
    given = {"hazard_ratio": 0.66, "ratio": 2, "power": 0.9}
    found = _answer("survival", "events", **given)
    assert found["n"] == {"events": 274}
    with_dropout = _answer("survival", "events", **given, dropout=0.1)
    assert with_dropout["n"] == {"events": 274}
    assert "dropout was given but has no say under the choices made." in with_dropout["notes"]
    people = _answer("survival", "n", **given, median1=12, accrual=12, follow_up=12, dropout=0.1)
    assert people["n"]["total"] == sum(people["n"]["groups"])
    assert sum(people["n"]["enrol"]) > people["n"]["total"]


@pytest.mark.parametrize("exponent", [-300, -250, -100, 100, 250, 300])
def test_effects_at_absurd_scales_reproduce_the_power_or_are_refused(exponent: int) -> None:
    """An SD that no outcome has."""
    for design, given in (
        ("two-means", {"n": 100}),
        ("cluster-means", {"n": 400, "cluster_size": 20, "icc": 0.05}),
        ("anova-contrast", {"coefficients": [1, -1, 0], "n": 99}),
    ):
        found = _answer(design, "effect", sd=10.0**exponent, **given)
        assert "error" in found or found["power"] == pytest.approx(0.8, abs=1e-6)


def test_relative_sizes_are_counted_at_once() -> None:
    """A total in the millions, that they make and that they do not."""
    given = {"coefficients": [2, 0, 0.5, -2.5], "contrast": 6, "sd": 10, "weights": [1, 1, 2, 1]}
    assert _answer("anova-contrast", "power", **given, n=5_000_000)["power"] == pytest.approx(1.0)
    assert _answer("anova-contrast", "power", **given, n=3_156_771)["error"]["field"] == "n"
