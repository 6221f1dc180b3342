"""Whether two statements of one thing say the same."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from ragwort.base.lazily import np
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.stats.effects import sd_of_differences
from ragwort.stats.noncentral import Number

SAME = 1e-9  # two statements of one quantity that differ by less than this share agree


def agree(one: Number, other: Number) -> bool:
    """Whether two numbers are the same but for rounding; of arrays, whether all are."""
    return bool(np.all(abs(one - other) <= SAME * np.maximum(np.maximum(abs(one), abs(other)), 1e-300)))


def stated(
    values: Mapping[str, Any], name: str, worked_out: Number | None, source: str = "the rest makes it"
) -> Number:
    """A value as it is given, or as the rest makes it (None where that says nothing).

    Raises `RequestError` where both say something, and not the same.
    """
    if worked_out is None:
        return values[name]
    if name in values and not agree(values[name], worked_out):
        raise RequestError(
            name,
            f"{name} is given as {_shown(values[name])}, but {source} {_shown(worked_out)}: "
            "give one of them, or make them agree.",
        )
    return values.get(name, worked_out)


def _shown(number: Number) -> str:
    """Of many at once, of which nobody reads the message, the first that is there."""
    return plain_number(float(np.ravel(number)[0]))


def is_whole(total: float) -> bool:
    """Whether shares add up to 1 but for rounding."""
    return abs(total - 1) <= SAME


def need_whole(name: str, total: float, called: str) -> None:
    """Refuse shares that do not add up to 1, `called` as people know them. Raises `RequestError`."""
    if not is_whole(total):
        off = f"{total:.10g}, {abs(total - 1):.3g} {'over' if total > 1 else 'under'}"
        raise RequestError(name, f"{called} must add up to 1; they add up to {off}.")


def scatter_within_pairs(values: Mapping[str, Any]) -> Number:
    """The SD of differences from `sd1`, `sd2` and `correlation`. Raises `RequestError` where nothing scatters."""
    found = sd_of_differences(values["sd1"], values["sd2"], values["correlation"])
    if np.any(found <= 0):
        raise RequestError("correlation", "These SDs and this correlation leave no variability in the differences.")
    return found


def all_alike(numbers: Iterable[float]) -> bool:
    """Whether numbers are the same but for rounding."""
    kept = list(numbers)
    return max(kept) - min(kept) <= SAME
