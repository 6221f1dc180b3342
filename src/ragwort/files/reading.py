"""Reading files with care: only plain ones, only up to a size, all of it from one opening."""

from __future__ import annotations

import os
import stat
from hashlib import sha256
from pathlib import Path

from ragwort.files.faults import FileError, short

_PIECE = 1 << 20


def read_plain(path: Path, most: int) -> bytes:
    """The bytes of a plain file of at most `most` bytes. Raises `FileError`.

    What has no end or no beginning (a pipe, a device) is refused before it is read.
    """
    name = short(path.name)
    try:
        descriptor = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        try:
            before = os.fstat(descriptor)
            _refuse(before, name, most)
            content = _all_of(descriptor, name, most)
            after = os.fstat(descriptor)
            if (after.st_size, after.st_mtime_ns) != (before.st_size, before.st_mtime_ns):
                raise FileError(f"{name} was changed while it was read: try again.")
            return content
        finally:
            os.close(descriptor)
    except FileNotFoundError:
        raise FileError(f"There is no file {path}.") from None
    except OSError as error:
        raise FileError(f"{name} cannot be read: {error.strerror}.") from error


def _refuse(found: os.stat_result, name: str, most: int) -> None:
    if stat.S_ISDIR(found.st_mode):
        raise FileError(f"{name} cannot be read: it is a folder.")
    if not stat.S_ISREG(found.st_mode):
        raise FileError(f"{name} cannot be read: it is a pipe or a device, not a file.")
    if found.st_size > most:
        raise FileError(f"{name} has {size_text(found.st_size)}; at most {size_text(most)} are read.")


def _all_of(descriptor: int, name: str, most: int) -> bytes:
    pieces, total = [], 0
    while piece := os.read(descriptor, _PIECE):
        pieces.append(piece)
        total += len(piece)
        if total > most:  # it grows while it is read
            raise FileError(f"{name} has more than {size_text(most)}, which is the most that is read.")
    return b"".join(pieces)


def size_text(count: int) -> str:
    """`64 MB`."""
    return (
        f"{count / 1e6:,.0f} MB".replace(",", "\u2009") if count >= 1e6 else f"{count:,} bytes".replace(",", "\u2009")
    )


def digest_of(content: bytes) -> str:
    """What tells the contents of a file from others: SHA-256 as hexadecimal digits."""
    return sha256(content).hexdigest()
