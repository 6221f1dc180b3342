"""The design's point in a picture is moved."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from ragwort.designs import Answer, design_named
from ragwort.designs.kinds import PrecisionPlan
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.edits.ways import move_flower
from ragwort.study.results.outcome import at_hand
from ragwort.study.results.whatif import stated_sizes


@no_edit_of_what_is_gone
def drag_over(study: Study, aim_id: str, values: Mapping[str, Any], step: int | None = None) -> Edit:
    """Move the design to other values of some assumptions, and to a step of its counting where one is given.

    Where one of them is what was found until now, power is found from here on. Raises `RequestError` where a value is
    out of bounds.
    """
    aim = study.aim(aim_id)
    design = design_named(aim.design)
    if design.unknown_of(aim.find, aim.values()) in values:
        study = move_flower(study, aim_id, design.found_instead(aim.values())).study
        aim = study.aim(aim_id)
    entries = dict(aim.entries)
    for name, value in values.items():
        entries[name] = aim.entry(name).given(design.assumption(name).check(value))
    moved = study.with_aim(aim.changed(entries=entries))
    if step is not None:
        moved = drag_to_step(moved, aim_id, step).study
    return Edit("moving the point", moved, merge=f"drag {aim_id}")


@no_edit_of_what_is_gone
def drag_to_step(study: Study, aim_id: str, step: int) -> Edit:
    """Move the design along its curve to a step of its counting.

    With a sample size to be found, the target power becomes what that size has; otherwise the size is given.
    """
    aim = study.aim(aim_id)
    design, outcome = design_named(aim.design), at_hand(aim)
    if not isinstance(outcome, Answer):
        return Edit("moving the point", study)
    plan = outcome.plan
    step = min(max(step, plan.counting.lowest), plan.counting.highest)
    if aim.find == "n" and isinstance(plan, PrecisionPlan) and not plan.assured:
        width = float(np.ravel(plan.half_width(plan.better(plan.counting.ways(np.array([step])))))[0])
        wanted = _rounded_up(width)
        stated = "half_width" in aim.values()  # a limit that is asked for instead stays as it is
        allowed = stated and design.assumption("half_width").allows(wanted)
        changes: dict[str, Any] = {"half_width": wanted} if allowed else {}
    elif aim.find == "n":
        powers = plan.power_along(np.array([max(step - 1, plan.counting.lowest), step]))
        reached, before = float(powers[1]), float(powers[0])
        if not float(plan.alpha) < reached < 1:
            return Edit("moving the point", study)
        changes = {"power": _round_between(max(before, float(plan.alpha)), reached)}
    else:
        sizes = plan.better(plan.counting.ways(np.array([step])))
        changes = stated_sizes(design, aim, tuple(math.ceil(size - 1e-9) for size in sizes[:, 0]), plan)
    entries = dict(aim.entries)
    for name, value in changes.items():
        entries[name] = aim.entry(name).given(value)
    changed = study.with_aim(aim.changed(entries=entries))
    return Edit("moving the point", changed, merge=f"drag {aim_id}")


def _rounded_up(width: float) -> float:
    """In four digits, not below."""
    if width <= 0:
        return 0.0
    digits = 3 - math.floor(math.log10(width))
    return math.ceil(width * 10.0**digits - 1e-6) / 10.0**digits


def _round_between(before: float, reached: float) -> float:
    """A target that only `reached` meets and `before` does not, with as few decimals as that takes."""
    for digits in range(2, 12):
        target = float(math.floor(reached * 10**digits) / 10**digits)
        if before < target <= reached:
            return target
    return reached
