"""The rows of a table file in place of the combinations: read and matched off the interface thread."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from ragwort.app.kit.jobs import Jobs
from ragwort.app.session import asking
from ragwort.app.session.session import Session
from ragwort.files.log import fault_of_ours
from ragwort.grid.combinations import GridError
from ragwort.grid.reading import FromFile, asked_by, matched
from ragwort.pilot.table import PilotError, Table, read_table
from ragwort.study.document.aim import Aim


@dataclass(frozen=True)
class _Open:
    """An open file, for which aim, and how its columns are understood."""

    aim_id: str
    table: Table
    matches: Mapping[str, str]


class FileRows(QObject):
    """At most one file is open, for one aim; `changed` tells that its rows are there, or were given up."""

    changed = Signal()
    failed = Signal(str)

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self._window = session, parent
        self.jobs = Jobs(self)
        self.opened: _Open | None = None
        self.taken: tuple[Aim, FromFile] | None = None  # what was asked, and of which aim

    def ask(self) -> None:
        """Ask for a file, and read it."""
        path = asking.pilot_to_open(self._window, Path.home(), "Open a table file")
        if path is not None:
            self.read(path)

    def read(self, path: Path) -> None:
        """Read a file for the aim in view, and find out what its columns hold."""
        aim = self.session.aim
        if aim is None:
            return
        outcome = self.session.outcome(aim)

        def work() -> tuple[_Open, FromFile]:
            table = read_table(path)
            found = _Open(aim.id, table, matched(aim, list(table.columns)))
            return found, asked_by(aim, outcome, table, found.matches)

        self.jobs.start(lambda _: work(), lambda made: self._take(aim, *made), self._say_why)

    def _take(self, aim: Aim, opened: _Open, found: FromFile) -> None:
        self.opened, self.taken = opened, (aim, found)
        self.changed.emit()

    def _say_why(self, error: Exception) -> None:
        known = isinstance(error, GridError | PilotError)
        self.failed.emit(str(error) if known else fault_of_ours(error))

    def leave(self) -> None:
        """Have no file open."""
        self.jobs.cancel()
        self.opened = self.taken = None
        self.changed.emit()

    def match(self, name: str, heading: str) -> None:
        """Let another column hold an assumption; an empty one leaves it out."""
        if self.opened is None:
            return
        others = {each: column for each, column in self.opened.matches.items() if each != name}
        matches = {**others, **({name: heading} if heading else {})}
        self.opened = _Open(self.opened.aim_id, self.opened.table, matches)
        self._read_again()

    def found(self) -> FromFile | None:
        """What the open file asks of the aim in view; None where none is open. An edit of the aim makes it anew."""
        aim = self.session.aim
        if self.opened is None or aim is None or self.opened.aim_id != aim.id or self.taken is None:
            return None
        before, found = self.taken
        if (before.entries, before.find, before.grid.find) != (aim.entries, aim.find, aim.grid.find):
            self._read_again()
        return found

    def _read_again(self) -> None:
        aim, opened = self.session.aim, self.opened
        if aim is None or opened is None or self.jobs.busy:
            return
        outcome = self.session.outcome(aim)
        self.jobs.start(
            lambda _: asked_by(aim, outcome, opened.table, opened.matches),
            lambda found: self._take(aim, opened, found),
            self._say_why,
        )
