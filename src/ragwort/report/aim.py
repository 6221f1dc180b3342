"""What the report says of one aim, section by section."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache, partial

from ragwort.designs import Answer, Design, design_named
from ragwort.designs.remarks import is_general
from ragwort.figures.pictures import Scene, reported
from ragwort.report.arranged import arranged
from ragwort.report.assumed import assumption_blocks
from ragwort.report.calculated import error_blocks, hypothesis_blocks, method_blocks, stated_values
from ragwort.report.coverage import coverage_blocks, first_covered, places
from ragwort.report.grids import grid_blocks
from ragwort.report.rehearsals import rehearsal_blocks
from ragwort.report.tree import Block, Bullets, FigureBlock, Heading, Paragraph, Table
from ragwort.study.breakdown import breakdown_of
from ragwort.study.found import reached_text
from ragwort.study.model import Aim, Scenario, Study
from ragwort.study.naming import cluster_word, in_study_words, names_of
from ragwort.study.numbers import count_text, decimals_text
from ragwort.study.outcome import Outcome, Problem, Settled, key_of, outcome_of, to_enrol
from ragwort.study.progress import progress_of
from ragwort.study.resources import limit_of
from ragwort.study.scenarios import answer_words, counted_words, difference_words
from ragwort.study.sentence import plain_text, sentence_of, size_remark
from ragwort.study.writing import SECTIONS

_KEPT = 128  # chapters


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


def aim_blocks(study: Study, given: Aim, number: int) -> tuple[Block, ...]:
    """A chapter on an aim: its sections in the report's order, or why there is no answer.

    What was written lately is at hand: of a study of many aims an edit changes one.
    """
    return _chapter(_Asked(study, given, number))


@dataclass(frozen=True, eq=False)
class _Asked:
    """A chapter that is asked for; the same as another where all that goes into it is."""

    study: Study
    given: Aim
    number: int

    def _key(self) -> tuple[object, ...]:
        study, first = self.study, first_covered(self.study)
        beside = (first and (first.name, study.aims.index(first)), places(first)) if first != self.given else ()
        return self.given, self.number, study.limit, study.resources, study.writing, beside

    def __hash__(self) -> int:
        return hash((self.given.id, self.number))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Asked) and self._key() == other._key()


@lru_cache(maxsize=_KEPT)
def _chapter(asked: _Asked) -> tuple[Block, ...]:
    study, given = asked.study, asked.given
    aim = given.as_planned()
    outcome = outcome_of(aim)
    number = f"Aim {asked.number}"
    heading = Heading(aim.name if aim.name == number else f"{number}: {aim.name}", 2)
    if isinstance(outcome, Problem):
        return heading, Paragraph(f"There is no answer yet. {outcome.message}", "problem")
    told = Told(study, given, aim, outcome)
    made = {name: partial(make, told) for name, make in _MADE.items()}
    return heading, *arranged(study.writing, SECTIONS, given.texts, made, 3)


def _size(told: Told) -> list[Block]:
    said = Paragraph(statement(told.aim, told.answer), "statement")
    return [said, _answer_table(told.aim, told.design, told.answer), *_strata(told.aim, told.answer)]


def _validity(told: Told) -> list[Block]:
    """What must hold of the data, how far the formula is exact, and what the answer says of itself."""
    notes = [Paragraph(note, "quiet") for note in told.answer.notes if not is_general(note)]
    needs = tuple(in_study_words(told.aim, need) for need in told.design.data_assumptions)
    return [Bullets(needs), Paragraph(told.design.accuracy(stated_values(told.aim))), *notes]


def statement(aim: Aim, outcome: Outcome) -> str:
    """The sample-size statement: the sentence with its remark, and the outcome's name."""
    about = f"Outcome: {aim.words.outcome}. " if aim.words.outcome else ""
    remark = size_remark(aim, outcome, joined=True)
    return f"{about}{plain_text(sentence_of(aim, outcome), joined=True)} {remark}".strip()


def _strata(aim: Aim, answer: Answer) -> list[Block]:
    table = breakdown_of(aim, answer)
    if table is None:
        return []
    numbers = tuple(range(1, len(table.head)))
    caption = f"By stratum of {cluster_word(aim)}, not rounded. {table.note}"
    return [Table(caption, table.head, table.rows, numbers)]


def _answer_table(aim: Aim, design: Design, answer: Answer) -> Table:
    names = names_of(aim, "groups") if len(answer.groups) > 1 and not answer.counted else ()
    head = ("", *names, "In all")
    analysed = _analysed(answer, bool(names))
    rows = [analysed]
    if answer.enrol:
        enrolled = [count_text(size) for size in answer.enrol] if names else []
        rows.append(("Enrolled, dropout allowed for", *enrolled, count_text(to_enrol(answer))))
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
        rows.append((_with_capital(cluster_word(aim)), *by_arm))
    caption = f"{_with_capital(counted_words(aim, answer))} needed"
    return Table(caption, head, tuple(rows), tuple(range(1, len(head))))


def _analysed(answer: Answer, by_group: bool) -> tuple[str, ...]:
    if answer.planned:
        sizes = [decimals_text(size, 1) for size in answer.planned] if by_group else []
        return "Analysed, not rounded", *sizes, decimals_text(sum(answer.planned), 1)
    return "Analysed", *([count_text(size) for size in answer.groups] if by_group else []), count_text(answer.total)


def _with_capital(words: str) -> str:
    """With a capital at the start; those that it has it keeps: ICU nurses."""
    return f"{words[:1].upper()}{words[1:]}"


def _figures(aim: Aim, answer: Answer, limit: int | None) -> list[Block]:
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
    head = ("Scenario", "Differs in", "Found", "Analysed", "Power")
    return [
        *_why_planned(planned),
        Table("What other assumptions would ask for", head, tuple(rows), (3, 4)),
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


_MADE: Mapping[str, Callable[[Told], list[Block]]] = {
    "size": _size,
    "hypotheses": lambda told: hypothesis_blocks(told.aim),
    "assumptions": lambda told: assumption_blocks(told.aim, told.design),
    "method": lambda told: method_blocks(told.aim, told.answer),
    "errors": lambda told: error_blocks(told.aim, told.answer),
    "validity": _validity,
    "pictures": lambda told: _figures(told.aim, told.answer, limit_of(told.study, told.aim, told.answer)),
    "scenarios": lambda told: _scenarios(told.aim, told.given, told.answer),
    "grid": lambda told: grid_blocks(told.study, told.aim, told.answer),
    "rehearsal": lambda told: rehearsal_blocks(told.aim),
    "guidelines": lambda told: coverage_blocks(told.study, told.given),
}
