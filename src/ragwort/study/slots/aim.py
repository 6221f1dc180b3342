"""The sentence of an aim, as it stands on the Bench."""

from __future__ import annotations

from functools import partial
from typing import Any

from ragwort.designs import Answer, design_named
from ragwort.designs.looks import FRACTIONS
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Halted, Outcome, Problem, finds_of, value_in_force
from ragwort.study.slots.slot import GONE, Offers, Sentence, Slot, aim_in
from ragwort.study.words.naming import label_of, name_at, namings_of
from ragwort.study.words.numbers import nudged, value_text
from ragwort.study.words.sentence import remarks, sentence_of


def aim_sentence(aim: Aim, outcome: Outcome) -> Sentence:
    """What the aim asks and finds; below it what a reader must know, or what is wrong."""
    remark = remarks(aim, outcome) if isinstance(outcome, Answer) else outcome.message
    slot = partial(slot_of_aim, aim_id=aim.id)
    return Sentence(sentence_of(aim, outcome), slot, remark, isinstance(outcome, Problem | Halted))


def slot_of_aim(study: Study, name: str, aim_id: str) -> Slot:
    """What can be done to an assumption, or to a name (`groups.0`), of an aim; `GONE` where it is gone."""
    aim = aim_in(study, aim_id)
    if aim is None:
        return GONE
    if "." in name:
        return _name(study, aim, name)
    known = any(name == each.name for each in design_named(aim.design).assumptions)
    return _assumption(study, aim, name) if known else GONE


def _name(study: Study, aim: Aim, name: str) -> Slot:
    key, _, index = name.partition(".")
    at = int(index)
    naming = next((each for each in namings_of(aim) if each.key == key and at < len(each.stand_ins)), None)
    label = f"Name of {naming.stand_ins[at] if naming else name}"
    write = partial(edits.rename, study, aim.id, key, at)
    return Slot(label, write, name_at(aim, key, at), key=edits.typing(aim.id, name))


def _assumption(study: Study, aim: Aim, name: str) -> Slot:
    design, entry = design_named(aim.design), aim.entry(name)
    assumption, value = design.assumption(name), value_in_force(aim, name)
    if value is None:
        value = design.default_choice(name, aim.values())
    write = partial(edits.type_value, study, aim.id, name)
    shown = entry.terms or ("" if value is None else value_text(assumption, value))
    return Slot(
        label=label_of(assumption, aim),
        write=partial(edits.type_looks, study, aim.id) if name == FRACTIONS.name else write,
        text=entry.draft if entry.fault else shown,
        choices=[(each.label, each.label, assumption.value_of(each) == value) for each in assumption.choices],
        key=edits.typing(aim.id, name),
        nudge=partial(_moved, study, aim, name, value) if _is_number(value) else None,
        finds=[] if assumption.chosen else _finds(aim),
        find=partial(edits.move_flower, study, aim.id),
        confirm=partial(edits.confirm, study, aim.id, name),
    )


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _moved(study: Study, aim: Aim, name: str, value: float, steps: int) -> Edit:
    assumption = design_named(aim.design).assumption(name)
    return edits.set_value(study, aim.id, name, nudged(assumption, value, steps))


def _finds(aim: Aim) -> Offers:
    """What can be found instead."""
    design = design_named(aim.design)
    return [
        (find, label_of(design.assumption(design.unknown_of(find, aim.values())), aim), find == aim.find)
        for find in finds_of(aim)
    ]
