"""Writing files whole: to a temporary file beside the place, flushed to disk, renamed over it.

A crash leaves either the old or the new file. Temporary files are locked while they are written, so that what a dead
writer left is known by its lock being free, and is cleaned up by whoever writes to or reads from that folder next.
"""

from __future__ import annotations

import fcntl
import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from uuid import uuid4

from ragwort.files.faults import FileError, ReadOnly, short

_PART = ".ragwort-part"  # the ending of temporary files
_WHOLE = ".ragwort-whole"  # of one that is complete and about to be copied into a file of several names


def write_whole(path: Path, content: bytes, private: bool = False) -> None:
    """Write a file whole or not at all; `private`: readable by its owner only.

    Symbolic links are followed, further names of the file stay names of it, its permissions stay. A new file has those
    that the umask leaves. Raises `FileError`, as `ReadOnly` where the file may not be written.
    """
    try:
        place = Path(os.path.realpath(path))
        before = _present(place, path)
        clean_up(place.parent)
        if before is not None and before.st_nlink > 1:
            _write_into(place, content)
        else:
            _write_over(place, content, before, private)
    except OSError as error:
        raise FileError(f"{short(path.name)} cannot be written in {path.parent}: {error.strerror}.") from error


def _present(place: Path, path: Path) -> os.stat_result | None:
    """The file that is there; None where there is none. Raises `FileError` where it may not be replaced."""
    if place.is_symlink():
        raise FileError(f"{short(path.name)} is a link that leads back to itself. Save under another name.")
    try:
        found = place.stat()
    except FileNotFoundError:
        return None
    if not stat.S_ISREG(found.st_mode):
        raise FileError(f"{short(path.name)} is no file that can be written over. Choose another name.")
    if not found.st_mode & 0o222 or not os.access(place, os.W_OK):
        raise ReadOnly(f"{short(path.name)} is read-only. Save it under another name (Save as).")
    return found


def _write_over(place: Path, content: bytes, before: os.stat_result | None, private: bool) -> None:
    with _part_beside(place, 0o600 if before is not None or private else 0o666) as (part, descriptor):
        if before is not None:
            os.fchmod(descriptor, stat.S_IMODE(before.st_mode))
            if os.geteuid() == 0:
                os.fchown(descriptor, before.st_uid, before.st_gid)
        _fill(descriptor, content)
        part.replace(place)
        _flush_folder(place.parent)


def _write_into(place: Path, content: bytes) -> None:
    """For a file of several names: a whole copy first, from which an interrupted writing is finished later."""
    whole = place.with_name(f".{place.name[:80]}{_WHOLE}")
    with _part_beside(place, 0o600) as (part, descriptor):
        _fill(descriptor, content)
        part.replace(whole)
        _flush_folder(place.parent)
        _copy_into(place, content)
        whole.unlink()


def _copy_into(place: Path, content: bytes) -> None:
    descriptor = os.open(place, os.O_WRONLY)
    try:
        _fill(descriptor, content)
        os.ftruncate(descriptor, len(content))
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


@contextmanager
def _part_beside(place: Path, mode: int) -> Iterator[tuple[Path, int]]:
    """A temporary file beside a place, locked, and removed where it is still there at the end."""
    part, descriptor = _new_part(place, mode)
    try:
        yield part, descriptor
    finally:
        part.unlink(missing_ok=True)
        os.close(descriptor)


def _new_part(place: Path, mode: int) -> tuple[Path, int]:
    while True:
        part = place.with_name(f".{place.name[:80]}.{uuid4().hex[:8]}{_PART}")
        descriptor = os.open(part, os.O_RDWR | os.O_CREAT | os.O_EXCL, mode)
        locked(descriptor, wait=True)
        if part.exists():  # somebody who cleaned up may have had it before it was locked
            return part, descriptor
        os.close(descriptor)


def _fill(descriptor: int, content: bytes) -> None:
    left = memoryview(content)
    while left:
        left = left[os.write(descriptor, left) :]
    os.fsync(descriptor)


def _flush_folder(folder: Path) -> None:
    """So that the new name is on disk too."""
    descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def locked(descriptor: int, wait: bool = False) -> bool:
    """Lock an open file for as long as it stays open: False where somebody else has it, or locks are not to be had."""
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | (0 if wait else fcntl.LOCK_NB))
    except OSError:  # taken, or a file system without locks: it is not ours alone either way
        return False
    return True


def clean_up(folder: Path) -> None:
    """Finish or remove what dead writers left in a folder."""
    with suppress(PermissionError, FileNotFoundError):  # of a folder that we may not list nothing can be cleaned up
        for left in [entry for entry in os.scandir(folder) if entry.name.endswith((_PART, _WHOLE))]:
            _settle(Path(left.path))


def _settle(left: Path) -> None:
    """Remove a temporary file that nobody holds; a whole copy is first brought where it belongs."""
    try:
        descriptor = os.open(left, os.O_RDWR | os.O_NOFOLLOW | os.O_NONBLOCK)
    except OSError:  # gone, or not ours to touch
        return
    try:
        if locked(descriptor) and left.exists():
            if left.name.endswith(_WHOLE):
                place = left.with_name(left.name.removeprefix(".").removesuffix(_WHOLE))
                if place.exists():
                    _copy_into(place, left.read_bytes())
            left.unlink(missing_ok=True)
    finally:
        os.close(descriptor)
