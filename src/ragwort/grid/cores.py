"""Blocks of rows worked out by all processors, where that pays: another process costs as much as many quick rows."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ProcessPoolExecutor, wait
from contextlib import contextmanager
from multiprocessing import get_context
from typing import TypeVar

from ragwort.base import patience
from ragwort.base.processors import processors
from ragwort.files.children import safe_path

PAYS = 4.0  # seconds of work below which nobody else is called in
_LOOK = 0.1  # seconds between two looks whether it is still wanted
Task = TypeVar("Task")
Made = TypeVar("Made")


def pays(seconds: float) -> bool:
    """Whether so much work is worth a second process."""
    return seconds > PAYS and processors() > 1


def in_order(work: Callable[[Task], Made], tasks: Sequence[Task]) -> Iterator[Made]:
    """What `work` makes of each task, in their order, as it comes; work under way is given up where nobody wants it.

    `work` and the tasks are sent to other processes. Raises what `work` raises.
    """
    with _pool() as pool:
        ahead: list[Future[Made]] = []
        left = list(reversed(tasks))
        while ahead or left:
            while left and len(ahead) < 2 * processors():
                ahead.append(pool.submit(work, left.pop()))
            while not ahead[0].done():
                patience.check()
                wait(ahead[:1], timeout=_LOOK, return_when=FIRST_COMPLETED)
            yield ahead.pop(0).result()


@contextmanager
def _pool() -> Iterator[ProcessPoolExecutor]:
    """Processes that start afresh: a copy of this one would have its threads' locks, but not its threads."""
    with safe_path():
        pool = ProcessPoolExecutor(processors(), mp_context=get_context("spawn"))
        try:
            yield pool
        finally:
            children = list((pool._processes or {}).values())  # what is under way is not waited for
            pool.shutdown(wait=False, cancel_futures=True)
            for child in children:
                child.terminate()


def seconds_of(started: float) -> float:
    """How long something took, in seconds, and never nothing."""
    return max(time.monotonic() - started, 1e-6)
