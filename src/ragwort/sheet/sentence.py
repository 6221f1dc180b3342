"""The sentence that a sheet is steered by: `One row a participant, ids like P-001, allocated at random in blocks …`."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.sheet import allocation
from ragwort.sheet.allocation import SheetError
from ragwort.sheet.layout import arms_of, method_of, methods_for
from ragwort.sheet.parts import id_of
from ragwort.sheet.ratios import whole_ratio
from ragwort.study.document.aim import Aim
from ragwort.study.words.naming import cluster_word
from ragwort.study.words.sentence import Piece

Offers = list[tuple[str, str, bool]]
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
    if name in sheet.faults:
        return Piece("value", sheet.drafts.get(name, "")[:30].strip() or "—", name, fault=True)
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
    if name in sheet.faults:
        return sheet.drafts.get(name, "")
    return str(getattr(sheet, name))


def offers(of: Wanted, name: str) -> Offers:
    """The choices of a word: value, label, whether it is shown now."""
    if name == "shown":
        return [(value, words, value == of.aim.sheet.shown) for value, words in SHOWN.items()]
    methods = methods_for(design_named(of.aim.design), of.arms)
    return [(method, allocation.METHODS[method], method == of.method) for method in methods]
