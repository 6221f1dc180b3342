"""Work off the interface thread: one job at a time for each kind, with cancel; outdated results are dropped."""

from __future__ import annotations

import sys
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal, Slot

from ragwort.base.patience import Stopped, heard_by

GIVE_WAY = 5e-4  # seconds until a thread at work lets the interface have its turn; Python's own 5 ms add up in a drag


class Cancelled(Stopped):
    """Raised inside a job that was cancelled."""


class Ticket:
    """What a job sees of its caller: whether it is still wanted, and where to report progress."""

    def __init__(self, report: Callable[[float], None]) -> None:
        self._report = report
        self.cancelled = False

    def check(self) -> None:
        """Raises `Cancelled` where the job is no longer wanted."""
        if self.cancelled:
            raise Cancelled

    def progress(self, share: float) -> None:
        """Report progress (0..1). Raises `Cancelled` where the job is no longer wanted."""
        self.check()
        self._report(share)


class _Signals(QObject):
    done = Signal(object, object)  # ticket, result
    failed = Signal(object, object)  # ticket, exception
    progressed = Signal(object, float)


class _Job(QRunnable):
    def __init__(self, work: Callable[[Ticket], Any], signals: _Signals) -> None:
        super().__init__()
        self._work, self._signals = work, signals
        self.ticket = Ticket(lambda share: signals.progressed.emit(self.ticket, share))

    def run(self) -> None:
        try:
            with heard_by(lambda _: self.ticket.check(), self.ticket.check):
                result = self._work(self.ticket)
        except Cancelled:
            return
        except Exception as error:  # noqa: BLE001  (handed to the interface thread, which shows it)
            self._signals.failed.emit(self.ticket, error)
            return
        self._signals.done.emit(self.ticket, result)


def raised(error: Exception) -> None:
    """A fault of ours: whoever looks after the interface thread tells of it."""
    raise error


class Jobs(QObject):
    """Runs one job at a time; a new one takes the place of the old, whose result is dropped."""

    progressed = Signal(float)
    busy_changed = Signal(bool)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(1)
        sys.setswitchinterval(GIVE_WAY)
        self._signals = _Signals()
        self._signals.done.connect(self._done)
        self._signals.failed.connect(self._failed)
        self._signals.progressed.connect(self._progressed)
        self._ticket: Ticket | None = None
        self._then: Callable[[Any], None] = lambda _: None
        self._wrong: Callable[[Exception], None] = lambda _: None

    @property
    def busy(self) -> bool:
        """Whether a job is under way."""
        return self._ticket is not None

    def start(
        self,
        work: Callable[[Ticket], Any],
        then: Callable[[Any], None],
        wrong: Callable[[Exception], None] = raised,
    ) -> None:
        """Run `work` off this thread; `then` or `wrong` are called here with its result or exception."""
        self.cancel()
        job = _Job(work, self._signals)
        self._ticket, self._then, self._wrong = job.ticket, then, wrong
        self.busy_changed.emit(True)
        self.pool.start(job)

    def cancel(self) -> None:
        """Drop the job under way, if any."""
        if self._ticket is not None:
            self._ticket.cancelled = True
            self._ticket = None
            self.busy_changed.emit(False)

    def finish(self) -> None:
        """Cancel, and wait until no thread works any more: for closing the window."""
        self.cancel()
        self.pool.waitForDone()

    @Slot(object, object)
    def _done(self, ticket: Ticket, result: Any) -> None:
        if ticket is self._ticket:
            self._ticket = None
            self.busy_changed.emit(False)
            self._then(result)

    @Slot(object, object)
    def _failed(self, ticket: Ticket, error: Exception) -> None:
        if ticket is self._ticket:
            self._ticket = None
            self.busy_changed.emit(False)
            self._wrong(error)

    @Slot(object, float)
    def _progressed(self, ticket: Ticket, share: float) -> None:
        if ticket is self._ticket:
            self.progressed.emit(share)
