"""Words put together as people do: lists, and capitals at the beginning of a sentence."""

from __future__ import annotations

from collections.abc import Sequence


def one_of(words: Sequence[str]) -> str:
    """`a`, `a or b`, `a, b or c`."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"


def listed(words: Sequence[str]) -> str:
    """`a`, `a and b`, `a, b and c`; `nothing` where there is none."""
    if not words:
        return "nothing"
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def capital(text: str) -> str:
    """With a capital, as a sentence begins."""
    return text[:1].upper() + text[1:]


def uncapital(text: str) -> str:
    """With a small letter, as within a sentence."""
    return text[:1].lower() + text[1:]
