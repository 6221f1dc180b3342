"""Every one of a group beside every one of the other, as it is seen beside the help."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from ragwort.designs import all_designs, design_named, settle
from ragwort.designs.illustration import MANY

DESIGN = design_named("rank-sum")


@pytest.mark.parametrize(
    "stated",
    [
        {"difference": 5, "sd": 10},
        {"difference": -12, "sd": 10},
        {"d": 0.1},
        {"probability": 0.9},
        {"proportions1": [0.2, 0.5, 0.3], "proportions2": [0.1, 0.3, 0.6]},
        {"proportions1": [0.5, 0.5], "proportions2": [0.9, 0.1]},
    ],
)
def test_what_is_filled_is_about_the_chance_and_goes_up_to_the_left(stated: dict[str, Any]) -> None:
    """Ten by ten show it within a few squares; a higher row or one further left never has less."""
    plan = settle(DESIGN, "n", stated).plan
    seen = DESIGN.illustrations[next(iter(stated))](plan)
    ahead = np.array(seen.ahead)
    assert ahead.shape == (MANY, MANY)
    assert ahead.mean() == pytest.approx(plan.truth, abs=0.035)
    assert (np.diff(ahead, axis=0) <= 0).all()
    assert (np.diff(ahead, axis=1) <= 0).all()
    assert f"{100 * plan.truth:.3g}% of all pairs" in seen.says
    assert ("alike" in seen.says) == bool((ahead == 0.5).any())


def test_illustrations_are_of_assumptions_that_there_are() -> None:
    """Of every design."""
    for design in all_designs():
        assert set(design.illustrations) <= {each.name for each in design.assumptions}
