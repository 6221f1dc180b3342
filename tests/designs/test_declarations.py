"""Every design is declared in full: one test walks them all."""

from __future__ import annotations

import re

import numpy as np
import pytest

from ragwort.designs import Design, RequestError, all_designs, design_named, settle
from ragwort.stats.statistic import Test as Statistic

DESIGNS = pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
WORDS = {
    "many",
    "group_sizes",
    "total",
    "cluster_word",
    "cluster_numbers",
    "outcome",
    "mean_outcome",
    "others",
    "times",
    "at_least",
    "to_recruit",
}


@DESIGNS
def test_declaration_is_complete(design: Design) -> None:
    """Title, help, references, what must hold of the data: nothing is left empty."""
    assert design.title
    assert design.summary.endswith("?")
    assert design.references
    assert design.data_assumptions
    assert design.approximation.endswith(".")
    for assumption in design.assumptions:
        assert len(assumption.help) > 20, assumption.name
        assert assumption.chosen == bool(assumption.choices)
        assert assumption.default is None or assumption.check(assumption.default) == assumption.default
    assert len({a.name for a in design.assumptions}) == len(design.assumptions)


@DESIGNS
def test_ways_name_declared_assumptions(design: Design) -> None:
    """Nothing can be stated through a quantity that does not exist."""
    names = {assumption.name for assumption in design.assumptions}
    for ways in (*design.ways, design.sizes):
        assert {name for way in ways for name in way.names} <= names
    assert design.primary in names


@DESIGNS
@pytest.mark.parametrize("find", ["n", "power", "effect", "alpha", "confidence"])
def test_starting_values_have_an_answer(design: Design, find: str) -> None:
    """A new aim is never empty, whatever is asked of it; its sentence names only what can be filled in."""
    if find not in design.finds_with(design.starting):
        pytest.skip("not found by it")
    sized = settle(design, "n", design.starting)
    values = design.starting | design.sizes_as_values(sized.groups, sized.plan)
    values = {name: value for name, value in values.items() if name not in design.unused_names(find)}
    answer = settle(design, find, values)
    known = {a.name for a in design.assumptions} | set(answer.effect) | WORDS
    chosen = {a.name: design.default_choice(a.name, values) for a in design.assumptions if a.chosen}
    known |= {naming.key for naming in design.names(values)}
    tokens = [token.partition(".")[0] for token in re.findall(r"\{([\w.]+)\}", design.sentence(chosen | values, find))]
    assert set(tokens) <= known
    assert design.unknown_of(find) in tokens
    compared = re.findall(r"\{([\w.]+)\}", design.in_protocol.compared)
    assert {token.partition(".")[0] for token in compared} <= known | {"subject"}
    assert design.method_text(chosen | values).endswith(".")


@pytest.mark.parametrize("design", [each for each in all_designs() if each.tested], ids=lambda design: design.id)
def test_statistic_at_the_answer_gives_its_power(design: Design) -> None:
    """The picture's distributions are those of the answer."""
    answer = settle(design, "n", design.starting)
    statistic: Statistic = answer.plan.test(answer.sizes())
    assert float(np.ravel(statistic.power(0.05, "two"))[0]) == pytest.approx(answer.power, abs=1e-12)


def test_unknown_design_names_the_nearest() -> None:
    """A slip of the keyboard is answered with what was meant."""
    with pytest.raises(RequestError, match="'two-means'"):
        design_named("tow-means")


@DESIGNS
def test_every_other_way_to_state_the_effect_says_the_same(design: Design) -> None:
    """Stating it another way keeps the sample size to within rounding of four digits."""
    total = settle(design, "n", design.starting).total
    for ways in (ways for ways in design.ways if any(design.primary in way.names for way in ways)):
        names = {name for way in ways for name in way.names}
        for way in ways:
            idle = design.idle_names(design.starting).issuperset(way.names)
            if not idle and all(design.assumption(name).in_ledger for name in way.names):
                kept = {n: value for n, value in design.starting.items() if n not in names and n not in way.without}
                rough = 0.08 if "proportions1" in way.names else 0.01  # fifths say less than a measured outcome
                restated = design.restate(design.starting, way) or {n: design.starting[n] for n in way.names}
                assert settle(design, "n", kept | restated).total == pytest.approx(total, rel=rough, abs=2)
