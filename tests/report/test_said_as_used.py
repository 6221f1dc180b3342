"""The report says what was used, in the study's own words: the test chosen, whom it counts, what a number is of."""

from __future__ import annotations

import re

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, Design, all_designs, design_named
from ragwort.designs.formula import linear
from ragwort.report import report_of
from ragwort.report.sections.aim import aim_blocks
from ragwort.report.sections.calculated import method_blocks, stated_values
from ragwort.report.sections.statements import statement_of
from ragwort.report.tree import Bullets, FormulaBlock, Heading, Paragraph, Table
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.model import Study
from ragwort.study.edits import new_aim
from ragwort.study.results.outcome import outcome_of
from tests.study.readings import margins

WITH_MARGINS = [d for d in all_designs() if any(a.name == "hypothesis" for a in d.assumptions)]


def _method(aim: Aim) -> str:
    """The formulas."""
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    formulas, *_ = method_blocks(aim, answer)
    assert isinstance(formulas, FormulaBlock)
    return " | ".join(map(linear, formulas.lines))


@pytest.mark.parametrize("design", WITH_MARGINS, ids=lambda design: design.id)
def test_a_margin_is_written_as_the_one_sided_test_that_it_is(design: Design) -> None:
    """Also where the aim was two-sided before; the formula has the edge, or both margins."""
    start = new_aim(design, "Aim")
    start = start.changed(entries={**start.entries, "sides": Entry(value="two")})
    for words, aim in margins(start):
        if not words.endswith("find n") or (words.startswith("equivalence") and "lower" in words):
            continue
        formulas = _method(aim)
        assert "a two-sided" not in statement_of(aim, "paragraph")
        assert all(len(line) <= 110 for line in formulas.split(" | ")), words
        assert "α/2" not in formulas, words
        marks = ("M₁", "M₂") if words.startswith("equivalence") else ("Δ₀",)
        assert all(mark in formulas for mark in marks), (words, formulas)
        if not words.startswith("equivalence"):
            assert ("lower is better" in words) == (not _looks_up(formulas)), (words, formulas)


@pytest.mark.parametrize("design", WITH_MARGINS, ids=lambda design: design.id)
def test_the_statement_has_the_level_that_is_used(design: Design) -> None:
    """The level of one test where it follows from the hypothesis, and no difference where none was stated."""
    for words, aim in margins(new_aim(design, "Aim")):
        if words.endswith("find n"):
            aim = aim.changed(entries={name: entry for name, entry in aim.entries.items() if name != "alpha"})
            answer = outcome_of(aim)
            assert isinstance(answer, Answer)
            assert f"at the {100 * float(answer.plan.alpha):.3g}% significance level" in statement_of(aim, "short")


def _looks_up(formulas: str) -> bool:
    """Whether the only tail of a formula is the upper one."""
    if "X is binomial" in formulas:
        return "P(X ≥ c)" in formulas
    return not any(lower in formulas for lower in ("< −t", "Φ(−δ", "Φ((−Δ", "Φ((−(Δ"))


def test_how_exact_a_method_is_names_no_other_method() -> None:
    """Each choice of method has words of its own, and only those are said."""
    seen = 0
    for design in all_designs():
        for value, words in design.accuracies.items():
            others = [text for other, text in design.accuracies.items() if other != value and text != words]
            assert design.accuracy({design.accuracy_by: value}) == words
            assert not any(other in words for other in others)
            seen += 1
    assert seen >= 14
    pooled, welch = sampler_study().aims[:2]
    for aim, said, unsaid in (
        (pooled, "pooled t test is exact", "Welch's degrees"),
        (welch, "Welch's degrees", "pooled"),
    ):
        text = design_named(aim.design).accuracy(stated_values(aim))
        assert said in text and unsaid not in text


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_what_must_hold_is_said_of_the_studys_own_people(design: Design) -> None:
    """In the report and in the statement; capitals stay where a sentence begins."""
    aim = new_aim(design, "Aim")
    own = aim.words.model_copy(update={"one": "nurse", "many": "nurses", "clusters": "wards"})
    aim = aim.changed(words=own)
    said = [block.text for block in aim_blocks(Study(aims=(aim,)), aim, 1, "aims") if isinstance(block, Paragraph)]
    (needs,) = [text for text in said if text.startswith("Assumptions and limitations. ")]
    text = f"{needs} {statement_of(aim, 'full').partition('Statistical assumptions')[2]}"
    assert "participant" not in text.lower()
    assert not re.search(r"\. [a-z]", needs)


def test_every_number_of_several_is_named_in_the_table() -> None:
    """Means with their groups, strata one by one, a table row by row, a term by its factors."""
    found = {
        row[0]: row[1].replace("\u00a0", " ")
        for aim in sampler_study().aims
        for block in report_of(Study(aims=(aim,))).blocks
        if isinstance(block, Table) and block.caption.startswith("Planning values")
        for row in block.rows
        if row[0]
    }
    assert found["Means"] == "usual 412, daylight 405, brighter 398 ms"
    assert found["Strata of cluster sizes"] == "small wards: share of people 20%, mean size 8, SD of sizes 2"
    assert found["Term tested"] == "lighting × caffeine"
    assert found["Expected table"] == "brighter: coffee 0.12, tea 0.2, water 0.18"


def test_a_size_that_is_not_rounded_adds_up() -> None:
    """Real sizes of strata are said with a decimal, so that they add up to the total; whole clusters are whole."""

    def row(aim: Aim, label: str) -> tuple[str, ...]:
        tables = [block for block in report_of(Study(aims=(aim,))).blocks if isinstance(block, Table)]
        (found,) = [row for table in tables for row in table.rows if row[0] == label]
        return found[1:]

    aim = sampler_study().aim("errors")
    exact = aim.changed(entries={**aim.entries, "sizes": Entry(value="exact")})
    first, second, total = map(float, row(exact, "Analysed, not rounded"))
    assert first + second == pytest.approx(total, abs=0.11)
    assert row(aim, "Analysed") == ("86", "86", "172")
    assert row(aim, "Wards") == ("5", "5", "10")


def test_no_number_has_more_digits_than_its_assumptions_bear() -> None:
    """Found numbers have at most four digits that count; longer ones were typed so, or count people."""
    typed = 0.123456789012
    aim = new_aim(design_named("two-means"), "Aim")
    aim = aim.changed(entries={**aim.entries, "difference": Entry(value=typed), "sd": Entry(value=1 / 3)})
    studies = [sampler_study(), Study(aims=tuple(new_aim(design, design.title) for design in all_designs()))]
    long = {number for study in studies for number in _numbers(study) if _digits(number) > 4}
    assert not long
    assert {number for number in _numbers(Study(aims=(aim,))) if _digits(number) > 4} <= {
        "0.123456789012",
        "0.333333333333",
    }


def _numbers(study: Study) -> set[str]:
    """Every number with a decimal point that the report says, but for references and the request to compute again."""
    texts: list[str] = []
    for block in report_of(study).blocks:
        if isinstance(block, Heading) and block.text == "References":
            break
        texts += [block.text] if isinstance(block, Paragraph) else []
        texts += block.items if isinstance(block, Bullets) else []
        texts += [cell for row in block.rows for cell in row] if isinstance(block, Table) else []
    return {found for text in texts for found in re.findall(r"\d+\.\d+", text)}


def _digits(number: str) -> int:
    return len(number.replace(".", "").lstrip("0"))
