"""All processors give what one gives, in order; they are given up at once; who needs none gets none."""

from __future__ import annotations

import time

import numpy as np
import pytest

from ragwort.base.patience import Stopped, heard_by
from ragwort.demo import sampler_study
from ragwort.grid import cores
from ragwort.grid.asking import grid_asked
from ragwort.grid.work import whole, worked_out

EXACT = ["proportion=0.89 to 0.95 in 7 steps", "null_proportion=0.83 to 0.87 in 12 steps", "dropout=0,10"]


def slowly(task: float) -> float:
    time.sleep(task)
    return task


def test_all_processors_find_what_one_finds(monkeypatch: pytest.MonkeyPatch) -> None:
    """Row by row, with rows that have no answer among them."""
    asked = grid_asked(sampler_study().aim("awake"), [*EXACT[:1], "null_proportion=0.83 to 0.89 in 3 steps", EXACT[2]])
    alone = whole(asked)
    monkeypatch.setattr(cores, "processors", lambda: 2)
    monkeypatch.setattr(cores, "PAYS", 0.0)
    together = whole(asked)
    for name in ("answer", "power", "total", "groups", "enrol"):
        np.testing.assert_array_equal(getattr(together, name), getattr(alone, name))
    assert together.reasons == alone.reasons
    assert alone.reasons


def test_results_come_in_the_order_of_their_tasks(monkeypatch: pytest.MonkeyPatch) -> None:
    """However long each takes; an error comes out where it belongs."""
    monkeypatch.setattr(cores, "processors", lambda: 2)
    assert list(cores.in_order(slowly, [0.2, 0.0, 0.1, 0.0])) == [0.2, 0.0, 0.1, 0.0]
    with pytest.raises(ValueError, match="must be non-negative"):
        list(cores.in_order(slowly, [0.0, -1.0]))


def test_work_under_way_is_given_up() -> None:
    """Soon, and not once all is done."""
    started = time.monotonic()

    def wanted() -> None:
        if time.monotonic() - started > 1.0:
            raise Stopped

    with pytest.raises(Stopped), heard_by(lambda _: None, wanted):
        list(cores.in_order(slowly, [60.0] * 4))
    assert time.monotonic() - started < 30


def test_little_work_stays_at_home(monkeypatch: pytest.MonkeyPatch) -> None:
    """No process is started for what is there in a moment."""
    monkeypatch.setattr(cores, "_pool", lambda: pytest.fail("a process was started"))
    *_, last = worked_out(grid_asked(sampler_study().aim("reaction"), ["difference=8 to 16 in 50 steps", "sd=20,24"]))
    assert last.complete
    assert not cores.pays(cores.PAYS)
