"""Rehearsals and sheets: on one thread and on all, beside the bare random numbers that they need."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np
from size import SMALL, so_many

from ragwort.demo import sampler_study
from ragwort.designs import design_named
from ragwort.rehearsal import Departing, planned, rehearse, stage
from ragwort.rehearsal.of_aim import planned_of
from ragwort.sheet.layout import sheet_of
from ragwort.sheet.writing import sheet_bytes
from ragwort.study.edits import type_value

MANY, FEWER = so_many(100_000, 200), so_many(20_000, 100)  # studies
Line = Callable[[str, str, str, str, str], None]


def _took(work: Callable[[], object]) -> float:
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def rehearsals(line: Line) -> None:
    """Two means at 64 a group, every design at its demo size, a long sheet."""
    there = stage(planned(design_named("two-means"), "n", {"difference": 12, "sd": 24}), Departing())
    rng = np.random.default_rng(1)
    bare = _took(lambda: [rng.standard_normal((2000, 128)) for _ in range(50)])
    for _ in range(2):  # the first time warms up
        alone = min(_took(lambda: rehearse(there, MANY, threads=1)) for _ in range(so_many(3)))
        both = min(_took(lambda: rehearse(there, MANY)) for _ in range(so_many(3)))
    against = f"{alone:.2f} s on one thread; {bare:.2f} s of bare random numbers"
    line(
        f"{MANY} rehearsals of two means, 64 a group",
        f"{both:.2f} s",
        against,
        f"{alone / both:.2f}x",
        "<= 1.5 s, >= 1.7x",
    )
    for aim in sampler_study().aims:
        staged = stage(planned_of(aim), Departing())
        took = _took(lambda staged=staged: rehearse(staged, FEWER))
        line(f"{FEWER} rehearsals, {aim.design}", f"{took:.2f} s", "", "", "<= 10 s")
    fisher = stage(
        planned(design_named("two-proportions"), "n", {"proportion1": 0.5, "proportion2": 0.3, "method": "fisher"}),
        Departing(),
    )
    line(f"{FEWER} rehearsals, Fisher", f"{_took(lambda: rehearse(fisher, FEWER)):.2f} s", "", "", "<= 10 s")
    exact = stage(planned(design_named("correlation"), "n", {"rho": 0.3, "null_rho": 0.1}), Departing())
    line(
        f"{FEWER} rehearsals, exact correlation against 0.1",
        f"{_took(lambda: rehearse(exact, FEWER)):.2f} s",
        "",
        "",
        "<= 10 s",
    )
    _long_sheet(line)


def _long_sheet(line: Line) -> None:
    study = type_value(sampler_study(), "reaction", "difference", "4.5" if SMALL else "0.45").study
    made = sheet_of(study, study.aim("reaction"))
    took = _took(lambda: sheet_bytes(made, "xlsx"))
    line(f"sheet of {len(made.rows)} rows as XLSX", f"{took:.1f} s", "", "", "<= 15 s for 100 000")
