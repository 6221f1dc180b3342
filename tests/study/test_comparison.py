"""Scenarios side by side: each cell is what the scenario says by itself, what differs is marked."""

from __future__ import annotations

import pytest

from ragwort.demo import sampler_study
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.results.comparison import DASH, Comparison, comparison_of
from ragwort.study.results.outcome import outcome_of


def compared(aim: Aim) -> Comparison:
    return comparison_of(aim, [outcome_of(aim), *(outcome_of(aim, kept) for kept in aim.scenarios)])


def row(comparison: Comparison, label: str) -> tuple[str, ...]:
    return next(
        tuple(cell.replace("\u00a0", " ") for cell in each.cells) for each in comparison.rows if each.label == label
    )


def test_scenarios_stand_beside_the_aim() -> None:
    """Values with their units, answers by group, whom to enrol."""
    made = compared(sampler_study().aim("reaction"))
    assert made.heads == ("Now", "Cautious SD", "Difference 10 ms", "Power 90%")
    assert row(made, "Standard deviation") == ("24 ms", "28 ms", "24 ms", "24 ms")
    assert row(made, "Sides") == ("two-sided",) * 4
    assert row(made, "Found: total staff") == ("128", "174", "184", "172")
    assert row(made, "Staff analysed")[1] == "174 (87 + 87)"
    assert row(made, "To enrol") == ("144", "194", "206", "192")
    marked = {each.label for each in made.rows if not each.found and each.differs(1)}
    assert marked == {"Standard deviation"}
    assert made.table()[0] == ["", *made.heads]
    assert made.table()[1][:3] == ["Difference", "12 ms", "12 ms"]


def test_one_that_finds_something_else_and_one_without_an_answer() -> None:
    """What is found there is named; a dash where there is nothing."""
    study = edits.keep_values(sampler_study(), "reaction", {"n": 100}, "power", "A hundred").study
    study = edits.keep_values(study, "reaction", {"difference": 0.0}, "n", "Nothing").study
    made = compared(study.aim("reaction"))
    assert row(made, "Found: total staff")[4:] == ("Power 69.7%", DASH)
    assert row(made, "Power")[4] == DASH
    assert row(made, "Total staff")[:2] == (DASH, DASH)
    assert row(made, "Total staff")[4] == "100"


@pytest.mark.parametrize("aim_id", [aim.id for aim in sampler_study().aims])
def test_every_aim_can_be_compared(aim_id: str) -> None:
    """Lists, tables and strata in words, too."""
    study = edits.keep_values(
        sampler_study(), aim_id, {"alpha": 0.01}, sampler_study().aim(aim_id).find, "Stricter"
    ).study
    made = compared(study.aim(aim_id))
    assert row(made, "Alpha")[-1] == "0.01"
    assert len({len(each.cells) for each in made.rows}) == 1


def test_a_scenario_is_moved() -> None:
    """To either side; at the ends it stays; undo has its name."""
    study = sampler_study()

    def order(by: int, which: str) -> list[str]:
        return [kept.id for kept in edits.move_scenario(study, "reaction", which, by).study.aim("reaction").scenarios]

    assert order(1, "cautious") == ["smaller", "cautious", "surer"]
    assert order(-1, "cautious") == ["cautious", "smaller", "surer"]
    assert order(-5, "surer") == ["surer", "cautious", "smaller"]
    assert edits.move_scenario(study, "reaction", "gone", 1).study == study
