"""The assumptions of an aim as a table: value, plausible range and source, every number with what it stands for."""

from __future__ import annotations

from typing import Any

from ragwort.designs import Design, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.phrases import UNRANGED
from ragwort.report.sections.calculated import stated_values
from ragwort.report.tree import Block, Bullets, Table
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import idle_names
from ragwort.study.words.naming import label_of, names_of, names_of_numbers
from ragwort.study.words.numbers import field_text, number_text, range_text, unit_text, united, value_text, with_unit
from ragwort.study.words.provenance import source_words


def assumption_blocks(aim: Aim, design: Design) -> list[Block]:
    """The table, and the notes on what it holds."""
    return [_assumption_table(aim), *_notes(aim, design)] if planned_assumptions(aim) else []


def _assumption_table(aim: Aim) -> Table:
    values = stated_values(aim)
    rows = [_assumption_rows(aim, each, values[each.name]) for each in planned_assumptions(aim)]
    return _said([row for several in rows for row in several])


def planned_assumptions(aim: Aim) -> list[Assumption]:
    """What the size rests on: no choices, no level, power or size, nothing that is as it is by default."""
    design = design_named(aim.design)
    apart = {name for way in design.sizes for name in way.names} | UNRANGED
    values, unused = stated_values(aim), design.unused_names(aim.find) | idle_names(design, aim) | apart
    return [
        each
        for each in design.assumptions
        if each.in_ledger
        and not each.chosen
        and each.group != "Looks"  # which a paragraph of their own tells
        and each.name not in unused
        and values.get(each.name) not in (None, each.default)
        and not _other_way(aim, design, each.name)
    ]


def planning_values(aim: Aim) -> list[tuple[str, str, str, str]]:
    """Label, value, plausible range and source of what the size rests on."""
    found, values = [], stated_values(aim)
    for assumption in planned_assumptions(aim):
        first, *more = _assumption_rows(aim, assumption, values[assumption.name])
        found.append((first[0], "; ".join([first[1], *(row[1] for row in more)]), first[2], first[3]))
    return found


_CAPTIONS = {  # by whether a plausible range and a source is said of any
    (True, True): "Planning values, plausible ranges and sources",
    (True, False): "Planning values and plausible ranges",
    (False, True): "Planning values and sources",
    (False, False): "Planning values",
}


def _said(rows: list[tuple[str, ...]]) -> Table:
    """The table, without a column in which nothing would stand."""
    head = ("Planning value", "Value", "Plausible range", "Source")
    filled = [at for at in range(len(head)) if at < 2 or any(row[at] for row in rows)]
    kept = tuple(tuple(row[at] for at in filled) for row in rows)
    numbers = (1, 2) if 2 in filled else (1,)
    return Table(_CAPTIONS[2 in filled, 3 in filled], tuple(head[at] for at in filled), kept, numbers)


def _other_way(aim: Aim, design: Design, name: str) -> bool:
    """Whether a quantity is stated in another way than by this assumption."""
    stated = {name for name, entry in aim.entries.items() if entry.value is not None}
    return any(name in way.names for ways in design.ways for way in ways) and name not in stated


def _assumption_rows(aim: Aim, assumption: Assumption, value: Any) -> list[tuple[str, ...]]:
    """A row; of records, and of a table, one for each of theirs, the first of which is labelled."""
    entry = aim.entry(assumption.name)
    if assumption.kind in ("records", "table"):
        line = _record_words if assumption.kind == "records" else _table_words
        texts = [line(aim, assumption, at, each) for at, each in enumerate(value)]
    else:
        texts = [_told_value(aim, assumption, value)]
    texts[0] = f"{texts[0]}: {entry.terms}" if entry.terms else texts[0]
    plausible = range_text(assumption, entry.low, entry.high)
    first = (label_of(assumption, aim), texts[0], plausible, _source(aim, assumption))
    return [first, *(("", text, "", "") for text in texts[1:])]


def _told_value(aim: Aim, assumption: Assumption, value: Any) -> str:
    """A value in words; of several numbers, what each stands for: `usual 412, brighter 398 ms`."""
    if assumption.chosen:
        return value_text(assumption, value)
    if assumption.numbers_of:
        return names_of_numbers(assumption, aim) or value_text(assumption, value)
    if assumption.kind == "list":
        return _list_words(aim, assumption, value)
    return with_unit(assumption, value, aim.words.unit)


def _list_words(aim: Aim, assumption: Assumption, numbers: list[float]) -> str:
    names = names_of(aim, assumption.row_names) if assumption.row_names else ()
    unit = aim.words.unit if assumption.each_measured else unit_text(assumption, aim.words.unit)
    if len(names) != len(numbers):
        return united(value_text(assumption, numbers), unit)
    return united(", ".join(f"{name} {number_text(each)}" for name, each in zip(names, numbers, strict=True)), unit)


def _record_words(aim: Aim, assumption: Assumption, at: int, record: Any) -> str:
    names = names_of(aim, assumption.row_names) if assumption.row_names else ()
    parts = [f"{_equals(field.label)}{field_text(field, record.get(field.name))}" for field in assumption.fields]
    return f"{names[at]}: {', '.join(parts)}" if at < len(names) else ", ".join(parts)


def _equals(label: str) -> str:
    """A symbol equals its value: `f = 0.25`; what has a name is it: `mean size 8`."""
    return f"{label} = " if len(label) == 1 else f"{label} "


def _table_words(aim: Aim, assumption: Assumption, at: int, numbers: Any) -> str:
    """One line of a table: `usual: coffee 0.14, tea 0.18`."""
    names, columns = names_of(aim, assumption.row_names), names_of(aim, assumption.column_names)
    parts = [f"{name} {number_text(each)}" for name, each in zip(columns, numbers, strict=True)]
    return f"{names[at]}: {', '.join(parts)}"


def _source(aim: Aim, assumption: Assumption) -> str:
    words = source_words(aim, assumption)
    if aim.entry(assumption.name).example:
        return "example value, not confirmed"
    return words if words.startswith("was ") else words.removeprefix("from ")


def _notes(aim: Aim, design: Design) -> list[Block]:
    """Of those whose reason the paragraph does not give."""
    noted = [
        f"{label_of(assumption, aim)}: {aim.entry(assumption.name).note}"
        for assumption in design.assumptions
        if aim.entry(assumption.name).note and assumption.name not in design.justified_names()
    ]
    return [Bullets(tuple(noted))] if noted else []
