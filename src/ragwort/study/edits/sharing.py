"""How the aims share the study's error: the plan, the roles, alpha, weights, correlation."""

from __future__ import annotations

from ragwort.designs.assumption import Assumption
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.family import applied
from ragwort.study.history import Edit
from ragwort.study.model import Family, Study
from ragwort.study.numbers import NumberError, parse

ALPHA = Assumption(
    "alpha", "The study's alpha", "rate", "Error rates", "", low=0, high=1, open_low=True, open_high=True
)
CORRELATION = Assumption("correlation", "The correlation", "number", "Error rates", "", low=0, high=1, open_high=True)
WEIGHT = Assumption("weight", "A weight", "number", "Error rates", "", low=0, open_low=True, high=1e6)
_LABEL = "sharing the error"


def choose_plan(study: Study, plan: str) -> Edit:
    """Share the error in another way; every aim's alpha follows."""
    return _with(study, study.family.changed(plan=plan))


@no_edit_of_what_is_gone
def set_role(study: Study, aim_id: str, role: str) -> Edit:
    """Make an aim primary, secondary or exploratory; exploratory aims share no error."""
    changed = study.with_aim(study.aim(aim_id).changed(role=role))
    return Edit(_LABEL, applied(changed) if changed.family.plan else changed)


def type_family(study: Study, name: str, text: str, merge: str = "") -> Edit:
    """Take typed text as alpha, correlation or `weight_` and an aim's id; what cannot be read is kept with why."""
    family = study.family
    drafts = {key: each for key, each in family.drafts.items() if key != name}
    faults = {key: each for key, each in family.faults.items() if key != name}
    declared = {"alpha": ALPHA, "correlation": CORRELATION}.get(name, WEIGHT)
    try:
        value = float(parse(declared, text))
    except NumberError as error:
        kept = family.changed(drafts={**drafts, name: text[:2000]}, faults={**faults, name: str(error)})
        return Edit(_LABEL, study.changed(family=kept), merge)
    changes = {name: value} if name in ("alpha", "correlation") else {}
    weights = family.weights if changes else {**family.weights, name.removeprefix("weight_"): value}
    return _with(study, family.changed(drafts=drafts, faults=faults, weights=weights, **changes), merge)


def _with(study: Study, family: Family, merge: str = "") -> Edit:
    return Edit(_LABEL, applied(study.changed(family=family)), merge)
