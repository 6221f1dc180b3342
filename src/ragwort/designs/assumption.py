"""One quantity of a design: what it is called, what it may be, and how it is explained."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal

from ragwort.base.wording import one_of
from ragwort.designs.refusals import RequestError, plain_number, said

# How a value is written: in the outcome's unit, as a per cent, as a plain decimal, as a count of people, as the
# second group for each one of the first, as a bare number, as one of a few words, as yes or no (whose two `choices`
# say what no and yes mean), as several numbers, as rows of equally many numbers, or as a list of named values.
Kind = Literal["measured", "share", "rate", "count", "ratio", "number", "choice", "switch", "list", "table", "records"]
Group = Literal["Effect", "Error rates", "Sample", "Structure", "Looks"]


@dataclass(frozen=True)
class Choice:
    """One allowed word of an assumption of kind `choice`."""

    value: str
    label: str  # as the ledger shows it
    words: str = ""  # as the sentence says it; the label where empty


EMPTY_CELL = "?"  # of a list, a table or records in one line: a place where nothing was typed


@dataclass(frozen=True)
class Field:
    """One named value of each entry of an assumption of kind `records`."""

    name: str
    label: str
    kind: Kind = "number"  # `number`, `share`, or `list` of whole numbers


@dataclass(frozen=True)
class Assumption:
    """A quantity that a design needs, or works with when it is given."""

    name: str  # in requests and study files
    label: str  # in the ledger
    kind: Kind
    group: Group
    help: str  # plain words: what it is, where people get it, what happens when it is wrong
    words: str = ""  # the label in the study's own words: {group1}, {group2}, {many}
    symbol: str = ""
    low: float = -math.inf
    high: float = math.inf
    open_low: bool = False
    open_high: bool = False
    default: Any = None
    choices: tuple[Choice, ...] = ()
    fields: tuple[Field, ...] = ()  # of kind `records`
    whole: bool = False  # the numbers of a list are whole
    shortest: int = 1  # of a list or of a table's rows and columns
    longest: int = 1000
    row_names: str = ""  # of several numbers: the kind of names (see `Naming`) that the rows have
    column_names: str = ""  # of a table: that the columns have
    numbers_of: str = ""  # of a list: the kind of names whose numbers it holds
    each_measured: bool = False  # the numbers of a list are in the outcome's unit
    joint: str = ", "  # between the numbers of a list as they are shown
    usual: str = ""  # usual values and their source
    required: bool = False  # has no default and is not one of several ways to state something
    in_ledger: bool = True
    in_table: bool = False  # the ledger has a table for it, with others
    adds_to_one: bool = False  # shares of a whole: of a list, a table, or the entries' `share`
    adds_to_zero: bool = False  # the numbers of a list: what compares, and says nothing of the level
    timed: Literal["", "time", "per"] = ""  # in the study's unit of time; so many per unit
    named: bool = False  # a count that can be given as named terms, which are counted
    justified: bool = False  # a committee asks why it is this one, beside where it comes from
    decided: bool = False  # by whoever plans the study, like its duration: nobody asks where it comes from

    @property
    def chosen(self) -> bool:
        """Whether the value is picked from `choices`, not typed."""
        return self.kind in ("choice", "switch")

    @property
    def sourced(self) -> bool:
        """Whether a committee asks where the value comes from."""
        return not (self.chosen or self.decided or self.kind == "count")

    @property
    def several(self) -> bool:
        """Whether the value is more than one number."""
        return self.kind in ("list", "table", "records")

    def choice_for(self, value: Any) -> Choice:
        """The choice that stands for a value. Raises `KeyError`."""
        word = ("yes" if value else "no") if self.kind == "switch" else value
        return {choice.value: choice for choice in self.choices}[word]

    def value_of(self, choice: Choice) -> Any:
        """The value that a choice stands for."""
        return choice.value == "yes" if self.kind == "switch" else choice.value

    def check(self, value: Any) -> Any:
        """The value, in bounds and of the right type. Raises `RequestError` that says what is allowed."""
        if self.kind == "choice":
            return self._check_choice(value)
        if self.kind == "switch":
            if not isinstance(value, bool):
                raise RequestError(self.name, f"{self.label} must be true or false, not {said(value)}.")
            return value
        if self.several:
            return self._check_several(value)
        return self._check_number(value)

    def allows(self, value: Any) -> bool:
        """Whether `check` has nothing against a value."""
        try:
            self.check(value)
        except RequestError:
            return False
        return True

    def _check_number(self, value: Any) -> float | int:
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise RequestError(self.name, f"{self.label} must be a number, not {said(value)}.")
        try:
            number = float(value)
        except OverflowError:
            number = math.inf
        if not math.isfinite(number):
            raise RequestError(self.name, f"{self.label} is too large to compute with.")
        if not self._in_bounds(number):
            raise RequestError(self.name, f"{self.label} must be {self.allowed()}, not {plain_number(number)}.")
        if self.kind == "count" or self.whole:
            if not number.is_integer():
                raise RequestError(self.name, f"{self.label} must be a whole number, not {plain_number(number)}.")
            return int(number)
        return number

    def _check_several(self, value: Any) -> list[Any]:
        if not isinstance(value, list | tuple):
            raise RequestError(self.name, f"{self.label} must be a list, not {said(value)}.")
        if not self.shortest <= len(value) <= self.longest:
            raise RequestError(
                self.name, f"{self.label} must have {self.shortest} to {self.longest} entries, not {len(value)}."
            )
        if self.kind == "records":
            return list(value)
        if self.kind == "list":
            return [self._check_number(each) for each in value]
        rows = [self._check_row(row) for row in value]
        if len({len(row) for row in rows}) > 1:
            raise RequestError(
                self.name,
                f"The rows of {self.label.lower()} must be equally long, but have "
                f"{', '.join(str(len(row)) for row in rows)} numbers.",
            )
        return rows

    def _check_row(self, row: Any) -> list[float | int]:
        if not isinstance(row, list | tuple) or len(row) < self.shortest:
            raise RequestError(self.name, f"Each row of {self.label.lower()} must be {self.shortest} or more numbers.")
        return [self._check_number(each) for each in row]

    def allowed(self) -> str:
        """The bounds in words, to follow "must be"."""
        if self.kind == "switch":
            return "true or false"
        if self.kind == "choice":
            return one_of([choice.value for choice in self.choices])
        if self.kind == "records":
            return "a list of named values"
        whole = "a whole number " if self.kind == "count" or self.whole else ""
        low = plain_number(self.low)
        high = plain_number(self.high)
        if math.isinf(self.low) and math.isinf(self.high):
            return "any number"
        if math.isinf(self.high):
            return f"{whole}above {low}" if self.open_low else f"{whole}{low} or more".strip()
        if math.isinf(self.low):
            return f"{whole}below {high}" if self.open_high else f"{whole}{high} or less"
        if self.open_low and self.open_high:
            return f"{whole}above {low} and below {high}"
        if self.open_high:
            return f"{whole}at least {low} and below {high}"
        return f"{whole}above {low} and at most {high}" if self.open_low else f"{whole}from {low} to {high}"

    def _in_bounds(self, number: float) -> bool:
        above = number > self.low if self.open_low else number >= self.low
        below = number < self.high if self.open_high else number <= self.high
        return above and below

    def _check_choice(self, value: Any) -> str:
        for choice in self.choices:
            if value == choice.value and isinstance(value, str):
                return choice.value
        raise RequestError(self.name, f"{self.label} must be {self.allowed()}, not {said(value)}.")


def rounded(value: float) -> float:
    """A worked-out value as a person would have typed it: four significant digits."""
    return float(f"{value:.4g}")


ALPHA = Assumption(
    "alpha",
    "Alpha",
    "rate",
    "Error rates",
    "How often the test may find a difference when there is none. It covers both tails together when the test "
    "is two-sided. Decide it before the data; a larger alpha needs fewer participants and misleads more often.",
    symbol="α",
    low=0,
    high=1,
    open_low=True,
    open_high=True,
    default=0.05,
    usual="0.05 two-sided or 0.025 one-sided (ICH E9, 1998, section 5.5)",
)
POWER = Assumption(
    "power",
    "Power",
    "share",
    "Error rates",
    "The chance that the study finds the effect if it is as large as stated. At 80% one study in five misses it. "
    "The power at the sizes found is a little above the target, because people come whole.",
    symbol="1 − β",
    low=0,
    high=1,
    open_low=True,
    open_high=True,
    default=0.8,
    usual="80% or 90% (ICH E9, 1998, section 3.5)",
)
SIDES = Assumption(
    "sides",
    "Sides",
    "choice",
    "Error rates",
    "Two-sided looks for a difference in either direction. One-sided can only ever find the direction named here; "
    "whatever happens in the other direction will not count, so it must be justified before the data.",
    default="two",
    choices=(
        Choice("two", "two-sided", "two-sided"),
        Choice("greater", "one-sided, upwards", "one-sided"),
        Choice("less", "one-sided, downwards", "one-sided"),
    ),
)
DROPOUT = Assumption(
    "dropout",
    "Dropout",
    "share",
    "Sample",
    "The share of those recruited whose outcome will not be analysed: withdrawn, lost, unusable. It changes how "
    "many to recruit, never how many are analysed.",
    low=0,
    high=1,
    open_high=True,
    default=0.0,
)
DIRECTION = Assumption(
    "direction",
    "Direction of the effect",
    "choice",
    "Effect",
    "Which way the smallest detectable effect is to be looked for when the test is two-sided.",
    default="up",
    choices=(Choice("up", "upwards"), Choice("down", "downwards")),
    in_ledger=False,
)
TOTAL = Assumption(
    "n",
    "Total participants",
    "count",
    "Sample",
    "The number of participants analysed, all groups together. Dropout is added on top.",
    words="total {many}",
    symbol="N",
    low=1,
    high=10_000_000,
)


def method(help: str, *choices: Choice) -> Assumption:
    """Which test, or which way to its power; the first is the usual one."""
    return Assumption("method", "Method", "choice", "Error rates", help, default=choices[0].value, choices=choices)
