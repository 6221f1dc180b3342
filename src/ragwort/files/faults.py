"""What can be wrong with a file, and how files and texts are named in a message."""

from __future__ import annotations


class FileError(Exception):
    """A file that cannot be opened or written; the message says why in plain words."""


class ReadOnly(FileError):
    """A file that must not be written over: another place must be chosen."""


def short(text: str, most: int = 60) -> str:
    """A name or a text as messages repeat it: on one line, its middle left out where it is long."""
    line = " ".join(text.split())
    return line if len(line) <= most else f"{line[: most - 17]}…{line[-16:]}"
