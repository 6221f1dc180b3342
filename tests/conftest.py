"""Shared by all tests: no screen is needed, and a run in CI tries the same examples each time."""

from __future__ import annotations

import os

from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("MPLBACKEND", "agg")

settings.register_profile("here", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "here")
