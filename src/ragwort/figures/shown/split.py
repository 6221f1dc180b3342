"""How participants are split between two groups: what a split costs in people, in power or in money."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.base import patience
from ragwort.designs import Answer, CountsPlan, design_named
from ragwort.figures.shown.shown import Moved, Pointer, Reading, Seen, SeenLine, Shown, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Steer
from ragwort.study.results.outcome import Problem, Settled, to_enrol, values_with_defaults
from ragwort.study.results.whatif import otherwise, values_for
from ragwort.study.words.found import power_text
from ragwort.study.words.naming import names_of
from ragwort.study.words.numbers import count_text, with_unit
from ragwort.study.words.sentence import people

SPLIT = "Split"
_DOUBLINGS = 0.1  # that an arrow key moves a split
RATIO = "ratio"
ASKED = ("n", "power", "cost")  # what can run up
WORDS = {"n": "sample size", "power": "power", "cost": "cost"}
_REACH = 2.0  # doublings of one group against the other, at either end
_APART = 0.1  # doublings between two splits
_APART_ROUGH = 1.0
_APART_COUNTS = 0.5  # of a test whose power is a sum over counts
_BELOW = 2.5  # times as much room below what is found, for a name there
COSTS = (1.0, 1.0)  # of one participant of each group, until they are typed


@dataclass(frozen=True)
class Part:
    """One split. `y` is NaN where nothing is found, and `words` say why."""

    x: float  # doublings of group 2 against group 1
    y: float
    groups: tuple[int, ...]
    words: str


@dataclass(frozen=True)
class Split(Shown):
    """What the picture shows: `asked` over splits, the design's own and the best."""

    moves: ClassVar[str] = "x"
    asked: str
    x_label: str
    y_words: str
    ends: tuple[float, float]  # of the x axis
    y_ends: tuple[float, float]
    parts: tuple[Part, ...]
    point: tuple[float, float]
    point_label: str
    best: Part | None
    best_label: str
    costs: tuple[float, ...]
    held: str  # what stays the same: `80% power`, `128 staff in all`
    basis: str  # what the line depends on: while it is equal, it need not be computed anew
    says: str
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return self.y_words

    @property
    @override
    def handle(self) -> tuple[float, float] | None:
        return self.point if math.isfinite(self.point[1]) else None

    @override
    def moved_to(self, aim: Aim, answer: Answer, to: tuple[float, float]) -> Moved:
        return _resplit(aim, answer, to[0])

    @override
    def moved_by(self, aim: Aim, answer: Answer, by: tuple[int, int]) -> Moved:
        return _resplit(aim, answer, place_of(ratio_at(self.point[0])) + by[0] * _DOUBLINGS)

    @override
    def seen(self) -> Seen:
        return Seen([SeenLine(self.y_label, *self.line)])

    @property
    def line(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """The parts as x and y."""
        return np.array([part.x for part in self.parts]), np.array([part.y for part in self.parts])

    @override
    def frame(self) -> tuple[object, ...]:
        return ("split", self.ends, self.y_ends)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """The nearest split."""
        if not self.ends[0] <= at.x <= self.ends[1]:
            return None
        part = min(self.parts, key=lambda each: abs(each.x - at.x))
        there = math.isfinite(part.y)
        return Reading(part.x, part.y if there else at.y, part.words if there else f"{_ratio(part.x)}: {part.words}")

    @override
    def walk(self) -> list[Reading]:
        return [
            Reading(part.x, part.y if math.isfinite(part.y) else self.y_ends[0], f"{_ratio(part.x)}: {part.words}")
            for part in self.parts
        ]

    @override
    def rows(self) -> list[list[object]]:
        found: list[list[object]] = [["group 2 for each of group 1", "group 1", "group 2", self.y_words, "in words"]]
        for part in self.parts:
            groups = part.groups or ("", "")
            y = "" if math.isnan(part.y) else part.y
            found.append([ratio_at(part.x), *groups, y, part.words])
        return found


def can_be_split(answer: Answer) -> bool:
    """Whether two groups are in a ratio that the designer chooses."""
    return answer.plan.has_test and any(
        assumption.name == RATIO for assumption in design_named(answer.design).assumptions
    )


def ratio_at(x: float) -> float:
    """A place on the axis as a ratio that somebody would type: steps of a twentieth, or two digits under one."""
    ratio = 2.0**x
    return round(ratio * 20) / 20 if ratio >= 0.975 else float(f"{ratio:.2g}")


def place_of(ratio: float) -> float:
    """Where a ratio stands on the axis."""
    return math.log2(ratio)


def _ratio(x: float) -> str:
    return f"1 : {ratio_at(x):g}"


@dataclass(frozen=True)
class _Drawn:
    """What the picture is worked out from."""

    aim: Aim
    answer: Answer
    asked: str
    values: Mapping[str, Any]
    costs: tuple[float, ...]
    rough: bool = False

    @property
    def find(self) -> str:
        """What is asked of the design."""
        return "power" if self.asked == "power" else "n"

    def at(self, x: float) -> Part:
        """The split at a place of the axis."""
        return self.part(x, otherwise(self.aim, self.find, self.values, **{RATIO: ratio_at(x)}))

    def part(self, x: float, outcome: Settled) -> Part:
        """The split of an outcome."""
        if isinstance(outcome, Problem):
            return Part(x, math.nan, (), outcome.message)
        groups = outcome.enrol or outcome.groups
        y = {"n": float(to_enrol(outcome)), "power": 100 * outcome.power, "cost": self.cost(groups)}[self.asked]
        return Part(x, y, groups, f"{self.words(y)} ({_groups(groups)})")

    def cost(self, groups: tuple[int, ...]) -> float:
        """What participants of both groups cost."""
        return float(sum(cost * size for cost, size in zip(self.costs, groups, strict=True)))

    def words(self, y: float) -> str:
        """What was found, in words."""
        if self.asked == "power":
            return power_text(y / 100)
        return people(self.aim, round(y)) if self.asked == "n" else f"cost {_amount(y)}"


def _groups(groups: tuple[int, ...]) -> str:
    return " + ".join(map(count_text, groups))


def _amount(value: float) -> str:
    return count_text(round(value)) if value >= 1000 else f"{value:.6g}"


def asked_of(steer: Steer, answer: Answer) -> str:
    """What runs up: as asked, else what the aim asks for itself."""
    return steer.y if steer.y in ASKED else ("n" if answer.find == "n" else "power")


def split_of(aim: Aim, answer: Answer, kept: Split | None = None, rough: bool = False) -> Split:
    """The picture of an aim with its answer; `kept` is the one shown now, whose axes stay where they can.

    With `rough` at few splits.
    """
    steer = aim.steer(SPLIT)
    costs = tuple(steer.costs.get(name, usual) for name, usual in zip(("cost_1", "cost_2"), COSTS, strict=True))
    asked = asked_of(steer, answer)
    drawn = _Drawn(aim, answer, asked, _values(aim, answer, asked), costs, rough)
    own = own_ratio(aim, answer)
    ends = _ends(place_of(own))
    basis = repr(
        (rough, aim.design, asked, costs, ends, sorted((k, repr(v)) for k, v in drawn.values.items() if k != RATIO))
    )
    parts = kept.parts if kept is not None and kept.basis == basis else _parts(drawn, ends)
    here = drawn.part(place_of(own), answer if answer.find == drawn.find else _at_ratio(drawn, own))
    best = _best(asked, parts)
    held = f"{_power(drawn)} power" if asked != "power" else f"{people(aim, to_enrol(answer))} in all"
    y_ends = _y_ends(asked, here.y, parts)
    made = Split(
        asked=asked,
        x_label=" : ".join(names_of(aim, "groups")[:2]),
        y_words=_axis(aim, answer, asked),
        ends=ends,
        y_ends=kept.y_ends if kept is not None and kept.basis == basis and _within(here.y, kept.y_ends) else y_ends,
        parts=parts,
        point=(here.x, here.y),
        point_label=here.words,
        best=best,
        best_label="" if best is None else f"{_superlative(asked)}: {best.words}",
        costs=costs,
        held=held,
        basis=basis,
        says="",
    )
    return replace(made, says=_says(made))


def _at_ratio(drawn: _Drawn, ratio: float) -> Settled:
    """What is found at a ratio as it stands."""
    return otherwise(drawn.aim, drawn.find, drawn.values, **{RATIO: ratio})


def own_ratio(aim: Aim, answer: Answer) -> float:
    """The aim's own: as it is given, or of the sizes that are given by group."""
    if answer.find != "n" and sizes_by_group(aim):
        return answer.groups[1] / answer.groups[0]
    return float(values_with_defaults(aim)[RATIO])


def sizes_by_group(aim: Aim) -> bool:
    """Whether the aim has a size for each group, so that the ratio follows from them."""
    names = design_named(aim.design).sizes[-1].names
    return len(names) > 1 and all(name in aim.entries for name in names)


def _values(aim: Aim, answer: Answer, asked: str) -> dict[str, Any]:
    """The values under which splits are asked for: the power is held, or the number of participants."""
    find = "power" if asked == "power" else "n"
    values = values_for(aim, answer, find)
    if find == "power":
        sizes = {name for way in design_named(aim.design).sizes for name in way.names}
        return {**{name: value for name, value in values.items() if name not in sizes}, "n": answer.total}
    return {**values, "power": answer.power} if answer.find == "power" else values


def _power(drawn: _Drawn) -> str:
    value = float(drawn.values.get("power", drawn.answer.plan.target))
    return with_unit(design_named(drawn.aim.design).assumption("power"), value, "", digits=4)


def _ends(own: float) -> tuple[float, float]:
    """Of the axis: whole doublings, the aim's own ratio among them."""
    return min(-_REACH, math.floor(own - 1e-9)), max(_REACH, math.ceil(own + 1e-9))


def _parts(drawn: _Drawn, ends: tuple[float, float]) -> tuple[Part, ...]:
    apart = _APART_ROUGH if drawn.rough else _APART_COUNTS if isinstance(drawn.answer.plan, CountsPlan) else _APART
    places = np.linspace(*ends, round((ends[1] - ends[0]) / apart) + 1)
    found = []
    for done, x in enumerate(places):
        patience.report(done / len(places))
        found.append(drawn.at(place_of(ratio_at(float(x)))))
    return tuple(found)


def _best(asked: str, parts: tuple[Part, ...]) -> Part | None:
    """The split with the fewest participants, the most power or the least cost; of equals the most even one."""
    known = [part for part in parts if math.isfinite(part.y)]
    sign = -1 if asked == "power" else 1
    return min(known, key=lambda part: (round(sign * part.y, 9), abs(part.x)), default=None)


def _superlative(asked: str) -> str:
    return {"n": "fewest", "power": "most", "cost": "cheapest"}[asked]


def _within(y: float, ends: tuple[float, float]) -> bool:
    return ends[0] <= y <= ends[1]


def _y_ends(asked: str, own: float, parts: tuple[Part, ...]) -> tuple[float, float]:
    """Of the y axis: close around what is found, and not beyond what power can be."""
    known = [y for y in (own, *(part.y for part in parts)) if math.isfinite(y)]
    if not known:
        return 0.0, 1.0
    low, high = min(known), max(known)
    room = 0.1 * (high - low) or 0.1 * abs(high) or 1.0
    return max(low - _BELOW * room, 0.0), min(high + room, 104.0) if asked == "power" else high + room


def _axis(aim: Aim, answer: Answer, asked: str) -> str:
    if asked == "n":
        return f"{aim.words.many} to be recruited" if answer.enrol else f"total {aim.words.many}"
    return {"power": "power, %", "cost": "cost"}[asked]


def _says(made: Split) -> str:
    text = f"With {made.held}: {made.point_label or 'nothing is found at this split'}"
    if made.best is not None:
        text += f"; {made.best_label}"
    return f"{text}.".replace("\u00a0", " ")


def _resplit(aim: Aim, answer: Answer, x: float) -> Moved:
    """Another ratio; where sizes are given by group, others that add up to the same."""
    ratio = ratio_at(x)
    if aim.find == "n" or not sizes_by_group(aim):
        return Moved({RATIO: ratio})
    first = round(answer.total / (1 + ratio))
    names = design_named(aim.design).sizes[-1].names
    return Moved(dict(zip(names, (first, answer.total - first), strict=True)))
