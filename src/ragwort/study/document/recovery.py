"""Recovery copies of unsaved work, in the user's state folder.

Each window has a copy of its own, known by a lock that it holds for as long as it lives. A copy whose lock is free was
left behind by a crash; whoever offers it holds its lock meanwhile, so that it is offered once.
"""

from __future__ import annotations

import json
import os
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from uuid import uuid4

from ragwort.files import FileError, write_whole
from ragwort.files.leftovers import locked
from ragwort.study.document.files import SUFFIX, digest_on_disk, digest_to_be, study_from_text
from ragwort.study.document.model import Study

_LOCK = ".lock"


@dataclass(frozen=True)
class Recovered:
    """Unsaved work that a crash left behind."""

    study: Study
    path: Path | None  # where it had been saved last, if anywhere
    copy: Path  # the recovery copy
    digest: str = ""  # of the file when it was read or saved last
    ended: bool = False  # it was no crash: the program was ended from outside

    def discard(self) -> None:
        """Delete the copy."""
        self.copy.unlink(missing_ok=True)
        self.copy.with_suffix(_LOCK).unlink(missing_ok=True)


class Recovery:
    """Recovery copies in one folder: this one's own, and those left behind."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._own = folder / f"{uuid4().hex}{SUFFIX}"
        self._held: list[int] = []
        self._has_lock = False

    @property
    def own(self) -> Path:
        """Where this window's copy is, once there is one."""
        return self._own

    def keep(
        self, study: Study, path: Path | None, digest: str = "", ended: bool = False, saving: Path | None = None
    ) -> None:
        """Write the unsaved state, and the place where it is about to be saved if it is. Raises `FileError`."""
        where: dict[str, Any] = {"path": str(path) if path else None, "digest": digest, "ended": ended}
        if saving is not None:
            where["saving"] = {"path": str(saving), "digest": digest_to_be(study)}
        content = {**where, "study": study.model_dump(mode="json")}
        try:
            self._folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            if not self._has_lock:
                self._has_lock = self._hold(self._own.with_suffix(_LOCK))
        except OSError as error:
            raise FileError(f"{self._folder} cannot be written: {error.strerror}.") from error
        write_whole(self._own, json.dumps(content, ensure_ascii=False).encode(), private=True)

    def clear(self) -> None:
        """Forget this window's copy: everything is saved, or was given up."""
        self._own.unlink(missing_ok=True)

    def release(self) -> None:
        """The window is gone in good order: without a copy nothing of it stays."""
        if not self._own.exists():
            self._own.with_suffix(_LOCK).unlink(missing_ok=True)
        for descriptor in self._held:
            os.close(descriptor)
        self._held, self._has_lock = [], False

    def left_behind(self) -> list[Recovered]:
        """Copies whose window is gone, each offered to one caller; unreadable ones are set aside under another name."""
        found = []
        for copy in sorted(self._folder.glob(f"*{SUFFIX}")):
            if copy == self._own or not self._hold(copy.with_suffix(_LOCK)) or not copy.exists():
                continue
            try:
                left = _read(copy)
                if _is_saved(left):
                    left.discard()
                else:
                    found.append(left)
            except (OSError, FileError):
                copy.replace(copy.with_suffix(".unreadable"))
                copy.with_suffix(_LOCK).unlink(missing_ok=True)
        self._forget_locks_of_the_dead()
        return found

    def _forget_locks_of_the_dead(self) -> None:
        """Of a window that had saved everything before it was killed only a lock is left."""
        for lock in self._folder.glob(f"*{_LOCK}"):
            if not lock.with_suffix(SUFFIX).exists() and lock.stem != self._own.stem and self._hold(lock):
                lock.unlink(missing_ok=True)
                os.close(self._held.pop())

    def _hold(self, lock: Path) -> bool:
        """Whether the lock is ours now."""
        while True:
            descriptor = os.open(lock, os.O_RDWR | os.O_CLOEXEC | os.O_CREAT, 0o600)
            if not locked(descriptor):
                os.close(descriptor)
                return False
            if lock.exists():
                self._held.append(descriptor)
                return True
            os.close(descriptor)  # somebody has cleaned it up meanwhile


def _is_saved(left: Recovered) -> bool:
    """Whether its window died after all had been saved, and before it had forgotten its copy."""
    return left.path is not None and digest_to_be(left.study) == left.digest == digest_on_disk(left.path)


def _read(copy: Path) -> Recovered:
    """Raises `OSError` or `FileError` where the copy cannot be read."""
    try:
        content: dict[str, Any] = json.loads(copy.read_text(encoding="utf-8"))
        study = study_from_text(json.dumps(content["study"]), copy.name)
        path, digest = _saved_last(content)
        return Recovered(study, path, copy, digest, bool(content.get("ended")))
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError) as error:
        raise FileError(f"{copy.name} is damaged: {type(error).__name__}.") from error


def _saved_last(content: dict[str, Any]) -> tuple[Path | None, str]:
    """Where the study had been saved last, and what its contents were told by: a save may just have been finished."""
    saving = content.get("saving")
    if saving is not None and digest_on_disk(Path(saving["path"])) == saving["digest"]:
        return Path(saving["path"]), str(saving["digest"])
    path = content["path"]
    return Path(path) if path else None, str(content.get("digest", ""))
