"""The loop of the walk, and what must hold: no exception, no warning, same picture, same numbers, nothing lost."""

from __future__ import annotations

import json
import random
import sys
import threading
import time
import traceback
import warnings
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from unittest import mock

from PySide6.QtCore import QPoint, QSettings, Qt, QTimer, QtMsgType, qInstallMessageHandler
from PySide6.QtGui import QContextMenuEvent, QDrag
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu, QWidget

from ragwort.app.session import asking
from ragwort.app.shell import aims_panel as aims
from ragwort.app.shell.main import make_window
from ragwort.app.shell.settings import Remembered
from ragwort.demo import sampler_study
from ragwort.demo.pilot import pilot_csv
from ragwort.designs import Answer, answer_request, design_named
from ragwort.designs.request import as_json
from ragwort.files import log
from ragwort.study.document.files import read_study, write_study
from ragwort.study.document.history import LONGEST
from ragwort.study.document.recovery import Recovery
from ragwort.study.results.outcome import outcome_of, request_of
from tests.walk.actions import ACTIONS
from tests.walk.readers import opened
from tests.walk.sameness import activate, close, compared, settle

LOOK_EVERY = 15  # actions
NAMES = ("out", "an 'odd' \"name\"", "nächtliche 🌙 Schicht", "-o", "=1+1", "x" * 180, "a\nb", "50 % (2)", ".hidden")
IGNORED = ("This plugin does not support", "propagateSizeHints")
STALL, LONG_STALL = 0.1, 0.7  # seconds
_DRAGGED = 20  # milliseconds


@dataclass
class Found:
    """A fault, with what led to it."""

    what: str
    step: int
    trail: list[str]


@dataclass
class Walk:
    """One walk. `run` gives what was found."""

    seed: int
    folder: Path
    watched: bool = False  # say what long stalls were at
    faults: list[Found] = field(default_factory=list)
    stalls: list[tuple[float, str]] = field(default_factory=list)
    trail: list[str] = field(default_factory=list)
    looks: int = 0

    def run(self, count: int) -> list[Found]:
        """Do `count` actions."""
        self.rng, self.answers = random.Random(self.seed), random.Random(self.seed + 1)
        self._prepare()
        weights = [weight for _, weight in ACTIONS]
        try:
            for step in range(1, count + 1):
                self._act(step, self.rng.choices(ACTIONS, weights)[0][0])
                if step % LOOK_EVERY == 0 or step == count:
                    self._look(step)
            self._history(count)
        finally:
            close(self.window)
            self._undo_preparation()
        return self.faults

    # --- the stage ---

    def _prepare(self) -> None:
        self.folder.mkdir(parents=True, exist_ok=True)
        self._patches = [
            mock.patch.object(asking, "study_to_open", lambda *_: self._file()),
            mock.patch.object(asking, "pilot_to_open", lambda *_: self._file()),
            mock.patch.object(asking, "place_to_save", lambda *_: self._target(_[-1])),
            mock.patch.object(asking, "about_unsaved", lambda *_: self.answers.choice(("save", "discard", "stay"))),
            mock.patch.object(asking, "about_other_contents", lambda *_: self.answers.choice(("replace", "stay"))),
            mock.patch.object(asking, "tell", lambda *_: None),
            mock.patch.object(aims, "QDrag", lambda card: _NoDrag(self, card)),
            mock.patch.object(log, "log_path", lambda: self.folder / "ragwort.log"),
        ]
        for patch in self._patches:
            patch.start()
        self._hook, sys.excepthook = sys.excepthook, lambda *error: self._fault(f"exception {error[1]!r}", error)
        self._handler = qInstallMessageHandler(self._message)
        warnings.simplefilter("error")  # so that it is found like any other exception
        self._files()
        self._exported = self.folder / "exported"
        self._exported.mkdir(exist_ok=True)
        (self.folder / "a file").write_text("")
        self._refusing = [self.folder / "no such folder", self.folder / "a file", Path("/proc"), Path("/dev/null")]
        remembered = Remembered(QSettings(str(self.folder / "walk.ini"), QSettings.Format.IniFormat))
        remembered.theme = "light"
        self.window = make_window(sampler_study(), None, remembered, Recovery(self.folder / "recovery"))
        self.window.session.noticed.connect(lambda message: self.trail.append(f"said: {message[:60]}"))
        self.window.show()
        self._first = self.window.session.study
        self._popups = QTimer(interval=15)
        self._popups.timeout.connect(self._answer_popup)
        self._popups.start()
        self._began, self._watching, self._seen = 0.0, True, dict[float, str]()
        if self.watched:
            threading.Thread(target=self._watch, daemon=True).start()
        settle(self.window)

    def _undo_preparation(self) -> None:
        self._popups.stop()
        self._watching = False
        qInstallMessageHandler(self._handler)
        sys.excepthook = self._hook
        for patch in self._patches:
            patch.stop()

    def _files(self) -> None:
        """What may be opened."""
        (self.folder / "night.csv").write_text(pilot_csv())
        (self.folder / "doubt.csv").write_text("room;score\na;1.234\nb;2.345\na;3.456\nb;4.567\n")
        (self.folder / "bad.ragwort").write_text("[" * 5000)
        write_study(sampler_study(), self.folder / "night.ragwort")

    def _file(self) -> Path | None:
        name = self.answers.choice(("night.csv", "doubt.csv", "bad.ragwort", "night.ragwort", "none.csv", ""))
        return self.folder / name if name else None

    def _target(self, suffix: str) -> Path | None:
        """Where to save: under names that people and programs give, sometimes where nothing can be written."""
        if self.answers.random() < 0.3:
            return None
        if self.answers.random() < 0.15:
            return self.answers.choice(self._refusing) / f"x{suffix}"
        return self._exported / f"{self.answers.choice(NAMES)}{suffix}"

    def _watch(self) -> None:
        """From a thread of its own: what the window is at while it stands still for long."""
        main = threading.main_thread().ident
        while self._watching:
            time.sleep(0.2)
            began = self._began
            if began and time.perf_counter() - began > LONG_STALL and began not in self._seen:
                self._seen[began] = f" in {' > '.join(_stack(sys._current_frames()[main]))}"

    # --- one action ---

    def _act(self, step: int, act: Callable[[Walk], str]) -> None:
        self._cause = act.__name__
        activate(self.window)  # the guide has a window of its own
        try:
            said = act(self)
        except Exception as error:  # noqa: BLE001  (what is looked for)
            said = act.__name__
            self._fault(f"exception {error!r} in {said}", (type(error), error, error.__traceback__))
        self.trail.append(f"{step} {said}")
        (self.folder / "trail.txt").write_text("\n".join(self.trail[-40:]), encoding="utf-8", errors="replace")

    def send(self, event: Callable[[], Any]) -> None:
        """One event, and whatever it sets off; how long the window stood still is noted."""
        started = self._began = time.perf_counter()
        event()
        QApplication.processEvents()
        took, self._began = time.perf_counter() - started, 0.0
        if took > STALL:
            self.stalls.append(
                (
                    took,
                    f"{self._cause}{self._seen.pop(started, '')} after {self.trail[-1] if self.trail else 'the start'}",
                )
            )

    def drag_over(self, widget: QWidget, at: Any) -> None:
        """Move with the button held."""
        place = at.toPoint() if hasattr(at, "toPoint") else at
        if QApplication.platformName() == "xcb":  # where text that is dragged away waits for a real mouse to let go
            QTimer.singleShot(_DRAGGED, QDrag.cancel)
        QTest.mouseMove(widget, place)
        QApplication.processEvents()

    def ask_for_menu(self, widget: QWidget, at: QPoint) -> None:
        """As a right click does on a desktop; QtTest does not ask by itself."""
        event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, widget.mapToGlobal(at))
        self.send(lambda: QApplication.sendEvent(widget, event))

    def _answer_popup(self) -> None:
        popup = QApplication.activePopupWidget()
        if popup is None:
            return
        choices = [a for a in popup.actions() if a.isEnabled() and not a.isSeparator() and not a.menu()]
        if isinstance(popup, QMenu) and choices and self.answers.random() < 0.7:
            chosen = self.answers.choice(choices)
            if "Quit" not in chosen.text() and "theme" not in chosen.text().lower():
                self.trail.append(f"chose {chosen.text()[:40]}")
                popup.setActiveAction(chosen)
                QTest.keyClick(popup, Qt.Key.Key_Return)
        popup = QApplication.activePopupWidget()
        if popup is not None:
            popup.close()

    def _message(self, kind: QtMsgType, context: object, message: str) -> None:
        if kind != QtMsgType.QtDebugMsg and not any(words in message for words in IGNORED):
            self._fault(f"Qt says: {message}")

    def _fault(self, what: str, error: tuple[Any, ...] | None = None) -> None:
        if error is not None:
            what = f"{what}\n{''.join(traceback.format_exception(*error))}"
        self.faults.append(Found(what, len(self.trail), self.trail[-25:]))

    # --- what must hold ---

    def _look(self, step: int) -> None:
        self.looks += 1
        while QApplication.activePopupWidget() is not None:
            self._answer_popup()
        settle(self.window)
        differs, one, other = compared(self.window, self.folder)
        if differs:
            names = [str(self.folder / f"{self.seed}-{step}-{which}.png") for which in ("walked", "fresh")]
            one.save(names[0])
            other.save(names[1])
            self._fault(f"looks otherwise than freshly made: {differs} ({names[0]}, {names[1]})")
        self._paper()
        self._exports()
        self._numbers()
        self._saved()
        logged = self.folder / "ragwort.log"
        if logged.exists():
            self._fault(logged.read_text())
            logged.unlink()

    def _exports(self) -> None:
        """What was written can be opened by readers that are not ours."""
        for path in self._exported.iterdir():
            try:
                opened(path)
            except Exception as error:  # noqa: BLE001  (what is looked for)
                self._fault(f"{path.name!r} cannot be opened: {error!r}")
                path.rename(self.folder / f"fault-{self.looks}{path.suffix}")
            else:
                path.unlink()

    def _paper(self) -> None:
        """Between two drawings nothing stays on the paper, which the next may find there."""
        axes = self.window.bench.picture.canvas.axes
        left = [] if axes is None else [*axes.texts, *axes.lines, *axes.patches, *axes.collections, *axes.artists]
        for mark in left:
            self._fault(f"{mark} was left on the paper")
            mark.remove()

    def _numbers(self) -> None:
        """What the sentence says is what `ragwort compute` says."""
        aim = self.window.session.aim
        if aim is None:
            return
        outcome = outcome_of(aim)
        if not isinstance(outcome, Answer):
            return
        again = answer_request(request_of(design_named(aim.design), aim))
        if json.dumps(as_json(outcome)) != json.dumps(again):
            self._fault(f"another answer than compute: {again}")
        from ragwort.study.words.sentence import plain_text, sentence_of

        said = self.window.bench.sentence.text()
        if aim.id not in {key[0] for key in self.window.session.answers.known} or (
            aim.entries and (plain_text(sentence_of(aim, outcome)) not in said)
        ):
            self._fault(f"the sentence says {said!r}")

    def _saved(self) -> None:
        path = self.folder / "again.ragwort"
        study = self.window.session.study
        write_study(study, path)
        if read_study(path) != study:
            self._fault("saved and read again it is another study")

    def _history(self, step: int) -> None:
        """Undo to the start gives what there was first, redo to the end what there was last."""
        history = self.window.session.history
        last, steps = history.present, 0
        while history.undo_label and steps <= LONGEST:
            history.undo()
            steps += 1
        first = history.present
        for _ in range(steps):
            history.redo()
        if history.present != last:
            self._fault("redo to the end is not the last study")
        for _ in range(steps):
            history.undo()
        if history.present != first:
            self._fault("undo to the start is not the same twice")
        for _ in range(steps):
            history.redo()


def _stack(frame: Any) -> list[str]:
    """The innermost places of ours on a stack."""
    places: list[str] = []
    while frame is not None and len(places) < 4:
        if "ragwort" in frame.f_code.co_filename:
            places.insert(0, f"{frame.f_code.co_name}:{frame.f_lineno}")
        frame = frame.f_back
    return places


class _NoDrag:
    """A drag of a card, dropped at once: the platform's own waits for a pointer that nobody moves."""

    def __init__(self, walk: Walk, card: Any) -> None:
        self._walk, self._card = walk, card

    def setMimeData(self, data: object) -> None:
        """As the real one."""

    def setPixmap(self, pixmap: object) -> None:
        """As the real one."""

    def exec(self, action: object) -> None:
        """Drop it somewhere."""
        panel = self._card.panel
        panel.drop(self._card.aim.id, self._walk.answers.uniform(0, panel.height()))
