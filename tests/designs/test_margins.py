"""Hypotheses with a margin: one mechanism for all designs that take them."""

from __future__ import annotations

import itertools
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import integrate, stats

from ragwort.demo import sampler_study
from ragwort.designs import Design, RequestError, all_designs, design_named, settle
from ragwort.designs.kinds import EquivalencePlan
from ragwort.designs.margins import WithMargins
from ragwort.designs.ratio_margins import WithRatioMargins
from ragwort.figures.shown.two_tests import has_two_tests, two_tests_of
from ragwort.rehearsal import Departing, planned, rehearse, stage
from ragwort.report import report_of
from ragwort.report.tree import FormulaBlock
from ragwort.stats.equivalence import power_with_estimated_sd, power_with_known_sd
from ragwort.study.document.aim import Entry

WITH = [design for design in all_designs() if isinstance(design, WithMargins)]
DESIGNS = pytest.mark.parametrize("design", WITH, ids=lambda design: design.id)
KINDS = ("superiority", "non-inferiority", "equivalence")


def asked(design: Design, kind: str, better: str = "higher", **more: Any) -> dict[str, Any]:
    """Values of a hypothesis with a margin, in units of what a new aim starts from."""
    if isinstance(design, WithRatioMargins):
        return {**_of_ratio(design, kind, 1 if better == "higher" else -1), **_better(kind, better), **more}
    base = {"proportion2": 0.3, "proportion": 0.5}.get(design.primary, 0.0)  # that the effect starts from
    unit, sign = float(design.starting[design.primary]) - base, 1 if better == "higher" else -1
    values = {**design.starting, "hypothesis": kind, "margin": 0.8 * unit}
    apart = {"superiority": 1.6, "non-inferiority": -0.1, "equivalence": 0.1}[kind] * unit * sign
    values[design.primary] = base + apart
    if design.id == "one-proportion":
        values["method"] = "score"  # the exact test has whole counts, see below
    return {**values, **_better(kind, better), **more}


def _better(kind: str, better: str) -> dict[str, str]:
    return {} if kind == "equivalence" else {"better": better}


def _of_ratio(design: Design, kind: str, sign: int) -> dict[str, Any]:
    """Of a ratio, whose second rate is the ratio as the first is 1."""
    ratio = {"superiority": 1.8, "non-inferiority": 0.97, "equivalence": 1.05}[kind] ** sign
    margin = 1.2 if kind == "superiority" else 1.5
    return {**design.starting, "hypothesis": kind, "margin": margin, design.primary: ratio}


@DESIGNS
@pytest.mark.parametrize(("kind", "better"), [*itertools.product(KINDS[:2], ("higher", "lower")), (KINDS[2], "higher")])
def test_whatever_is_found_gives_the_power_asked_for(design: Design, kind: str, better: str) -> None:
    """Size, then effect, margin and alpha at it; the size is the smallest of all."""
    values = asked(design, kind, better)
    answer = settle(design, "n", values)
    assert answer.power >= 0.8
    smaller = answer.next_smaller()
    assert smaller is not None
    assert smaller[1] < 0.8
    sized = {**values, "n": answer.total}
    for find, name in (("effect", design.primary), ("margin", "margin"), ("alpha", "alpha")):
        found = settle(design, find, {key: value for key, value in sized.items() if key != name})
        again = settle(design, "power", {**sized, name: found.answer})
        assert again.power == pytest.approx(0.8, abs=1e-7), find


@pytest.mark.parametrize("design", [design for design in WITH if "difference" in design.starting], ids=lambda d: d.id)
def test_lower_is_the_mirror_image_of_higher(design: Design) -> None:
    """Effects and critical values change their signs, sizes and powers stay."""
    for kind in KINDS[:2]:
        up, down = (settle(design, "n", asked(design, kind, better)) for better in ("higher", "lower"))
        assert down.groups == up.groups
        assert down.power == pytest.approx(up.power, abs=1e-12)
        for name in ("noncentrality", "critical_value"):
            assert float(np.ravel(down.details[name])[0]) == pytest.approx(-float(np.ravel(up.details[name])[0]))


@DESIGNS
@pytest.mark.parametrize("kind", KINDS)
def test_power_is_what_happens(design: Design, kind: str) -> None:
    """Simulated data, tested as an analyst would; on the edge of the null hypothesis the test rejects at alpha."""
    of = planned(design, "n", asked(design, kind))
    simulated = rehearse(stage(of, Departing()), seed=3)
    # whole counts, which the normal curve has not; ratios of few events, whose logarithm is not quite normal
    missed = 0.016 if design.id == "one-proportion" else 0.02 if isinstance(design, WithRatioMargins) else 0.0
    assert simulated.power == pytest.approx(of.answer.power, abs=4 * simulated.standard_error + missed)
    none = rehearse(stage(of, Departing(asked={"effect": "none"})), seed=4)
    assert none.power == pytest.approx(float(of.answer.plan.alpha), abs=0.01)


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"hypothesis": "equivalence", "margin_low": -3.0}, "margin_high"),
        ({"hypothesis": "equivalence", "margin_low": 3.0, "margin_high": 1.0}, "margin_low"),
        ({"hypothesis": "non-inferiority"}, "margin"),
        ({"hypothesis": "non-inferiority", "margin": 0}, "margin"),
        ({"hypothesis": "equivalence", "margin": 2.0, "better": "lower"}, "better"),
        ({"hypothesis": "superiority", "margin": 2.0, "sides": "two"}, "sides"),
        ({"margin": 2.0}, "margin"),
        ({"better": "lower"}, "better"),
        ({"hypothesis": "superiority", "margin": 9.0}, "difference"),
        ({"hypothesis": "equivalence", "margin": 5.0}, "difference"),
    ],
)
def test_what_does_not_go_together_is_refused_at_its_field(more: dict[str, Any], field: str) -> None:
    """In a sentence."""
    design = next(design for design in WITH if design.id == "two-means")
    with pytest.raises(RequestError) as said:
        settle(design, "n", {"difference": 5.0, "sd": 10.0, **more})
    assert said.value.field == field
    assert said.value.message.endswith(".")


def test_margins_that_leave_out_no_difference_are_allowed() -> None:
    """As long as the true effect lies between them."""
    design = next(design for design in WITH if design.id == "two-means")
    values = {"difference": 5.0, "sd": 10.0, "hypothesis": "equivalence", "margin_low": 1.0, "margin_high": 9.0}
    answer = settle(design, "n", values)
    same = settle(design, "n", {"sd": 10.0, "hypothesis": "equivalence", "margin": 4.0})
    assert isinstance(answer.plan, EquivalencePlan)
    assert answer.groups == same.groups


@given(low=st.floats(0.2, 8), high=st.floats(0.2, 8), df=st.floats(1, 400), alpha=st.floats(1e-4, 0.4))
@settings(max_examples=40, deadline=None)
def test_the_integral_is_that_of_a_general_integrator(low: float, high: float, df: float, alpha: float) -> None:
    """Over the estimated SD, by adaptive quadrature."""
    t = float(-stats.t.ppf(alpha, df))
    largest = (low + high) / (2 * t)

    def inside(s: float) -> float:
        between = stats.norm.cdf(high - t * s) - stats.norm.cdf(-low + t * s)
        return float(max(between, 0.0) * stats.chi2.pdf(df * s * s, df) * 2 * df * s)

    points = [float(np.sqrt(stats.chi2.ppf(share, df) / df)) for share in (1e-6, 0.01, 0.5, 0.99)]
    ends = sorted({0.0, *(point for point in points if point < largest), min(largest, 40.0)})
    expected = sum(integrate.quad(inside, *pair, epsabs=1e-11, limit=200)[0] for pair in itertools.pairwise(ends))
    assert float(power_with_estimated_sd(-low, high, df, alpha)) == pytest.approx(expected, abs=2e-8)


def test_with_very_many_degrees_of_freedom_the_sd_is_known() -> None:
    """Both formulas agree there; without room between the limits power is 0."""
    for low, high in ((-3.0, 3.0), (-2.0, 5.0)):
        known = float(power_with_known_sd(low, high, 0.05))
        assert float(power_with_estimated_sd(low, high, 1e8, 0.05)) == pytest.approx(known, abs=1e-6)
    assert float(power_with_known_sd(-1.0, 1.0, 0.05)) == 0.0


def test_the_report_states_a_margin_in_symbols_and_words() -> None:
    """The claim, the margin among the assumptions, no word of sides."""
    aim = sampler_study().aim("reaction")
    own = {"hypothesis": "non-inferiority", "margin": 6.0, "better": "lower", "difference": 0.0}
    entries = {**aim.entries, **{name: Entry(value=value) for name, value in own.items()}}
    study = sampler_study().changed(aims=(aim.changed(entries=entries, scenarios=(), planned=""),))
    blocks = report_of(study).blocks
    claims = next(block.lines for block in blocks if isinstance(block, FormulaBlock))
    assert claims == ("H₀: μ₂ − μ₁ ≥ 6;  H₁: μ₂ − μ₁ < 6",)
    text = " ".join(getattr(block, "text", "") for block in blocks).replace("\u00a0", " ")
    assert "is not higher than with brighter by more than 6 ms (non-inferiority margin), assuming that" in text
    rows = [row for block in blocks for row in getattr(block, "rows", ()) if row[0] == "Margin"]
    assert [row[1] for row in rows] == ["6\u00a0ms"]
    assert not [row for block in blocks for row in getattr(block, "rows", ()) if row[0] == "Sides"]


@pytest.mark.parametrize(
    ("values", "find"),
    [
        ({"hypothesis": "equivalence", "null_proportion": 0.4, "margin": 0.2}, "equivalence"),
        ({"hypothesis": "non-inferiority", "null_proportion": 0.7, "margin": 0.15}, "above"),
        ({"hypothesis": "non-inferiority", "null_proportion": 0.3, "margin": 0.15, "better": "lower"}, "below"),
    ],
)
def test_exact_margins_by_brute_force(values: dict[str, Any], find: str) -> None:
    """Every size up to twice the one found: first and steady are those of sums over all counts."""
    design = next(design for design in WITH if design.id == "one-proportion")
    answer = settle(design, "n", values)
    p0, margin = values["null_proportion"], values["margin"]
    alpha = 0.05 if find == "equivalence" else 0.025

    def power(n: int) -> float:
        x = np.arange(n + 1)
        above = stats.binom.sf(x - 1, n, p0 - margin) <= alpha
        below = stats.binom.cdf(x, n, p0 + margin) <= alpha
        kept = {"equivalence": above & below, "above": above, "below": below}[find]
        return float(stats.binom.pmf(x, n, p0)[kept].sum())

    powers = {n: power(n) for n in range(1, 2 * answer.total)}
    reached = [n for n, each in powers.items() if each >= 0.8]
    missed = [n for n, each in powers.items() if each < 0.8]
    assert answer.n_more == {"first": reached[0], "steady": missed[-1] + 1}
    assert answer.total == missed[-1] + 1
    assert answer.power == pytest.approx(powers[answer.total], abs=1e-9)


def test_two_tests_point_to_both_sides() -> None:
    """A true effect below no difference is nothing against a one-sided test: equivalence looks to both sides."""
    for name, effect in (
        ("two-means", {"difference": -2.0, "sd": 10.0}),
        ("crossover-means", {"difference": -2.0, "sd_within": 8.0}),
    ):
        answer = settle(design_named(name), "n", {**effect, "hypothesis": "equivalence", "margin": 6.0})
        assert answer.power >= 0.8
        assert not any("points against" in note for note in answer.notes)


def test_a_ratio_of_means_has_the_margins_of_a_protocol() -> None:
    """On logarithms equivalence is between 0.8 and 1.25 unless others are given; 24 are needed with a CV of 25%."""
    design = design_named("crossover-means")
    base = {"scale": "log", "hypothesis": "equivalence", "cv": 0.25}
    usual = settle(design, "n", base)
    given = settle(design, "n", {**base, "margin_low": 0.8, "margin_high": 1.25})
    assert usual.total == given.total
    assert usual.effect["mean_ratio"] == 1.0
    found = settle(design, "margin", {**base, "n": usual.total})
    assert 1 < found.answer < 1.25
    with pytest.raises(RequestError) as refused:
        settle(design, "n", {**base, "mean_ratio": 1.3})
    assert refused.value.field == "mean_ratio"


EQUIVALENT: dict[str, dict[str, Any]] = {
    "two-means": {"difference": 1.0, "sd": 10.0, "margin": 4.0},
    "two-proportions": {"proportion1": 0.7, "proportion2": 0.72, "margin": 0.12},
    "one-proportion": {"proportion": 0.7, "null_proportion": 0.72, "margin": 0.12, "method": "score"},
    "crossover-means": {"scale": "log", "mean_ratio": 0.95, "cv": 0.25},
}


@pytest.mark.parametrize("design", EQUIVALENT)
def test_the_picture_of_equivalence_has_a_null_hypothesis_on_each_margin(design: str) -> None:
    """Between the limits lies about alpha of the studies on a margin, and the power of those planned."""
    given = {**EQUIVALENT[design], "hypothesis": "equivalence"}
    answer = settle(design_named(design), "n", given)
    assert has_two_tests(answer)
    shown = two_tests_of(answer, "as planned")
    step, inside = np.gradient(shown.x), shown.rejected()
    on_margins = [(null * step)[inside].sum() for null in (shown.at_low, shown.at_high)]
    assert on_margins == pytest.approx([0.05, 0.05], abs=0.015)  # proportions scatter otherwise at each truth
    assert (shown.effect * step)[inside].sum() == pytest.approx(answer.power, abs=0.02)
    assert shown.limits[0] > shown.margins[0]
    assert shown.limits[1] < shown.margins[1]
    few = two_tests_of(settle(design_named(design), "power", {**given, "n": 8}), "as planned")
    assert not few.rejected().any()
    assert "no estimate shows equivalence" in few.says


def test_the_margins_of_a_ratio_are_read_as_ratios() -> None:
    """0.80 and 1.25, not their logarithms; an exact test of counts has no such picture."""
    ratio = settle(design_named("crossover-means"), "n", {**EQUIVALENT["crossover-means"], "hypothesis": "equivalence"})
    shown = two_tests_of(ratio, "ratio 0.95")
    assert shown.margins == pytest.approx((0.8, 1.25))
    assert shown.x_label == "estimated ratio"
    exact = {**EQUIVALENT["one-proportion"], "method": "exact", "hypothesis": "equivalence"}
    assert not has_two_tests(settle(design_named("one-proportion"), "n", exact))


def test_margins_that_leave_no_difference_outside_are_taken_and_noted() -> None:
    """Shown is then that there is a difference, and how large it is at most."""
    given = {"difference": 5.0, "sd": 10.0, "hypothesis": "equivalence", "margin_low": 2.0, "margin_high": 8.0}
    note = "No difference at all lies outside these margins."
    assert note in settle(design_named("two-means"), "n", given).notes
    assert note not in settle(design_named("two-means"), "n", {**given, "margin_low": -2.0}).notes


def test_a_chance_of_one_half_is_said_as_such() -> None:
    """In the words in which the effect is stated."""
    with pytest.raises(RequestError, match="Give a chance other than 50%"):
        settle(design_named("rank-sum"), "n", {"probability": 0.5})
