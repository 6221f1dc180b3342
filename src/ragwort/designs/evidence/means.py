"""Routes to a difference in the outcome's unit and its SD: two groups, one group, pairs, clusters."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

from ragwort.base.lazily import np, special
from ragwort.designs.agreement import scatter_within_pairs
from ragwort.designs.assumption import Assumption, rounded
from ragwort.designs.evidence.kinds import OF_KINDS
from ragwort.designs.evidence.route import (
    NO_SIDE,
    P_VALUE,
    SIZE,
    THUMB,
    WORTH,
    Finding,
    Inputs,
    Route,
    chosen,
    converted,
    count,
    interval_words,
    limits,
    measured,
    nearer,
    number,
    spread,
    t_of_p,
    two_digits,
    values_of,
)
from ragwort.designs.refusals import RequestError
from ragwort.stats.effects import pooled_sd
from ragwort.stats.estimates import mean_and_sd


def _difference(d: float, sd: float, sd_name: str, sizes: Mapping[str, int], exact: float | None = None) -> Finding:
    """A difference of d SDs, with its interval where the sizes of the data are known."""
    values = {"difference": rounded(d * sd if exact is None else exact), sd_name: rounded(sd)}
    effect = f"d = {two_digits(d)}"
    if not sizes:
        return Finding(values, effect)
    low, high = limits("d_interval", d=d, **sizes)
    near = nearer(low, high)
    lower = {"difference": rounded(near * sd), sd_name: rounded(sd)} if near else {}
    return Finding(values, effect, interval_words("d", low, high), lower)


def _mean_sd_n(values: list[float], name: str) -> tuple[float, float, int]:
    mean, sd = mean_and_sd(np.array(values))
    if sd == 0:
        raise RequestError(name, f"All values are {mean:g}: without variability there is no effect size.")
    return mean, sd, len(values)


def _two_means(x: Inputs) -> Finding:
    sizes = {name: x[name] for name in ("n1", "n2") if name in x}
    if len(sizes) == 1:
        raise RequestError("n2" if "n1" in sizes else "n1", "Give both numbers of people, or neither.")
    sd = float(pooled_sd(x["sd1"], x["sd2"], sizes.get("n1"), sizes.get("n2")))
    gap = x["mean2"] - x["mean1"]
    return _difference(gap / sd, sd, "sd", sizes, gap)


def _two_raw(x: Inputs) -> Finding:
    mean1, sd1, n1 = _mean_sd_n(x["values1"], "values1")
    mean2, sd2, n2 = _mean_sd_n(x["values2"], "values2")
    return _two_means({"mean1": mean1, "mean2": mean2, "sd1": sd1, "sd2": sd2, "n1": n1, "n2": n2})


def _worth(x: Inputs) -> Finding:
    return Finding({"difference": x["difference"]}, f"difference {x['difference']:g}", remark=WORTH)


def _of_t(sd_name: str, names: tuple[str, ...]) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        sizes = {name: x[name] for name in names}
        return _difference(converted("d", t=x["t"], **sizes), x[sd_name], sd_name, sizes)

    return work


def _of_p(sd_name: str, names: tuple[str, ...]) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        sizes = {name: x[name] for name in names}
        t = t_of_p(x["p"], sum(sizes.values()) - len(sizes))
        found = _difference(converted("d", t=t, **sizes), x[sd_name], sd_name, sizes)
        return replace(found, remark=NO_SIDE)

    return work


def _thumb_d(sd_name: str) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        found = _difference(converted("d", size=x["size"]), x[sd_name], sd_name, {})
        return Finding(found.values, found.effect, remark=THUMB)

    return work


WORTHWHILE = Route("worthwhile", "smallest worthwhile difference", (measured("difference", "Difference"),), _worth)


def _differences(sd_name: str, counts: tuple[Assumption, ...], *known: Route) -> tuple[Route, ...]:
    names, sd = tuple(each.name for each in counts), spread(sd_name)
    return (
        WORTHWHILE,
        *known,
        Route("t", "published t statistic", (number("t", "t", low=-1e4, high=1e4), *counts, sd), _of_t(sd_name, names)),
        Route("p", "published p value", (P_VALUE, *counts, sd), _of_p(sd_name, names)),
        rule_of_thumb(sd),
    )


def rule_of_thumb(sd: Assumption) -> Route:
    """Where nothing better is known."""
    return Route("convention", "rule of thumb", (SIZE, sd), _thumb_d(sd.name), last_resort=True)


# --- two groups ---

IN_GROUPS = (
    count("n1", "People in group 1", words="People, {group1}"),
    count("n2", "People in group 2", words="People, {group2}"),
)
_IN_GROUPS_IF_KNOWN = tuple(count(each.name, each.label, required=False, words=each.words) for each in IN_GROUPS)
_MEANS_OF_TWO = (
    measured("mean1", "Mean of group 1", words="Mean, {group1}"),
    measured("mean2", "Mean of group 2", words="Mean, {group2}"),
    spread("sd1", "SD of group 1", words="SD, {group1}"),
    spread("sd2", "SD of group 2", words="SD, {group2}"),
)


def _other_effect(x: Inputs) -> Finding:
    sizes = {name: x[name] for name in ("n1", "n2") if name in x}
    if len(sizes) == 1 or (x["which"] == "g" and not sizes):
        raise RequestError("n1" if "n1" not in sizes else "n2", "Both numbers of people are needed here.")
    given = {"g": {"g": x["value"], **sizes}, "r": {"r": x["value"]}, "odds_ratio": {"odds_ratio": x["value"]}}
    d = x["value"] if x["which"] == "d" else converted("d", **given[x["which"]])
    return _difference(d, x["sd"], "sd", sizes if x["which"] in ("d", "g") else {})


_EFFECT = chosen("which", "Known effect", d="Cohen's d", g="Hedges' g", r="correlation r", odds_ratio="odds ratio")


TWO_GROUPS = _differences(
    "sd",
    IN_GROUPS,
    Route(
        "means",
        "means and SDs of two groups",
        (*_MEANS_OF_TWO, *_IN_GROUPS_IF_KNOWN),
        _two_means,
        readings=("two_groups",),
    ),
    Route(
        "raw",
        "raw values of two groups",
        (
            values_of("values1", "Values of group 1", words="Values, {group1}"),
            values_of("values2", "Values of group 2", words="Values, {group2}"),
        ),
        _two_raw,
    ),
    Route(
        "other",
        "another effect size",
        (_EFFECT, number("value", "Its value"), *_IN_GROUPS_IF_KNOWN, spread()),
        _other_effect,
    ),
)

# --- one group ---


def _one_mean(x: Inputs) -> Finding:
    gap, sizes = x["mean"] - x["null_mean"], {"n": x["n"]} if "n" in x else {}
    found = _difference(gap / x["sd"], x["sd"], "sd", sizes, gap)

    def stated(values: Mapping[str, Any]) -> dict[str, Any]:
        mean = x["null_mean"] + values["difference"]
        return {"mean": float(f"{mean:.10g}"), "null_mean": x["null_mean"], "sd": values["sd"]}

    lower = stated(found.lower) if found.lower else {}
    return Finding(stated(found.values), found.effect, found.interval, lower)


def _one_raw(x: Inputs) -> Finding:
    mean, sd, n = _mean_sd_n(x["values"], "values")
    return _one_mean({"mean": mean, "null_mean": x["null_mean"], "sd": sd, "n": n})


_REFERENCE = measured("null_mean", "Reference mean")
ONE_GROUP = _differences(
    "sd",
    (count("n", "People"),),
    Route(
        "means",
        "mean and SD of one group",
        (measured("mean", "Mean"), _REFERENCE, spread("sd", "SD"), count("n", "People", required=False)),
        _one_mean,
        readings=("one_group",),
    ),
    Route("raw", "raw values", (values_of("values", "Values"), _REFERENCE), _one_raw),
)

# --- pairs ---


def _pairs(x: Inputs) -> Finding:
    sizes = {"n_pairs": x["n_pairs"]} if "n_pairs" in x else {}
    sd = x["sd_difference"]
    return _difference(x["difference"] / sd, sd, "sd_difference", sizes, x["difference"])


def _two_sds(x: Inputs) -> Finding:
    return _pairs({**x, "sd_difference": scatter_within_pairs(x)})


def _raw_pairs(x: Inputs) -> Finding:
    first, second = x["values1"], x["values2"]
    if len(first) != len(second):
        raise RequestError("values2", f"There are {len(first)} first values but {len(second)} second ones.")
    gaps = [two - one for one, two in zip(first, second, strict=True)]
    mean, sd, n = _mean_sd_n(gaps, "values2")
    return _pairs({"difference": mean, "sd_difference": sd, "n_pairs": n})


_PAIRS_IF_KNOWN = count("n_pairs", "Pairs", required=False)
_DIFFERENCE = measured("difference", "Mean of the differences")
PAIRS = _differences(
    "sd_difference",
    (count("n_pairs", "Pairs"),),
    Route(
        "means",
        "mean and SD of the differences",
        (_DIFFERENCE, spread("sd_difference", "SD of the differences"), _PAIRS_IF_KNOWN),
        _pairs,
        readings=("pairs_across", "pairs_down"),
    ),
    Route(
        "two_sds",
        "both SDs and the correlation",
        (
            _DIFFERENCE,
            spread("sd1", "SD of the first"),
            spread("sd2", "SD of the second"),
            number("correlation", "Correlation within pairs", low=-1, high=1),
            _PAIRS_IF_KNOWN,
        ),
        _two_sds,
    ),
    Route(
        "raw",
        "raw values of the pairs",
        (values_of("values1", "First values"), values_of("values2", "Second values")),
        _raw_pairs,
    ),
)

# --- clusters ---

INDEPENDENT = (
    "No interval: people of one cluster are alike, so one made as if they were independent would be too short."
)
NEGATIVE_ICC = "The estimate is below 0, which chance does with few clusters: 0 is taken. Plan on a larger one."


def _means_in_clusters(x: Inputs) -> Finding:
    found = _two_means(x)
    return Finding(found.values, found.effect, remark=INDEPENDENT)


def of_clusters(x: Inputs) -> Finding:
    """The ICC and the sizes of clusters, with the SD where it is given."""
    icc, size = max(x["icc"], 0.0), rounded(x["cluster_size"])
    values = {"icc": rounded(icc), "cluster_size": size, "cluster_size_cv": rounded(x.get("cluster_size_cv", 0.0))}
    if "sd" in x:
        values["sd"] = rounded(x["sd"])
    return Finding(values, f"ICC {two_digits(x['icc'])}", remark=NEGATIVE_ICC if x["icc"] < 0 else "")


CLUSTER_INPUTS = (
    number("icc", "Intracluster correlation", low=-1, high=1),
    number("cluster_size", "People in a cluster, mean", low=1),
    number("cluster_size_cv", "SD of the sizes over their mean", required=False, low=0),
)
CLUSTER_MEANS = (
    WORTHWHILE,
    Route("means", "means and SDs of two groups", _MEANS_OF_TWO, _means_in_clusters, readings=("two_groups",)),
    Route(
        "clusters",
        "how alike clusters are",
        (*CLUSTER_INPUTS, number("sd", "SD of people", "measured", required=False, low=0, open_low=True)),
        of_clusters,
        readings=("clusters",),
    ),
    OF_KINDS,
    rule_of_thumb(spread("sd")),
)
ONE_SHIFT = tuple(route for route in ONE_GROUP if route.name not in ("worthwhile", "means", "raw"))


# --- crossovers ---

_LOG = {"scale": "log"}
_ON_LOGS = "Ratios of geometric means and a CV are of logarithms: the scale is set to logarithms."


def _ratio_and_cv(x: Inputs) -> Finding:
    values = {**_LOG, "mean_ratio": rounded(x["mean_ratio"]), "cv": rounded(x["cv"])}
    return Finding(values, f"ratio {two_digits(x['mean_ratio'])}, CV {100 * x['cv']:.3g}%", remark=_ON_LOGS)


def _interval_of_ratio(x: Inputs) -> Finding:
    """The ratio and the CV behind a published 90% interval: Jones and Kenward (2014), section 7.2."""
    if not x["low"] < x["high"]:
        raise RequestError("high", "The upper limit must be above the lower one.")
    error = math.log(x["high"] / x["low"]) / 2 / -float(special.stdtrit(x["n"] - 2, 0.05))
    cv = math.sqrt(math.expm1(error**2 * x["n"] / 2))
    return _ratio_and_cv({"mean_ratio": math.sqrt(x["low"] * x["high"]), "cv": cv})


def _within_of_two(x: Inputs) -> Finding:
    values = {"difference": rounded(x["difference"]), "sd_within": rounded(x["sd_within"])}
    return Finding(values, f"{x['difference'] / x['sd_within']:.2f} SDs within participants".replace("-", "\u2212"))


CROSSOVER = (
    Route(
        "means",
        "difference and SD of the differences",
        (_DIFFERENCE, spread("sd_difference", "SD of the differences")),
        lambda x: Finding({name: rounded(x[name]) for name in ("difference", "sd_difference")}, "as published"),
    ),
    Route(
        "within",
        "difference and SD within participants",
        (_DIFFERENCE, spread("sd_within", "SD within participants")),
        _within_of_two,
    ),
    Route(
        "ratio",
        "published ratio and CV",
        (
            number("mean_ratio", "Ratio of geometric means", low=0, open_low=True),
            number("cv", "CV within participants", "share", low=0, open_low=True),
        ),
        _ratio_and_cv,
    ),
    Route(
        "interval",
        "published 90% interval of the ratio",
        (
            number("low", "Lower limit", low=0, open_low=True),
            number("high", "Upper limit", low=0, open_low=True),
            count("n", "People", low=4),
        ),
        _interval_of_ratio,
    ),
)
