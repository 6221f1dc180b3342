"""How many have an outcome so far."""

from __future__ import annotations

from ragwort.designs.assumption import Assumption
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import SoFar
from ragwort.study.edits.common import fault_of, no_edit_of_what_is_gone
from ragwort.study.words.numbers import parse

SO_FAR_NAME = "counting who has an outcome so far"

SO_FAR = Assumption("so_far", "So far", "count", "Sample", "", low=0, high=10_000_000)


@no_edit_of_what_is_gone
def type_so_far(study: Study, aim_id: str, group: int, text: str) -> Edit:
    """Take typed text as how many of a group have an outcome so far, empty for nobody; else it stays as it is."""
    aim = study.aim(aim_id)
    known = aim.so_far or SoFar()
    counts = [*known.counts, *([0] * (group + 1 - len(known.counts)))]
    drafts = [*known.drafts, *([""] * (group + 1 - len(known.drafts)))]
    fault = so_far_fault(text)
    drafts[group] = text if fault else ""
    if not fault:
        counts[group] = parse(SO_FAR, text) if text.strip() else 0
    changed = _counted(aim, tuple(counts), known.source if fault else "", tuple(drafts))
    return Edit(SO_FAR_NAME, study.with_aim(changed), merge=f"so far {aim_id} {group}")


def so_far_fault(text: str) -> str:
    """Why a typed count cannot be read; empty where it can."""
    return fault_of(SO_FAR, text)


@no_edit_of_what_is_gone
def set_so_far(study: Study, aim_id: str, counts: tuple[int, ...], source: str = "") -> Edit:
    """How many of each group have an outcome so far."""
    return Edit(SO_FAR_NAME, study.with_aim(_counted(study.aim(aim_id), counts, source[:500])))


def _counted(aim: Aim, counts: tuple[int, ...], source: str, drafts: tuple[str, ...] = ()) -> Aim:
    anything = any(counts) or any(drafts)
    return aim.changed(so_far=SoFar(counts=counts, source=source, drafts=drafts) if anything else None)
