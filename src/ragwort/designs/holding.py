"""Effects that two numbers state together: while one of them moves, another expression of the effect can be held."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Held:
    """One expression of an effect: how it is worked out of both numbers, and what the second one is while it stays."""

    name: str  # in study files
    label: str  # in running text
    moved: str  # the number of the reference
    follows: str  # the one that goes with it
    of: Callable[[float, float], float]
    back: Callable[[float, float], float]  # of the reference as it is now, and what is held

    def fits(self, values: Mapping[str, Any]) -> bool:
        """Whether the effect is stated by both numbers."""
        return self.moved in values and self.follows in values

    def moved_to(self, values: Mapping[str, Any], end: float) -> dict[str, float]:
        """Both numbers with the reference at `end`."""
        held = self.of(values[self.moved], values[self.follows])
        return {self.moved: end, self.follows: self.back(end, held)}


def difference_held(moved: str, follows: str) -> Held:
    """The second less the first."""
    return Held(
        "difference", "difference", moved, follows, lambda one, other: other - one, lambda one, held: one + held
    )


def ratio_held(name: str, label: str, moved: str, follows: str) -> Held:
    """The second over the first."""
    return Held(name, label, moved, follows, lambda one, other: other / one, lambda one, held: one * held)


def _odds(share: float) -> float:
    return share / (1 - share)


def _with_odds(share: float, ratio: float) -> float:
    odds = _odds(share) * ratio
    return odds / (1 + odds)


SHARES = (
    difference_held("proportion1", "proportion2"),
    ratio_held("risk_ratio", "risk ratio", "proportion1", "proportion2"),
    Held(
        "odds_ratio",
        "odds ratio",
        "proportion1",
        "proportion2",
        lambda one, other: _odds(other) / _odds(one),
        _with_odds,
    ),
)
RATES = (
    ratio_held("rate_ratio", "rate ratio", "rate1", "rate2"),
    difference_held("rate1", "rate2"),
)
MEANS = (difference_held("mean1", "mean2"),)
