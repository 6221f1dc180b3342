"""Memory given back to the system while nobody works: the C library keeps what was freed for what may come."""

from __future__ import annotations

import ctypes
import threading

from PySide6.QtCore import QObject, QTimer

IDLE = 20_000  # ms without a change, after which it is given back


class GivesBack(QObject):
    """Gives memory back once nothing has been `used` for a while."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.timer = QTimer(self, singleShot=True, interval=IDLE)
        self.timer.timeout.connect(lambda: threading.Thread(target=give_back, daemon=True).start())

    def used(self) -> None:
        """Something has happened: wait once more."""
        self.timer.start()


def give_back() -> bool:
    """Whether memory could be given back, which is only where the C library is glibc. Takes up to 100 ms."""
    try:
        trim = ctypes.CDLL(None).malloc_trim
    except (OSError, AttributeError):
        return False
    trim.argtypes, trim.restype = [ctypes.c_size_t], ctypes.c_int
    return bool(trim(0))
