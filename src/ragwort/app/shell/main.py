"""Starting the window."""

from __future__ import annotations

import sys
from pathlib import Path

from platformdirs import user_state_path
from PySide6.QtWidgets import QApplication

from ragwort.app.kit.theme import the_application
from ragwort.app.session.session import Session
from ragwort.app.shell.endings import Endings
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import Window
from ragwort.designs import all_designs
from ragwort.study import edits
from ragwort.study.files import read_study_and_digest
from ragwort.study.model import Study
from ragwort.study.recovery import Recovery


def recovery_folder() -> Path:
    """Where recovery copies live."""
    return user_state_path("ragwort") / "recovery"


def make_window(
    study: Study | None = None,
    path: Path | None = None,
    remembered: Remembered | None = None,
    recovery: Recovery | None = None,
    digest: str = "",
) -> Window:
    """A window on a study; on a fresh one where none is given. Needs a QApplication."""
    if study is None:
        study = Study(aims=(edits.new_aim(all_designs()[0], "Aim 1"),))
    session = Session(study, path, recovery or Recovery(recovery_folder()), digest)
    return Window(session, remembered or Remembered())


def run(file: Path | None, demo: bool = False) -> int:
    """Open the window and run until it closes. Raises `FileError` where `file` cannot be opened."""
    study, digest = read_study_and_digest(file) if file is not None else (None, "")
    if demo:
        from ragwort.demo import demo_study

        study = demo_study()
    application = the_application() if QApplication.instance() else QApplication(sys.argv[:1])
    application.setApplicationName("Ragwort")
    application.setStyle("Fusion")
    recovery = Recovery(recovery_folder())
    window = make_window(study, file, recovery=recovery, digest=digest)
    endings = Endings(application, window)
    sys.excepthook = lambda kind, error, trace: window.tell_fault(error)
    if file is not None:
        window.remembered.remember(file)
    for recovered in recovery.left_behind():
        window.studies.offer_recovered(recovered)
    window.show()
    try:
        return application.exec()
    finally:
        endings.forget()
