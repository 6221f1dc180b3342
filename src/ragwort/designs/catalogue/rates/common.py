"""What designs of events per unit of time share."""

from __future__ import annotations

from ragwort.designs.assumption import Assumption

EXPOSURE = Assumption(
    "exposure",
    "Follow-up",
    "number",
    "Effect",
    "How long each participant is followed up, in the unit of time of the rates.",
    symbol="T",
    low=0,
    open_low=True,
    default=1.0,
    decided=True,
    timed="time",
)
