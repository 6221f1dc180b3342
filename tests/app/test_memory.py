"""Memory that was freed goes back to the system."""

from __future__ import annotations

import subprocess
import sys

import pytest

_MANY = """
import sys
from ragwort.app.kit.memory import keep_little

def taken():
    with open("/proc/self/statm") as file:
        return int(file.read().split()[1]) * 4096 / 1e6

if sys.argv[1] == "kept small":
    assert keep_little()
large = bytearray(20_000_000)
del large  # after which the C library by itself keeps whatever is smaller
before = taken()
pictures = [bytearray(b"x" * 1_000_000) for _ in range(100)]
del pictures[:-1]
print(taken() - before)
"""


def left(how: str) -> float:
    """Megabytes that a process still has, of a hundred that it has freed."""
    run = subprocess.run([sys.executable, "-c", _MANY, how], capture_output=True, text=True, check=True)
    return float(run.stdout)


@pytest.mark.skipif(sys.platform != "linux", reason="of glibc")
def test_what_was_freed_is_given_back_though_something_newer_is_still_in_use() -> None:
    assert left("kept small") < 10 < 60 < left("as it comes")
