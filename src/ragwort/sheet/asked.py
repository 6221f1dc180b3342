"""The words of a sheet, as they are typed, read: strata, blocks, the allowed range, further columns."""

from __future__ import annotations

import math
import re

from ragwort.files import short
from ragwort.sheet.allocation import Factor, SheetError

MOST_STRATA = 64
_FACTOR = re.compile(r"^(?P<name>[^:(]+?)\s*(\(\s*(?P<weight>[^)]*)\))?\s*:\s*(?P<levels>.+)$", re.DOTALL)
_RANGE = re.compile(r"^\s*(?P<low>\S+)?\s*(to|–|…)\s*(?P<high>\S+)?\s*$")


def factors_in(text: str) -> tuple[Factor, ...]:
    """`sex: f, m; age (2): under 40, 40 on`. Raises `SheetError`."""
    factors = tuple(_factor(part) for part in re.split(r"[;\n]", text) if part.strip())
    names = [factor.name.lower() for factor in factors]
    if len(set(names)) < len(names):
        raise SheetError("strata", "Two strata have one name.")
    count = 1
    for factor in factors:
        count *= len(factor.levels)
    if count > MOST_STRATA:
        raise SheetError("strata", f"These make {count} strata; {MOST_STRATA} can be kept apart at most.")
    return factors


def _factor(text: str) -> Factor:
    found = _FACTOR.match(text.strip())
    if found is None:
        raise SheetError("strata", f"“{text.strip()[:40]}” names no levels: it is like sex: f, m.")
    levels = tuple(level.strip() for level in found["levels"].split(",") if level.strip())
    if len(levels) < 2:
        raise SheetError("strata", f"{found['name'].strip()} needs 2 or more levels, parted by commas.")
    if len(set(levels)) < len(levels):
        raise SheetError("strata", f"Two levels of {found['name'].strip()} have one name.")
    return Factor(found["name"].strip(), levels, _weight(found["weight"], found["name"].strip()))


def _weight(text: str | None, name: str) -> float:
    if text is None or not text.strip():
        return 1.0
    try:
        weight = float(text.strip())
    except ValueError:
        weight = -1.0
    if not 0 < weight < 1e6:
        raise SheetError("strata", f"The weight of {name} must be a number above 0, not “{text.strip()[:20]}”.")
    return weight


def blocks_in(text: str) -> tuple[int, ...]:
    """`4, 6`. Raises `SheetError`."""
    found = []
    for part in re.split(r"[,;\s]+", text.strip()):
        if not part:
            continue
        if not part.isdecimal() or len(part) > 4 or not 0 < int(part) <= 1000:
            raise SheetError("blocks", f"“{part[:20]}” is no size of a block: they are whole numbers, as in 4, 6.")
        found.append(int(part))
    return tuple(dict.fromkeys(found))


def range_in(text: str) -> tuple[float | None, float | None]:
    """`150 to 900`, `0 to`, `to 10`. Raises `SheetError`."""
    if not text.strip():
        return None, None
    found = _RANGE.match(text.replace("\u2212", "-"))
    try:
        low, high = (None if each is None else float(each) for each in (found["low"], found["high"]))  # type: ignore[index]
    except (TypeError, ValueError) as error:
        raise SheetError("allowed", f"“{text.strip()[:30]}” is no range: it is like 150 to 900.") from error
    if not all(each is None or math.isfinite(each) for each in (low, high)):
        raise SheetError("allowed", f"“{short(text, 30)}” is no range: its ends are numbers, as in 150 to 900.")
    if low is not None and high is not None and low >= high:
        raise SheetError("allowed", "The allowed range begins above its end.")
    return low, high


def columns_in(text: str) -> tuple[str, ...]:
    """`age, shift`: names of further columns."""
    return tuple(dict.fromkeys(part.strip()[:80] for part in re.split(r"[,;\n]", text) if part.strip()))
