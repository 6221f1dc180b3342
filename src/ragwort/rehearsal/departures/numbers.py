"""A number that a departure asks for."""

from __future__ import annotations

from typing import Any

from ragwort.designs.assumption import Assumption


def number(name: str, label: str, help: str, **bounds: Any) -> Assumption:
    """A plain number with its bounds."""
    return Assumption(name, label, "number", "Sample", help, **bounds)
