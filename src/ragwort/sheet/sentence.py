"""The sentence that a sheet is steered by: `One row a participant, ids like P-001, allocated at random in blocks …`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from ragwort.designs import Answer, design_named
from ragwort.sheet import allocation, edits
from ragwort.sheet.allocation import SheetError
from ragwort.sheet.layout import arms_of, method_of, methods_for
from ragwort.sheet.parts import id_of
from ragwort.sheet.ratios import whole_ratio
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.slots.slot import Offers, Sentence, Slot
from ragwort.study.words.naming import cluster_word
from ragwort.study.words.sentence import Piece

SHOWN = {"": "left out", "codes": "as codes", "names": "by name"}
LABELS = {
    "pattern": "Ids: {number}, {centre}, {cluster}, {stratum}",
    "method": "How people are allocated",
    "blocks": "Sizes of blocks",
    "strata": "What makes the strata",
    "seed": "Seed",
    "shown": "The allocation in the sheet",
    "allowed": "Allowed range of the outcome",
    "columns": "Further columns",
}
_IN_BLOCKS = ("blocks", "stratified", "clusters")


@dataclass(frozen=True)
class Wanted:
    """What the sentence is about."""

    aim: Aim  # as planned
    arms: tuple[str, ...]
    method: allocation.Method
    parts: tuple[int, ...]


def wanted_of(aim: Aim, answer: Answer) -> Wanted:
    """What the sheet of an aim asks."""
    design = design_named(aim.design)
    arms = arms_of(aim, design, answer)
    parts = (1, 1) if design.rows == "pair" else whole_ratio((answer.enrol or answer.groups) if arms else (1,))
    chosen = aim.sheet.method if aim.sheet.method in allocation.METHODS else ""
    method = method_of(aim.changed(sheet=aim.sheet.changed(method=chosen)), design, arms)
    return Wanted(aim, arms, method, parts)


def sheet_sentence(of: Wanted, remark: str, fault: str) -> Sentence:
    """What is asked for; below it what comes of it, or what is wrong."""
    return Sentence(pieces_of(of), partial(slot_of_sheet, of=of), fault or remark, bool(fault))


def slot_of_sheet(study: Study, name: str, of: Wanted) -> Slot:
    """What can be done to a word: the method and what is shown are chosen, the rest is typed."""
    key = f"sheet {of.aim.id} {name}"
    if name in ("method", "shown"):
        choices = offers(of, name)
        return Slot(LABELS[name], partial(edits.choose, study, of.aim.id, name), choices=choices, key=key)
    write = partial(edits.type_word, study, of.aim.id, name)
    return Slot(LABELS[name], write, typed_text(of.aim, name), key=key, nudge=_nudge(study, of, name))


def _nudge(study: Study, of: Wanted, name: str) -> Callable[[int], Edit] | None:
    """Of the seed: one up or down."""
    if name != "seed":
        return None
    return lambda steps: edits.type_word(study, of.aim.id, name, f"{max(of.aim.sheet.seed + steps, 0)}")


def pieces_of(of: Wanted) -> list[Piece]:
    """The sentence."""
    pieces = [Piece("text", f"One row {_row_words(of.aim)}, ids like "), _value(of, "pattern")]
    pieces += _allocation(of)
    if _measures(of.aim):
        pieces += [Piece("text", "; outcomes "), _value(of, "allowed")]
    return [*pieces, Piece("text", "; further columns "), _value(of, "columns"), Piece("text", ".")]


def _row_words(aim: Aim) -> str:
    design = design_named(aim.design)
    one = f"{'an' if aim.words.one[:1].lower() in 'aeiou' else 'a'} {aim.words.one}"
    if design.rows == "visit":
        return f"for each measurement of {one}"
    if design.rows == "member":
        return f"for {one} of one of the {cluster_word(aim) or 'clusters'}"
    return f"for {one}"


def _allocation(of: Wanted) -> list[Piece]:
    if not of.arms:
        return []
    pieces = [Piece("text", "; "), Piece("choice", allocation.METHODS[of.method], "method")]
    if of.method in _IN_BLOCKS:
        pieces += [Piece("text", " of "), _value(of, "blocks")]
    if of.method in ("stratified", "minimisation"):
        pieces += [Piece("text", ", strata by "), _value(of, "strata")]
    if of.method == "none":
        return pieces
    pieces += [Piece("text", ", seed "), _value(of, "seed"), Piece("text", ", the allocation ")]
    return [*pieces, Piece("choice", SHOWN.get(of.aim.sheet.shown, SHOWN[""]), "shown")]


def _measures(aim: Aim) -> bool:
    design = design_named(aim.design)
    return "proportion" not in design.primary and design.primary != "w"


def _value(of: Wanted, name: str) -> Piece:
    sheet = of.aim.sheet
    if name in sheet.drafts:
        return Piece("value", sheet.drafts[name].short, name, fault=True)
    text = _first_id(of.aim) if name == "pattern" else typed_text(of.aim, name)
    return Piece("value", _short(text) or _empty(of, name), name, example=not text)


def _first_id(aim: Aim) -> str:
    """What the pattern makes for the first; itself where it makes nothing."""
    try:
        return id_of(aim.sheet.pattern, 1, {"centre": 1, "cluster": 1, "stratum": 1})
    except SheetError:
        return aim.sheet.pattern


def _short(text: str) -> str:
    return text if len(text) <= 44 else f"{text[:42].strip()}…"


def _empty(of: Wanted, name: str) -> str:
    """What stands there while nothing was typed."""
    if name == "blocks":
        return " or ".join(str(each) for each in allocation.usual_blocks(of.parts))
    return {"strata": "what?", "allowed": "any number", "columns": "none", "pattern": "—"}[name]


def typed_text(aim: Aim, name: str) -> str:
    """What stands in the editor of a word."""
    sheet = aim.sheet
    return sheet.draft_of(name) if sheet.faulty(name) else str(getattr(sheet, name))


def offers(of: Wanted, name: str) -> Offers:
    """The choices of a word: value, label, whether it is shown now."""
    if name == "shown":
        return [(value, words, value == of.aim.sheet.shown) for value, words in SHOWN.items()]
    methods = methods_for(design_named(of.aim.design), of.arms)
    return [(method, allocation.METHODS[method], method == of.method) for method in methods]
