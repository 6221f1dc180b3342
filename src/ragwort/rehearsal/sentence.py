"""The sentence that a rehearsal is steered by: `Rehearse Reaction time 10 000 times with skewed outcomes …`."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from ragwort.designs.assumption import Assumption
from ragwort.rehearsal import edits
from ragwort.rehearsal.departures import DEPARTURES, NONE, RELATED, SHAPE, SIZES, correlated
from ragwort.rehearsal.stage import Planned
from ragwort.rehearsal.words import words_of
from ragwort.rehearsal.worlds import chosen_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.document.pages import World
from ragwort.study.slots.slot import GONE, Offers, Sentence, Slot, aim_in
from ragwort.study.words.numbers import count_text, nudged, value_text, with_unit
from ragwort.study.words.sentence import Piece

_FIRST = {"apart": 1.5, "lost": 0.15, "idle": 0.1, "alike": 1.5, "cv": 0.5}  # where a departure begins


def rehearsal_sentence(aim: Aim, of: Planned, world: World, remark: str) -> Sentence:
    """What is asked of the world in view; below it what came of it, or what is wrong."""
    fault = fault_of(aim, world)
    return Sentence(
        pieces_of(aim, of, world), partial(slot_of_rehearsal, aim_id=aim.id, of=of), fault or remark, bool(fault)
    )


def slot_of_rehearsal(study: Study, name: str, aim_id: str, of: Planned) -> Slot:
    """What can be done to a word of the world in view; `GONE` where its aim is gone."""
    aim = aim_in(study, aim_id)
    if aim is None:
        return GONE
    world, key = chosen_of(aim, of), f"rehearse {aim_id} {name}"
    if name in edits.PLAIN:
        choose = partial(edits.choose, study, aim_id, of, name)
        return Slot(label_of(of, world, name), choose, choices=offers(of, world, name), key=key)
    if name not in words_of(of, world):
        return GONE
    write = partial(edits.type_word, study, aim_id, of, name)
    label, text = label_of(of, world, name), typed_text(aim, of, world, name)
    return Slot(label, write, text, key=key, nudge=lambda steps: write(nudged_text(aim, of, world, name, steps)))


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
        self.words = words_of(of, world)

    def value(self, name: str) -> Piece:
        """A word to type over."""
        holder = self.aim.rehearsing if name in ("times", "seed") else self.world
        text = _said(self.aim, self.of, self.world, name) or self.words[name].empty
        if name in holder.drafts:
            text = holder.drafts[name].short
        return Piece("value", text, name, fault=holder.faulty(name))

    def choice(self, name: str, text: str) -> Piece:
        """A word to choose."""
        return Piece("choice", text, name)

    def asks(self, name: str) -> bool:
        """Whether the world has this departure, or one that cannot be read."""
        return name in self.world.asked or self.world.faulty(name)


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
    if say.world.asked.get("effect") == NONE and not say.world.faulty("effect"):
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
    declared = words_of(of, world)[name].declared
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
    if holder.faulty(name):
        return holder.draft_of(name)
    declared = words_of(of, world)[name].declared
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
    return words.get(name) or words_of(of, world)[name].declared.label


def fault_of(aim: Aim, world: World) -> str:
    """Why the first word that cannot be read cannot be."""
    return aim.rehearsing.first_fault or world.first_fault


def nudged_text(aim: Aim, of: Planned, world: World, name: str, steps: int) -> str:
    """The text of a word some steps up or down from what stands there; from the usual departure where nothing does."""
    declared = words_of(of, world)[name].declared
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
