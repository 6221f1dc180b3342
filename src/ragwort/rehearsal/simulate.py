"""How often the planned test rejects when the study is simulated under its assumptions."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ragwort.designs import Answer
from ragwort.stats import patience

_AT_ONCE = 2_000_000  # numbers drawn at a time, so that memory stays small


@dataclass(frozen=True)
class Rehearsal:
    """The outcome of a simulation."""

    replicates: int
    rejected: int
    seed: int

    @property
    def power(self) -> float:
        """The share of studies that reject, in 0..1."""
        return self.rejected / self.replicates

    @property
    def standard_error(self) -> float:
        """Of the share, from the binomial distribution; never quite 0."""
        share = min(max(self.power, 0.5 / self.replicates), 1 - 0.5 / self.replicates)
        return math.sqrt(share * (1 - share) / self.replicates)


def rehearse(answer: Answer, replicates: int = 20_000, seed: int = 1) -> Rehearsal:
    """Simulate the study of an answer. The same seed gives the same result.

    Raises `ValueError` for fewer than 1 replicate. A listener of `sawtooth.heard_by` hears of it and can stop it.
    """
    if replicates < 1:
        raise ValueError(f"A rehearsal needs 1 or more replicates, not {replicates}.")
    rng = np.random.default_rng(seed)
    batch = max(1, min(replicates, _AT_ONCE // max(answer.total, 1)))
    rejected = done = 0
    while done < replicates:
        patience.report(done / replicates)
        count = min(batch, replicates - done)
        rejected += int(answer.plan.simulate(answer.groups, rng, count).sum())
        done += count
    return Rehearsal(replicates, rejected, seed)
