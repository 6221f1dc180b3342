"""The sections of the report, in the window."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import docx
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from ragwort.app.report.page import ReportPage
from ragwort.app.report.sections import SectionsView
from ragwort.app.shell.window import Window
from ragwort.study import edits

from .conftest import wait_until


@pytest.fixture
def sections(window: Window) -> SectionsView:
    """The view, reached by a click on its tab."""
    window.show_page("Report")
    side = window.pages.of(ReportPage).side
    QTest.mouseClick(side.tabs[1], Qt.MouseButton.LeftButton)
    assert side.sections.isVisible()
    return side.sections


def preview(window: Window) -> str:
    return window.pages.of(ReportPage).preview.toPlainText()


def test_a_section_is_left_out_and_put_back(sections: SectionsView, window: Window) -> None:
    """By its tick; one undo puts it back, in the list too."""
    wait_until(lambda: "Sensitivity analysis" in preview(window))
    sections.list.pick("sensitivity")
    item = sections.list.currentItem()
    QTest.keyClick(sections.list, Qt.Key.Key_Space)
    assert item.checkState() == Qt.CheckState.Unchecked
    wait_until(lambda: "Planning values" in preview(window) and "Sensitivity analysis" not in preview(window))
    window.session.undo()
    assert sections.list.currentItem().checkState() == Qt.CheckState.Checked
    wait_until(lambda: "Sensitivity analysis" in preview(window))


def test_a_section_on_request_is_written_once_it_is_ticked(sections: SectionsView, window: Window) -> None:
    """It stands in the list, unticked, until somebody wants it."""
    wait_until(lambda: "Planning values" in preview(window) and "Type I and type II error" not in preview(window))
    sections.list.pick("errors")
    assert sections.list.currentItem().checkState() == Qt.CheckState.Unchecked
    QTest.keyClick(sections.list, Qt.Key.Key_Space)
    wait_until(lambda: "Type I and type II error" in preview(window))
    assert window.session.study.writing.added == ("errors",)


def test_a_section_is_moved_and_stays_picked(sections: SectionsView, window: Window) -> None:
    """By Alt and an arrow; only among its own kind."""
    sections.list.setFocus()
    sections.list.pick("sensitivity")
    for _ in range(2):
        QTest.keyClick(sections.list, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert sections.list.picked == "sensitivity"
    wait_until(lambda: 0 < preview(window).find("If instead") < preview(window).find("The outcome, reaction time"))
    assert window.session.study.writing.order[0] == "sensitivity"


def test_own_words_are_kept_at_every_keystroke(sections: SectionsView, window: Window) -> None:
    """Of the aim in view where the section is an aim's; another aim has its own; all typed is one undo."""
    before = window.session.study
    sections.list.pick("method")
    sections.texts["before"].setFocus()
    QTest.keyClicks(sections.texts["before"], "As the board asked.")
    first = window.session.aim_id
    assert window.session.study.aim(first).texts == {"before method": "As the board asked."}
    assert "Of the aim in view" in sections.of.whole()
    wait_until(lambda: "As the board asked." in preview(window))
    window.session.select(window.session.study.aims[1].id)
    sections.list.setFocus()
    wait_until(lambda: sections.texts["before"].toPlainText() == "")
    sections.list.pick("overview")
    assert sections.of.whole() == "Of the study"
    window.session.undo()
    assert window.session.study == before


def test_the_paper_is_changed_by_a_click(sections: SectionsView, window: Window) -> None:
    """And back."""
    for paper in ("Letter", "A4"):
        QTest.mouseClick(sections.paper, Qt.MouseButton.LeftButton)
        assert sections.paper.text() == f"Paper: {paper}"
        assert window.session.study.writing.paper == paper


def test_a_click_beside_the_sections_leaves_the_picked_one_marked(sections: SectionsView, window: Window) -> None:
    """Its words are still those below, so it still shows which."""
    rows = [sections.list.item(at) for at in range(sections.list.count())]
    heading = next(row for row in rows[1:] if row.text() == "IN EACH AIM")
    above, below = (sections.list.visualItemRect(row).center() for row in (rows[rows.index(heading) - 1], heading))
    view = sections.list.viewport()
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=above)
    for step in range(1, 5):
        QTest.mouseMove(view, above + (below - above) * step / 4)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=below)
    assert sections.list.picked
    assert sections.list.currentItem().isSelected()


def test_the_preview_opens_at_the_aim_in_view(sections: SectionsView, window: Window) -> None:
    """And goes there when another is chosen; what is typed does not move it."""
    page = window.pages.of(ReportPage)
    wait_until(lambda: "References" in preview(window) and not page.busy)

    def at_the_top() -> str:
        """The line at the upper edge of what is in view, and those below."""
        cursor = page.preview.cursorForPosition(QPoint(page.preview.viewport().width() // 2, 30))
        return preview(window)[cursor.position() - 60 : cursor.position() + 300]

    window.session.select("drinks")
    wait_until(lambda: "Choice of drink" in at_the_top())
    window.session.select("kinds")
    wait_until(lambda: "Three kinds of lighting" in at_the_top())
    place = page.preview.verticalScrollBar().value()
    window.session.do(edits.type_value(window.session.study, "kinds", "alpha", "0.04"))
    wait_until(lambda: "4% significance level" in preview(window) and not page.busy)
    assert abs(page.preview.verticalScrollBar().value() - place) < 200


def test_a_checklist_is_exported_of_the_edition_that_is_chosen(
    window: Window, answers: dict[str, Any], tmp_path: Path
) -> None:
    """From the menu of the link beside the kinds of file; what is written can be opened."""
    window.show_page("Report")
    answers["save"] = tmp_path / "list.docx"
    side = window.pages.of(ReportPage).side
    QTest.mouseClick(side.checklist, Qt.MouseButton.LeftButton)
    menu = side.checklists
    assert menu.isVisible()
    assert [action.text() for action in menu.actions()][:3] == ["SPIRIT 2025", "SPIRIT 2013", "CONSORT 2025"]
    menu.actions()[2].trigger()
    menu.close()
    wait_until(lambda: "The checklist is in" in window.notice.text.text())
    rows = [row for table in docx.Document(tmp_path / "list.docx").tables for row in table.rows]
    assert {"16a", "16b"} <= {cell.text for row in rows for cell in row.cells}


def test_the_checklist_that_fits_the_kind_of_study_is_marked(window: Window) -> None:
    """Of a randomised trial; none while nothing is stated."""
    window.show_page("Report")
    side = window.pages.of(ReportPage).side
    window.session.do(edits.state(window.session.study, "kind", "randomised"))
    QTest.mouseClick(side.checklist, Qt.MouseButton.LeftButton)
    side.checklists.close()
    marked = [action.text() for action in side.checklists.actions() if "fits this study" in action.text()]
    assert marked == ["CONSORT 2025, which fits this study"]
    window.session.undo()
    QTest.mouseClick(side.checklist, Qt.MouseButton.LeftButton)
    side.checklists.close()
    assert not any("fits" in action.text() for action in side.checklists.actions())
