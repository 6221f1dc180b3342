"""The open study: its history, the aim in view, and the outcomes that every view shows."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from ragwort.app.session.answers import Answers
from ragwort.files import FileError
from ragwort.study.document.aim import Aim, Setting
from ragwort.study.document.files import digest_on_disk, write_study
from ragwort.study.document.history import Edit, History
from ragwort.study.document.model import Study
from ragwort.study.document.recovery import Recovered, Recovery
from ragwort.study.results.outcome import Outcome, trouble_of
from ragwort.study.sharing.family import guarded

RECOVERY_DELAY = 2000  # ms after the last edit until a recovery copy is written


class Session(QObject):
    """One study being edited. `changed` says that anything shown may be different now."""

    changed = Signal()
    noticed = Signal(str)  # a message for the user

    def __init__(self, study: Study, path: Path | None, recovery: Recovery, digest: str = "") -> None:
        super().__init__()
        self._recovery = recovery
        self._copy_timer = QTimer(self, singleShot=True, interval=RECOVERY_DELAY)
        self._copy_timer.timeout.connect(self.keep_copy)
        self.scrubbing = False
        self.answers = Answers(self)
        self.answers.arrived.connect(self.changed)
        self._start(study, path, digest)

    def _start(self, study: Study, path: Path | None, digest: str) -> None:
        self.history = History(study)
        self.path = path
        self.digest = digest or (digest_on_disk(path) if path is not None else "")
        self.noticed_digest = ""
        self.saved: Study | None = study
        self.saved_at = ""
        self.aim_id = study.aims[0].id if study.aims else ""

    # --- what is shown ---

    @property
    def study(self) -> Study:
        """The study as it stands."""
        return self.history.present

    @property
    def aim(self) -> Aim | None:
        """The aim in view; None where there is none, or one that nothing can be made of."""
        aim = self.aim_in_view
        return None if aim is None or trouble_of(aim) else aim

    @property
    def aim_in_view(self) -> Aim | None:
        """The aim in view, also where nothing can be made of it."""
        return next((aim for aim in self.study.aims if aim.id == self.aim_id), None)

    @property
    def trouble(self) -> str:
        """Why nothing can be made of the aim in view; empty where something can."""
        aim = self.aim_in_view
        return "" if aim is None else trouble_of(aim)

    def outcome(self, aim: Aim, setting: Setting | None = None) -> Outcome:
        """The outcome of an aim, or of one of its scenarios; one that takes time comes with a later `changed`."""
        return self.answers.outcome(aim, setting, patient=setting is None and aim.id == self.aim_id)

    @property
    def unsaved(self) -> bool:
        """Whether there is anything that the file does not hold."""
        return self.study is not self.saved and self.study != self.saved

    # --- what users do ---

    def do(self, edit: Edit, then_show: str = "", joined: str = "") -> None:
        """Carry out an edit and tell every view; another aim comes into view with it where one is named.

        Successive edits with the same `joined` are undone together.
        """
        merge = joined or edit.merge
        careful = replace(edit, study=guarded(self.history.present, edit.study), merge=merge)
        if self.history.do(careful):
            self.aim_id = then_show or self.aim_id
            self._after_change()

    def undo(self) -> None:
        """Take the last edit back."""
        self.history.undo()
        self._after_change()

    def redo(self) -> None:
        """Do the last undone edit again."""
        self.history.redo()
        self._after_change()

    def leave_field(self, merge: str, keep: bool = True, anew: bool = False) -> None:
        """A field has been left: what was typed there in one go stays, or is forgotten.

        Views are told where anything was typed, or (`anew`) where a field shows other text than the study has.
        """
        forgotten = not keep and self.history.take_back(merge)
        typed = self.history.seal()
        if forgotten:
            self._after_change()
        elif typed or anew:
            self.changed.emit()

    def select(self, aim_id: str) -> None:
        """Bring another aim into view."""
        if aim_id != self.aim_id:
            self.aim_id = aim_id
            self.history.seal()
            self.changed.emit()

    def scrub(self, edit: Edit, joined: str = "") -> None:
        """One step of a drag: views may draw the quick way until `end_scrub`."""
        self.scrubbing = True
        self.do(edit, joined=joined)

    def end_scrub(self) -> None:
        """The drag is over: draw properly, and undo it as one."""
        self.scrubbing = False
        self.history.seal()
        self.changed.emit()

    def _after_change(self) -> None:
        if self.aim_in_view is None:
            self.aim_id = self.study.aims[0].id if self.study.aims else ""
        self._copy_timer.start()
        self.changed.emit()

    # --- files ---

    def open(self, study: Study, path: Path | None, digest: str = "") -> None:
        """Show another study."""
        self._start(study, path, digest)
        self._copy_timer.stop()
        self._recovery.clear()
        self.changed.emit()

    def restore(self, recovered: Recovered) -> None:
        """Show work left behind; its copy goes once there is another of our own."""
        self._start(recovered.study, recovered.path, recovered.digest)
        self.saved = None
        if self.keep_copy():
            recovered.discard()
        self.changed.emit()

    @property
    def differs_on_disk(self) -> bool:
        """Whether the study's file has other contents than when it was read or saved here."""
        now = digest_on_disk(self.path) if self.path is not None else ""
        return bool(now) and now != self.digest

    def newly_differs_on_disk(self) -> bool:
        """Whether the file has contents that it did not have when this was asked last."""
        if self.path is None:
            return False
        now = digest_on_disk(self.path)
        news = bool(now) and now not in (self.digest, self.noticed_digest)
        self.noticed_digest = now
        return news

    def save(self, path: Path) -> bool:
        """Save under `path`. What fails is said, and nothing is lost."""
        self._announce(path)
        try:
            self.digest = write_study(self.study, path)
        except FileError as error:
            self.noticed.emit(str(error))
            return False
        self.path, self.saved = path, self.study
        self.saved_at = datetime.now().strftime("%H:%M")
        self._copy_timer.stop()
        self._recovery.clear()
        self.changed.emit()
        return True

    def _announce(self, path: Path) -> None:
        """Were we killed once the file is there, the next start knows it for our own."""
        with suppress(OSError, FileError):  # a copy that cannot be written keeps nobody from saving
            self._recovery.keep(self.study, self.path, self.digest, saving=path)

    def close(self) -> None:
        """The window closes in good order: no recovery copy is needed."""
        self.answers.finish()
        self._copy_timer.stop()
        self._recovery.clear()
        self._recovery.release()

    def leave(self) -> None:
        """The window has to go at once: unsaved work is kept for the next start."""
        self._copy_timer.stop()
        self.keep_copy(ended=True)
        self.answers.finish()
        self._recovery.release()

    def keep_copy(self, ended: bool = False) -> bool:
        """Write the recovery copy, or clear it where all is saved. False where it cannot be written."""
        try:
            if self.unsaved:
                self._recovery.keep(self.study, self.path, self.digest, ended)
            else:
                self._recovery.clear()
        except (OSError, FileError) as error:
            self.noticed.emit(f"No recovery copy could be written: {error}")
            return False
        return True

    def status(self) -> str:
        """The study's name and whether it is saved."""
        if self.unsaved:
            return f"{self.study.title}, not saved yet" if self.path is None else f"{self.study.title}, edited"
        return f"{self.study.title}, saved {self.saved_at}" if self.saved_at else self.study.title
