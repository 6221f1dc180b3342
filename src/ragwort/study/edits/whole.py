"""The study's own title, background and limit."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ragwort.designs.assumption import Assumption
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.part import MOST_PEOPLE
from ragwort.study.edits.common import given, short_name
from ragwort.study.results.serving import TOGETHER


def retitle(study: Study, title: str) -> Edit:
    """Give the study another title; an empty one changes nothing."""
    return set_study(study, title=short_name(title) or study.title)


def set_study(study: Study, **changes: Any) -> Edit:
    """Change the study's title, background or limit."""
    return Edit(f"changing the study's {' and '.join(changes)}", study.changed(**changes))


def say_serving(study: Study, together: bool, aims: Iterable[str] = ()) -> Edit:
    """Say that the same participants serve all aims, or those of these ids; or leave it to what their designs tell."""
    said, ids = "saying whom the aims share", set(aims)
    if not together:
        return Edit(said, study.changed(serving="", served_together=()))
    if not ids:
        return Edit(said, study.changed(serving=TOGETHER))
    touched = [group for group in study.served_together if ids & set(group)]
    joined = tuple(aim.id for aim in study.aims if aim.id in ids.union(*touched))
    rest = tuple(group for group in study.served_together if group not in touched)
    return Edit(said, study.changed(served_together=(*rest, joined)))


LIMIT = Assumption("limit", "The study's limit", "count", "Sample", "", low=1, high=MOST_PEOPLE)


def type_limit(study: Study, text: str) -> Edit:
    """Take typed text as how many can be had at most, empty for no limit; what cannot be read is kept as it is."""
    changed = study.typed(LIMIT.name, text, lambda typed: {LIMIT.name: given(LIMIT, typed)})
    return Edit("changing the study's limit", changed)


MONEY = 10_000_000_000  # more is a slip of the keyboard
RESOURCES = {
    each.name: each
    for each in (
        Assumption("clusters", "The number of clusters", "count", "Sample", "", low=2, high=MOST_PEOPLE),
        Assumption("costs", "The cost of each", "list", "Sample", "", low=0, high=MONEY, longest=100),
        Assumption("cluster_cost", "The cost of a cluster", "number", "Sample", "", low=0, high=MONEY),
        Assumption("budget", "The budget", "number", "Sample", "", low=0, open_low=True, high=MONEY),
        Assumption("centres", "The number of centres", "count", "Sample", "", low=1, high=MOST_PEOPLE),
        Assumption("per_month", "The number a month", "number", "Sample", "", low=0, open_low=True, high=MOST_PEOPLE),
        Assumption("months", "The number of months", "number", "Sample", "", low=0, open_low=True, high=1e4),
    )
}
CURRENCY = "currency"


def type_resource(study: Study, name: str, text: str) -> Edit:
    """Take typed text as one of the study's `RESOURCES`, or its currency; what cannot be read is kept as it is.

    An empty text sets no limit. Raises `KeyError` on another name.
    """
    known = study.resources
    if name == CURRENCY:
        changed = known.changed(currency=short_name(text))
    else:
        changed = known.typed(name, text, lambda typed: {name: _as_kept(name, given(RESOURCES[name], typed))})
    return Edit("changing what the study can have", study.changed(resources=changed))


def _as_kept(name: str, value: Any) -> Any:
    return tuple(float(each) for each in value or ()) if name == "costs" else value
