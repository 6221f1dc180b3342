"""Aims that end with an interval, in the window: added, typed into, found otherwise, rehearsed, written, reopened."""

from __future__ import annotations

from pathlib import Path

from ragwort.app.rehearse.page import RehearsePage
from ragwort.app.report.page import ReportPage
from ragwort.app.shell.window import Window
from ragwort.designs import design_named
from ragwort.study import edits
from ragwort.study.document.files import read_study, write_study

from .conftest import settle, type_into, wait_until


def added(window: Window, design: str) -> str:
    """The aim in view is a new one of this design, beside the demo's, which share an alpha."""
    aim = edits.new_aim(design_named(design), "How long naps are")
    window.session.do(edits.add_aim(window.session.study, aim))
    window.session.select(aim.id)
    settle(window)
    return aim.id


def test_a_new_one_has_its_answer_beside_aims_that_share_an_alpha(window: Window) -> None:
    """Nothing of the family's alpha comes to it; its card says the half width."""
    added(window, "precision-mean")
    assert window.bench.sentence.sentence.text().startswith("Recruit 46 ")
    assert "that reaches 3 either side" in window.bench.sentence.sentence.text()
    card = window.aims.cards[-1]
    assert "half width" in card.rest
    assert "power" not in card.rest


def test_typed_values_move_the_sentence_and_the_half_width_is_found(window: Window) -> None:
    """From a size that is typed; undone step by step."""
    aim_id = added(window, "precision-mean")
    type_into(window, "half_width", "2")
    settle(window)
    assert window.bench.sentence.sentence.text().startswith("Recruit 99 ")
    window.session.do(edits.move_flower(window.session.study, aim_id, "effect"))
    type_into(window, "n", "150")
    settle(window)
    assert "that reaches 1.62 either side" in window.bench.sentence.sentence.text()
    for _ in range(2):
        window.session.undo()
    settle(window)
    assert window.bench.sentence.sentence.text().startswith("Recruit 99 ")


def test_it_is_rehearsed_and_written(window: Window) -> None:
    """How many are narrow, as the formula says; the protocol has no power of it."""
    added(window, "precision-proportion")
    window.show_page("Rehearse")
    wait_until(lambda: not window.busy)
    assert window.pages.of(RehearsePage).table.horizontalHeaderItem(1).text() == "narrow"
    window.show_page("Report")
    wait_until(lambda: "will be estimated as a proportion" in window.pages.of(ReportPage).preview.toPlainText())


def test_it_is_saved_and_read_again(window: Window, tmp_path: Path) -> None:
    """With its goal."""
    aim_id = added(window, "precision-two-means")
    window.session.do(edits.set_value(window.session.study, aim_id, "goal", "assured"))
    path = tmp_path / "naps.ragwort"
    write_study(window.session.study, path)
    again = read_study(path).aim(aim_id)
    assert again.values()["goal"] == "assured"
    assert "with a chance of" in window.bench.sentence.sentence.text()
