"""The rows of a file that are wanted: each filter names a column, a relation and a value; all must hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ragwort.files import short
from ragwort.files.numerals import typed_number
from ragwort.pilot.columns import Codes, Data
from ragwort.pilot.table import PilotError
from ragwort.stats.noncentral import Array

Kept = NDArray[np.bool_]
_ORDER = {"<": np.less, "≤": np.less_equal, ">": np.greater, "≥": np.greater_equal}
RELATIONS = ("is", "is not", *_ORDER, "contains", "is missing", "is not missing")
WITHOUT_VALUE = ("is missing", "is not missing")


@dataclass(frozen=True)
class Filter:
    """One condition on a row."""

    column: str
    relation: str
    value: str = ""

    def __str__(self) -> str:
        return " ".join(part for part in (self.column, self.relation, self.value) if part)


@dataclass(frozen=True)
class Rows:
    """The rows of a file that all filters keep."""

    data: Data
    kept: Kept

    @property
    def count(self) -> int:
        """How many are kept."""
        return int(self.kept.sum())

    def numbers(self, name: str) -> Array:
        """A column as numbers, NaN where missing. Raises `PilotError`."""
        return self.data.numbers(name)[self.kept]

    def codes(self, name: str) -> tuple[Codes, tuple[str, ...]]:
        """A column as positions in the list of the values that the kept rows have; -1 where missing."""
        codes, names = self.data.codes(name)
        codes = codes[self.kept]
        present = np.unique(codes[codes >= 0])
        places = np.full(len(names) + 1, -1, dtype=np.int64)
        places[present] = np.arange(len(present))
        return places[codes], tuple(names[at] for at in present)


def filtered(data: Data, filters: Sequence[Filter] = ()) -> Rows:
    """The rows that all filters keep. Raises `PilotError` where none is left, or a filter cannot be read."""
    kept = np.ones(data.table.rows, dtype=bool)
    for each in filters:
        kept &= _holds(data, each)
        if not kept.any():
            raise PilotError(f"No row is left with {each}: change or remove this condition.")
    return Rows(data, kept)


def _holds(data: Data, each: Filter) -> Kept:
    codes, names = data.codes(each.column)
    if each.relation in WITHOUT_VALUE:
        return np.asarray((codes < 0) == (each.relation == "is missing"))
    if not each.value.strip():
        raise PilotError(f"The condition “{each}” needs a value.")
    if each.relation in _ORDER:
        limit = _limit(each)
        with np.errstate(invalid="ignore"):  # a missing number is on no side of any
            return np.asarray(_ORDER[each.relation](data.numbers(each.column), limit), dtype=bool)
    wanted = each.value.strip().casefold()
    if each.relation == "contains":
        matches = np.array([wanted in name.casefold() for name in names] + [False])
    else:
        matches = np.array([_same(name, wanted) for name in names] + [False])
    held = matches[codes]  # -1, a missing value, is the last: it equals nothing
    return np.asarray(~held if each.relation == "is not" else held)


def _same(text: str, wanted: str) -> bool:
    """Whether a cell is what was typed: as words, or as numbers (`3` is `3.0`)."""
    if text.casefold() == wanted:
        return True
    return _typed(text) is not None and _typed(text) == _typed(wanted)


def _typed(text: str) -> float | None:
    """The number that somebody types; None where it is none, or can mean two."""
    try:
        number = typed_number(text)
    except (OverflowError, ValueError):
        return None
    return None if isinstance(number, list) else number


def _limit(each: Filter) -> float:
    number = _typed(each.value)
    if number is None:
        raise PilotError(f"“{short(each.value)}” is not one number: {short(each.column)} {each.relation} needs one.")
    return number
