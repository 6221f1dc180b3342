"""Faults that hands found in the window: each stays mended."""

from __future__ import annotations

import itertools
import json
import os
import signal
import subprocess
import sys
from pathlib import Path
from unittest import mock

import pytest
from matplotlib.artist import Artist
from matplotlib.text import Text
from PySide6.QtCore import QMimeData, QPoint, Qt
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QVBoxLayout, QWidget
from pytestqt.qtbot import QtBot

from ragwort.app.bench.ledger import rows_of
from ragwort.app.kit.widgets import Elided, discard
from ragwort.app.report.page import ReportPage
from ragwort.app.shell.main import make_window
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import Window
from ragwort.demo import sampler_study
from ragwort.designs import Design, Way, all_designs, design_named
from ragwort.figures.drawing.room import Room
from ragwort.figures.labels import Box
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.files import write_study
from ragwort.study.document.model import Study
from ragwort.study.document.recovery import Recovery
from ragwort.study.results.outcome import Problem, outcome_of

from .conftest import MakeWindow, settle, without_pictures


def test_a_hover_over_the_picture_in_hand_paints_no_more_than_it_says(window: Window) -> None:
    """The focus frame is a frame: most of the picture is as it was before the click."""
    settle(window)
    canvas = window.bench.picture.canvas
    before = canvas.grab().toImage()
    at = canvas.point_at().toPoint() + QPoint(60, -20)
    QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPoint(20, 20))
    for over in range(-40, 41, 4):
        QTest.mouseMove(canvas, at + QPoint(0, over))
        if canvas.hover is not None:
            break
    assert canvas.hover is not None
    after = canvas.grab().toImage()
    places = [(x, y) for x in range(3, before.width(), 9) for y in range(3, before.height(), 9)]
    changed = sum(before.pixel(x, y) != after.pixel(x, y) for x, y in places)
    assert changed < 0.15 * len(places)


def test_a_value_keeps_its_size_after_a_visit_to_another_page(window: Window) -> None:
    """Typed in the sentence, then the Report and back."""
    value = next(token for token in window.bench.sentence.tokens if token.piece.name == "difference")
    value.setFocus()
    QTest.keyClicks(value, "1")
    QTest.keyClicks(value.editor, "0")
    QTest.keyPress(value.editor, Qt.Key.Key_Return)
    settle(window)
    value.clearFocus()
    before = value.grab().toImage()
    for page in ("Report", "Bench"):
        window.show_page(page)
        QApplication.processEvents()
    value.clearFocus()
    assert value.grab().toImage() == before


@pytest.mark.parametrize("what", ["nothing", "a picture", "lines without anything"])
def test_a_paste_of_nothing_changes_nothing(open_window: MakeWindow, what: str) -> None:
    """And the grid goes on telling what is typed."""
    window = open_window()
    window.session.select("drinks")
    cells, data = window.bench.ledger.row("table").cells, QMimeData()
    before = window.session.study
    if what == "a picture":
        data.setImageData(QImage(3, 3, QImage.Format.Format_RGB32))
    elif what != "nothing":
        data.setText("\n\n")
    QGuiApplication.clipboard().setMimeData(data)
    cells.table.setFocus()
    QTest.keyClick(cells.table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert window.session.study == before
    assert not cells.table.signalsBlocked()
    QGuiApplication.clipboard().clear()  # or a picture made here outlives Python


def test_an_editor_that_nobody_typed_into_goes_when_it_is_left(window: Window) -> None:
    """Of an aim's name and of a value in the sentence."""
    window.aims.start_renaming("reaction")
    value = next(token for token in window.bench.sentence.tokens if token.piece.name == "sd")
    value.setFocus()
    QTest.keyClick(value, Qt.Key.Key_F2)
    assert value.editor is not None
    window.bench.picture.canvas.setFocus()
    assert value.editor is None
    assert not any(each.isVisible() for each in window.findChildren(QLineEdit, "nameEdit"))


def test_what_is_done_to_an_aim_that_is_gone_is_nothing(window: Window) -> None:
    """A menu, an editor or a command that outlived it."""
    gone = window.session.study.aims[0].id
    window.aims.delete(gone)
    before = window.session.study
    for act in (window.aims.duplicate, window.aims.delete, window.aims.start_renaming):
        act(gone)
    window.aims.move_aim(gone, 1)
    window.session.open(Study(), None)
    window.aims.move_aim(window.session.aim_id, 1)
    assert edits.rename_aim(before, gone, "x").study == before
    assert window.session.study == Study()


def test_a_remark_on_what_the_aim_does_not_have_is_nothing(window: Window) -> None:
    """Its menu was open while another aim came into view, or none."""
    window.bench.detail.show_assumption("variance")
    window.session.select(next(aim.id for aim in window.session.study.aims if aim.design == "chi-square-table"))
    before = window.session.study
    window.bench.detail.source.textEdited.emit("pasted")
    assert window.session.study == before
    window.session.open(Study(), None)
    window.bench.detail.note.textEdited.emit("pasted")
    assert window.session.study == Study()


def test_the_other_ways_follow_the_flower(window: Window) -> None:
    """What is found is not offered in another way; what is given is, without the row being made anew."""
    row = window.bench.ledger.row("difference")

    def offered() -> set[str]:
        return {way.label for way in window.bench.ledger.offered or ()}

    assert "two means" in offered()
    window.by_id["study.find-effect"].trigger()
    assert "two means" not in offered()
    assert window.bench.ledger.row("difference") is row


def test_no_label_is_cut_in_any_design_and_way(open_window: MakeWindow) -> None:
    """Of ledger and aims' foot, at the size that the window is designed at."""
    window = without_pictures(open_window())
    window.resize(1280, 800)
    window.setUpdatesEnabled(False)  # laid out, not painted
    cut = []
    for design in all_designs():
        aim = edits.new_aim(design, "Aim 1")
        for way in (None, *(way for ways in (*design.ways, design.sizes) for way in ways if not begins_with(aim, way))):
            study = Study(aims=(aim,))
            window.session.open(study if way is None else edits.choose_way(study, aim.id, way).study, None)
            QApplication.processEvents()
            labels = [each for area in (window.bench.ledger, window.aims) for each in area.findChildren(Elided)]
            cut += [each.whole() for each in labels if each.isVisible() and each.text() != each.whole()]
    assert cut == []


def begins_with(aim: Aim, way: Way) -> bool:
    """Whether a new aim states it so already."""
    return set(way.names) <= set(aim.entries)


@pytest.mark.usefixtures("qapp")
def test_a_window_fits_its_screen(remembered: Remembered, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Also where it was larger the last time."""
    from PySide6.QtCore import QRect

    class Small:
        @staticmethod
        def availableGeometry() -> QRect:
            return QRect(0, 0, 1024, 640)

    monkeypatch.setattr(Window, "screen", lambda _: Small)
    window = make_window(sampler_study(), None, remembered, Recovery(tmp_path))
    assert window.width() <= 1024
    assert window.height() <= 640
    window.finish_threads()
    window.session.close()
    window.deleteLater()


@pytest.mark.parametrize("ending", [signal.SIGTERM, signal.SIGHUP])
def test_a_program_that_is_ended_from_outside_goes_in_good_order(tmp_path: Path, ending: signal.Signals) -> None:
    """Exit status 0; what was typed and not saved is there at the next start, and no crash is spoken of."""
    write_study(sampler_study(), tmp_path / "night.ragwort")
    script = (
        "import sys; from pathlib import Path; from PySide6.QtCore import QTimer; from PySide6.QtWidgets import "
        "QApplication; from ragwort.app.shell import main; from ragwort.study import edits\n"
        "def act():\n"
        "    found = [w for w in QApplication.topLevelWidgets() if getattr(w, 'taken', False)]\n"
        "    if not found:\n"
        "        return QTimer.singleShot(20, act)\n"
        "    (window,) = found\n"
        "    window.session.do(edits.set_study(window.session.study, title='Typed'))\n"
        "    print('typed', flush=True)\n"
        "application = QApplication([]); QTimer.singleShot(0, act); sys.exit(main.run(Path(sys.argv[1])))"
    )
    environment = {**os.environ, "XDG_STATE_HOME": str(tmp_path), "XDG_CONFIG_HOME": str(tmp_path)}
    command, pipe = [sys.executable, "-c", script, str(tmp_path / "night.ragwort")], subprocess.PIPE
    program = subprocess.Popen(command, env=environment, stdout=pipe, stderr=pipe, text=True)
    assert program.stdout is not None
    assert program.stdout.readline() == "typed\n"
    program.send_signal(ending)
    assert program.wait(60) == 0
    program.communicate()
    (found,) = Recovery(tmp_path / "ragwort" / "recovery").left_behind()
    assert (found.study.title, found.ended) == ("Typed", True)
    assert json.loads(found.copy.read_text())["path"] == str(tmp_path / "night.ragwort")


def test_a_report_left_before_its_pictures_were_drawn_is_drawn_when_it_is_seen_again(
    open_window: MakeWindow, qtbot: QtBot
) -> None:
    """The words come first: leaving in that moment must not leave the pictures blank for good."""
    window = open_window(sampler_study().changed(aims=sampler_study().aims[:4]))
    window.show_page("Report")
    page = window.pages.of(ReportPage)
    qtbot.waitUntil(lambda: page.made_for is not None, timeout=120_000)
    assert page.state.text() != "This is what is exported."
    window.show_page("Bench")
    window.show_page("Report")
    qtbot.waitUntil(lambda: page.state.text() == "This is what is exported.", timeout=120_000)
    assert len(page.images) == len({id(picture) for picture in page.pictures})


def test_an_explanation_is_shown_whole_where_there_is_little_room(window: Window, qtbot: QtBot) -> None:
    """Of every assumption of the aim in view; the links beside the title are not cut either."""
    window.resize(910, 712)
    detail = window.bench.detail
    text, links = detail.help, (detail.flip_link, detail.guide_link)
    for assumption in design_named(window.session.aim.design).assumptions:
        detail.show_assumption(assumption.name)
        qtbot.waitUntil(lambda: text.height() >= text.heightForWidth(text.width()), timeout=120_000)
        qtbot.waitUntil(lambda: all(link.width() >= link.sizeHint().width() for link in links), timeout=120_000)
    tall = text.height()
    window.resize(1500, 712)
    qtbot.waitUntil(lambda: text.height() < tall, timeout=120_000)


def test_the_finder_says_that_nothing_is_called_so(window: Window) -> None:
    """An empty list would look like a fault; Enter then does nothing."""
    window.setFocus()
    window.finder.open()
    window.finder.search.setText("zzz")
    assert window.finder.list.item(0).text() == "Nothing that can be done now is called so."
    before = window.session.study
    QTest.keyPress(window.finder.search, Qt.Key.Key_Return)
    assert window.session.study is before
    assert not window.finder.isVisible()
    assert QApplication.focusWidget() is window, "the focus goes back to where it was"


def test_the_dragged_point_s_label_covers_no_name_of_a_scenario(window: Window) -> None:
    """Names stand where they were while the point moves past them."""
    settle(window)
    canvas = window.bench.picture.canvas
    start = canvas.point_at().toPoint()
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    names, labels = [], []
    room_for = Room.put

    def put(room: Room, text: Text, box: Box | None) -> Artist:
        labels.append(box)
        return room_for(room, text, box)

    with mock.patch.object(Room, "put", put):
        for step in range(0, 160, 8):
            QTest.mouseMove(canvas, start + QPoint(step, step // 3))
            names = canvas.names
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=start)
    assert names and labels
    assert not [box for box in labels if box is not None and any(box.overlaps(name) for name in names)]


def test_a_widget_that_goes_gives_the_focus_up_first(qtbot: QtBot) -> None:
    """Qt is never asked for the next in line: among widgets that were going, it crashed on one that was gone."""
    asked: list[bool] = []

    class Holder(QWidget):
        def focusNextPrevChild(self, forward: bool) -> bool:
            asked.append(forward)
            return super().focusNextPrevChild(forward)

    holder = Holder()
    column = QVBoxLayout(holder)
    panel, editor, other = QWidget(), QLineEdit(), QLineEdit()
    QVBoxLayout(panel).addWidget(editor)
    column.addWidget(panel)
    column.addWidget(other)
    qtbot.addWidget(holder)
    with qtbot.waitExposed(holder):
        holder.show()
    holder.activateWindow()
    editor.setFocus()
    qtbot.waitUntil(editor.hasFocus)
    QTest.keyClicks(editor, "a")
    left: list[str] = []
    editor.editingFinished.connect(lambda: left.append(editor.text()))
    discard(panel)
    assert asked == []
    assert left == ["a"]
    assert not editor.hasFocus()


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_what_is_missing_can_be_typed(design: Design) -> None:
    """Whichever choices are made, and whatever is found: what an answer lacks has a row in the ledger."""
    chosen = [each for each in design.assumptions if each.chosen and each.in_ledger]
    start = edits.new_aim(design, "New")
    for one, other in itertools.combinations_with_replacement(chosen, 2):
        for first, second in itertools.product(one.choices, other.choices):
            study = Study(aims=(start,))
            for assumption, choice in ((one, first), (other, second)):
                study = edits.set_value(study, start.id, assumption.name, assumption.value_of(choice)).study
            aim, rows = study.aims[0], rows_of(design, study.aims[0])
            outcome = outcome_of(aim)
            if isinstance(outcome, Problem) and outcome.field:
                assert outcome.field in rows, (first.value, second.value, outcome.message)


FAILING = """
import sys
import ragwort.app
from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QApplication, QWidget

class Failing(QWidget):
    def resizeEvent(self, event):
        int(float("inf"))

class Filter(QObject):
    def eventFilter(self, of, event):
        return event.type() == QEvent.Type.Show and 1 / 0 > 0

application = QApplication([])
widget, watching = Failing(), Filter()
told = []
for call in (lambda: widget.grab(), lambda: (widget.installEventFilter(watching), widget.show())):
    try:
        call()
    except (OverflowError, ZeroDivisionError) as error:
        told.append(type(error).__name__)
print(*told)
"""


def test_an_exception_in_what_qt_calls_back_never_ends_the_program() -> None:
    """One that C code raises, within a call from Python: told like any other."""
    done = subprocess.run([sys.executable, "-c", FAILING], capture_output=True, text=True, timeout=120, check=False)
    assert (done.returncode, done.stdout) == (0, "OverflowError ZeroDivisionError\n"), done.stderr
