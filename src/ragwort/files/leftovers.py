"""What is being written at present, entered in the state folder of the user, and what dead writers left, settled.

An entry is a file that is locked for as long as its writer lives; it says where that one writes. A name in a folder is
taken for a leftover of ours only where such an entry vouches for it: what others put there (in an archive, in a shared
folder) has none and is left alone, whatever it is called and whatever kind of thing it is.
"""

from __future__ import annotations

import fcntl
import json
import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

_PART = ".ragwort-part"  # the ending of temporary files
_WHOLE = ".ragwort-whole"  # of one that is complete and about to be copied into a file of several names
_ENTRY = ".writing"


def entries_folder() -> Path:
    """Where the entries are."""
    from platformdirs import user_state_path

    return user_state_path("ragwort") / "writing"


@dataclass(frozen=True)
class Entry:
    """One writing: the file it is for, and the names of its own that stand beside it meanwhile."""

    place: Path
    key: str  # by which its entry and its names are known
    inode: tuple[int, int] | None  # of the file that was there: its device and number

    @property
    def part(self) -> Path:
        """The temporary file."""
        return self._beside(_PART)

    @property
    def whole(self) -> Path:
        """The complete copy from which a file of several names is written."""
        return self._beside(_WHOLE)

    def _beside(self, ending: str) -> Path:
        short = self.place.name.encode()[:80].decode(errors="ignore")  # a name has 255 bytes at most
        return self.place.with_name(f".{short}.{self.key}{ending}")


@contextmanager
def entered(place: Path) -> Iterator[Entry]:
    """An entry for a writing to this place. Where none can be made, what a crash leaves stays where it is."""
    entry = Entry(place, uuid4().hex, _inode(place))
    note = entries_folder() / f"{entry.key}{_ENTRY}"
    descriptor = _new_note(note, entry)
    try:
        yield entry
    finally:
        if descriptor is not None:
            note.unlink(missing_ok=True)
            os.close(descriptor)


def _inode(place: Path) -> tuple[int, int] | None:
    try:
        found = place.lstat()
    except OSError:
        return None
    return found.st_dev, found.st_ino


def _new_note(note: Path, entry: Entry) -> int | None:
    """The entry, open and locked; None where there can be none."""
    said = {"place": os.fsencode(entry.place).hex(), "inode": entry.inode}
    try:
        descriptor = _opened(note)
    except OSError:
        return None
    try:
        fill(descriptor, json.dumps(said).encode())
    except OSError:
        note.unlink(missing_ok=True)
        os.close(descriptor)
        return None
    return descriptor


def _opened(note: Path) -> int:
    note.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    while True:
        descriptor = os.open(note, os.O_RDWR | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o600)
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX)
        except OSError:  # an unlocked entry would have its files taken from under a living writer
            note.unlink(missing_ok=True)
            os.close(descriptor)
            raise
        if note.exists():  # somebody who cleaned up may have had it before it was locked
            return descriptor
        os.close(descriptor)


def locked(descriptor: int) -> bool:
    """Lock an open file for as long as it stays open: False where somebody else has it, or locks are not to be had."""
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:  # taken, or a file system without locks: it is not ours alone either way
        return False
    return True


def fill(descriptor: int, content: bytes) -> None:
    """Write all of it, and to disk."""
    left = memoryview(content)
    while left:
        left = left[os.write(descriptor, left) :]
    os.fsync(descriptor)


def copy_into(place: Path, content: bytes, inode: tuple[int, int] | None = None) -> None:
    """Write into a plain file that is there, never through a link; with `inode`, into that file only."""
    descriptor = os.open(place, os.O_WRONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC)
    try:
        found = os.fstat(descriptor)
        if not stat.S_ISREG(found.st_mode) or inode not in (None, (found.st_dev, found.st_ino)):
            raise FileExistsError(f"{place} is another file by now.")
        fill(descriptor, content)
        os.ftruncate(descriptor, len(content))
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def settle_leftovers() -> None:
    """Finish or remove what dead writers left. What cannot be settled now stays for another time, and stops nobody."""
    with suppress(OSError):
        for note in [entry.path for entry in os.scandir(entries_folder()) if entry.name.endswith(_ENTRY)]:
            with suppress(OSError):
                _settle(Path(note))


def _settle(note: Path) -> None:
    descriptor = os.open(note, os.O_RDWR | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC)
    try:
        if not locked(descriptor) or not note.exists():
            return
        entry = _read(descriptor, note)
        if entry is not None and entry.place.parent.exists():
            _finish(entry)
            _remove(entry.part)
            _remove(entry.whole)
        elif entry is not None:  # on a disk that is not here at present
            return
        note.unlink(missing_ok=True)
    finally:
        os.close(descriptor)


def _read(descriptor: int, note: Path) -> Entry | None:
    """What an entry says; None where its writer died before it had said it, and so before it wrote anything else."""
    try:
        said = json.loads(os.read(descriptor, 1 << 20))
        inode = said["inode"]
        place = Path(os.fsdecode(bytes.fromhex(said["place"])))
        return Entry(place, note.stem, None if inode is None else (int(inode[0]), int(inode[1])))
    except (ValueError, KeyError, TypeError):
        return None


def _finish(entry: Entry) -> None:
    """Where a whole copy is left, its file may be half written: it is brought there, unless that was replaced since."""
    if entry.inode is not None and entry.inode == _inode(entry.place) and _is_ours(entry.whole):
        copy_into(entry.place, _content(entry.whole), entry.inode)


def _content(path: Path) -> bytes:
    with os.fdopen(os.open(path, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as file:
        return file.read()


def _is_ours(path: Path) -> bool:
    try:
        found = path.lstat()
    except FileNotFoundError:
        return False
    return stat.S_ISREG(found.st_mode) and os.geteuid() in (0, found.st_uid)


def _remove(path: Path) -> None:
    if _is_ours(path):
        path.unlink(missing_ok=True)
