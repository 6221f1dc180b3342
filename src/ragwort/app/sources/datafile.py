"""Opening a file of data off this thread: a link, what is open, progress and a stop."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QWidget

from ragwort.app.kit.jobs import Jobs, Ticket
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, link
from ragwort.app.session import asking
from ragwort.demo.pilot import pilot_csv
from ragwort.files.log import fault_of_ours
from ragwort.pilot import Data, Filter, PilotError, Table, read_table

Demo = tuple[str, Callable[[], str]]  # a file of the demo: its name, and what makes its text
PILOT: Demo = ("pilot-of-60-nights.csv", pilot_csv)


def fingerprint(table: Table) -> str:
    """What tells a file from another of the same name, for sources."""
    return f"SHA-256 {table.digest[:12]}"


def source_of(table: Table, said: str, filters: Sequence[Filter]) -> str:
    """How a source names a file: what was read of it, which rows were kept, and its fingerprint."""
    where = f", where {' and '.join(map(str, filters))}" if filters else ""
    return f"{table.name}, {said}{where}, {fingerprint(table)}"


class DataFile(QWidget):
    """`opened` carries the data, `failed` why there are none."""

    started = Signal()
    opened = Signal(object)
    failed = Signal(str)
    settled = Signal()  # no job is under way any more

    def __init__(self, theme: Theme, words: str = "Open a file…", demo: Demo = PILOT) -> None:
        super().__init__()
        self._demo = demo
        self.data: Data | None = None
        self._words = words
        self.jobs = Jobs(self)
        self.jobs.progressed.connect(self._show_share)
        self.jobs.busy_changed.connect(self._busy)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(10))
        self.open_link = link(words, self.ask)
        self.state = Elided("", "quiet")
        self.stop = link("Stop", self._stop, "smallLink")
        self.stop.hide()
        row.addWidget(self.open_link)
        row.addWidget(self.state, 1)
        row.addWidget(self.stop)

    def _show_share(self, share: float) -> None:
        self.state.set_text(f"Reading … {100 * share:.0f}%")

    def ask(self) -> None:
        """Ask for a file and read it."""
        path = asking.pilot_to_open(self, Path.home())
        if path is not None:
            self.read(path)

    def read(self, path: Path) -> None:
        """Read a file and work out what its columns hold."""
        self._start(lambda ticket: read_table(path, ticket.progress))

    def read_demo(self) -> None:
        """Read a file of the demo, to see what the page does."""
        self._start(partial(_demo_table, self._demo))

    def _start(self, table: Callable[[Ticket], Table]) -> None:
        self.started.emit()

        def work(ticket: Ticket) -> Data:
            data = Data(table(ticket))
            for name in data.table.columns:
                data.codes(name)
                ticket.check()
            assert data.columns
            return data

        self.jobs.start(work, self.show_data, self.fail)

    def fail(self, error: Exception) -> None:
        """Say why a job came to nothing."""
        known = isinstance(error, PilotError)
        self.failed.emit(str(error) if known else fault_of_ours(error))

    def forget(self) -> None:
        """Have no file open."""
        self.jobs.cancel()
        self.data = None
        self.open_link.setText(self._words)
        self.state.set_text("")

    def finish(self) -> None:
        """Wait until no thread works any more: for closing the window."""
        self.jobs.finish()

    def show_data(self, data: Data) -> None:
        """Have this open: it has been read already."""
        self.data = data
        self.open_link.setText("Another file…")
        self.opened.emit(data)

    def _busy(self, busy: bool) -> None:
        self.stop.setVisible(busy)
        if not busy:
            self.settled.emit()

    def _stop(self) -> None:
        self.jobs.cancel()
        self.state.set_text("Stopped.")


def _demo_table(demo: Demo, ticket: Ticket) -> Table:
    with TemporaryDirectory() as folder:
        path = Path(folder) / demo[0]
        path.write_text(demo[1](), encoding="utf-8")
        return read_table(path, ticket.progress)
