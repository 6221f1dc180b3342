"""Two designs side by side on the same assumptions: what each needs, and what the difference buys."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from ragwort.designs import Design, RequestError, settle
from ragwort.designs.assumption import SIDES
from ragwort.designs.design import in_running_text
from ragwort.study.edits import carried_values
from ragwort.study.words.numbers import count_text, with_unit


@dataclass(frozen=True)
class Side:
    """One of the two."""

    design: Design
    total: int | None  # participants (pairs are counted as they are); None without an answer
    words: str  # the number with its words, or why there is none
    buys: str
    taken: str = ""  # what was taken over from the other's assumptions, in this design's own
    others: str = ""  # what its other tests would need, where there is a choice of tests


@dataclass(frozen=True)
class Beside:
    """Both, and the difference in one sentence."""

    sides: tuple[Side, Side]
    shared: tuple[str, ...]  # labels of the assumptions that both work with
    says: str


def beside(one: Design, other: Design, values: dict[str, Any]) -> Beside:
    """Two designs with `values` as far as each takes them, and their starting values for the rest."""
    first, second = (_side(design, values) for design in (one, other))
    both = {a.name for a in one.assumptions} & {a.name for a in other.assumptions} & set(values)
    shared = tuple(in_running_text(one.assumption(name).label) for name in values if name in both)
    return Beside((first, second), shared, _says(first, second))


def _side(design: Design, values: dict[str, Any]) -> Side:
    given = {name: value for name, value in carried_values(values, design).items() if name not in _sizes(design)}
    try:
        answer = settle(design, "n", given)
    except RequestError as error:
        return Side(design, None, error.message, design.buys)
    taken = {name: value for name, value in design.borrowed(values).items() if name not in values}
    with_them = ", ".join(
        f"{in_running_text(design.assumption(name).label)} {with_unit(design.assumption(name), value, '')}"
        for name, value in taken.items()
    )
    words = f"{count_text(answer.total)} {design.people[1]}"
    return Side(design, answer.total, words, design.buys, with_them, _by_other_tests(design, given))


def _by_other_tests(design: Design, given: dict[str, Any]) -> str:
    """The n of each other test that the design has a choice of; one that has no answer is left out."""
    test = next((a for a in design.assumptions if a.kind == "choice" and a.group == "Error rates" and a != SIDES), None)
    if test is None:
        return ""
    used, found = given.get(test.name, design.default_choice(test.name, given)), []
    for choice in test.choices:
        if choice.value != used:
            with suppress(RequestError):
                answer = settle(design, "n", {**given, test.name: choice.value})
                found.append(f"{choice.words or choice.label} {count_text(answer.total)}")
    return ", ".join(found)


def _sizes(design: Design) -> set[str]:
    return {name for way in design.sizes for name in way.names}


def _says(first: Side, second: Side) -> str:
    if first.total is None or second.total is None:
        return "Without an answer to both there is nothing to compare."
    if first.design.people != second.design.people:
        return f"{_asks(first)}; {in_running_text(_asks(second))}."
    if first.total == second.total:
        return "Both ask for the same number."
    fewer, more = sorted((first, second), key=lambda side: side.total or 0)
    less = count_text((more.total or 0) - (fewer.total or 0))
    return (
        f"{fewer.design.short_title} asks for {less} fewer than {in_running_text(more.design.short_title)} on "
        "these assumptions."
    )


def _asks(side: Side) -> str:
    return f"{side.design.short_title} asks for {count_text(side.total or 0)} {side.design.people[1]}"
