"""The pictures of interim analyses: what they show is what the core answers; a look is dragged."""

from __future__ import annotations

import io

import numpy as np
import pytest
from scipy import stats

from ragwort.demo import demo_study
from ragwort.designs import Answer, all_designs, settle
from ragwort.designs.looks import WithLooks
from ragwort.figures.export import picture_bytes
from ragwort.figures.pictures import PICTURE_FORMATS, Scene, picture_of, pictures_for
from ragwort.figures.shown.boundaries import Boundaries
from ragwort.figures.shown.expected_size import ExpectedSize
from ragwort.figures.shown.look_times import LookTimes
from ragwort.figures.shown.shown import Pointer
from ragwort.figures.steering.sentences import picture_sentence
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.pages import Steer
from ragwort.study.results.looks import looks_of
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.sentence import plain_text


def looked(text: str = "1", **steer: str) -> tuple[Aim, Answer]:
    """The demo's first aim with looks, its pictures steered so."""
    study = demo_study()
    aim = edits.type_looks(study, study.aims[0].id, text).study.aims[0]
    aim = aim.changed(pictures={name: Steer(**steer) for name in ("Boundaries", "Expected size")})
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    return aim, answer


def boundaries(text: str = "1", **steer: str) -> Boundaries:
    """The picture."""
    made = picture_of("Boundaries", Scene(*looked(text, **steer)))
    assert isinstance(made, Boundaries)
    return made


def test_boundaries_are_those_of_the_answer() -> None:
    """In the effect's own unit, on both sides; as z; against the share of the information."""
    _, answer = looked()
    made = boundaries()
    first, last = looks_of(answer)
    assert made.marks[0].upper == pytest.approx(first.effect)
    assert made.marks[0].lower == pytest.approx(-first.effect, rel=1e-6)
    assert made.marks[-1].upper == pytest.approx(last.effect)
    assert [mark.x for mark in made.marks] == [64, 128]
    assert made.y_label == "difference seen so far, ms"
    assert [mark.upper for mark in boundaries(y="z").marks] == pytest.approx([-first.bound, -last.bound])
    assert [mark.x for mark in boundaries(x="share").marks] == [50, 100]
    assert made.planned.y == pytest.approx([-12.0, -12.0])


def test_a_look_is_dragged_between_its_neighbours() -> None:
    """Whichever is held; by keys, too."""
    aim, answer = looked("25%, 50%")
    made = boundaries("25%, 50%").holding(1)
    assert len(made.handles) == 2
    moved = made.moved_to(aim, answer, (0.7 * made.most, 0.0)).values["fractions"]
    assert moved == pytest.approx([0.25, 0.7, 1.0])
    pushed = made.moved_to(aim, answer, (0.0, 0.0)).values["fractions"]
    assert 0.25 < pushed[1] < 0.28
    assert made.moved_by(aim, answer, (1, 0)).values["fractions"][1] == pytest.approx(0.51, abs=1e-3)


def test_hovering_reads_a_look() -> None:
    """Near it, and nowhere else."""
    made = boundaries()
    read = made.reading(Pointer(66.0, 0.0, (0.5, 0.1)))
    assert read is not None
    assert "after 64 staff: stops at −17.8\u00a0ms or less" in read.words
    assert made.reading(Pointer(20.0, 0.0, (0.5, 0.1))) is None
    assert len(made.walk()) == 2


def test_expected_size_is_the_answer_at_the_planned_effect_and_without() -> None:
    """And never more than all; beside a study with one analysis."""
    aim, answer = looked("3")
    made = picture_of("Expected size", Scene(aim, answer))
    assert isinstance(made, ExpectedSize)
    assert made.planned[1] == pytest.approx(answer.details["expected_n_effect"], rel=1e-4)
    without = made.reading(Pointer(0.0, 0.0, (0.1, 0.1)))
    assert without is not None
    assert without.y == pytest.approx(answer.details["expected_n_null"], rel=1e-3)
    assert max(made.values) <= answer.total
    assert made.fixed is not None
    assert made.fixed <= answer.total
    early = picture_of("Expected size", Scene(*looked("3", y="early")))
    assert isinstance(early, ExpectedSize)
    assert early.planned[1] == pytest.approx(100 * sum(answer.details["reject_effect"][:-1]), rel=1e-4)


def test_sentences_of_both_pictures() -> None:
    """Each with its choices; the ends of the axis are typed."""
    aim, answer = looked()
    for name, said in (
        ("Boundaries", "The difference seen so far at which the study stops, against staff analysed."),
        ("Expected size", "Expected size against the true difference from −19.2 to 0 ms."),
    ):
        shown = picture_of(name, Scene(aim, answer))
        sentence = picture_sentence(name, aim, answer, shown)
        assert sentence is not None
        assert plain_text(sentence.pieces) == said


@pytest.mark.parametrize("design", [each for each in all_designs() if isinstance(each, WithLooks)], ids=lambda d: d.id)
@pytest.mark.parametrize("futility", ["none", "non-binding"])
def test_every_design_has_both_pictures_in_every_format(design: WithLooks, futility: str) -> None:
    """Also one-sided with futility; events and ratios included."""
    values = {**design.starting, "fractions": [0.3, 0.6, 1], "futility": futility}
    values |= {"sides": "less" if design.id == "survival" else "greater"} if futility != "none" else {}
    values |= {"method": "score"} if design.id == "one-proportion" else {}
    aim = Aim(design=design.id, entries={name: Entry(value=value) for name, value in values.items()})
    answer = settle(design, "n", values)
    for name in ("Boundaries", "Expected size", "Look times"):
        assert name in pictures_for(answer)
        made = picture_of(name, Scene(aim, answer))
        for kind in PICTURE_FORMATS:
            assert len(io.BytesIO(picture_bytes(made, kind)).getvalue()) > 100
    assert "Boundaries" not in pictures_for(settle(design, "n", {k: v for k, v in values.items() if k != "fractions"}))


def look_times(text: str = "1", **steer: str) -> LookTimes:
    """The picture."""
    aim, answer = looked(text)
    made = picture_of("Look times", Scene(aim.changed(pictures={"Look times": Steer(**steer)}), answer))
    assert isinstance(made, LookTimes)
    return made


def test_spending_keeps_the_error_whenever_a_look_comes() -> None:
    """Planned boundaries at other times do not; as planned both are alpha."""
    made = look_times()
    assert made.due == pytest.approx(np.full(len(made.due), 5.0), abs=1e-9)
    assert made.planned == (50.0, pytest.approx(5.0, abs=1e-9))
    early, late = made.as_planned[0], made.as_planned[-1]
    assert early > 5.1 > 4.95 > late
    assert "4.90% to 5.18%" in made.says


@pytest.mark.parametrize("at", [0.1, 0.3, 0.9])
def test_the_error_of_boundaries_kept_is_that_of_the_normal_distribution(at: float) -> None:
    """Two looks: a bivariate normal rectangle."""
    made = look_times()
    bounds = np.array([2.9625880427, 1.9686003605])
    together = stats.multivariate_normal(cov=[[1, at**0.5], [at**0.5, 1]])
    inside = together.cdf(bounds, lower_limit=-bounds)
    found = float(np.interp(100 * at, made.times, made.as_planned))
    assert found == pytest.approx(100 * (1 - inside), abs=2e-3)


def test_which_look_and_what_is_asked_are_steered() -> None:
    """The second of two, between its neighbours; power instead of the error."""
    made = look_times("2", x="2", y="power")
    assert made.look == 1
    assert made.x.ends == pytest.approx((35.33, 98.0), abs=0.01)
    assert made.planned[1] == pytest.approx(100 * outcome_power("2"), abs=1e-6)
    aim, answer = looked("2")
    said = picture_sentence("Look times", aim, answer, made)
    assert said is not None
    assert plain_text(said.pieces) == (
        "Power with the planned effect if the second interim analysis comes at another time than after 88 staff."
    )


def outcome_power(text: str) -> float:
    """Of the demo's first aim with such looks."""
    return float(looked(text)[1].power)
