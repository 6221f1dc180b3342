"""Answers that take time, worked out off the interface thread: the view has the last one meanwhile, marked as old.

An answer that is there in a moment is given at once. Another is begun again on a thread of its own. What no view asks
for any more is given up.
"""

from __future__ import annotations

from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field, replace

from PySide6.QtCore import QObject, Qt, QTimer, Signal, Slot

from ragwort.app.kit.jobs import Cancelled
from ragwort.base.patience import heard_by
from ragwort.designs import Answer
from ragwort.study.document.aim import Aim, Setting
from ragwort.study.results.outcome import PATIENCE, Halted, Outcome, Pending, at_hand, key_of, outcome_of

LITTLE_PATIENCE = 0.01  # seconds waited for what is not the aim in view


@dataclass
class _Job:
    slot: tuple[str, str]  # aim and scenario
    aim: str
    cancelled: bool = False
    future: Future[None] | None = field(default=None, repr=False)

    def give_up(self) -> None:
        self.cancelled = True
        if self.future is not None:
            self.future.cancel()


class Answers(QObject):
    """The outcome of any aim or scenario, at once or later."""

    arrived = Signal()  # an answer is there: ask again
    progressed = Signal(float)  # of the one being worked out, in 0..1
    _done = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="answers")
        self.under_way: dict[str, _Job] = {}
        self._asked: set[str] = set()
        self.stopped: set[str] = set()
        self._failed: dict[str, BaseException] = {}
        self.known: dict[tuple[str, str], tuple[Aim, Setting | None, Answer]] = {}
        self._last: dict[tuple[str, str], Answer] = {}
        self._done.connect(self._one_done, Qt.ConnectionType.QueuedConnection)
        self._tidy = QTimer(self, singleShot=True, interval=0)
        self._tidy.timeout.connect(self._give_up_unasked)

    @property
    def busy(self) -> bool:
        """Whether anything is being worked out."""
        return bool(self.under_way)

    def outcome(self, aim: Aim, setting: Setting | None = None, patient: bool = False) -> Outcome:
        """The outcome as it stands: an answer, a problem, or one that is being worked out."""
        slot = (aim.id, getattr(setting, "id", ""))
        known = self.known.get(slot)
        if known is not None and known[0] is aim and known[1] is setting:
            return known[2]  # the same object: nothing of it can have changed
        found: Outcome = at_hand(aim, setting, PATIENCE if patient else LITTLE_PATIENCE)
        if isinstance(found, Pending):
            found = self._begun(slot, aim, setting)
        if isinstance(found, Answer):
            self._last[slot] = found
            self.known[slot] = (aim, setting, found)
        return replace(found, last=self._last_like(slot, aim, setting)) if isinstance(found, Pending) else found

    def _last_like(self, slot: tuple[str, str], aim: Aim, setting: Setting | None) -> Answer | None:
        """The last answer, if it is to the same question; views can show no other."""
        last = self._last.get(slot)
        find = (aim if setting is None else setting).find
        return last if last is not None and (last.design, last.find) == (aim.design, find) else None

    def _begun(self, slot: tuple[str, str], aim: Aim, setting: Setting | None) -> Outcome:
        key = key_of(aim, setting)
        if key in self.stopped:
            return Halted()
        if key in self._failed:
            raise self._failed.pop(key)
        self._asked.add(key)
        self._tidy.start()
        if key not in self.under_way:
            self._start(key, slot, aim, setting)
        return at_hand(aim, setting)

    def _start(self, key: str, slot: tuple[str, str], aim: Aim, setting: Setting | None) -> None:
        for other, job in list(self.under_way.items()):
            if job.slot == slot:
                self._drop(other)
        job = _Job(slot, aim.id)

        def listen(share: float) -> None:
            wanted()
            self.progressed.emit(share)

        def wanted() -> None:
            if job.cancelled:
                raise Cancelled

        def work() -> None:
            try:
                with heard_by(listen, wanted):
                    outcome_of(aim, setting)
            except Cancelled:
                return
            except Exception as error:  # noqa: BLE001  (raised again where the answer is asked for)
                self._failed[key] = error
            self._done.emit(key)

        self.under_way[key] = job
        job.future = self._pool.submit(work)

    @Slot(str)
    def _one_done(self, key: str) -> None:
        if self.under_way.pop(key, None) is not None:
            self.arrived.emit()

    def _give_up_unasked(self) -> None:
        for key in [key for key in self.under_way if key not in self._asked]:
            self._drop(key)
        self._asked.clear()

    def _drop(self, key: str) -> None:
        self.under_way.pop(key).give_up()

    # --- what users do ---

    def stop(self) -> None:
        """Give up what is being worked out; what was asked for says so."""
        self.stopped |= set(self.under_way)
        for key in list(self.under_way):
            self._drop(key)
        self.arrived.emit()

    def start_again(self) -> None:
        """Work out what was given up."""
        self.stopped.clear()
        self.arrived.emit()

    def finish(self) -> None:
        """Give up, and wait until no thread works any more: for closing the window."""
        for key in list(self.under_way):
            self._drop(key)
        self._pool.shutdown(wait=True, cancel_futures=True)
