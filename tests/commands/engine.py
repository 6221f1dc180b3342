"""Runs command lines one after the other in processes with limits, and looks at how they end.

A process of many lines forks one for each: what takes long to import is imported once.
"""

from __future__ import annotations

import contextlib
import io
import os
import resource
import shutil
import signal
import sys
import time
from dataclasses import dataclass
from pathlib import Path

from tests.commands.grammar import Grammar, prepare
from tests.walk.readers import READERS, opened

ENDS = (0, 2, 3, 130)
MOST_SECONDS = 10.0
_HANGS = 300.0  # seconds after which nobody waits any more, however busy the machine
MOST_MEMORY = 1_000_000_000  # bytes that a line may take beside what is imported
LITTER = ("ragwort-part", "ragwort-whole")


@dataclass(frozen=True)
class Ended:
    """How a line ended."""

    status: int
    errors: str
    seconds: float  # of its own processor time: who else is at work does not count
    memory: float  # bytes


def run(words: list[str], text: str, folder: Path) -> Ended:
    """One command line in a process of its own."""
    output, errors = folder / ".output", folder / ".errors"
    started = time.monotonic()
    child = os.fork()
    if child == 0:
        _be_a_command(words, text, folder, output, errors)
    with contextlib.suppress(ProcessLookupError):
        status, seconds, memory = _ended(child, started)
    return Ended(status, errors.read_text(errors="replace"), seconds, memory)


def _ended(child: int, started: float) -> tuple[int, float, float]:
    """Its status, seconds and bytes; one that hangs is killed."""
    while time.monotonic() < started + _HANGS:
        done, status, usage = os.wait4(child, os.WNOHANG)
        if done:
            return os.waitstatus_to_exitcode(status), usage.ru_utime + usage.ru_stime, usage.ru_maxrss * 1024.0
        time.sleep(0.002)
    os.kill(child, signal.SIGKILL)
    _, _, usage = os.wait4(child, 0)
    return -signal.SIGKILL, _HANGS, usage.ru_maxrss * 1024.0


def _be_a_command(words: list[str], text: str, folder: Path, output: Path, errors: Path) -> None:
    from ragwort import cli

    os.chdir(folder)
    for stream, path in ((1, output), (2, errors)):
        os.dup2(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), stream)
    sys.stdout = io.TextIOWrapper(io.FileIO(1, "w"), write_through=True)
    sys.stderr = io.TextIOWrapper(io.FileIO(2, "w"), write_through=True, errors="backslashreplace")
    sys.stdin = io.TextIOWrapper(io.BytesIO(text.encode("utf-8", "surrogatepass")))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    status = 99
    try:
        cli.main(words)
    except SystemExit as left:
        status = left.code if isinstance(left.code, int) else 0 if left.code is None else 1
    finally:
        os._exit(status)


def wrong_with(words: list[str], ended: Ended, folder: Path, before: float) -> str:
    """What is wrong with how a line ended; empty where nothing is."""
    errors = ended.errors
    if ended.status not in ENDS:
        return f"status {ended.status}: {errors[-2000:]}"
    if "Traceback" in errors or errors.count("\n") > 1:
        return f"more than one line: {errors[-2000:]}"
    if ended.status in (2, 3) and ended.status == 2 and not errors.strip():
        return "it does not say what is wrong"
    if ended.seconds > MOST_SECONDS:
        return f"{ended.seconds:.1f} s"
    if ended.memory - before > MOST_MEMORY:
        return f"{ended.memory / 1e9:.2f} GB"
    return _wrong_with_files(words, ended, folder)


def _wrong_with_files(words: list[str], ended: Ended, folder: Path) -> str:
    for path in [*folder.iterdir(), *(folder / "folder").iterdir()]:
        if any(ending in path.name for ending in LITTER):
            return f"litter: {path.name!r}"
        if "out" in path.name and path.is_file() and not path.name.startswith("."):
            try:
                if path.suffix.removeprefix(".") in READERS:
                    opened(path)
            except Exception as error:  # noqa: BLE001  (what is looked for)
                return f"{path.name!r} cannot be opened: {error!r}"
            path.unlink()
    return ""


def walk(folder: Path, count: int, seed: int) -> list[str]:
    """What was wrong with `count` lines."""
    for module in (
        "ragwort.report",
        "ragwort.grid.asking",
        "ragwort.figures.export",
        "ragwort.rehearsal",
        "ragwort.sheet",
    ):
        __import__(module)
    os.environ["XDG_STATE_HOME"] = str(folder.parent / "state")
    found, grammar = [], Grammar(seed)
    prepare(folder)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024.0
    for number in range(count):
        words, text = grammar.line()
        wrong = wrong_with(words, run(words, text, folder), folder, before)
        if wrong:
            found.append(f"line {number}: {[word[:200] for word in words]}\n  given {text[:400]!r}\n  {wrong}")
            shutil.rmtree(folder)
            folder.mkdir()
            prepare(folder)
    return found
