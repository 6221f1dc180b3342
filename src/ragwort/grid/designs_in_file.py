"""A table file that names the design of each row: each design reads its own rows, and all stand in one grid."""

from __future__ import annotations

import re
from collections.abc import Mapping

import numpy as np

from ragwort.designs import Design, all_designs, design_named
from ragwort.grid.combinations import Asked, GridError, Template, unknown_of
from ragwort.pilot.table import Table
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Grid
from ragwort.study.results.outcome import Outcome, Problem

HEADINGS = ("design", "study design")
_SHOWN = 40  # characters of a name that is no design
_FINDS = ("n", "power", "alpha")  # what means the same in every design


def column_of_designs(table: Table) -> str | None:
    """The column that names the designs; None where there is none."""
    return next((heading for heading in table.columns if _plain(heading) in HEADINGS), None)


def design_called(text: str) -> Design | None:
    """The design of this id, title or common name; None where there is none, or several."""
    wanted = _plain(text)
    for names in (lambda d: (d.id,), lambda d: (d.title, d.short_title), lambda d: d.known_as):
        found = [design for design in all_designs() if wanted in [_plain(name) for name in names(design)]]
        if len(found) == 1:
            return found[0]
    return None


def _plain(text: str) -> str:
    return re.sub(r"[\W_]+", " ", text).strip().lower()


def by_design(aim: Aim, table: Table, heading: str) -> dict[str, list[int]]:
    """The rows of each design by its id, the aim's own first; those that name none under the empty one.

    Raises `GridError` where what is found does not mean the same in each.
    """
    if unknown_of(aim) not in _FINDS:
        raise GridError(
            f"{table.name} names designs in its column “{heading}”: then each row can find the sample size, the power "
            "or alpha. Choose one of these."
        )
    rows: dict[str, list[int]] = {aim.design: [], "": []}
    called: dict[str, str] = {}
    for row, text in enumerate(table.columns[heading]):
        if text not in called:
            design = design_called(text) if text.strip() else design_named(aim.design)
            called[text] = design.id if design is not None else ""
        rows.setdefault(called[text], []).append(row)
    return rows


def as_design(aim: Aim, design: Design) -> Aim:
    """The aim as one of another design: what both have stays, nothing is made up."""
    known = {each.name for each in design.assumptions}
    entries = {name: entry for name, entry in aim.entries.items() if name in known}
    return aim.changed(design=design.id, entries=entries, scenarios=(), grid=Grid(find=unknown_of(aim)))


def some_rows(table: Table, rows: list[int], without: str) -> Table:
    """Some rows of a table, without one of its columns."""
    columns = {name: [texts[row] for row in rows] for name, texts in table.columns.items() if name != without}
    return Table(table.name, table.digest, columns, table.decimal)


def no_answer() -> Outcome:
    """Of an aim that was never asked."""
    return Problem("", "")


def together(aim: Aim, count: int, parts: Mapping[int, tuple[list[int], Asked]], faults: dict[int, str]) -> Asked:
    """One grid of the rows of all designs; `parts` are the rows and what they ask, the aim's own under 0."""
    names = dict.fromkeys(name for _, asked in parts.values() for name in asked.columns)
    columns = {name: np.full(count, np.nan) for name in names}
    which = np.full(count, -1)
    templates = []
    for place, (rows, asked) in enumerate(parts.values()):
        which[rows] = place
        templates.append(Template(asked.aim, asked.values, tuple(asked.columns)))
        for name, column in asked.columns.items():
            columns[name][rows] = column
        faults |= {rows[row]: fault for row, fault in asked.faults.items()}
    return Asked(aim, unknown_of(aim), {}, columns, faults, "row", tuple(templates), which)


def unknown_design(text: str) -> str:
    """Why a row that names no design is not asked."""
    return f"“{text.strip()[:_SHOWN]}” is no design, or more than one: “ragwort designs” lists their names."
