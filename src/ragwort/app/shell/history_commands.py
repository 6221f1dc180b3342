"""Undo and redo from anywhere."""

from __future__ import annotations

from collections.abc import Callable

from ragwort.app.kit.command import Command
from ragwort.app.session.session import Session


def commands_of(session: Session, leave_editor: Callable[[], None]) -> list[Command]:
    """Both, named after what they would take back or bring again; what is half typed is taken over first."""
    return [
        _through(leave_editor, "undo", session.undo, "Ctrl+Z", lambda: session.history.undo_label),
        _through(leave_editor, "redo", session.redo, "Ctrl+Shift+Z", lambda: session.history.redo_label),
    ]


def _through(
    leave: Callable[[], None], name: str, act: Callable[[], None], shortcut: str, label: Callable[[], str]
) -> Command:
    def run() -> None:
        leave()
        act()

    def says() -> str:
        return f"{name.title()} {label()}".strip()

    return Command(f"edit.{name}", "Edit", name.title(), run, shortcut, lambda: bool(label()), says)
