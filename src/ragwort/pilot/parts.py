"""One group of a file, summarised."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ragwort.pilot.table import PilotError
from ragwort.stats.estimates import mean_and_sd, quantiles
from ragwort.stats.noncentral import Array

SHOWN = 300  # values that are kept one by one for a picture; more become bars
BARS = 40


@dataclass(frozen=True)
class Measured:
    """Numbers: how many, their mean and SD, and how they lie."""

    name: str
    n: int
    missing: int
    mean: float
    sd: float
    five: tuple[float, ...]  # smallest, quartiles, largest
    values: tuple[float, ...] = ()  # each of them, where they are few
    bars: tuple[int, ...] = ()  # how many in each of equal steps from the smallest to the largest, where they are many
    apart: bool = False  # on a scale of its own


@dataclass(frozen=True)
class Sorted:
    """Categories: how many of each."""

    name: str
    n: int
    missing: int
    counts: tuple[tuple[str, int], ...]


Part = Measured | Sorted


def measured(name: str, found: Array, column: str, apart: bool = False) -> Measured:
    """Numbers with NaN where missing. Raises `PilotError` where there are too few, or they do not vary."""
    where = f" in “{name[:40]}”" if name != column else ""
    values = found[~np.isnan(found)]
    missing = len(found) - len(values)
    if not len(values):
        raise PilotError(f"{column} is missing in every row{where}.")
    if len(values) < 2:
        raise PilotError(f"There is only one value of {column}{where}: without two there is no SD.")
    mean, sd = mean_and_sd(values)
    if not sd > 0:
        raise PilotError(f"{column} is {mean:g} in every row{where}: without variability there is no effect size.")
    few = len(values) <= SHOWN
    bars = () if few else tuple(int(each) for each in np.histogram(values, BARS)[0])
    shown = tuple(float(each) for each in values) if few else ()
    return Measured(name, len(values), missing, mean, sd, quantiles(values), shown, bars, apart)
