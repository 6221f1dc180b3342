"""Aims that share the study's chance of a false finding: the alpha of each, and the chances that they succeed.

Sources: Bretz, Hothorn and Westfall, *Multiple Comparisons Using R* (2011), section 2.3 and 2.4 (Bonferroni, Holm,
Hochberg, fixed sequence); Wiens, Pharmaceutical Statistics 2 (2003), pages 211-215 (fallback).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ragwort.base.lazily import np, special
from ragwort.base.wording import listed
from ragwort.designs import RequestError, design_named
from ragwort.study.document.aim import VALUE, Aim, Entry, Scenario, Setting
from ragwort.study.document.model import Study
from ragwort.study.sharing.plans import ALONE, PLANS, SharingPlan

if TYPE_CHECKING:
    from numpy.typing import NDArray

ROLES = {"": "primary", "secondary": "secondary", "exploratory": "exploratory"}
DRAWS = 200_000


def confirmatory(study: Study) -> tuple[Aim, ...]:
    """The aims that share the error, in their order."""
    return tuple(aim for aim in study.aims if shares_error(aim))


def shares_error(aim: Aim) -> bool:
    """Whether an aim can make a false finding that counts: not an exploratory one, and not one that tests nothing."""
    if aim.role == "exploratory":
        return False
    try:
        return design_named(aim.design).tested
    except RequestError:  # a design of another program, kept as the file has it
        return True


def role_told(study: Study, aim: Aim) -> str:
    """The role that texts say: primary only where somebody has told the aims apart."""
    return aim.role or ("primary" if any(each.role for each in study.aims) else "")


def plan_of(study: Study) -> SharingPlan:
    """The plan in force: each aim by itself where a file names one that is not known here."""
    return PLANS.get(study.family.plan, ALONE)


def weights_of(study: Study) -> list[float]:
    """The weight of each confirmatory aim; 1 where none is given."""
    return [study.family.weights.get(aim.id, 1.0) for aim in confirmatory(study)]


def alphas_of(study: Study) -> dict[str, float]:
    """The alpha that each confirmatory aim is planned with, by its id; empty without a plan."""
    family, aims = study.family, confirmatory(study)
    if not plan_of(study).shares or not aims:
        return {}
    parts = plan_of(study).parts(weights_of(study))
    return {aim.id: rounded_down(family.alpha * part) for aim, part in zip(aims, parts, strict=True)}


def rounded_down(alpha: float) -> float:
    """To four significant digits, never above what it was: the parts never add up to more than the whole."""
    shown = float(f"{alpha:.4g}")
    unit = 10.0 ** (math.floor(math.log10(alpha)) - 3)
    return shown if shown <= alpha * (1 + 1e-12) else float(f"{shown - unit:.4g}")


def why(study: Study, aim: Aim) -> str:
    """Where the alpha of an aim comes from: `study's plan: a third of 0.05, by Holm's procedure`."""
    plan, at = plan_of(study), [each.id for each in confirmatory(study)].index(aim.id)
    return f"study's plan: {plan.part_words(weights_of(study), at, study.family.alpha)}, {plan.label}"


def applied(study: Study) -> Study:
    """The study with the alpha of each confirmatory aim as its plan has it; what was derived once is let go."""
    alphas = alphas_of(study)
    aims = tuple(_with_alpha(study, aim, alphas.get(aim.id)) for aim in study.aims)
    return study if aims == study.aims else study.changed(aims=aims)


def derived_anew(study: Study) -> tuple[Study, str]:
    """A study as it was read, with the alphas that its plan makes, and what is said of those that were others."""
    alphas = alphas_of(study)
    other = [aim for aim in study.aims if _is_another(aim, alphas.get(aim.id))]
    for aim in [each for each in study.aims if each in other or _is_told_by_source(each, alphas.get(each.id))]:
        study = study.with_aim(aim.changed(entries=_set(study, aim, alphas[aim.id], why(study, aim)).entries))
    now = listed([f"{aim.name} ({alphas[aim.id]:.4g})" for aim in other])
    said = f"The file has alphas that its plan ({plan_of(study).label}) does not give; derived anew: {now}."
    return study, said if other else ""


def _is_another(aim: Aim, alpha: float | None) -> bool:
    """Whether an aim is planned with another alpha than its plan gives; what was typed and refused stays a draft."""
    entry = aim.entry("alpha")
    typed = entry.value is None or bool(entry.fault) or aim.find == "alpha"
    return alpha is not None and not typed and entry.value != alpha


def _is_told_by_source(aim: Aim, alpha: float | None) -> bool:
    """Whether a file from before 2026-12 says only by its source that an alpha follows from the plan."""
    entry = aim.entry("alpha")
    return alpha is not None and entry.value == alpha and not entry.derived and not entry.fault


def _with_alpha(study: Study, aim: Aim, alpha: float | None) -> Aim:
    source = "" if alpha is None else why(study, aim)
    scenarios = tuple(_set(study, each, alpha, source) for each in aim.scenarios)
    entries = _set(study, aim, alpha, source).entries
    return aim.changed(entries=entries, scenarios=scenarios)


def _set(study: Study, setting: Setting | Scenario, alpha: float | None, source: str) -> Setting | Scenario:
    entry = setting.entries.get("alpha", Entry())
    if alpha is None:
        if not entry.derived:
            return setting
        entry = Entry(value=study.family.alpha)
    else:
        entry = Entry(value=alpha, source=source, derived=True)
    return setting.changed(entries={**setting.entries, "alpha": entry})


def guarded(before: Study, after: Study) -> Study:
    """What an edit made of a study, its plan kept: where the family changed alphas follow, a typed one is refused."""
    if not plan_of(before).shares and not plan_of(after).shares:
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
    if entry.fault or (entry.value == alpha and entry.derived):
        return aim
    source = why(study, aim)
    fault = f"Alpha is {alpha:.4g} here by the {source}. Change the plan, or make the aim exploratory."
    kept = Entry(value=alpha, source=source, derived=True).unreadable(VALUE, f"{entry.value}", fault)
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
    plan, family = plan_of(study), study.family
    matrix = correlations_of(study, len(powers))
    if np.array_equal(matrix, np.eye(len(powers))) and (joint := plan.joint(powers)) is not None:
        return Chances(*joint, exact=True)
    alphas = list(alphas_of(study).values()) or [float(aim.values().get("alpha", 0.05)) for aim in confirmatory(study)]
    z = _drawn(alphas, powers, matrix, seed)
    p = 2 * special.ndtr(-np.abs(z))
    succeeds = plan.rejected(p, family.alpha, np.array(alphas)) & (z > 0)
    own = plan.at_own_level(len(powers))
    each = (*powers[:own], *(float(share) for share in succeeds.mean(axis=0)[own:]))
    some = each[0] if plan.first_decides else float(succeeds.any(axis=1).mean())
    return Chances(float(succeeds.all(axis=1).mean()), some, each, exact=False)


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
