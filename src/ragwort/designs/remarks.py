"""What plans say of how exact their power is; which of it a design says already, whatever the sizes."""

from __future__ import annotations

_NORMAL = "This power is a normal approximation"
_POOR = ", and poor"


def normal_approximation(poor: str = "", more: str = "") -> str:
    """The remark of a plan whose power is one. `poor` says why it is off at these sizes, `more` goes on from there."""
    return f"{_NORMAL}{f'{_POOR} {poor}' if poor else ''}{more}."


def is_general(remark: str) -> bool:
    """Whether it holds at all sizes: it counts nothing and warns of nothing."""
    counts = any(character.isdigit() for character in remark)
    return remark.startswith(_NORMAL) and _POOR not in remark and not counts
