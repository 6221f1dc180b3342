"""Scenarios as candidates: one is planned and counted, each can bear a note and remembers what it found."""

from __future__ import annotations

import json

from ragwort import __version__
from ragwort.demo import sampler_study
from ragwort.report.sections.content import report_of
from ragwort.report.tree import Code, Paragraph, Table
from ragwort.study import edits
from ragwort.study.document.aim import Finding
from ragwort.study.document.model import Study
from ragwort.study.results.comparison import comparison_of
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.overview import needs_of
from ragwort.study.words.scenarios import changed_since


def with_plan(name: str = "Difference 10 ms", note: str = "Both wards agreed on it.") -> Study:
    """The demo study, its first aim planned on one of its scenarios."""
    study = sampler_study()
    kept = next(each for each in study.aim("reaction").scenarios if each.name == name)
    study = edits.note_scenario(study, "reaction", kept.id, note).study
    return edits.plan_on(study, "reaction", kept.id).study


def only_reaction(study: Study) -> Study:
    return study.changed(aims=(study.aim("reaction"),))


def test_the_planned_scenario_is_what_the_study_needs() -> None:
    """Not the aim as it stands; once it is deleted, that counts again."""
    study = only_reaction(with_plan())
    needs = needs_of(study, outcome_of)
    assert needs is not None
    assert needs.count == 206
    gone = edits.delete_scenario(study, "reaction", study.aim("reaction").planned).study
    assert gone.aim("reaction").planned_scenario is None
    needs = needs_of(gone, outcome_of)
    assert needs is not None
    assert needs.count == 144


def test_the_report_states_the_planned_one_and_why() -> None:
    """In its statement, its table and its request; what the aim is now stands among the others."""
    study = only_reaction(with_plan())
    document = report_of(study)
    said = [each.text.replace("\u00a0", " ") for each in document.blocks if isinstance(each, Paragraph)]
    assert any(each.startswith("The outcome, reaction time at 4 am,") and "184 in total" in each for each in said)
    assert "Of the scenarios, “Difference 10 ms” is planned: Both wards agreed on it." in said
    tables = [each for each in document.blocks if isinstance(each, Table)]
    rows = next(each.rows for each in tables if each.head[0] == "Scenario")
    assert [row[0] for row in rows] == [
        "As planned: Difference 10 ms",
        "As it stands now",
        "Cautious SD",
        "Power 90%",
    ]
    assert rows[1][1] == "difference 12 ms"
    code = next(each.text for each in document.blocks if isinstance(each, Code))
    assert json.loads(code)["assumptions"]["difference"] == 10


def test_without_a_reason_the_report_says_so() -> None:
    said = [each.text for each in report_of(only_reaction(with_plan(note=""))).blocks if isinstance(each, Paragraph)]
    assert "Of the scenarios, “Difference 10 ms” is planned; no reason is given." in said


def test_a_scenario_remembers_what_it_found_and_says_where_that_changed() -> None:
    """With the version that found it."""
    study = edits.keep_scenario(sampler_study(), "reaction", "Today").study
    aim = study.aim("reaction")
    kept = aim.scenarios[-1]
    assert kept.found is not None
    assert (kept.found.total, kept.found.version) == (128, __version__)
    assert changed_since(aim, kept, outcome_of(aim, kept)) == ""
    older = kept.changed(found=Finding(answer=130.0, total=130, power=0.806, version="0.0.9"))
    aim = aim.changed(scenarios=(*aim.scenarios[:-1], older))
    assert changed_since(aim, older, outcome_of(aim, older)) == "130 when it was kept (Ragwort 0.0.9)"
    made = comparison_of(aim, [outcome_of(aim), *(outcome_of(aim, each) for each in aim.scenarios)])
    row = next(each for each in made.rows if each.label == "Another answer")
    assert row.cells == ("—", "—", "—", "—", "130 when it was kept (Ragwort 0.0.9)")


def test_costs_stand_side_by_side() -> None:
    """Where they are known."""
    study = edits.type_resource(sampler_study(), "costs", "100").study
    study = edits.type_resource(study, "per_month", "20").study
    aim = study.aim("reaction")
    outcomes = [outcome_of(aim), *(outcome_of(aim, each) for each in aim.scenarios)]
    rows = {row.label: row.cells for row in comparison_of(aim, outcomes, study.resources).rows}
    assert rows["Cost"] == ("14\u2009400", "19\u2009400", "20\u2009600", "19\u2009200")
    assert rows["Months to recruit"] == ("7.2", "9.7", "10.3", "9.6")
    assert "Cost" not in {row.label for row in comparison_of(aim, outcomes).rows}
