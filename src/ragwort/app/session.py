"""The open study: its history, the aim in view, and the outcomes that every view shows."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from ragwort.app.answers import Answers
from ragwort.study.files import Recovery, StudyFileError, write_study
from ragwort.study.history import Edit, History
from ragwort.study.model import Aim, Setting, Study
from ragwort.study.outcome import Outcome

RECOVERY_DELAY = 2000  # ms after the last edit until a recovery copy is written


class Session(QObject):
    """One study being edited. `changed` says that anything shown may be different now."""

    changed = Signal()
    noticed = Signal(str)  # a message for the user

    def __init__(self, study: Study, path: Path | None, recovery: Recovery) -> None:
        super().__init__()
        self._recovery = recovery
        self._copy_timer = QTimer(self, singleShot=True, interval=RECOVERY_DELAY)
        self._copy_timer.timeout.connect(self._write_recovery)
        self.scrubbing = False
        self.answers = Answers(self)
        self.answers.arrived.connect(self.changed)
        self._start(study, path)

    def _start(self, study: Study, path: Path | None) -> None:
        self.history = History(study)
        self.path = path
        self._saved = study
        self.saved_at = ""
        self.aim_id = study.aims[0].id if study.aims else ""

    # --- what is shown ---

    @property
    def study(self) -> Study:
        """The study as it stands."""
        return self.history.present

    @property
    def aim(self) -> Aim | None:
        """The aim in view."""
        return next((aim for aim in self.study.aims if aim.id == self.aim_id), None)

    def outcome(self, aim: Aim, setting: Setting | None = None) -> Outcome:
        """The outcome of an aim, or of one of its scenarios; one that takes time comes with a later `changed`."""
        return self.answers.outcome(aim, setting, patient=setting is None and aim.id == self.aim_id)

    @property
    def unsaved(self) -> bool:
        """Whether there is anything that the file does not hold."""
        return self.study != self._saved

    # --- what users do ---

    def do(self, edit: Edit) -> None:
        """Carry out an edit and tell every view."""
        if self.history.do(edit):
            self._after_change()

    def undo(self) -> None:
        """Take the last edit back."""
        self.history.undo()
        self._after_change()

    def redo(self) -> None:
        """Do the last undone edit again."""
        self.history.redo()
        self._after_change()

    def select(self, aim_id: str) -> None:
        """Bring another aim into view."""
        if aim_id != self.aim_id:
            self.aim_id = aim_id
            self.history.seal()
            self.changed.emit()

    def scrub(self, edit: Edit) -> None:
        """One step of a drag: views may draw the quick way until `end_scrub`."""
        self.scrubbing = True
        self.do(edit)

    def end_scrub(self) -> None:
        """The drag is over: draw properly, and undo it as one."""
        self.scrubbing = False
        self.history.seal()
        self.changed.emit()

    def _after_change(self) -> None:
        if self.aim is None:
            self.aim_id = self.study.aims[0].id if self.study.aims else ""
        self._copy_timer.start()
        self.changed.emit()

    # --- files ---

    def open(self, study: Study, path: Path | None, unsaved: bool = False) -> None:
        """Show another study. `unsaved` is for work recovered after a crash."""
        self._start(study, path)
        if unsaved:
            self._saved = Study()
        self._recovery.clear()
        self.changed.emit()

    def save(self, path: Path) -> bool:
        """Save under `path`. What fails is said, and nothing is lost."""
        try:
            write_study(self.study, path)
        except StudyFileError as error:
            self.noticed.emit(str(error))
            return False
        self.path, self._saved = path, self.study
        self.saved_at = datetime.now().strftime("%H:%M")
        self._copy_timer.stop()
        self._recovery.clear()
        self.changed.emit()
        return True

    def close(self) -> None:
        """The window closes in good order: no recovery copy is needed."""
        self.answers.finish()
        self._copy_timer.stop()
        self._recovery.clear()

    def _write_recovery(self) -> None:
        if not self.unsaved:
            self._recovery.clear()
            return
        try:
            self._recovery.keep(self.study, self.path)
        except (OSError, StudyFileError) as error:
            self.noticed.emit(f"No recovery copy could be written: {error}")

    def status(self) -> str:
        """The study's name and whether it is saved."""
        if self.unsaved:
            return f"{self.study.title}, not saved yet" if self.path is None else f"{self.study.title}, edited"
        return f"{self.study.title}, saved {self.saved_at}" if self.saved_at else self.study.title
