"""What many rehearsed studies come to, added up chunk by chunk so that a million take no more room than a thousand."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ragwort.stats.simulated import Found

BARS = 48  # of the histogram of estimates
P_BARS = 20  # of that of p-values
_REACH = 4.5  # standard deviations of the estimate that its histogram spans to each side
Counts = "NDArray[np.int64]"


@dataclass
class Tally:
    """Sums over the studies so far. `truth` and `nothing` are what an estimate means to find with and without effect.

    The histogram of estimates has its ends from the first chunk, which is the same on any number of processors.
    """

    alpha: float
    truth: float
    nothing: float
    signed: bool  # whether an estimate can point in the wrong direction
    tested: bool = True  # whether studies are to reject; else their intervals are to be narrow enough
    margin: bool = False  # whether what is shown is on which side of a margin the effect lies, not that there is one
    replicates: int = 0
    rejected: int = 0
    undone: int = 0  # studies that could not be analysed
    total: float = 0.0  # of the estimates
    squares: float = 0.0
    loud: float = 0.0  # of the estimates' distances from nothing, of studies that reject
    wrong: int = 0  # studies that reject, in the wrong direction
    held: int = 0  # intervals that hold the truth
    judged: int = 0  # studies that have an interval
    edges: list[float] = field(default_factory=list)
    missed_bars: list[int] = field(default_factory=lambda: [0] * BARS)
    found_bars: list[int] = field(default_factory=lambda: [0] * BARS)
    p_bars: list[int] = field(default_factory=lambda: [0] * P_BARS)
    rejected_at: list[int] = field(default_factory=list)  # of several looks
    ended_at: list[int] = field(default_factory=list)  # rejected or given up

    def add(self, found: Found) -> None:
        """Count the studies of one more chunk."""
        rejected, done = found.rejected(self.alpha), np.isfinite(found.p) & np.isfinite(found.estimate)
        self.replicates += len(found.p)
        self.rejected += int(rejected.sum())
        self.undone += int((~np.isfinite(found.p)).sum())
        estimates = np.where(done, found.estimate, self.nothing)
        self.total += float(estimates[done].sum())
        self.squares += float((estimates[done] ** 2).sum())
        apart = estimates - self.nothing
        self.loud += float(np.abs(apart[rejected & done]).sum())
        if self.signed and self.truth != self.nothing:
            self.wrong += int((rejected & (apart * (self.truth - self.nothing) < 0)).sum())
        self._count_looks(found, rejected)
        self._judge(found)
        self._draw(estimates, rejected, done, found.p)

    def _count_looks(self, found: Found, rejected: Any) -> None:
        if found.look is None:
            return
        for counted, which in (("rejected_at", rejected), ("ended_at", np.isfinite(found.look))):
            more = np.bincount(found.look[which].astype(int), minlength=len(getattr(self, counted)))
            before = np.zeros(len(more), dtype=int)
            before[: len(getattr(self, counted))] = getattr(self, counted)
            setattr(self, counted, (before + more).tolist())

    def _judge(self, found: Found) -> None:
        if found.low is None or found.high is None:
            return
        whole = np.isfinite(found.low) & np.isfinite(found.high)
        self.judged += int(whole.sum())
        self.held += int((whole & (found.low <= self.truth) & (found.high >= self.truth)).sum())

    def _draw(self, estimates: Any, rejected: Any, done: Any, p: Any) -> None:
        if not self.edges:
            self.edges = _edges(estimates[done])
        place = np.clip(np.searchsorted(self.edges, estimates, side="right") - 1, 0, BARS - 1)
        for bars, which in ((self.found_bars, done & rejected), (self.missed_bars, done & ~rejected)):
            bars[:] = (np.array(bars) + np.bincount(place[which], minlength=BARS)).tolist()
        p_place = np.clip((p[np.isfinite(p)] * P_BARS).astype(int), 0, P_BARS - 1)
        self.p_bars = (np.array(self.p_bars) + np.bincount(p_place, minlength=P_BARS)).tolist()

    # --- what they come to ---

    @property
    def done(self) -> int:
        """Studies that could be analysed."""
        return self.replicates - self.undone

    @property
    def power(self) -> float:
        """The share of studies that reject, in 0..1."""
        return self.rejected / self.replicates

    @property
    def standard_error(self) -> float:
        """Of the share, from the binomial distribution; never quite 0."""
        share = min(max(self.power, 0.5 / self.replicates), 1 - 0.5 / self.replicates)
        return math.sqrt(share * (1 - share) / self.replicates)

    @property
    def interval(self) -> tuple[float, float]:
        """Wilson's 95% interval for the power (Newcombe, Statistics in Medicine 17, 1998, pages 857-872)."""
        return wilson(self.rejected, self.replicates)

    @property
    def mean(self) -> float:
        """The mean estimate."""
        return self.total / self.done if self.done else math.nan

    @property
    def sd(self) -> float:
        """The SD of the estimates."""
        if self.done < 2:
            return math.nan
        return math.sqrt(max(self.squares - self.done * self.mean**2, 0.0) / (self.done - 1))

    @property
    def mean_found(self) -> float | None:
        """How far from nothing the studies that reject put the effect, on average; None where none does."""
        return self.loud / self.rejected if self.rejected and not self.margin else None

    @property
    def exaggeration(self) -> float | None:
        """How many times the true effect that is; None where there is no effect to exaggerate."""
        real = abs(self.truth - self.nothing)
        return None if self.mean_found is None or real == 0 else self.mean_found / real

    @property
    def wrong_sign(self) -> float | None:
        """The share of the studies that reject that point in the wrong direction; None where that cannot be."""
        if not self.signed or self.margin or self.truth == self.nothing or not self.rejected:
            return None
        return self.wrong / self.rejected

    @property
    def coverage(self) -> float | None:
        """The share of intervals that hold the true effect; None where there is no interval."""
        return self.held / self.judged if self.judged else None


def wilson(hits: int, of: int, z: float = 1.959963984540054) -> tuple[float, float]:
    """Wilson's interval for a share; 0 or 1 exactly at the ends."""
    share, width = hits / of, z * math.sqrt(hits * (of - hits) / of**3 + z**2 / (4 * of**2))
    centre = share + z**2 / (2 * of)
    low, high = ((centre + sign * width) / (1 + z**2 / of) for sign in (-1, 1))
    return (0.0 if hits == 0 else low), (1.0 if hits == of else high)


def _edges(estimates: Any) -> list[float]:
    """Ends of the bars, around the first estimates."""
    if not len(estimates):
        return list(np.linspace(-1, 1, BARS + 1))
    centre, sd = float(np.mean(estimates)), float(np.std(estimates)) or abs(float(np.mean(estimates))) * 0.1 or 1.0
    return [float(edge) for edge in np.linspace(centre - _REACH * sd, centre + _REACH * sd, BARS + 1)]
