"""The panel of how the aims share the study's error, in the window."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from ragwort.app.shell.window import Window
from ragwort.app.sources.sharing_panel import SharingPanel
from ragwort.study.sharing.family import rounded_down

from .conftest import retype, settle, type_into, wait_until


@pytest.fixture
def panel(window: Window) -> SharingPanel:
    """The panel, opened over the picture."""
    window.bench.show_panel("sharing")
    done(window)
    return window.bench.right.of(SharingPanel)


def done(window: Window) -> None:
    """Wait until the chances are there."""
    settle(window)
    wait_until(lambda: not window.bench.right.of(SharingPanel).jobs.busy)


def choose(panel: SharingPanel, window: Window, name: str, words: str) -> None:
    """Choose in the list of a word, as by a click."""
    if name.startswith("role_"):
        row = [aim.id for aim in window.session.study.aims].index(name.removeprefix("role_"))
        place = panel.table.visualItemRect(panel.table.item(row, 1)).center()
        QTest.mouseClick(panel.table.viewport(), Qt.MouseButton.LeftButton, pos=place)
    else:
        word = next(each for each in panel.sentence.tokens if each.piece.name == name)
        QTest.mouseClick(word, Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    menu.setActiveAction(next(action for action in menu.actions() if action.text() == words))
    QTest.keyClick(menu, Qt.Key.Key_Return)
    done(window)


def cell(panel: SharingPanel, row: int, column: int) -> str:
    """What stands in the table."""
    item = panel.table.item(row, column)
    assert item is not None
    return item.text()


def test_a_plan_is_chosen_and_goes_into_every_answer(panel: SharingPanel, window: Window) -> None:
    """Alphas, sizes and chances follow; one undo takes all of it back."""
    before = window.session.study
    assert cell(panel, 0, 2) == "0.05"
    choose(panel, window, "plan", "by Holm's procedure")
    count = len(before.aims)
    alpha = rounded_down(0.05 / count)
    assert cell(panel, 0, 2) == f"{alpha:g}"
    assert cell(panel, 0, 5).endswith("%")
    assert "are significant with probability" in panel.says.text()
    assert window.bench.ledger.row("alpha").editor.text() == f"{alpha:g}"
    choose(panel, window, "role_reaction", "exploratory")
    assert cell(panel, 0, 2) == "0.05"
    window.session.undo()
    window.session.undo()
    assert window.session.study == before


def test_an_alpha_typed_under_a_plan_is_refused_with_the_reason(panel: SharingPanel, window: Window) -> None:
    """In the ledger; what was typed stays to be seen."""
    choose(panel, window, "plan", "in equal parts")
    type_into(window, "alpha", "0.01")
    aim = window.session.aim
    assert aim is not None
    assert "Change the plan, or make the aim exploratory." in aim.entry("alpha").fault
    assert window.bench.ledger.row("alpha").editor.text() == "0.01"


def test_the_studys_alpha_is_typed(panel: SharingPanel, window: Window) -> None:
    """And what cannot be read says why."""
    choose(panel, window, "plan", "in fixed order")
    word = next(each for each in panel.sentence.tokens if each.piece.name == "alpha")
    word.setFocus()
    QTest.keyClick(word, Qt.Key.Key_Return)
    assert word.editor is not None
    retype(word.editor, "0.02")
    done(window)
    assert cell(panel, 0, 2) == "0.02"
    assert window.session.study.family.alpha == 0.02


def test_another_study_of_the_same_numbers_has_its_own_powers(window: Window, panel: SharingPanel) -> None:
    """A new aim is another one, though everything that counts is as it was."""
    study = window.session.study
    first = study.aims[0]
    window.session.open(study.changed(aims=(first,)), None)
    window.bench.show_panel("sharing")
    done(window)
    window.session.open(study.changed(aims=(first.changed(id="another"),)), None)
    window.bench.show_panel("sharing")
    done(window)
    assert cell(panel, 0, 6).endswith("%")
