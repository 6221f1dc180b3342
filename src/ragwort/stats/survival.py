"""How many events a study with staggered entry expects, where times are exponential.

Source: Lachin and Foulkes, Biometrics 42 (1986), pages 507-519, equations 3.2 to 3.4; Schoenfeld, Biometrika 68 (1981),
pages 316-319; Freedman, Statistics in Medicine 1 (1982), pages 121-129.
"""

from __future__ import annotations

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array, Number


def chance_of_event(hazard: Number, accrual: Number, follow_up: Number, loss: Number) -> Array:
    """The chance that a participant's event is seen: entry is even over `accrual`, then `follow_up` for the last one.

    All in one unit of time, or its inverse for the hazards of the event and of loss. Arrays broadcast.
    """
    both = np.asarray(hazard, dtype=float) + loss
    waited = np.exp(-both * follow_up)
    spread = both * np.asarray(accrual, dtype=float)
    with np.errstate(divide="ignore", invalid="ignore"):
        missed = waited * np.where(spread > 0, -np.expm1(-spread) / np.where(spread > 0, spread, 1.0), 1.0)
        seen = np.where(spread > 1e-4, 1 - missed, _seen_early(both * follow_up, spread))
    return np.asarray(hazard / both * seen)


def _seen_early(waited: Array, spread: Array) -> Array:
    """1 - exp(-w) (1 - exp(-s)) / s for a small s, which cancels: 1 - exp(-w) (1 - s/2 + s^2/6)."""
    return np.asarray(-np.expm1(-waited) + np.exp(-waited) * spread * (0.5 - spread / 6))


def events_by(when: Array, hazard: float, accrual: float, loss: float) -> Array:
    """The share of those to be recruited whose event has been seen by a calendar time `when` after the first entry."""
    entered = np.clip(when, 0.0, accrual) if accrual > 0 else (when >= 0).astype(float)
    share = entered / accrual if accrual > 0 else entered
    follow = np.maximum(when - accrual, 0.0)
    return np.asarray(share * chance_of_event(hazard, entered if accrual > 0 else 0.0, follow, loss))


def by_schoenfeld(log_ratio: Number, events: Number, n1: Number, n2: Number) -> Array:
    """The noncentrality of the log-rank test by Schoenfeld."""
    return np.asarray(log_ratio * np.sqrt(events * n1 * n2) / (n1 + n2))


def by_freedman(log_ratio: Number, events: Number, n1: Number, n2: Number) -> Array:
    """The same by Freedman, who takes the ratio of those at risk as it is at the start."""
    ratio, apart = n2 / n1, np.expm1(np.asarray(log_ratio, dtype=float))
    return np.asarray(np.sqrt(ratio * events) * apart / (1 + ratio * (1 + apart)))
