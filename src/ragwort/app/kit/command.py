"""One thing that a user can do from anywhere: in a menu, by a shortcut, in the command finder.

Whoever can do it declares it; the shell gathers what is declared.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass


def always() -> bool:
    """For what can be done at any time."""
    return True


@dataclass(frozen=True)
class Command:
    """What it is called and what it does."""

    id: str
    menu: str
    label: str
    run: Callable[[], object]
    shortcut: str = ""
    enabled: Callable[[], bool] = always
    says: Callable[[], str] | None = None  # a label that changes, as for undo
    separated: bool = False  # a line goes above it in the menu
    finds: tuple[str, ...] = ()  # further words that it is searched by

    def title(self) -> str:
        """The label as it stands now."""
        return self.says() if self.says else self.label
