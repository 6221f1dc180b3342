"""What comes of an aim: its answer, or what is wrong and in which assumption."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import Any

from ragwort.base.patience import Late, Stopped, within
from ragwort.base.wording import one_of
from ragwort.designs import Answer, Design, RequestError, design_named, settle
from ragwort.files import short
from ragwort.files.log import fault_of_ours
from ragwort.study.document.aim import Aim, Setting


@dataclass(frozen=True)
class Problem:
    """Why there is no answer: the assumption concerned, and a message that says what would be allowed."""

    field: str
    message: str


@dataclass(frozen=True)
class Pending:
    """An answer that is still to be worked out; `last` is the one before it, which is out of date."""

    last: Answer | None = None
    message: str = "The answer is being worked out."


@dataclass(frozen=True)
class Halted:
    """An answer that somebody did not want to wait for."""

    message: str = "Working out the answer was stopped. Start it again below the picture, or change a value."


Settled = Answer | Problem
Outcome = Settled | Pending | Halted
_KEPT = 512
PATIENCE_OF_AN_EDIT = 1.0  # seconds: its words would be wrong without the answer
PATIENCE = 0.04  # seconds that a view waits for an answer; what takes longer is begun again elsewhere
_outcomes: OrderedDict[str, Settled] = OrderedDict()
_late: OrderedDict[str, None] = OrderedDict()  # what was not there in time once
_lock = Lock()


def request_of(design: Design, setting: Setting) -> dict[str, Any]:
    """The request that a setting stands for, without what the unknown makes superfluous."""
    unused = design.unused_names(setting.find) | idle_names(design, setting)
    assumptions = {name: value for name, value in setting.values().items() if name not in unused}
    return {"design": design.id, "find": setting.find, "assumptions": assumptions}


def idle_names(design: Design, setting: Setting) -> frozenset[str]:
    """What has no say under the choices that were made."""
    defaults = {each.name: each.default for each in design.assumptions if each.chosen and each.default is not None}
    return design.idle_for({**defaults, **setting.values()}, setting.find)


def finds_of(aim: Aim) -> tuple[str, ...]:
    """What can be found of an aim under the choices that were made."""
    return design_named(aim.design).finds_with(aim.values())


def key_of(aim: Aim, setting: Setting | None = None) -> str:
    """What an outcome depends on, as text."""
    return _key(request_of(design_named(aim.design), aim if setting is None else setting))


def _key(request: dict[str, Any]) -> str:
    return f"{request['design']} {request['find']} {sorted(request['assumptions'].items())}"


def outcome_of(aim: Aim, setting: Setting | None = None) -> Settled:
    """The outcome of an aim as it stands, or of one of its scenarios under the aim's design; worked out if need be."""
    found = at_hand(aim, setting)
    asked = aim if setting is None else setting
    return _worked_out(request_of(design_named(aim.design), asked)) if isinstance(found, Pending) else found


def at_hand(aim: Aim, setting: Setting | None = None, patience: float = PATIENCE) -> Settled | Pending:
    """The outcome as `outcome_of` has it; `Pending` where it takes longer to work out than a view can wait."""
    setting = aim if setting is None else setting
    trouble = _trouble(aim.design, setting.find)
    if trouble:
        return Problem("", trouble)
    design = design_named(aim.design)
    unused = design.unused_names(setting.find) | idle_names(design, setting)
    for name, entry in setting.entries.items():
        if entry.fault and name not in unused:
            return Problem(name, entry.fault)
    request = request_of(design, setting)
    key = _key(request)
    with _lock:
        found = _outcomes.get(key)
        if found is not None:
            _outcomes.move_to_end(key)
            return found
        late = key in _late
    if late:
        return Pending()
    try:
        with within(patience):
            return _worked_out(request)
    except Late:
        with _lock:
            _remember(_late, key, None)
        return Pending()


def soon(aim: Aim) -> Settled | Pending:
    """The outcome for an edit that carries it over: one that no view waits for is waited for a while."""
    found = at_hand(aim)
    if not isinstance(found, Pending):
        return found
    try:
        with within(PATIENCE_OF_AN_EDIT):
            return _worked_out(request_of(design_named(aim.design), aim))
    except Late:
        return found


def _worked_out(request: dict[str, Any]) -> Settled:
    key, design, given = _key(request), design_named(request["design"]), request["assumptions"]
    found: Settled
    try:
        found = settle(design, request["find"], given)
    except RequestError as error:
        found = Problem(_as_stated(design, given, error.field), error.message)
    except Stopped:
        raise
    except Exception as error:  # noqa: BLE001  (said and logged: one aim's fault must not cost the others)
        found = Problem("", fault_of_ours(error))
    with _lock:
        _remember(_outcomes, key, found)
        _late.pop(key, None)
    return found


def _as_stated(design: Design, given: dict[str, Any], field: str) -> str:
    """The name under which something is given that a fault calls by another: the two means, for their difference."""
    group = next((ways for ways in design.ways if any(field in way.names for way in ways)), ())
    stated = [way for way in group if all(name in given for name in way.names)]
    return field if field in given or not stated else stated[0].names[0]


def _remember(kept: OrderedDict[str, Any], key: str, value: Any) -> None:
    kept[key] = value
    while len(kept) > _KEPT:
        kept.popitem(last=False)


def trouble_of(aim: Aim) -> str:
    """Why nothing can be made of an aim: an unknown design, or an unknown that its design cannot find."""
    return _trouble(aim.design, aim.find)


def _trouble(design_id: str, find: str) -> str:
    try:
        design = design_named(design_id)
    except RequestError as error:
        return f"{error.message} The aim is kept as it stands in the file."
    if find in design.finds:
        return ""
    return (
        f"This aim asks to find {short(repr(find))}, which {design.id} cannot: it finds {one_of(design.finds)}. "
        "The aim is kept as it stands in the file."
    )


def values_with_defaults(aim: Aim, setting: Setting | None = None) -> dict[str, Any]:
    """All values in force: those given that have a say, what follows from them, and the defaults of the rest."""
    design, given = design_named(aim.design), aim if setting is None else setting
    defaults = {a.name: a.default for a in design.assumptions if a.default is not None}
    idle = idle_names(design, given)
    values = {name: value for name, value in given.values().items() if name not in idle}
    return {**defaults, **design.implied(values), **values}


def value_in_force(aim: Aim, name: str, setting: Setting | None = None) -> Any:
    """One of them; None where nothing is given and nothing follows."""
    return values_with_defaults(aim, setting).get(name)


def clusters_to_enrol(answer: Answer) -> int:
    """Clusters to enrol, all arms together, losses allowed for; none where people do not come in clusters."""
    return sum(answer.n_more.get("enrol_clusters", answer.n_more.get("clusters", ())))


def to_enrol(answer: Answer) -> int:
    """Participants to enrol, all groups together, dropout allowed for."""
    return sum(answer.enrol) if answer.enrol else answer.total
