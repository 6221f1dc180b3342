"""Being ended from outside: logging out, shutting down, a terminal that closes. Unsaved work is kept."""

from __future__ import annotations

import signal
import socket
from typing import Any

from PySide6.QtCore import QSocketNotifier
from PySide6.QtGui import QSessionManager
from PySide6.QtWidgets import QApplication

from ragwort.app.shell.window import Window

SIGNALS = (signal.SIGTERM, signal.SIGHUP, signal.SIGINT)


class Endings:
    """Ends the program in good order on a signal or the session manager's word."""

    def __init__(self, application: QApplication, window: Window) -> None:
        self._window, self._application = window, application
        self._told, self._tell = socket.socketpair()
        self._tell.setblocking(False)
        self._before: dict[int, Any] = {each: signal.signal(each, lambda *_: None) for each in SIGNALS}
        self._wakeup_before = signal.set_wakeup_fd(self._tell.fileno())  # Qt's loop does not return to Python by itself
        self._notifier = QSocketNotifier(self._told.fileno(), QSocketNotifier.Type.Read)
        self._notifier.activated.connect(self._end)
        application.commitDataRequest.connect(self.keep)

    def _end(self) -> None:
        self._notifier.setEnabled(False)
        self._window.leave()
        self._application.exit(0)  # quit() would ask the window first

    def keep(self, manager: QSessionManager) -> None:
        """The session may end: what is unsaved is kept, and the window stays until it is closed."""
        manager.setRestartHint(QSessionManager.RestartHint.RestartIfRunning)
        self._window.leave_editor()
        self._window.session.keep_copy(ended=True)

    def forget(self) -> None:
        """Give the signals back."""
        signal.set_wakeup_fd(self._wakeup_before)
        for each, handler in self._before.items():
            signal.signal(each, handler)
        self._notifier.setEnabled(False)
        self._told.close()
        self._tell.close()
