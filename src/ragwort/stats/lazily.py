"""`scipy.special`, loaded when one of its functions is first called: it takes longer than all the rest of the start."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from scipy import special
else:

    class _Special:
        def __getattr__(self, name: str) -> Any:
            from scipy import special

            function = getattr(special, name)
            setattr(self, name, function)  # from now on found without coming here
            return function

    special = _Special()

__all__ = ["special"]
