"""The first sheet of a workbook, read in a process of its own with limits: a small archive can hold a monstrous sheet.

The child gets the workbook on standard input and prints a line of JSON for every few hundred rows; this module is both
ends of that. What the child cannot do within its limits is said in a sentence.
"""

from __future__ import annotations

import io
import json
import os
import resource
import select
import subprocess
import sys
import tempfile
import time
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from ragwort.files.children import python_running
from ragwort.files.faults import FileError

MOST_MEMORY = 2_000_000_000  # bytes of the child
MOST_TIME = 60  # seconds
MOST_CELLS = 20_000_000
MOST_UNPACKED = 1_000_000_000  # bytes that the archive says it unpacks to
_AT_ONCE = 300  # rows
_LOOK = 0.1  # seconds between two looks whether it is still wanted
_READ = 1 << 20

TOO_LARGE = (
    f"its sheets need more than {MOST_MEMORY // 10**9} GB of memory, {MOST_CELLS // 10**6} million cells or "
    f"{MOST_TIME} seconds. Keep only what is needed, or save it as CSV and open that"
)


def workbook_rows(data: bytes, name: str, wanted: Callable[[], None] = lambda: None) -> Iterator[list[str]]:
    """The rows of the first sheet that has any, cells as text. Raises `FileError`.

    `wanted` is called every so often and may raise to stop; the child is ended then, as it is where nobody reads on.
    """
    with _child(data) as child:
        for line in _lines(child, name, wanted):
            found = _understood(line, name)
            if "error" in found:
                raise FileError(f"{name} cannot be opened: {found['error']}.")
            yield from found["rows"]
        if child.wait() != 0:
            raise FileError(f"{name} cannot be opened: {TOO_LARGE}.")


@contextmanager
def _child(data: bytes) -> Iterator[subprocess.Popen[bytes]]:
    with tempfile.TemporaryFile() as given:
        given.write(data)
        given.seek(0)
        command = python_running("ragwort.files.workbook", str(MOST_MEMORY), str(MOST_TIME))
        child = subprocess.Popen(command, stdin=given, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
        try:
            yield child
        finally:
            child.kill()
            child.wait()
            assert child.stdout is not None
            child.stdout.close()


def _lines(child: subprocess.Popen[bytes], name: str, wanted: Callable[[], None]) -> Iterator[bytes]:
    assert child.stdout is not None
    output, rest, end = child.stdout.fileno(), b"", time.monotonic() + MOST_TIME
    while True:
        wanted()
        if time.monotonic() > end:
            raise FileError(f"{name} cannot be opened: {TOO_LARGE}.")
        if not select.select([output], [], [], _LOOK)[0]:
            continue
        piece = os.read(output, _READ)
        if not piece:
            return
        *lines, rest = (rest + piece).split(b"\n")
        yield from lines


def _understood(line: bytes, name: str) -> dict[str, Any]:
    try:
        found = json.loads(line)
    except ValueError as error:  # it died in the middle of a line
        raise FileError(f"{name} cannot be opened: {TOO_LARGE}.") from error
    assert isinstance(found, dict)
    return found


# --- the child ---


def main() -> None:
    """Read the workbook on standard input within so much memory and so many seconds, and print its rows."""
    memory, seconds = (int(limit) for limit in sys.argv[1:])
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 1))
    data = sys.stdin.buffer.read()
    try:
        _print_rows(data)
    except MemoryError:
        _tell(error=TOO_LARGE)
    except BrokenPipeError:
        return
    except BaseException as error:  # noqa: BLE001  (the reader's own panics are no Exception)
        protected = data[:4] == b"\xd0\xcf\x11\xe0" or type(error).__name__ == "PasswordError"
        why = "it is protected by a password" if protected else "it is no workbook or is damaged"
        _tell(error=f"{why}. Save it as CSV and open that")


def _print_rows(data: bytes) -> None:
    from python_calamine import CalamineWorkbook

    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if sum(part.file_size for part in archive.infolist()) > MOST_UNPACKED:
            raise MemoryError
    workbook = CalamineWorkbook.from_filelike(io.BytesIO(data))
    for name in workbook.sheet_names:
        sheet = workbook.get_sheet_by_name(name)
        if sheet.total_height * sheet.total_width > MOST_CELLS:
            raise MemoryError
        rows = sheet.to_python()
        if rows:
            for start in range(0, len(rows), _AT_ONCE):
                _tell(rows=[[_cell_text(cell) for cell in row] for row in rows[start : start + _AT_ONCE]])
            return


def _tell(**said: Any) -> None:
    print(json.dumps(said), flush=True)


def _cell_text(cell: Any) -> str:
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    return str(cell)


if __name__ == "__main__":
    main()
