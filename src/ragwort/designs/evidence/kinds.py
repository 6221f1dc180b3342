"""The strata of clusters from how many clusters there are of each kind, as a list of wards or schools says them."""

from __future__ import annotations

import math

from ragwort.base.wording import listed
from ragwort.designs.assumption import Field
from ragwort.designs.evidence.route import Finding, Inputs, Route, number
from ragwort.designs.refusals import RequestError

KINDS_OF_CLUSTERS = "kinds"
_DIGITS = 6  # of a share: so close that even thousands of clusters come out as typed


def _shares(people: list[float]) -> list[float]:
    """Of the whole, rounded; the largest takes what rounding leaves, so that they add up to 1."""
    shares = [round(each / math.fsum(people), _DIGITS) for each in people]
    largest = shares.index(max(shares))
    shares[largest] = round(1 - math.fsum(shares[:largest] + shares[largest + 1 :]), _DIGITS)
    return shares


def _strata(x: Inputs) -> Finding:
    kinds = x[KINDS_OF_CLUSTERS]
    people = [each["clusters"] * each["mean_size"] for each in kinds]
    if min(people) <= 0:
        at = next(at for at, each in enumerate(people, start=1) if each <= 0)
        raise RequestError(KINDS_OF_CLUSTERS, f"Row {at} must have at least one cluster, of more than 0 people.")
    strata = [
        {"share": share, "mean_size": each["mean_size"], "sd_size": each["sd_size"]}
        for share, each in zip(_shares(people), kinds, strict=True)
    ]
    said = listed([f"{100 * stratum['share']:.3g}%" for stratum in strata])
    return Finding({"strata": strata}, f"{said} of the participants")


OF_KINDS = Route(
    KINDS_OF_CLUSTERS,
    "clusters of each kind",
    (
        number(
            KINDS_OF_CLUSTERS,
            "How many, and of what size",
            "records",
            fields=(Field("clusters", "clusters"), Field("mean_size", "mean size"), Field("sd_size", "SD of sizes")),
            longest=50,
        ),
    ),
    _strata,
)
