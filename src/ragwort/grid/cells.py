"""The cells of a table file read as values of an aim: numbers, per cents, choices; each that cannot be says why."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ragwort.designs import RequestError, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.many import allowed
from ragwort.designs.stated import Statement
from ragwort.files.numerals import Signs, best, number_in
from ragwort.grid.combinations import GridError, encoded
from ragwort.grid.headings import meant_by
from ragwort.pilot.table import Table
from ragwort.study.document.aim import Aim
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import NumberError, parse

_SHOWN = 30  # characters of a cell that cannot be read
_MOSTLY = 0.5  # of a column's numbers: from so many above 1 on a column of shares is in per cent
Numbers = NDArray[np.float64]


@dataclass
class Reader:
    """Reads the columns of one table for an aim; `faults` gains why a row cannot be asked."""

    aim: Aim
    table: Table
    faults: dict[int, str]
    own: Mapping[str, Any]  # the study's values, for cells that are empty
    empty: int = 0  # cells that took one
    stated: tuple[str, ...] = ()  # what was stated in another quantity: `OR as proportion, treatment`
    _stated: dict[str, tuple[Statement, str]] = field(default_factory=dict)

    def columns(self, matches: Mapping[str, str]) -> dict[str, Numbers]:
        """By quantity its values, NaN where there are none. Raises `GridError`."""
        found: dict[str, Numbers] = {}
        for name, heading in matches.items():
            statement = self._statement(name, heading)
            if statement is None:
                found[name] = self._read(design_named(self.aim.design).assumption(name), heading)
            else:
                self._stated[statement.name] = statement, heading
        for statement, heading in self._stated.values():
            found |= self._made(statement, heading, found)
        return found

    def _statement(self, name: str, heading: str) -> Statement | None:
        design = design_named(self.aim.design)
        if meant_by(heading, design.assumptions, self.aim) is not None:
            return None
        found = [each for each in design.statements if name in each.gives]
        meant = meant_by(heading, [each.assumption for each in found], self.aim)
        return next((each for each in found if each.name == meant), None)

    def _made(self, statement: Statement, heading: str, found: Mapping[str, Numbers]) -> dict[str, Numbers]:
        """What a column states, in the design's own quantities."""
        known = {**self.own, **found}
        missing = [name for name in statement.needs if name not in known]
        if missing:
            raise GridError(f"“{heading}” counts from {missing[0]}, which no column has and the study does not say.")
        stated = self._read(statement.assumption, heading)
        with np.errstate(all="ignore"):
            made = statement.values(stated, {name: known[name] for name in known if name not in statement.gives})
        design = design_named(self.aim.design)
        labels = [label_of(design.assumption(name), self.aim).lower() for name in made]
        self.stated += (f"{heading} as {' and '.join(labels)}",)
        return {name: self._within(design.assumption(name), np.asarray(each, float)) for name, each in made.items()}

    def _read(self, assumption: Assumption, heading: str) -> Numbers:
        texts = self.table.columns[heading]
        read = self._choices if assumption.chosen else self._numbers
        return self._filled(assumption, texts, read(assumption, heading, texts))

    def _filled(self, assumption: Assumption, texts: Sequence[str], numbers: Numbers) -> Numbers:
        """Empty cells take the study's own value, where it has one."""
        blank = [row for row, text in enumerate(texts) if not text.strip()]
        own = self.own.get(assumption.name, assumption.default)
        if own is None and blank:
            for row in blank:
                self.faults.setdefault(row, f"{assumption.label} is empty.")
        elif blank:
            numbers[blank] = encoded(assumption, own)
            self.empty += len(blank)
        return numbers

    def _numbers(self, assumption: Assumption, heading: str, texts: Sequence[str]) -> Numbers:
        unit = self.aim.words.unit if assumption.kind == "measured" else ""
        bare = [_bare(text, unit) for text in texts]
        decimal = self.table.decimal
        signs = Signs(decimal, "," if decimal == "." else ".") if decimal else best([t.removesuffix("%") for t in bare])
        read = [number_in(text.removesuffix("%").strip(), signs) for text in bare]
        numbers = np.array([np.nan if number is None else number for number in read], dtype=float)
        for row in np.flatnonzero(np.isnan(numbers)).tolist():
            if texts[row].strip():
                self.faults.setdefault(row, _unreadable(assumption, texts[row]))
        percent = _in_per_cent(assumption, heading, bare, numbers)
        return self._within(assumption, np.where(percent, np.round(numbers / 100, 15), numbers))

    def _within(self, assumption: Assumption, numbers: Numbers) -> Numbers:
        """Those that the quantity can have; the others say what would be allowed."""
        with np.errstate(invalid="ignore"):
            outside = ~allowed(assumption, numbers) & ~np.isnan(numbers)
        for row in np.flatnonzero(outside).tolist():
            self.faults.setdefault(row, _refused(assumption, float(numbers[row])))
        return np.where(outside, np.nan, numbers)

    def _choices(self, assumption: Assumption, heading: str, texts: Sequence[str]) -> Numbers:
        """The places of chosen words in their assumption's list."""
        known: dict[str, float | str] = {"": np.nan}
        for text in {text.strip() for text in texts} - known.keys():
            try:
                known[text] = encoded(assumption, parse(assumption, text))
            except NumberError as error:
                known[text] = str(error)
        found = [known[text.strip()] for text in texts]
        for row, each in enumerate(found):
            if isinstance(each, str):
                self.faults.setdefault(row, each)
        return np.array([np.nan if isinstance(each, str) else each for each in found], dtype=float)


def _in_per_cent(assumption: Assumption, heading: str, texts: Sequence[str], numbers: Numbers) -> NDArray[np.bool_]:
    """Which cells of a column are in per cent: as each says, as the heading does, or as most of the numbers show."""
    signed = np.array([text.endswith("%") for text in texts])
    if assumption.kind != "share" or signed.any():
        return signed
    if "%" in heading or "percent" in heading.lower() or "per cent" in heading.lower():
        return np.ones(len(texts), dtype=bool)
    known = numbers[~np.isnan(numbers)]
    mostly = known.size > 0 and (np.abs(known) > 1).mean() >= _MOSTLY
    return np.full(len(texts), mostly)


def _bare(text: str, unit: str) -> str:
    return text.removesuffix(unit).strip() if unit else text.strip()


def _unreadable(assumption: Assumption, text: str) -> str:
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
