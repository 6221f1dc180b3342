"""The columns of a sheet: what they are called, what may stand in them."""

from __future__ import annotations

from ragwort.designs import Design
from ragwort.sheet.allocation import Asked
from ragwort.sheet.parts import Column, codes
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import values_with_defaults
from ragwort.study.words.naming import cluster_word, names_of
from ragwort.study.words.terms import term_names

Range = tuple[float | None, float | None]
_YES_NO = ("yes", "no")


def columns_of(
    study: Study, aim: Aim, design: Design, arms: tuple[str, ...], asked: Asked, allowed: Range, more: tuple[str, ...]
) -> tuple[Column, ...]:
    """All columns, each name once."""
    found = [Column("id", help="Who it is; never a name", given=True)]
    if (study.resources.centres or 1) > 1 and design.rows != "member":
        found.append(Column("centre", "whole", "Which centre recruits", 1, study.resources.centres, given=True))
    if design.rows == "member":
        word = cluster_word(aim) or "cluster"
        found.append(Column(word, help="Which one it is", given=True))
    for factor in asked.factors:
        given = asked.method == "stratified"
        found.append(Column(factor.name, "choice", "Makes the strata", choices=factor.levels, given=given))
    if design.rows == "visit":
        found.append(Column("visit", help="When it is measured", given=True))
    if arms and aim.sheet.shown:
        shown = codes(len(arms)) if aim.sheet.shown == "codes" else arms
        found.append(Column("allocation", "choice", "To what it was allocated", choices=shown, given=True))
    found += _outcomes(aim, design, allowed)
    found += [Column("date", "date", "When it was recorded"), Column("notes")]
    found += [Column(name, help="A column of your own") for name in more]
    return tuple(_once(found))


def _once(columns: list[Column]) -> list[Column]:
    """Columns of one name are told apart."""
    seen: dict[str, int] = {}
    told = []
    for column in columns:
        seen[column.name] = seen.get(column.name, 0) + 1
        name = column.name if seen[column.name] == 1 else f"{column.name} ({seen[column.name]})"
        told.append(Column(name, column.kind, column.help, column.low, column.high, column.choices, column.given))
    return told


def _outcomes(aim: Aim, design: Design, allowed: Range) -> list[Column]:
    """What is measured, typed as it can be."""
    words = aim.words
    outcome = f"{words.outcome or 'outcome'}{f', {words.unit}' if words.unit else ''}"
    low, high = allowed
    if design.takes["measured"][0] == "yes-no":
        pairs = names_of(aim, "conditions")[:2] if design.rows == "pair" else ()
        named = pairs or (words.outcome or "outcome",)
        return [*(Column(name, "choice", "The outcome", choices=_YES_NO) for name in named), *_predictors(aim, design)]
    if design.primary == "w":
        return _categories(aim)
    both = names_of(aim, "conditions") if design.rows == "pair" else names_of(aim, "variables")
    if len(both) > 1:
        unit = f", {words.unit}" if words.unit and design.rows == "pair" else ""
        return [Column(f"{name}{unit}", "number", "The outcome", low, high) for name in both[:2]]
    return [Column(outcome, "number", "The outcome", low, high), *_predictors(aim, design)]


def _categories(aim: Aim) -> list[Column]:
    variables = names_of(aim, "variables")
    columns = names_of(aim, "columns") or names_of(aim, "categories")
    found = [
        Column(variables[0] if variables else aim.words.outcome or "category", "choice", "The outcome", choices=columns)
    ]
    if len(variables) > 1:
        found.insert(0, Column(variables[1], "choice", "What it is compared by", choices=names_of(aim, "rows")))
    return found if columns else [Column(aim.words.outcome or "category", "text", "The outcome")]


def _predictors(aim: Aim, design: Design) -> list[Column]:
    """Named predictors by name, others by number; products are made of others."""
    if any(assumption.name == "predictor" for assumption in design.assumptions):
        binary = values_with_defaults(aim)["predictor"] == "binary"
        return [Column("predictor", "choice" if binary else "number", "A predictor", choices=_YES_NO if binary else ())]
    count = values_with_defaults(aim).get("predictors")
    if not isinstance(count, int):
        return []
    names = [name for name in term_names(aim.entry("predictors").terms) if "×" not in name]
    names = names or [f"predictor {number}" for number in range(1, min(count, 30) + 1)]
    return [Column(name, help="A predictor") for name in names]
