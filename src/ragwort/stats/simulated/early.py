"""What is there early: the data of studies as they are when a share of the information has come in.

Participants come in the order in which they stand, the groups side by side; whole clusters likewise; people who wait
for events are seen at the calendar time of the event that is due.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Protocol, Self

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.found import Found

if TYPE_CHECKING:
    from numpy.typing import NDArray

_SLACK = 1e-9


class InOrder(Protocol):
    """Data of many studies in which it is known who came first."""

    def until(self, share: float) -> Self:
        """What was there when this share of the information was."""
        ...


def people(share: float, of: int) -> int:
    """How many of a group are there by then."""
    return math.ceil(share * of - _SLACK)


def prefix(values: Any, share: float) -> Any:
    """The first of each study (studies x participants); nothing of nothing."""
    return None if values is None else values[:, : people(share, values.shape[1])]


def in_order(data: Any) -> InOrder:
    """The data with an order in which people came, where they are only counted."""
    unrolled: Callable[[], InOrder] | None = getattr(data, "unrolled", None)
    return data if unrolled is None else unrolled()


def analyse_at_looks(
    data: Any,
    fractions: Sequence[float],
    analyse: Callable[[Any], Found],
    rejects_at: Sequence[float],
    gives_up_at: Sequence[float] = (),
) -> Found:
    """What each study found when it ended: at the first look whose p is small, or large enough to give up.

    `rejects_at` are the nominal p of the looks, 0 where nothing rejects; `gives_up_at` those from which a study ends
    for futility. The p-value is the nominal one of the look at which it ended.
    """
    ordered = in_order(data)
    ended: Found | None = None
    for look, (share, small) in enumerate(zip(fractions, rejects_at, strict=True)):
        last = look == len(fractions) - 1
        found = analyse(data if last else ordered.until(share))
        rejects = found.p <= small
        done = rejects | (found.p >= gives_up_at[look] if gives_up_at and not last else np.zeros(len(found.p), bool))
        here = _marked(found, look, rejects)
        if ended is None:
            ended, open_ = here, ~done
        else:
            ended, open_ = _chosen(open_, here, ended), open_ & ~done
    assert ended is not None
    return ended


def _marked(found: Found, look: int, rejects: NDArray[np.bool_]) -> Found:
    return replace(found, look=np.full(len(found.p), look), rejects=rejects)


def _chosen(which: NDArray[np.bool_], new: Found, old: Found) -> Found:
    """Of each study what is new, or what was there already."""

    def pick(one: Array | None, other: Array | None) -> Array | None:
        return None if one is None or other is None else np.where(which, one, other)

    names = ("p", "estimate", "statistic", "low", "high", "df", "look", "rejects")
    return Found(**{name: pick(getattr(new, name), getattr(old, name)) for name in names})  # type: ignore[arg-type]
