"""Work off the interface thread: results arrive, outdated ones do not, exceptions are handed over, cancel stops."""

from __future__ import annotations

import threading
from collections.abc import Iterator

import pytest
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from ragwort.app.kit.jobs import Jobs, Ticket


@pytest.fixture
def jobs(qtbot: QtBot) -> Iterator[Jobs]:
    """A queue that is empty again after the test."""
    made = Jobs()
    yield made
    made.finish()


def test_a_result_arrives_on_the_interface_thread(jobs: Jobs, qtbot: QtBot) -> None:
    """The work runs elsewhere; what follows runs here."""
    seen: list[tuple[str, int]] = []
    here = threading.get_ident()
    jobs.start(lambda _: threading.get_ident(), lambda other: seen.append(("done", other)), pytest.fail)
    assert jobs.busy
    qtbot.waitUntil(lambda: bool(seen))
    assert seen[0][1] != here
    assert not jobs.busy


def test_a_newer_job_takes_the_place_of_an_older_one(jobs: Jobs, qtbot: QtBot) -> None:
    """The outdated result is dropped, however late it comes."""
    seen: list[str] = []

    go_on = threading.Event()

    def slow(_: Ticket) -> str:
        assert go_on.wait(30)
        return "old"

    jobs.start(slow, seen.append, pytest.fail)
    jobs.start(lambda _: "new", seen.append, pytest.fail)
    go_on.set()
    qtbot.waitUntil(lambda: seen == ["new"])
    jobs.pool.waitForDone()
    QApplication.processEvents()
    assert seen == ["new"]


def test_an_exception_is_handed_over(jobs: Jobs, qtbot: QtBot) -> None:
    """Nothing that goes wrong off the thread is lost."""
    wrong: list[Exception] = []

    def broken(_: Ticket) -> None:
        raise ZeroDivisionError("oops")

    jobs.start(broken, lambda _: pytest.fail("no result was to be had"), wrong.append)
    qtbot.waitUntil(lambda: bool(wrong))
    assert isinstance(wrong[0], ZeroDivisionError)


def test_progress_is_heard_and_cancel_stops_the_work(jobs: Jobs, qtbot: QtBot) -> None:
    """A cancelled job ends at its next report of progress, and nothing follows."""
    heard: list[float] = []
    ended, next_step = threading.Event(), threading.Semaphore(5)

    def work(ticket: Ticket) -> None:
        try:
            for step in range(1000):
                ticket.progress(step / 1000)
                assert next_step.acquire(timeout=30)
        finally:
            ended.set()

    jobs.progressed.connect(heard.append)
    jobs.start(work, lambda _: pytest.fail("it was cancelled"), pytest.fail)
    qtbot.waitUntil(lambda: len(heard) > 3)
    jobs.cancel()
    assert not jobs.busy
    next_step.release()
    assert ended.wait(30)
    assert heard == sorted(heard)
    assert heard[-1] < 0.9
