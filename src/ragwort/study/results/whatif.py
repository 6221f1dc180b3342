"""What would be found if something were otherwise, or if another question were asked of the same design."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from ragwort.designs import Answer, Design, Plan, RequestError, design_named, settle
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.designs.phrases import UNRANGED
from ragwort.study.document.aim import Aim, Setting
from ragwort.study.results.outcome import Problem, Settled, idle_names, request_of

NUMERIC = ("measured", "share", "rate", "count", "ratio", "number")  # kinds of assumption that are one number


def found_values(design: Design, aim: Setting, answer: Answer) -> dict[str, Any]:
    """What was found, in full, as values of the ways in which it is stated now."""
    if answer.find == "n":
        return stated_sizes(design, aim, answer.groups, answer.plan)
    if answer.find == "effect":
        return stated_effect(design, aim, float(answer.answer))
    return {answer.find: answer.power if answer.find == "power" else answer.answer}


def stated_sizes(design: Design, aim: Setting, groups: tuple[int, ...], plan: Plan) -> dict[str, Any]:
    """Group sizes as one total, or by group where the aim has them so and they can be given (one cluster cannot).

    Sizes so small that they cannot be given at all become the smallest that can.
    """
    found = design.sizes_as_values(groups, plan)
    separate = all(name in aim.entries for name in design.sizes[-1].names)
    ways = [{name: found[name] for name in way.names} for way in (design.sizes[-1 if separate else 0], *design.sizes)]
    can_be = (way for way in ways if all(design.assumption(name).allows(value) for name, value in way.items()))
    smallest = {name: max(value, math.ceil(design.assumption(name).low)) for name, value in ways[0].items()}
    return next(can_be, smallest)


def stated_effect(design: Design, aim: Setting, effect: float) -> dict[str, Any]:
    """The primary effect as itself, or as the two quantities that the aim has in its place."""
    idle = idle_names(design, aim)  # what was given before another choice was made
    unknown = design.unknown_of("effect", aim.values())
    for way in design.effect_ways():
        stated = set(way.names) <= set(aim.entries) and not idle & set(way.names)
        if stated and unknown not in way.names:
            return design.effect_as(way, effect, aim.values())
        if stated:
            break
    return {unknown: effect}


def values_for(aim: Aim, answer: Answer, find: str) -> dict[str, Any]:
    """The values under which `find` is asked for, where the design stays as it is: what was found is given then."""
    design = design_named(aim.design)
    values = dict(request_of(design, aim)["assumptions"])
    if find != answer.find:
        found = found_values(design, aim, answer)
        other = _otherwise_stated(design, found) if answer.find == "effect" else set()
        values = {name: value for name, value in values.items() if name not in other} | found
    if find == "effect" and any(assumption.name == "direction" for assumption in design.assumptions):
        values.setdefault("direction", "down" if float(answer.plan.effect) < 0 else "up")
    unused = design.unused_names(find)
    return {name: value for name, value in values.items() if name not in unused}


def _otherwise_stated(design: Design, found: Mapping[str, Any]) -> set[str]:
    """What would state the effect beside how it was found, if a study has both."""
    ways = design.effect_ways()
    beside = {name for way in ways if found.keys() <= set(way.names) for name in way.names}
    elsewhere = {name for each in design.ways if each is not ways for way in each for name in way.names}
    return set(design.effect_names()) - beside - elsewhere


def otherwise(aim: Aim, find: str, values: Mapping[str, Any], **changes: Any) -> Settled:
    """What comes of asking for `find` under `values` with some of them changed."""
    try:
        return settle(design_named(aim.design), find, {**values, **changes})
    except RequestError as error:
        return Problem(error.field, error.message)


def ranged(aim: Aim, find: str) -> list[tuple[Assumption, float, float]]:
    """The assumptions with a say that have a plausible range, with its ends."""
    design = design_named(aim.design)
    unused = design.unused_names(find) | UNRANGED
    found = []
    for assumption in design.assumptions:
        entry = aim.entry(assumption.name)
        known = entry.value is not None or assumption.default is not None
        wanted = assumption.kind in NUMERIC and assumption.name not in unused and known
        if wanted and entry.low is not None and entry.high is not None and entry.low < entry.high:
            found.append((assumption, entry.low, entry.high))
    return found


def uncertain(aim: Aim, find: str) -> list[tuple[Assumption, float, float]]:
    """What may be otherwise in truth, as `ranged`: the expected effect, not the smallest worthwhile one."""
    if aim.planned_on != "worthwhile":
        return ranged(aim, find)
    design = design_named(aim.design)
    found = [each for each in ranged(aim, find) if each[0].name not in design.effect_names()]
    low, high, effect = aim.expected.low, aim.expected.high, design.assumption(design.primary)
    if low is None or high is None or not low < high or aim.entry(effect.name).value is None:
        return found
    label = f"Expected {in_running_text(effect.label)}"
    return [(replace(effect, label=label, words=""), low, high), *found]


SUPPOSED = 0.1  # by what share a value is moved where nobody has said what is plausible


def supposed(aim: Aim, find: str, values: Mapping[str, Any]) -> list[tuple[Assumption, float, float]]:
    """Where nothing has a plausible range: what the answer rests on, each a tenth down and up.

    That says how sensitive the answer is, and nothing about how uncertain.
    """
    design = design_named(aim.design)
    found = []
    for assumption in design.assumptions:
        value = values.get(assumption.name)
        moved = (
            assumption.group in ("Effect", "Structure") and assumption.kind in NUMERIC and assumption.kind != "count"
        )
        if not moved or assumption.name in design.unused_names(find) or not _is_number(value) or not value:
            continue
        low, high = sorted(float(f"{value * (1 + part):.6g}") for part in (-SUPPOSED, SUPPOSED))
        if assumption.allows(low) and assumption.allows(high):
            found.append((assumption, low, high))
    return found


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)
