"""What fits the study: ways out above the limit and what the room below would buy, kept by one click."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QLineEdit, QMenu, QPushButton

from ragwort.app.session.token import Token
from ragwort.app.shell.window import Window
from ragwort.app.sources.compare_panel import ComparePanel
from ragwort.app.sources.ways_panel import WaysPanel
from ragwort.designs import design_named
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.overview import needs_of
from tests.app.conftest import MakeWindow, retype, settle, wait_until

LEFT = Qt.MouseButton.LeftButton


def opened(window: Window) -> WaysPanel:
    """By the link under the limit."""
    QTest.mouseClick(window.aims.study_needs.ways, LEFT)
    rest(window)
    return window.bench.right.of(WaysPanel)


def rest(window: Window) -> None:
    settle(window)
    wait_until(lambda: not window.bench.right.of(WaysPanel).jobs.busy)


def read(panel: WaysPanel) -> list[str]:
    """What stands in the list, card by card."""
    cards = [[each.text() for each in card.findChildren(QLabel)] for card in panel.cards]
    return [" / ".join(texts).replace("\u00a0", " ") for texts in cards]


def test_ways_out_are_told_and_kept(window: Window) -> None:
    """Each with what it commits to; nothing changes until one is kept; a higher limit turns them round."""
    retype(window.aims.study_needs.limit, "120")
    rest(window)
    assert window.aims.study_needs.ways.text() == "ways to stay below"
    panel = opened(window)
    assert panel.says.text().startswith("144 staff to be recruited are 24 more than available.")
    cards = read(panel)
    assert cards[0].startswith(
        "Plan on a larger effect / Difference 13.1 ms, with 80.0% power and 120 staff to be recruited."
    )
    assert cards[1].startswith("Accept less power / 73.1% power instead of 80.0%")
    assert cards[2].startswith("Test one side only / 114 staff to be recruited, 30 fewer")
    assert all(len(card.split(" / ")) == 3 for card in cards)
    before = window.session.aim.entries
    QTest.mouseClick(panel.cards[2].findChild(QPushButton), LEFT)
    rest(window)
    assert window.session.aim.entries == before
    kept = window.session.aim.scenarios[-1]
    assert (kept.name, kept.values()["sides"]) == ("Test one side only", "greater")
    window.session.undo()
    retype(window.aims.study_needs.limit, "240")
    rest(window)
    assert panel.says.text() == "96 staff more are available than are needed. What that would buy:"
    assert read(panel)[1] == "Have more power / 95.5% power instead of 80.0%, with 240 staff to be recruited."


def test_the_panel_follows_the_aim_and_says_why_it_is_empty(window: Window) -> None:
    """Another aim, none with a limit, one that finds something else."""
    panel = opened(window)
    window.session.select("alertness")
    rest(window)
    assert panel.says.text().startswith("12 staff more are available")
    window.session.do(edits.move_flower(window.session.study, "alertness", "power"))
    rest(window)
    assert panel.says.text().startswith("Ways out are worked out for an aim that finds its sample size.")
    assert panel.cards == []
    retype(window.aims.study_needs.limit, "")
    rest(window)
    assert panel.says.text().startswith("Nothing limits this aim yet.")
    assert window.aims.study_needs.ways.text() == "cost, time and other limits"


def test_scenarios_side_by_side(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """Opened from the shelf; what differs stands out; moved, copied, exported; it follows an edit."""
    side = next(each for each in window.bench.shelf.findChildren(QPushButton) if each.text() == "Side by side")
    QTest.mouseClick(side, LEFT)
    settle(window)
    panel, table = window.bench.right.of(ComparePanel), window.bench.right.of(ComparePanel).table
    heads = [table.horizontalHeaderItem(at).text() for at in range(table.columnCount())]
    assert heads == ["Now", "Cautious SD", "Difference 10 ms", "Power 90%"]
    assert table.item(1, 1).text().replace("\u00a0", " ") == "28 ms"
    assert table.item(1, 1).font().bold()
    assert not table.item(1, 2).font().bold()
    menu = panel.menu_for(window.session.aim, 0)
    next(action for action in menu.actions() if action.text() == "Move to the right").trigger()
    settle(window)
    assert table.horizontalHeaderItem(2).text() == "Cautious SD"
    window.session.do(edits.set_value(window.session.study, "reaction", "sd", 28))
    settle(window)
    assert not table.item(1, 2).font().bold()
    answers["save"] = tmp_path / "s.csv"
    panel.export_asked.emit()
    wait_until(lambda: not window.exports.jobs.busy)
    assert (tmp_path / "s.csv").read_text().splitlines()[2].startswith("Standard deviation,28 ms,24 ms,28 ms")
    panel.copy()
    assert "Standard deviation\t28 ms" in QApplication.clipboard().text()


def test_money_and_time_are_typed_into_the_sentence_above_the_ways(window: Window) -> None:
    """Every keystroke counts, one undo takes a word back; the foot on the left says which limit is the tightest."""
    panel = opened(window)
    type_word(panel, "costs", "150")
    type_word(panel, "budget", "30 000")
    rest(window)
    assert "each costs 150, out of 30\u2009000" in panel.resources.text()
    assert panel.implied.text().startswith("200 staff at most, by the budget of 30\u2009000; 240 by the limit of 240.")
    assert window.aims.study_needs.spare.whole() == "28 too many"
    assert window.aims.study_needs.ways.text() == "ways to fit the budget"
    assert panel.says.text().startswith("56 staff more are available")
    word(panel, "budget").setFocus()
    QTest.keyClick(word(panel, "budget"), Qt.Key.Key_F2)
    QTest.keyClicks(open_editor(panel), "9x")
    assert "Recruited by one centre, any number a month, for any number of months." in panel.resources.text()
    assert panel.resources.text().endswith("“9x” is not a number: type digits, as in 12 or 1.5.")
    QTest.keyClick(open_editor(panel), Qt.Key.Key_Escape)
    rest(window)
    assert window.session.study.resources.budget == 30_000
    window.session.undo()
    assert window.session.study.resources.budget is None
    assert window.session.study.resources.costs == (150.0,)
    window.session.undo()
    assert window.session.study.resources.costs == ()


def word(panel: WaysPanel, name: str) -> Token:
    """A word of the sentence."""
    found = panel.resources.findChild(Token, f"token-{name}")
    assert isinstance(found, Token)
    return found


def open_editor(panel: WaysPanel) -> QLineEdit:
    """What is being typed over a word."""
    return next(each for each in panel.findChildren(QLineEdit, "tokenEditor") if each.isVisible())


def type_word(panel: WaysPanel, name: str, text: str) -> None:
    """Typed over a word."""
    QTest.mouseClick(word(panel, name), LEFT)
    editor = open_editor(panel)
    editor.selectAll()
    QTest.keyClicks(editor, text)
    QTest.keyClick(editor, Qt.Key.Key_Return)


def test_a_scenario_is_planned_on_and_noted_side_by_side(window: Window) -> None:
    """The foot counts it, the shelf and the heading name it; a note is typed into its cell."""
    window.bench.show_panel("compare")
    settle(window)
    panel = window.bench.right.of(ComparePanel)
    assert window.aims.study_needs.set_by.whole().startswith("228 staff, 2 groups: 8 aims")
    window.session.do(edits.set_value(window.session.study, "reaction", "difference", 8))
    window.session.do(edits.keep_scenario(window.session.study, "reaction", "Eight"))
    window.session.do(edits.set_value(window.session.study, "reaction", "difference", 12))
    menu = panel.menu_for(window.session.aim, 3)
    next(action for action in menu.actions() if action.text() == "Plan on it").trigger()
    settle(window)
    assert window.aims.study_needs.set_by.whole().startswith("318 staff, 2 groups: 8 aims")
    assert panel.table.horizontalHeaderItem(4).text() == "Eight (planned)"
    assert window.bench.shelf.cards[4].title == "Eight · planned"
    assert window.aims.cards[0].rest.endswith("; planned 286")
    note = panel.table.item(panel.table.rowCount() - 1, 4)
    panel.table.editItem(note)
    editor = next(each for each in panel.table.findChildren(QLineEdit) if each.isVisible())
    QTest.keyClicks(editor, "The ward asked for it.")
    QTest.keyClick(editor, Qt.Key.Key_Return)
    wait_until(lambda: window.session.aim.scenarios[3].note == "The ward asked for it.")
    window.session.undo()
    assert window.session.aim.scenarios[3].note == ""
    assert not panel.table.item(0, 4).flags() & Qt.ItemFlag.ItemIsEditable


def test_scenarios_side_by_side_take_the_inks_of_another_theme(window: Window) -> None:
    """Each cell has its own."""
    window.bench.show_panel("compare")
    settle(window)
    table = window.bench.right.of(ComparePanel).table
    before = table.item(0, 0).foreground().color().name()
    window.set_theme("dark" if window.theme.colours.name == "light" else "light")
    settle(window)
    assert table.item(0, 0).foreground().color().name() == window.theme.colour("ink").name() != before


def test_the_same_people_are_said_to_serve_all_aims(open_window: MakeWindow) -> None:
    """One click makes the largest aim's number the study's, one undo takes that back; other units cannot share it."""
    aims = [edits.new_aim(design_named(design), design) for design in ("two-means", "anova-one-way")]
    window = open_window(Study(aims=tuple(aims)))
    needs = window.aims.study_needs
    assert needs.total.whole() == "2 recruitments"
    assert "no single total applies" in needs.set_by.whole()
    QTest.mouseClick(needs.together, Qt.MouseButton.LeftButton)
    assert "recruitments" not in needs.total.whole()
    assert needs.set_by.whole().startswith("to be recruited, set by anova-one-way")
    window.session.undo()
    assert needs.total.whole() == "2 recruitments"
    pairs = edits.new_aim(design_named("paired-means"), "pairs")
    window.session.do(edits.add_aim(window.session.study, pairs))
    menu = asked_who(window)  # of pairs nobody can say that they are the same people
    assert [each.text() for each in menu.actions()] == ["two-means, and anova-one-way"]
    menu.actions()[0].trigger()
    assert [len(each.aims) for each in needs_of(window.session.study, window.session.outcome).recruitments] == [2, 1]
    assert needs.together.text() == "not the same people after all"
    QTest.mouseClick(needs.together, Qt.MouseButton.LeftButton)
    assert needs.total.whole() == "3 recruitments"


def test_some_aims_are_said_to_share_and_some_not(window: Window) -> None:
    """Of many recruitments two are picked from a menu by the names of their aims; what was said can be let go there."""
    needs = window.aims.study_needs
    assert (needs.total.whole(), needs.together.text()) == ("5 recruitments", "the same people serve \u2026")
    menu = asked_who(window)
    words = [each.text() for each in menu.actions()]
    assert any(each.startswith("Reaction time, Alertness") and "6 more, and " in each for each in words)
    assert "All aims" not in words  # pairs of shifts are no staff
    menu.actions()[0].trigger()
    assert needs.total.whole() == "4 recruitments"
    assert asked_who(window).actions()[-1].text() == "As their designs tell"
    asked_who(window).actions()[-1].trigger()
    assert needs.total.whole() == "5 recruitments"


def asked_who(window: Window) -> QMenu:
    """The menu of aims that the same people may serve, opened by its link."""
    link = window.aims.study_needs.together
    for old in link.findChildren(QMenu):
        old.close()
        old.setParent(None)
    QTest.mouseClick(link, Qt.MouseButton.LeftButton)
    return link.findChild(QMenu)
