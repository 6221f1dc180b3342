"""Studies as files: new, opened, saved, recovered, left; nothing of the user's goes without a question."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from ragwort.app.kit.command import Command
from ragwort.app.kit.notice import Notice
from ragwort.app.session import asking
from ragwort.app.session.session import Session
from ragwort.app.shell.settings import Remembered
from ragwort.demo.examples import Example, examples
from ragwort.designs import all_designs
from ragwort.files import FileError, short
from ragwort.study import edits
from ragwort.study.document.differences import differences
from ragwort.study.document.files import SUFFIX, file_name, read_study, read_study_file
from ragwort.study.document.model import Study
from ragwort.study.document.recovery import Recovered


class Studies(QObject):
    """The study of a window and its file."""

    opened = Signal()  # another study is open
    examples_asked = Signal()  # to be looked for by name

    def __init__(
        self,
        window: QWidget,
        session: Session,
        remembered: Remembered,
        notice: Notice,
        leave_editor: Callable[[], None],
    ) -> None:
        super().__init__(window)
        self._window, self.session, self.remembered = window, session, remembered
        self._notice, self._leave_editor = notice, leave_editor

    def commands(self) -> list[Command]:
        """What can be done with files from anywhere."""
        return [
            Command("file.new", "File", "New study", self.new, "Ctrl+N"),
            Command("file.open", "File", "Open…", self.ask_and_open, "Ctrl+O"),
            Command("file.demo", "File", "Open the demo study", self.open_demo),
            Command("file.second-demo", "File", "Open the second demo study", self.open_second_demo),
            Command("file.examples", "File", "Examples…", self.examples_asked.emit),
            *map(self._example, examples()),
            Command("file.save", "File", "Save", self.save, "Ctrl+S", separated=True),
            Command("file.save-as", "File", "Save as…", self.save_as, "Ctrl+Shift+S"),
        ]

    # --- opening ---

    def new(self) -> None:
        """A study with one fresh aim."""
        if self.may_leave():
            study = Study(title="Untitled study", aims=(edits.new_aim(all_designs()[0], "Aim 1"),))
            self.session.open(study, None)
            self.opened.emit()

    def open_demo(self) -> None:
        """The demo study, as a study not yet saved."""
        from ragwort.demo import demo_study

        self._open_unsaved(demo_study)

    def open_second_demo(self) -> None:
        """The same with the other one."""
        from ragwort.demo import second_demo_study

        self._open_unsaved(second_demo_study)

    def _example(self, example: Example) -> Command:
        def run() -> None:
            self._open_unsaved(lambda: example.study)

        return Command(f"file.{example.file}", "Examples", example.label, run, finds=example.known_as)

    def _open_unsaved(self, made: Callable[[], Study]) -> None:
        if self.may_leave():
            self.session.open(made(), None)
            self.opened.emit()

    def ask_and_open(self) -> None:
        """Open a study of the user's choice."""
        path = asking.study_to_open(self._window, self._folder())
        if path is not None:
            self.open_path(path)

    def open_path(self, path: Path) -> bool:
        """Open a study file; what is wrong with it is said, and the present study stays."""
        try:
            found = read_study_file(path)
        except FileError as error:
            self._notice.say(str(error))
            return False
        if not self.may_leave():
            return False
        self.session.open(found.study, path, found.digest)
        self.remembered.remember(path)
        if found.remark:
            self._notice.say(found.remark)
        return True

    def offer_recovered(self, recovered: Recovered) -> None:
        """Offer work that a crash left behind."""

        def restore() -> None:
            if self.may_leave():
                self.session.restore(recovered)
                self.opened.emit()
            else:
                self.offer_recovered(recovered)

        how = "was ended from outside" if recovered.ended else "stopped unexpectedly"
        self._notice.offer(
            f"Unsaved work on “{short(recovered.study.title)}” was kept when Ragwort {how}.",
            (("Open it", restore), ("Discard it", recovered.discard)),
        )

    def may_leave(self) -> bool:
        """Whether the present study may go: it is saved, or the user gives it up."""
        self._leave_editor()
        if not self.session.unsaved:
            return True
        choice = asking.about_unsaved(self._window, self.session.study.title)
        return self.save() if choice == "save" else choice == "discard"

    # --- saving ---

    def save(self) -> bool:
        """Save; asks where to if the study has no file yet."""
        self._leave_editor()
        return self.save_as() if self.session.path is None else self._save_to(self.session.path)

    def save_as(self, suggestion: Path | None = None) -> bool:
        """Save under a new name."""
        self._leave_editor()
        suggestion = suggestion or self._folder() / f"{file_name(self.session.study)}{SUFFIX}"
        path = asking.place_to_save(self._window, "Save the study", suggestion, SUFFIX)
        return path is not None and self._save_to(path)

    def _save_to(self, path: Path) -> bool:
        if path == self.session.path and self.session.differs_on_disk:
            choice = asking.about_other_contents(self._window, path, self._differences())
            if choice == "beside":
                return self.save_as(path.with_stem(f"{path.stem}-mine"))
            if choice != "replace":
                return False
        if not self.session.save(path):
            return False
        self.remembered.remember(path)
        return True

    def _folder(self) -> Path:
        return self.session.path.parent if self.session.path else Path.home()

    # --- the file as others change it ---

    def look_at_disk(self) -> None:
        """Say once that the study's file has other contents by now."""
        path = self.session.path
        if path is None or not self.session.newly_differs_on_disk():
            return
        said = "; ".join(self._differences()) or "only its layout differs"
        self._notice.offer(
            f"{short(path.name)} was changed by another program since it was opened here. In the file: {said}.",
            (("Open what the file holds", lambda: self.open_path(path)), ("Keep what is here", lambda: None)),
            about="the file",
        )

    def _differences(self) -> list[str]:
        """In what the study's file differs from the study here."""
        if self.session.path is None:
            return []
        try:
            return differences(self.session.study, read_study(self.session.path))
        except FileError as error:
            return [str(error)]
