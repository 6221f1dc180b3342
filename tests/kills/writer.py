"""Edits without end, as a user does, and says what is on screen: killed by `engine.py` at a moment it does not know."""

from __future__ import annotations

import os
import sys
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PySide6.QtCore import QSettings, QTimer
from PySide6.QtWidgets import QApplication

from ragwort.app.session import asking
from ragwort.app.shell.main import make_window
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import Window
from ragwort.study import edits
from ragwort.study.document.files import read_study_file
from ragwort.study.document.recovery import Recovery

STEP = 15  # ms between two edits


def main(folder: Path, number: int) -> None:
    """Go on from what is there: recovered work first, else the file."""
    application = QApplication([])
    recovery = Recovery(folder / "recovery")
    left = recovery.left_behind()
    path = folder / "night.ragwort"
    study, digest, _ = read_study_file(path)
    remembered = Remembered(QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat))
    window = make_window(study, path, remembered, recovery, digest)
    if left:
        newest = max(left, key=lambda found: number_of(found.study.title))
        window.session.restore(newest)
        for other in left:
            if other is not newest:
                other.discard()
    print("has", number_of(window.session.study.title), flush=True)
    asking.about_other_contents = taken_for_anothers
    asking.place_to_save = lambda *_: folder / "curve.csv"
    timer = QTimer(interval=STEP)
    state = {"at": number}
    timer.timeout.connect(lambda: act(window, state))
    timer.start()
    application.exec()


def act(window: Window, state: dict[str, int]) -> None:
    """One edit; every so often a save or an export."""
    state["at"] += 1
    at = state["at"]
    window.session.do(edits.set_study(window.session.study, title=f"Study {at}"))
    print("shows", at, flush=True)
    if at % 23 == 0:
        window.studies.save()
        print("saved", at, flush=True)
    elif at % 11 == 0:
        window.session.keep_copy()
    elif at % 17 == 0:
        window.exports.picture("csv")


def taken_for_anothers(*_: object) -> str:
    """Nobody else writes the file."""
    print("its own last save was taken for somebody else's", file=sys.stderr, flush=True)
    return "replace"


def number_of(title: str) -> int:
    """The number of the edit that gave a study its title."""
    return int(title.split()[-1]) if title.split()[-1].isdigit() else 0


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]))
