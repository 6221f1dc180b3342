"""Routes to one proportion or two."""

from __future__ import annotations

import math
from collections.abc import Callable

from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.kinds import OF_KINDS
from ragwort.designs.evidence.means import CLUSTER_INPUTS, INDEPENDENT, of_clusters
from ragwort.designs.evidence.route import (
    SIZE,
    THUMB,
    WORTH,
    Finding,
    Inputs,
    Route,
    converted,
    count,
    interval_words,
    nearer,
    number,
    share,
    two_digits,
)
from ragwort.designs.refusals import RequestError
from ragwort.stats.effects import wilson_interval

_Z = 1.959963984540054  # the normal quantile of 97.5%
_P1 = share("proportion1", "Proportion in group 1", words="Proportion, {group1}")


def share_of(x: Inputs, yes: str, n: str) -> float:
    """A share of counts that can be planned on. Raises `RequestError`."""
    if x[yes] > x[n]:
        raise RequestError(yes, f"There cannot be more than {x[n]} events among {x[n]}, but {x[yes]} are given.")
    if x[yes] in (0, x[n]):
        raise RequestError(yes, "A share of 0 or of all cannot be planned on: take one that is plausible.")
    return float(x[yes] / x[n])


def _two_counts(x: Inputs) -> Finding:
    p1, p2 = share_of(x, "yes1", "n1"), share_of(x, "yes2", "n2")
    h, reach = converted("h", proportion1=p1, proportion2=p2), _Z * math.sqrt(1 / x["n1"] + 1 / x["n2"])
    near = nearer(h - reach, h + reach)
    lower = {"proportion1": rounded(p1), "proportion2": rounded(converted("proportion2", proportion1=p1, h=near))}
    return Finding(
        {"proportion1": rounded(p1), "proportion2": rounded(p2)},
        f"h = {two_digits(h)}",
        interval_words("h", h - reach, h + reach),
        lower if near else {},
    )


def _two_counts_in_clusters(x: Inputs) -> Finding:
    found = _two_counts(x)
    return Finding(found.values, found.effect, remark=INDEPENDENT)


def _shares(p1: float, p2: float, remark: str = "") -> Finding:
    h = converted("h", proportion1=p1, proportion2=p2)
    return Finding({"proportion1": p1, "proportion2": rounded(p2)}, f"h = {two_digits(h)}", remark=remark)


def _share_and(to: str) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        p1 = x["proportion1"]
        if to == "risk_ratio" and p1 * x[to] >= 1:
            made = f"{100 * p1 * x[to]:g}%"
            raise RequestError(to, f"It would make the proportion in group 2 {made}; it must be below 100%.")
        return _shares(p1, converted("proportion2", proportion1=p1, **{to: x[to]}))

    return work


def _thumb_h(x: Inputs) -> Finding:
    h = converted("h", size=x["size"])
    return _shares(x["proportion1"], converted("proportion2", proportion1=x["proportion1"], h=h), THUMB)


def _routes(counts: Callable[[Inputs], Finding]) -> tuple[Route, ...]:
    ratio = number("odds_ratio", "Odds ratio", low=0, open_low=True)
    return (
        Route(
            "worthwhile",
            "smallest worthwhile difference",
            (
                _P1,
                share("proportion2", "Proportion worth having in group 2", words="Proportion worth having, {group2}"),
            ),
            lambda x: _shares(x["proportion1"], x["proportion2"], WORTH),
        ),
        Route(
            "counts",
            "counts of two groups",
            (
                count("yes1", "Events in group 1", low=0, words="Events, {group1}"),
                count("n1", "People in group 1", low=1, words="People, {group1}"),
                count("yes2", "Events in group 2", low=0, words="Events, {group2}"),
                count("n2", "People in group 2", low=1, words="People, {group2}"),
            ),
            counts,
            readings=("yes_in_two_groups",),
        ),
        Route("odds_ratio", "published odds ratio", (_P1, ratio), _share_and("odds_ratio")),
        Route(
            "risk_ratio",
            "published risk ratio",
            (_P1, number("risk_ratio", "Risk ratio", low=0, open_low=True)),
            _share_and("risk_ratio"),
        ),
        Route("convention", "rule of thumb", (_P1, SIZE), _thumb_h, last_resort=True),
    )


TWO_SHARES = _routes(_two_counts)
_OF_CLUSTERS = Route("clusters", "how alike clusters are", CLUSTER_INPUTS, of_clusters, readings=("yes_in_clusters",))
CLUSTER_SHARES = (*_routes(_two_counts_in_clusters)[:-1], _OF_CLUSTERS, OF_KINDS, TWO_SHARES[-1])


def _one_count(x: Inputs) -> Finding:
    p, known = share_of(x, "yes", "n"), x["null_proportion"]
    low, high = wilson_interval(x["yes"], x["n"], 0.95)
    near = nearer(low - known, high - known)
    words = f"95% interval of the proportion: {100 * low:.1f} to {100 * high:.1f}%"
    if not near:
        words += "; it includes the reference, so it has no lower limit to plan on"
    return Finding(
        {"proportion": rounded(p), "null_proportion": known},
        f"h = {two_digits(converted('h', proportion1=known, proportion2=p))}",
        words,
        {"proportion": rounded(known + near), "null_proportion": known} if near else {},
    )


def _one_worth(x: Inputs) -> Finding:
    h = converted("h", proportion1=x["null_proportion"], proportion2=x["proportion"])
    return Finding(dict(x), f"h = {two_digits(h)}", remark=WORTH)


def _one_thumb(x: Inputs) -> Finding:
    p = converted("proportion2", proportion1=x["null_proportion"], h=converted("h", size=x["size"]))
    return Finding(
        {"proportion": rounded(p), "null_proportion": x["null_proportion"]},
        f"h = {converted('h', size=x['size']):g}",
        remark=THUMB,
    )


_KNOWN = share("null_proportion", "Reference proportion")
ONE_SHARE = (
    Route(
        "worthwhile",
        "smallest worthwhile difference",
        (_KNOWN, share("proportion", "Proportion worth having")),
        _one_worth,
    ),
    Route(
        "counts",
        "counts of one group",
        (count("yes", "Events", low=0), count("n", "People", low=1), _KNOWN),
        _one_count,
        readings=("yes_in_one_group",),
    ),
    Route("convention", "rule of thumb", (_KNOWN, SIZE), _one_thumb, last_resort=True),
)


def _of_pairs(p10: float, p01: float, remark: str = "") -> Finding:
    if p10 + p01 > 1:
        raise RequestError("proportion01", "Discordant pairs add up to more than all: at most 1 can be had.")
    values = {"proportion10": rounded(p10), "proportion01": rounded(p01)}
    return Finding(values, f"difference {100 * (p01 - p10):.2g}%", remark=remark)


def _pairs_counted(x: Inputs) -> Finding:
    """Counts of an earlier table of pairs; its lower limit keeps how many pairs disagree."""
    down, up, n = x["down"], x["up"], x["n_pairs"]
    if down + up > n:
        raise RequestError("up", f"{down} and {up} discordant pairs are more than the {n} pairs given.")
    both, apart = (up + down) / n, (up - down) / n
    if not apart:
        raise RequestError("up", "Both are as frequent: there is no difference to plan on.")
    reach = _Z * math.sqrt(max(both - apart**2, 0.0) / n)
    near = nearer(apart - reach, apart + reach)
    lower = {"proportion10": rounded((both - near) / 2), "proportion01": rounded((both + near) / 2)}
    found = _of_pairs(down / n, up / n)
    words = interval_words("difference", apart - reach, apart + reach)
    return Finding(found.values, found.effect, words, lower if near else {})


def _pairs_by_odds(x: Inputs) -> Finding:
    down = x["disagree"] / (1 + x["odds_ratio"])
    return _of_pairs(down, x["disagree"] - down)


PAIRED_SHARES = (
    Route(
        "worthwhile",
        "smallest worthwhile difference",
        (share("proportion10", "Discordant pairs, first"), share("proportion01", "Worth having: discordant, second")),
        lambda x: _of_pairs(x["proportion10"], x["proportion01"], WORTH),
    ),
    Route(
        "counts",
        "counts of earlier pairs",
        (
            count("down", "Pairs with the event in the first only", low=0),
            count("up", "Pairs with the event in the second only", low=0),
            count("n_pairs", "Pairs", low=1),
        ),
        _pairs_counted,
        readings=("yes_in_pairs_across",),
    ),
    Route(
        "odds_ratio",
        "published odds ratio of pairs",
        (share("disagree", "Discordant pairs"), number("odds_ratio", "Odds ratio", low=0, open_low=True)),
        _pairs_by_odds,
    ),
)


# --- several ordered groups ---


def _trend(shares: list[float], remark: str = "") -> Finding:
    shown = [rounded(each) for each in shares]
    ends = f"{100 * shown[0]:.3g}% to {100 * shown[-1]:.3g}%"
    values = {"proportions": shown, "scores": [float(at) for at in range(len(shown))]}
    return Finding(values, f"from {ends} over {len(shown)} groups", remark=remark)


def _counts_of_groups(x: Inputs) -> Finding:
    yes, people = x["yes_counts"], x["people"]
    if len(yes) != len(people):
        raise RequestError("people", f"There are {len(yes)} counts but {len(people)} numbers of people.")
    for each, of in zip(yes, people, strict=True):
        if not 0 <= each <= of or of < 1:
            raise RequestError("yes_counts", f"{each:g} of {of:g} is no count of people.")
    return _trend([each / of for each, of in zip(yes, people, strict=True)])


def _ends_of_line(x: Inputs) -> Finding:
    first, last, k = x["first"], x["last"], int(x["k"])
    return _trend([first + (last - first) * at / (k - 1) for at in range(k)], "In equal steps between the two.")


def _odds_for_each_step(x: Inputs) -> Finding:
    odds = x["first"] / (1 - x["first"])
    made = [odds * x["odds_ratio"] ** at for at in range(int(x["k"]))]
    return _trend([each / (1 + each) for each in made])


_K = count("k", "Groups", low=3)
_FIRST = share("first", "Proportion of the first group")
TREND = (
    Route(
        "counts",
        "counts of the groups",
        (
            number("yes_counts", "Events, group by group", "list", shortest=3),
            number("people", "People, group by group", "list", shortest=3),
        ),
        _counts_of_groups,
    ),
    Route("ends", "first and last group", (_FIRST, share("last", "Proportion of the last group"), _K), _ends_of_line),
    Route(
        "odds_ratio",
        "published odds ratio for each step",
        (_FIRST, number("odds_ratio", "Odds ratio", low=0, open_low=True), _K),
        _odds_for_each_step,
    ),
)
