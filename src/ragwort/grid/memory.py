"""What was asked last, kept while it is asked for by the same objects: views ask many times for the same."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")


class Latest(Generic[T]):
    """A function of immutable objects that remembers its last result; what it raises is not remembered."""

    def __init__(self, work: Callable[..., T]) -> None:
        self._work = work
        self._given: tuple[object, ...] | None = None
        self._result: list[T] = []

    def __call__(self, *given: object) -> T:
        """The result for these."""
        if self._given is None or any(one is not other for one, other in zip(given, self._given, strict=True)):
            self._result = [self._work(*given)]
            self._given = given
        return self._result[0]
