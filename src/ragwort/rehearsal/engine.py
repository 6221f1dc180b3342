"""Studies rehearsed chunk by chunk on all processors, the same numbers on any number of them.

A chunk's size follows from how many people a study has, and its random numbers from the seed and the chunk's place
(`SeedSequence`, spawned), so who works on it makes no difference. Chunks are added up in their order.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from contextvars import copy_context

import numpy as np

from ragwort.base import patience
from ragwort.base.processors import processors
from ragwort.designs import RequestError
from ragwort.designs.kinds import has_margin
from ragwort.designs.refusals import plain_number
from ragwort.rehearsal.stage import Stage
from ragwort.rehearsal.tally import Tally
from ragwort.stats.simulated import Found

MOST = 1_000_000  # studies of one rehearsal
_AT_ONCE = 250_000  # people drawn in one chunk, so that its numbers stay near the processor
_MOST_AT_ONCE = 5_000  # studies of one chunk, so that the first results come soon
Seen = Callable[[Tally], None]


def check_replicates(replicates: int) -> None:
    """Refuse a number of studies that cannot be had. Raises `RequestError`."""
    if not 1 <= replicates <= MOST:
        wrong = f"A rehearsal has 1 to {plain_number(MOST)} studies, not {plain_number(replicates)}."
        raise RequestError("replicates", wrong)


def rehearse(
    stage: Stage, replicates: int = 20_000, seed: int = 1, seen: Seen | None = None, threads: int = 0
) -> Tally:
    """What so many studies on this stage come to. The same stage, number and seed give the same result.

    `seen` is called with what there is so far. A listener of `patience.heard_by` hears how far it is, and may stop it:
    what is done by then has been seen. Raises `RequestError` for a number that cannot be had.
    """
    check_replicates(replicates)
    tally = new_tally(stage)
    for found in _chunks(stage, replicates, seed, threads):
        tally.add(found)
        if seen is not None:
            seen(tally)
        patience.report(tally.replicates / replicates)
    return tally


def new_tally(stage: Stage) -> Tally:
    """An empty one."""
    analyst, truth = stage.analyst, stage.truth
    nothing = analyst.nothing
    real = nothing if truth.effect == truth.at_null else truth.truth
    return Tally(
        float(analyst.alpha), real, nothing, signed=analyst.signed, tested=analyst.has_test, margin=has_margin(analyst)
    )


def chunk_sizes(stage: Stage, replicates: int) -> list[int]:
    """How many studies each chunk has."""
    each = max(1, min(_MOST_AT_ONCE, _AT_ONCE // stage.people))
    whole, rest = divmod(replicates, each)
    return [each] * whole + ([rest] if rest else [])


def chunk_rng(seed: int, place: int) -> np.random.Generator:
    """The random numbers of the chunk at a place."""
    return np.random.Generator(np.random.PCG64DXSM(np.random.SeedSequence(seed, spawn_key=(place,))))


def _chunks(stage: Stage, replicates: int, seed: int, threads: int) -> Iterator[Found]:
    """What was found in each chunk, in order; NumPy lets other threads work while it draws and sums."""
    sizes, workers = chunk_sizes(stage, replicates), threads or processors()
    if workers == 1 or len(sizes) == 1:
        for place, count in enumerate(sizes):
            patience.check()
            yield _chunk(stage, seed, place, count)
        return
    with ThreadPoolExecutor(workers) as pool:
        ahead: deque[Future[Found]] = deque()
        try:
            for place, count in enumerate(sizes):
                ahead.append(pool.submit(copy_context().run, _chunk, stage, seed, place, count))
                if len(ahead) > 2 * workers:
                    yield ahead.popleft().result()
                patience.check()
            while ahead:
                patience.check()
                yield ahead.popleft().result()
        finally:
            for each in ahead:
                each.cancel()


def _chunk(stage: Stage, seed: int, place: int, count: int) -> Found:
    return stage.analyse(stage.draw(chunk_rng(seed, place), count))
