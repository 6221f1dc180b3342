"""Interim analyses rehearsed: the simulated studies stop as often as computed, in every design that takes looks."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from ragwort.designs import Design, all_designs
from ragwort.designs.looks import WithLooks
from ragwort.rehearsal import Departing, planned, rehearse, stage
from ragwort.rehearsal.records import tally_as_json, tally_from_json
from ragwort.rehearsal.verdicts import looks_words
from ragwort.stats.simulated.means import Groups

WITH = [design for design in all_designs() if isinstance(design, WithLooks)]
# Few clusters at the first look, uneven draws of fixed predictors, normal approximations: how far off they are.
ROUGH = {"cluster-means": 0.03, "cluster-proportions": 0.02, "regression-coefficient": 0.02, "one-mean": 0.02,
         "paired-means": 0.02, "logistic": 0.02, "one-proportion": 0.01, "two-proportions": 0.01,
         "paired-proportions": 0.015, "survival": 0.015}  # fmt: skip


def start(design: Design, **more: Any) -> dict[str, Any]:
    """What a new aim starts from, by a test that takes looks."""
    own = {"method": "score"} if design.id == "one-proportion" else {}
    return {**design.starting, **own, **more}


@pytest.mark.parametrize("design", WITH, ids=lambda design: design.id)
def test_studies_succeed_as_often_as_computed_and_err_at_alpha(design: Design) -> None:
    """With the planned effect, and without one."""
    of = planned(design, "n", start(design, fractions=[0.6, 1]))
    slack = ROUGH.get(design.id, 0.0)
    found = rehearse(stage(of, Departing()), replicates=6_000, seed=3)
    assert found.power == pytest.approx(of.answer.power, abs=4 * found.standard_error + slack)
    assert sum(found.ended_at) == 6_000
    none = rehearse(stage(of, Departing(asked={"effect": "none"})), replicates=6_000, seed=4)
    assert none.power == pytest.approx(0.05, abs=4 * none.standard_error + 0.006)


def test_each_look_stops_as_many_as_computed() -> None:
    """Futility included; the words say how many and how large studies became; a kept tally is the same again."""
    design = next(each for each in WITH if each.id == "two-means")
    values = {"difference": 4.0, "sd": 10.0, "sides": "greater", "fractions": [0.4, 0.7, 1], "futility": "non-binding"}
    of = planned(design, "n", values)
    found = rehearse(stage(of, Departing()), replicates=20_000, seed=5)
    details = of.answer.details
    error = 4 * np.sqrt(0.25 / 20_000)
    rejected = np.array(found.rejected_at) / 20_000
    ended = np.array(found.ended_at) / 20_000
    assert rejected == pytest.approx(details["reject_effect"], abs=error)
    assert ended[:2] == pytest.approx(
        [a + b for a, b in zip(details["reject_effect"][:2], details["give_up_effect"][:2], strict=True)], abs=error
    )
    words = looks_words(of, found)
    assert "ended at the interim analyses, in turn" in words
    assert "in the median study" in words
    assert tally_from_json(tally_as_json(found)) == found


def test_an_early_stop_overstates_the_effect() -> None:
    """The mean estimate lies above the truth, which one analysis at the end does not do."""
    design = next(each for each in WITH if each.id == "two-means")
    with_looks = rehearse(stage(planned(design, "n", start(design, fractions=[0.3, 0.6, 1], spending="pocock")),
                                Departing()), seed=6)  # fmt: skip
    without = rehearse(stage(planned(design, "n", start(design)), Departing()), seed=6)
    assert with_looks.mean > without.mean + 4 * without.sd / np.sqrt(without.done)


def test_what_is_there_early_is_a_part_of_what_comes() -> None:
    """The first of each group, as many as are planned."""
    rng = np.random.default_rng(1)
    data = Groups((rng.normal(size=(3, 11)), rng.normal(size=(3, 7))), (None, None))
    early = data.until(0.5)
    assert [each.shape[1] for each in early.values] == [6, 4]
    assert np.array_equal(early.values[0], data.values[0][:, :6])


def test_spending_keeps_alpha_at_other_times_and_kept_boundaries_do_not() -> None:
    """Three looks half-way earlier: alpha as due holds; the planned boundaries of Pocock's type are crossed more."""
    design = next(each for each in WITH if each.id == "two-means")
    of = planned(design, "n", {"difference": 3.0, "sd": 10.0, "fractions": [0.7, 0.8, 0.9, 1], "spending": "pocock"})

    def errs(timing: str) -> float:
        asked = Departing(asked={"effect": "none", "timing": timing})
        return rehearse(stage(of, asked), replicates=20_000, seed=8).power

    error = 4 * np.sqrt(0.05 * 0.95 / 20_000)
    assert errs("early") == pytest.approx(0.05, abs=error)
    assert errs("late") == pytest.approx(0.05, abs=error)
    assert errs("early-kept") > 0.05 + error


def test_only_looks_can_come_at_other_times() -> None:
    """The departure is not offered where none are planned."""
    from ragwort.rehearsal.departures import takes

    design = next(each for each in WITH if each.id == "two-means")
    names = {each.name for each in takes(planned(design, "n", start(design)))}
    assert "timing" not in names
    assert "timing" in {each.name for each in takes(planned(design, "n", start(design, fractions=[0.5, 1])))}
