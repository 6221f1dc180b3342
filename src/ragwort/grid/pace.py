"""How long a grid that is being worked out will still take, in words, by how fast it went so far."""

from __future__ import annotations

import math
import time

from ragwort.grid.work import Results
from ragwort.study.words.numbers import count_text

_SOON = 2.0  # seconds that are not worth saying
_KNOWN = 0.5  # seconds after which a pace can be said


class Pace:
    """Begins when work does; `now` tells the time in seconds."""

    def __init__(self, after: Results | None = None, now: float | None = None) -> None:
        self._began = time.monotonic() if now is None else now
        self._before = 0 if after is None else after.done

    def says(self, results: Results, now: float | None = None) -> str:
        """`2 000 of 10 000 rows; about 40 seconds left.`; empty of work that is done, or has just begun."""
        took = (time.monotonic() if now is None else now) - self._began
        done, count = results.done - self._before, results.asked.count
        if results.complete or took < _KNOWN or done <= 0:
            return ""
        left = took / done * (count - results.done)
        so_far = f"{count_text(results.done)} of {count_text(count)} rows"
        return f"{so_far}; {time_words(left)} left." if left > _SOON else f"{so_far}."


def time_words(seconds: float) -> str:
    """`about 40 seconds`, `about 3 minutes`: rounded up, as nobody minds being done early."""
    if seconds <= 55:
        return f"about {max(math.ceil(seconds / 5) * 5, 5)} seconds"
    minutes = math.ceil(seconds / 60 - 0.1)
    if minutes < 60:
        return f"about {'a minute' if minutes == 1 else f'{minutes} minutes'}"
    hours = math.ceil(minutes / 60 - 0.05)
    return f"about {'an hour' if hours == 1 else f'{count_text(hours)} hours'}"
