"""What a reading is, how it becomes known, and columns as readings need them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ragwort.pilot.columns import MOST_GROUPS, Codes
from ragwort.pilot.filters import Kept, Rows
from ragwort.pilot.parts import Part
from ragwort.pilot.table import PilotError
from ragwort.stats.noncentral import Array

RoleKind = Literal["number", "groups", "id", "value", "columns"]
Choices = Mapping[str, Any]  # by role: the name of a column, a value, or names of columns


@dataclass(frozen=True)
class Role:
    """What a column, or a value of one, is in a reading."""

    name: str
    label: str
    kind: RoleKind
    of: str = ""  # of a value: the role whose column has it
    optional: bool = False


@dataclass(frozen=True)
class Numbers:
    """What a reading found."""

    inputs: dict[str, Any]  # by the name of a route's input
    parts: tuple[Part, ...]
    said: str  # what was read, in words: `reaction time by room`
    left_out: int = 0  # rows, pairs or people without what the reading needs
    why: str = "missing"


@dataclass(frozen=True)
class Reading:
    """One way to read a file."""

    name: str
    label: str  # of the file's layout
    roles: tuple[Role, ...]
    work: Callable[[Rows, Choices], Numbers]

    def read(self, rows: Rows, choices: Choices) -> Numbers:
        """The numbers. Raises `PilotError`, also where a column is asked for and not chosen."""
        for role in self.roles:
            if role.kind != "value" and not role.optional and not choices.get(role.name):
                raise PilotError(f"Choose the column for “{role.label}”.")
        values = {role.name: "" for role in self.roles if role.kind == "value"}
        return self.work(rows, {**values, **choices})


READINGS: dict[str, Reading] = {}


def reading(name: str, label: str, *roles: Role) -> Callable[[Callable[[Rows, Choices], Numbers]], None]:
    def known(work: Callable[[Rows, Choices], Numbers]) -> None:
        READINGS[name] = Reading(name, label, roles, work)

    return known


def count_groups(rows: Rows, column: str) -> dict[str, int]:
    """How many rows each group has. Raises `PilotError` where there are too many groups."""
    codes, names = groups_in(rows, column)
    return {name: int(np.sum(codes == at)) for at, name in enumerate(names)}


OUTCOME = Role("outcome", "Outcome", "number")
GROUP = Role("group", "Groups in", "groups")
FIRST = Role("first", "Group 1", "value", of="group")
SECOND = Role("second", "Group 2", "value", of="group")
ARMS = Role("group", "Arms in", "groups", optional=True)


def groups_in(rows: Rows, column: str) -> tuple[Codes, tuple[str, ...]]:
    codes, names = rows.codes(column)
    if len(names) > MOST_GROUPS:
        raise PilotError(f"{column} has {len(names)} different values, too many for groups: choose another column.")
    if not names:
        raise PilotError(f"{column} is missing in every row.")
    return codes, names


def two_groups_of(rows: Rows, c: Choices) -> tuple[tuple[Kept, str], tuple[Kept, str]]:
    """The rows of both groups, with their names."""
    codes, names = groups_in(rows, c["group"])
    if len(names) < 2:
        raise PilotError(f"{c['group']} has only one group here (“{names[0][:40]}”): choose a column with two or more.")
    if c["first"] == c["second"]:
        raise PilotError(f"Group 1 and group 2 are both “{str(c['first'])[:40]}”: choose two different ones.")
    one, two = (np.asarray(codes == place_of(names, c[role], c["group"])) for role in ("first", "second"))
    return (one, c["first"]), (two, c["second"])


def place_of(names: Sequence[str], value: str, column: str) -> int:
    if not value:
        raise PilotError(f"Choose which values of {column} are meant.")
    if value not in names:
        raise PilotError(f"No row that is kept has “{str(value)[:40]}” in {column}.")
    return list(names).index(value)


def where_whole(*columns: Array) -> Kept:
    """Where no column is missing."""
    return np.asarray(~np.isnan(np.column_stack(columns)).any(axis=1))
