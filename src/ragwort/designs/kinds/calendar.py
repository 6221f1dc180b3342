"""People who enter one after another, and are watched until something happens to them."""

from __future__ import annotations

from ragwort.designs.plan import Plan
from ragwort.stats.noncentral import Number


class CalendarPlan(Plan):
    """Say when people enter and what befalls each arm; the picture Events follows.

    Needs fields `accrual` and `follow_up`, the times over which they enter and are watched after the last has, and
    `loss`, the hazard of being lost.
    """

    accrual: Number
    follow_up: Number
    loss: Number

    @property
    def has_calendar(self) -> bool:
        """Whether people and times are planned, and not events alone."""
        return True

    def hazards(self) -> tuple[float, ...]:
        """The hazard of the event in each arm."""
        raise NotImplementedError
