"""Work that a crash left behind is found, offered once, and never lost on the way."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from ragwort.demo import sampler_study
from ragwort.study.document.recovery import Recovery

WRITER = """
import sys
from pathlib import Path
from ragwort.demo import sampler_study
from ragwort.study.document.recovery import Recovery
Recovery(Path(sys.argv[1])).keep(sampler_study(), Path("/somewhere/night.ragwort"), "digest")
print("kept", flush=True)
sys.stdin.read()
"""


def _dies_after_keeping(folder: Path) -> None:
    writer = subprocess.Popen(
        [sys.executable, "-c", WRITER, str(folder)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    assert writer.stdout is not None
    assert writer.stdout.readline() == "kept\n"
    assert Recovery(folder).left_behind() == []  # it lives: its copy is its own
    writer.kill()
    writer.wait()
    writer.communicate()


def test_work_of_a_process_that_died_is_offered_once(tmp_path: Path) -> None:
    """To the first who asks, while that one lives; whatever number its process had."""
    _dies_after_keeping(tmp_path)
    first, second = Recovery(tmp_path), Recovery(tmp_path)
    (found,) = first.left_behind()
    assert (found.study, found.path, found.digest) == (sampler_study(), Path("/somewhere/night.ragwort"), "digest")
    assert second.left_behind() == []
    first.release()
    (again,) = second.left_behind()
    again.discard()
    assert list(tmp_path.iterdir()) == []


def test_a_copy_named_by_the_number_of_a_living_process_is_found(tmp_path: Path) -> None:
    """As earlier versions named them: ours, or anybody's now."""
    _dies_after_keeping(tmp_path)
    (copy,) = tmp_path.glob("*.ragwort")
    copy.rename(tmp_path / f"{os.getpid()}.ragwort")
    (found,) = Recovery(tmp_path).left_behind()
    assert found.copy.stem == str(os.getpid())


def test_a_damaged_copy_is_set_aside(tmp_path: Path) -> None:
    """It stops nothing, and is not deleted."""
    for name, content in (("a", "[" * 100_000), ("b", "half a file"), ("c", '{"path": 3, "study": {}}'), ("d", "[]")):
        (tmp_path / f"{name}.ragwort").write_text(content)
    assert Recovery(tmp_path).left_behind() == []
    assert sorted(path.name for path in tmp_path.iterdir()) == [f"{name}.unreadable" for name in "abcd"]


def test_a_window_that_ends_in_good_order_leaves_nothing(tmp_path: Path) -> None:
    """No copy and no lock; with unsaved work both stay for the next start."""
    recovery = Recovery(tmp_path)
    recovery.keep(sampler_study(), None)
    assert (recovery.own.stat().st_mode & 0o777, tmp_path.stat().st_mode & 0o777) != (0o644, 0)
    recovery.clear()
    recovery.release()
    assert list(tmp_path.iterdir()) == []
    recovery.keep(sampler_study(), None, ended=True)
    recovery.release()
    (found,) = Recovery(tmp_path).left_behind()
    assert found.ended
