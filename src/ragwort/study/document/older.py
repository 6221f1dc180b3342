"""Files of earlier versions: how they are read now, and what of them is counted otherwise than it was."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from ragwort.designs.saying import listed
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study

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


_CLUSTERS = ("cluster-means", "cluster-proportions")

# From a schema version to the next: functions on the parsed file.
MIGRATIONS: dict[int, Callable[[Parsed], Parsed]] = {1: _names_of_more_than_groups, 2: _totals_of_strata}


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
