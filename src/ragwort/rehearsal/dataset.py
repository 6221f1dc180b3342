"""One of the rehearsed studies as a data set: its table in the study's own words, and what the analysis makes of it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ragwort.designs import StatisticPlan
from ragwort.designs.refusals import plain_number
from ragwort.rehearsal.engine import chunk_rng, chunk_sizes
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.stage import Stage
from ragwort.stats.simulated import Found
from ragwort.study.document.aim import Aim
from ragwort.study.words.naming import cluster_word, names_of
from ragwort.study.words.numbers import count_text, decimals_text

Cell = str | float | int | None  # None where something was lost
_DIGITS = 4  # significant, of made-up outcomes


@dataclass(frozen=True)
class DataSet:
    """One made-up study, `number` counting from 1."""

    number: int
    labels: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]
    groups: tuple[str, ...]  # of each outcome, what it belongs to; empty where there is one group
    outcomes: tuple[float, ...]  # those that are there, to be drawn; empty where they are categories
    words: str


def data_set(of: Planned, staged: Stage, aim: Aim, number: int, replicates: int, seed: int) -> DataSet:
    """The study of this number, from 1, of a rehearsal with so many and this seed. Raises `IndexError`."""
    if not 1 <= number <= replicates:
        raise IndexError(f"There is no study {number}: they are numbered 1 to {replicates}.")
    sizes = chunk_sizes(staged, replicates)
    place, within = divmod(number - 1, sizes[0])
    drawn = staged.draw(chunk_rng(seed, place), sizes[place])
    found, columns = staged.analyse(drawn), drawn.study(within)
    named = _named(of, aim, columns)
    rows = tuple(zip(*named.values(), strict=True))
    groups, outcomes = _to_draw(named, columns)
    ids = [(index, *row) for index, row in enumerate(rows, start=1)]
    said = f"{_described(of, aim, columns)}{_result(of, aim, found, within)}"
    words = f"Study {count_text(number)}: {said}.{_from_where(of, aim, columns)}"
    return DataSet(number, (aim.words.one.capitalize(), *named), tuple(ids), groups, outcomes, words)


def _named(of: Planned, aim: Aim, columns: Mapping[str, Any]) -> dict[str, list[Cell]]:
    """The columns by their names in the study, with names for what is counted."""
    named: dict[str, list[Cell]] = {}
    for role, values in columns.items():
        for label, cells in _column(of, aim, role, values):
            named[label if label not in named else f"{label} ({role})"] = cells
    return named


def _column(of: Planned, aim: Aim, role: str, values: Any) -> list[tuple[str, list[Cell]]]:
    words = aim.words
    outcome = _with_unit(words.outcome or "outcome", words.unit if _has_unit(of) else "in SDs")
    if role == "group" and of.values.get("levels"):
        return _factors(of, aim, values)
    if role == "group" and not np.any(values):
        return []
    if role == "group":
        return [("group", _names(aim, ("groups",), values))]
    if role == "cluster":
        return [(cluster_word(aim) or "cluster", [int(value) + 1 for value in values])]
    if role in ("row", "column"):
        return [] if role == "row" and not np.nansum(values) else [_category(aim, role, values)]
    if role == "outcome" and _is_yes_no(values):
        return [
            (
                words.outcome or "outcome",
                [None if math.isnan(value) else ("yes" if value else "no") for value in values],
            )
        ]
    return [(_label(aim, role, outcome), [_rounded(value) for value in values])]


def _has_unit(of: Planned) -> bool:
    """Whether outcomes are in the unit of the study; otherwise in SDs."""
    return of.primary.kind == "measured" or bool(of.plan.stated_means)


def _category(aim: Aim, role: str, values: Any) -> tuple[str, list[Cell]]:
    variables = names_of(aim, "variables")
    label = (variables[role == "row"] if len(variables) > 1 else "") or aim.words.outcome or "category"
    return label, _names(aim, (f"{role}s", "categories"), values)


def _label(aim: Aim, role: str, outcome: str) -> str:
    """What a measured column is called."""
    if role in ("first", "second"):
        both = names_of(aim, "conditions") or names_of(aim, "variables")
        return both[role == "second"] if len(both) > 1 else role
    if role.startswith("visit "):
        times, at = names_of(aim, "times"), int(role.removeprefix("visit ")) - 1
        return times[at] if at < len(times) else role
    return outcome if role == "outcome" else role


def _factors(of: Planned, aim: Aim, values: Any) -> list[tuple[str, list[Cell]]]:
    """A column for each factor of a crossed design."""
    levels = [int(count) for count in of.values["levels"]]
    cells = list(itertools.product(*(range(count) for count in levels)))
    factors, columns = names_of(aim, "factors"), []
    for number in range(len(levels)):
        label = factors[number] if number < len(factors) else f"factor {number + 1}"
        which = np.array([cells[int(value)][number] for value in values], dtype=float)
        columns.append((label, _names(aim, (f"levels{number + 1}",), which)))
    return columns


def _names(aim: Aim, keys: tuple[str, ...], values: Any) -> list[Cell]:
    known = next((names for key in keys if (names := names_of(aim, key))), ())

    def name(value: float) -> Cell:
        if math.isnan(value):
            return None
        return known[int(value)] if int(value) < len(known) else f"{int(value) + 1}"

    return [name(float(value)) for value in values]


def _rounded(value: float) -> Cell:
    return None if math.isnan(value) else float(f"{value:.{_DIGITS}g}")


def _is_yes_no(values: Any) -> bool:
    there = values[~np.isnan(values)]
    return bool(len(there)) and bool(np.all((there == 0) | (there == 1)))


def _with_unit(label: str, unit: str) -> str:
    return f"{label}, {unit}" if unit else label


def measured_label(aim: Aim, data: DataSet) -> str:
    """What the outcomes of a plot are."""
    last = data.labels[-1]
    return last if aim.words.outcome and aim.words.outcome in last else aim.words.outcome or "outcome"


def _to_draw(named: Mapping[str, list[Cell]], columns: Mapping[str, Any]) -> tuple[tuple[str, ...], tuple[float, ...]]:
    """What a plot of the data shows: outcomes, and what each belongs to."""
    outcome = columns.get("outcome")
    if outcome is not None and not _is_yes_no(outcome):
        there = ~np.isnan(outcome)
        groups = [str(cell) for cell in named.get("group", [""] * len(outcome))]
        kept = tuple(group for group, keep in zip(groups, there, strict=True) if keep)
        return kept, tuple(float(value) for value in outcome[there])
    series = [role for role in columns if role.startswith("visit ") or role in ("first", "second")]
    labels = [label for label in named if label != "group"]
    groups, outcomes = [], []
    for role, label in zip(series, labels, strict=False):
        there = columns[role][~np.isnan(columns[role])]
        groups += [label] * len(there)
        outcomes += [float(value) for value in there]
    return tuple(groups), tuple(outcomes)


# --- what the analysis says ---


def _described(of: Planned, aim: Aim, columns: Mapping[str, Any]) -> str:
    """Means and SDs, or counts, group by group; empty where there are too many."""
    outcome, group = columns.get("outcome"), columns.get("group")
    if outcome is None or of.values.get("levels") or any(role.startswith("predictor") for role in columns):
        return ""
    which = np.zeros(len(outcome)) if group is None else group
    names = names_of(aim, "groups")
    parts = []
    for number in np.unique(which):
        own = outcome[(which == number) & ~np.isnan(outcome)]
        name = names[int(number)] if int(number) < len(names) else f"{int(number) + 1}"
        name = "" if group is None or not np.any(group) else f"{name} "
        parts.append(f"{name}{_summary(own, aim.words.unit if _has_unit(of) else '', _is_yes_no(outcome))}")
    return ", ".join(parts) + "; " if len(parts) <= 4 else ""


def _from_where(of: Planned, aim: Aim, columns: Mapping[str, Any]) -> str:
    """What outcomes are counted from, where the plan does not say how large they are."""
    if "event" in columns:
        events, watched = np.nansum(columns["event"]), np.isfinite(columns["event"]).sum()
        return f" Times are how long each was watched; {events:.0f} of {watched} had the event."
    if of.design.takes["measured"][0] == "count":
        return ""
    names = names_of(aim, "groups")
    stated = "mean1" in of.values or bool(of.plan.stated_means)
    if "group" not in columns or "outcome" not in columns or stated or _is_yes_no(columns["outcome"]):
        return ""
    first = names[0] if names and not of.values.get("levels") else "the first group"
    if not _has_unit(of):
        return " Outcomes are in SDs from the mean of all."
    return f" Outcomes are counted from the true mean of {first}, which the plan does not state."


def _summary(own: Any, unit: str, yes_no: bool) -> str:
    if not len(own):
        return "nobody left"
    if yes_no:
        return f"{int(own.sum())} of {len(own)}"
    sd = f" (SD {_short(float(own.std(ddof=1)))})" if len(own) > 1 else ""
    return f"{_short(float(own.mean()))}{' ' + unit if unit else ''}{sd}"


def _result(of: Planned, aim: Aim, found: Found, within: int) -> str:
    """The estimate, the statistic and p."""
    p = float(found.p[within])
    if math.isnan(p):
        return "too few are left to be analysed"
    if not of.plan.has_test:
        return _interval(of, aim, found, within)
    statistic = float(found.statistic[within])
    plan = of.answer.plan
    name = plan.test(of.answer.sizes()).distribution if isinstance(plan, StatisticPlan) else ""
    shown = f"{_symbol(name)} {decimals_text(statistic, 2)}, " if math.isfinite(statistic) and _symbol(name) else ""
    return f"{_estimated(of, aim, float(found.estimate[within]))}, {shown}{p_text(p)}"


def _interval(of: Planned, aim: Aim, found: Found, within: int) -> str:
    """`interval 25.1% to 35.3%`."""
    assert found.low is not None and found.high is not None
    share = bool(of.plan.estimated)
    unit = "%" if share else f" {aim.words.unit}" if aim.words.unit else ""
    low, high = (float(each[within]) * (100 if share else 1) for each in (found.low, found.high))
    return f"interval {_short(low)} to {_short(high)}{unit}"


def _estimated(of: Planned, aim: Aim, estimate: float) -> str:
    primary = of.primary
    yes_no, apart = "proportion" in primary.name, of.answer.plan.estimated
    if of.answer.plan.estimated_ratio:
        return f"{of.answer.plan.estimated_ratio} {_short(math.exp(estimate))}"
    if apart and not yes_no:
        return f"{apart} {_short(estimate)}"
    if yes_no and apart:
        return f"difference {decimals_text(100 * estimate, 1)} points"
    if yes_no:
        return f"{decimals_text(100 * estimate, 1)}%"
    unit = f" {aim.words.unit}" if aim.words.unit and primary.kind == "measured" else ""
    label = "difference" if primary.name == "difference" else primary.symbol or primary.label.lower()
    return f"{label} {_short(estimate)}{unit}"


def _symbol(distribution: str) -> str:
    return {"t": "t", "z": "z", "F": "F", "chi-square": "χ²"}.get(distribution, "")


def _short(value: float) -> str:
    return plain_number(float(f"{value:.3g}")).replace("-", "−")


def p_text(p: float) -> str:
    """A p-value as papers print it."""
    if p < 0.001:
        return "p < 0.001"
    return f"p = {decimals_text(p, 3)}"
