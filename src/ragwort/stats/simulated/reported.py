"""What a report says of a group, as outcomes that have just this mean and SD, just these events."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array


@dataclass(frozen=True)
class Reported:
    """What is reported of a group: the names of its numbers, the last of them of how many it is."""

    names: tuple[str, ...]  # mean, sd, events, n
    outcomes: Callable[..., Array]  # of those numbers; `ValueError` where no group has them
    of: str = ""  # what they are of, where that is not the outcome itself


def with_moments(mean: float, sd: float, n: int) -> Array:
    """As many outcomes with this mean and this SD (divisor n - 1), evenly apart. Raises `ValueError`."""
    if n < 2:
        raise ValueError("A mean with its SD needs at least two.")
    apart = np.arange(n, dtype=np.float64) - (n - 1) / 2
    return np.asarray(mean + apart * (sd / np.std(apart, ddof=1)))


def with_yes(yes: int, n: int) -> Array:
    """So many ones, the rest zeros. Raises `ValueError` for more events than people."""
    if yes > n:
        raise ValueError(f"{yes} with the outcome cannot be among {n}.")
    return np.concatenate((np.ones(yes), np.zeros(n - yes)))


def with_events(events: int, n: int) -> Array:
    """Counts of as many people that add up to so many events. Raises `ValueError` for nobody."""
    if n < 1:
        raise ValueError("There must be somebody.")
    return np.full(n, events / n)


MOMENTS = Reported(("mean", "sd", "n"), with_moments)
DIFFERENCES = Reported(MOMENTS.names, with_moments, of="differences")
YES = Reported(("yes", "n"), with_yes)
EVENTS = Reported(("events", "n"), with_events)
