"""A real window on the demo study, offscreen; any warning of Qt fails the test."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QEventLoop, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from ragwort.app.bench import canvas as app_canvas
from ragwort.app.bench import picture as app_picture
from ragwort.app.session import answers as app_answers
from ragwort.app.session import asking
from ragwort.app.shell.main import make_window
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import Window
from ragwort.demo import demo_study
from ragwort.study.model import Study
from ragwort.study.outcome import at_hand
from ragwort.study.recovery import Recovery

MakeWindow = Callable[..., Window]


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Warnings of Qt are failures; the offscreen platform's own remark is not ours."""
    for item in items:
        if "tests/app" in str(item.path):
            item.add_marker(pytest.mark.qt_log_level_fail("WARNING"))
            item.add_marker(pytest.mark.qt_log_ignore("This plugin does not support"))


@pytest.fixture(autouse=True)
def patience(monkeypatch: pytest.MonkeyPatch, request: pytest.FixtureRequest) -> None:
    """Labels find their places soon; with `--impatient`, or marked so, no view waits, as on a very busy machine."""
    monkeypatch.setattr(app_canvas, "SETTLE", 5)
    if request.config.getoption("--impatient") or request.node.get_closest_marker("impatient"):
        monkeypatch.setattr(at_hand, "__defaults__", (None, 0.0))
        monkeypatch.setattr(app_answers, "PATIENCE", 0.0)
        monkeypatch.setattr(app_answers, "LITTLE_PATIENCE", 0.0)
        monkeypatch.setattr(app_picture, "PATIENCE", 0.0)


@pytest.fixture
def remembered(tmp_path: Path) -> Remembered:
    """Settings of this test alone."""
    settings = Remembered(QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat))
    settings.theme = "light"
    return settings


@pytest.fixture
def open_window(qtbot: QtBot, tmp_path: Path, remembered: Remembered) -> Iterator[MakeWindow]:
    """Opens windows that are closed, unsaved or not, after the test."""
    windows: list[Window] = []

    def make(study: Study | None = None, path: Path | None = None) -> Window:
        QApplication.setStyle("Fusion")
        window = make_window(study or demo_study(), path, remembered, Recovery(tmp_path / "recovery"))
        windows.append(window)
        window.show()
        qtbot.waitExposed(window)
        qtbot.waitUntil(lambda: window.bench.picture.ready or window.session.aim is None, timeout=120_000)
        settle(window)
        return window

    yield make
    for window in windows:
        window._finish_threads()
        window.exports.jobs.finish()
        window.session.open(Study(), None)
        window.close()
        window.deleteLater()


@pytest.fixture
def window(open_window: MakeWindow) -> Window:
    """A window on the demo study."""
    return open_window()


@pytest.fixture
def answers(monkeypatch: pytest.MonkeyPatch) -> dict[str, object]:
    """What the user answers to dialogs: `open`, `save` (paths or None), `unsaved` (save, discard, stay)."""
    given: dict[str, object] = {"open": None, "save": None, "unsaved": "stay", "other": "stay", "told": ""}
    monkeypatch.setattr(asking, "study_to_open", lambda *_: given["open"])
    monkeypatch.setattr(asking, "pilot_to_open", lambda *_: given["open"])
    monkeypatch.setattr(asking, "place_to_save", lambda *_: given["save"])
    monkeypatch.setattr(asking, "about_unsaved", lambda *_: given["unsaved"])

    def about_other_contents(_: object, path: Path, differences: list[str]) -> object:
        given["told"] = "; ".join(differences)
        return given["other"]

    monkeypatch.setattr(asking, "about_other_contents", about_other_contents)
    monkeypatch.setattr(asking, "tell", lambda _, title, text: given.update(told=f"{title}: {text}"))
    return given


def wait_until(condition: Callable[[], bool], most: float = 60) -> None:
    """Let the window work until a condition holds. Raises `AssertionError` where it never does."""
    end = time.monotonic() + most
    while not condition():
        assert time.monotonic() < end, "it never came"
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 10)
        time.sleep(0.001)  # the threads that are waited for need the processor, too
    QApplication.processEvents()


def settle(window: Window) -> None:
    """Wait for answers and pictures that take time."""
    picture = window.bench.picture
    wait_until(lambda: not (window.session.answers.busy or picture.busy or picture.canvas._settle.isActive()))


def retype(widget: QWidget, text: str, enter: bool = True) -> None:
    """Select all of a line and type over it, key by key."""
    widget.setFocus()
    widget.selectAll()
    if text and not text.isascii():
        widget.insert(text)  # QtTest has no keys beyond ASCII: as if pasted
        widget.setModified(True)
    elif text:
        QTest.keyClicks(widget, text)
    else:
        QTest.keyClick(widget, Qt.Key.Key_Delete)
    if enter:
        QTest.keyPress(widget, Qt.Key.Key_Return)  # pressed only: the editor may be gone before the release


def type_into(window: Window, name: str, text: str, enter: bool = True) -> None:
    """Type over the value of a ledger row."""
    retype(window.bench.ledger.row(name).editor, text, enter)
