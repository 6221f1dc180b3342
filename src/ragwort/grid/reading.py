"""A grid from a table file: each row a set of assumptions, what no column says as the aim has it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from ragwort.base.wording import listed, one_of
from ragwort.designs import Design, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.stated import Statement
from ragwort.grid.cells import Reader as _Reader
from ragwort.grid.combinations import MOST_ROWS, Asked, GridError, base_of, can_vary, unknown_of
from ragwort.grid.designs_in_file import (
    as_design,
    by_design,
    column_of_designs,
    no_answer,
    some_rows,
    together,
    unknown_design,
)
from ragwort.grid.headings import meant_by
from ragwort.pilot.table import Table
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import Outcome
from ragwort.study.words.numbers import count_text

Matches = Mapping[str, str]  # by assumption the column that holds it


@dataclass(frozen=True)
class FromFile:
    """What a table file asks, and how its columns were understood."""

    asked: Asked
    file: str
    matches: Matches
    left_over: tuple[str, ...]  # columns that are no assumption
    designs_in: str = ""  # the column that names the design of each row
    empty: int = 0  # cells that take the study's own value
    stated: tuple[str, ...] = ()  # columns that state something in another quantity, and in which

    @property
    def says(self) -> str:
        """`200 rows of sheet.csv: difference and sd are taken from it; site is not used.`"""
        rows = "1 row" if self.asked.count == 1 else f"{count_text(self.asked.count)} rows"
        taken = list(dict.fromkeys(self.matches.values()))
        text = f"{rows} of {self.file}: {listed(taken)} {'is' if len(taken) == 1 else 'are'} taken from it"
        text += f" ({listed(list(self.stated))})" if self.stated else ""
        text += f", designs from {self.designs_in}" if self.designs_in else ""
        if self.left_over:
            text += f"; {listed(list(self.left_over)[:4])} {'is' if len(self.left_over) == 1 else 'are'} not used"
        if self.empty:
            cells = "1 empty cell takes" if self.empty == 1 else f"{count_text(self.empty)} empty cells take"
            text += f"; {cells} the study's own value"
        return f"{text}."


def can_be_read(aim: Aim) -> list[Assumption]:
    """The assumptions that a column can hold and that have a say: numbers, and words that are chosen."""
    design = design_named(aim.design)
    unused = design.unused_names(unknown_of(aim))
    return [each for each in design.assumptions if can_vary(each) and each.name not in unused]


def matched(aim: Aim, headings: Sequence[str]) -> Matches:
    """Which column holds what, by what it is usually called. Raises `GridError` where two claim to hold the same.

    What a column states in another quantity is held by it too: an odds ratio is a second proportion.
    """
    found: dict[str, str] = {}
    for heading in headings:
        for name in _meant(aim, heading):
            if name in found:
                raise GridError(f"The columns “{found[name]}” and “{heading}” both hold {name}: leave one out.")
            found[name] = heading
    return found


def _meant(aim: Aim, heading: str) -> tuple[str, ...]:
    """The quantities of the design that a heading means, as it is or by a statement."""
    idle = design_named(aim.design).idle_for(aim.values(), unknown_of(aim))
    known = can_be_read(aim)
    own = meant_by(heading, [each for each in known if each.name not in idle], aim) or meant_by(heading, known, aim)
    if own is not None:
        return (own,)
    statement = _statement(aim, heading)
    names = {each.name for each in known}
    return () if statement is None or not names.issuperset(statement.gives) else statement.gives


def _statement(aim: Aim, heading: str) -> Statement | None:
    """What a heading states in another quantity than those of the design."""
    if meant_by(heading, can_be_read(aim), aim) is not None:
        return None
    statements = design_named(aim.design).statements
    name = meant_by(heading, [each.assumption for each in statements], aim)
    return next((each for each in statements if each.name == name), None)


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
    known = base_of(aim, outcome, find)
    reader = _Reader(aim, table, faults, {**design.implied(known), **known})
    columns = reader.columns(matches)
    values = {name: value for name, value in known.items() if name not in _replaced(design, columns)}
    asked = Asked(aim, find, values, columns, faults, "row")
    left = tuple(each for each in headings if each not in matches.values())
    return FromFile(asked, table.name, matches, left, empty=reader.empty, stated=reader.stated)


def _asked_by_designs(aim: Aim, outcome: Outcome, table: Table, heading: str, matches: Matches) -> FromFile:
    """The same where a column names the design of each row."""
    rows_of = by_design(aim, table, heading)
    faults = {row: unknown_design(table.columns[heading][row]) for row in rows_of.pop("")}
    parts: dict[int, tuple[list[int], Asked]] = {}
    used: dict[str, str] = {}
    read: list[FromFile] = []
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
        read.append(found)
    if not parts:
        raise GridError(next(iter(faults.values())))
    left = tuple(each for each in table.columns if each not in used.values() and each != heading)
    empty = sum(found.empty for found in read)
    stated = tuple(dict.fromkeys(each for found in read for each in found.stated))
    return FromFile(together(aim, table.rows, parts, faults), table.name, used, left, heading, empty, stated)


def _known(aim: Aim, matches: Matches) -> dict[str, str]:
    names = {each.name for each in can_be_read(aim)}
    return {name: column for name, column in matches.items() if name in names}


def _replaced(design: Design, matches: Iterable[str]) -> set[str]:
    """What the columns say, and what says the same in other words: two means in place of a difference."""
    found = set(matches)
    matches = set(found)
    for ways in (*design.ways, design.sizes):
        names = {name for way in ways for name in way.names}
        stated = next((way for way in ways if set(way.names) & set(matches)), None)
        found |= names - set(stated.names) if stated is not None else set()
    return found
