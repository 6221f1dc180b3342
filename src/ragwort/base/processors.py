"""How many processors there are to work with."""

from __future__ import annotations

import os


def processors() -> int:
    """How many can be used."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1
