"""What plans say of how exact their power is; which of it a design says already, whatever the sizes."""

from __future__ import annotations


class General(str):
    """A remark that holds at all sizes: what the design says of its accuracy says it too."""


def normal_approximation(poor: str = "", more: str = "") -> str:
    """The remark of a plan whose power is one. `poor` says why it is off at these sizes, `more` goes on from there."""
    said = f"This power is a normal approximation{f', and poor {poor}' if poor else ''}{more}."
    return said if poor else General(said)


def is_general(remark: str) -> bool:
    """Whether it counts nothing and warns of nothing."""
    return isinstance(remark, General)
