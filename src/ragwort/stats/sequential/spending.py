"""Spending functions: how much of an error rate may have been used up by each share of the information."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from scipy import special

from ragwort.base.lazily import np

if TYPE_CHECKING:
    from numpy.typing import NDArray


@dataclass(frozen=True)
class Spending:
    """One spending function, or the cumulative amounts themselves (`own`).

    Lan and DeMets, Biometrika 70 (1983), 659-663; Hwang, Shih and DeCani, Stat Med 9 (1990), 1439-1445; powers: Kim and
    DeMets, Biometrika 74 (1987), 149-154.
    """

    kind: str
    parameter: float = 0.0
    own: tuple[float, ...] = ()  # of one side, at each look

    def spent(self, fractions: tuple[float, ...], level: float) -> NDArray[np.float64]:
        """What is spent of `level` up to each look, the last of which spends all."""
        if self.kind == "own":
            return np.array(self.own)
        found = self.at(np.array(fractions), level)
        found[-1] = level if fractions[-1] == 1 else found[-1]
        return found

    def at(self, t: NDArray[np.float64], level: float) -> NDArray[np.float64]:
        """What is spent of `level` at shares of the information in (0, 1]. Raises `ValueError` of own amounts."""
        if self.kind == "obrien-fleming":
            return np.asarray(2 * special.ndtr(special.ndtri(level / 2) / np.sqrt(t)))
        if self.kind == "pocock":
            return np.asarray(level * np.log1p((np.e - 1) * t))
        if self.kind == "hwang-shih-decani":
            return level * t if self.parameter == 0 else self._exponential(t, level)
        if self.kind == "power":
            return np.asarray(level * t**self.parameter)
        raise ValueError(f"{self.kind} is no function of the information")

    def _exponential(self, t: NDArray[np.float64], level: float) -> NDArray[np.float64]:
        return np.asarray(level * np.expm1(-self.parameter * t) / np.expm1(-self.parameter))
