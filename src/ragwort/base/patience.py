"""How long work may take: it tells a listener how far it is, and asks every so often whether it is still wanted.

Whoever computes something long calls `report` or `check` now and then. Whoever waits for it runs it inside `heard_by`,
to hear the progress and to stop it, or inside `within`, to give up what is not there soon. Work that nobody waits for
in this way hears nothing of it.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


class Stopped(Exception):
    """What is worked out is not wanted any more."""


class Late(Stopped):
    """It is not there in time."""


Listener = Callable[[float], None]
_listener: ContextVar[Listener | None] = ContextVar("listener", default=None)
_wanted: ContextVar[Callable[[], None] | None] = ContextVar("wanted", default=None)


@contextmanager
def heard_by(listener: Listener, wanted: Callable[[], None] = lambda: None) -> Iterator[None]:
    """Work inside tells `listener` how far it is (0..1), and calls `wanted` often: both may raise to stop it."""
    tokens = _listener.set(listener), _wanted.set(wanted)
    try:
        yield
    finally:
        _listener.reset(tokens[0])
        _wanted.reset(tokens[1])


@contextmanager
def within(seconds: float) -> Iterator[None]:
    """Work inside raises `Late` at its first `check` after this time.

    Time in which the thread did not get the processor counts by a third only: a busy machine makes nothing late that
    is soon done.
    """
    end, worked = time.monotonic() + 3 * seconds, time.thread_time() + seconds

    def wanted() -> None:
        if time.thread_time() > worked or time.monotonic() > end:
            raise Late

    with heard_by(lambda _: wanted(), wanted):
        yield


@contextmanager
def part(low: float, high: float) -> Iterator[None]:
    """Work inside is that part of the whole, from one share (0..1) to another; it reports as if it were all."""
    listener = _listener.get()
    if listener is None:
        yield
        return
    token = _listener.set(lambda share: listener(low + share * (high - low)))
    try:
        yield
    finally:
        _listener.reset(token)


def report(share: float) -> None:
    """Tell whoever listens how far the work is, in 0..1."""
    listener = _listener.get()
    if listener is not None:
        listener(min(max(share, 0.0), 1.0))


def check() -> None:
    """Ask whether the work is still wanted. Raises what the answer is."""
    wanted = _wanted.get()
    if wanted is not None:
        wanted()
