"""Studies, commands, themes, reports: the window as a whole."""

from __future__ import annotations

import threading
from pathlib import Path
from types import SimpleNamespace

import pytest
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QLineEdit, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from ragwort.app.kit.theme import flower_svg, make_theme
from ragwort.app.picture.canvas import Canvas
from ragwort.app.report import page as report_pages
from ragwort.app.report.page import ReportPage
from ragwort.app.shell import main
from ragwort.app.shell.opening import FirstWords, words_in
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import Window
from ragwort.demo import demo_study, sampler_study
from ragwort.designs import all_designs, design_named
from ragwort.report.sections.statements import LENGTHS, statement_of
from ragwort.study import edits
from ragwort.study.document.files import read_study, write_study
from ragwort.study.document.model import Study

from .conftest import MakeWindow, settle, type_into, wait_until


def test_a_newcomers_first_quarter_of_an_hour(
    window: Window, open_window: MakeWindow, answers: dict[str, object], tmp_path: Path, qtbot: QtBot
) -> None:
    """Change the difference and the unknown, keep a scenario, undo, save, reopen, export a PDF that reads well."""
    from pypdf import PdfReader

    type_into(window, "difference", "9")
    window.by_id["study.find-power"].trigger()
    type_into(window, "n", "180")
    window.by_id["study.keep"].trigger()
    QTest.keyPress(window.findChild(QLineEdit, "nameEdit"), Qt.Key.Key_Return)
    type_into(window, "sd", "40")
    assert window.by_id["edit.undo"].text() == "Undo changing standard deviation"
    window.by_id["edit.undo"].trigger()
    said = window.bench.sentence.text()
    assert "With 180 staff (90 per group), a two-sided t test at alpha 0.05 has 70.6% power to detect" in said
    assert "a difference of 9 ms" in said
    answers["save"] = tmp_path / "night.ragwort"
    window.by_id["file.save"].trigger()
    assert not window.session.unsaved
    assert "saved" in window.status.whole()
    again = open_window(read_study(tmp_path / "night.ragwort"), tmp_path / "night.ragwort")
    assert again.bench.sentence.text() == said
    assert again.bench.shelf.cards[-1].title.startswith("Difference 9 ms")
    answers["save"] = tmp_path / "night.pdf"
    again.by_id["file.report-pdf"].trigger()
    qtbot.waitUntil(lambda: "The report is in" in again.notice.text.text(), timeout=120_000)
    text = " ".join(page.extract_text() for page in PdfReader(tmp_path / "night.pdf").pages)
    assert "180 in total" in " ".join(text.replace("\u00a0", " ").split())


def test_every_command_is_in_a_menu_once_and_runs_from_the_finder(window: Window) -> None:
    """One table: no shortcut twice, no id twice, and the finder finds by any word."""
    shortcuts = [each.shortcut for each in window.commands if each.shortcut]
    assert len(set(shortcuts)) == len(shortcuts)
    assert len({each.id for each in window.commands}) == len(window.commands)
    window.by_id["view.finder"].trigger()
    assert window.finder.isVisible()
    QTest.keyClicks(window.finder.search, "detectable")
    assert window.finder.list.count() == 1
    QTest.keyClick(window.finder.search, Qt.Key.Key_Return)
    assert window.session.aim.find == "effect"
    assert not window.finder.isVisible()


def test_the_finder_moves_by_arrow_and_leaves_by_escape(window: Window) -> None:
    """Keyboard only."""
    window.finder.open()
    QTest.keyClick(window.finder.search, Qt.Key.Key_Down)
    assert window.finder.list.currentRow() == 1
    QTest.keyClick(window.finder.search, Qt.Key.Key_Escape)
    assert not window.finder.isVisible()


@pytest.mark.own_window
@pytest.mark.parametrize("theme", ["dark", "light"])
def test_a_theme_is_changed_and_remembered(window: Window, remembered: Remembered, theme: str) -> None:
    """Everything is made anew and goes on working."""
    window.set_theme(theme)
    assert remembered.theme == theme
    assert window.theme.colours.name == theme
    type_into(window, "sd", "28")
    settle(window)
    assert "so that 174 (" in window.bench.sentence.text()
    assert window.bench.picture.canvas.picture.point[0] == 87


def test_nothing_that_can_be_used_lacks_a_name(window: Window) -> None:
    """Every control that takes the focus tells a screen reader what it is."""
    settle(window)
    nameless = []
    for widget in window.findChildren(QWidget):
        if widget.focusPolicy() != Qt.FocusPolicy.NoFocus and widget.isVisible():
            words = widget.text() if isinstance(widget, QAbstractButton) else ""
            if not (widget.accessibleName() or words):
                nameless.append((type(widget).__name__, widget.objectName()))
    assert nameless == []


@pytest.mark.parametrize("size", [(1024, 640), (1280, 800), (3840, 2160)])
def test_nothing_leaves_the_window_at_any_size(window: Window, size: tuple[int, int], qtbot: QtBot) -> None:
    """No visible part of the sentence, tabs or panels is cut off at the right."""
    window.resize(*size)
    settle(window)
    assert (window.width(), window.height()) == size
    for widget in [*window.bench.sentence.tokens, *window.findChildren(QPushButton)]:
        if widget.isVisible() and not window.bench.shelf.isAncestorOf(widget):
            right = widget.mapTo(window, widget.rect().topRight()).x()
            assert right <= window.width(), widget.objectName()
    assert window.bench.picture.canvas.height() >= 150


def test_a_damaged_file_is_said_and_the_study_stays(window: Window, tmp_path: Path, answers: dict[str, object]) -> None:
    """The bar tells what is wrong."""
    bad = tmp_path / "bad.ragwort"
    bad.write_text("{")
    answers["open"] = bad
    window.by_id["file.open"].trigger()
    assert "bad.ragwort is damaged or not a Ragwort study" in window.notice.text.text()
    assert window.session.study == sampler_study()


@pytest.mark.own_window
def test_unsaved_work_is_never_lost_silently(window: Window, tmp_path: Path, answers: dict[str, object]) -> None:
    """Opening another study asks; staying stays, discarding goes on; the last studies are remembered."""
    other = tmp_path / "other.ragwort"
    write_study(sampler_study().changed(title="Other"), other)
    answers["open"] = other
    type_into(window, "sd", "30")
    window.by_id["file.open"].trigger()
    assert window.session.study.title == "Night-shift lighting"
    answers["unsaved"] = "discard"
    window.by_id["file.open"].trigger()
    assert window.session.study.title == "Other"
    assert window.remembered.recent == [other]
    type_into(window, "sd", "30")
    answers["unsaved"] = "stay"
    assert not window.close()
    answers["unsaved"] = "save"
    assert window.close()
    assert read_study(other).aims[0].values()["sd"] == 30


def test_a_save_that_fails_is_said(window: Window, answers: dict[str, object]) -> None:
    """Nothing is lost, and the reason is shown."""
    type_into(window, "sd", "30")
    answers["save"] = Path("/proc/none/night.ragwort")
    window.by_id["file.save"].trigger()
    assert "cannot be written" in window.notice.text.text()
    assert window.session.unsaved


def test_an_edit_that_is_taken_back_while_the_preview_is_written_leaves_nothing_behind(
    window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The words of the edit do not stay in the preview."""
    window.show_page("Report")
    page = window.pages.of(ReportPage)
    qtbot.waitUntil(lambda: page.made_for is not None, timeout=20_000)
    let_go, written, real = threading.Event(), threading.Event(), report_pages.written

    def slowly(study: Study, width: int) -> object:
        written.set()
        let_go.wait(10)
        return real(study, width)

    monkeypatch.setattr(report_pages, "written", slowly)
    window.session.do(edits.set_study(window.session.study, background="Half a thought"), joined="type background")
    qtbot.waitUntil(written.is_set)
    window.session.undo()
    let_go.set()
    qtbot.waitUntil(lambda: not page.busy, timeout=20_000)
    assert "Half a thought" not in page.preview.toPlainText()


def test_the_three_statements_are_copied_with_one_click(window: Window) -> None:
    """Each as the command line prints it, of the aim in view."""
    window.show_page("Report")
    window.session.select("sleepy")
    assert window.session.aim is not None
    for link, length in zip(window.pages.of(ReportPage).statements, LENGTHS, strict=True):
        QTest.mouseClick(link, Qt.MouseButton.LeftButton)
        assert QApplication.clipboard().text() == statement_of(window.session.aim, length)


def test_the_report_page_follows_the_study(window: Window, qtbot: QtBot) -> None:
    """The preview is made off the interface thread and shows the newest edit; title and background are edited there."""
    page = window.pages.of(ReportPage)
    next(b for b in window.tabs.buttons() if b.text() == "Report").click()
    qtbot.waitUntil(lambda: "64 staff per group (128 in total)" in shown(page.preview), timeout=120_000)
    page.title.setFocus()
    page.title.selectAll()
    QTest.keyClicks(page.title, "Brighter nights")
    QTest.keyClick(page.title, Qt.Key.Key_Return)
    page.background.setFocus()
    page.background.setPlainText("Do lamps help?")
    page.title.setFocus()
    qtbot.waitUntil(lambda: "Do lamps help?" in shown(page.preview), timeout=120_000)
    assert shown(page.preview).startswith("Brighter nights")
    assert window.session.study.background == "Do lamps help?"
    page.copy()
    assert "128 in total" in QApplication.clipboard().text().replace("\u00a0", " ")


def shown(preview: object) -> str:
    """The text of the preview."""
    return preview.toPlainText().replace("\u00a0", " ")


@pytest.mark.parametrize("kind", ["svg", "csv"])
def test_a_picture_is_exported(window: Window, answers: dict, tmp_path: Path, kind: str, qtbot: QtBot) -> None:
    """From the menu of the picture to a file."""
    answers["save"] = tmp_path / f"curve.{kind}"
    window.exports.picture(kind)
    qtbot.waitUntil(lambda: "The picture is in" in window.notice.text.text(), timeout=120_000)
    assert (tmp_path / f"curve.{kind}").stat().st_size > 1000


def test_a_job_that_is_cancelled_writes_nothing(window: Window, answers: dict, tmp_path: Path, qtbot: QtBot) -> None:
    """Cancel in the bar stops the report; no half file is left."""
    answers["save"] = tmp_path / "late.pdf"
    window.exports.report("pdf")
    next(b for b in window.notice.findChildren(QPushButton) if b.text() == "Cancel").click()
    window.exports.jobs.finish()
    assert not window.exports.jobs.busy
    assert list(tmp_path.glob("late*")) == []


def test_new_demo_about_and_explanations(window: Window, answers: dict[str, object]) -> None:
    """The remaining commands do what they say."""
    window.by_id["file.new"].trigger()
    assert window.session.study.title == "Untitled study"
    window.by_id["file.demo"].trigger()
    assert window.session.study == demo_study()
    window.by_id["help.about"].trigger()
    assert "Ragwort 0.1.0" in str(answers["told"])
    window.bench.ledger.row("sd").editor.setFocus()
    assert window.bench.detail.help.isVisible()
    window.by_id["view.explain"].trigger()
    assert not window.bench.detail.help.isVisible()
    window.by_id["edit.copy-sentence"].trigger()
    assert QApplication.clipboard().text().startswith("Recruit 144 staff so that 128 (")


def test_the_flower_has_thirteen_rays(qtbot: QtBot) -> None:
    """Our sign, drawn by us."""
    assert flower_svg().count("<ellipse") == 13
    assert make_theme(dark=True).colours.name == "dark"


def test_the_guide_opens_at_the_design_in_view(window: Window) -> None:
    """A window of its own, with a chapter for each design; it stays when the theme changes."""
    window.session.select("drinks")
    window.bench.detail.guide_asked.emit()
    guide = window.help.guide
    assert guide.isVisible()
    assert guide.chapters.currentItem().text() == "Contingency table: chi-square test"
    assert "Expected counts are 5 or more" in guide.page.toPlainText()
    guide.chapters.setCurrentRow(0)
    assert "Where an effect comes from" in guide.page.toPlainText()
    assert guide.screen().availableGeometry().contains(guide.geometry())
    window.set_theme("dark")
    assert guide.isVisible()
    QTest.keyClick(guide.chapters, Qt.Key.Key_Escape)
    assert not guide.isVisible()


class Seen(QObject):
    """What is seen while a window is filled: other windows, and how large pictures are drawn."""

    def __init__(self, window: Window) -> None:
        super().__init__()
        self.window = window
        self.windows: list[object] = []
        self.sizes: set[tuple[int, int]] = set()
        QApplication.instance().installEventFilter(self)

    def eventFilter(self, of: object, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Show and isinstance(of, QWidget) and of.isWindow() and of is not self.window:
            self.windows.append(of)
        if event.type() == QEvent.Type.Paint and isinstance(of, Canvas) and of.window() is self.window:
            self.sizes |= set() if of.image.isNull() else {of.image.size().toTuple()}
        return False


def test_the_words_of_a_study_are_there_before_the_rest(
    qtbot: QtBot, remembered: Remembered, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The frame is painted with title and names of the aims; then the same window is filled."""
    path = tmp_path / "night.ragwort"
    write_study(sampler_study(), path)
    words = words_in(path)
    assert words == FirstWords(sampler_study().title, tuple(aim.name for aim in sampler_study().aims))
    monkeypatch.setattr(main, "Remembered", lambda: remembered)
    monkeypatch.setattr(main, "recovery_folder", lambda: tmp_path / "recovery")
    monkeypatch.setattr(main, "sys", SimpleNamespace(excepthook=None))
    start = main.Start(QApplication.instance(), path, False)
    start.begin(words)
    assert "Night-shift lighting" in start.window.windowTitle()
    assert not start.window.taken
    seen = Seen(start.window)
    qtbot.waitUntil(lambda: start.window.taken, timeout=120_000)
    assert start.error is None
    assert "144 staff so that 128" in start.window.bench.sentence.text()
    assert seen.windows == [], "a part of the window was shown before it was in its place"
    canvas = start.window.bench.picture.canvas
    wait_until(lambda: bool(seen.sizes))
    settle(start.window)
    assert seen.sizes == {canvas.size().toTuple()}, "a picture was drawn at a size that it did not keep"
    start.endings.forget()
    start.window.close()


@pytest.mark.parametrize("text", ["", "[1]", '{"title": 1}', '{"title": "a", "aims": [3]}', "[" * 50_000, "\u0000"])
def test_words_that_cannot_be_read_in_haste_are_read_with_care(tmp_path: Path, text: str) -> None:
    """Nothing odd in a file stops the start here: what is wrong is said by who reads it."""
    (tmp_path / "odd.ragwort").write_text(text)
    assert words_in(tmp_path / "odd.ragwort") is None
    assert words_in(tmp_path) is None
    assert words_in(tmp_path / "none") is None


def test_what_the_study_needs_stands_on_one_line(open_window: MakeWindow) -> None:
    """Words that just fill the panel are set smaller, not over two lines."""
    window = open_window(Study(aims=(edits.new_aim(design_named("anova-factorial"), "Aim 1"),)))
    needs = window.aims.study_needs.total
    assert needs.text() == "162 participants"
    assert needs.height() < 1.5 * needs.fontMetrics().lineSpacing()


def test_an_example_is_found_by_a_name_of_its_test(window: Window) -> None:
    """The list of examples, narrowed by what Choose knows a design by, opens a study of its own."""
    window.by_id["file.examples"].trigger()
    finder = window.finder
    every = finder.list.count()
    assert every >= len(all_designs())
    QTest.keyClicks(finder.search, "mcnemar")
    assert finder.list.count() < every
    finder.list.setCurrentRow(0)
    QTest.keyClick(finder.search, Qt.Key.Key_Return)
    assert [aim.design for aim in window.session.study.aims] == ["paired-proportions"]
    assert window.session.study.title == "Nap before and after"
    assert window.pages.currentWidget() is window.bench
