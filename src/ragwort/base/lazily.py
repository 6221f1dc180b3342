"""NumPy and `scipy.special`, loaded when first used: each takes longer than all the rest of a small command."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import numpy as np
    from scipy import special
else:

    class _Lazily:
        def __init__(self, module: str) -> None:
            self._module = module

        def __getattr__(self, name: str) -> Any:
            found = getattr(import_module(self._module), name)
            setattr(self, name, found)  # from now on found without coming here
            return found

    np, special = _Lazily("numpy"), _Lazily("scipy.special")

__all__ = ["np", "special"]
