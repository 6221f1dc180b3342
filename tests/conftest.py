"""Shared by all tests: none may leave a trace outside its own folder, or pass on noise."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("MPLBACKEND", "agg")
