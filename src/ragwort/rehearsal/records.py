"""A rehearsal as JSON: what the command line prints, and what a study keeps of it."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import ragwort
from ragwort.rehearsal.by_size import Needed
from ragwort.rehearsal.departures import NONE, Departing, in_words
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.tally import Tally
from ragwort.rehearsal.verdicts import verdict


def asked_as_json(asked: Departing) -> dict[str, Any]:
    """Only what departs."""
    return {**({"name": asked.name} if asked.name else {}), **asked.asked}


def as_json(of: Planned, asked: Departing, found: Tally, seed: int) -> dict[str, Any]:
    """One world: what departs, and what came of it, all numbers finite or null."""
    low, high = found.interval
    return {
        "departures": asked_as_json(asked),
        "words": in_words(asked, of),
        "replicates": found.replicates,
        "seed": seed,
        "power": found.power,
        "power_low": low,
        "power_high": high,
        "formula": formula_of(of, asked),
        "true_effect": found.truth,
        "mean_estimate": found.mean if found.done else None,
        "sd_of_estimates": found.sd if found.done > 1 else None,
        "mean_significant": found.mean_found,
        "exaggeration": found.exaggeration,
        "wrong_sign": found.wrong_sign,
        "coverage": found.coverage,
        **({"rejected_at": found.rejected_at, "ended_at": found.ended_at} if found.ended_at else {}),
        "not_analysed": found.undone,
        "verdict": verdict(of, asked, found),
        "version": ragwort.__version__,
    }


def formula_of(of: Planned, asked: Departing) -> float:
    """What the formula says: the power as planned; without an effect, how often the test rejects all the same."""
    return float(of.answer.plan.actual_alpha(of.answer.sizes())[0]) if asked["effect"] == NONE else of.answer.power


def needed_as_json(found: Needed) -> dict[str, Any]:
    """The size that simulation asks for."""
    return {"target": found.target, "n": found.n, "low": found.low, "high": found.high, "replicates": found.spent}


def tally_as_json(found: Tally) -> dict[str, Any]:
    """All sums, from which the same tally can be made again."""
    return asdict(found)


def tally_from_json(kept: Mapping[str, Any]) -> Tally:
    """The tally that was kept. Raises `TypeError` or `ValueError` where it is none."""
    return Tally(**kept)


def digest(request: Mapping[str, Any]) -> str:
    """What a request comes down to, to see whether it has changed since."""
    return hashlib.sha256(json.dumps(request, sort_keys=True).encode()).hexdigest()[:16]
