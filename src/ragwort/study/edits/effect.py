"""What the planned effect is: the smallest worthwhile one, or the one expected; and what is expected beside it."""

from __future__ import annotations

import re

from ragwort.designs import design_named
from ragwort.designs.assumption import Assumption
from ragwort.study.document.aim import VALUE, Aim, Entry
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.words.numbers import NumberError, parse, parse_range, range_text, value_text

PLANNED_ON = {
    "": "not stated",
    "worthwhile": "smallest worthwhile",
    "expected": "expected",
}
_WITH_RANGE = re.compile(r"(?P<value>[^(,;]+?)\s*(?:[(,;]\s*(?P<range>[^()]*)\)?)?")


@no_edit_of_what_is_gone
def plan_effect_on(study: Study, aim_id: str, kind: str) -> Edit:
    """Say which kind of effect is planned on: one of `PLANNED_ON`."""
    return Edit("saying what the effect is", study.with_aim(study.aim(aim_id).changed(planned_on=kind)))


@no_edit_of_what_is_gone
def type_expected(study: Study, aim_id: str, text: str) -> Edit:
    """Take typed text, `15` or `15 (12 to 20)`, as the expected effect; what cannot be read is kept beside it."""
    aim = study.aim(aim_id)
    entry = _read(aim, text)
    return Edit("changing the expected effect", study.with_aim(aim.changed(expected=entry)))


def _read(aim: Aim, text: str) -> Entry:
    if not text.strip():
        return Entry(source=aim.expected.source)
    found, effect, unit = _WITH_RANGE.fullmatch(text.strip()), primary_of(aim), aim.words.unit
    try:
        value = parse(effect, found["value"] if found else text, unit)
        low, high = parse_range(effect, (found["range"] or "") if found else "", unit)
    except NumberError as error:
        return aim.expected.unreadable(VALUE, text, str(error))
    return aim.expected.readable(VALUE, value=value, low=low, high=high)


def primary_of(aim: Aim) -> Assumption:
    """The assumption in which an expected effect is stated."""
    design = design_named(aim.design)
    return design.assumption(design.primary)


def expected_text(aim: Aim) -> str:
    """What was typed as the expected effect, or what it is: `15 (12 to 20)`."""
    expected, effect = aim.expected, primary_of(aim)
    if expected.draft or expected.value is None:
        return expected.draft
    value = value_text(effect, expected.value)
    plausible = range_text(effect, expected.low, expected.high)
    return f"{value} ({plausible})" if plausible else value
