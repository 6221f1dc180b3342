"""Which columns a reading most likely means: a start that the user can change."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ragwort.pilot.columns import MOST_GROUPS, YES, Column, Data
from ragwort.pilot.filters import Rows
from ragwort.pilot.readings import Reading, Role

_MANY = 0.7  # of the most different values that a column has
_MOST_TIMES = 8  # measurements that are taken together without being asked for


def guessed(reading: Reading, rows: Rows, made: Mapping[str, Any] | None = None) -> dict[str, Any]:
    """A choice for every role that has one, each column taken once; what is `made` stays where it can."""
    columns = [column for column in rows.data.columns if column.kind != "empty"]
    chosen: dict[str, Any] = {
        role.name: made[role.name] for role in reading.roles if made and role.kind != "value" and role.name in made
    }
    for role in reading.roles:
        if role.optional or role.name in chosen:
            continue
        free = [column for column in columns if column.name not in chosen.values()]
        if role.kind == "value":
            chosen[role.name] = _value(role, rows, chosen, (made or {}).get(role.name, ""))
        elif role.kind == "columns":
            chosen[role.name] = [column.name for column in free if _is_measured(column)][:_MOST_TIMES]
        elif role.kind == "number":
            chosen[role.name] = _number(free)
        elif role.kind == "id":
            chosen[role.name] = _identity(free, rows.data.table.rows)
        else:
            chosen[role.name] = _groups(free, wants_answers=role.name in ("outcome", "other"))
    single = {value for value in chosen.values() if isinstance(value, str)}
    for name, value in chosen.items():
        if isinstance(value, list):  # a column that is something else already is none of several
            chosen[name] = [each for each in value if each not in single]
    return {name: value for name, value in chosen.items() if value}


def group_columns(data: Data) -> list[Column]:
    """The columns that can tell groups apart."""
    return [column for column in data.columns if 1 <= column.different <= MOST_GROUPS]


def likely_groups(data: Data, names: Sequence[str]) -> str:
    """The column whose values are groups of these names; else one with as many values; else the first there is."""
    columns = group_columns(data)
    wanted = {name.casefold() for name in names}

    def unlikely(column: Column) -> tuple[bool, bool]:
        values = {value.casefold() for value in data.codes(column.name)[1]}
        return not wanted <= values, column.different != len(names)

    best = min(columns, key=unlikely, default=None)
    return best.name if best else ""


def matched(names: Sequence[str], values: Iterable[str]) -> list[str]:
    """For each name the value that is the same but for capitals, else the next that is left; empty where none is."""
    by_name = {value.casefold(): value for value in values}
    found = [by_name.get(name.casefold(), "") for name in names]
    left = iter([value for value in by_name.values() if value not in found])
    return [value or next(left, "") for value in found]


def _is_measured(column: Column) -> bool:
    return column.kind == "numbers" and not column.running


def _number(free: list[Column]) -> str:
    """The first of the columns of numbers with many different values; a running number only if nothing else is."""
    numbers = [column for column in free if _is_measured(column)]
    numbers = numbers or [column for column in free if column.kind == "numbers"] or free
    most = max((column.different for column in numbers), default=0)
    return next((column.name for column in numbers if column.different >= _MANY * most), "")


def _groups(free: list[Column], wants_answers: bool) -> str:
    """The fewest groups, two or more where there are; answers of yes or no first for an outcome, last for groups."""
    fit = [column for column in free if column.different <= MOST_GROUPS and not _is_measured(column)]
    fit = fit or [column for column in free if column.different <= MOST_GROUPS]

    def unlikely(column: Column) -> tuple[bool, bool, int]:
        return column.different < 2, (column.kind == "yes or no") != wants_answers, column.different

    best = min(fit, key=unlikely, default=None)
    return best.name if best else ""


def _identity(free: list[Column], rows: int) -> str:
    """The most different values among columns in which some come again."""
    again = [column for column in free if column.different < rows and not (_is_measured(column) and _decimals(column))]
    best = max(again, key=lambda column: (column.kind != "numbers", column.different), default=None)
    return best.name if best else ""


def _decimals(column: Column) -> bool:
    """Whether nearly all values differ, as those of a measured outcome do."""
    return column.different > MOST_GROUPS


def _value(role: Role, rows: Rows, chosen: dict[str, Any], made: str) -> str:
    column = chosen.get(role.of, "")
    names = rows.codes(column)[1] if column else ()
    if made in names and (role.name != "second" or made != chosen.get("first")):
        return made
    if role.name == "yes":
        return next((name for name in names if name.casefold() in YES), names[0] if names else "")
    free = [name for name in names if name != chosen.get("first")]
    return free[0] if free else ""
