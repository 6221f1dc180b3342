"""The sentence that a rehearsal is steered by: `Rehearse Reaction time 10 000 times with skewed outcomes …`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ragwort.designs.assumption import Assumption
from ragwort.rehearsal.departures import (
    ALIKE,
    APART,
    CV,
    DEPARTURES,
    HIGH,
    IDLE,
    LOST,
    LOW,
    NONE,
    RELATED,
    SHAPE,
    SIZE,
    SIZES,
    correlated,
)
from ragwort.rehearsal.stage import Planned
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import World
from ragwort.study.words.numbers import count_text, nudged, value_text, with_unit
from ragwort.study.words.sentence import Piece

TIMES = Assumption("times", "Studies", "count", "Sample", "How many studies are made up.", low=1, high=1_000_000)
SEED = Assumption("seed", "Seed", "count", "Sample", "Where the randomness begins.", low=0, high=2**53)
_FIRST = {"apart": 1.5, "lost": 0.15, "idle": 0.1, "alike": 1.5, "cv": 0.5}  # where a departure begins
Offers = list[tuple[str, str, bool]]


@dataclass(frozen=True)
class Slot:
    """A word of the sentence that can be typed over: what it is, and what stands there while nothing departs."""

    declared: Assumption
    empty: str = ""


def slots(of: Planned, world: World) -> dict[str, Slot]:
    """Every word that can be typed over, by its name."""
    found = {
        "times": Slot(TIMES),
        "seed": Slot(SEED),
        "apart": Slot(APART, "equal" if not of.values.get("sd2") else "as planned"),
        "lost": Slot(LOST, "nobody"),
        "idle": Slot(IDLE, "everybody"),
        "effect": Slot(of.rehearsed.primary),
        "alike": Slot(ALIKE, "as planned"),
        "cv": Slot(CV, "as planned"),
        "low": Slot(LOW),
        "high": Slot(HIGH),
    }
    shape = str(world.asked.get("shape", "normal"))
    return {**found, "size": Slot(SIZE[shape])} if shape in SIZE else found


def pieces_of(aim: Aim, of: Planned, world: World) -> list[Piece]:
    """The sentence; what the design cannot have is left out."""
    takes = {each.name for each in DEPARTURES if not each.barred(of.rehearsed)}
    say = _Words(aim, of, world)
    name = aim.name if len(aim.name) <= 40 else f"{aim.name[:38].strip()}…"
    start = [Piece("text", f"Rehearse {name} "), say.value("times"), Piece("text", " times")]
    parts = [part(say) for departure, part in _PARTS if departure in takes]
    for place, part in enumerate(parts):
        before = " with " if place == 0 else " and " if place == len(parts) - 1 else ", "
        start += [Piece("text", before), *part]
    return [*start, Piece("text", "; seed "), say.value("seed"), Piece("text", ".")]


class _Words:
    """Makes the pieces of one world."""

    def __init__(self, aim: Aim, of: Planned, world: World) -> None:
        self.aim, self.of, self.world = aim, of, world
        self.slots = slots(of, world)

    def value(self, name: str) -> Piece:
        """A word to type over."""
        holder = self.aim.rehearsing if name in ("times", "seed") else self.world
        text = _said(self.aim, self.of, self.world, name) or self.slots[name].empty
        if name in holder.faults:
            text = holder.drafts.get(name, "")[:24].strip() or "—"
        return Piece("value", text, name, fault=name in holder.faults)

    def choice(self, name: str, text: str) -> Piece:
        """A word to choose."""
        return Piece("choice", text, name)

    def asks(self, name: str) -> bool:
        """Whether the world has this departure, or one that cannot be read."""
        return name in self.world.asked or name in self.world.faults


def _shape(say: _Words) -> list[Piece]:
    shape = str(say.world.asked.get("shape", "normal"))
    words = {choice.value: choice.label for choice in SHAPE.choices}[shape]
    if shape in ("bounded", "floor", "ceiling"):
        pieces = [Piece("text", "outcomes "), say.choice("shape", words)]
    else:
        pieces = [say.choice("shape", words), Piece("text", " outcomes")]
    if shape == "bounded":
        return [*pieces, Piece("text", " from "), say.value("low"), Piece("text", " to "), say.value("high"),
                Piece("text", " SDs around the mean")]  # fmt: skip
    said = {
        "lognormal": (" of skewness ", ""),
        "gamma": (" of skewness ", ""),
        "t": (" (t with ", " degrees of freedom)"),
        "floor": (" ", " SDs below the mean"),
        "ceiling": (" ", " SDs above the mean"),
    }.get(shape)
    if said is None:
        return pieces
    after = [Piece("text", said[1])] if said[1] else []
    return [*pieces, Piece("text", said[0]), say.value("size"), *after]


def _apart(say: _Words) -> list[Piece]:
    after = [Piece("text", " times apart")] if say.asks("apart") else []
    return [Piece("text", "SDs "), say.value("apart"), *after]


def _lost(say: _Words) -> list[Piece]:
    pieces = [say.value("lost"), Piece("text", " lost")]
    if not say.asks("lost"):
        return pieces
    related = str(say.world.asked.get("related", "random"))
    words = {choice.value: choice.label for choice in RELATED.choices}[related]
    return [*pieces, Piece("text", " "), say.choice("related", words)]


def _idle(say: _Words) -> list[Piece]:
    return [say.value("idle"), Piece("text", " taking no part" if say.asks("idle") else " taking part")]


def _effect(say: _Words) -> list[Piece]:
    label = say.of.rehearsed.primary.label
    if say.world.asked.get("effect") == NONE and "effect" not in say.world.faults:
        return [say.value("effect")]
    before = "a true " if say.asks("effect") else "the planned "
    return [Piece("text", f"{before}{label[:1].lower() + label[1:]} of "), say.value("effect")]


def _alike(say: _Words) -> list[Piece]:
    name = "ICC" if correlated(say.of.values) == "icc" else "correlation"
    after = [Piece("text", " times as large")] if say.asks("alike") else []
    return [Piece("text", f"the {name} "), say.value("alike"), *after]


def _cv(say: _Words) -> list[Piece]:
    before = "cluster sizes with a CV of " if say.asks("cv") else "cluster sizes "
    return [Piece("text", before), say.value("cv")]


def _analysis(say: _Words) -> list[Piece]:
    way = str(say.world.asked.get("analysis", ""))
    words = say.of.answer.plan.wrong_ways.get(way, "the planned analysis")
    return [say.choice("analysis", words)]


_PARTS: tuple[tuple[str, Callable[[_Words], list[Piece]]], ...] = (
    ("shape", _shape),
    ("apart", _apart),
    ("lost", _lost),
    ("idle", _idle),
    ("alike", _alike),
    ("cv", _cv),
    ("effect", _effect),
    ("analysis", _analysis),
)


def _said(aim: Aim, of: Planned, world: World, name: str) -> str:
    """A word as it stands in the sentence; empty where nothing departs."""
    declared = slots(of, world)[name].declared
    if name in ("times", "seed"):
        return count_text(getattr(aim.rehearsing, name)) if name == "times" else str(aim.rehearsing.seed)
    if name == "effect":
        return _said_effect(aim, of, world)
    value = world.asked.get(name, declared.default if name in ("low", "high") else None)
    if name == "size" and value is None:
        value = SIZES[str(world.asked.get("shape"))]
    return "" if value is None else with_unit(declared, value, "")


def _said_effect(aim: Aim, of: Planned, world: World) -> str:
    value = world.asked.get("effect")
    if value == NONE:
        return of.rehearsed.nothing_words
    shown = of.answer.effect[of.answer.primary] if value is None else value
    return with_unit(of.rehearsed.primary, shown, aim.words.unit, digits=4)


def typed_text(aim: Aim, of: Planned, world: World, name: str) -> str:
    """What stands in the editor of a word."""
    holder = aim.rehearsing if name in ("times", "seed") else world
    if name in holder.faults:
        return holder.drafts.get(name, "")
    declared = slots(of, world)[name].declared
    value = getattr(aim.rehearsing, name) if name in ("times", "seed") else world.asked.get(name)
    if value == NONE:
        return "none"
    if value is None and name == "effect":
        value = float(f"{of.answer.effect[of.answer.primary]:.4g}")
    return "" if value is None else value_text(declared, value)


def offers(of: Planned, world: World, name: str) -> Offers:
    """The choices of a word: value, label, whether it is shown now."""
    if name == "shape":
        now = world.asked.get("shape", "normal")
        bounds = "bounds" in of.answer.plan.traits
        return [(c.value, c.label, c.value == now) for c in SHAPE.choices if bounds or c.value != "bounded"]
    if name == "related":
        now = world.asked.get("related", "random")
        return [(choice.value, choice.label, choice.value == now) for choice in RELATED.choices]
    now = world.asked.get("analysis", "")
    ways = {"": "the planned analysis", **of.answer.plan.wrong_ways}
    return [(way, words, way == now) for way, words in ways.items()]


def label_of(of: Planned, world: World, name: str) -> str:
    """What a word is about, for those who do not see it in its sentence."""
    words = {"shape": SHAPE.label, "related": RELATED.label, "analysis": "Analysis", "effect": "True effect"}
    return words.get(name) or slots(of, world)[name].declared.label


def fault_of(aim: Aim, world: World) -> str:
    """Why the first word that cannot be read cannot be."""
    return next(iter([*aim.rehearsing.faults.values(), *world.faults.values()]), "")


def nudged_text(aim: Aim, of: Planned, world: World, name: str, steps: int) -> str:
    """The text of a word some steps up or down from what stands there; from the usual departure where nothing does."""
    declared = slots(of, world)[name].declared
    if name in ("times", "seed"):
        return value_text(declared, _moved(declared, getattr(aim.rehearsing, name), steps))
    value = world.asked.get(name)
    if name == "effect" and not isinstance(value, int | float):
        value = float(f"{of.answer.effect[of.answer.primary]:.4g}")
    start = _FIRST.get(name, SIZES.get(str(world.asked.get("shape")), declared.default))
    return value_text(declared, start if value is None else _moved(declared, value, steps))


def _moved(declared: Assumption, value: Any, steps: int) -> Any:
    """A value some steps away; one that cannot be stays as it is."""
    if declared.name == "times":
        return int(min(max(round(value * 10 ** (steps / 10), -2), 100), 1_000_000))
    moved = nudged(declared, float(value), steps)
    return moved if declared.allows(moved) else value
