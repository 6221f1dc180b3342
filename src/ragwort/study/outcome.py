"""What comes of an aim: its answer, or what is wrong and in which assumption."""

from __future__ import annotations

import json
from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import Any

from ragwort.designs import Answer, Design, RequestError, design_named, settle
from ragwort.study.model import Aim, Setting


@dataclass(frozen=True)
class Problem:
    """Why there is no answer: the assumption concerned, and a message that says what would be allowed."""

    field: str
    message: str


@dataclass(frozen=True)
class Pending(Problem):
    """An answer that is still to be worked out; `last` is the one before it, which is out of date."""

    last: Answer | None = None


Outcome = Answer | Problem
_KEPT = 512
_outcomes: OrderedDict[str, Outcome] = OrderedDict()
_lock = Lock()


def request_of(design: Design, setting: Setting) -> dict[str, Any]:
    """The request that a setting stands for, without what the unknown makes superfluous."""
    unused = design.unused_names(setting.find)
    assumptions = {name: value for name, value in setting.values().items() if name not in unused}
    return {"design": design.id, "find": setting.find, "assumptions": assumptions}


def key_of(aim: Aim, setting: Setting | None = None) -> str:
    """What an outcome depends on, as text."""
    return json.dumps(request_of(design_named(aim.design), aim if setting is None else setting), sort_keys=True)


def outcome_of(aim: Aim, setting: Setting | None = None) -> Outcome:
    """The outcome of an aim as it stands, or of one of its scenarios under the aim's design; worked out if need be."""
    found = at_hand(aim, setting)
    return _worked_out(key_of(aim, setting)) if isinstance(found, Pending) else found


def at_hand(aim: Aim, setting: Setting | None = None) -> Outcome:
    """The outcome as `outcome_of` has it; `Pending` where working it out would take longer than a view can wait."""
    setting = aim if setting is None else setting
    try:
        design = design_named(aim.design)
    except RequestError as error:
        return Problem(error.field, error.message)
    unused = design.unused_names(setting.find)
    for name, entry in setting.entries.items():
        if entry.fault and name not in unused:
            return Problem(name, entry.fault)
    key = key_of(aim, setting)
    with _lock:
        found = _outcomes.get(key)
        if found is not None:
            _outcomes.move_to_end(key)
            return found
    if design.takes_time(setting.values(), setting.find):
        return Pending("", "The answer is being worked out.")
    return _worked_out(key)


def _worked_out(key: str) -> Outcome:
    parts = json.loads(key)
    found: Outcome
    try:
        found = settle(design_named(parts["design"]), parts["find"], parts["assumptions"])
    except RequestError as error:
        found = Problem(error.field, error.message)
    with _lock:
        _outcomes[key] = found
        while len(_outcomes) > _KEPT:
            _outcomes.popitem(last=False)
    return found


def takes_time(aim: Aim) -> bool:
    """Whether the aim, or a scenario of it, may take longer than a view can wait."""
    design = design_named(aim.design)
    return any(design.takes_time(setting.values(), setting.find) for setting in (aim, *aim.scenarios))


def values_with_defaults(aim: Aim, setting: Setting | None = None) -> dict[str, Any]:
    """All values in force: those given, and the defaults of the rest."""
    design = design_named(aim.design)
    defaults = {a.name: a.default for a in design.assumptions if a.default is not None}
    return {**defaults, **(aim if setting is None else setting).values()}


def to_enrol(answer: Answer) -> int:
    """Participants to enrol, all groups together, dropout allowed for."""
    return sum(answer.enrol) if answer.enrol else answer.total
