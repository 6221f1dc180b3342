"""Work off the interface thread: results arrive, outdated ones do not, exceptions are handed over, cancel stops."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator

import pytest
from pytestqt.qtbot import QtBot

from ragwort.app.jobs import Jobs, Ticket


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

    def slow(_: Ticket) -> str:
        time.sleep(0.2)
        return "old"

    jobs.start(slow, seen.append, pytest.fail)
    jobs.start(lambda _: "new", seen.append, pytest.fail)
    qtbot.waitUntil(lambda: seen == ["new"])
    qtbot.wait(300)
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
    ended = threading.Event()

    def work(ticket: Ticket) -> None:
        try:
            for step in range(1000):
                ticket.progress(step / 1000)
                time.sleep(0.005)
        finally:
            ended.set()

    jobs.progressed.connect(heard.append)
    jobs.start(work, lambda _: pytest.fail("it was cancelled"), pytest.fail)
    qtbot.waitUntil(lambda: len(heard) > 3)
    jobs.cancel()
    assert not jobs.busy
    assert ended.wait(2)
    assert heard == sorted(heard)
    assert heard[-1] < 0.9
