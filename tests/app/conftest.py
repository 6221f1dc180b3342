"""A real window on the demo study, offscreen; any warning of Qt fails the test."""

from __future__ import annotations

import functools
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QEventLoop, QSettings, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from ragwort.app.picture import canvas as app_canvas
from ragwort.app.picture import picture as app_picture
from ragwort.app.session import answers as app_answers
from ragwort.app.session import asking
from ragwort.app.shell.main import make_window
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import DESIGNED_AT, Window
from ragwort.demo import sampler_study
from ragwort.study.document.model import Study
from ragwort.study.document.recovery import Recovery
from ragwort.study.results.outcome import at_hand

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


@pytest.fixture(autouse=True)
def clean_paper(monkeypatch: pytest.MonkeyPatch) -> None:
    """A drawing that leaves a mark on the window's paper, where the next would find it, fails whatever test it is."""
    drawn = app_canvas.Canvas._paint_and_remove

    def checked(canvas: app_canvas.Canvas, draw: object) -> None:
        drawn(canvas, draw)
        axes = canvas.axes
        assert not [*axes.texts, *axes.lines, *axes.patches, *axes.collections, *axes.artists]

    monkeypatch.setattr(app_canvas.Canvas, "_paint_and_remove", checked)


@pytest.fixture
def remembered(tmp_path: Path) -> Remembered:
    """Settings of this test alone."""
    return _settings(tmp_path)


def _settings(folder: Path) -> Remembered:
    settings = Remembered(QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat))
    settings.theme = "light"
    return settings


@pytest.fixture
def open_window(qapp: QApplication, tmp_path: Path, remembered: Remembered) -> Iterator[MakeWindow]:
    """Opens windows that are closed, unsaved or not, after the test."""
    windows: list[Window] = []

    def make(study: Study | None = None, path: Path | None = None) -> Window:
        windows.append(_open(study or sampler_study(), path, remembered, tmp_path))
        return windows[-1]

    yield make
    for window in windows:
        _close(window)


def _open(study: Study, path: Path | None, remembered: Remembered, folder: Path) -> Window:
    _put_on_the_style()
    window = make_window(study, path, remembered, Recovery(folder / "recovery"))
    window.show()
    wait_until(lambda: window.windowHandle().isExposed())
    wait_until(lambda: window.bench.picture.ready or window.session.aim is None, 120)
    settle(window)
    return window


@functools.cache  # every window that is open is made ready anew when the style is set
def _put_on_the_style() -> None:
    QApplication.setStyle("Fusion")


def _close(window: Window) -> None:
    window.finish_threads()
    window.exports.jobs.finish()
    window.session.open(Study(), None)
    window.close()
    window.deleteLater()
    let_go()


def let_go() -> None:
    """Delete what has been discarded, as a loop does between two rounds; `processEvents` by itself never does."""
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


@pytest.fixture(scope="module")
def _kept(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[list[Window], Path]]:
    windows: list[Window] = []
    yield windows, tmp_path_factory.mktemp("shared")
    for window in windows:
        _close(window)


@pytest.fixture
def window(qapp: QApplication, request: pytest.FixtureRequest) -> Window:
    """A window on the demo study; that of the module's last test, as somebody works on in one, but where marked."""
    if request.node.get_closest_marker("own_window"):
        return request.getfixturevalue("open_window")()
    windows, folder = request.getfixturevalue("_kept")
    if not windows:  # made here, not in the fixture of the module: what a single test sets is set by now
        windows.append(_open(sampler_study(), None, _settings(folder), folder))
        return windows[0]
    return _as_opened(windows[0])


def _as_opened(window: Window) -> Window:
    """The window as it was when it was opened, but for what has been made since."""
    window.activateWindow()
    window.setFocus()
    window.bench.picture.ready = False  # until everything is as it was
    window.finder.hide()
    window.set_theme("light")
    window.resize(*DESIGNED_AT)
    window.session.open(sampler_study(), None)
    window.session.select(sampler_study().aims[0].id)
    window.show_page("Bench")
    window.bench.right.setCurrentIndex(0)
    if window.bench.is_filled:
        window.bench.fill_with_picture()
    window.bench.detail.row = ""
    window.bench.detail.show_assumption("")
    window.bench.picture.ready = True
    window.bench.picture.show_tab("Curve")
    settle(window)
    wait_until(window.isActiveWindow)
    return window


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


def without_pictures(window: Window) -> Window:
    """The same with nothing drawn from now on, for what looks at words alone."""
    window.bench.picture.ready = False
    window.bench.picture.canvas.forget()
    return window


def wait_until(condition: Callable[[], bool], most: float = 60) -> None:
    """Let the window work until a condition holds. Raises `AssertionError` where it never does."""
    end = time.monotonic() + most
    while not condition():
        assert time.monotonic() < end, "it never came"
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 10)
        let_go()
        time.sleep(0.001)  # the threads that are waited for need the processor, too
    QApplication.processEvents()


def settle(window: Window) -> None:
    """Wait for answers and pictures that take time."""
    picture = window.bench.picture
    wait_until(lambda: not (window.session.answers.busy or picture.busy))


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
