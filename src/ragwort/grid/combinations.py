"""What a grid asks: the combinations of the values that some assumptions take, the rest as the aim has them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ragwort.designs import Answer, Design, design_named
from ragwort.designs.assumption import Assumption
from ragwort.figures.scales.quantity import Quantity
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Varied
from ragwort.study.results.outcome import Outcome, finds_of, request_of
from ragwort.study.results.whatif import NUMERIC, values_for
from ragwort.study.words.lists import several
from ragwort.study.words.numbers import NumberError, count_text

MOST_ROWS = 1_000_000
MOST_VARIED = 4
Columns = Mapping[str, NDArray[np.float64]]


class GridError(ValueError):
    """Why there is no grid; the message says what could be asked."""


@dataclass(frozen=True)
class Template:
    """What some rows share that name a design of their own."""

    aim: Aim  # of that design
    values: Mapping[str, Any]
    names: tuple[str, ...]  # the columns that they use


@dataclass(frozen=True)
class Asked:
    """Rows of values for one aim. A row with a fault is not asked; it says why."""

    aim: Aim
    find: str
    values: Mapping[str, Any]  # what is the same in all rows
    columns: Columns  # by assumption, a value for each row
    faults: Mapping[int, str] = field(default_factory=dict)
    called: str = "combination"  # what a row is
    templates: tuple[Template, ...] = ()  # where rows name their designs
    which: NDArray[np.int64] | None = None  # then by row the place of its template; -1 where it has none

    @property
    def design(self) -> Design:
        """The aim's."""
        return design_named(self.aim.design)

    @property
    def count(self) -> int:
        """How many rows there are."""
        return len(next(iter(self.columns.values()), np.zeros(1)))

    def row(self, at: int) -> dict[str, Any]:
        """The values of a row that others may not have."""
        names = self.columns if self.which is None else self.templates[int(self.which[at])].names
        return {name: decoded(self.assumption(name), self.columns[name][at]) for name in names}

    def assumption(self, name: str) -> Assumption:
        """What a column holds: as the aim's own design has it, else the first that does."""
        return design_named(self.holder(name).design).assumption(name)

    def holder(self, name: str) -> Aim:
        """The aim whose design has an assumption: the own one, else the first of the others."""
        aims = [self.aim, *(template.aim for template in self.templates)]
        return next(aim for aim in aims if name in {each.name for each in design_named(aim.design).assumptions})

    def is_of_aim(self, at: int) -> bool:
        """Whether a row is of the aim's own design."""
        return self.which is None or (
            self.which[at] >= 0 and self.templates[int(self.which[at])].aim.design == self.aim.design
        )

    @property
    def chosen(self) -> tuple[str, ...]:
        """The columns of choices: they hold the places of these in their assumption's list."""
        return tuple(name for name in self.columns if self.assumption(name).chosen)

    def words(self, name: str, number: float) -> str:
        """A value of a column in words."""
        assumption = self.assumption(name)
        if assumption.chosen:
            return assumption.choices[int(number)].label
        return Quantity(assumption, self.aim).text(number)

    @cached_property
    def different(self) -> Mapping[str, int]:
        """How many values each column has, those that could not be read apart."""
        return {name: len(np.unique(column[np.isfinite(column)])) for name, column in self.columns.items()}

    @cached_property
    def key(self) -> object:
        """What the results depend on."""
        columns = tuple((name, column.tobytes()) for name, column in self.columns.items())
        designs = tuple((each.aim.design, repr(sorted(each.values.items()))) for each in self.templates)
        which = None if self.which is None else self.which.tobytes()
        return self.aim.design, self.find, repr(sorted(self.values.items())), columns, designs, which

    def own(self) -> int | None:
        """The row in which everything is as the aim has it; None where there is none, or rows name their designs."""
        if self.which is not None:
            return None
        same = [np.isclose(column, self._now(name), rtol=1e-12, atol=0) for name, column in self.columns.items()]
        rows = np.flatnonzero(np.all(same, axis=0))
        return int(rows[0]) if rows.size else None

    def _now(self, name: str) -> float:
        """What the aim has in a column; NaN where it has no value."""
        assumption = self.design.assumption(name)
        value = {**self.design.implied(self.values), **self.values}.get(name, assumption.default)
        if value is None and assumption.chosen:
            value = self.design.default_choice(name, dict(self.values))
        return math.nan if value is None else encoded(assumption, value)


def encoded(assumption: Assumption, value: Any) -> float:
    """A value as columns hold it: of a choice its place in the list."""
    if not assumption.chosen:
        return float(value)
    return float([assumption.value_of(choice) for choice in assumption.choices].index(value))


def decoded(assumption: Assumption, number: float) -> Any:
    """What a number of a column stands for."""
    return assumption.value_of(assumption.choices[int(number)]) if assumption.chosen else float(number)


def can_vary(assumption: Assumption) -> bool:
    """Whether an assumption can take several values: one number, or one of a few words."""
    return assumption.kind in NUMERIC or (assumption.chosen and assumption.in_ledger)


def varied_of(aim: Aim) -> tuple[Varied, ...]:
    """What the aim's grid varies, as far as its design has it."""
    known = {each.name for each in design_named(aim.design).assumptions if can_vary(each)}
    return tuple({each.name: each for each in aim.grid.varied if each.name in known}.values())


def unknown_of(aim: Aim) -> str:
    """What the aim's grid finds."""
    return aim.grid.find if aim.grid.find in finds_of(aim) else aim.find


def offered(aim: Aim, outcome: Outcome) -> list[Assumption]:
    """The assumptions that can take several values and have a say."""
    design, find = design_named(aim.design), unknown_of(aim)
    values = base_of(aim, outcome, find)
    unused = design.unused_names(find) | design.idle_for(values, find)
    return [
        each
        for each in design.assumptions
        if can_vary(each)
        and each.name not in unused
        and (each.chosen or each.name in values or each.default is not None)
    ]


def base_of(aim: Aim, outcome: Outcome, find: str) -> dict[str, Any]:
    """The values under which a grid of this aim asks, those that it varies among them."""
    if isinstance(outcome, Answer):
        return values_for(aim, outcome, find)
    unused = design_named(aim.design).unused_names(find)
    values = request_of(design_named(aim.design), aim)["assumptions"]
    return {name: value for name, value in values.items() if name not in unused}


def asked_of(aim: Aim, outcome: Outcome) -> Asked:
    """The combinations that the aim's grid asks for, the first assumption changing slowest. Raises `GridError`."""
    known = {each.name: each for each in offered(aim, outcome)}
    find = unknown_of(aim)
    taken: dict[str, tuple[float, ...]] = {}
    for varied in varied_of(aim):
        if varied.drafts:
            raise GridError(varied.first_fault)
        if varied.name in known:  # else it has no say in what is found now
            taken[varied.name] = _read(known[varied.name], varied.text, aim.words.unit)
    if not taken:
        raise GridError("Nothing is varied yet: choose an assumption, and type the values that it may take.")
    return Asked(aim, find, base_of(aim, outcome, find), product_of(taken))


def product_of(taken: Mapping[str, tuple[float, ...]]) -> Columns:
    """Every combination of some values. Raises `GridError` where they are too many."""
    if len(taken) > MOST_VARIED:
        raise GridError(f"A grid varies at most {MOST_VARIED} assumptions; these are {len(taken)}.")
    count = math.prod(len(values) for values in taken.values())
    if count > MOST_ROWS:
        raise GridError(f"These are {count_text(count)} combinations: a grid has {count_text(MOST_ROWS)} at most.")
    meshes = np.meshgrid(*(np.array(values, dtype=float) for values in taken.values()), indexing="ij")
    return {name: mesh.ravel() for name, mesh in zip(taken, meshes, strict=True)}


def _read(assumption: Assumption, text: str, unit: str) -> tuple[float, ...]:
    try:
        return several(assumption, text, unit)
    except NumberError as error:
        raise GridError(str(error)) from error
