"""How long a grid will still take is said by how fast it went so far."""

from __future__ import annotations

from dataclasses import replace

import pytest

from ragwort.demo import sampler_study
from ragwort.grid.asking import grid_asked
from ragwort.grid.memory import Latest
from ragwort.grid.pace import Pace, time_words
from ragwort.grid.work import nothing_yet


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (1, "about 5 seconds"),
        (37, "about 40 seconds"),
        (57, "about a minute"),
        (100, "about 2 minutes"),
        (3590, "about an hour"),
        (9000, "about 3 hours"),
    ],
)
def test_times_in_words(seconds: float, words: str) -> None:
    assert time_words(seconds) == words


def test_the_rest_goes_at_the_pace_of_what_was_done() -> None:
    """What was there before does not count; of the last moments nothing is said."""
    begun = nothing_yet(grid_asked(sampler_study().aim("reaction"), ["difference=8 to 16 in 1000 steps"]))
    pace = Pace(replace(begun, done=200), now=100.0)
    assert pace.says(replace(begun, done=300), now=110.0) == "300 of 1000 rows; about 2 minutes left."
    assert pace.says(replace(begun, done=990), now=180.0) == "990 of 1000 rows."
    assert pace.says(replace(begun, done=1000), now=180.0) == ""
    assert pace.says(replace(begun, done=210), now=100.1) == ""


def test_what_was_asked_last_is_kept_for_the_same_objects_only() -> None:
    """Not for equal ones; what is refused is asked again."""
    asked: list[object] = []

    def work(given: list[int]) -> int:
        asked.append(given)
        return len(given) if given else 1 // 0

    latest, one = Latest(work), [1, 2]
    assert (latest(one), latest(one), len(asked)) == (2, 2, 1)
    assert (latest([1, 2]), len(asked)) == (2, 2)
    for _ in range(2):
        with pytest.raises(ZeroDivisionError):
            latest([])
    assert len(asked) == 4
