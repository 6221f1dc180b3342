"""Tests that look several times: bounds by spending, power, the drift that has a power, chances of ending at each look.

Sources: Lan and DeMets, Biometrika 70 (1983), 659-663; of futility Pampallona, Tsiatis and Kim, Drug Inf J 35 (2001),
1113-1121; Jennison and Turnbull (2000), chapters 7, 11 and 19. Directions are those of a test that looks upwards.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import TYPE_CHECKING

from scipy import special

from ragwort.base import patience
from ragwort.base.lazily import np
from ragwort.stats.sequential import process
from ragwort.stats.sequential.bounds import (
    Bounds,
    Ends,
    NoBounds,
    efficacy_bound,
    futility_bound,
    going_on,
    increment,
    plain_bounds,
    reach,
)
from ragwort.stats.sequential.process import Alive
from ragwort.stats.sequential.roots import ROOT, between, next_root, probit
from ragwort.stats.sequential.spending import Spending

if TYPE_CHECKING:
    from numpy.typing import NDArray

HIGHEST_DRIFT = 37.0  # at which every power is 1
_EQUAL = 2e-16  # powers that differ by rounding alone
_HOPELESS = 1e-10  # a power: far against the direction of the test nobody rejects
_ROUNDED = 1e-13  # of a power that is alpha but for rounding, whose drift is none
_KNOTS = 37  # of the table that pictures read power with futility from


@dataclass(frozen=True)
class Futility:
    """Ending because little is left to be hoped for."""

    binding: bool  # whether efficacy bounds rely on its being followed
    spending: Spending


@dataclass(frozen=True)
class Looks:
    """When a test looks, and how it spends its errors. `level` is alpha of one side."""

    fractions: tuple[float, ...]
    level: float
    two_sided: bool
    spending: Spending
    futility: Futility | None = None

    @cached_property
    def spent(self) -> NDArray[np.float64]:
        """Alpha of one side, spent up to each look."""
        return self.spending.spent(self.fractions, self.level)

    @property
    def critical(self) -> float:
        """The critical value of the test without looks."""
        return -float(special.ndtri(self.level))

    @property
    def reach(self) -> float:
        """The highest drift at which the test without looks has a power that can be told from 1."""
        return reach(self.level)

    # --- the test without looks ---

    def fixed_drift(self, power: NDArray[np.float64]) -> NDArray[np.float64]:
        """The drift at which a normal test without looks has each power; at least 0 where it is two-sided."""
        with np.errstate(invalid="ignore"):
            found = special.ndtri(power) + self.critical
        found = np.clip(found, -HIGHEST_DRIFT, HIGHEST_DRIFT)
        return self._two_sided_drift(power, found) if self.two_sided else np.asarray(found)

    def _two_sided_drift(self, power: NDArray[np.float64], start: NDArray[np.float64]) -> NDArray[np.float64]:
        """Newton's method on the probit of power, from above, where it bends little."""
        critical, found = self.critical, np.maximum(start, 0.0)
        unknown = (power > 2 * self.level) & (power < 1)
        low, high = np.zeros(found.shape), np.maximum(start, 1.0) + 1.0
        for _ in range(200):
            reached = self.fixed_power(found)
            unknown &= np.abs(reached - power) > _EQUAL
            low, high = np.where(reached < power, found, low), np.where(reached < power, high, found)
            slope = np.exp(-((found - critical) ** 2) / 2) - np.exp(-((found + critical) ** 2) / 2)
            step = (reached - power) * math.sqrt(2 * math.pi) / np.maximum(slope, 1e-300)
            better = found - step
            better = np.where((better > low) & (better < high), better, (low + high) / 2)
            moved = np.abs(better - found)
            found = np.where(unknown, better, found)
            if not np.any(unknown & (moved > ROOT * np.maximum(found, 1.0))):
                break
        return np.where(power <= 2 * self.level * (1 + _ROUNDED), 0.0, found)

    def fixed_power(self, drifts: NDArray[np.float64]) -> NDArray[np.float64]:
        """The power of the test without looks."""
        found = special.ndtr(drifts - self.critical)
        return np.asarray(found + special.ndtr(-drifts - self.critical) if self.two_sided else found)

    def expected_share(self, ends: Ends) -> float:
        """How much of the information a study that may end early is expected to take."""
        gone = ends.reject + ends.give_up if len(ends.give_up) else ends.reject
        early = gone[:-1]
        return float(np.array(self.fractions[:-1]) @ early + 1 - early.sum())

    # --- bounds ---

    @property
    def plain(self) -> Bounds:
        """The bounds that do not rely on futility: where there is none, or where it does not bind."""
        return plain_bounds(self.fractions, self.level, self.two_sided, self.spending)

    def bounds(self, drift: float) -> Bounds:
        """All bounds, for a drift that is planned with. Raises `NoBounds`."""
        if self.futility is None:
            return self.plain
        return self._with_futility(drift, 1 - self.power(drift))

    def moved(self, fractions: tuple[float, ...]) -> Looks:
        """Looks at other times that spend what is due by then; own amounts are read between those that were planned."""
        if self.spending.kind != "own":
            return replace(self, fractions=fractions)
        own = np.interp(fractions, (0.0, *self.fractions), (0.0, *self.spending.own))
        return replace(self, fractions=fractions, spending=Spending("own", own=tuple(float(each) for each in own)))

    # --- power ---

    def power(self, drift: float) -> float:
        """The chance of rejecting under a drift. Raises `NoBounds`."""
        if drift >= HIGHEST_DRIFT:
            return 1.0
        if self.futility is None:
            return self.plain.power_at(drift)
        return 1 - _missed(self, drift)

    def powers(self, drifts: NDArray[np.float64]) -> NDArray[np.float64]:
        """`power` for many drifts at once; with futility read from a table of it, right to about 0.001."""
        flat = np.clip(drifts.ravel(), -HIGHEST_DRIFT, HIGHEST_DRIFT)
        if self.futility is None:
            found = self.plain.power(flat)
        elif len(set(flat.tolist())) <= 8:
            found = np.array([self.power(float(each)) for each in flat])
        else:
            found = _table(self)(flat)
        return np.where(flat >= HIGHEST_DRIFT, 1.0, np.clip(found, 0.0, 1.0)).reshape(drifts.shape)

    def drift_for(self, power: float) -> float:
        """The drift that has this power; -inf or inf where every drift has more, or less. Raises `NoBounds`."""
        return _drift_for(self, power)

    # --- with futility ---

    def type_two_left(self, drift: float, beta: float) -> float:
        """By how much more is missed than `beta`, where futility spends that much of it."""
        bounds = self._with_futility(drift, beta)
        before_last = sum(self._given_up(beta)[-1:])
        missed = process.below(bounds.before(len(self.fractions) - 1), 1.0, min(bounds.efficacy[-1], 40.0), drift)
        return missed + before_last - beta

    def _given_up(self, beta: float) -> tuple[float, ...]:
        """The type II error spent by futility at each look but the last."""
        assert self.futility is not None
        return tuple(self.futility.spending.spent(self.fractions, beta)[:-1])

    def _with_futility(self, drift: float, beta: float) -> Bounds:
        """Bounds look by look: efficacy without an effect, futility under the drift."""
        assert self.futility is not None
        binding, alive = self.futility.binding, []
        efficacy, futility = [], []
        gone, before = 0.0, None
        for look, (t, spent) in enumerate(zip(self.fractions, self._given_up(beta), strict=False)):
            high = self._efficacy(before, look) if binding else self.plain.efficacy[look]
            low = futility_bound(before, t, spent - gone, drift, high)
            gone = spent
            efficacy.append(high)
            futility.append(low)
            before = going_on(before, t, low, high, self.fractions[look + 1], (drift, self.reach))
            alive.append(before)
        last = len(self.fractions) - 1
        efficacy.append(self._efficacy(before, last) if binding else self.plain.efficacy[last])
        return Bounds(self.fractions, False, tuple(efficacy), (*futility, efficacy[-1]), tuple(alive))

    def _efficacy(self, before: Alive | None, look: int) -> float:
        return efficacy_bound(before, self.fractions[look], increment(self.spent, look))


@lru_cache(maxsize=512)
def _missed(looks: Looks, drift: float, exactly: float = ROOT) -> float:
    """The smallest type II error that its own futility bounds leave, sought from that without futility on."""
    patience.check()
    most = looks.plain.power_at(drift)
    if most < _HOPELESS:  # as good as nothing, futility or not
        return 1 - most
    low = max(1 - most, 1e-12)

    def over(beta: float) -> float:
        return looks.type_two_left(drift, beta)

    at_low = over(low)
    while at_low < 0 and low > 1e-200:  # rounding, or efficacy bounds that binding futility lowers
        low /= 2
        at_low = over(low)

    def beyond(beta: float) -> float:
        """Where so much is given up that alpha cannot be spent any more, the root has been passed."""
        try:
            return over(beta)
        except NoBounds:
            return -beta

    return low if at_low <= 0 else next_root(beyond, low, at_low, exactly)


@lru_cache(maxsize=256)
def _drift_for(looks: Looks, power: float) -> float:
    """From the drift without looks on, which is a little too small."""

    def short(drift: float) -> float:
        if looks.futility is None:
            return probit(looks.plain.power_at(drift)) - probit(power)
        try:
            return -looks.type_two_left(drift, 1 - power)
        except NoBounds:  # far above: so much of the type II error is to be spent that hardly anybody goes on
            return power

    if looks.two_sided and short(0.0) >= 0:
        return -math.inf
    start = float(looks.fixed_drift(np.array([power]))[0])
    at_start = short(start)
    step, end = (0.05, HIGHEST_DRIFT) if at_start < 0 else (-0.05, 0.0 if looks.two_sided else -HIGHEST_DRIFT)
    while True:
        there = min(start + step, end) if step > 0 else max(start + step, end)
        at_there = short(there)
        if (at_there < 0) != (at_start < 0):
            return between(short, start, at_start, there, at_there)
        if there == end:
            return math.copysign(math.inf, step)
        start, at_start, step = there, at_there, step * 3


class _Table:
    """Power with futility against the drift: its probit between knots, for pictures."""

    def __init__(self, looks: Looks) -> None:
        from scipy.interpolate import PchipInterpolator

        drifts = np.linspace(0.0, looks.critical + 4.5, _KNOTS)
        self._probit = PchipInterpolator(drifts, [probit(1 - _missed_roughly(looks, each)) for each in drifts.tolist()])

    def __call__(self, drifts: NDArray[np.float64]) -> NDArray[np.float64]:
        against = np.minimum(drifts, 0.0) * float(self._probit(0.0, 1))  # straight on, where power is below alpha
        return np.asarray(special.ndtr(self._probit(np.maximum(drifts, 0.0)) + against))


def _knots(looks: Looks, drifts: NDArray[np.float64]) -> list[float]:
    return [probit(1 - _missed_roughly(looks, float(each))) for each in drifts]


def _missed_roughly(looks: Looks, drift: float) -> float:
    """To six digits; all, where so many give up that nothing is left to reject."""
    try:
        return _missed(looks, drift, 1e-7)
    except NoBounds:
        return 1.0


@lru_cache(maxsize=16)
def _table(looks: Looks) -> _Table:
    return _Table(looks)
