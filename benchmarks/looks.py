"""Interim analyses beside their aims; each time with another alpha, so that nothing is remembered."""

from __future__ import annotations

from collections.abc import Callable
from itertools import count
from typing import Any

import numpy as np
from catalogue import Line, timed
from size import so_many

FIVE = [0.2, 0.4, 0.6, 0.8, 1.0]


def interim_analyses(line: Line) -> None:
    """The recursion alone, an answer, a curve, a map; with futility and without."""
    from ragwort.designs import design_named, settle
    from ragwort.stats.sequential.looks import Futility, Looks
    from ragwort.stats.sequential.spending import Spending

    alphas = (0.025 + number * 1e-7 for number in count())
    spending = Spending("obrien-fleming")

    def fresh(futility: bool = False) -> Looks:
        gives_up = Futility(False, spending) if futility else None
        return Looks(tuple(FIVE), next(alphas), not futility, spending, gives_up)

    def answer(**more: Any) -> Any:
        values = {"difference": 5.0, "sd": 10.0, "alpha": 2 * next(alphas), "fractions": FIVE, **more}
        return settle(design_named("two-means"), "n", values)

    def powers(places: int, **more: Any) -> Callable[[], Any]:
        plan = answer(**more).plan
        sizes = np.linspace(10, 200, places) * np.ones((2, 1))
        return lambda: plan.power(sizes)

    drawn = {"sides": "greater", "futility": "non-binding"}
    for what, work, aim, times in (
        ("5 looks, power", lambda: fresh().power(3.0), 3, 60),
        ("5 looks with futility, power", lambda: fresh(futility=True).power(3.0), 15, 20),
        ("5 looks, find n", answer, 3, 60),
        ("5 looks with futility, find n", lambda: answer(**drawn), 15, 20),
        ("5 looks, a curve of 160 sizes", powers(160), 100, 20),
        ("5 looks with futility, a curve of 160 sizes", powers(160, **drawn), 100, 20),
        ("5 looks, a map of 60 x 40", powers(2400), 400, 5),
    ):
        took = timed(work, so_many(times))
        line(what, f"{took:.2f} ms", f"aim {aim:g} ms", f"{took / aim:.2f}x", "aim <= 1x")
