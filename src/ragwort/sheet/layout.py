"""The collection sheet of an aim: one row a participant, pair, visit or member of a cluster."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import ragwort
from ragwort.base.wording import one_of
from ragwort.designs import Answer, Design, design_named
from ragwort.sheet import allocation
from ragwort.sheet.allocation import Asked, Place, SheetError
from ragwort.sheet.asked import blocks_in, columns_in, factors_in, range_in
from ragwort.sheet.columns import columns_of
from ragwort.sheet.parts import Cell, Listed, Sheet, check_ids, check_pattern, codes, id_of
from ragwort.sheet.ratios import whole_ratio
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.breakdown import clusters_of_strata
from ragwort.study.results.outcome import Problem, clusters_to_enrol, outcome_of, values_with_defaults
from ragwort.study.words.naming import cluster_word, name_at, names_of
from ragwort.study.words.numbers import count_text

MOST_ROWS = 200_000


@dataclass(frozen=True)
class _Row:
    """Somebody to be enrolled: whom, where, in which stratum and arm."""

    id: str
    place: Place
    centre: int = 1
    cluster: str = ""
    visit: int = 0


def arms_of(aim: Aim, design: Design, answer: Answer) -> tuple[str, ...]:
    """The arms that people can be allocated to; the orders of a crossover; none where there is one group."""
    if design.rows == "pair":
        both = names_of(aim, "conditions")
        return tuple(f"{name} first" for name in both[:2])
    count = len(answer.groups)
    if count < 2:
        return ()
    levels = values_with_defaults(aim).get("levels")
    if isinstance(levels, list):
        return tuple(_cell_name(aim, place, [int(each) for each in levels]) for place in range(count))
    return tuple(name_at(aim, "groups", place) for place in range(count))


def _cell_name(aim: Aim, place: int, levels: list[int]) -> str:
    parts = []
    for number in range(len(levels), 0, -1):
        place, level = divmod(place, levels[number - 1])
        parts.append(name_at(aim, f"levels{number}", level))
    return ", ".join(reversed(parts))


def method_of(aim: Aim, design: Design, arms: tuple[str, ...]) -> allocation.Method:
    """How people are allocated: as chosen, or as usual for the design. Raises `SheetError`."""
    chosen = aim.sheet.method
    if chosen and chosen not in allocation.METHODS:
        raise SheetError("method", f"Allocation is {one_of(list(allocation.METHODS))}, not {chosen!r}.")
    if not arms:
        return "none"
    if design.rows == "member":
        return "none" if chosen == "none" else "clusters"
    if chosen == "clusters" or chosen not in allocation.METHODS:
        return "none" if design.rows == "pair" else "blocks"
    return chosen  # type: ignore[return-value]  # one of METHODS


def methods_for(design: Design, arms: tuple[str, ...]) -> list[str]:
    """What can be chosen."""
    if not arms:
        return ["none"]
    if design.rows == "member":
        return ["clusters", "none"]
    return [method for method in allocation.METHODS if method != "clusters"]


def planned_answer(aim: Aim) -> Answer:
    """The answer of the aim as it is planned. Raises `SheetError` where there is none."""
    outcome = outcome_of(aim.as_planned())
    if isinstance(outcome, Problem):
        raise SheetError(outcome.field, f"{outcome.message} A sheet needs an answer first.")
    if outcome.counted:
        raise SheetError(
            outcome.counted,
            f"{count_text(outcome.total)} {outcome.counted} are planned, and a sheet has a row for each person: find "
            "the sample size from the times of recruiting and follow-up.",
        )
    return outcome


def sheet_of(study: Study, aim: Aim) -> Sheet:
    """The sheet as it is asked for. Raises `SheetError`."""
    there, answer = aim.as_planned(), planned_answer(aim)
    for name, draft in aim.sheet.drafts.items():
        raise SheetError(name, draft.fault)
    design = design_named(there.design)
    arms = arms_of(there, design, answer)
    asked = _asked(there, design, answer, arms)
    check_pattern(aim.sheet.pattern)
    rows = list(_rows(study, there, design, answer, asked))
    _refuse_many(len(rows))
    check_ids([row.id for row in rows if row.visit < 2], aim.sheet.pattern)
    return _made(study, there, design, arms, asked, rows)


def _asked(aim: Aim, design: Design, answer: Answer, arms: tuple[str, ...]) -> Asked:
    sizes = answer.enrol or answer.groups
    parts = (1, 1) if design.rows == "pair" else whole_ratio(sizes if len(arms) > 1 else (1,))
    method = method_of(aim, design, arms)
    factors = factors_in(aim.sheet.strata) if method in ("stratified", "minimisation") else ()
    return allocation.checked(Asked(method, parts, blocks_in(aim.sheet.blocks), factors, aim.sheet.seed))


def _rows(study: Study, aim: Aim, design: Design, answer: Answer, asked: Asked) -> Iterator[_Row]:
    if design.rows == "member":
        yield from _members(aim, answer, asked)
        return
    total = sum(answer.enrol or answer.groups)
    visits = int(values_with_defaults(aim)["measurements"]) if design.rows == "visit" else 1
    _refuse_many(total * visits)
    places = allocation.allocated(asked, total)
    centres = min(study.resources.centres or 1, len(places))
    for index, place in enumerate(places):
        centre = 1 + index * centres // len(places)
        words = {"centre": centre, "cluster": "", "stratum": stratum_words(asked, place.stratum)}
        row = _Row(id_of(aim.sheet.pattern, index + 1, words), place, centre)
        for visit in range(1, visits + 1):
            yield replace(row, visit=visit) if design.rows == "visit" else row


def _refuse_many(rows: int) -> None:
    """Raises `SheetError`, before any of them is made."""
    if rows > MOST_ROWS:
        raise SheetError("n", f"{count_text(rows)} rows are too many for a sheet: {count_text(MOST_ROWS)} at most.")


def stratum_words(asked: Asked, stratum: tuple[int, ...]) -> str:
    """`f, under 40`."""
    return ", ".join(factor.levels[level] for factor, level in zip(asked.factors, stratum, strict=False))


def _members(aim: Aim, answer: Answer, asked: Asked) -> Iterator[_Row]:
    """Cluster by cluster; each stratum of clusters is allocated by itself."""
    number = cluster = 0
    lost = design_named(aim.design).enrolment(values_with_defaults(aim))
    within = 1.0 if lost.by_clusters else 1 - float(lost.dropout)
    clusters = [(count, math.ceil(size / within - 1e-9)) for count, size in _clusters(aim, answer)]
    _refuse_many(sum(count * size for count, size in clusters))
    for stratum, (count, size) in enumerate(clusters):
        places = allocation.allocated(replace(asked, seed=asked.seed + stratum), count)
        for place in places:
            cluster += 1
            for _ in range(size):
                number += 1
                words = {"centre": cluster, "cluster": cluster, "stratum": stratum + 1}
                there = replace(place, stratum=(stratum,), block=cluster)
                yield _Row(id_of(aim.sheet.pattern, number, words), there, cluster=str(cluster))


def _clusters(aim: Aim, answer: Answer) -> list[tuple[int, float]]:
    """How many clusters are recruited, and how many of each are analysed, stratum by stratum."""
    values = values_with_defaults(aim)
    strata = values.get("strata")
    if not strata:
        size = answer.answer if answer.find == "cluster_size" else values["cluster_size"]
        return [(clusters_to_enrol(answer), float(size))]
    numbers = [sum(math.ceil(each - 1e-9) for each in of) for of in clusters_of_strata(answer, recruited=True)]
    return [(number, float(stratum["mean_size"])) for number, stratum in zip(numbers, strata, strict=True)]


def _made(study: Study, aim: Aim, design: Design, arms: tuple[str, ...], asked: Asked, rows: list[_Row]) -> Sheet:
    low, high = range_in(aim.sheet.allowed)
    columns = columns_of(study, aim, design, arms, asked, (low, high), columns_in(aim.sheet.columns))
    letters = codes(len(arms))
    cells = tuple(tuple(_cell(aim, asked, arms, letters, row, column.name) for column in columns) for row in rows)
    listed, places = _listed(aim, design, arms, letters, asked, rows)
    properties = allocation.properties_of(places, len(arms)) if arms and asked.method != "none" else None
    strata = {stratum: _stratum_name(aim, design, asked, stratum) for stratum in {place.stratum for place in places}}
    about = tuple(_about(study, aim, design, arms, asked, rows))
    return Sheet(f"{study.title}: {aim.name}", columns, cells, about, tuple(listed), properties, arms, strata)


def _cell(aim: Aim, asked: Asked, arms: tuple[str, ...], letters: tuple[str, ...], row: _Row, name: str) -> Cell:
    """What is filled in already."""
    filled: dict[str, Cell] = {"id": row.id, "centre": row.centre, "visit": _visit(aim, row.visit)}
    filled[cluster_word(aim) or "cluster"] = row.cluster or None
    if arms and aim.sheet.shown:
        filled["allocation"] = (letters if aim.sheet.shown == "codes" else arms)[row.place.arm]
    if asked.method == "stratified":
        levels = zip(asked.factors, row.place.stratum, strict=True)
        filled |= {factor.name: factor.levels[level] for factor, level in levels}
    return filled.get(name)


def _visit(aim: Aim, visit: int) -> Cell:
    return name_at(aim, "times", visit - 1) if visit else None


def _stratum_name(aim: Aim, design: Design, asked: Asked, stratum: tuple[int, ...]) -> str:
    if design.rows == "member":
        return name_at(aim, "strata", stratum[0]) if stratum and values_with_defaults(aim).get("strata") else ""
    return stratum_words(asked, stratum)


def _listed(
    aim: Aim, design: Design, arms: tuple[str, ...], letters: tuple[str, ...], asked: Asked, rows: list[_Row]
) -> tuple[list[Listed], list[Place]]:
    """The list: one line for each who is allocated, clusters once."""
    if not arms or asked.method == "none":
        return [], []
    listed, places, seen = [], [], set()
    for row in rows:
        whom = f"{cluster_word(aim) or 'cluster'} {row.cluster}" if design.rows == "member" else row.id
        if whom in seen:
            continue
        seen.add(whom)
        arm, stratum = row.place.arm, _stratum_name(aim, design, asked, row.place.stratum)
        block = 0 if design.rows == "member" else row.place.block
        listed.append(Listed(whom, arms[arm], letters[arm], stratum, block))
        places.append(row.place)
    return listed, places


def _about(
    study: Study, aim: Aim, design: Design, arms: tuple[str, ...], asked: Asked, rows: list[_Row]
) -> Iterator[tuple[str, str]]:
    """What the codebook says of the whole sheet."""
    what = {
        "participant": f"a {aim.words.one}",
        "pair": f"a {aim.words.one}",
        "visit": f"one measurement of a {aim.words.one}",
        "member": f"a {aim.words.one} of one of the {cluster_word(aim) or 'clusters'}",
    }[design.rows]
    yield "Study", study.title
    yield "Aim", aim.name
    yield "A row is", what
    yield "Rows", f"{count_text(len(rows))}, as many as are to be recruited"
    if arms:
        yield "Allocation", _allocation_words(asked)
        yield "Seed", "kept with the allocation list, not here" if asked.method != "none" else "none"
    yield "Written by", f"Ragwort {ragwort.__version__}"


def _allocation_words(asked: Asked) -> str:
    words = allocation.METHODS[asked.method]
    if asked.method in ("blocks", "stratified", "clusters"):
        return f"{words} whose sizes vary at random"
    if asked.method == "minimisation":
        return f"{words}; this list supposes newcomers whose levels are made up at random"
    return words
