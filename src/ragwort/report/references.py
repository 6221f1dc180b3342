"""The references of a report: each work once, with all the chapters and sections that its aims rest on."""

from __future__ import annotations

import re
from collections.abc import Iterable

from ragwort.designs.saying import listed

_PLACE = re.compile(r"(?P<work>.+?) (?P<kind>Chapter|Section)s? (?P<places>\d[\d., toand]*)\.")
_BETWEEN = re.compile(r", | and ")


def each_work_once(references: Iterable[str]) -> list[str]:
    """The references without repeats, in their order; places in one work come together: `Chapters 2, 6 and 8.`"""
    works: dict[str, dict[str, set[str]]] = {}
    for reference in references:
        found = _PLACE.fullmatch(reference)
        places = works.setdefault(found["work"] if found else reference, {})
        if found:
            places.setdefault(found["kind"], set()).update(_BETWEEN.split(found["places"]))
    return [f"{work} {_in_words(places)}" if places else work for work, places in works.items()]


def _in_words(places: dict[str, set[str]]) -> str:
    """`Chapters 2 to 4 and 9; section 13.1.`"""
    parts = []
    for kind, numbers in places.items():
        several = len(numbers) > 1 or any(" to " in each for each in numbers)
        parts.append(f"{kind}{'s' * several} {listed(sorted(numbers, key=_place))}")
    first, *rest = parts
    return f"{'; '.join([first, *(part.lower() for part in rest)])}."


def _place(number: str) -> list[float]:
    """By which places are ordered."""
    return [float(part) for part in re.findall(r"\d+", number)]
