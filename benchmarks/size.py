"""How much is measured: all of it, or each thing once, small, to see that every benchmark still runs (`--small`)."""

from __future__ import annotations

import sys

SMALL = "--small" in sys.argv


def so_many(times: int, small: int = 1) -> int:
    """Repeats, rows or draws."""
    return small if SMALL else times
