"""The sentence that asks for a grid: what each row finds, what differs from row to row."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import partial

from ragwort.designs import design_named
from ragwort.designs.assumption import Assumption
from ragwort.figures.scales.quantity import Quantity, Unknown
from ragwort.grid import edits
from ragwort.grid.combinations import offered, unknown_of, varied_of
from ragwort.grid.reading import FromFile
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Varied
from ragwort.study.results.outcome import Outcome, finds_of, value_in_force
from ragwort.study.slots.slot import GONE, Offers, Sentence, Slot, aim_in
from ragwort.study.words.lists import said, several
from ragwort.study.words.numbers import NumberError, count_text, unit_text
from ragwort.study.words.sentence import Piece

_STEP = re.compile(r"(.+?)(\s+(?:by|in)\s.+)", re.IGNORECASE)  # the unit stands before the step: 8 to 16 ms by 2
CHOOSE = "choose what differs"
FIND, NAME, VALUES, COLUMN = "find", "name", "values", "column"  # words; with a place or a name: name_0, column_sd
_LABELS = {
    FIND: "What each row finds",
    NAME: "What differs",
    VALUES: "Its values",
    COLUMN: "Which column holds it",
}


def grid_sentence(aim: Aim, outcome: Outcome, remark: str) -> Sentence:
    """What the aim's grid asks; below it how many combinations that makes, or what is wrong."""
    fault = fault_of(aim)
    return Sentence(pieces_of(aim), partial(slot_of_grid, aim_id=aim.id, outcome=outcome), fault or remark, bool(fault))


def slot_of_grid(study: Study, name: str, aim_id: str, outcome: Outcome) -> Slot:
    """What can be done to a word of an aim's grid; `GONE` where it is gone."""
    aim = aim_in(study, aim_id)
    word, _, at = name.partition("_")
    if aim is None:
        return GONE
    if word == FIND:
        return _find_slot(study, aim)
    place = int(at)
    if word == NAME:
        choose = partial(_chosen, study, aim, place)
        return Slot(_LABELS[NAME], choose, choices=names(aim, outcome, place))
    if place >= len(varied_of(aim)):
        return GONE
    write = partial(edits.type_values, study, aim_id, place)
    return Slot(_LABELS[VALUES], write, typed_text(varied_of(aim)[place]), key=f"grid {aim_id} {place}")


def _find_slot(study: Study, aim: Aim) -> Slot:
    return Slot(_LABELS[FIND], finds=finds(aim), find=partial(edits.choose_find, study, aim.id))


def _chosen(study: Study, aim: Aim, place: int, name: str) -> Edit:
    return vary(study, aim, place, name) if name else edits.leave_out(study, aim.id, place)


def vary(study: Study, aim: Aim, place: int, name: str) -> Edit:
    """Vary an assumption at a place of the sentence; nothing where the aim's design has no such assumption."""
    design = design_named(aim.design)
    if not any(each.name == name for each in design.assumptions):
        return Edit("", study)  # the menu was opened for an aim of another design
    return edits.vary(study, aim.id, place, name, value_now(aim, design.assumption(name)))


def file_sentence(aim: Aim, found: FromFile, remark: str, match: Callable[[str, str], None]) -> Sentence:
    """What is asked of the rows of a file; `match` takes which column holds an assumption."""

    def slot(study: Study, name: str) -> Slot:
        word, _, which = name.partition("_")
        if word == FIND:
            return _find_slot(study, aim)
        return Slot(_LABELS[COLUMN], partial(_matched, study, match, which), choices=columns_for(found, which))

    return Sentence(pieces_of_file(aim, found), slot, remark)


def _matched(study: Study, match: Callable[[str, str], None], name: str, heading: str) -> Edit:
    """Which column holds what is not the study's, but of the file in view."""
    match(name, heading)
    return Edit("", study)


def pieces_of(aim: Aim) -> list[Piece]:
    """The sentence: `Find the sample size for difference 8, 10, 12 ms and alpha 0.01, 0.05; all else as in …`."""
    found = [Piece("text", "Find the "), Piece("choice", Unknown(unknown_of(aim), aim).words, FIND, found=True)]
    found.append(Piece("text", " for "))
    if not varied_of(aim):
        return [*found, Piece("choice", CHOOSE, f"{NAME}_0"), Piece("text", ".")]
    last = len(varied_of(aim)) - 1
    for place, varied in enumerate(varied_of(aim)):
        if place:
            found.append(Piece("text", " and " if place == last else ", "))
        found += [Piece("choice", _quantity(aim, varied).words, f"{NAME}_{place}"), Piece("text", " ")]
        found.append(Piece("value", values_said(aim, varied), f"{VALUES}_{place}", fault=bool(varied.drafts)))
    return [*found, Piece("text", f"; {as_in(aim)}")]


def as_in(aim: Aim) -> str:
    """The end of the sentence, with one mark only after a name that has its own."""
    return f"all else as in {aim.name}{'' if aim.name.endswith(('.', '?', '!')) else '.'}"


def pieces_of_file(aim: Aim, found: FromFile) -> list[Piece]:
    """`Find the sample size for the 200 rows of sheet.csv, with difference from Difference (ms); …`."""
    rows = f"{count_text(found.asked.count)} {'row' if found.asked.count == 1 else 'rows'}"
    pieces = [Piece("text", "Find the "), Piece("choice", Unknown(unknown_of(aim), aim).words, FIND, found=True)]
    named = f" and the designs in its column {found.designs_in}" if found.designs_in else ""
    pieces.append(Piece("text", f" for the {rows} of {found.file}{named}, with "))
    last = len(found.matches) - 1
    for place, (name, heading) in enumerate(found.matches.items()):
        quantity = Quantity(found.asked.assumption(name), found.asked.holder(name))
        before = "" if not place else " and " if place == last else ", "
        pieces += [Piece("text", f"{before}{quantity.words} from "), Piece("choice", heading, f"{COLUMN}_{name}")]
    return [*pieces, Piece("text", f"; {as_in(aim)}")]


def columns_for(found: FromFile, name: str) -> Offers:
    """The columns that can hold an assumption, and (empty) that none does."""
    held = {heading for other, heading in found.matches.items() if other != name}
    free = [heading for heading in (*found.matches.values(), *found.left_over) if heading not in held]
    offers = [(heading, heading, heading == found.matches[name]) for heading in free]
    return [*offers, ("", "leave it out", False)] if len(found.matches) > 1 else offers


def _quantity(aim: Aim, varied: Varied) -> Quantity:
    return Quantity(design_named(aim.design).assumption(varied.name), aim)


def values_said(aim: Aim, varied: Varied) -> str:
    """The values as they were typed, with their unit; while they cannot be read, what is typed."""
    if varied.drafts:
        return varied.drafts["text"].short
    assumption = _quantity(aim, varied).assumption
    text = varied.text.strip()
    if len(text) > 40 or "\n" in text or "\t" in text or ":" in text:
        text = _in_short(assumption, text, aim.words.unit)
    unit = unit_text(assumption, aim.words.unit)
    if not unit or unit in text:
        return text
    stepped = _STEP.fullmatch(text)
    before, after = stepped.groups() if stepped else (text, "")
    return f"{before}\u00a0{unit}{after}"


def _in_short(assumption: Assumption, text: str, unit: str) -> str:
    try:
        return said(assumption, several(assumption, text, unit))
    except NumberError:  # of a file that somebody wrote by hand
        return f"{text[:24].strip()}…"


def typed_text(varied: Varied) -> str:
    """What stands in the editor of the values."""
    return varied.draft_of("text") or varied.text


def fault_of(aim: Aim) -> str:
    """What cannot be read in the sentence, and what could be typed; empty where all can."""
    return next((varied.first_fault for varied in varied_of(aim) if varied.drafts), "")


def finds(aim: Aim) -> Offers:
    """What a row can find."""
    return [(find, Unknown(find, aim).words, find == unknown_of(aim)) for find in finds_of(aim)]


def names(aim: Aim, outcome: Outcome, place: int) -> Offers:
    """What can be varied at a place of the sentence, and (empty) that nothing is."""
    now = varied_of(aim)[place].name if place < len(varied_of(aim)) else ""
    elsewhere = {varied.name for varied in varied_of(aim)} - {now}
    found = [
        (each.name, Quantity(each, aim).words, each.name == now)
        for each in offered(aim, outcome)
        if each.name not in elsewhere
    ]
    return [*found, ("", "leave it out", False)] if now else found


def value_now(aim: Aim, assumption: Assumption) -> float | None:
    """What an assumption is in the aim; None where it has no value."""
    value = value_in_force(aim, assumption.name)
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) else None
