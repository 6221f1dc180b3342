"""One-way sensitivity with an expression of the effect held: the second number goes with the first."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ragwort.designs import Answer, all_designs, answer_request, design_named
from ragwort.designs.holding import RATES, SHARES
from ragwort.figures.pictures import Scene, reported
from ragwort.figures.shown.drivers import Drivers, drivers_of
from ragwort.figures.steering.sentences import SENTENCES, plain
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of


def _study(held: str = "") -> Study:
    entries = {"proportion1": Entry(value=0.5, low=0.4, high=0.6), "proportion2": Entry(value=0.3, low=0.25, high=0.35)}
    study = Study(aims=(Aim(id="it", design="two-proportions", entries=entries),))
    return edits.choose_for_picture(study, "it", "Drivers", {"held": held}).study if held else study


def _drivers(study: Study) -> Drivers:
    answer = outcome_of(study.aim("it"))
    assert isinstance(answer, Answer)
    return drivers_of(study.aim("it"), answer, "n", None)


def _total(first: float, second: float) -> int:
    request = {"design": "two-proportions", "find": "n", "assumptions": {"proportion1": first, "proportion2": second}}
    return int(answer_request(request)["answer"])


@pytest.mark.parametrize(
    ("held", "second"),
    [("", 0.3), ("difference", 0.2), ("risk_ratio", 0.24), ("odds_ratio", 0.4 / 0.6 * 3 / 7 / (1 + 0.4 / 0.6 * 3 / 7))],
)
def test_the_bar_of_the_reference(held: str, second: float) -> None:
    """At 40% in place of 50%; that of the second proportion is the same whatever is held."""
    bars = {bar.name: bar for bar in _drivers(_study(held)).bars}
    assert bars["proportion1"].low.at == _total(0.4, second)
    assert bars["proportion2"].low.at == _total(0.5, 0.25)


def test_the_sentence_says_and_offers_it() -> None:
    study = _study("odds_ratio")
    aim, answer = study.aim("it"), outcome_of(study.aim("it"))
    assert isinstance(answer, Answer)
    shown, sentence = _drivers(study), SENTENCES["Drivers"]
    assert plain(sentence.pieces(aim, answer, shown)).endswith("plausible range, the odds ratio held.")
    offers = {name: words for name, words, _ in sentence.offers(aim, answer, shown, "held")}
    assert list(offers) == ["", "difference", "risk_ratio", "odds_ratio"]
    captions = [words for words, _ in reported(Scene(aim, answer))]
    assert any("the odds ratio held" in words for words in captions)


def test_an_effect_that_one_number_states_has_nothing_to_hold() -> None:
    study = Study(aims=(Aim(id="it", entries={"difference": Entry(value=5, low=4, high=6), "sd": Entry(value=9)}),))
    answer = outcome_of(study.aim("it"))
    assert isinstance(answer, Answer)
    words = plain(SENTENCES["Drivers"].pieces(study.aim("it"), answer, _drivers(study)))
    assert words.endswith("its plausible range.")


@given(st.floats(0.02, 0.98), st.floats(0.02, 0.98), st.floats(0.02, 0.98))
def test_what_is_held_stays(one: float, other: float, end: float) -> None:
    for held in (*SHARES, *RATES):
        moved = held.moved_to({held.moved: one, held.follows: other}, end)
        assert held.of(moved[held.moved], moved[held.follows]) == pytest.approx(held.of(one, other), rel=1e-9, abs=1e-9)


def test_what_is_held_is_of_the_design() -> None:
    for design in all_designs():
        names = {assumption.name for assumption in design_named(design.id).assumptions}
        assert all({held.moved, held.follows} <= names for held in design.holds)
