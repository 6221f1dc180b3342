"""How many have an outcome so far."""

from __future__ import annotations

from typing import Any

from ragwort.designs.assumption import Assumption
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import SoFar
from ragwort.study.edits.common import given, no_edit_of_what_is_gone

SO_FAR_NAME = "counting who has an outcome so far"

SO_FAR = Assumption("so_far", "So far", "count", "Sample", "", low=0, high=10_000_000)


@no_edit_of_what_is_gone
def type_so_far(study: Study, aim_id: str, group: int, text: str) -> Edit:
    """Take typed text as how many of a group have an outcome so far, empty for nobody; else it stays as it is."""
    aim = study.aim(aim_id)
    known = aim.so_far or SoFar()
    counts = [*known.counts, *([0] * (group + 1 - len(known.counts)))]

    def read(typed: str) -> dict[str, Any]:
        counts[group] = given(SO_FAR, typed) or 0
        return {"counts": tuple(counts), "source": ""}

    return _counted(study, aim, known.typed(f"{group}", text, read))


@no_edit_of_what_is_gone
def set_so_far(study: Study, aim_id: str, counts: tuple[int, ...], source: str = "") -> Edit:
    """How many of each group have an outcome so far."""
    return _counted(study, study.aim(aim_id), SoFar(counts=counts, source=source[:500]))


def _counted(study: Study, aim: Aim, so_far: SoFar) -> Edit:
    anything = any(so_far.counts) or bool(so_far.drafts)
    return Edit(SO_FAR_NAME, study.with_aim(aim.changed(so_far=so_far if anything else None)))
