"""Writing files whole: to a temporary file beside the place, flushed to disk, renamed over it.

A crash leaves either the old or the new file. What is being written is entered in the user's own state folder
(`leftovers.py`), so that what a dead writer left is cleaned up by the next, and nothing else is ever touched.
"""

from __future__ import annotations

import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from ragwort.files.faults import FileError, ReadOnly, short
from ragwort.files.leftovers import Entry, copy_into, entered, fill, settle_leftovers


def write_whole(path: Path, content: bytes, private: bool = False) -> None:
    """Write a file whole or not at all; `private`: readable by its owner only.

    Symbolic links are followed, further names of the file stay names of it, its permissions stay. A new file has those
    that the umask leaves. Raises `FileError`, as `ReadOnly` where the file may not be written.
    """
    try:
        place = Path(os.path.realpath(path))
        before = _present(place, path)
        settle_leftovers()
        if before is not None and before.st_nlink > 1:
            _write_into(place, content)
        else:
            _write_over(place, content, before, private)
    except OSError as error:
        raise FileError(f"{short(path.name)} cannot be written in {path.parent}: {error.strerror}.") from error


def check_place(path: Path) -> None:
    """Refuse a place that cannot be written to, before long work for it is begun. Raises `FileError`."""
    place = Path(os.path.realpath(path))
    before = _present(place, path)
    folder = place.parent
    if not folder.is_dir():
        reason = "there is no such folder" if not folder.exists() else f"{short(folder.name)} is a file, not a folder"
        raise FileError(f"{short(path.name)} cannot be written in {path.parent}: {reason}.")
    if before is None and not os.access(folder, os.W_OK | os.X_OK):
        raise FileError(f"{short(path.name)} cannot be written in {path.parent}: the folder may not be written to.")


def _present(place: Path, path: Path) -> os.stat_result | None:
    """The file that is there; None where there is none. Raises `FileError` where it may not be replaced."""
    if place.is_symlink():
        raise FileError(f"{short(path.name)} is a link that leads back to itself. Save under another name.")
    try:
        found = place.stat()
    except (FileNotFoundError, NotADirectoryError):
        return None
    except OSError as error:
        raise FileError(f"{short(path.name)} cannot be written in {path.parent}: {error.strerror}.") from error
    if not stat.S_ISREG(found.st_mode):
        raise FileError(f"{short(path.name)} is no file that can be written over. Choose another name.")
    if not found.st_mode & 0o222 or not os.access(place, os.W_OK):
        raise ReadOnly(f"{short(path.name)} is read-only. Save it under another name (Save as).")
    return found


def _write_over(place: Path, content: bytes, before: os.stat_result | None, private: bool) -> None:
    with entered(place) as entry, _part(entry, 0o600 if before is not None or private else 0o666) as descriptor:
        if before is not None:
            os.fchmod(descriptor, stat.S_IMODE(before.st_mode))
            if os.geteuid() == 0:
                os.fchown(descriptor, before.st_uid, before.st_gid)
        fill(descriptor, content)
        entry.part.replace(place)
        _flush_folder(place.parent)


def _write_into(place: Path, content: bytes) -> None:
    """For a file of several names: a whole copy first, from which an interrupted writing is finished later."""
    with entered(place) as entry, _part(entry, 0o600) as descriptor:
        fill(descriptor, content)
        entry.part.replace(entry.whole)
        _flush_folder(place.parent)
        copy_into(place, content)
        entry.whole.unlink()


@contextmanager
def _part(entry: Entry, mode: int) -> Iterator[int]:
    """A temporary file beside a place, open for writing, and removed where it is still there at the end."""
    descriptor = os.open(entry.part, os.O_RDWR | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, mode)
    try:
        yield descriptor
    finally:
        os.close(descriptor)
        entry.part.unlink(missing_ok=True)


def _flush_folder(folder: Path) -> None:
    """So that the new name is on disk too. A folder that may not be listed has none to flush, but has the file."""
    with suppress(PermissionError):
        descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        try:
            os.fsync(descriptor)
        finally:
            os.close(descriptor)
