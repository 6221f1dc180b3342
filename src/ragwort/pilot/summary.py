"""A numeric outcome of a pilot file, all together or by group: n, missing, mean, SD."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from ragwort.pilot.table import PilotError, Table

MISSING = frozenset({"", "na", "n/a", "nan", "null", "none", ".", "-", "missing"})
MOST_GROUPS = 50
_THOUSANDS = re.compile(r"^[+-]?\d{1,3}([ \u00a0\u2009\u202f]\d{3})+([.,]\d+)?$")


@dataclass(frozen=True)
class GroupSummary:
    """The outcome in one group."""

    name: str
    n: int
    missing: int
    mean: float
    sd: float


@dataclass(frozen=True)
class Summary:
    """The outcome in every group, in the order of the file."""

    outcome: str
    groups: tuple[GroupSummary, ...]


def summarise(table: Table, outcome: str, group: str = "") -> Summary:
    """Mean and SD of a column, by the values of another where it is named. Raises `PilotError`."""
    comma = _decimal_comma(table.columns[outcome])
    values: dict[str, list[float]] = {}
    missing: dict[str, int] = {}
    unread: list[str] = []
    names = table.columns[group] if group else ["all"] * table.rows
    for row, (text, name) in enumerate(zip(table.columns[outcome], names, strict=True), start=2):
        if name.lower() in MISSING:
            continue
        values.setdefault(name, [])
        if text.lower() in MISSING:
            missing[name] = missing.get(name, 0) + 1
            continue
        number = _number(text, comma)
        if number is None:
            unread.append(f"row {row} (“{text[:20]}”)")
        else:
            values[name].append(number)
    if unread:
        more = f" and {len(unread) - 5} more" if len(unread) > 5 else ""
        raise PilotError(
            f"{outcome} is no number in {', '.join(unread[:5])}{more}. Choose another column, or mend these."
        )
    if len(values) > MOST_GROUPS:
        raise PilotError(f"{group} has {len(values)} different values, too many for groups: choose another column.")
    return Summary(outcome, tuple(_group(name, found, missing.get(name, 0), outcome) for name, found in values.items()))


def _group(name: str, values: list[float], missing: int, outcome: str) -> GroupSummary:
    where = "" if name == "all" else f" in group “{name[:40]}”"
    if not values:
        raise PilotError(f"{outcome} is missing in every row{where}.")
    if len(values) < 2:
        raise PilotError(f"There is only one value of {outcome}{where}: without two there is no SD.")
    mean = math.fsum(values) / len(values)
    sd = math.sqrt(math.fsum((value - mean) ** 2 for value in values) / (len(values) - 1))
    if sd == 0:
        raise PilotError(f"{outcome} is {mean:g} in every row{where}: without scatter there is no effect size.")
    return GroupSummary(name, len(values), missing, mean, sd)


def _decimal_comma(texts: list[str]) -> bool:
    """Whether commas stand for decimals here: some text has one comma and none has a point."""
    return any("," in text for text in texts) and not any("." in text for text in texts)


def _number(text: str, comma: bool) -> float | None:
    plain = re.sub(r"\s", "", text) if _THOUSANDS.match(text) else text
    plain = plain.replace("\u2212", "-").replace(",", "." if comma else "")
    try:
        number = float(plain)
    except ValueError:
        return None
    return number if math.isfinite(number) else None
