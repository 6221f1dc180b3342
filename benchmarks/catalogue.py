"""The second catalogue beside its aims, and the writers of the report."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import Any

import numpy as np
from scipy import special
from size import so_many

Line = Callable[[str, str, str, str, str], None]


def timed(work: Callable[[], Any], times: int) -> float:
    """Median milliseconds of so many runs."""
    found = []
    for _ in range(so_many(times)):
        start = time.perf_counter()
        work()
        found.append(1e3 * (time.perf_counter() - start))
    return statistics.median(found)


def second_catalogue(line: Line) -> None:
    """What each new kind of plan takes."""
    from ragwort.designs import design_named, settle
    from ragwort.designs.kinds.counts import first_and_steady

    def fresh(design: str, find: str, **values: Any) -> Any:
        first_and_steady.cache_clear()
        return settle(design_named(design), find, values)

    alike = {"difference": 0.0, "sd": 10.0, "hypothesis": "equivalence", "margin": 5.0}
    equivalence = fresh("two-means", "n", **alike)
    logistic = fresh("logistic", "n", odds_ratio=1.5, probability=0.2)
    hazards = {"hazard_ratio": 0.7, "hazard1": 0.1, "accrual": 12.0, "follow_up": 24.0}
    pairs = {"proportion10": 0.10, "proportion01": 0.19, "method": "exact"}
    rates = {"rate": 1.2, "null_rate": 1.0}
    near = fresh("paired-proportions", "n", **pairs).total
    for what, work, aim, times in (
        ("equivalence t, power", lambda: equivalence.plan.power(equivalence.sizes()), 0.3, 60),
        (f"paired exact, find n ({near})", lambda: fresh("paired-proportions", "n", **pairs), 500, 5),
        ("logistic, power", lambda: logistic.plan.power(logistic.sizes()), 0.5, 60),
        ("survival, find n", lambda: fresh("survival", "n", **hazards), 2, 60),
        ("one rate, exact, steady n", lambda: fresh("one-rate", "n", **rates), 50, 9),
    ):
        took = timed(work, times)
        line(what, f"{took:.2f} ms", f"aim {aim:g} ms", f"{took / aim:.2f}x", "aim <= 1x")
    _many_integrals(line)


def _many_integrals(line: Line) -> None:
    """Equivalence at 10 000 sizes beside what its quadrature evaluates, at as many nodes as five panels have."""
    from ragwort.stats.equivalence import power_with_estimated_sd

    low = np.full(10_000, -2.0) - np.linspace(0, 1, 10_000)
    df = 60.0 + np.arange(10_000) % 100
    nodes = np.linspace(-6, 6, 64 * 5 * 40)

    def floor() -> None:
        for _ in range(10_000 // 64):
            special.ndtr(nodes)
            special.ndtr(nodes)
            np.exp(nodes)
            np.log(nodes + 7)

    ours = timed(lambda: power_with_estimated_sd(low, -low, df, 0.05), 5)
    bare = timed(floor, 5)
    line(
        "equivalence t, power at 10 000 points", f"{ours:.0f} ms", f"{bare:.0f} ms", f"{ours / bare:.2f}x", "aim <= 3x"
    )


def reports(line: Line) -> None:
    """The demo study's report, its pictures not drawn before."""
    from ragwort.demo import sampler_study
    from ragwort.report import report_bytes
    from ragwort.report.writers import drawn

    study = sampler_study()
    report_bytes(study, "pdf")  # what is loaded and worked out once
    for kind, aim in (("html", 1500), ("pdf", 3000), ("docx", 3000)):

        def afresh(kind: str = kind) -> bytes:
            drawn._drawn.cache_clear()
            drawn.as_dots.cache_clear()
            return report_bytes(study, kind)

        took, again = timed(afresh, 3), timed(lambda kind=kind: report_bytes(study, kind), 3)
        line(
            f"report as {kind}",
            f"{took:.0f} ms",
            f"aim {aim} ms; {again:.0f} ms once seen",
            f"{took / aim:.2f}x",
            "aim <= 1x",
        )
