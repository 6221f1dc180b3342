"""Interim analyses in statements, report and checklists."""

from __future__ import annotations

from ragwort.demo import demo_study, second_demo_study
from ragwort.designs import Answer
from ragwort.report import report_of
from ragwort.report.sections.interim import interim_blocks
from ragwort.report.sections.statements import statement_of
from ragwort.report.tree import Paragraph, Table
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.coverage import covered
from ragwort.study.words.protocol import not_stated

COMMITTEE = "the data monitoring committee"


def test_the_statement_tells_when_by_which_boundaries_and_who_looks() -> None:
    """In a protocol's words; nothing of it where no looks are planned."""
    study = demo_study()
    aim = edits.type_looks(study, study.aims[0].id, "1").study.aims[0]
    said = statement_of(aim, "paragraph", committee=COMMITTEE)
    for words in (
        "One interim analysis is planned, after 64 staff with an outcome (50% of the information).",
        "Alpha is spent by an O'Brien–Fleming-type spending function (O'Brien & Fleming 1979; Lan & DeMets 1983).",
        "stopped for efficacy at |z| ≥ 2.963 (nominal p 0.0031, that is, a difference of −17.8 ms or less).",
        "The final analysis will be at a nominal p of 0.0490.",
        "The expected number of staff is 117 if the planned effect is true and 128 if there is none",
        "Results of interim analyses will be seen by the data monitoring committee only.",
    ):
        assert words in said
    short = statement_of(aim, "short")
    assert "and one interim analysis after 64 staff (O'Brien–Fleming-type alpha spending), a two-sided" in short
    assert "interim" not in statement_of(study.aims[0], "full", committee=COMMITTEE)


def test_futility_and_events_have_their_words() -> None:
    """One-sided boundaries have no bars; looks after events."""
    values = {"hazard_ratio": 0.7, "fractions": [0.5, 1], "sides": "less", "alpha": 0.025, "futility": "non-binding",
              "spending": "hwang-shih-decani"}  # fmt: skip
    aim = Aim(design="survival", find="events", entries={name: Entry(value=each) for name, each in values.items()})
    said = statement_of(aim, "paragraph")
    assert "events (50% of the information)" in said
    assert "with γ = −4 (Hwang, Shih & DeCani 1990" in said
    assert "stopped for efficacy at z ≤ −2." in said
    assert "Boundaries for futility are non-binding (Pampallona, Tsiatis & Kim 2001), at z = −" in said


def test_the_report_has_the_table_and_the_references() -> None:
    """Of the second demo study, whose first aim looks half-way."""
    study = second_demo_study()
    blocks = report_of(study).blocks
    table = next(each for each in blocks if isinstance(each, Table) and each.caption.startswith("Interim and final"))
    assert [row[0] for row in table.rows] == ["interim 1", "final"]
    assert table.rows[0][1] == "8"
    texts = " ".join(each.text for each in blocks if isinstance(each, Paragraph))
    assert "Two" not in texts or "interim analyses are planned" not in texts
    assert "One interim analysis is planned" in texts
    everything = str(blocks)
    assert "Discrete sequential boundaries for clinical trials" in everything


def test_one_row_a_look_and_none_without() -> None:
    """The chances add up to the power."""
    study = demo_study()
    aim = edits.type_looks(study, study.aims[0].id, "2").study.aims[0]
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    (table,) = interim_blocks(study, aim, answer)
    assert isinstance(table, Table)
    chances = [float(row[-2].rstrip("%")) for row in table.rows]
    assert sum(chances) == round(100 * answer.power, 1) or abs(sum(chances) - 100 * answer.power) < 0.2
    plain = outcome_of(study.aims[0])
    assert isinstance(plain, Answer)
    assert interim_blocks(study, study.aims[0], plain) == []


def test_guidelines_ask_who_looks() -> None:
    """Only where somebody does; a committee answers it, and is asked for among what the protocol says."""
    study = demo_study()
    looking: Study = edits.type_looks(study, study.aims[0].id, "1").study

    def missing(of: Study) -> list[str]:
        return [point.guideline for point, found in covered(of, of.aims[0]) if found.missing]

    assert "SPIRIT 21b" in missing(looking)
    assert "interim results are seen by" in not_stated(looking)
    assert "interim results are seen by" not in not_stated(study)
    stated = edits.state(looking, "committee", COMMITTEE).study
    assert "SPIRIT 21b" not in missing(stated)
    assert "CONSORT 7b" not in missing(stated)
