"""What is tested, in symbols; formulas in each kind of file; truth and decision two by two."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from math import sqrt
from statistics import NormalDist
from typing import Any
from xml.etree import ElementTree

import docx
import pytest
from pypdf import PdfReader
from scipy import stats

from ragwort.demo import sampler_study
from ragwort.designs import Answer, Design, all_designs
from ragwort.designs.formula import Expression, Frac, Root, Sub, Sup, linear, row
from ragwort.report.sections.calculated import error_blocks, hypothesis_blocks, method_blocks
from ragwort.report.tree import Block, Document, FormulaBlock, Paragraph, Table
from ragwort.report.writers.docx import write_docx
from ragwort.report.writers.formulas import mathml
from ragwort.report.writers.pdf import write_pdf
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.edits import new_aim
from ragwort.study.results.outcome import outcome_of

CHOICES = ("method", "variance", "distribution", "sd_known", "term", "sides", "hypothesis")


def variants(design: Design) -> Iterator[Aim]:
    """A new aim of a design, with each choice that formulas depend on made once."""
    aim = new_aim(design, "An aim")
    yield aim
    for assumption in design.assumptions:
        values: list[Any] = [choice.value for choice in assumption.choices] if assumption.choices else []
        values = [True, False] if assumption.name == "sd_known" else values
        for value in values if assumption.name in CHOICES else []:
            yield aim.changed(entries={**aim.entries, assumption.name: Entry(value=value)})


def calculated(aim: Aim) -> list[Block]:
    answer = outcome_of(aim)
    assert isinstance(answer, Answer), answer
    return [*hypothesis_blocks(aim), *method_blocks(aim, answer), *error_blocks(aim, answer)]


_CLUSTERS = {"proportion1": 0.4, "proportion2": 0.2, "icc": 0.02, "cluster_size": 20}
_TWO_VARIANCES = (
    ("two-proportions", {"proportion1": 0.5, "proportion2": 0.3}),
    ("two-proportions", {"proportion1": 0.5, "proportion2": 0.48, "hypothesis": "non-inferiority", "margin": 0.1,
                         "method": "score"}),
    ("one-proportion", {"proportion": 0.3, "null_proportion": 0.2, "method": "score"}),
    ("paired-proportions", {"proportion01": 0.2, "proportion10": 0.1}),
    ("trend-proportions", {"proportions": [0.2, 0.3, 0.45]}),
    ("one-rate", {"rate": 1.4, "null_rate": 1.0, "method": "score"}),
    ("two-rates", {"rate1": 1.0, "rate2": 0.7, "method": "pooled"}),
    ("signed-rank", {"d": 0.4}),
    ("rank-sum", {"d": 0.5}),
    ("cluster-proportions", {**_CLUSTERS, "distribution": "z"}),
)  # fmt: skip


@pytest.mark.parametrize(("design", "values"), _TWO_VARIANCES, ids=[each[0] for each in _TWO_VARIANCES])
def test_a_reader_can_work_out_the_power_of_two_variances_again(design: str, values: dict[str, Any]) -> None:
    """From the printed mean and variances, by the printed formula: Phi((D - z sqrt(V0)) / sqrt(V1)), both tails."""
    aim = Aim(design=design, entries={name: Entry(value=each) for name, each in values.items()})
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    table = next(block for block in method_blocks(aim, answer) if isinstance(block, Table))
    printed = dict(zip(table.head, table.rows[0], strict=True))
    apart, null, own = (float(printed[name].replace("−", "-").replace(" ", "")) for name in ("Δ", "V₀", "V₁"))
    normal = NormalDist()
    limit = normal.inv_cdf(1 - answer.plan.alpha / (2 if answer.plan.sides == "two" else 1))
    above, below = (normal.cdf((way * apart - limit * sqrt(null)) / sqrt(own)) for way in (1, -1))
    power = {"two": above + below, "greater": above, "less": below}[answer.plan.sides]
    assert power == pytest.approx(answer.power, abs=0.002)


def test_a_reader_can_work_out_the_power_of_clusters_by_t_again() -> None:
    """From the printed variances, noncentrality and degrees of freedom: P(t' > t sqrt(V0 / V1)), both tails."""
    aim = Aim(design="cluster-proportions", entries={name: Entry(value=each) for name, each in _CLUSTERS.items()})
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    table = next(block for block in method_blocks(aim, answer) if isinstance(block, Table))
    printed = dict(zip(table.head, (text.replace("−", "-") for text in table.rows[0]), strict=True))
    delta, null, own = (float(printed[name]) for name in ("Δ", "V₀", "V₁"))
    df = float(next(text for label, text in printed.items() if "freedom" in label))
    limit = stats.t.isf(0.025, df) * sqrt(null / own)
    power = stats.nct.sf(limit, df, delta / sqrt(own)) + stats.nct.cdf(-limit, df, delta / sqrt(own))
    assert power == pytest.approx(answer.power, abs=0.002)


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_every_design_states_what_it_tests_and_how(design: Design) -> None:
    """For each test and each side: names instead of tokens, formulas that every kind of file can set."""
    lines: list[Expression] = []
    for aim in variants(design):
        if not isinstance(outcome_of(aim), Answer):
            continue  # a choice that wants further values
        blocks = calculated(aim)
        lines += [line for block in blocks if isinstance(block, FormulaBlock) for line in block.lines]
        assert not any(set("{}_") & set(block.text) for block in blocks if isinstance(block, Paragraph))
    document = Document("Formulas", (FormulaBlock(tuple(lines)),))
    assert len(lines) >= (3 if design.tested else 2)
    text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(write_pdf(document))).pages)
    assert text.count("H") >= 2 or not design.tested
    assert "\ufffd" not in text
    for line in lines:
        assert "".join(ElementTree.fromstring(mathml(line)).itertext()) == _letters(line)
    made = docx.Document(io.BytesIO(write_docx(document))).element
    assert len(made.xpath("//m:oMath")) == len(lines)


@pytest.mark.parametrize(
    ("rule", "said"),
    [("steady", "185 staff is the smallest size from which power stays"), ("first", "")],
)
def test_a_steady_size_is_not_called_the_smallest_that_reaches_the_target(rule: str, said: str) -> None:
    """Exact power falls again above the first size: the paragraph says which of both sizes was taken."""
    aim = sampler_study().aim("awake")
    aim = aim.changed(entries={**aim.entries, "n_rule": Entry(value=rule)})
    words = " ".join(block.text for block in calculated(aim) if isinstance(block, Paragraph))
    assert "the next smaller size, power would be" in words
    assert said in words.replace("\u00a0", " ") and ("stays" in words) == bool(said)


def _letters(expression: Expression) -> str:
    """All letters of a formula, in order."""
    if isinstance(expression, str):
        return expression
    parts = expression if isinstance(expression, tuple) else tuple(vars(expression).values())
    return "".join(map(_letters, parts))


@pytest.mark.parametrize(
    ("formula", "text"),
    [
        (Frac("a", "b"), "a/b"),
        (Frac(row("a", " + ", "b"), Root("n − 2")), "(a + b)/√(n − 2)"),
        (Sup(row("(", Frac("a", "b"), ")"), "2"), "(a/b)^2"),
        (Sub("t", "1−α, ν"), "t[1−α, ν]"),
        (Root(Frac("n", "2")), "√(n/2)"),
    ],
)
def test_a_formula_on_one_line(formula: Expression, text: str) -> None:
    """Brackets where there is more than one thing."""
    assert linear(formula) == text


def test_truth_and_decision_add_up() -> None:
    """Each column adds up to one; an exact test says the alpha that it has."""
    for aim in sampler_study().aims:
        answer = outcome_of(aim)
        assert isinstance(answer, Answer)
        (table,) = error_blocks(aim, answer)
        assert isinstance(table, Table)
        for column in (1, 2):
            shares = [float(re.search(r"([\d.]+)%", row[column])[1]) for row in table.rows]  # type: ignore[index]
            assert sum(shares) == pytest.approx(100, abs=0.15)


def test_the_next_smaller_size_has_too_little_power() -> None:
    """For every design of the demo that finds a sample size."""
    seen = 0
    for aim in sampler_study().aims:
        answer = outcome_of(aim)
        assert isinstance(answer, Answer)
        smaller = answer.next_smaller()
        if aim.find == "n" and not answer.planned and smaller is not None:
            seen += 1
            assert smaller[0] < answer.total
            assert smaller[1] < answer.plan.target <= answer.power
    assert seen >= 8
