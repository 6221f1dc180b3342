"""A grid from a table file: each row a set of assumptions, what no column says as the aim has it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ragwort.designs import Design, RequestError, design_named
from ragwort.designs.assumption import Assumption, one_of
from ragwort.designs.many import allowed
from ragwort.designs.saying import listed
from ragwort.files.numerals import Signs, best, number_in
from ragwort.grid.combinations import MOST_ROWS, Asked, GridError, base_of, can_vary, encoded, unknown_of
from ragwort.grid.designs_in_file import (
    as_design,
    by_design,
    column_of_designs,
    no_answer,
    some_rows,
    together,
    unknown_design,
)
from ragwort.pilot.table import Table
from ragwort.study.model import Aim
from ragwort.study.naming import label_of
from ragwort.study.numbers import NumberError, count_text, parse
from ragwort.study.outcome import Outcome
from ragwort.study.scenarios import short_label

Matches = Mapping[str, str]  # by assumption the column that holds it
NOT_USED = ""
_UNIT = re.compile(r"\s*[(\[,].*$")  # after a heading: `difference (ms)`, `sd, ms`
_SHOWN = 30  # characters of a cell that cannot be read


@dataclass(frozen=True)
class FromFile:
    """What a table file asks, and how its columns were understood."""

    asked: Asked
    file: str
    matches: Matches
    left_over: tuple[str, ...]  # columns that are no assumption
    designs_in: str = ""  # the column that names the design of each row

    @property
    def says(self) -> str:
        """`200 rows of sheet.csv: difference and sd are taken from it; site is not used.`"""
        rows = "1 row" if self.asked.count == 1 else f"{count_text(self.asked.count)} rows"
        text = f"{rows} of {self.file}: {listed(list(self.matches.values()))} "
        text += f"{'is' if len(self.matches) == 1 else 'are'} taken from it"
        text += f", designs from {self.designs_in}" if self.designs_in else ""
        if self.left_over:
            text += f"; {listed(list(self.left_over)[:4])} {'is' if len(self.left_over) == 1 else 'are'} not used"
        return f"{text}."


def can_be_read(aim: Aim) -> list[Assumption]:
    """The assumptions that a column can hold and that have a say: numbers, and words that are chosen."""
    design = design_named(aim.design)
    unused = design.unused_names(unknown_of(aim))
    return [each for each in design.assumptions if can_vary(each) and each.name not in unused]


def matched(aim: Aim, headings: Sequence[str]) -> Matches:
    """Which column holds what, by name, label or symbol. Raises `GridError` where two claim to hold the same."""
    found: dict[str, str] = {}
    for heading in headings:
        name = next((each.name for each in can_be_read(aim) if _plain(heading) in _called(each, aim)), None)
        if name in found:
            raise GridError(f"The columns “{found[name]}” and “{heading}” both hold {name}: leave one out.")
        if name is not None:
            found[name] = heading
    return found


def _called(assumption: Assumption, aim: Aim) -> set[str]:
    label = label_of(assumption, aim)
    return {
        _plain(word)
        for word in (assumption.name, assumption.label, label, short_label(label), assumption.symbol)
        if word
    }


def _plain(heading: str) -> str:
    """A heading without its unit, signs and capitals."""
    return re.sub(r"[\W_]+", " ", _UNIT.sub("", heading)).strip().lower()


def asked_by(aim: Aim, outcome: Outcome, table: Table, matches: Matches | None = None) -> FromFile:
    """What the rows of a table ask. Rows that cannot be read keep their place, with the reason. Raises `GridError`."""
    heading = column_of_designs(table)
    if heading is not None:
        return _asked_by_designs(aim, outcome, table, heading, matches or {})
    headings = list(table.columns)
    matches = matched(aim, headings) if matches is None else {name: each for name, each in matches.items() if each}
    if not matches:
        names = one_of([each.name for each in can_be_read(aim)])
        raise GridError(f"No column of {table.name} is called as an assumption is: one must be called {names}.")
    if table.rows > MOST_ROWS:
        raise GridError(f"{table.name} has {count_text(table.rows)} rows: a grid has {count_text(MOST_ROWS)} at most.")
    design, find = design_named(aim.design), unknown_of(aim)
    faults: dict[int, str] = {}
    columns = {
        name: _numbers(design.assumption(name), aim, heading, table, faults) for name, heading in matches.items()
    }
    values = {
        name: value for name, value in base_of(aim, outcome, find).items() if name not in _replaced(design, matches)
    }
    asked = Asked(aim, find, values, columns, faults, "row")
    return FromFile(asked, table.name, matches, tuple(each for each in headings if each not in matches.values()))


def _asked_by_designs(aim: Aim, outcome: Outcome, table: Table, heading: str, matches: Matches) -> FromFile:
    """The same where a column names the design of each row."""
    rows_of = by_design(aim, table, heading)
    faults = {row: unknown_design(table.columns[heading][row]) for row in rows_of.pop("")}
    parts: dict[int, tuple[list[int], Asked]] = {}
    used: dict[str, str] = {}
    for design, rows in rows_of.items():
        if not rows:
            continue
        own = aim if design == aim.design else as_design(aim, design_named(design))
        some = some_rows(table, rows, heading)
        try:
            claimed = {**matched(own, list(some.columns)), **_known(own, matches)}
            found = asked_by(own, outcome if own is aim else no_answer(), some, claimed)
        except GridError as error:
            faults |= dict.fromkeys(rows, str(error))
            continue
        parts[len(parts)] = rows, found.asked
        used |= found.matches
    if not parts:
        raise GridError(next(iter(faults.values())))
    left = tuple(each for each in table.columns if each not in used.values() and each != heading)
    return FromFile(together(aim, table.rows, parts, faults), table.name, used, left, heading)


def _known(aim: Aim, matches: Matches) -> dict[str, str]:
    names = {each.name for each in can_be_read(aim)}
    return {name: column for name, column in matches.items() if name in names}


def _replaced(design: Design, matches: Matches) -> set[str]:
    """What the columns say, and what says the same in other words: two means in place of a difference."""
    found = set(matches)
    for ways in (*design.ways, design.sizes):
        names = {name for way in ways for name in way.names}
        stated = next((way for way in ways if set(way.names) & set(matches)), None)
        found |= names - set(stated.names) if stated is not None else set()
    return found


def _numbers(
    assumption: Assumption, aim: Aim, heading: str, table: Table, faults: dict[int, str]
) -> NDArray[np.float64]:
    """The numbers of a column, NaN where there are none; `faults` gains why."""
    if assumption.chosen:
        return _choices(assumption, table.columns[heading], faults)
    unit = aim.words.unit if assumption.kind == "measured" else ""
    texts = [_bare(text, unit) for text in table.columns[heading]]
    signs = (
        Signs(table.decimal, "," if table.decimal == "." else ".")
        if table.decimal
        else best([t.removesuffix("%") for t in texts])
    )
    read = [number_in(text.removesuffix("%").strip(), signs) for text in texts]
    numbers = np.array([np.nan if number is None else number for number in read], dtype=float)
    percent = np.array([text.endswith("%") for text in texts])
    if assumption.kind == "share" and ("%" in heading or (np.abs(numbers[~percent]) > 1).any()):
        percent |= True  # all of the column, as the heading says or one of its numbers shows
    numbers = np.where(percent, np.round(numbers / 100, 15), numbers)
    for row in np.flatnonzero(np.isnan(numbers)).tolist():
        faults.setdefault(row, _unreadable(assumption, table.columns[heading][row]))
    with np.errstate(invalid="ignore"):
        outside = ~allowed(design_named(aim.design), assumption.name, numbers) & ~np.isnan(numbers)
    for row in np.flatnonzero(outside).tolist():
        faults.setdefault(row, _refused(assumption, float(numbers[row])))
    return np.where(outside, np.nan, numbers)


def _choices(assumption: Assumption, texts: Sequence[str], faults: dict[int, str]) -> NDArray[np.float64]:
    """The places of chosen words in their assumption's list."""
    known: dict[str, float | str] = {}
    for text in texts:
        if text not in known:
            try:
                known[text] = encoded(assumption, parse(assumption, text))
            except NumberError as error:
                known[text] = f"{assumption.label} is empty." if not text.strip() else str(error)
    found = [known[text] for text in texts]
    for row, each in enumerate(found):
        if isinstance(each, str):
            faults.setdefault(row, each)
    return np.array([np.nan if isinstance(each, str) else each for each in found], dtype=float)


def _bare(text: str, unit: str) -> str:
    return text.removesuffix(unit).strip() if unit else text.strip()


def _unreadable(assumption: Assumption, text: str) -> str:
    if not text.strip():
        return f"{assumption.label} is empty."
    try:
        parse(assumption, text[:_SHOWN])
    except NumberError as error:
        return f"{assumption.label}: {error}"
    return f"{assumption.label}: “{text[:_SHOWN]}” is written otherwise than the rest of its column."


def _refused(assumption: Assumption, value: float) -> str:
    try:
        assumption.check(value)
    except RequestError as error:
        return error.message
    return f"{assumption.label} cannot be {value:g}."
