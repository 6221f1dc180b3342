"""Starting the window: its frame and the study's words at once, the rest as soon as it is loaded."""

from __future__ import annotations

import gc
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from ragwort.app.kit.memory import GivesBack, keep_little
from ragwort.app.kit.theme import the_application
from ragwort.app.shell.opening import FirstWords, words_in
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import Window

if TYPE_CHECKING:
    from ragwort.app.session.session import Session
    from ragwort.app.shell.endings import Endings
    from ragwort.study.document.model import Study
    from ragwort.study.document.recovery import Recovery


def recovery_folder() -> Path:
    """Where recovery copies live."""
    from platformdirs import user_state_path

    return user_state_path("ragwort") / "recovery"


def make_window(
    study: Study | None = None,
    path: Path | None = None,
    remembered: Remembered | None = None,
    recovery: Recovery | None = None,
    digest: str = "",
) -> Window:
    """A window on a study; on a fresh one where none is given. Needs a QApplication."""
    window = Window(remembered or Remembered())
    window.take(_session(study, path, recovery, digest))
    return window


def _session(study: Study | None, path: Path | None, recovery: Recovery | None, digest: str) -> Session:
    from ragwort.app.session.session import Session
    from ragwort.designs import all_designs
    from ragwort.study import edits
    from ragwort.study.document.model import Study
    from ragwort.study.document.recovery import Recovery

    if study is None:
        study = Study(aims=(edits.new_aim(all_designs()[0], "Aim 1"),))
    return Session(study, path, recovery or Recovery(recovery_folder()), digest)


LOADED = 3000  # ms after which all that a window needs is loaded


def spare_what_stays() -> None:
    """What is loaded by now stays: looking all of it through for garbage takes 100 ms, in the middle of a drag.

    What has been there for a while is looked through more seldom than Python does by itself.
    """
    gc.freeze()
    young, middle, _ = gc.get_threshold()
    gc.set_threshold(young, middle, 5 * middle)


class Start:
    """One start: the window is painted first, filled then; what goes wrong in filling it is raised by `run`."""

    def __init__(self, application: QApplication, file: Path | None, demo: bool) -> None:
        self._application, self._file, self._demo = application, file, demo
        self._begun = False
        self.error: BaseException | None = None
        self.endings: Endings | None = None

    def begin(self, words: FirstWords) -> None:
        """Show the frame; the rest follows its first paint."""
        self.window = Window(Remembered(), words)
        self.window.opening.painted.connect(self._fill)
        self.window.show()
        QTimer.singleShot(2000, self._fill)  # also where a window is not painted, such as one shown on another desktop

    def _fill(self) -> None:
        if self._begun:
            return
        self._begun = True
        try:
            self._take()
        except BaseException as error:  # noqa: BLE001  (raised again by `run`)
            self.error = error
            self.window.close()
            self._application.exit(1)

    def _take(self) -> None:
        from ragwort.app.shell.endings import Endings
        from ragwort.study.document.files import read_study_file
        from ragwort.study.document.recovery import Recovery

        study, digest, remark = (None, "", "") if self._file is None else read_study_file(self._file)
        if self._demo:
            from ragwort.demo import demo_study

            study = demo_study()
        recovery = Recovery(recovery_folder())
        window = self.window
        window.take(_session(study, self._file, recovery, digest))
        self.endings = Endings(self._application, window)
        sys.excepthook = lambda kind, error, trace: window.tell_fault(error)
        if self._file is not None:
            window.remembered.remember(self._file)
        for recovered in recovery.left_behind():
            window.studies.offer_recovered(recovered)
        if remark:
            window.notice.say(remark)
        QTimer.singleShot(LOADED, spare_what_stays)
        window.session.changed.connect(GivesBack(window).used)


def run(file: Path | None, demo: bool = False) -> int:
    """Open the window and run until it closes. Raises `FileError` where `file` cannot be opened."""
    words = FirstWords() if file is None else words_in(file)
    if file is not None and words is None:
        from ragwort.study.document.files import read_study

        study = read_study(file)  # what is wrong with it is said before a window opens
        words = FirstWords(study.title, tuple(aim.name for aim in study.aims))
    keep_little()
    application = the_application() if QApplication.instance() else QApplication(sys.argv[:1])
    application.setApplicationName("Ragwort")
    application.setStyle("Fusion")
    start = Start(application, file, demo)
    start.begin(words or FirstWords())
    try:
        status = application.exec()
        if start.error is not None:
            raise start.error
        return status
    finally:
        if start.endings is not None:
            start.endings.forget()
