"""A short walk and a few kills, with fixed seeds; `python -m tests.walk` and `python -m tests.kills` go on for long."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]


def run(*arguments: str) -> str:
    """What a net says; it fails where it found something."""
    command = [sys.executable, "-m", *arguments]
    environment = {**os.environ, "QT_QPA_PLATFORM": f"offscreen:configfile={ROOT / 'tests' / 'screen.json'}"}
    done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, timeout=600, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


def test_a_walk_of_random_actions_finds_nothing(tmp_path: Path) -> None:
    """No exception, no warning, no picture but that of a freshly made window, no other number, nothing lost."""
    said = run("tests.walk", "--actions", "60", "--seed", "11", "--folder", str(tmp_path))
    assert "seed 11: 60 actions, 4 looks, 0 faults" in said


def test_kills_tear_and_lose_nothing() -> None:
    """While it edits, saves, exports and recovers."""
    assert "2 kills, 0 faults" in run("tests.kills", "--count", "2", "--seed", "3")
