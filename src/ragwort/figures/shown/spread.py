"""All plausible ranges at once: what power the planned size is likely to have (the picture Spread).

Each range is read as the middle 90% of what may be true: its ends are the 5% and 95% points of a normal
distribution, on the scale on which the assumption has no bounds. The mean of the power over it is the assurance
(O'Hagan, Stevens and Campbell, Pharmaceutical Statistics 2005; 4: 187-201, section 2).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.base import patience
from ragwort.base.wording import capital, listed
from ragwort.designs import Answer, Design, StatisticPlan, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.many import Columns, Stack, powers, stacks
from ragwort.designs.request import values_in_force
from ragwort.figures.scales.axes import size_of, words_of_sizes, x_at
from ragwort.figures.scales.quantity import Quantity
from ragwort.figures.shown.shown import Pointer, Reading, Shown, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.results.whatif import supposed, uncertain, values_for
from ragwort.study.words.found import power_text
from ragwort.study.words.numbers import count_text, percent_text

DRAWS = 10_000
FEW_DRAWS = 500  # where powers cannot be had many at once: sums over counts, integrals, calendars
BARS = 40
WANTED = 0.8  # the chance for which a size is looked for
_SEED = 20_250
_NINETY = 1.6448536269514722  # standard deviations from the middle to the 95% point
_MOST_TRIES = 50  # times that draws are drawn again
_TOO_RARE = 0.99  # of those drawn, if the design cannot take so many: further draws would find hardly any
NO_RANGES = (
    "Nothing that power depends on has a plausible range yet. Type one in the ledger, beside the value, such as 8 to "
    "16: then this picture shows the distribution of power over all of them (assurance)."
)
ONLY_SUPPOSED = (
    "Nothing has a plausible range yet: each is drawn from a tenth around its value, which is not how uncertain it is."
)
HARDLY_ANY = (
    "Together with the other assumptions, the design can take hardly any values out of these plausible ranges. Change "
    "a range in the ledger, beside the value."
)


@dataclass(frozen=True)
class Spread(Shown):
    """What the picture shows: the distribution of power, in per cent, at the planned size."""

    x_label: str
    power: NDArray[np.float64]  # of each draw, in 0..1
    planned: float  # the power as planned
    target: float
    mean: float  # assurance
    error: float  # simulation error of the mean
    chance: float  # that power is at least the target
    heights: NDArray[np.float64]  # share of the draws in each of `BARS` classes of power
    enough: str  # the size at which that chance reaches `WANTED`; empty where it was not looked for
    conclusion: str  # what to take from it, in a sentence
    details: str  # the rest
    says: str
    supposed: bool = False  # nothing has a plausible range: each is drawn from a tenth around its value
    texts: Texts = ()

    @override
    def frame(self) -> tuple[object, ...]:
        return ("spread", self.high)

    @property
    @override
    def foot(self) -> str:
        return capital(self.details)

    @property
    @override
    def y_label(self) -> str:
        return "of 100 draws" if self.power.size else ""

    @property
    def high(self) -> float:
        """The top of the y axis."""
        return float(f"{118 * max(self.heights.max(initial=0.0), 0.02):.2g}")

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """A class of power."""
        place = int(at.x // (100 / BARS))
        return self._bar(place) if self.power.size and 0 <= place < BARS and at.y >= 0 else None

    @override
    def walk(self) -> list[Reading]:
        """Class by class."""
        return [self._bar(place) for place in range(BARS)] if self.power.size else []

    def _bar(self, place: int) -> Reading:
        low, high = place * 100 / BARS, (place + 1) * 100 / BARS
        height = 100 * float(self.heights[place])
        return Reading((low + high) / 2, height, f"power {low:g} to {high:g}%: {height:.1f} of 100 draws")

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = ["draw", "power"]
        draws: list[list[object]] = [[at, float(each)] for at, each in enumerate(self.power, start=1)]
        return [head, *draws]


@dataclass(frozen=True)
class _Scale:
    """Where an assumption has no bounds."""

    there: Callable[[Any], Any]
    back: Callable[[Any], Any]


_AS_IT_IS = _Scale(lambda value: value, lambda value: value)
_LOG = _Scale(np.log, np.exp)
_LOGIT = _Scale(lambda share: np.log(share / (1 - share)), lambda value: 1 / (1 + np.exp(-value)))
_ATANH = _Scale(np.arctanh, np.tanh)


def scale_for(assumption: Assumption, low: float) -> _Scale:
    """The scale of an assumption; as it is where the range begins at a bound, which no other scale could hold."""
    if low <= assumption.low:
        return _AS_IT_IS
    if (assumption.low, assumption.high) == (0, 1):
        return _LOGIT
    if (assumption.low, assumption.high) == (-1, 1):
        return _ATANH
    return _LOG if assumption.low >= 0 else _AS_IT_IS


def drawn_values(
    assumption: Assumption, ends: tuple[float, float], rng: np.random.Generator, count: int
) -> NDArray[np.float64]:
    """Plausible values of one assumption; whole where it counts."""
    scale = scale_for(assumption, ends[0])
    low, high = (float(scale.there(end)) for end in ends)
    values = scale.back(rng.normal((low + high) / 2, (high - low) / 2 / _NINETY, count))
    return np.round(values) if assumption.kind == "count" else np.asarray(values, dtype=float)


def _ranges(aim: Aim, values: Mapping[str, Any]) -> list[tuple[Assumption, float, float]]:
    """Of what is in force: a range of what is stated in another way now has no say."""
    return [each for each in uncertain(aim, "power") if each[0].name != "dropout" and each[0].name in values]


def spread_of(aim: Aim, answer: Answer, rough: bool = False) -> Spread:
    """The distribution of power over the plausible ranges of an aim, at the size of its answer.

    With `rough` of a tenth of the draws.
    """
    design = design_named(aim.design)
    values, _ = values_in_force(design, "power", values_for(aim, answer, "power"))
    stated = _ranges(aim, values)
    ranges = stated or [each for each in supposed(aim, "power", values) if each[0].name != "dropout"]
    if not ranges:
        return _nothing(answer, NO_RANGES)
    count = (DRAWS if isinstance(answer.plan, StatisticPlan) else FEW_DRAWS) // (10 if rough else 1)
    sized = count == DRAWS  # otherwise too few to say how many are enough
    with patience.part(0.0, 0.5 if sized else 1.0):
        draws, power, again = _drawn(design, values, ranges, count)
    if power.size < max(2, (1 - _TOO_RARE) * count):
        return _nothing(answer, HARDLY_ANY)
    target = answer.plan.target
    heights = np.histogram(power, BARS, (0, 1))[0] / power.size
    made = Spread(
        x_label="power, %",
        power=power,
        planned=answer.power,
        target=target,
        mean=float(power.mean()),
        error=float(power.std(ddof=1) / math.sqrt(power.size)),
        chance=float((power >= target).mean()),
        heights=heights,
        enough=_enough(aim, answer, design, values, draws) if sized else "",
        conclusion="",
        details="",
        says="",
        supposed=not stated,
    )
    return _said(made, aim, answer, ranges, again)


def _nothing(answer: Answer, says: str) -> Spread:
    """A picture with nothing but words."""
    target = answer.plan.target
    return Spread("", np.zeros(0), answer.power, target, math.nan, 0.0, math.nan, np.zeros(BARS), "", "", "", says)


def _drawn(
    design: Design, values: Mapping[str, Any], ranges: list[tuple[Assumption, float, float]], count: int
) -> tuple[Columns, NDArray[np.float64], int]:
    """The draws, their powers, and how many were drawn again because the design cannot take them."""
    rng = np.random.default_rng(_SEED)
    draws = {each.name: np.full(count, np.nan) for each, *_ in ranges}
    power = np.full(count, np.nan)
    again = 0
    for _ in range(_MOST_TRIES):
        missing = np.flatnonzero(np.isnan(power))
        if not missing.size:
            break
        for each, low, high in ranges:
            draws[each.name][missing] = drawn_values(each, (low, high), rng, missing.size)
        with patience.part(1 - missing.size / count, 1.0):
            power[missing] = powers(design, values, {name: column[missing] for name, column in draws.items()})
        left = int(np.isnan(power).sum())
        again += left
        if left > _TOO_RARE * missing.size:
            break
    known = ~np.isnan(power)
    return {name: column[known] for name, column in draws.items()}, power[known], again


def _enough(aim: Aim, answer: Answer, design: Design, values: Mapping[str, Any], draws: Columns) -> str:
    """The smallest size at which the chance of the target is `WANTED`, in words."""
    counting = answer.plan.counting
    start = max(counting.step_near(float(answer.total)), counting.lowest)
    with patience.part(0.5, 1.0):
        step = _least_step(stacks(design, values, draws), answer.plan.target, start, counting.highest)
    if step is None:
        return "no size that is looked at"
    per_group = counting.equal_groups > 1
    size = float(x_at(answer.plan, np.array([step]), per_group)[0])
    return f"{count_text(round(size))} {words_of_sizes(aim, answer, per_group)[1]}"


def _least_step(draws: list[Stack], target: float, start: int, highest: int) -> int | None:
    """The first step at which `WANTED` of the draws reach the target.

    A draw that reaches it at one step does so at every later one; hence only those are asked again on which it still
    depends.
    """
    needed = math.ceil(WANTED * sum(each.rows.size for each in draws))
    low, high, step, settled, left = 0, 0, start, 0, 1.0
    while not high or high - low > 1:
        patience.check()
        with patience.part(1 - left, 1 - left / 2):  # about half of the draws are settled by each step
            reached = [each.power_at(step) >= target for each in draws]
        left /= 2
        count = settled + sum(int(each.sum()) for each in reached)
        enough = count >= needed
        draws = [each.some(there == enough) for each, there in zip(draws, reached, strict=True)]
        low, high, settled = (low, step, settled) if enough else (step, high, count)
        if not high and step >= highest // 4:
            return None
        step = (low + high) // 2 if high else step * 2
    return high


def _said(made: Spread, aim: Aim, answer: Answer, ranges: list[tuple[Assumption, float, float]], again: int) -> Spread:
    per_group = answer.plan.counting.equal_groups > 1
    size = f"{count_text(round(size_of(answer, per_group)))} {words_of_sizes(aim, answer, per_group)[1]}"
    target = percent_text(made.target, 0)
    conclusion = f"With {size}, power is at least {target} in {100 * made.chance:.0f} of 100 draws"
    if made.enough:
        conclusion += f"; that chance is {100 * WANTED:.0f} in 100 with {made.enough}"
    details = (
        f"power is {percent_text(made.mean)} on average (assurance; simulation error {100 * made.error:.2f} points)"
    )
    names = listed([Quantity(each, aim).words for each, *_ in ranges])
    details += f", over {names}, drawn independently {count_text(len(made.power))} times, 90% within each range."
    if again:
        details += f" {count_text(again)} draws that the design cannot take were drawn again."
    if made.supposed:
        conclusion = f"{ONLY_SUPPOSED} {conclusion}"
    says = f"{conclusion}; {details}".replace("\u00a0", " ")
    return replace(made, conclusion=f"{conclusion}.", details=details.replace("\u00a0", " "), says=says)


def planned_words(made: Spread) -> str:
    """The power as planned, in words."""
    return f"{power_text(made.planned)} as planned"
