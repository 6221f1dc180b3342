"""Power over all plausible ranges at once: the assurance is an integral, and the draws are what the ranges say."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from ragwort.base import patience
from ragwort.demo import sampler_study
from ragwort.designs import Answer, all_designs, answer_request, design_named
from ragwort.designs.design import Design
from ragwort.figures.pictures import Scene, picture_of
from ragwort.figures.shown import spread as spreads
from ragwort.figures.shown.shown import Pointer
from ragwort.figures.shown.spread import HARDLY_ANY, NO_RANGES, ONLY_SUPPOSED, Spread, drawn_values
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.whatif import NUMERIC


def spread(study: Study, aim: str = "reaction") -> Spread:
    """The picture of an aim."""
    outcome = outcome_of(study.aim(aim))
    assert isinstance(outcome, Answer)
    made = picture_of("Spread", Scene(study.aim(aim), outcome))
    assert isinstance(made, Spread)
    return made


def power(**values: float) -> float:
    """What the core answers."""
    return float(answer_request({"design": "two-means", "find": "power", "assumptions": values})["power"])


def test_the_assurance_is_a_two_dimensional_integral() -> None:
    """Of the difference, normal from 8 to 16, and the SD, lognormal from 20 to 28: by Gauss-Hermite quadrature."""
    made = spread(sampler_study())
    nodes, weights = np.polynomial.hermite_e.hermegauss(24)
    deviation = stats.norm.ppf(0.95)
    middle, wide = np.log(20 * 28) / 2, np.log(28 / 20) / 2 / deviation
    total = sum(
        one * other * power(difference=12 + x * 4 / deviation, sd=float(np.exp(middle + y * wide)), n=128)
        for x, one in zip(nodes, weights, strict=True)
        for y, other in zip(nodes, weights, strict=True)
    )
    assert made.mean == pytest.approx(total / weights.sum() ** 2, abs=4 * made.error)
    assert made.error == pytest.approx(made.power.std() / 100, rel=0.01)
    assert made.heights.sum() == pytest.approx(1)
    assert spread(sampler_study()).says == made.says


def test_the_size_at_which_the_target_is_likely() -> None:
    """With it at least 80 in 100 draws reach the target, with two staff less not."""
    made = spread(sampler_study())
    assert made.enough == "93 per group"
    rng = np.random.default_rng(5)
    two_means = design_named("two-means")
    difference = drawn_values(two_means.assumption("difference"), (8, 16), rng, 3000)
    sd = drawn_values(two_means.assumption("sd"), (20, 28), rng, 3000)
    for n, least, most in ((2 * 93, 0.78, 0.82), (2 * 80, 0.6, 0.78)):
        reached = np.mean([power(difference=d, sd=s, n=n) >= 0.8 for d, s in zip(difference, sd, strict=True)])
        assert least < reached < most


@pytest.mark.parametrize(
    ("design", "name", "ends"),
    [
        ("two-means", "difference", (-3, 8)),
        ("two-means", "sd", (20, 28)),
        ("two-proportions", "proportion1", (0.1, 0.4)),
        ("correlation", "rho", (-0.2, 0.6)),
        ("cluster-means", "icc", (0.01, 0.1)),
    ],
)
def test_the_ends_of_a_range_are_its_outer_points(design: str, name: str, ends: tuple[float, float]) -> None:
    """5% of the draws lie below the one and 5% above the other, and none out of bounds."""
    assumption = design_named(design).assumption(name)
    values = drawn_values(assumption, ends, np.random.default_rng(1), 20_000)
    assert np.mean(values < ends[0]) == pytest.approx(0.05, abs=0.008)
    assert np.mean(values > ends[1]) == pytest.approx(0.05, abs=0.008)
    assert np.all((values >= assumption.low) & (values <= assumption.high))


def test_without_a_range_each_is_taken_from_a_tenth_around() -> None:
    """Which it says before anything else, and draws otherwise."""
    made = spread(sampler_study(), "crossover")
    assert made.supposed
    assert made.says.startswith(ONLY_SUPPOSED)
    assert made.power.std() > 0
    assert not spread(sampler_study(), "reaction").supposed


@pytest.mark.parametrize("design", [each for each in all_designs() if each.tested], ids=lambda design: design.id)
def test_every_design_has_a_spread(design: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    """Of every number that its power depends on; what it cannot take is drawn again."""
    monkeypatch.setattr(spreads, "DRAWS", 200)
    monkeypatch.setattr(spreads, "FEW_DRAWS", 20)
    study = Study(aims=(edits.new_aim(design, "Aim 1"),))
    aim_id = study.aims[0].id
    for assumption in design.assumptions:
        value = study.aims[0].values().get(assumption.name)
        if assumption.kind in NUMERIC and isinstance(value, int | float) and value:
            low, high = sorted((0.9 * value, 1.1 * value))
            entry = study.aim(aim_id).entry(assumption.name).changed(low=low, high=high)
            aim = study.aim(aim_id)
            study = study.with_aim(aim.changed(entries={**aim.entries, assumption.name: entry}))
    made = spread(study, aim_id)
    if made.power.size:
        assert np.all((made.power >= 0) & (made.power <= 1))
        assert made.power.std() > 0
        assert made.reading(Pointer(100 * made.mean, 1.0, (1, 1))) is not None
    else:
        assert made.says == NO_RANGES


def test_progress_goes_forward_only() -> None:
    """Over the draws and the search for the size, from nothing to nearly all."""
    study = sampler_study()
    aim = study.aim("reaction")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    heard: list[float] = []
    with patience.heard_by(heard.append):
        spreads.spread_of(aim, answer)
    assert heard == sorted(heard)
    assert heard[0] == 0 < 0.4 < heard[len(heard) // 2] < 0.8 < heard[-1] < 1


def typed(design: str, *texts: tuple[str, ...]) -> Study:
    """An aim of a design with values (name, text) and plausible ranges (name, text, "range") typed, one by one."""
    study = Study(aims=(edits.new_aim(design_named(design), "Aim 1"),))
    for name, text, *kind in texts:
        edit = edits.type_range if kind else edits.type_value
        study = edit(study, study.aims[0].id, name, text).study
    return study


def test_ranges_out_of_which_nothing_can_be_had_are_said() -> None:
    """So steep a line of percentages leaves 0 to 100 whatever is drawn: soon, in words, with no number that is none."""
    study = typed("trend-proportions", ("slope", "0.1"), ("slope", "0.6 to 0.9", "range"))
    made = spread(study, study.aims[0].id)
    assert made.says == HARDLY_ANY
    assert "nan" not in f"{made.says}{made.conclusion}{made.details}"


def test_an_effect_that_is_found_while_it_is_stated_twice() -> None:
    """f and, as nobody can read it, eta squared: what was found is f, and nothing stands beside it to contradict."""
    study = typed("anova-one-way", ("f", "0.2 to 0.3", "range"), ("dropout", "0.05 to 0.2", "range"))
    study = edits.move_flower(study, study.aims[0].id, "effect").study
    study = edits.type_value(study, study.aims[0].id, "eta_squared", "2").study
    made = spread(study, study.aims[0].id)
    assert made.power.size == spreads.DRAWS
    assert "over effect size f, drawn" in made.details
