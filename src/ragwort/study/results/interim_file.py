"""A half-way data file held against the plan: what is there, the planned test on it, and what unblinds nobody."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np
from scipy import special

from ragwort.designs import Answer, design_named
from ragwort.designs.looks import LookedPlan
from ragwort.pilot import Data, PilotError
from ragwort.pilot.columns import YES
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated import Reported
from ragwort.study.document.aim import Aim

_FEW = 2  # in a group


def takes_files(answer: Answer) -> bool:
    """Whether the planned test can be made on a file of two groups."""
    plan = _without_looks(answer)
    return len(answer.groups) == 2 and plan.seen((np.zeros((2, 2)), np.zeros((2, 2)))) is not None


def needs_cluster(answer: Answer) -> bool:
    """Whether the file says from which cluster everybody is."""
    return answer.plan.comes_in_clusters


def needs_event(answer: Answer) -> bool:
    """Whether beside an outcome the file says whether the event came."""
    return answer.plan.events_expected(answer.sizes()) is not None or bool(answer.plan.counted)


def seen_in(
    aim: Aim, answer: Answer, data: Data, group: str, names: tuple[str, str], outcome: str, beside: str = ""
) -> dict[str, Any]:
    """What a file says of an aim under way, as changes of its `Interim`. Raises `PilotError`.

    `beside` is the column of the event, or of the cluster, where one is needed.
    """
    clustered = needs_cluster(answer)
    columns = [_numbers(data, outcome)]
    if beside:
        columns = [_places(data, beside), *columns] if clustered else [*columns, _numbers(data, beside)]
    codes, known = data.codes(group)
    whole = np.isfinite(np.column_stack(columns)).all(axis=1)
    groups = []
    for name in names:
        if name not in known:
            raise PilotError(f"{group} has no “{name[:40]}”.")
        rows = whole & (codes == known.index(name))
        if rows.sum() < _FEW:
            raise PilotError(f"“{name[:40]}” has fewer than {_FEW} rows with an outcome: too few to compare.")
        groups.append(np.column_stack(columns)[rows] if beside else columns[0][rows])
    found: dict[str, Any] = {"now": _there(groups, bool(beside), clustered), "seen_as": "z"}
    found |= {"z": statistic_of(answer, groups), **_blinded(aim, answer, groups)}
    return {**found, "source": f"{outcome} by {group}"}


def _there(groups: list[Array], beside: bool, clustered: bool) -> float:
    """People, events, or clusters so far."""
    if clustered:
        return float(sum(len(np.unique(each[:, 0])) for each in groups))
    return float(sum(each[:, 1].sum() for each in groups)) if beside else float(sum(map(len, groups)))


def _places(data: Data, name: str) -> Array:
    """A column of names as numbers, one for each name; NaN where missing."""
    codes, _ = data.codes(name)
    return np.where(codes >= 0, codes.astype(float), np.nan)


def _numbers(data: Data, name: str) -> Array:
    """A column as numbers; yes as 1 and no as 0."""
    if data.column(name).kind != "yes or no":
        return data.numbers(name)
    codes, texts = data.codes(name)
    yes = np.array([*(1.0 if text.casefold() in YES else 0.0 for text in texts), math.nan])
    return np.asarray(yes[codes])


def _without_looks(answer: Answer) -> Any:
    return answer.plan.without_looks if isinstance(answer.plan, LookedPlan) else answer.plan


def statistic_of_summaries(answer: Answer, summary: Mapping[str, float]) -> float | None:
    """The planned test on what is reported of each group, as `statistic_of`; None until all of it is known.

    Raises `PilotError`.
    """
    reported = answer.plan.reported
    if reported is None:
        raise PilotError("The planned test is not made on summaries here: state its z, p or estimate.")
    groups = []
    for group in range(1, len(answer.groups) + 1):
        of = [summary.get(f"{name}{group}") for name in reported.names]
        if None in of:
            return None
        groups.append(_outcomes(reported, dict(zip(reported.names, of, strict=True))))
    return statistic_of(answer, groups)


def _outcomes(reported: Reported, numbers: dict[str, Any]) -> Array:
    whole = {name: int(each) if name in ("n", "yes", "events") else each for name, each in numbers.items()}
    try:
        return reported.outcomes(**whole)
    except ValueError as error:
        raise PilotError(str(error)) from error


def statistic_of(answer: Answer, groups: list[Array]) -> float:
    """The planned test as a z, upwards positive. Raises `PilotError`."""
    plan = _without_looks(answer)
    data = plan.seen(groups)
    if data is None:
        raise PilotError("The planned test is not made on a file here: type its z, p or estimate.")
    with np.errstate(all="ignore"):
        found = plan.analyse(data)
    if not np.isfinite(found.p[0]):
        raise PilotError("The planned test cannot be made on these rows: do the outcomes vary?")
    two_sided = plan.sides == "two"
    size = -float(special.ndtri(max(float(found.p[0]), 1e-300) / (2 if two_sided else 1)))
    if plan.sides == "less":
        return -size
    return math.copysign(size, float(found.estimate[0]) - plan.nothing) if two_sided else size


def _blinded(aim: Aim, answer: Answer, groups: list[Array]) -> dict[str, Any]:
    """Of all together, without a look at who is where."""
    blinded, of = design_named(aim.design).blinded, sum(map(len, groups))
    if blinded is None:
        return {}
    every = np.concatenate(groups)
    if blinded.kind == "measured":
        return {"blinded": float(f"{np.std(every, ddof=1):.6g}"), "of": of}
    if every.ndim == 1 and blinded.beside:
        mean = float(every.mean())
        more = max(float(np.var(every, ddof=1)) - mean, 0.0) / mean**2 if mean else 0.0
        rate = mean / answer.plan.watched
        return {"blinded": float(f"{rate:.6g}"), "of": of, "beside": float(f"{more:.4g}")}
    if every.ndim == 2:
        return {"blinded": float(f"{every[:, 1].sum() / every[:, 0].sum():.6g}"), "of": of}
    return {"blinded": float(f"{every.mean():.6g}"), "of": of}
