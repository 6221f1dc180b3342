"""What people state of a design in other quantities than its own: taken as it is stated, and said in its own.

A design lists its `Statement`s; requests and table files take them, and it is said what was made of them.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ragwort.base.lazily import np
from ragwort.designs.assumption import Assumption
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.stats.effects import pooled_sd, sd_of_differences
from ragwort.stats.noncentral import Number

Values = Mapping[str, Any]


@dataclass(frozen=True)
class Statement:
    """A quantity that stands for values of the design, once those that it `needs` are known."""

    assumption: Assumption
    gives: tuple[str, ...]  # the design's own quantities that follow
    values: Callable[[Number, Values], Mapping[str, Any]]
    needs: tuple[str, ...] = ()

    @property
    def name(self) -> str:
        """As requests and headings call it."""
        return self.assumption.name


def restated(statements: Sequence[Statement], given: Values) -> tuple[dict[str, Any], list[str]]:
    """The values that the design knows, and notes on what was made of those that it does not. Raises `RequestError`."""
    values = dict(given)
    notes = []
    for statement in statements:
        if statement.name in values:
            stated = statement.assumption.check(values.pop(statement.name))
            made = _made(statement, stated, values)
            notes.append(f"{statement.name} {plain_number(stated)} is taken as {_said(made)}.")
            values |= made
    return values, notes


def _made(statement: Statement, stated: float, values: dict[str, Any]) -> dict[str, Any]:
    missing = [name for name in statement.needs if not _is_number(values.get(name))]
    if missing:
        raise RequestError(missing[0], f"{statement.name} is given without {missing[0]}, from which it counts.")
    twice = [name for name in statement.gives if name in values and name not in statement.needs]
    if twice:
        raise RequestError(statement.name, f"{statement.name} and {twice[0]} say the same twice: give one of them.")
    return dict(statement.values(stated, values))


def _said(made: Values) -> str:
    return " and ".join(f"{name} {plain_number(value)}" for name, value in made.items())


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


# --- those that several designs take ---

_D = Assumption(
    "d",
    "Effect size d",
    "number",
    "Effect",
    "The difference in standard deviations.",
    symbol="d",
)
_ODDS_RATIO = Assumption(
    "odds_ratio",
    "Odds ratio",
    "number",
    "Effect",
    "The odds of the event in group 2 for those in group 1.",
    symbol="OR",
    low=0,
    open_low=True,
)
_RISK_RATIO = Assumption(
    "risk_ratio",
    "Risk ratio",
    "number",
    "Effect",
    "The proportion with the event in group 2 for that in group 1.",
    symbol="RR",
    low=0,
    open_low=True,
)
_PER_GROUP = Assumption(
    "n_per_group", "Per group", "count", "Sample", "Participants analysed in each group.", symbol="n", low=1, high=10**7
)


def in_sds(sd: str, spread: Callable[[Values], Number | None]) -> Statement:
    """A difference in SDs, whose `spread` the other values tell.

    Where they do not, one SD is the unit: Cohen (1988), section 2.2.
    """

    def values(d: Number, known: Values) -> Mapping[str, Any]:
        scatter = spread(known)
        return {"difference": d, sd: 1.0 + 0 * d} if scatter is None else {"difference": d * scatter}

    return Statement(_D, ("difference",), values)


def pooled_spread(known: Values) -> Number | None:
    """Of two groups, in one SD or in two."""
    both = known.get("sd1"), known.get("sd2")
    return known.get("sd") if None in both else pooled_sd(*both)


def spread_of_differences(known: Values) -> Number | None:
    """Of pairs, from the SD of their differences or from what makes it."""
    names = ("sd1", "sd2", "correlation")
    made = sd_of_differences(*(known[name] for name in names)) if known.keys() >= set(names) else None
    return known.get("sd_difference", made)


def _from_odds_ratio(ratio: Number, known: Values) -> Mapping[str, Any]:
    odds = ratio * known["proportion1"]
    return {"proportion2": odds / (1 - known["proportion1"] + odds)}


def _from_risk_ratio(ratio: Number, known: Values) -> Mapping[str, Any]:
    second = ratio * known["proportion1"]
    if np.ndim(second) == 0 and not 0 < second < 1:
        most = plain_number(1 / known["proportion1"])
        raise RequestError("risk_ratio", f"risk_ratio must be below {most} with this proportion1.")
    return {"proportion2": second}


# Schlesselman, Case-Control Studies (Oxford, 1982), chapter 6.
RATIOS_OF_SHARES = (
    Statement(_ODDS_RATIO, ("proportion2",), _from_odds_ratio, ("proportion1",)),
    Statement(_RISK_RATIO, ("proportion2",), _from_risk_ratio, ("proportion1",)),
)
PER_GROUP = Statement(_PER_GROUP, ("n1", "n2"), lambda size, _: {"n1": size, "n2": size})
