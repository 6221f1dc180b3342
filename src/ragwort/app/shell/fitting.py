"""A window as large as its screen allows."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QWidget

FRAME = QSize(12, 42)  # pixels that a desktop may put around a window; known exactly once it is shown


def fit_the_screen(window: QWidget, least: QSize) -> None:
    """Make it no larger than there is room, the window's frame counted, and nowhere outside."""
    room = window.screen().availableGeometry()
    frame = window.frameGeometry().size() - window.size() if window.isVisible() else FRAME
    most = room.size() - frame
    window.setMinimumSize(least.boundedTo(most))
    if window.isMaximized() or window.isFullScreen():
        return
    window.resize(window.size().boundedTo(most))
    if not room.contains(window.frameGeometry()):
        window.move(
            max(room.left(), min(window.x(), room.right() + 1 - window.width() - frame.width())),
            max(room.top(), min(window.y(), room.bottom() + 1 - window.height() - frame.height())),
        )
