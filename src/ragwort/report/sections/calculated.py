"""What is tested and how power is worked out: hypotheses in symbols, formulas, the numbers that go into them."""

from __future__ import annotations

import math
import re
from typing import Any

import numpy as np

from ragwort.base.wording import capital, uncapital
from ragwort.designs import Answer, Design, StatisticPlan, design_named
from ragwort.designs.kinds import has_margin
from ragwort.designs.request import plain
from ragwort.report.tree import Block, FormulaBlock, Paragraph, Table
from ragwort.stats.statistic import NormalTest, TwoVariancesTTest
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import values_with_defaults
from ragwort.study.words.found import is_nominal, power_text, reached_text
from ragwort.study.words.naming import name_at
from ragwort.study.words.numbers import count_text, percent_text
from ragwort.study.words.sentence import people

_LABELS = {
    "noncentrality": "Noncentrality",
    "df": "Degrees of freedom ν",
    "df1": "Degrees of freedom ν₁",
    "df2": "Degrees of freedom ν₂",
    "critical_value": "Critical value",
    "critical_lower": "Lower critical value",
    "critical_upper": "Upper critical value",
    "reject_at_or_below": "Rejected at or below a count of",
    "reject_at_or_above": "Rejected at or above a count of",
    "actual_alpha": "Actual α",
    "design_effect": "Design effect D",
}
_ON_A_LINE = 60  # characters of both hypotheses
_PARTS = ("Δ", "V₀", "V₁")


def stated_values(aim: Aim) -> dict[str, Any]:
    """The values of an aim with defaults, and with the choices that its design works out."""
    return stated_choices(aim, design_named(aim.design)) | values_with_defaults(aim)


def hypothesis_blocks(aim: Aim) -> list[Block]:
    """The claim in symbols, and what the symbols stand for."""
    claim = design_named(aim.design).claim(stated_values(aim))
    where = " ".join(_named(aim, sentence) for sentence in claim.where)
    if not claim.null:  # nothing is tested
        return [Paragraph(where)] if where else []
    lines = f"H₀: {claim.null}", f"H₁: {claim.alternative}"
    symbols = FormulaBlock(lines if len("".join(lines)) > _ON_A_LINE else (";  ".join(lines),))
    return [symbols, *([Paragraph(where)] if where else [])]


def _named(aim: Aim, sentence: str) -> str:
    """The sentence with the study's names in place of tokens."""
    return re.sub(r"\{(\w+)\.(\d+)\}", lambda found: name_at(aim, found[1], int(found[2]) - 1), sentence)


def method_blocks(aim: Aim, answer: Answer, whole: bool = True) -> list[Block]:
    """The formulas, the numbers that go into them, and how a whole number came of them; in running text or a table."""
    formulas = FormulaBlock(design_named(aim.design).formulas(stated_values(aim)))
    found = _numbers(answer)
    smaller = _whole_number(aim, answer)
    if not whole:
        said = ", ".join(f"{_in_text(label)}{_equals(label)}{text}" for label, text in found)
        return [formulas, Paragraph(" ".join([f"{capital(said)}.", *smaller]))]
    head, row = zip(*found, strict=True)
    table = Table("The calculation in numbers", head, (row,), tuple(range(len(head))))
    return [formulas, table, *(Paragraph(each) for each in smaller)]


def _equals(label: str) -> str:
    """A symbol equals its value."""
    last = label.split()[-1]
    return "\u00a0=\u00a0" if last == "D" or not last.isascii() else " "


def _in_text(label: str) -> str:
    return label if label in _PARTS or label[1:2] == "²" else uncapital(label)


def _numbers(answer: Answer) -> list[tuple[str, str]]:
    """What the calculation is made of, each with its label."""
    found = [(_label(name, answer), _shown(name, value)) for name, value in answer.details.items() if name in _LABELS]
    return [*_parts(answer), *((label, text) for label, text in found if text), ("Power", reached_text(answer))]


def _parts(answer: Answer) -> list[tuple[str, str]]:
    """Of a test with two variances, without and with an effect: what its power is computed from."""
    plan = answer.plan
    if not isinstance(plan, StatisticPlan):
        return []
    test = plan.test(answer.sizes())
    if not isinstance(test, NormalTest | TwoVariancesTTest) or np.isnan(test.mean).any():
        return []
    parts = test.mean, test.null_variance, test.own_variance
    return [(label, _shown(label, float(np.ravel(each)[0]))) for label, each in zip(_PARTS, parts, strict=True)]


def _label(name: str, answer: Answer) -> str:
    """The level of a test that is not exact is nominal."""
    return "Nominal α" if name == "actual_alpha" and is_nominal(answer) else _LABELS[name]


def _shown(name: str, value: Any) -> str:
    number = plain(value)
    if name == "actual_alpha":
        return f"{100 * float(number):.3g}%"
    if not isinstance(number, int | float):
        return ""
    return count_text(number) if isinstance(number, int) else f"{number:.4g}".replace("-", "−")


def _whole_number(aim: Aim, answer: Answer) -> list[str]:
    """Why it is this size and no smaller one: the power of the next smaller one is too low."""
    smaller = answer.next_smaller() if aim.find == "n" and not answer.unrounded else None
    if smaller is None:
        return []
    total, power = smaller
    falls = answer.n_more.get("first", answer.total) < answer.total  # of an exact test, above a size that reaches it
    said = f"{_fewer(aim, answer, total)} power would be {power_text(power, answer.plan.target)}."
    steady = f"{people(aim, answer.total)} is the smallest size from which power stays at or above the target."
    return [said, steady] if falls else [said]


def _fewer(aim: Aim, answer: Answer, total: int) -> str:
    """The next smaller size: `With one fewer per group (126 in total)`."""
    groups = len(answer.groups)
    if groups > 1 and len(set(answer.groups)) == 1 and answer.total - total == groups:
        return f"With one fewer per {design_named(aim.design).group_word} ({count_text(total)} in total)"
    return f"With {people(aim, total)} analysed, the next smaller size,"


def error_blocks(aim: Aim, answer: Answer) -> list[Block]:
    """Truth and decision, two by two."""
    alpha = _actual(answer)
    beta = 1 - math.floor(answer.power * 1000 + 1e-9) / 1000  # what is said of power and this add up
    head = ("Decision", "At the margin" if has_margin(answer.plan) else "Under H₀", "Under the planned effect")
    rows = (
        ("H₀ rejected", f"type I error: {percent_text(alpha)}", f"power: {reached_text(answer)}"),
        (
            "H₀ not rejected",
            f"correct non-rejection: {percent_text(1 - alpha)}",
            f"type II error: {percent_text(beta)}",
        ),
    )
    return [Table("Type I and type II error", head, rows, (1, 2))]


def _actual(answer: Answer) -> float:
    """How often the test rejects without an effect: less than alpha where counts are whole."""
    return float(plain(answer.details.get("actual_alpha", float(answer.plan.alpha))))


def stated_choices(aim: Aim, design: Design) -> dict[str, object]:
    """The choices that the design works out where nothing was chosen."""
    values = aim.values()
    return {
        a.name: design.default_choice(a.name, values)
        for a in design.assumptions
        if a.chosen and a.name not in values and design.default_choice(a.name, values) is not None
    }
