"""Which rows of a grid are shown: those for which a condition holds, such as `recruited <= 240 and power > 0.8`."""

from __future__ import annotations

import operator
import re
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ragwort.base.wording import one_of
from ragwort.files.numerals import typed_number
from ragwort.grid.combinations import GridError
from ragwort.grid.table import Column

_SIGNS: dict[str, Callable[[Any, Any], Any]] = {
    "<=": operator.le,
    ">=": operator.ge,
    "≤": operator.le,
    "≥": operator.ge,
    "!=": operator.ne,
    "<": operator.lt,
    ">": operator.gt,
    "=": operator.eq,
}
_ONE = re.compile(r"(.+?)\s*(<=|>=|≤|≥|!=|<|>|=)\s*(\S+?)\s*(%?)\s*")
_PERCENT = 1.5  # a share above this is meant in per cent


def rows_that(columns: Sequence[Column], condition: str) -> NDArray[np.bool_]:
    """For which rows the condition holds; all where it is empty. Rows without the number are left out.

    Raises `GridError` that says what could be typed.
    """
    count = len(columns[0].numbers)
    held = np.ones(count, dtype=bool)
    for part in re.split(r"\s+and\s+|\s*,\s+|\s*;\s*", condition.strip()) if condition.strip() else ():
        held &= _holds(columns, part)
    return held


def _holds(columns: Sequence[Column], part: str) -> NDArray[np.bool_]:
    found = _ONE.fullmatch(part)
    known = [column for column in columns if not column.words]
    if not found:
        raise GridError(f"“{part[:40]}” is no condition: type a column, a sign and a number, as in recruited <= 240.")
    name, sign, text, percent = found.groups()
    column = next((each for each in known if name.lower() in (each.name.lower(), each.label.lower())), None)
    if column is None:
        raise GridError(f"There is no column “{name[:40]}”: there is {one_of([each.label for each in known])}.")
    try:
        number = typed_number(text)
    except (ValueError, OverflowError):
        number = []
    if not isinstance(number, float):
        raise GridError(f"“{text[:40]}” is not a number.")
    share = column.percent and (percent or abs(number) > _PERCENT)
    with np.errstate(invalid="ignore"):
        held = _SIGNS[sign](column.numbers, number / 100 if share else number)
    return np.asarray(held & ~np.isnan(column.numbers))
