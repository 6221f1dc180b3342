"""Memory that is kept small: the C library holds what was freed, for each thread apart, for what may come."""

from __future__ import annotations

import ctypes
import threading

from PySide6.QtCore import QObject, QTimer

IDLE = 20_000  # ms without a change, after which it is given back

# Of glibc's malloc.h. Its own limits grow with what was once freed, up to 32 MB and eight heaps a processor: after some
# hundred pictures and answers, each made in a thread, more than half of all memory was free and not given back.
_TRIM_THRESHOLD, _MMAP_THRESHOLD, _ARENA_MAX = -1, -3, -8
_LIMITS = {_ARENA_MAX: 2, _MMAP_THRESHOLD: 256 * 1024, _TRIM_THRESHOLD: 1024 * 1024}


class GivesBack(QObject):
    """Gives memory back once nothing has been `used` for a while."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.timer = QTimer(self, singleShot=True, interval=IDLE)
        self.timer.timeout.connect(lambda: threading.Thread(target=give_back, daemon=True).start())

    def used(self) -> None:
        """Something has happened: wait once more."""
        self.timer.start()


def keep_little() -> bool:
    """Whether freed memory goes back to the system early from now on, which is only where the C library is glibc."""
    try:
        limit = ctypes.CDLL(None).mallopt
    except (OSError, AttributeError):
        return False
    limit.argtypes, limit.restype = [ctypes.c_int, ctypes.c_int], ctypes.c_int
    return all([limit(which, most) for which, most in _LIMITS.items()])


def give_back() -> bool:
    """Whether memory could be given back, which is only where the C library is glibc. Takes up to 100 ms."""
    try:
        trim = ctypes.CDLL(None).malloc_trim
    except (OSError, AttributeError):
        return False
    trim.argtypes, trim.restype = [ctypes.c_size_t], ctypes.c_int
    return bool(trim(0))
