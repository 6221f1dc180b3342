"""Processes of our own, started so that no file of the folder they are started in is taken for a module."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager


def python_running(module: str, *arguments: str) -> list[str]:
    """The command that runs one of our modules in a process of its own (`-P`: without the working folder)."""
    return [sys.executable, "-P", "-m", module, *arguments]


@contextmanager
def safe_path() -> Iterator[None]:
    """Meanwhile, what `multiprocessing` starts looks for no modules in the working folder either."""
    before = os.environ.get("PYTHONSAFEPATH")
    os.environ["PYTHONSAFEPATH"] = "1"
    try:
        yield
    finally:
        if before is None:
            del os.environ["PYTHONSAFEPATH"]
        else:
            os.environ["PYTHONSAFEPATH"] = before
