"""What is learnt of all participants together, as values of a design: an SD, a share, a rate; nobody is unblinded.

Gould and Shih, Commun Stat Theory Methods 21 (1992), 2833-2853; Kieser and Friede, Stat Med 22 (2003), 3571-3581;
Friede and Kieser, Biom J 48 (2006), 537-555.
"""

from __future__ import annotations

import math
from typing import Any

from ragwort.designs.design import Blinded, Values
from ragwort.designs.refusals import RequestError, plain_number


def adjusted_sd(sd: float, difference: float, of: int) -> float:
    """The SD within two equal groups from that of all together.

    Raises `RequestError` where the difference explains more than all of the scatter.
    """
    squared = (of - 1) / (of - 2) * (sd**2 - difference**2 / 4 * of / (of - 1)) if of > 2 else 0.0
    if squared <= 0:
        raise RequestError("blinded", "The planned difference would explain all of this scatter: take the SD as it is.")
    return math.sqrt(squared)


def _shares(values: Values) -> tuple[float, float]:
    """What part of all each group is planned to be."""
    ratio = float(values.get("ratio", 1.0))
    return 1 / (1 + ratio), ratio / (1 + ratio)


def _sd(values: Values, seen: float, of: int, adjusted: bool) -> dict[str, Any]:
    apart = values.get("difference")
    apart = values["mean2"] - values["mean1"] if apart is None else apart
    sd = adjusted_sd(seen, float(apart), of) if adjusted else seen
    return {"sd": sd, "sd1": None, "sd2": None}


def _pooled_share(values: Values, seen: float, of: int, adjusted: bool) -> dict[str, Any]:
    """The planned difference about it."""
    first, second = _shares(values)
    apart = float(values["proportion2"]) - float(values["proportion1"])
    found = seen - second * apart, seen + first * apart
    if not all(0 < each < 1 for each in found):
        raise RequestError(
            "blinded", f"With {plain_number(100 * seen)}% of all the planned difference of proportions cannot be."
        )
    return {"proportion1": found[0], "proportion2": found[1]}


def _pooled_hazard(values: Values, seen: float, of: int, adjusted: bool) -> dict[str, Any]:
    """The planned hazard ratio about it."""
    first, second = _shares(values)
    ratio = float(values["hazard_ratio"])
    names = ("median1", "survival1", "time", "median2", "survival2")
    return {**dict.fromkeys(names), "hazard1": seen / (first + second * ratio), "hazard_ratio": ratio}


def _pooled_rate(values: Values, seen: float, of: int, adjusted: bool) -> dict[str, Any]:
    """The planned ratio of rates about it."""
    first, second = _shares(values)
    ratio = float(values["rate2"]) / float(values["rate1"]) if "rate2" in values else float(values["rate_ratio"])
    one = seen / (first + second * ratio)
    return {"rate1": one, **({"rate2": one * ratio} if "rate2" in values else {"rate_ratio": ratio})}


SD_OF_ALL = Blinded("SD of all outcomes together", "measured", _sd, "take the planned difference out of it")
SHARE_OF_ALL = Blinded("share of all together", "share", _pooled_share)
HAZARD_OF_ALL = Blinded("events of all per unit of time watched", "rate", _pooled_hazard)
RATE_OF_ALL = Blinded(
    "events of all per unit of time watched",
    "rate",
    _pooled_rate,
    beside="dispersion",
    beside_label="dispersion of the counts of all together",
)
