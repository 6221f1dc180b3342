"""What comes of an aim: its answer, or what is wrong and in which assumption."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from ragwort.designs import Answer, Design, RequestError, design_named, settle
from ragwort.study.model import Aim, Setting


@dataclass(frozen=True)
class Problem:
    """Why there is no answer: the assumption concerned, and a message that says what would be allowed."""

    field: str
    message: str


Outcome = Answer | Problem


def request_of(design: Design, setting: Setting) -> dict[str, Any]:
    """The request that a setting stands for, without what the unknown makes superfluous."""
    unused = design.unused_names(setting.find)
    assumptions = {name: value for name, value in setting.values().items() if name not in unused}
    return {"design": design.id, "find": setting.find, "assumptions": assumptions}


def outcome_of(aim: Aim, setting: Setting | None = None) -> Outcome:
    """The outcome of an aim as it stands, or of one of its scenarios under the aim's design."""
    setting = aim if setting is None else setting
    try:
        design = design_named(aim.design)
    except RequestError as error:
        return Problem(error.field, error.message)
    unused = design.unused_names(setting.find)
    for name, entry in setting.entries.items():
        if entry.fault and name not in unused:
            return Problem(name, entry.fault)
    return _settled(json.dumps(request_of(design, setting), sort_keys=True))


@lru_cache(maxsize=512)
def _settled(request: str) -> Outcome:
    parts = json.loads(request)
    try:
        return settle(design_named(parts["design"]), parts["find"], parts["assumptions"])
    except RequestError as error:
        return Problem(error.field, error.message)


def values_with_defaults(aim: Aim, setting: Setting | None = None) -> dict[str, Any]:
    """All values in force: those given, and the defaults of the rest."""
    design = design_named(aim.design)
    defaults = {a.name: a.default for a in design.assumptions if a.default is not None}
    return {**defaults, **(aim if setting is None else setting).values()}


def to_enrol(answer: Answer) -> int:
    """Participants to enrol, all groups together, dropout allowed for."""
    return sum(answer.enrol) if answer.enrol else answer.total
