"""Kills the writer again and again, and looks at what is left on disk each time."""

from __future__ import annotations

import csv
import random
import subprocess
import sys
import threading
import time
from pathlib import Path

from ragwort.demo import sampler_study
from ragwort.files.leftovers import settle_leftovers
from ragwort.study.document.files import read_study, write_study
from ragwort.study.document.recovery import Recovery
from tests.kills.writer import number_of

ON_SCREEN = 2.2  # seconds: what is older must not be lost


class Writer:
    """The program, with what it has said and when."""

    def __init__(self, folder: Path, number: int) -> None:
        command = [sys.executable, "-m", "tests.kills.writer", str(folder), str(number)]
        self._process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
        self.said: list[tuple[float, str, int]] = []
        self.ready = threading.Event()
        self._reader = threading.Thread(target=self._listen, daemon=True)
        self._reader.start()

    def _listen(self) -> None:
        assert self._process.stdout is not None
        for line in self._process.stdout:
            words = line.split()
            if len(words) == 2 and words[1].isdigit():  # the last line may be cut
                self.said.append((time.monotonic(), words[0], int(words[1])))
                self.ready.set()

    def kill(self) -> str:
        """At once. Gives what it said was wrong."""
        self._process.kill()
        self._process.wait()
        self._reader.join()
        assert self._process.stdout is not None
        assert self._process.stderr is not None
        errors = self._process.stderr.read()
        self._process.stdout.close()
        self._process.stderr.close()
        return "\n".join(line for line in errors.splitlines() if "propagateSizeHints" not in line)

    def last(self, word: str, before: float) -> int:
        """The newest number it said with this word before a time."""
        return max((number for at, said, number in self.said if said == word and at <= before), default=0)


def kill_and_look(folder: Path, count: int, seed: int) -> list[str]:
    """Faults found in `count` kills."""
    rng, faults, number = random.Random(seed), [], 0
    write_study(sampler_study().changed(title="Study 0"), folder / "night.ragwort")
    for kill in range(count):
        writer = Writer(folder, number)
        writer.ready.wait(60)
        if rng.random() < 0.9:  # else while it is still starting and recovering
            threading.Event().wait(rng.uniform(0.0, 0.6))
        at = time.monotonic()
        errors = writer.kill()
        had = writer.last("has", at)
        known = max(had, writer.last("shows", at - ON_SCREEN), writer.last("saved", at))
        faults += [f"kill {kill}: {fault}" for fault in (_look(folder, known), errors) if fault]
        number = max(number, writer.last("shows", at), had)
    settle_leftovers()
    litter = [path.name for path in folder.rglob("*") if "ragwort-" in path.name or path.suffix == ".unreadable"]
    if litter:
        faults.append(f"litter: {litter}")
    if len(list((folder / "recovery").glob("*.lock"))) > 2:
        faults.append("locks of the dead are left")
    return faults


def _look(folder: Path, known: int) -> str:
    """What is wrong with what a killed program left; empty where nothing is."""
    study = read_study(folder / "night.ragwort")  # raises where it is torn
    recovery = Recovery(folder / "recovery")
    found = [number_of(left.study.title) for left in recovery.left_behind()]
    recovery.release()
    torn = list((folder / "recovery").glob("*.unreadable"))
    if torn:
        return f"a torn copy: {torn}"
    if (folder / "curve.csv").exists() and len(list(csv.reader((folder / "curve.csv").open()))) < 100:
        return "a torn export"
    best = max([number_of(study.title), *found])
    return f"{known} was known, {best} is left" if best < known else ""
