"""Exact tests in the window: steps, answers that come later, and stopping them."""

from __future__ import annotations

from collections.abc import Callable
from threading import Event

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from ragwort.app.picture.picture import ROUGH
from ragwort.app.shell.window import Window
from ragwort.designs import Answer, design_named
from ragwort.figures.pictures import Picture
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.map import Map
from ragwort.figures.shown.steps import Steps
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import Halted, Pending

from .conftest import retype, settle, type_into, wait_until


@pytest.fixture
def fisher(window: Window) -> Window:
    """The demo's sleepy staff, by Fisher's exact test."""
    window.session.select("sleepy")
    window.session.do(edits.set_value(window.session.study, "sleepy", "method", "fisher"))
    settle(window)
    return window


def tabs(window: Window) -> list[str]:
    """The pictures that can be chosen."""
    buttons = window.bench.picture.findChildren(QPushButton, "pictureTab")
    return [button.text() for button in buttons if button.isVisible()]


def test_an_exact_test_has_steps(window: Window) -> None:
    """Limits, actual alpha and power size by size; the first and the steady size are named; exported as data too."""
    window.session.select("awake")
    settle(window)
    assert tabs(window) == ["Curve", "Map", "Errors", "Drivers", "Spread", "Steps"]
    assert isinstance(window.bench.picture.canvas.picture, Curve)
    assert window.bench.picture.canvas.picture.named[0][2] == "first: 169"
    window.bench.picture.show_tab("Steps")
    settle(window)
    steps = window.bench.picture.canvas.picture
    assert isinstance(steps, Steps)
    assert sorted(steps.marks.values()) == ["first", "steady"]
    assert steps.head() == ["n", "reject at or below", "reject at or above", "actual alpha", "power"]
    assert "first reached at 169 and kept from 185 on" in window.bench.picture.says.whole()
    assert all(alpha <= 0.05 for alpha in steps.alpha)
    assert len(steps.rows()) == len(steps.x) + 1
    window.session.select("reaction")
    settle(window)
    assert tabs(window) == ["Curve", "Map", "Errors", "Drivers", "Spread", "Split"]
    assert isinstance(window.bench.picture.canvas.picture, Curve)


def test_the_last_answer_stays_marked_until_the_next_is_there(fisher: Window) -> None:
    """A slow answer: the old one in brackets, the picture faded; then the new one everywhere."""
    before = fisher.bench.ledger.row("n").editor.text()
    fisher.session.do(edits.set_value(fisher.session.study, "sleepy", "proportion2", 0.41))
    outcome = fisher.session.outcome(fisher.session.aim)
    assert isinstance(outcome, Pending)
    assert fisher.bench.ledger.row("n").editor.text() == f"({before})"
    assert f"so that {before} (" in fisher.bench.sentence.text()
    assert "being worked out" in fisher.bench.sentence.text()
    assert "being worked out" in fisher.bench.picture.canvas.stale
    settle(fisher)
    answer = fisher.session.outcome(fisher.session.aim)
    assert isinstance(answer, Answer)
    assert fisher.bench.ledger.row("n").editor.text() == str(answer.total)
    assert not fisher.bench.picture.canvas.stale
    assert fisher.bench.picture.canvas.picture.point[1] == answer.power


@pytest.mark.impatient
def test_an_answer_to_another_question_is_not_shown_meanwhile(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    """Another design, another unknown: no number until its own is there."""
    session = window.session
    type_into(window, "sd", "23.71")  # what no other test has asked for
    settle(window)
    with monkeypatch.context() as held_up:
        held_up.setattr(session.answers, "_start", lambda *_: None)
        session.do(edits.change_design(session.study, "reaction", design_named("cluster-means")))
        assert session.outcome(session.aim).last is None
        assert "Recruit —" in window.bench.sentence.text()
    session.answers.arrived.emit()
    settle(window)
    assert isinstance(session.outcome(session.aim), Answer)


def test_a_slow_answer_can_be_stopped_and_started_again(fisher: Window) -> None:
    """Stop leaves a dash and the way back; nothing entered is lost."""
    fisher.session.do(edits.set_value(fisher.session.study, "sleepy", "proportion2", 0.4))
    assert fisher.bench.picture.stop.text() == "Stop"
    QTest.mouseClick(fisher.bench.picture.stop, Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert isinstance(fisher.session.outcome(fisher.session.aim), Halted)
    assert fisher.session.aim.values()["proportion2"] == 0.4
    assert fisher.bench.picture.stop.text() == "Work it out"
    fisher.session.do(edits.set_value(fisher.session.study, "sleepy", "proportion2", 0.3))
    settle(fisher)
    assert isinstance(fisher.session.outcome(fisher.session.aim), Answer)
    fisher.session.undo()
    QTest.mouseClick(fisher.bench.picture.stop, Qt.MouseButton.LeftButton)
    settle(fisher)
    assert isinstance(fisher.session.outcome(fisher.session.aim), Answer)


def test_typing_on_gives_up_the_answer_before(fisher: Window) -> None:
    """Only the last of several quick edits is worked out."""
    for percent in ("42", "43", "36"):
        type_into(fisher, "proportion2", percent)
    assert len(fisher.session.answers.under_way) <= 1
    settle(fisher)
    assert "and 36% with brighter" in fisher.bench.sentence.text()
    assert isinstance(fisher.session.outcome(fisher.session.aim), Answer)


def test_a_slow_scenario_is_kept_beside_a_quick_aim(fisher: Window) -> None:
    """Its card and its curve come when they are ready."""
    fisher.bench.shelf.keep()
    fisher.session.do(edits.set_value(fisher.session.study, "sleepy", "method", "pooled"))
    settle(fisher)
    assert [card.answer for card in fisher.bench.shelf.cards] == ["186", "204"]
    assert [series.stepped for series in fisher.bench.picture.canvas.picture.series] == [False, True]


def test_whole_clusters_in_the_window(window: Window) -> None:
    """Wards are counted; the flower can stand on their likeness and on their size."""
    window.session.select("misses")
    assert "in wards of 18 (" in window.bench.sentence.text()
    assert "wards per arm" in window.bench.sentence.text()
    for name in ("icc", "cluster_size"):
        window.session.do(edits.move_flower(window.session.study, "misses", name))
        outcome = window.session.outcome(window.session.aim)
        assert isinstance(outcome, Answer)
        assert float(window.bench.ledger.row(name).editor.text()) == pytest.approx(float(outcome.answer), rel=0.02)
    assert "5 wards of" in window.bench.sentence.text()


def test_strata_are_typed_and_broken_down(window: Window) -> None:
    """The strata stand in cells; what follows from them adds up below; words are the study's own."""
    window.session.select("errors")
    shown = window.bench.ledger.breakdown
    assert shown.isVisible()
    assert "brighter: wards" in shown.text()
    assert "whole wards" not in shown.text()  # they are whole
    assert "<th align=right>5</th>" in shown.text()
    window.bench.detail.show_words()
    assert window.bench.detail.words["clusters"].isVisible()
    retype(window.bench.detail.words["clusters"], "units")
    assert "in units of different sizes" in window.bench.sentence.text()
    window.session.do(edits.choose_way(window.session.study, "errors", design_named("cluster-means").ways[1][0]))
    assert "in units of 16.59" in window.bench.sentence.text()
    assert shown is not window.bench.ledger.breakdown or not shown.isVisible()


def test_a_slow_picture_of_an_edit_taken_back_never_comes(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    """The one that is wanted again is in view at once; what was on its way to take its place is given up."""
    session, view = window.session, window.bench.picture
    session.select("sleepy")
    session.do(edits.choose_for_picture(session.study, "sleepy", "Curve", {"y": "n", "x": "proportion2"}))
    view.show_tab("Curve")
    monkeypatch.setattr(view, "_picture_soon", lambda aim, answer: None)  # as if each took long
    view.refresh()
    settle(window)
    before, gate, draw = view.canvas.picture, Event(), view.drawing

    def held(aim: Aim, answer: Answer, rough: bool = False) -> Callable[[], Picture]:
        made = draw(aim, answer, rough)
        return lambda: (gate.wait(20), made())[1]

    monkeypatch.setattr(view, "drawing", held)
    session.do(edits.set_value(session.study, "sleepy", "sides", "less"))
    session.undo()
    gate.set()
    settle(window)
    assert view.canvas.picture is before


def test_a_slow_picture_has_its_usual_axis_once_a_drag_is_over(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    """During the drag the axis stays as long as it can; the picture of its last step is not kept with it."""
    session, view = window.session, window.bench.picture
    session.select("reaction")
    view.show_tab("Curve")
    settle(window)
    monkeypatch.setattr(view, "_picture_soon", lambda aim, answer: None)  # as if each took long
    session.scrub(edits.set_value(session.study, "reaction", "difference", 48.0))
    settle(window)
    assert view.canvas.picture.x.ends[1] > 20 * view.canvas.picture.point[0]
    session.end_scrub()
    settle(window)
    assert view.canvas.picture.x.ends[1] < 8 * view.canvas.picture.point[0]


def test_a_slow_picture_comes_roughly_first(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    """Few places soon, with word of the fine picture and how far that is; then many, on the same axes; undo, too."""
    window.session.select("sleepy")
    window.session.do(edits.set_value(window.session.study, "sleepy", "proportion1", 0.7))
    window.session.do(edits.set_value(window.session.study, "sleepy", "method", "fisher"))
    view, seen = window.bench.picture, []
    show = view.canvas.show_picture
    said: list[str] = []

    def remember(picture: object, *rest: object, **more: object) -> None:
        seen.append(picture)
        show(picture, *rest, **more)

    monkeypatch.setattr(view.canvas, "show_picture", remember)
    say = view.says.set_text
    monkeypatch.setattr(view.says, "set_text", lambda text: (said.append(text), say(text)))
    view.show_tab("Map")
    settle(window)
    rough, fine = [picture for picture in seen if isinstance(picture, Map)][-2:]
    assert rough.z.shape == (13, 13)
    assert fine.z.shape == (61, 61)
    assert (rough.x.ends, rough.y.ends) == (fine.x.ends, fine.y.ends)
    assert any(text.startswith(ROUGH) and text.endswith("%.") for text in said)
    assert said[-1] == fine.says

    # An edit taken back while its picture is rough: what is in view is of the edit, not of what is wanted again.
    before = view.canvas.picture
    assert isinstance(before, Map)
    window.session.do(edits.set_value(window.session.study, "sleepy", "proportion2", 0.28))
    wait_until(lambda: view.says.whole().startswith(ROUGH))
    window.session.undo()
    settle(window)
    shown = view.canvas.picture
    assert isinstance(shown, Map)
    assert (shown.point, shown.z.shape) == (before.point, before.z.shape)
