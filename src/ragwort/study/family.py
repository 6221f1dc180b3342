"""Aims that share the study's chance of a false finding: the alpha of each, and the chances that they succeed.

Sources: Bretz, Hothorn and Westfall, *Multiple Comparisons Using R* (2011), section 2.3 and 2.4 (Bonferroni, Holm,
Hochberg, fixed sequence); Wiens, Pharmaceutical Statistics 2 (2003), pages 211-215 (fallback).
"""

from __future__ import annotations

import math
import operator
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import accumulate
from typing import TYPE_CHECKING

from ragwort.designs.saying import listed
from ragwort.stats.lazily import np, special
from ragwort.study.model import Aim, Entry, Scenario, Setting, Study
from ragwort.study.numbers import percent_text

if TYPE_CHECKING:
    from numpy.typing import NDArray

PLANS = {
    "": "each by itself",
    "split": "in equal parts",
    "weights": "by weights",
    "holm": "by Holm's procedure",
    "hochberg": "by Hochberg's procedure",
    "order": "in fixed order",
    "fallback": "by the fallback procedure",
}
ROLES = {"": "primary", "secondary": "secondary", "exploratory": "exploratory"}
DERIVED = "study's plan"  # what the source of a derived alpha begins with
DRAWS = 200_000


def confirmatory(study: Study) -> tuple[Aim, ...]:
    """The aims that share the error, in their order."""
    return tuple(aim for aim in study.aims if aim.role != "exploratory")


def role_told(study: Study, aim: Aim) -> str:
    """The role that texts say: primary only where somebody has told the aims apart."""
    return aim.role or ("primary" if any(each.role for each in study.aims) else "")


def plan_of(study: Study) -> str:
    """The plan in force: none where a file names one that is not known here."""
    return study.family.plan if study.family.plan in PLANS else ""


def alphas_of(study: Study) -> dict[str, float]:
    """The alpha that each confirmatory aim is planned with, by its id; empty without a plan."""
    family, aims = study.family, confirmatory(study)
    if not plan_of(study) or not aims:
        return {}
    if family.plan == "order":
        return {aim.id: family.alpha for aim in aims}
    shares = _shares(study, aims)
    return {aim.id: rounded_down(family.alpha * share) for aim, share in zip(aims, shares, strict=True)}


def rounded_down(alpha: float) -> float:
    """To four significant digits, never above what it was: the parts never add up to more than the whole."""
    shown = float(f"{alpha:.4g}")
    unit = 10.0 ** (math.floor(math.log10(alpha)) - 3)
    return shown if shown <= alpha * (1 + 1e-12) else float(f"{shown - unit:.4g}")


def _shares(study: Study, aims: Sequence[Aim]) -> list[float]:
    """Of the whole: by weight where the plan has weights, else all alike."""
    if study.family.plan not in ("weights", "fallback"):
        return [1 / len(aims)] * len(aims)
    weights = [study.family.weights.get(aim.id, 1.0) for aim in aims]
    return [weight / math.fsum(weights) for weight in weights]


def why(study: Study, aim: Aim) -> str:
    """Where the alpha of an aim comes from: `study's plan: a third of 0.05, by Holm's procedure`."""
    family, count = study.family, len(confirmatory(study))
    if family.plan == "order":
        part = f"all of {family.alpha:g}, once those before have succeeded"
    elif family.plan in ("weights", "fallback"):
        aims = confirmatory(study)
        share = _shares(study, aims)[[each.id for each in aims].index(aim.id)]
        part = f"{percent_text(share)} of {family.alpha:g}".replace("\u00a0", " ")
    else:
        part = f"{_FRACTIONS.get(count, f'1/{count}')} of {family.alpha:g}"
    return f"{DERIVED}: {part}, {PLANS[family.plan]}"


_FRACTIONS = {1: "all", 2: "half", 3: "a third", 4: "a quarter", 5: "a fifth"}


def applied(study: Study) -> Study:
    """The study with the alpha of each confirmatory aim as its plan has it; what was derived once is let go."""
    alphas = alphas_of(study)
    aims = tuple(_with_alpha(study, aim, alphas.get(aim.id)) for aim in study.aims)
    return study if aims == study.aims else study.changed(aims=aims)


def derived_anew(study: Study) -> tuple[Study, str]:
    """A study as it was read, with the alphas that its plan makes, and what is said of those that were others."""
    alphas = alphas_of(study)
    other = [aim for aim in study.aims if _is_another(aim, alphas.get(aim.id))]
    for aim in other:
        study = study.with_aim(aim.changed(entries=_set(study, aim, alphas[aim.id], why(study, aim)).entries))
    now = listed([f"{aim.name} ({alphas[aim.id]:.4g})" for aim in other])
    said = f"The file has alphas that its plan ({PLANS[plan_of(study)]}) does not give; derived anew: {now}."
    return study, said if other else ""


def _is_another(aim: Aim, alpha: float | None) -> bool:
    """Whether an aim is planned with another alpha than its plan gives; what was typed and refused stays a draft."""
    entry = aim.entry("alpha")
    typed = entry.value is None or bool(entry.fault) or aim.find == "alpha"
    return alpha is not None and not typed and entry.value != alpha


def _with_alpha(study: Study, aim: Aim, alpha: float | None) -> Aim:
    source = "" if alpha is None else why(study, aim)
    scenarios = tuple(_set(study, each, alpha, source) for each in aim.scenarios)
    entries = _set(study, aim, alpha, source).entries
    return aim.changed(entries=entries, scenarios=scenarios)


def _set(study: Study, setting: Setting | Scenario, alpha: float | None, source: str) -> Setting | Scenario:
    entry = setting.entries.get("alpha", Entry())
    if alpha is None:
        if not entry.source.startswith(DERIVED):
            return setting
        entry = Entry(value=study.family.alpha)
    else:
        entry = Entry(value=alpha, source=source)
    return setting.changed(entries={**setting.entries, "alpha": entry})


def guarded(before: Study, after: Study) -> Study:
    """What an edit made of a study, its plan kept: where the family changed alphas follow, a typed one is refused."""
    if not plan_of(before) and not plan_of(after):
        return after
    if _shape(before) != _shape(after):
        return applied(after)
    alphas = alphas_of(after)
    aims = tuple(_refused(after, aim) if aim.id in alphas else aim for aim in after.aims)
    return after if aims == after.aims else after.changed(aims=aims)


def _shape(study: Study) -> object:
    return study.family, [(aim.id, aim.role, len(aim.scenarios)) for aim in study.aims]


def _refused(study: Study, aim: Aim) -> Aim:
    """An alpha that somebody typed over a derived one is kept as a draft, with the reason."""
    entry, alpha = aim.entry("alpha"), alphas_of(study)[aim.id]
    if entry.fault or (entry.value == alpha and entry.source.startswith(DERIVED)):
        return aim
    source = why(study, aim)
    fault = f"Alpha is {alpha:.4g} here by the {source}. Change the plan, or make the aim exploratory."
    kept = Entry(value=alpha, source=source, draft=f"{entry.value}", fault=fault)
    return aim.changed(entries={**aim.entries, "alpha": kept})


# --- chances ---


@dataclass(frozen=True)
class Chances:
    """The chances that all, at least one, and each of the aims succeed; `exact`, or simulated from `DRAWS` draws."""

    every: float
    some: float
    each: tuple[float, ...]
    exact: bool


def chances(study: Study, powers: Sequence[float], seed: int = 1) -> Chances:
    """For confirmatory aims with these powers at their own alpha (two-sided normal statistics).

    Exact where the aims are independent and each is tested at one level only; otherwise simulated with the plan's
    procedure.
    """
    family = study.family
    matrix = correlations_of(study, len(powers))
    if np.array_equal(matrix, np.eye(len(powers))) and plan_of(study) in ("", "split", "weights", "order"):
        return _independent(powers, in_order=plan_of(study) == "order")
    alphas = list(alphas_of(study).values()) or [float(aim.values().get("alpha", 0.05)) for aim in confirmatory(study)]
    z = _drawn(alphas, powers, matrix, seed)
    p = 2 * special.ndtr(-np.abs(z))
    succeeds = rejected(p, plan_of(study), family.alpha, np.array(alphas)) & (z > 0)
    known = _at_own_level(plan_of(study), len(powers))
    each = (*powers[:known], *(float(share) for share in succeeds.mean(axis=0)[known:]))
    some = each[0] if plan_of(study) == "order" else float(succeeds.any(axis=1).mean())
    return Chances(float(succeeds.all(axis=1).mean()), some, each, exact=False)


def _at_own_level(plan: str, count: int) -> int:
    """How many aims, from the first on, succeed with their own power, whatever becomes of the others."""
    return {"": count, "split": count, "weights": count, "order": 1, "fallback": 1}.get(plan, 0)


def _independent(powers: Sequence[float], in_order: bool) -> Chances:
    """Products; in a fixed order each waits for all before it, and one succeeds where the first does."""
    every = math.prod(powers)
    if in_order:
        return Chances(every, powers[0], tuple(accumulate(powers, operator.mul)), exact=True)
    return Chances(every, 1 - math.prod(1 - power for power in powers), tuple(powers), exact=True)


def matrix_of(study: Study) -> tuple[tuple[float, ...], ...] | None:
    """The correlations pair by pair, where there are as many as the confirmatory aims have pairs."""
    matrix = study.family.matrix
    return matrix if matrix and len(matrix) == len(confirmatory(study)) - 1 else None


def correlations_of(study: Study, count: int) -> NDArray[np.float64]:
    """The correlations of so many test statistics (aims x aims): pair by pair, or one for all."""
    pairs = matrix_of(study)
    if pairs is None:
        return np.asarray(np.where(np.eye(count) == 1, 1.0, study.family.correlation))
    found = np.eye(count)
    for down, row in enumerate(pairs, start=1):
        found[down, :down] = found[:down, down] = row
    return found


def _drawn(
    alphas: Sequence[float], powers: Sequence[float], correlations: NDArray[np.float64], seed: int
) -> NDArray[np.float64]:
    """Test statistics (draws x aims) with these correlations."""
    rng = np.random.default_rng(seed)
    limits = -special.ndtri(np.array(alphas) / 2)
    shift = limits + special.ndtri(np.clip(powers, 1e-12, 1 - 1e-12))
    values, vectors = np.linalg.eigh(correlations)
    mixing = vectors * np.sqrt(np.clip(values, 0.0, None))
    return np.asarray(shift + rng.standard_normal((DRAWS, len(powers))) @ mixing.T)


def rejected(p: NDArray[np.float64], plan: str, alpha: float, alphas: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which hypotheses a plan rejects (studies x aims), from their p-values; `alphas` are those of the aims."""
    if plan == "holm":
        return _stepped(p, alpha, down=True)
    if plan == "hochberg":
        return _stepped(p, alpha, down=False)
    if plan == "order":
        return np.asarray(np.logical_and.accumulate(p <= alpha, axis=1))
    if plan == "fallback":
        return _fallback(p, alphas)
    return np.asarray(p <= alphas)


def _stepped(p: NDArray[np.float64], alpha: float, down: bool) -> NDArray[np.bool_]:
    """Holm from the smallest p on, until one fails; Hochberg from the largest on, until one succeeds."""
    count = p.shape[1]
    order = np.argsort(p, axis=1, kind="stable")
    passes = np.take_along_axis(p, order, axis=1) <= alpha / np.arange(count, 0, -1)
    if down:
        kept = np.logical_and.accumulate(passes, axis=1)
    else:
        kept = np.logical_or.accumulate(passes[:, ::-1], axis=1)[:, ::-1]
    found = np.zeros_like(kept)
    np.put_along_axis(found, order, kept, axis=1)
    return np.asarray(found)


def _fallback(p: NDArray[np.float64], alphas: NDArray[np.float64]) -> NDArray[np.bool_]:
    """One after another, each with its own part and what the one before it passed on."""
    found = np.zeros(p.shape, dtype=bool)
    passed = np.zeros(len(p))
    for place, own in enumerate(alphas):
        level = own + passed
        found[:, place] = p[:, place] <= level
        passed = np.where(found[:, place], level, 0.0)
    return found
