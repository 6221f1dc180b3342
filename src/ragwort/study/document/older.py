"""Files of earlier versions: how they are read now, and what of them is counted otherwise than it was."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from ragwort.base.wording import listed
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.document.part import LONGEST_LINE, LONGEST_TEXT

Parsed = dict[str, Any]
WHOLE_CLUSTERS = 3  # the schema version from which clusters are whole, and tests on them t tests


def _aims(found: Parsed) -> Iterator[Parsed]:
    aims = found.get("aims")
    return (aim for aim in (aims if isinstance(aims, list) else ()) if isinstance(aim, dict))


def _names_of_more_than_groups(found: Parsed) -> Parsed:
    """1 to 2: groups are one kind of several that have names."""
    for aim in _aims(found):
        words = aim.get("words")
        if isinstance(words, dict) and "groups" in words:
            words["names"] = {"groups": words.pop("groups")}
    return found


def _totals_of_strata(found: Parsed) -> Parsed:
    """2 to 3: strata are whole clusters, unless a total was given that no whole clusters make."""
    for aim in _aims(found):
        entries = aim.get("entries")
        if not isinstance(entries, dict) or aim.get("design") not in _CLUSTERS or aim.get("find") == "n":
            continue
        if "strata" in entries and "n" in entries and "clusters" not in entries:
            entries["sizes"] = {"value": "exact"}
    return found


def _drafts_with_their_faults(found: Parsed) -> Parsed:
    """3 to 4: what cannot be read stands in one map of each part, with why."""
    for part in _parts(found):
        drafts = part.get("drafts")
        if isinstance(drafts, dict):
            faults = part.pop("faults", None)
            why = faults if isinstance(faults, dict) else {}
            part["drafts"] = {name: _draft(text, why[name]) for name, text in drafts.items() if name in why}
        elif isinstance(drafts, list):
            part["drafts"] = {f"{group}": _draft(text, None) for group, text in enumerate(drafts) if text}
        for name, place in (("draft", "value"), ("range_draft", "range"), ("limit_draft", "limit")):
            fault = part.pop("fault", "") if name == "draft" and name in part else ""
            text = part.pop(name, "")
            if text:
                part["drafts"] = {**_map_in(part), _place(part, place): _draft(text, fault)}
    return found


def _parts(found: Any) -> Iterator[Parsed]:
    """Every object of a file, however deep."""
    waiting = [found]
    while waiting:
        each = waiting.pop()
        if isinstance(each, dict):
            yield each
        waiting += each.values() if isinstance(each, dict) else each if isinstance(each, list) else []


def _map_in(part: Parsed) -> Parsed:
    return part["drafts"] if isinstance(part.get("drafts"), dict) else {}


def _place(part: Parsed, place: str) -> str:
    """Of what a grid varies, the text is what is typed."""
    return "text" if place == "value" and "text" in part else place


def _draft(text: object, fault: object) -> Parsed:
    return {"text": f"{text}"[:LONGEST_TEXT], "fault": f"{fault or _UNREADABLE}"[:LONGEST_LINE]}


_UNREADABLE = "This cannot be read as it stands: type it anew."
_CLUSTERS = ("cluster-means", "cluster-proportions")

# From a schema version to the next: functions on the parsed file.
MIGRATIONS: dict[int, Callable[[Parsed], Parsed]] = {
    1: _names_of_more_than_groups,
    2: _totals_of_strata,
    3: _drafts_with_their_faults,
}


def counted_otherwise(study: Study, version: int) -> str:
    """Which aims of a file of this version have other numbers now, and why; empty where none has."""
    if version >= WHOLE_CLUSTERS:
        return ""
    other = [aim.name for aim in study.aims if _was_normal(aim)]
    if not other:
        return ""
    are = "are" if len(other) > 1 else "is"
    return (
        f"{listed(other)} {are} now counted in whole clusters and by the t distribution; earlier versions took the "
        "normal distribution, and fractions of clusters in strata. Choose z as the test to have that one again."
    )


def _was_normal(aim: Aim) -> bool:
    """Whether it left to the program which distribution and sizes to take, where these were others."""
    entries = aim.entries
    if aim.design not in _CLUSTERS or entries.get("sizes") is not None:
        return False
    return "strata" in entries or (aim.design == "cluster-proportions" and "distribution" not in entries)
