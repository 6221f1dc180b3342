"""McNemar's test against enumeration of every table of pairs, against simulated studies, and at its borders."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy import stats

from ragwort.base import patience
from ragwort.designs import Answer, RequestError, design_named, settle
from ragwort.stats import discordant
from ragwort.stats.simulated import Population
from ragwort.stats.simulated.paired import Table

DESIGN = design_named("paired-proportions")


def find(unknown: str, **assumptions: Any) -> Answer:
    """One answer."""
    return settle(DESIGN, unknown, assumptions)


def enumerated(n: int, p10: float, p01: float, sides: str) -> float:
    """The exact test's power over each number of pairs that disagree either way, by SciPy's binomial test."""
    alternative = "two-sided" if sides == "two" else sides
    power = 0.0
    for up in range(n + 1):
        for down in range(n + 1 - up):
            if up + down and stats.binomtest(up, up + down, 0.5, alternative).pvalue <= 0.05:
                rest = n - up - down
                ways = math.comb(n, up) * math.comb(n - up, down)
                power += ways * p01**up * p10**down * (1 - p01 - p10) ** rest
    return power


@pytest.mark.parametrize("sides", ["two", "greater", "less"])
@pytest.mark.parametrize(("n", "p10", "p01"), [(9, 0.05, 0.7), (16, 0.3, 0.1), (21, 0.02, 0.4)])
def test_exact_power_is_that_of_every_table(n: int, p10: float, p01: float, sides: str) -> None:
    """At small sizes each table of pairs is enumerated; so is the alpha that is really used."""
    found = find("power", proportion10=p10, proportion01=p01, n=n, sides=sides, method="exact")
    assert found.power == pytest.approx(enumerated(n, p10, p01, sides), abs=1e-12)
    half = (p10 + p01) / 2
    assert found.details["actual_alpha"] == pytest.approx(enumerated(n, half, half, sides), abs=1e-12)
    assert found.details["actual_alpha"] <= 0.05


@pytest.mark.parametrize(("method", "slack"), [("exact", 0.0), ("asymptotic", 0.012)])
def test_simulated_pairs_are_found_as_often_as_the_power_says(method: str, slack: float) -> None:
    """20 000 studies of pairs drawn from both proportions and their correlation, analysed by hand."""
    found = find("power", proportion1=0.4, proportion2=0.55, correlation=0.4, n=150, method=method)
    both = 0.4 * 0.55 + 0.4 * math.sqrt(0.4 * 0.6 * 0.55 * 0.45)
    cells = [0.4 - both, 0.55 - both, both, 1 - 0.4 - 0.55 + both]
    drawn = np.random.default_rng(20261127).multinomial(150, cells, 20_000)
    down, up = drawn[:, 0], drawn[:, 1]
    if method == "exact":
        p = np.minimum(2 * stats.binom.cdf(np.minimum(down, up), down + up, 0.5), 1)
    else:
        p = stats.chi2.sf((up - down) ** 2 / (up + down), 1)
    assert (
        abs(float(np.mean(p <= 0.05)) - found.power) < 4 * math.sqrt(found.power * (1 - found.power) / 20_000) + slack
    )


def test_both_ways_of_stating_agree() -> None:
    """What one way states the other computes to the same power, there and back."""
    stated = {"proportion10": 0.12, "proportion01": 0.27}
    other = DESIGN.in_other_words(dict(stated))
    as_two = {name: other[name] for name in ("proportion1", "proportion2", "correlation")}
    assert find("power", **as_two, n=90).power == pytest.approx(
        find("power", **stated, n=90).power, abs=5e-5
    )  # restated in few digits
    assert DESIGN.in_other_words(dict(as_two))["proportion01"] == pytest.approx(0.27, abs=5e-5)


@pytest.mark.parametrize("correlation", [-0.3, 0.0, 0.6])
def test_a_share_that_disagrees_leads_back_to_the_second_proportion(correlation: float) -> None:
    """With the first proportion and the correlation the share of no, then yes tells the effect."""
    asked = {"proportion1": 0.45, "proportion2": 0.6, "correlation": correlation}
    share = float(np.ravel(find("power", **asked, n=50).effect["proportion01"])[0])
    known = {"proportion1": 0.45, "correlation": correlation, "proportion01": share}
    assert DESIGN.stated_effect(known) == pytest.approx(0.15, abs=1e-9)


@pytest.mark.parametrize("way", [{"proportion10": 0.1}, {"proportion1": 0.4, "correlation": 0.3}])
@pytest.mark.parametrize("method", ["asymptotic", "exact"])
def test_a_found_effect_has_the_power_asked(way: dict[str, float], method: str) -> None:
    """Solve, then power, agree, upwards and downwards."""
    for direction in ("up", "down"):
        if direction == "down" and "proportion10" in way:
            continue
        found = find("effect", **way, n=140, method=method, direction=direction)
        name = "proportion01" if "proportion10" in way else "proportion2"
        again = find("power", **way, **{name: found.answer}, n=140, method=method)
        assert again.power == pytest.approx(0.8, abs=1e-6)


@pytest.mark.parametrize(
    ("field", "assumptions"),
    [
        ("proportion01", {"proportion10": 0.3, "proportion01": 0.9}),
        ("correlation", {"proportion1": 0.4, "proportion2": 0.52, "correlation": 0.95}),
        ("correlation", {"proportion1": 0.4, "proportion2": 0.52}),
        ("proportion01", {"proportion10": 0.2, "proportion01": 0.2}),
    ],
)
def test_pairs_that_cannot_be_are_refused_where_they_stand(field: str, assumptions: dict[str, float]) -> None:
    """No cell below 0, no shares above 1, no effect of nothing."""
    with pytest.raises(RequestError) as refused:
        find("n", **assumptions)
    assert refused.value.field == field


@pytest.mark.parametrize("phi", [0.785, -0.849])
def test_the_refusal_says_which_correlations_can_be_had(phi: float) -> None:
    """Just within the range that the message names there is an answer."""
    stated = {"proportion1": 0.4, "proportion2": 0.52}
    with pytest.raises(RequestError, match=r"can be −0\.850 to 0\.784"):
        find("power", **stated, correlation=0.95, n=90)
    assert find("power", **stated, correlation=phi - 0.002 if phi > 0 else phi, n=90).power > 0


CELLS = [[0.4, 0.1], [0.25, 0.25]]


def test_four_cells_say_what_the_pairs_that_disagree_say() -> None:
    """The same answer, what is at the edges of the table beside it; and tables are drawn from all four."""
    by_cells = find("n", cells=CELLS)
    assert by_cells.answer == find("n", proportion10=0.1, proportion01=0.25).answer
    assert (by_cells.effect["proportion1"], by_cells.effect["proportion2"]) == pytest.approx((0.5, 0.65))
    for more in ({"proportion10": 0.1, "proportion01": 0.25}, {"proportion10": 0.1}):
        assert find("n", cells=CELLS, **more).answer == by_cells.answer
    drawn = by_cells.plan.draw((1_000_000,), Population(np.random.default_rng(3)), 1)
    assert isinstance(drawn, Table)
    assert drawn.cells[0] / 1e6 == pytest.approx([0.1, 0.25, 0.4, 0.25], abs=0.002)


@pytest.mark.parametrize(
    ("more", "field", "words"),
    [
        ({"cells": [[0.4, 0.1], [0.25, 0.3]]}, "cells", "0.05 over"),
        ({"cells": [[0.4, 0.1]]}, "cells", "2"),
        ({"cells": [[0.4, 0.1, 0.0], [0.25, 0.25, 0.0]]}, "cells", "2"),
        ({"cells": CELLS, "proportion10": 0.2, "proportion01": 0.25}, "proportion10", "cells"),
        ({"cells": CELLS, "proportion1": 0.5, "proportion2": 0.6, "correlation": 0.3}, "proportion2", "cells"),
        ({"cells": [[1.4, -0.4], [0, 0]]}, "cells", "0"),
    ],
)
def test_cells_that_cannot_be(more: dict[str, Any], field: str, words: str) -> None:
    """Which, and what is wrong."""
    with pytest.raises(RequestError) as refused:
        find("n", **more)
    assert refused.value.field == field
    assert words in refused.value.message


@pytest.mark.parametrize("p1", [0.1, 0.123456, 0.5, 0.777777, 0.9])
@pytest.mark.parametrize("phi", [0.0, 0.1, 0.2])
def test_every_way_to_state_pairs_is_restated_as_every_other(p1: float, phi: float) -> None:
    """Round by way of all three, nothing is lost."""
    known = DESIGN.in_other_words({"proportion1": p1, "proportion2": 0.4, "correlation": phi})
    assert sum(map(sum, known["cells"])) == pytest.approx(1, abs=1e-12)
    again = DESIGN.in_other_words({"cells": known["cells"]})
    for name in ("proportion1", "proportion2", "correlation", "proportion10", "proportion01"):
        assert again[name] == pytest.approx(known[name], abs=2e-4)  # cells are rounded as a person would type them


@pytest.mark.parametrize("method", ["exact", "asymptotic"])
@pytest.mark.parametrize(
    "stated",
    [{"proportion10": p} for p in (0.3, 0.6, 0.9, 0.999999)]
    + [{"proportion1": p, "correlation": phi} for p, phi in ((0.3, 0.4), (0.9, -0.5), (0.7, -0.6), (0.2, -0.25))],
)
def test_an_effect_found_leaves_every_cell_of_the_table(method: str, stated: dict[str, float]) -> None:
    """No share of pairs below 0, and power at it as said; where none can be had that way, or none suffices, a word."""
    found = 0
    for direction in ("up", "down"):
        try:
            answer = find("effect", **stated, direction=direction, n=100, method=method)
        except RequestError as error:
            assert error.field == "proportion01"
            continue
        found += 1
        p10, p01 = (float(cell) for cell in answer.plan.cells())
        assert min(p10, p01, 1 - p10 - p01) >= -1e-12
        assert (answer.effect["risk_difference"] > 0) == (direction == "up")
        again = {"proportion2": answer.answer} if "correlation" in stated else {"proportion01": answer.answer}
        assert find("power", **stated, **again, n=100, method=method).power == pytest.approx(answer.power, abs=1e-9)
        nearest = any(note.startswith("Even the effect nearest to none") for note in answer.notes)
        assert answer.power > 0.8 + 1e-6 if nearest else answer.power == pytest.approx(0.8, abs=1e-6)
    assert found


@pytest.mark.parametrize("method", ["exact", "asymptotic"])
@pytest.mark.parametrize(
    ("stated", "field"),
    [
        ({"proportion10": 0, "proportion01": 0}, "proportion01"),
        ({"proportion1": 0.3, "proportion2": 0.3, "correlation": 1}, "correlation"),
    ],
)
def test_pairs_that_never_disagree_are_refused(method: str, stated: dict[str, float], field: str) -> None:
    """There is nothing to count, at any size."""
    for unknown in ({"n": 5}, {}):
        with pytest.raises(RequestError, match="there is no test") as caught:
            find("power" if unknown else "n", **stated, **unknown, method=method)
        assert caught.value.field == field


def test_where_nothing_can_be_had_in_a_direction_that_is_said() -> None:
    """Of more than half that change one way, there cannot be more that change the other way."""
    with pytest.raises(RequestError, match="there can be no effect upwards"):
        find("effect", proportion10=0.6, direction="up", n=100)
    with pytest.raises(RequestError, match="there can be no effect downwards"):
        find("effect", proportion1=0.3, correlation=1, direction="down", n=100)
    nearest = find("effect", proportion10=0.9, direction="down", n=100)
    assert nearest.answer == pytest.approx(0.1)
    assert nearest.power > 0.99


def test_many_pairs_are_summed_only_where_they_are_likely(monkeypatch: pytest.MonkeyPatch) -> None:
    """The same to the last digits as over all numbers that disagree, and a million pairs take no time."""
    some = discordant.exact_power(90_000, 0.25, 0.1275, 0.05, "two")
    monkeypatch.setattr(discordant, "SEARCHED", 10**9)
    assert discordant.exact_power(90_000, 0.25, 0.1275, 0.05, "two") == pytest.approx(some, rel=1e-12)
    monkeypatch.undo()
    with patience.within(5):
        assert 0.9 < find("power", proportion10=0.1, proportion01=0.1015, n=10**6, method="exact").power < 0.93
        patience.check()
