"""What a user can do to a sheet: type its words, choose how people are allocated."""

from __future__ import annotations

from collections.abc import Callable

from ragwort.sheet.allocation import SheetError
from ragwort.sheet.asked import blocks_in, columns_in, factors_in, range_in
from ragwort.sheet.parts import check_pattern
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import SheetPlan
from ragwort.study.edits.common import no_edit_of_what_is_gone

LONGEST = 2_000  # characters of a word
_READ: dict[str, Callable[[str], object]] = {
    "pattern": check_pattern,
    "blocks": blocks_in,
    "strata": factors_in,
    "allowed": range_in,
    "columns": columns_in,
}


@no_edit_of_what_is_gone
def choose(study: Study, aim_id: str, name: str, value: str) -> Edit:
    """Take a choice of the sentence."""
    aim = study.aim(aim_id)
    return _with(study, aim, aim.sheet.changed(**{name: value}))


@no_edit_of_what_is_gone
def type_word(study: Study, aim_id: str, name: str, text: str) -> Edit:
    """Take a typed word; what cannot be read is kept with the reason, beside the last that could."""
    aim = study.aim(aim_id)
    return _with(study, aim, aim.sheet.typed(name, text[:LONGEST], lambda typed: {name: _read(name, typed)}))


def _read(name: str, text: str) -> str | int:
    if name == "seed":
        digits = "".join(text.split())
        if not digits.isdecimal() or int(digits) > 2**53:
            raise SheetError("seed", f"“{text.strip()[:20]}” is no seed: it is a whole number from 0 on.")
        return int(digits)
    _READ[name](text)
    return " ".join(text.split("\n")).strip()


def _with(study: Study, aim: Aim, sheet: SheetPlan) -> Edit:
    return Edit("changing the sheet", study.with_aim(aim.changed(sheet=sheet)))
