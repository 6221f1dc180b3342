"""Interim analyses: one mechanism for all designs that take them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from ragwort.designs import Design, RequestError, all_designs, answer_request, design_named, settle
from ragwort.designs.finding import find_many
from ragwort.designs.looks import NOT_TAKEN, LookedPlan, WithLooks

WITH = [design for design in all_designs() if isinstance(design, WithLooks)]
WITHOUT = [design for design in all_designs() if not isinstance(design, WithLooks)]
DESIGNS = pytest.mark.parametrize("design", WITH, ids=lambda design: design.id)
SMOOTH = {"one-proportion": {"method": "score"}}  # that take looks
TWO = {"fractions": [0.5, 1]}


def start(design: Design, **more: Any) -> dict[str, Any]:
    """What a new aim starts from, by a test that takes looks."""
    return {**design.starting, **SMOOTH.get(design.id, {}), **more}


def test_the_designs_that_take_looks_are_those_of_one_normal_or_t_statistic() -> None:
    """As far as they exist."""
    assert {design.id for design in WITH} >= {
        "one-mean", "paired-means", "two-means", "one-proportion", "two-proportions", "paired-proportions",
        "cluster-means", "cluster-proportions", "rank-sum", "two-rates", "survival", "logistic",
        "regression-coefficient",
    }  # fmt: skip


@DESIGNS
def test_one_analysis_at_the_end_is_the_design_itself(design: Design) -> None:
    """To the last digit, without a word of looks."""
    values = start(design)
    assert settle(design, "n", {**values, "fractions": [1]}) == settle(design, "n", values)


@DESIGNS
def test_what_is_found_has_the_power_asked_for(design: Design) -> None:
    """The smallest size of all; the effect and alpha at it give the power again; looks never make it smaller."""
    values = start(design, **TWO, spending="pocock")
    answer, plain = settle(design, "n", values), settle(design, "n", start(design))
    assert answer.total >= plain.total  # whole clusters may have power to spare
    assert answer.power >= 0.8
    smaller = answer.next_smaller()
    assert smaller is not None
    assert smaller[1] < 0.8
    sized = {**values, "n": answer.total}
    for find, name in (("effect", design.unknown_of("effect", sized)), ("alpha", "alpha")):
        asked = {key: value for key, value in sized.items() if key not in design.unused_names(find)}
        found = settle(design, find, asked)
        again = {**{key: sized[key] for key in sized if key not in design.unused_names(find)}, name: found.answer}
        if find == "effect" and design.id in ("logistic", "survival"):
            again = {**{k: v for k, v in again.items() if k != "probability2"}, name: found.answer}
        assert settle(design, "power", again).power == pytest.approx(0.8, abs=1e-7), find


@DESIGNS
def test_the_answer_tells_of_its_looks(design: Design) -> None:
    """Bounds, chances that add up, expected sizes between the first look and the end."""
    answer = settle(design, "n", start(design, **TWO))
    details = answer.details
    assert details["actual_alpha"] == 0.05
    assert sum(details["reject_effect"]) == pytest.approx(answer.power, abs=1e-10)
    assert sum(details["reject_null"]) == pytest.approx(0.05, abs=1e-10)
    assert details["fixed_power"] > answer.power
    of = "events" if design.id == "survival" else "n"
    most = details[f"expected_{of}_null"]
    assert details[f"expected_{of}_effect"] < most
    assert ("look_times" in details) == (design.id == "survival")
    assert ("looks" in answer.n_more) == (design.id != "survival")
    again = answer_request({"design": design.id, "find": "n", "assumptions": start(design, **TWO)})
    assert "error" not in again


def test_calendar_times_of_looks_see_their_share_of_the_events() -> None:
    """At each time the expected number of events is that share of those at the end."""
    values = {"hazard_ratio": 0.7, "median1": 12, "accrual": 18, "follow_up": 12, "fractions": [0.3, 0.6, 1]}
    answer = settle(design_named("survival"), "n", values)
    times, whole = answer.details["look_times"], answer.n_more["events"]
    assert times[-1] == 30
    for share, when in zip((0.3, 0.6), times, strict=False):
        shorter = {**values, "n": answer.total, "accrual": min(when, 18.0), "follow_up": max(when - 18.0, 0.0)}
        shorter.pop("fractions")
        entered = min(when / 18.0, 1.0)
        seen = settle(design_named("survival"), "power", shorter).n_more["events"] * entered
        assert seen == pytest.approx(share * whole, rel=1e-8)


@pytest.mark.parametrize("futility", ["non-binding", "binding"])
def test_less_is_the_mirror_image_of_greater(futility: str) -> None:
    """Sizes and chances stay; bounds and drift change their sign."""
    design = design_named("two-means")
    common = {"sd": 10, "alpha": 0.025, "fractions": [0.4, 0.7, 1], "futility": futility}
    up = settle(design, "n", {**common, "difference": 4, "sides": "greater"})
    down = settle(design, "n", {**common, "difference": -4, "sides": "less"})
    assert up.groups == down.groups
    assert up.power == down.power
    for name in ("efficacy_bounds", "futility_bounds"):
        assert up.details[name] == [-each for each in down.details[name]]
    assert up.details["reject_effect"] == down.details["reject_effect"]


def test_many_rows_are_those_asked_for_one_by_one() -> None:
    """Side by side: sizes, powers, effects with looks; with futility, too."""
    design = design_named("two-means")
    for more in ({}, {"sides": "greater", "futility": "binding"}):
        values = {"difference": 5.0, "sd": 10.0, "fractions": [0.5, 1], **more}
        rows = 12  # more than are asked for one by one in a picture
        for find, sizes in (("n", {}), ("power", {"n": 120}), ("effect", {"n": 120})):
            columns = {"sd": np.linspace(8.0, 12.0, rows), "power": np.linspace(0.8, 0.9, rows)}
            if find == "power":
                del columns["power"]
            found = find_many(design, find, {**values, **sizes}, columns)
            for row in range(0, rows, 4):
                here = {**values, **sizes, **{name: float(column[row]) for name, column in columns.items()}}
                assert found.answer[row] == pytest.approx(settle(design, find, here).answer, rel=1e-9)


def test_a_margin_takes_looks_and_equivalence_does_not() -> None:
    """Of non-inferiority the margin is found again."""
    design = design_named("two-means")
    values = {"sd": 10.0, "hypothesis": "non-inferiority", "margin": 4.0, "fractions": [0.5, 1]}
    answer = settle(design, "n", values)
    assert isinstance(answer.plan, LookedPlan)
    del values["margin"]
    margin = settle(design, "margin", {**values, "n": answer.total})
    assert margin.answer == pytest.approx(4.0, rel=0.01)
    assert margin.power == pytest.approx(0.8, abs=1e-9)


BAD = [
    ({"fractions": [0.5, 0.5, 1]}, "fractions", "after the one before"),
    ({"fractions": [0.5, 0.4, 1]}, "fractions", "after the one before"),
    ({"fractions": [0.5, 0.9]}, "fractions", "last look"),
    ({"fractions": [0, 1]}, "fractions", "above 0"),
    ({"fractions": [-0.5, 1]}, "fractions", "above 0"),
    ({"fractions": []}, "fractions", "1 to 20"),
    ({"fractions": [each / 21 for each in range(1, 22)]}, "fractions", "1 to 20"),
    ({"fractions": [0.5, 0.5001, 1]}, "fractions", "too close"),
    ({**TWO, "futility": "binding"}, "futility", "one-sided"),
    ({**TWO, "spending": "own"}, "spent", "up to each look"),
    ({**TWO, "spending": "own", "spent": [0.01, 0.02, 0.05]}, "spent", "2 looks"),
    ({**TWO, "spending": "own", "spent": [0.06, 0.05]}, "spent", "cannot fall"),
    ({**TWO, "spending": "own", "spent": [0.01, 0.04]}, "spent", "all of alpha"),
    ({**TWO, "spending": "own", "spent": [-0.01, 0.05]}, "spent", "0 or more"),
    ({**TWO, "spending": "power", "spending_parameter": 0}, "spending_parameter", "above 0"),
    ({**TWO, "spending": "hwang-shih-decani", "spending_parameter": 41}, "spending_parameter", "-40 to 40"),
    ({**TWO, "hypothesis": "equivalence", "margin": 4}, "fractions", "equivalence"),
]


@pytest.mark.parametrize(("more", "field", "words"), BAD)
def test_bad_looks_name_their_field(more: dict[str, Any], field: str, words: str) -> None:
    """And what would be allowed."""
    values = {"difference": 5.0, "sd": 10.0, **more}
    if "hypothesis" in more:
        del values["difference"]
    with pytest.raises(RequestError) as error:
        settle(design_named("two-means"), "n", values)
    assert error.value.field == field
    assert words in error.value.message


@pytest.mark.parametrize("design", WITHOUT, ids=lambda design: design.id)
def test_other_designs_say_what_takes_looks(design: Design) -> None:
    """F, chi-square and exact tests refuse them with the reason."""
    with pytest.raises(RequestError) as error:
        settle(design, "n", {**design.starting, **TWO})
    assert error.value.field == "fractions"
    assert NOT_TAKEN in error.value.message


def test_exact_methods_and_strata_refuse_looks_at_their_field() -> None:
    """Other methods of the same designs take them."""
    strata = [{"share": 1, "mean_size": 20, "sd_size": 4}]
    for design, more, field in (
        ("one-proportion", {"proportion": 0.6, "null_proportion": 0.5}, "method"),
        ("two-proportions", {"proportion1": 0.3, "proportion2": 0.5, "method": "fisher"}, "method"),
        ("cluster-means", {"difference": 5, "sd": 10, "icc": 0.05, "strata": strata}, "strata"),
    ):
        with pytest.raises(RequestError) as error:
            settle(design_named(design), "n", {**more, **TWO})
        assert error.value.field == field, design


def test_what_cannot_be_reached_speaks_of_the_power_asked_for() -> None:
    """Not of that of the test without looks, which is searched."""
    with pytest.raises(RequestError, match="80% power"):
        settle(design_named("paired-proportions"), "effect", {"proportion10": 0.1, "n": 6, **TWO, "alpha": 0.0001})


def test_idle_amounts_and_parameters_are_left_out_with_a_note() -> None:
    """In bounds or not."""
    design = design_named("two-means")
    values = {"difference": 5.0, "sd": 10.0}
    for more in ({"spent": [9, 9]}, {**TWO, "spending_parameter": 99.0}, {**TWO, "futility_parameter": -99.0}):
        answer = settle(design, "n", {**values, **more})
        assert any("has no say" in note for note in answer.notes), more


def test_few_at_the_first_look_are_said() -> None:
    """And not where there are enough."""
    design = design_named("two-means")
    few = settle(design, "n", {"difference": 10.0, "sd": 10.0, "fractions": [0.25, 1]})
    many = settle(design, "n", {"difference": 5.0, "sd": 10.0, "fractions": [0.5, 1]})
    assert any("first look" in note for note in few.notes)
    assert not any("first look" in note for note in many.notes)


@pytest.mark.parametrize("spending", ["obrien-fleming", "pocock"])
def test_t_tests_by_nominal_p_stop_about_as_often(spending: str) -> None:
    """Twenty thousand studies of two groups, tested at both looks by the t test at its nominal p."""
    design = design_named("two-means")
    effect, n = 0.906, 20
    values = {"difference": effect, "sd": 1.0, "n": 2 * n, **TWO, "spending": spending}
    answer = settle(design, "power", values)
    rng = np.random.default_rng(11)
    first, second = rng.normal(0, 1, (20_000, n)), rng.normal(effect, 1, (20_000, n))
    rejected = np.zeros(20_000, dtype=bool)
    from scipy import stats

    for some, p in zip((n // 2, n), answer.details["nominal_p"], strict=True):
        found = stats.ttest_ind(second[:, :some], first[:, :some], axis=1).pvalue
        rejected |= found <= p
    assert rejected.mean() == pytest.approx(answer.power, abs=0.02)
