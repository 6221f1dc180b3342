"""A grid as a table: its columns with their numbers, for sorting and charts, and as they are read."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ragwort.base.wording import listed
from ragwort.designs import design_named
from ragwort.designs.assumption import Assumption
from ragwort.figures.scales.quantity import Quantity
from ragwort.grid.spending import beyond, cost_by_row, months_by_row, room, room_words, uses
from ragwort.grid.work import Results
from ragwort.study.results.resources import NO_LIMITS, Limits, amount_text, rounded_up
from ragwort.study.words.found import power_text
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import MINUS, count_text, decimals_text, unit_text, value_text, with_unit
from ragwort.study.words.scenarios import short_label

FOUND, EACH, ENROL, REACHED, LIMIT = "found", "each", "enrol", "reached", "limit"
COST, MONTHS, HALF_WIDTH = "cost", "months", "half_width"
DASH = "—"
SYMBOLS = {"d": "d", "h": "h", "f": "f", "f_squared": "f²", "w": "w"}


@dataclass(frozen=True)
class Column:
    """One column: what it is called, its numbers (NaN where there are none), and how a row of it reads."""

    name: str
    label: str
    numbers: NDArray[np.float64]
    text: Callable[[int], str]
    found: bool = False  # what the grid is about
    words: bool = False  # reads as words, not as a number
    percent: bool = False  # a share, which reads in per cent


def columns_of(results: Results, limits: Limits = NO_LIMITS) -> list[Column]:
    """The columns of a grid: what differs, what is found, group sizes, recruited, power, cost, limit, precision."""
    varied = [*_designs(results), *(_varied(results, name) for name in results.asked.columns)]
    found = (
        [_found(results), *_effect(results)] if results.asked.find == "effect" else [*_effect(results), _found(results)]
    )
    columns = [*varied, *found, *_sizes(results)]
    if not _counts_events(results) and not np.array_equal(results.enrol, results.total, equal_nan=True):
        columns.append(_counts(results, ENROL, "recruited", results.enrol))
    if results.asked.find not in ("power", "alpha"):
        columns.append(_power(results, REACHED))
    columns += [*_spent(results, limits), *([_limit(results, limits)] if limits.any else [])]
    return [*columns, *_half_width(results)]


def _counts_events(results: Results) -> bool:
    """Whether events are planned in place of people."""
    asked = results.asked
    return asked.which is None and bool(asked.design.counted({**asked.values, **asked.columns}, asked.find))


def _sizes(results: Results) -> list[Column]:
    """How many in each group, and the events that they are expected to have; or the events that are planned."""
    if _counts_events(results):
        return [] if results.asked.find == "events" else [_counts(results, "events", "events", results.total)]
    if np.isnan(results.events).all():
        return [_each(results)]
    return [_each(results), Column("events", "events", results.events, lambda row: _or_dash(results.events[row], _one))]


def _one(count: float) -> str:
    return decimals_text(count, 1)


def remark_on(results: Results, row: int) -> str:
    """Why a row has no answer; empty where it has one."""
    return results.reasons.get(row, "" if row < results.done else "Not worked out yet.")


def summary(results: Results, limits: Limits) -> str:
    """What came of a grid, in a sentence or two."""
    count, none = results.asked.count, len(results.reasons)
    rows = f"{count_text(count)} {results.asked.called}{'' if count == 1 else 's'}"
    if not results.complete:
        return f"{rows}, {count_text(results.done)} of them worked out."
    answered = "answered" if count == 1 else "all answered"
    said = f"{rows}, {answered}." if not none else f"{rows}; {count_text(none)} without an answer."
    if none == count:
        said = f"{rows}, {'without an answer' if count == 1 else 'none of them answered'}."
    too_many = int(beyond(results, limits).sum())
    if too_many:
        of_them = "It exceeds" if count == 1 else f"{count_text(too_many)} of them exceed{'s' if too_many == 1 else ''}"
        only = limits.count is not None and len(uses(results, limits)) == 1
        what = f"the {count_text(limits.count or 0)} available" if only else "what the study can have"
        said += f" {of_them} {what}."
    return said


def _varied(results: Results, name: str) -> Column:
    assumption, aim = results.asked.assumption(name), results.asked.holder(name)
    numbers = results.asked.columns[name]
    if assumption.chosen:
        words, label = [choice.label for choice in assumption.choices], short_label(label_of(assumption, aim))
        return Column(name, label, numbers, lambda row: _or_dash(numbers[row], lambda at: words[int(at)]), words=True)

    def text(row: int) -> str:
        return _or_dash(numbers[row], lambda value: with_unit(assumption, value, aim.words.unit, 6))

    label = short_label(label_of(assumption, aim))
    return Column(name, label, numbers, text, percent=assumption.kind == "share")


def _found(results: Results) -> Column:
    asked = results.asked
    if asked.find == "n":
        return _counts(results, FOUND, asked.aim.words.many, results.total, found=True)
    if asked.find == "power":
        return replace(_power(results, FOUND), found=True)
    assumption = asked.design.assumption(asked.design.unknown_of(asked.find))

    def text(row: int) -> str:
        return _or_dash(results.answer[row], lambda value: _answer_text(assumption, value, asked.aim.words.unit))

    words = Quantity(assumption, asked.aim).words
    return Column(FOUND, words, results.answer, text, found=True, percent=assumption.kind == "share")


def _power(results: Results, name: str) -> Column:
    label = "reached" if "power" in results.asked.columns else "power"
    return Column(name, label, results.power, lambda row: _or_dash(results.power[row], power_text), percent=True)


def _answer_text(assumption: Assumption, value: float, unit: str) -> str:
    """A found effect or alpha to four digits: the rows of a table are compared, not planned on."""
    after = unit_text(assumption, unit)
    text = value_text(assumption, value, 4)
    return f"{text}\u00a0{after}" if after else text


def _counts(results: Results, name: str, label: str, numbers: NDArray[np.float64], found: bool = False) -> Column:
    return Column(name, label, numbers, lambda row: _or_dash(numbers[row], lambda n: count_text(int(n))), found=found)


def _each(results: Results) -> Column:
    groups = results.groups

    def text(row: int) -> str:
        sizes = [int(size) for size in groups[row] if not math.isnan(size)]
        if not sizes:
            return DASH
        return count_text(sizes[0]) if len(set(sizes)) == 1 else " + ".join(map(count_text, sizes))

    return Column(EACH, "per group" if groups.shape[1] > 1 else "analysed", groups[:, 0], text)


def _designs(results: Results) -> list[Column]:
    """The design of each row, where rows name them."""
    asked = results.asked
    if asked.which is None:
        return []
    numbers = asked.which.astype(float)
    titles = [*(design_named(template.aim.design).title for template in asked.templates), DASH]
    return [Column("design", "design", numbers, lambda row: titles[int(numbers[row])], words=True)]


def _effect(results: Results) -> list[Column]:
    """The effect without a unit, where it differs from row to row and is not what is asked or found."""
    asked, numbers, name = results.asked, results.standard, results.measure
    if asked.which is not None:
        return []  # each design has its own
    found = asked.find == "effect" and asked.design.unknown_of("effect") == name
    if not name or name in asked.columns or found or len(np.unique(numbers[np.isfinite(numbers)])) < 2:
        return []
    return [Column(name, SYMBOLS[name], numbers, lambda row: _or_dash(numbers[row], _three_digits))]


def _three_digits(value: float) -> str:
    return f"{value:.3g}".replace("-", MINUS)


def _half_width(results: Results) -> list[Column]:
    """How far the confidence interval that goes with the test is expected to reach to either side."""
    asked, numbers = results.asked, results.half_width
    if asked.which is not None or np.isnan(numbers).all():
        return []
    kind = asked.design.assumption(asked.design.primary).kind
    shares, unit = kind == "share", {"share": "points", "measured": asked.aim.words.unit}.get(kind, "")
    label = f"half width{f', {unit}' if unit else ''}"
    scale = 100.0 if shares else 1.0
    return [Column(HALF_WIDTH, label, numbers * scale, lambda row: _or_dash(numbers[row] * scale, _three_digits))]


def _spent(results: Results, limits: Limits) -> list[Column]:
    """What each row costs and how long it takes to recruit, as far as that is known."""
    cost, months, currency = cost_by_row(results, limits), months_by_row(results, limits), limits.has.currency
    found = []
    if cost is not None:
        label = f"cost, {currency}" if currency else "cost"
        found.append(Column(COST, label, cost, lambda row: _or_dash(cost[row], amount_text)))
    if months is not None:
        found.append(Column(MONTHS, "months", months, lambda row: _or_dash(months[row], _tenths)))
    return found


def _tenths(months: float) -> str:
    return amount_text(rounded_up(months))


def _limit(results: Results, limits: Limits) -> Column:
    left = room(results, limits)

    def text(row: int) -> str:
        return remark_on(results, row) if math.isnan(results.enrol[row]) else room_words(results, limits, row)

    return Column(LIMIT, "limit", left, text, words=True)


def _or_dash(number: float, text: Callable[[float], str]) -> str:
    return DASH if math.isnan(number) else text(float(number))


def fixed_words(results: Results) -> str:
    """What is the same in all rows, in words: `standard deviation 24 ms, alpha 0.05`."""
    asked = results.asked
    said: list[str] = []
    if asked.which is not None:
        return "what each design has by itself"
    for assumption in asked.design.assumptions:
        value = asked.values.get(assumption.name)
        if assumption.name in asked.columns or value is None or assumption.several:
            continue
        text = (
            value_text(assumption, value) if assumption.chosen else with_unit(assumption, value, asked.aim.words.unit)
        )
        said.append(f"{Quantity(assumption, asked.aim).words} {text}")
    return listed(said)
