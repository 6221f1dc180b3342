"""What the columns of a table hold."""

from __future__ import annotations

import math
import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import count
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ragwort.files import short
from ragwort.files.numerals import COMMA, POINT, Signs, best, fitting, number_in
from ragwort.pilot.table import PilotError, Table
from ragwort.stats.noncentral import Array

MISSING = frozenset({"", "na", "n/a", "nan", "null", ".", "-", "missing"})
NO_NUMBER = frozenset({"none"})  # missing among numbers, but an answer among words: "none", "one", "several"
YES = frozenset({"yes", "y", "true", "1", "ja", "oui", "sí", "si"})
NO = frozenset({"no", "n", "false", "0", "nein", "non"})
_AT_ONCE = 20_000  # texts: some milliseconds of work
MOST_GROUPS = 50
MOST_ROWS = 5  # that a message names
ENOUGH_WORDS = 1000  # different ones until a column is not one of numbers with a few faults
_COUNT = re.compile(r"[0-9]{1,15}")
Codes = NDArray[np.int64]
Kind = Literal["numbers", "yes or no", "groups", "text", "empty"]


@dataclass(frozen=True)
class Column:
    """One column, for the preview and for guessing what it is good for."""

    name: str
    kind: Kind
    different: int  # values, missing ones apart
    missing: int
    running: bool  # only counts the rows

    @property
    def says(self) -> str:
        """`numbers, 2 missing`, `3 groups`, `yes or no`."""
        words = f"{self.different} groups" if self.kind == "groups" else self.kind
        words = "running number" if self.running else words
        return f"{words}, {self.missing} missing" if self.missing and self.kind != "empty" else words


class Unsure(PilotError):
    """A column whose numbers can be read in two ways: somebody has to say which."""

    def __init__(self, column: str, example: str, readings: tuple[tuple[Signs, float], ...]) -> None:
        super().__init__(
            f"The numbers of {short(column)} can be read in two ways: is {example} "
            f"{one_or_other([f'{number:.12g}' for _, number in readings])}?"
        )
        self.column, self.example, self.readings = column, example, readings


def one_or_other(words: Sequence[str]) -> str:
    """`a`, `a or b`, `a, b or c`."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"


class Data:
    """A table with what has been worked out of its columns; each is worked out when first asked for, and kept."""

    def __init__(self, table: Table) -> None:
        self.table = table
        self._numbers: dict[str, tuple[Array, tuple[str, ...]]] = {}
        self._codes: dict[str, tuple[Codes, tuple[str, ...]]] = {}
        self._columns: tuple[Column, ...] | None = None
        self._ways_known: dict[str, list[Signs]] = {}
        self.decimal = ""  # the sign before the decimals, where somebody had to say

    @property
    def columns(self) -> tuple[Column, ...]:
        """Every column, in order."""
        if self._columns is None:
            self._columns = tuple(self._described(name) for name in self.table.columns)
        return self._columns

    def column(self, name: str) -> Column:
        """The column of this name. Raises `KeyError`."""
        return {column.name: column for column in self.columns}[name]

    def numbers(self, name: str) -> Array:
        """A column as numbers, NaN where missing. Raises `PilotError` that names the rows that are none."""
        doubt = self._doubt(name)
        if doubt is not None:
            raise doubt
        found, unread = self._read_numbers(name)
        if unread:
            rows, more = ", ".join(unread[:MOST_ROWS]), " and more" if len(unread) > MOST_ROWS else ""
            sign = f" (it has {self._signs(name).words} elsewhere)" if self._is_mixed(name) else ""
            raise PilotError(f"{short(name)} is no number in {rows}{more}{sign}. Choose another column, or mend these.")
        return found

    def codes(self, name: str) -> tuple[Codes, tuple[str, ...]]:
        """A column as positions in the list of its different values, in the order of the file; -1 where missing."""
        if name not in self._codes:
            texts = self.table.columns[name]
            places: dict[str, int] = defaultdict(count().__next__)  # in the order of the file
            every = np.empty(len(texts), dtype=np.int64)
            for start in range(0, len(texts), _AT_ONCE):  # in pieces, so that a window beside this thread can paint
                some = texts[start : start + _AT_ONCE]
                every[start : start + len(some)] = np.fromiter(map(places.__getitem__, some), np.int64, len(some))
            known = np.array([text.lower() not in MISSING for text in places], dtype=bool)
            renamed = np.where(known, np.cumsum(known) - 1, -1)
            values = tuple(text for text, is_known in zip(places, known, strict=True) if is_known)
            self._codes[name] = (renamed[every], values)
        return self._codes[name]

    def _read_numbers(self, name: str) -> tuple[Array, tuple[str, ...]]:
        """Each different text is read once. A column of words is given up after `ENOUGH_WORDS` of them."""
        if name not in self._numbers:
            codes, values = self.codes(name)
            signs = self._signs(name)
            found, words = np.full(len(values) + 1, math.nan), []
            for at, text in enumerate(values):
                number = number_in(text, signs)
                if number is not None:
                    found[at] = number
                elif text.lower() not in NO_NUMBER:
                    words.append(at)
                    if len(words) >= ENOUGH_WORDS:
                        break
            self._numbers[name] = (found[codes], self._where(codes, values, words))
        return self._numbers[name]

    def _ways(self, name: str) -> list[Signs]:
        """The ways of writing in which all of a column is numbers; worked out once."""
        if name not in self._ways_known:
            values = [text for text in self.codes(name)[1] if text.lower() not in NO_NUMBER]
            self._ways_known[name] = fitting(values)
        return self._ways_known[name]

    def _signs(self, name: str) -> Signs:
        """How the numbers of a column are written, as far as that can be told."""
        ways = self._ways(name)
        if len(ways) == 1:
            return ways[0]
        decimal = self.decimal or self.table.decimal or self._decimal_of_others(name)
        return next((signs for signs in ways if signs.decimal == decimal), None) or best(self.codes(name)[1])

    def _decimal_of_others(self, name: str) -> str:
        """The decimal sign that the file's other columns leave no doubt about; empty where they do, or disagree."""
        signs = {self._ways(other)[0].decimal for other in self.table.columns if other != name and self._decides(other)}
        return signs.pop() if len(signs) == 1 else ""

    def _decides(self, name: str) -> bool:
        texts = self.codes(name)[1]
        return len(self._ways(name)) == 1 and any("." in text or "," in text for text in texts)

    def _is_mixed(self, name: str) -> bool:
        """Whether what cannot be read would be numbers with another decimal sign."""
        signs, other = self._signs(name), COMMA if self._signs(name).decimal == "." else POINT
        texts = self.codes(name)[1][:ENOUGH_WORDS]
        return any(number_in(text, signs) is None and number_in(text, other) is not None for text in texts)

    def _doubt(self, name: str) -> Unsure | None:
        """What has to be asked before a column can be read."""
        ways = self._ways(name)
        decided = self.decimal or self.table.decimal or (len(ways) > 1 and self._decimal_of_others(name))
        if len(ways) < 2 or decided:
            return None
        example = next(t for t in self.codes(name)[1] if number_in(t, ways[0]) != number_in(t, ways[1]))
        return Unsure(name, example, tuple((signs, number_in(example, signs) or 0.0) for signs in ways))

    def settle(self, decimal: str) -> None:
        """Say which sign stands before the decimals in this file."""
        self.decimal = decimal
        self._numbers.clear()
        self._columns = None

    def _where(self, codes: Codes, values: Sequence[str], words: Sequence[int]) -> tuple[str, ...]:
        """The rows whose text is no number."""
        rows = np.flatnonzero(np.isin(codes, words))  # counted from 0, and the header is row 1 of the file
        return tuple(f"row {row + 2} (“{values[codes[row]][:20]}”)" for row in rows[: MOST_ROWS + 1])

    def _described(self, name: str) -> Column:
        codes, values = self.codes(name)
        texts, missing = self.table.columns[name], int(np.sum(codes < 0))
        running = _is_running(texts, len(values))
        if not values:
            kind: Kind = "empty"
        elif len(values) == 2 and {text.casefold() for text in values} <= YES | NO:
            kind = "yes or no"
        elif len(values) == 2 and not _is_decimal(values):
            kind = "groups"
        elif not self._read_numbers(name)[1]:
            kind = "numbers"
        else:
            kind = "groups" if len(values) <= MOST_GROUPS else "text"
        if kind == "numbers":
            missing = int(np.isnan(self._read_numbers(name)[0]).sum())
        return Column(name, kind, len(values), missing, running)


def _is_running(texts: Sequence[str], different: int) -> bool:
    """Whether a column only counts the rows."""
    if len(texts) < 3 or different < len(texts) or not _COUNT.fullmatch(texts[0]):
        return False
    first = int(texts[0])
    return all(text == str(first + at) for at, text in enumerate(texts))


def _is_decimal(values: Sequence[str]) -> bool:
    """Whether these are measured numbers and no codes."""
    return all(re.fullmatch(r"[+-]?\d+[.,]\d+", text) for text in values)
