"""What a user can do to a study. Each function returns an `Edit`: the new study and the name undo shows."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from functools import wraps
from typing import Any, TypeVar, cast

import numpy as np

from ragwort.designs import Answer, Design, Plan, Way, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import rounded
from ragwort.designs.errors import RequestError
from ragwort.designs.evidence import Route
from ragwort.designs.solve import larger_power, power_along
from ragwort.study.history import Edit
from ragwort.study.model import MOST_PEOPLE, Aim, Entry, Evidence, Gone, Scenario, SoFar, Study, Words, new_id
from ragwort.study.numbers import NumberError, parse, parse_range
from ragwort.study.outcome import at_hand
from ragwort.study.terms import count_terms, is_named

LONGEST_NAME = 200  # characters of an aim's or scenario's name


def short_name(name: str) -> str:
    """A name on one line, at most `LONGEST_NAME` characters."""
    return " ".join(name.split())[:LONGEST_NAME]


AnEdit = TypeVar("AnEdit", bound=Callable[..., Edit])


def _no_edit_of_what_is_gone(edit: AnEdit) -> AnEdit:
    """An edit of an aim or a scenario that is not there any more changes nothing: a menu or an editor outlived it."""

    @wraps(edit)
    def careful(study: Study, *given: Any, **more: Any) -> Edit:
        try:
            return edit(study, *given, **more)
        except Gone:
            return Edit("", study)

    return cast(AnEdit, careful)


# --- values ---------------------------------------------------------------------------------------------------


def typing(aim_id: str, name: str) -> str:
    """What joins the keystrokes in one field to a single undo."""
    return f"type {aim_id} {name}"


@_no_edit_of_what_is_gone
def type_value(study: Study, aim_id: str, name: str, text: str, merge: str = "") -> Edit:
    """Take typed text as the value of an assumption; text that cannot be read is kept beside the last good value."""
    edit = _type_value(study, aim_id, name, text)
    return replace(edit, merge=merge) if merge else edit


def _type_value(study: Study, aim_id: str, name: str, text: str) -> Edit:
    aim, assumption = _aim_and_assumption(study, aim_id, name)
    if not text.strip() and design_named(aim.design).is_optional(name):
        return _with_entry(
            study, aim, name, aim.entry(name).changed(value=None, draft="", fault=""), f"clearing {name}"
        )
    named = assumption.named and is_named(text)
    try:
        value = count_terms(text, name == "predictors") if named else parse(assumption, text, aim.words.unit)
    except NumberError as error:
        entry = aim.entry(name).changed(draft=text, fault=str(error))
        return _with_entry(study, aim, name, entry, f"typing {assumption.label.lower()}")
    return set_value(study, aim_id, name, value, terms=" ".join(text.split()) if named else "")


@_no_edit_of_what_is_gone
def set_value(study: Study, aim_id: str, name: str, value: Any, merge: str = "", terms: str = "") -> Edit:
    """Set an assumption to a checked value. Raises `RequestError` where it is out of bounds."""
    aim, assumption = _aim_and_assumption(study, aim_id, name)
    entry = aim.entry(name).given(assumption.check(value), terms)
    return _with_entry(study, aim, name, entry, f"changing {assumption.label.lower()}", merge)


PILOT_FILE = "pilot file"  # beside the inputs: which file they were taken from
PILOT_GAVE = "pilot file gave"  # and which of them, their names apart by spaces
MOST_SAID = 12  # numbers of a list that a source repeats; of a longer one it says how many there were


@_no_edit_of_what_is_gone
def use_evidence(study: Study, aim_id: str, route: Route, inputs: dict[str, str], lower: bool = False) -> Edit:
    """Take over what a route finds from typed inputs, with the route as source.

    Raises `NumberError` or `RequestError`.
    """
    aim = study.aim(aim_id)
    design = design_named(aim.design)
    found = route.find(read_inputs(route, inputs, aim.words.unit))
    values = found.lower if lower else found.values
    if not values:
        raise NumberError("There is no lower limit to plan on: the interval includes no effect.")
    taken = {name for ways in design.ways for way in ways for name in way.names if set(values) & _of(ways)}
    entries = {name: entry for name, entry in aim.entries.items() if name not in taken}
    said = ", ".join(f"{asked.label} {_told(asked, inputs)}" for asked in route.inputs if inputs.get(asked.name))
    file = f"pilot file {inputs[PILOT_FILE]}: " if inputs.get(PILOT_FILE) else ""
    source = f"{file}{route.label} ({said})" + (", lower limit" if lower else "")
    for at, (name, value) in enumerate(values.items()):
        kept = Evidence(route=route.name, inputs=inputs, lower=lower) if at == 0 else None
        checked = design.assumption(name).check(value)
        entries.pop(name, None)  # to the end: what was used last is found there
        entries[name] = aim.entry(name).given(checked).changed(source=source[:500], was=None, evidence=kept)
    return Edit("taking the effect from evidence", study.with_aim(aim.changed(entries=entries)))


def _told(asked: Assumption, inputs: dict[str, str]) -> str:
    """An input as a source repeats it."""
    text = " ".join(inputs[asked.name].split())
    if asked.kind == "list" and len(parse(asked, text)) > MOST_SAID:
        return f"({len(parse(asked, text))} numbers)"
    if asked.chosen:
        return next((choice.label for choice in asked.choices if choice.value == text), text)
    return text


def as_typed(route: Route, numbers: dict[str, Any]) -> dict[str, str]:
    """Numbers for a route's inputs as they would be typed, to six digits; others are left out."""
    return {asked.name: _plain(numbers[asked.name]) for asked in route.inputs if asked.name in numbers}


def _plain(value: Any) -> str:
    if not isinstance(value, list):
        return f"{value:.6g}" if isinstance(value, float) else str(value)
    between = "; " if any(isinstance(each, list) for each in value) else " "
    return between.join(_plain(each) for each in value)


def _of(ways: tuple[Way, ...]) -> set[str]:
    return {name for way in ways for name in way.names}


def read_inputs(route: Route, inputs: dict[str, str], unit: str) -> dict[str, Any]:
    """Typed inputs as values; empty ones are left out. Raises `NumberError` that names the input."""
    return {
        asked.name: parse(asked, inputs[asked.name], unit)
        for asked in route.inputs
        if inputs.get(asked.name, "").strip()
    }


def rescaled(assumption: Assumption, value: Any) -> Any:
    """Shares that do not add up to 1, each divided by their sum; None where nothing is wrong or nothing can be done."""
    if not assumption.adds_to_one or value is None:
        return None
    if assumption.kind == "records":
        shares = [row.get("share") for row in value]
    else:
        shares = [each for row in value for each in row] if assumption.kind == "table" else list(value)
    if not all(isinstance(each, int | float) and each >= 0 for each in shares):
        return None
    total = math.fsum(shares)
    if total <= 0 or abs(total - 1) <= 1e-9:
        return None
    if assumption.kind == "records":
        return [{**row, "share": row["share"] / total} for row in value]
    if assumption.kind == "table":
        return [[each / total for each in row] for row in value]
    return [each / total for each in value]


@_no_edit_of_what_is_gone
def rescale(study: Study, aim_id: str, name: str) -> Edit:
    """Make the shares of an assumption add up to 1."""
    aim, assumption = _aim_and_assumption(study, aim_id, name)
    value = rescaled(assumption, aim.values().get(name))
    if value is None:
        return Edit(f"rescaling {assumption.label.lower()}", study)
    changed = set_value(study, aim_id, name, value)
    return Edit(f"rescaling {assumption.label.lower()}", changed.study)


@_no_edit_of_what_is_gone
def confirm(study: Study, aim_id: str, *names: str) -> Edit:
    """Take example values as decided: those named, or all of the aim."""
    aim = study.aim(aim_id)
    confirmed = {
        name: entry.changed(example=False) if entry.example and (name in names or not names) else entry
        for name, entry in aim.entries.items()
    }
    return Edit("confirming example values", study.with_aim(aim.changed(entries=confirmed)))


@_no_edit_of_what_is_gone
def drop_draft(study: Study, aim_id: str, name: str) -> Edit:
    """Forget text that could not be read: back to the last good value."""
    aim, assumption = _aim_and_assumption(study, aim_id, name)
    entry = aim.entry(name).changed(draft="", fault="")
    return _with_entry(study, aim, name, entry, f"restoring {assumption.label.lower()}")


@_no_edit_of_what_is_gone
def type_range(study: Study, aim_id: str, name: str, text: str) -> Edit:
    """Take typed text as the plausible range; text that cannot be read is kept beside the last good range."""
    aim, assumption = _aim_and_assumption(study, aim_id, name)
    label = f"changing the range of {assumption.label.lower()}"
    try:
        low, high = parse_range(assumption, text, aim.words.unit)
    except NumberError:
        return _with_entry(study, aim, name, aim.entry(name).changed(range_draft=text), label)
    entry = aim.entry(name).changed(low=low, high=high, range_draft="")
    return _with_entry(study, aim, name, entry, label)


def range_fault(aim: Aim, assumption: Assumption) -> str:
    """Why the range that was typed last cannot be read; empty where it can."""
    try:
        parse_range(assumption, aim.entry(assumption.name).range_draft, aim.words.unit)
    except NumberError as error:
        return str(error)
    return ""


@_no_edit_of_what_is_gone
def set_remark(study: Study, aim_id: str, name: str, field: str, text: str) -> Edit:
    """Set the `source` or the `note` of an assumption."""
    aim, assumption = _aim_and_assumption(study, aim_id, name)
    entry = aim.entry(name).changed(**{field: text.strip()})
    if field == "source":
        entry = entry.changed(was=None)
    return _with_entry(study, aim, name, entry, f"changing the {field} of {assumption.label.lower()}")


@_no_edit_of_what_is_gone
def choose_way(study: Study, aim_id: str, way: Way) -> Edit:
    """State something in another way (two means for a difference); what can be worked out is carried over."""
    aim = study.aim(aim_id)
    design = design_named(aim.design)
    group = next(ways for ways in (*design.ways, design.sizes) if way in ways)
    old = {name for other in group for name in other.names} - set(way.names) | set(way.without)
    again = [name for other in group for name in other.without if name not in (*aim.entries, *way.without)]
    restated = _restated(design, _carried(aim, design), way)
    entries = {name: entry for name, entry in aim.entries.items() if name not in old}
    before = [aim.entry(name) for name in old]
    source = next((entry.source for entry in before if entry.source and entry.was is None), "")
    example = any(entry.example for entry in before)
    for name in (*way.names, *again):
        start = restated.get(name, aim.values().get(name, design.assumption(name).default))
        entries[name] = Entry(value=start, source=source, example=example)
    return Edit(f"stating {way.label}", study.with_aim(aim.changed(entries=entries)))


def _restated(design: Design, values: dict[str, Any], way: Way) -> dict[str, Any]:
    """The values of a way that say the same; what cannot be worked out, or is out of bounds then, is left out."""
    try:
        found = design.restate(values, way)
    except (ArithmeticError, KeyError):
        return {}  # an f so large that its η² is 1; or nothing is stated yet
    return {name: value for name, value in found.items() if _is_allowed(design, name, value)}


def _is_allowed(design: Design, name: str, value: Any) -> bool:
    try:
        design.assumption(name).check(value)
    except RequestError:
        return False
    return True


def _carried(aim: Aim, design: Design) -> dict[str, Any]:
    """The aim's values, with the sizes of its answer where they are what is found."""
    values = aim.values()
    outcome = at_hand(aim)
    if isinstance(outcome, Answer):
        values = {**design.sizes_as_values(outcome.groups, outcome.plan), **values}
    return values


@_no_edit_of_what_is_gone
def move_flower(study: Study, aim_id: str, find: str) -> Edit:
    """Make something else the unknown; what was found until now becomes given."""
    aim = study.aim(aim_id)
    if find == aim.find:
        return Edit("moving the flower", study)
    design = design_named(aim.design)
    if find not in design.finds:
        return Edit("moving the flower", study)  # a menu outlived the design
    entries = dict(aim.entries)
    outcome = at_hand(aim)
    if isinstance(outcome, Answer):
        found = {n: v for n, v in _found_values(design, aim, outcome).items() if _is_allowed(design, n, v)}
        for name, value in found.items():
            entries[name] = aim.entry(name).given(value)
        if find == "effect" and any(assumption.name == "direction" for assumption in design.assumptions):
            down = float(outcome.plan.effect) < 0  # look for it on the side on which it was stated
            entries["direction"] = Entry(value="down" if down else "up")
    label = design.assumption(design.unknown_of(find)).label.lower()
    return Edit(f"finding {label}", study.with_aim(aim.changed(find=find, entries=entries)))


def _found_values(design: Design, aim: Aim, answer: Answer) -> dict[str, Any]:
    """What was found, as values of the ways in which it is stated now."""
    if answer.find == "n":
        return _stated_sizes(design, aim, answer.groups, answer.plan)
    if answer.find == "effect":
        return _stated_effect(design, aim, rounded(float(answer.answer)))
    return {answer.find: rounded(float(answer.answer))}


def _stated_sizes(design: Design, aim: Aim, groups: tuple[int, ...], plan: Plan) -> dict[str, Any]:
    """Group sizes as one total, or by group where the aim has them so."""
    found = design.sizes_as_values(groups, plan)
    separate = all(name in aim.entries for name in design.sizes[-1].names)
    return {name: found[name] for name in design.sizes[-1 if separate else 0].names}


def _stated_effect(design: Design, aim: Aim, effect: float) -> dict[str, Any]:
    """The primary effect as itself, or as the two quantities that the aim has in its place."""
    for way in next((ways for ways in design.ways if design.primary in ways[0].names), ())[1:]:
        if set(way.names) <= set(aim.entries):
            return design.effect_as(way, effect, aim.values())
    return {design.primary: effect}


@_no_edit_of_what_is_gone
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
    if aim.find == "n":
        powers = power_along(plan, np.array([max(step - 1, plan.counting.lowest), step]))
        reached, before = float(powers[1]), float(powers[0])
        if not float(plan.alpha) < reached < 1:
            return Edit("moving the point", study)
        changes: dict[str, Any] = {"power": _round_between(max(before, float(plan.alpha)), reached)}
    else:
        sizes = larger_power(plan, plan.counting.ways(np.array([step])))
        changes = _stated_sizes(design, aim, tuple(math.ceil(size - 1e-9) for size in sizes[:, 0]), plan)
    entries = dict(aim.entries)
    for name, value in changes.items():
        entries[name] = aim.entry(name).given(value)
    changed = study.with_aim(aim.changed(entries=entries))
    return Edit("moving the point", changed, merge=f"drag {aim_id}")


def _round_between(before: float, reached: float) -> float:
    """A target that only `reached` meets and `before` does not, with as few decimals as that takes."""
    for digits in range(2, 12):
        target = float(math.floor(reached * 10**digits) / 10**digits)
        if before < target <= reached:
            return target
    return reached


# --- aims -----------------------------------------------------------------------------------------------------


def new_aim(design: Design, name: str, words: Words | None = None) -> Aim:
    """A fresh aim of a design, at its starting values, which are examples until somebody says otherwise."""
    entries = {key: Entry(value=value, example=True) for key, value in design.starting.items()}
    plain = Words(one=design.people[0], many=design.people[1]) if words is None else words
    return Aim(name=name, design=design.id, entries=entries, words=plain)


def carried_values(values: dict[str, Any], design: Design) -> dict[str, Any]:
    """What of these values a design can work with too, and its own starting values for the rest."""
    kept: dict[str, Any] = {}
    values = {**design.borrowed(values), **values}
    for assumption in design.assumptions:
        if assumption.name in values:
            try:
                kept[assumption.name] = assumption.check(values[assumption.name])
            except RequestError:
                continue  # out of bounds here: the starting value takes its place
    stated = set()
    for ways in (*design.ways, design.sizes):
        if any(all(name in kept for name in way.names) for way in ways):
            stated |= {name for way in ways for name in way.names}
        else:
            kept = {name: value for name, value in kept.items() if all(name not in way.names for way in ways)}
    return {**{name: value for name, value in design.starting.items() if name not in stated}, **kept}


@_no_edit_of_what_is_gone
def change_design(study: Study, aim_id: str, design: Design) -> Edit:
    """Make the aim one of another design; what both share is carried over, with ranges, sources and notes."""
    aim = study.aim(aim_id)
    if aim.design == design.id:
        return Edit("changing the design", study)
    values = carried_values(aim.values(), design)
    entries = {name: _carried_entry(aim.entry(name), value) for name, value in values.items()}
    sized = any(all(name in values for name in way.names) for way in design.sizes)
    find = aim.find if aim.find in ("power", "alpha") and sized else "n"
    changed = aim.changed(design=design.id, entries=entries, find=find, scenarios=())
    return Edit(f"changing the design to {design.title.lower()}", study.with_aim(changed))


def _carried_entry(entry: Entry, value: Any) -> Entry:
    """In another design: what was given there is given here too, the rest is an example."""
    return entry.changed(draft="", fault="") if entry.value == value else Entry(value=value, example=True)


def aim_beside(study: Study, other: Aim | None, design: Design) -> Aim:
    """A fresh aim of a design, with the words that another aim has for people where they fit."""
    usual = design.people == Design.people and other is not None
    words = other.words.changed(outcome="", unit="") if usual and other is not None else None
    return new_aim(design, f"Aim {len(study.aims) + 1}", words)


def add_aim(study: Study, aim: Aim) -> Edit:
    """Add an aim at the end."""
    return Edit("adding an aim", study.changed(aims=(*study.aims, aim)))


@_no_edit_of_what_is_gone
def rename_aim(study: Study, aim_id: str, name: str, merge: str = "") -> Edit:
    """Rename an aim; an empty name changes nothing."""
    aim = study.aim(aim_id)
    return Edit("renaming an aim", study.with_aim(aim.changed(name=short_name(name) or aim.name)), merge)


@_no_edit_of_what_is_gone
def duplicate_aim(study: Study, aim_id: str) -> Edit:
    """A copy of an aim, right after it."""
    aims = list(study.aims)
    aim = study.aim(aim_id)
    copy = aim.changed(id=new_id(), name=short_name(f"{aim.name} (copy)"))
    aims.insert(aims.index(aim) + 1, copy)
    return Edit("duplicating an aim", study.changed(aims=tuple(aims)))


@_no_edit_of_what_is_gone
def move_aim(study: Study, aim_id: str, by: int) -> Edit:
    """Move an aim up (negative) or down the list."""
    aims = list(study.aims)
    at = aims.index(study.aim(aim_id))
    aim = aims.pop(at)
    aims.insert(min(max(at + by, 0), len(aims)), aim)
    return Edit("moving an aim", study.changed(aims=tuple(aims)))


@_no_edit_of_what_is_gone
def delete_aim(study: Study, aim_id: str) -> Edit:
    """Delete an aim with its scenarios."""
    return Edit("deleting an aim", study.changed(aims=tuple(a for a in study.aims if a.id != aim_id)))


@_no_edit_of_what_is_gone
def set_words(study: Study, aim_id: str, **words: Any) -> Edit:
    """Change what the aim calls its groups, outcome, unit or participants."""
    aim = study.aim(aim_id)
    return Edit("changing the words", study.with_aim(aim.changed(words=aim.words.changed(**words))))


@_no_edit_of_what_is_gone
def rename(study: Study, aim_id: str, key: str, index: int, name: str, merge: str = "") -> Edit:
    """Name one thing that the aim is made of, the first being 0; an empty name brings its stand-in back."""
    aim = study.aim(aim_id)
    given = [*aim.words.names.get(key, ())]
    given += [""] * (index + 1 - len(given))
    given[index] = short_name(name)
    while given and not given[-1]:
        given.pop()
    others = {other: names for other, names in aim.words.names.items() if other != key}
    named = {**others, key: tuple(given)} if given else others
    return replace(set_words(study, aim_id, names=named), merge=merge)


@_no_edit_of_what_is_gone
def type_names(study: Study, aim_id: str, key: str, text: str) -> Edit:
    """Take typed text as all names of a kind, apart by commas; where one is left out its stand-in stays."""
    given = [short_name(part) for part in text.split(",")]
    while given and not given[-1]:
        given.pop()
    names = {other: kept for other, kept in study.aim(aim_id).words.names.items() if other != key}
    return set_words(study, aim_id, names={**names, key: tuple(given)} if given else names)


@_no_edit_of_what_is_gone
def finish(study: Study, aim_id: str, finished: bool) -> Edit:
    """Say whether the data are in."""
    return Edit("saying that the data are in", study.with_aim(study.aim(aim_id).changed(finished=finished)))


# --- how far along ---

SO_FAR_NAME = "counting who has an outcome so far"
SO_FAR = Assumption("so_far", "So far", "count", "Sample", "", low=0, high=10_000_000)


@_no_edit_of_what_is_gone
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
    return _fault_of(SO_FAR, text)


@_no_edit_of_what_is_gone
def set_so_far(study: Study, aim_id: str, counts: tuple[int, ...], source: str = "") -> Edit:
    """How many of each group have an outcome so far."""
    return Edit(SO_FAR_NAME, study.with_aim(_counted(study.aim(aim_id), counts, source[:500])))


def _counted(aim: Aim, counts: tuple[int, ...], source: str, drafts: tuple[str, ...] = ()) -> Aim:
    anything = any(counts) or any(drafts)
    return aim.changed(so_far=SoFar(counts=counts, source=source, drafts=drafts) if anything else None)


# --- scenarios ------------------------------------------------------------------------------------------------


@_no_edit_of_what_is_gone
def keep_scenario(study: Study, aim_id: str, name: str) -> Edit:
    """Keep the aim's assumptions as they are now."""
    aim = study.aim(aim_id)
    kept = Scenario(name=short_name(name) or "Scenario", find=aim.find, entries=aim.entries)
    return Edit("keeping a scenario", study.with_aim(aim.changed(scenarios=(*aim.scenarios, kept))))


@_no_edit_of_what_is_gone
def return_to_scenario(study: Study, aim_id: str, scenario_id: str) -> Edit:
    """Put a kept scenario's assumptions back in force."""
    aim = study.aim(aim_id)
    kept = aim.scenario(scenario_id)
    return Edit(f"returning to {kept.name}", study.with_aim(aim.changed(find=kept.find, entries=kept.entries)))


@_no_edit_of_what_is_gone
def rename_scenario(study: Study, aim_id: str, scenario_id: str, name: str, merge: str = "") -> Edit:
    """Rename a kept scenario; an empty name changes nothing."""
    aim = study.aim(aim_id)
    kept = aim.scenario(scenario_id)
    renamed = kept.changed(name=short_name(name) or kept.name)
    scenarios = tuple(renamed if old.id == scenario_id else old for old in aim.scenarios)
    return Edit("renaming a scenario", study.with_aim(aim.changed(scenarios=scenarios)), merge)


@_no_edit_of_what_is_gone
def delete_scenario(study: Study, aim_id: str, scenario_id: str) -> Edit:
    """Delete a kept scenario."""
    aim = study.aim(aim_id)
    scenarios = tuple(kept for kept in aim.scenarios if kept.id != scenario_id)
    return Edit("deleting a scenario", study.with_aim(aim.changed(scenarios=scenarios)))


# --- the study ------------------------------------------------------------------------------------------------


def retitle(study: Study, title: str) -> Edit:
    """Give the study another title; an empty one changes nothing."""
    return set_study(study, title=short_name(title) or study.title)


def set_study(study: Study, merge: str = "", **changes: Any) -> Edit:
    """Change the study's title, background or limit."""
    return Edit(f"changing the study's {' and '.join(changes)}", study.changed(**changes), merge)


LIMIT = Assumption("limit", "The study's limit", "count", "Sample", "", low=1, high=MOST_PEOPLE)


def type_limit(study: Study, text: str) -> Edit:
    """Take typed text as how many can be had at most, empty for no limit; what cannot be read is kept as it is."""
    fault = limit_fault(text)
    if fault:
        changed = study.changed(limit_draft=text)
    else:
        changed = study.changed(limit=parse(LIMIT, text) if text.strip() else None, limit_draft="")
    return Edit("changing the study's limit", changed)


def limit_fault(text: str) -> str:
    """Why a typed limit cannot be read; empty where it can."""
    return _fault_of(LIMIT, text)


def _fault_of(assumption: Assumption, text: str) -> str:
    try:
        if text.strip():
            parse(assumption, text)
    except NumberError as error:
        return str(error)
    return ""


def _aim_and_assumption(study: Study, aim_id: str, name: str) -> tuple[Aim, Assumption]:
    aim = study.aim(aim_id)
    return aim, design_named(aim.design).assumption(name)


def _with_entry(study: Study, aim: Aim, name: str, entry: Entry, label: str, merge: str = "") -> Edit:
    entries = {**aim.entries, name: entry}
    return Edit(label, study.with_aim(aim.changed(entries=entries)), merge)
