"""Same state, same picture: the window is compared with one that is freshly made in its state."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
from PySide6.QtCore import QAbstractAnimation, QCoreApplication, QEvent, QSettings, Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication, QLineEdit, QTableWidget, QTextEdit, QWidget
from shiboken6 import isValid

from ragwort.app.grid.page import GridPage
from ragwort.app.rehearse.page import RehearsePage
from ragwort.app.report.page import ReportPage
from ragwort.app.shell.main import make_window
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import Window
from ragwort.app.sources.progress_panel import ProgressPanel
from ragwort.study.document.recovery import Recovery
from tests.walk.state import take_over

DIFFERENT = 40  # of 255: as far as a colour must be off to count
TOLERATED = 30  # pixels: a line of text that lies half a pixel off


_MANY = 20_000  # studies of a rehearsal that somebody waits for
_PATIENCE = 60  # seconds that somebody waits for a rehearsal of very many people


def busy(window: Window) -> list[str]:
    """What is still being worked out, drawn or looked up."""
    report, moving = window.pages.made_of(ReportPage), QAbstractAnimation.State.Running
    if report is not None:
        report.preview.document().size()  # long documents are laid out bit by bit: now all of it
    moves = any(each.state() == moving for each in window.findChildren(QAbstractAnimation))
    return [*window.busy, *(["animations"] if moves else [])]


def settle(window: Window, most: float = 120) -> None:
    """Let it finish. Raises `AssertionError` where it never does."""
    start = time.monotonic()
    _work()
    while busy(window):
        assert time.monotonic() < start + most, f"the window never comes to rest: {', '.join(busy(window))}"
        if time.monotonic() > start + _PATIENCE:
            _stop_rehearsing(window)
        QApplication.processEvents()
        time.sleep(0.002)
    _work()


def _work() -> None:
    for _ in range(3):
        QApplication.processEvents()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # as a loop does between two rounds


def park(window: Window) -> None:
    """The focus on the window itself, the pointer nowhere, no message over the pages, no rehearsal without end."""
    window.leave_editor()
    window.finder.hide()
    window.notice.clear()
    if window.help.guide is not None:
        window.help.guide.hide()
    _stop_what_takes_long(window)
    progress = window.bench.right.made_of(ProgressPanel)
    if progress is not None:
        progress.forget_file()  # what is open there, and what was said of it, belongs to no study
    unhover(window)
    for text in window.findChildren(QTextEdit):
        cursor = text.textCursor()  # marked text stays marked when it is left, as it does everywhere
        cursor.clearSelection()
        text.setTextCursor(cursor)
    for line in window.findChildren(QLineEdit):
        line.setCursorPosition(0)  # a menu can mark a text without giving it the focus
    for table in window.findChildren(QTableWidget):
        table.setCurrentCell(-1, -1)  # as a selection stays marked
    window.setFocus()


def _stop_what_takes_long(window: Window) -> None:
    """A rehearsal of very many studies, as somebody would who has seen enough."""
    aim = window.session.aim
    if aim is not None and aim.rehearsing.times > _MANY:
        _stop_rehearsing(window)


def _stop_rehearsing(window: Window) -> None:
    page = window.pages.made_of(RehearsePage)
    if page is not None and page.running.busy:
        page.stop_or_go_on()


def _half_rehearsed(window: Window) -> bool:
    """Whether a rehearsal is in view that was stopped on its way."""
    page = window.pages.made_of(RehearsePage)
    return page is not None and page.isVisible() and page.stop.isVisible() and not page.running.busy


def unhover(window: Window) -> None:
    """The pointer is nowhere."""
    QApplication.sendEvent(window.bench.picture.canvas, QEvent(QEvent.Type.Leave))
    if window.pages.made_of(GridPage) is not None:
        QApplication.sendEvent(window.pages.of(GridPage).view.canvas, QEvent(QEvent.Type.Leave))
    if window.pages.made_of(RehearsePage) is not None:
        QApplication.sendEvent(window.pages.of(RehearsePage).pictures.canvas, QEvent(QEvent.Type.Leave))
    for widget in [each for each in [window, *window.findChildren(QWidget)] if each.underMouse()]:
        if isValid(widget):  # leaving one may have deleted another
            widget.setAttribute(Qt.WidgetAttribute.WA_UnderMouse, False)
            QApplication.sendEvent(widget, QEvent(QEvent.Type.Leave))
            widget.update()


def fresh(window: Window, folder: Path) -> Window:
    """A new window in the state of another."""
    remembered = Remembered(QSettings(str(folder / "fresh.ini"), QSettings.Format.IniFormat))
    remembered.theme, remembered.explaining = window.remembered.theme, window.remembered.explaining
    session = window.session
    made = make_window(session.study, session.path, remembered, Recovery(folder / "fresh"), session.digest)
    made.session.noticed_digest = session.noticed_digest
    made.session.saved, made.session.saved_at = session.saved, session.saved_at
    made.session.answers.stopped = set(session.answers.stopped)
    made.session.select(session.aim_id)
    made.resize(window.size())
    made.show()
    scroll = take_over(window, made)
    made.session.changed.emit()
    park(made)
    settle(made)
    scroll()
    return made


def close(window: Window) -> None:
    """Without a question."""
    window.finish_threads()
    window.session.saved = window.session.study
    window.close()
    window.deleteLater()


def pixels(image: QImage) -> np.ndarray:
    """Height x width x 3."""
    plain = image.convertToFormat(QImage.Format.Format_RGB888)
    rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
    return rows[:, : 3 * plain.width()].reshape(plain.height(), plain.width(), 3).copy()


def differences(one: QImage, other: QImage) -> str:
    """Where two pictures differ, in words; empty where they are the same but for a few pixels."""
    first, second = pixels(one), pixels(other)
    if first.shape != second.shape:
        return f"sizes {first.shape} and {second.shape}"
    if np.array_equal(first, second):
        return ""
    off = (np.maximum(first, second) - np.minimum(first, second) > DIFFERENT).any(axis=2)
    if off.sum() <= TOLERATED:
        return ""
    rows, columns = np.flatnonzero(off.any(axis=1)), np.flatnonzero(off.any(axis=0))
    return f"{off.sum()} pixels in x {columns[0]} to {columns[-1]}, y {rows[0]} to {rows[-1]}"


def activate(window: Window) -> None:
    """In front, as it is while somebody works with it."""
    window.activateWindow()
    end = time.monotonic() + 5
    while QApplication.activeWindow() is not window and time.monotonic() < end:
        QApplication.processEvents()


def compared(window: Window, folder: Path) -> tuple[str, QImage, QImage]:
    """In what the window differs from a freshly made one, and both as they look."""
    park(window)
    settle(window)
    unhover(window)
    one = window.grab().toImage()
    if _half_rehearsed(window):
        return "", one, one  # how far it came before it was stopped is chance
    other = fresh(window, folder)
    try:
        settle(other)
        unhover(other)
        image = other.grab().toImage()
    finally:
        close(other)
        activate(window)
    found = differences(one, image)
    if found and (moved := differences(one, window.grab().toImage())):
        found += f"; the walked window itself has changed since it was looked at: {moved}"
    return found, one, image
