"""The sentence that a rehearsal is steered by: `Rehearse Reaction time 10 000 times with skewed outcomes …`."""

from __future__ import annotations

from functools import partial
from typing import Any

from ragwort.designs.assumption import Assumption
from ragwort.rehearsal import edits
from ragwort.rehearsal.departures import Departure, Say, Word, departure_of, takes
from ragwort.rehearsal.edits import COUNTS, SEED, TIMES
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.worlds import chosen_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.document.pages import World
from ragwort.study.slots.slot import GONE, Offers, Sentence, Slot, aim_in
from ragwort.study.words.numbers import count_text, nudged, value_text
from ragwort.study.words.sentence import Piece


def rehearsal_sentence(aim: Aim, of: Planned, world: World, remark: str) -> Sentence:
    """What is asked of the world in view; below it what came of it, or what is wrong."""
    fault = aim.rehearsing.first_fault or world.first_fault
    slot = partial(slot_of_rehearsal, aim_id=aim.id, of=of)
    return Sentence(pieces_of(aim, of, world), slot, fault or remark, bool(fault))


def slot_of_rehearsal(study: Study, name: str, aim_id: str, of: Planned) -> Slot:
    """What can be done to a word of the world in view; `GONE` where its aim is gone, or its departure."""
    aim = aim_in(study, aim_id)
    if aim is None:
        return GONE
    world, key = chosen_of(aim, of), f"rehearse {aim_id} {name}"
    write, departure = partial(edits.type_word, study, aim_id, of, name), departure_of(name, of)
    if name in COUNTS:
        nudge = partial(_moved_count, study, aim, name)
        return Slot(COUNTS[name].label, write, typed_text(aim, of, world, name), key=key, nudge=nudge)
    word = departure.words(of, world.asked).get(name) if departure is not None else None
    if word is None:
        return GONE
    if word.choices is not None:
        choose = partial(edits.choose, study, aim_id, of, name)
        return Slot(word.declared.label, choose, choices=offers(of, world, name), key=key)
    label = "True effect" if name == "effect" else word.declared.label
    text = typed_text(aim, of, world, name)
    return Slot(label, write, text, key=key, nudge=lambda steps: write(nudged_text(of, world, name, steps)))


def pieces_of(aim: Aim, of: Planned, world: World) -> list[Piece]:
    """The sentence; what the design cannot have is left out."""
    name = aim.name if len(aim.name) <= 40 else f"{aim.name[:38].strip()}…"
    start = [Piece("text", f"Rehearse {name} "), _count(aim, TIMES.name), Piece("text", " times")]
    parts = [each.pieces(Say(each, of, world)) for each in takes(of)]
    for place, part in enumerate(parts):
        before = " with " if place == 0 else " and " if place == len(parts) - 1 else ", "
        start += [Piece("text", before), *part]
    return [*start, Piece("text", "; seed "), _count(aim, SEED.name), Piece("text", ".")]


def _count(aim: Aim, name: str) -> Piece:
    """How often, or from which seed."""
    draft, value = aim.rehearsing.drafts.get(name), aim.rehearsing.count(name)
    text = count_text(value) if name == TIMES.name else f"{value}"
    return Piece("value", draft.short if draft is not None else text, name, fault=draft is not None)


def typed_text(aim: Aim, of: Planned, world: World, name: str) -> str:
    """What stands in the editor of a word."""
    holder = aim.rehearsing if name in COUNTS else world
    if holder.faulty(name):
        return holder.draft_of(name)
    if name in COUNTS:
        return value_text(COUNTS[name], aim.rehearsing.count(name))
    departure, word = _of(of, world, name)
    return departure.typed(word, world.asked.get(name), of)


def _of(of: Planned, world: World, name: str) -> tuple[Departure, Word]:
    departure = departure_of(name, of)
    assert departure is not None, "a word of the sentence belongs to a departure"
    return departure, departure.words(of, world.asked)[name]


def offers(of: Planned, world: World, name: str) -> Offers:
    """The choices of a word: value, label, whether it is shown now."""
    _, word = _of(of, world, name)
    choices = dict(word.choices or {})
    now = world.asked.get(name, next(iter(choices), ""))
    return [(value, words, value == now) for value, words in choices.items()]


def nudged_text(of: Planned, world: World, name: str, steps: int) -> str:
    """The text of a word some steps up or down from what stands there; from the usual departure where nothing does."""
    _, word = _of(of, world, name)
    value = world.asked.get(name)
    if value is None and word.planned is None:
        return value_text(word.declared, word.first)
    if not isinstance(value, int | float):
        value = float(f"{word.planned:.4g}")
    return value_text(word.declared, _moved(word.declared, value, steps))


def _moved(declared: Assumption, value: Any, steps: int) -> Any:
    """A value some steps away; one that cannot be stays as it is."""
    moved = nudged(declared, float(value), steps)
    return moved if declared.allows(moved) else value


def _moved_count(study: Study, aim: Aim, name: str, steps: int) -> Any:
    """More studies or fewer by tenths of a power of ten; another seed."""
    value = aim.rehearsing.count(name)
    if name == TIMES.name:
        moved = int(min(max(round(value * 10 ** (steps / 10), -2), 100), TIMES.high))
    else:
        moved = _moved(SEED, value, steps)
    return edits.set_count(study, aim.id, name, moved)
