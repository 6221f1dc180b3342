"""Routes to what an interval is planned on: a spread, or the proportions themselves; nothing is compared."""

from __future__ import annotations

from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.route import THUMB, Finding, Inputs, Route, chosen, count, measured, share, spread
from ragwort.designs.evidence.scatter import ONE_SCATTER
from ragwort.designs.evidence.shares import TWO_SHARES, share_of
from ragwort.designs.refusals import RequestError
from ragwort.stats.effects import pooled_sd, wilson_interval

_RANGE = 4.0  # SDs between the least and the most that people name: a rule of thumb
_NEAR = {"half": 0.5, "third": 0.3, "tenth": 0.1}


def _range(x: Inputs) -> Finding:
    if x["upper"] <= x["lower"]:
        raise RequestError("upper", "The most must be above the least.")
    sd = rounded((x["upper"] - x["lower"]) / _RANGE)
    return Finding({"sd": sd}, f"SD {sd:g}", remark=f"A quarter of the range. {THUMB}")


def _pooled(x: Inputs) -> Finding:
    sd = rounded(float(pooled_sd(x["sd1"], x["sd2"])))
    return Finding({"sd": sd}, f"SD {sd:g}")


def _one_published(x: Inputs) -> Finding:
    p = rounded(x["proportion"])
    return Finding({"proportion": p}, f"{100 * p:g}%")


def _one_counted(x: Inputs) -> Finding:
    p = rounded(share_of(x, "yes", "n"))
    low, high = wilson_interval(x["yes"], x["n"], 0.95)
    return Finding(
        {"proportion": p}, f"{100 * p:.3g}%", f"95% interval of the proportion: {100 * low:.1f} to {100 * high:.1f}%"
    )


def _near(x: Inputs) -> Finding:
    p = _NEAR[x["near"]]
    remark = f"An interval is widest near 50%; where the proportion is far from it, 50% wastes people. {THUMB}"
    return Finding({"proportion": p}, f"{100 * p:g}%", remark=remark)


SPREAD_OF_ONE = (
    *ONE_SCATTER,
    Route(
        "range",
        "rule of thumb: a quarter of the range",
        (measured("lower", "Least"), measured("upper", "Most")),
        _range,
        last_resort=True,
    ),
)
SPREAD_OF_TWO = (
    ONE_SCATTER[0],
    Route(
        "two",
        "published SDs of two groups",
        (spread("sd1", "SD of group 1", "SD, {group1}"), spread("sd2", "SD of group 2", "SD, {group2}")),
        _pooled,
    ),
    *SPREAD_OF_ONE[1:],
)
SHARE_ALONE = (
    Route("published", "published proportion", (share("proportion", "Proportion"),), _one_published),
    Route(
        "counts",
        "counts of one group",
        (count("yes", "Events", low=0), count("n", "People", low=1)),
        _one_counted,
    ),
    Route(
        "near",
        "rule of thumb",
        (chosen("near", "It is likely", half="near 50%", third="near 30% or 70%", tenth="near 10% or 90%"),),
        _near,
        last_resort=True,
    ),
)
SHARES_ALONE = tuple(route for route in TWO_SHARES if route.name not in ("worthwhile", "convention"))
