"""What the report says of one aim, section by section."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache, partial

from ragwort.base.wording import capital
from ragwort.designs import Answer, Design, design_named
from ragwort.designs.remarks import is_general
from ragwort.figures.pictures import Scene, reported
from ragwort.report.sections.arranged import arranged
from ragwort.report.sections.assumed import assumption_blocks
from ragwort.report.sections.calculated import error_blocks, hypothesis_blocks, method_blocks, stated_values
from ragwort.report.sections.coverage import coverage_blocks, first_covered, places
from ragwort.report.sections.grids import grid_blocks
from ragwort.report.sections.interim import interim_blocks
from ragwort.report.sections.outcome_units import in_outcome_units
from ragwort.report.sections.protocol import missing_sources, paragraph, planning_words, sensitivity_words
from ragwort.report.sections.rehearsals import rehearsal_blocks
from ragwort.report.tree import Block, Bullets, FigureBlock, Heading, Paragraph, Table
from ragwort.study.document.aim import Aim, Scenario
from ragwort.study.document.model import Study
from ragwort.study.document.writing import PARTS, SECTIONS, is_shown
from ragwort.study.results.breakdown import breakdown_of
from ragwort.study.results.outcome import Problem, Settled, key_of, outcome_of, to_enrol
from ragwort.study.results.progress import progress_of
from ragwort.study.results.resources import limit_of
from ragwort.study.results.sensitivity import alternatives
from ragwort.study.sharing.family import role_told
from ragwort.study.words.found import reached_text
from ragwort.study.words.naming import cluster_word, in_study_words, names_of
from ragwort.study.words.numbers import count_text, decimals_text
from ragwort.study.words.protocol import taken_in
from ragwort.study.words.recruiting import allowance, more_clusters
from ragwort.study.words.scenarios import answer_words, counted_words, difference_words
from ragwort.study.words.sentence import by_group

_KEPT = 512  # parts of chapters
_FEW = 3  # aims that are all written with tables


@dataclass(frozen=True)
class Told:
    """An aim that is written up: as it stands, as it is planned, and with its answer."""

    study: Study
    given: Aim
    aim: Aim
    answer: Answer

    @property
    def design(self) -> Design:
        """The aim's design."""
        return design_named(self.aim.design)

    @property
    def whole(self) -> bool:
        """Whether it is written with tables."""
        return is_whole(self.study, self.given)

    @property
    def needs_table(self) -> bool:
        """Whether a table says of the sizes what the paragraph does not: unequal groups, strata, what is there."""
        answer, so_far = self.answer, self.aim.so_far
        uneven = len(set(answer.groups)) > 1 or bool(answer.planned) or bool(more_clusters(self.aim, answer))
        return not answer.counted and (uneven or (so_far is not None and any(so_far.counts)))


def aim_blocks(study: Study, given: Aim, number: int, chapter: str) -> tuple[Block, ...]:
    """What a chapter says of an aim, its sections in the report's order, or why there is no answer.

    What was written lately is at hand: of a study of many aims an edit changes one.
    """
    return _part(_Asked(study, given, number, chapter))


@dataclass(frozen=True, eq=False)
class _Asked:
    """A part of a chapter that is asked for; the same as another where all that goes into it is."""

    study: Study
    given: Aim
    number: int
    chapter: str

    def _key(self) -> tuple[object, ...]:
        study, first = self.study, first_covered(self.study)
        beside = (first and (first.name, study.aims.index(first)), places(study, first)) if first != self.given else ()
        whole = is_whole(study, self.given), is_leading(study, self.given)
        own = self.given, self.number, self.chapter, whole, role_told(study, self.given)
        return *own, study.limit, study.resources, study.writing, study.protocol, beside

    def __hash__(self) -> int:
        return hash((self.given.id, self.number, self.chapter))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Asked) and self._key() == other._key()


@lru_cache(maxsize=_KEPT)
def _part(asked: _Asked) -> tuple[Block, ...]:
    study, given, chapter = asked.study, asked.given, asked.chapter
    aim = given.as_planned()
    outcome = outcome_of(aim)
    heading = Heading(_title(given, asked.number, role_told(study, given)), 3, asked.number if chapter == "aims" else 0)
    if isinstance(outcome, Problem):
        if chapter != "aims":
            return ()
        return heading, Paragraph(f"There is no answer yet. {outcome.message}", "problem")
    told = Told(study, given, aim, outcome)
    made = {name: partial(_MADE[name], told) for name in PARTS[chapter]}
    names = {name: SECTIONS[name] for name in PARTS[chapter]}
    level = 4 if chapter == "further" else 0
    inside = arranged(study.writing, names, given.texts, made, level)
    whose = [replace(each, aim=asked.number) if isinstance(each, FigureBlock) else each for each in inside]
    return (heading, *whose) if inside else ()


def _title(aim: Aim, number: int, role: str) -> str:
    lead = f"{role.capitalize()} aim" if role else f"Aim {number}"
    return aim.name if aim.name in (lead, f"Aim {number}") else f"{lead}: {aim.name}"


def is_leading(study: Study, aim: Aim) -> bool:
    """Whether an aim has a figure: a primary one; the first of those that nobody has told apart yet."""
    told_apart = any(each.role for each in study.aims)
    return not aim.role if told_apart else aim.id == study.aims[0].id


def is_whole(study: Study, aim: Aim) -> bool:
    """Whether an aim is written with tables: a primary one, or one of few; the others in running text."""
    return len(study.aims) <= _FEW or is_leading(study, aim)


def _size(told: Told) -> list[Block]:
    follows = is_shown(told.study.writing, "sensitivity")
    role = role_told(told.study, told.given)
    committee = told.study.protocol.committee
    taken = taken_in(told.study)
    text = paragraph(told.aim, told.answer, at_worst=not follows, role=role, taken=taken, committee=committee)
    said = Paragraph(text, "statement" if told.whole else "body")
    table = [_answer_table(told.aim, told.design, told.answer, taken)] if told.needs_table else []
    return [said, *table, *_strata(told.aim, told.answer), *interim_blocks(told.study, told.aim, told.answer)]


def _planning(told: Told) -> list[Block]:
    unit = in_outcome_units(told.study, told.aim)
    if told.whole:
        return [*assumption_blocks(told.aim, told.design), *([Paragraph(unit)] if unit else [])]
    words = " ".join(part for part in (planning_words(told.aim), unit) if part)
    return [Paragraph(words)] if words else []


def _sensitivity(told: Told) -> list[Block]:
    """What the ends of the plausible ranges would ask for."""
    found = alternatives(told.aim)
    if not found:
        return []
    if not told.whole:
        return [Paragraph(sensitivity_words(told.aim, 2, taken_in(told.study)))]
    rows = [("As planned", *_sizes(told.aim, told.answer))]
    rows += [(_without_article(words), *_sizes(told.aim, each)) for words, each in found[:6]]
    recruited = told.answer.enrol
    head = ("If instead", "Analysed", *((f"To be {taken_in(told.study)}",) if recruited else ()))
    return [Table("Sensitivity analysis", head, tuple(rows), tuple(range(1, len(head))))]


def _without_article(words: str) -> str:
    return capital(words.removeprefix("a ").removeprefix("an "))


def _sizes(aim: Aim, answer: Answer) -> tuple[str, ...]:
    analysed = count_text(answer.total)
    if len(answer.groups) > 1 and not answer.counted and "clusters" not in answer.n_more:
        analysed = f"{analysed} ({by_group(answer.groups, aim)})"
    return (analysed, *((count_text(to_enrol(answer)),) if answer.enrol else ()))


def _validity(told: Told) -> list[Block]:
    """What must hold of the data, how far the formula is exact, what the answer says, which sources are missing."""
    notes = [in_study_words(told.aim, note) for note in told.answer.notes if not is_general(note)]
    needs = [in_study_words(told.aim, need) for need in told.design.data_assumptions]
    parts = [*needs, told.design.accuracy(stated_values(told.aim)), *notes, missing_sources(told.aim)]
    return [Paragraph(f"Assumptions and limitations. {' '.join(part for part in parts if part)}")]


def _strata(aim: Aim, answer: Answer) -> list[Block]:
    table = breakdown_of(aim, answer)
    if table is None:
        return []
    numbers = tuple(range(1, len(table.head)))
    rounded = f", not rounded. {table.note}" if table.note else "."
    caption = f"By stratum of {cluster_word(aim)}{rounded}"
    return [Table(caption, table.head, table.rows, numbers)]


def _answer_table(aim: Aim, design: Design, answer: Answer, taken: str) -> Table:
    names = names_of(aim, "groups") if len(answer.groups) > 1 and not answer.counted else ()
    head = ("", *names, "Total")
    analysed = _analysed(answer, bool(names))
    rows = [analysed]
    if answer.enrol:
        enrolled = [count_text(size) for size in answer.enrol] if names else []
        rows.append((f"To be {taken} ({allowance(aim)})", *enrolled, count_text(to_enrol(answer))))
    if aim.so_far is not None and any(aim.so_far.counts):
        stages = progress_of(aim, answer).stages
        for words, counts in (
            ("With an outcome so far", [stage.so_far for stage in stages]),
            ("Still needed", [stage.more for stage in stages]),
        ):
            rows.append((words, *([count_text(each) for each in counts] if names else []), count_text(sum(counts))))
    if "clusters" in answer.n_more:
        clusters = answer.n_more["clusters"]
        by_arm = [count_text(number) for number in (*clusters, sum(clusters))]
        rows.append((capital(cluster_word(aim)), *by_arm))
        if more_clusters(aim, answer):
            recruited = answer.n_more["enrol_clusters"]
            by_arm = [count_text(number) for number in (*recruited, sum(recruited))]
            rows.append((f"{capital(cluster_word(aim))} to be {taken}", *by_arm))
    caption = f"Sample size ({counted_words(aim, answer)})"
    return Table(caption, head, tuple(rows), tuple(range(1, len(head))))


def _analysed(answer: Answer, by_group: bool) -> tuple[str, ...]:
    if answer.unrounded:
        sizes = [decimals_text(size, 1) for size in answer.planned] if by_group else []
        return "Analysed, not rounded", *sizes, decimals_text(sum(answer.planned), 1)
    return "Analysed", *([count_text(size) for size in answer.groups] if by_group else []), count_text(answer.total)


def _figure(told: Told) -> list[Block]:
    """The first figure of a leading aim, unless all are written."""
    if not is_leading(told.study, told.given) or is_shown(told.study.writing, "pictures"):
        return []
    return _figures(told)[:1]


def _figures(told: Told) -> list[Block]:
    aim, answer = told.aim, told.answer
    limit = limit_of(told.study, aim, answer)
    return [
        FigureBlock(picture, f"{words} {picture.words_for('caption')}")
        for words, picture in reported(Scene(aim, answer, limit))
    ]


def _scenarios(aim: Aim, now: Aim, answer: Answer) -> list[Block]:
    """What was considered beside the plan: `now` is the aim as it stands, which may be one of them."""
    if not aim.scenarios:
        return []
    planned = aim.planned_scenario
    rows = [_scenario_row(aim, "As planned" if planned is None else f"As planned: {planned.name}", answer, "")]
    if key_of(now) != key_of(aim):
        rows.append(_scenario_row(aim, "As it stands now", outcome_of(now), difference_words(aim, now)))
    for kept in (each for each in aim.scenarios if each != planned):
        rows.append(_scenario_row(aim, kept.name, outcome_of(aim, kept), difference_words(aim, kept)))
    head = ("Scenario", "Change", "Result", "Analysed", "Power")
    return [
        *_why_planned(planned),
        Table("Alternative scenarios", head, tuple(rows), (3, 4)),
        *_noted(aim),
    ]


def _why_planned(planned: Scenario | None) -> list[Block]:
    if planned is None:
        return []
    reason = f": {planned.note}" if planned.note else "; no reason is given"
    return [Paragraph(f"Of the scenarios, “{planned.name}” is planned{reason}{'' if reason.endswith('.') else '.'}")]


def _noted(aim: Aim) -> list[Block]:
    """What was said of the others."""
    said = [f"{kept.name}: {kept.note}" for kept in aim.scenarios if kept.note and kept != aim.planned_scenario]
    return [Bullets(tuple(said))] if said else []


def _scenario_row(aim: Aim, name: str, outcome: Settled, differs: str) -> tuple[str, str, str, str, str]:
    number, rest = answer_words(aim, outcome)
    if isinstance(outcome, Problem):
        return name, differs, outcome.message, "—", "—"
    return name, differs or "—", f"{number} {rest}", count_text(outcome.total), reached_text(outcome)


def _grid(told: Told) -> list[Block]:
    """Its rows; its chart where all figures are wanted."""
    found = grid_blocks(told.study, told.aim, told.answer)
    drawn = is_shown(told.study.writing, "pictures")
    return [each for each in found if drawn or not isinstance(each, FigureBlock)]


_MADE: Mapping[str, Callable[[Told], list[Block]]] = {
    "size": _size,
    "hypotheses": lambda told: hypothesis_blocks(told.aim),
    "assumptions": _planning,
    "sensitivity": _sensitivity,
    "method": lambda told: method_blocks(told.aim, told.answer, told.whole),
    "errors": lambda told: error_blocks(told.aim, told.answer),
    "validity": _validity,
    "figure": _figure,
    "pictures": _figures,
    "scenarios": lambda told: _scenarios(told.aim, told.given, told.answer),
    "grid": _grid,
    "rehearsal": lambda told: rehearsal_blocks(told.aim),
    "guidelines": lambda told: coverage_blocks(told.study, told.given),
}
