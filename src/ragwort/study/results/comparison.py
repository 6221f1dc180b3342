"""The aim and its kept scenarios side by side: assumptions as rows, what differs marked, and what each finds."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.study.document.aim import Aim, Scenario, Setting
from ragwort.study.document.study_wide import Resources
from ragwort.study.results.outcome import Outcome, to_enrol, value_in_force
from ragwort.study.results.resources import amount_text, cost_of, money_text, months_for, rounded_up
from ragwort.study.words.expected import half_width_text
from ragwort.study.words.found import found_text, reached_text
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import count_text, value_text, with_unit
from ragwort.study.words.scenarios import changed_since

DASH = "—"
NOW, NOTE = "Now", "Note"
NOTHING = Resources()


@dataclass(frozen=True)
class Row:
    """One line of the comparison, a cell for each column."""

    label: str
    cells: tuple[str, ...]
    found: bool = False  # what an answer says, not an assumption

    def differs(self, column: int) -> bool:
        """Whether a scenario differs here from the aim as it stands."""
        return self.cells[column] != self.cells[0]


@dataclass(frozen=True)
class Comparison:
    """The columns are the aim as it stands and its scenarios, in their order."""

    heads: tuple[str, ...]
    rows: tuple[Row, ...]

    def table(self) -> list[list[object]]:
        """A heading row and one for each line, for a file."""
        head: list[object] = ["", *self.heads]
        lines: list[list[object]] = [
            [row.label, *(cell.replace("\u00a0", " ") for cell in row.cells)] for row in self.rows
        ]
        return [head, *lines]


def comparison_of(aim: Aim, outcomes: Sequence[Outcome], has: Resources = NOTHING) -> Comparison:
    """`outcomes` are that of the aim and those of its scenarios, in their order; `has` says what they cost."""
    settings: list[Setting] = [aim, *aim.scenarios]
    design = design_named(aim.design)
    rows = [_row(aim, each, settings) for each in design.assumptions if each.in_ledger]
    said = [row for row in rows if any(cell != DASH for cell in row.cells)]
    heads = (NOW, *(_head(aim, kept) for kept in aim.scenarios))
    told = [*_answers(aim, outcomes), *_spent(outcomes, has), *_since(aim, outcomes)]
    return Comparison(heads, (*said, *told, Row(NOTE, ("", *(kept.note for kept in aim.scenarios)), found=True)))


def _head(aim: Aim, kept: Scenario) -> str:
    return f"{kept.name} (planned)" if kept == aim.planned_scenario else kept.name


def _spent(outcomes: Sequence[Outcome], has: Resources) -> list[Row]:
    """What each costs and how long it takes to recruit, as far as that is known."""

    def cells(say: Callable[[Answer], str]) -> tuple[str, ...]:
        return tuple(say(each) if isinstance(each, Answer) else DASH for each in outcomes)

    def cost(answer: Answer) -> str:
        found = cost_of(has, answer)
        return DASH if found is None else money_text(found, has)

    def months(answer: Answer) -> str:
        found = months_for(has, to_enrol(answer))
        return DASH if found is None else amount_text(rounded_up(found))

    rows = [Row("Cost", cells(cost), found=True), Row("Months to recruit", cells(months), found=True)]
    return [row for row in rows if set(row.cells) != {DASH}]


def _since(aim: Aim, outcomes: Sequence[Outcome]) -> list[Row]:
    """Where today's answer differs from that of the day it was kept, what that was."""
    kept = zip(aim.scenarios, outcomes[1:], strict=True)
    cells = (DASH, *(changed_since(aim, each, outcome) or DASH for each, outcome in kept))
    return [Row("Another answer", cells, found=True)] if set(cells) != {DASH} else []


def _row(aim: Aim, assumption: Assumption, settings: Sequence[Setting]) -> Row:
    return Row(label_of(assumption, aim), tuple(_cell(aim, assumption, each) for each in settings))


def _cell(aim: Aim, assumption: Assumption, setting: Setting) -> str:
    """A value in words; a dash where it is found, has no say, or was never stated."""
    if assumption.name in design_named(aim.design).unused_names(setting.find):
        return DASH
    value = value_in_force(aim, assumption.name, setting)
    if value is None:
        return DASH
    return value_text(assumption, value) if assumption.chosen else with_unit(assumption, value, aim.words.unit)


def _answers(aim: Aim, outcomes: Sequence[Outcome]) -> list[Row]:
    """What each finds, how many that is, and with what power."""
    design, unit = design_named(aim.design), aim.words.unit
    labels = [
        label_of(design.assumption(design.unknown_of(each.find, each.values())), aim) for each in (aim, *aim.scenarios)
    ]

    def found(at: int, answer: Answer) -> str:
        text = found_text(answer, unit)
        return text if labels[at] == labels[0] else f"{labels[at]} {text}"

    def row(label: str, say: Callable[[int, Answer], str]) -> Row:
        cells = (say(at, each) if isinstance(each, Answer) else DASH for at, each in enumerate(outcomes))
        return Row(label, tuple(cells), found=True)

    return [
        row(f"Found: {labels[0].lower()}", found),
        row(f"{aim.words.many.capitalize()} analysed", lambda _, answer: _groups(answer)),
        row("To enrol", lambda _, answer: count_text(to_enrol(answer))),
        row("Power reached", lambda _, answer: reached_text(answer)),
        row("Interval expected", lambda _, answer: _interval(answer, unit)),
    ]


def _interval(answer: Answer, unit: str) -> str:
    """The confidence interval that goes with the test: `± 8.4 ms`."""
    return DASH if answer.interval is None else half_width_text(answer.interval, unit)


def _groups(answer: Answer) -> str:
    """`128 (64 + 64)`."""
    total = count_text(answer.total)
    return total if len(answer.groups) == 1 else f"{total} ({' + '.join(map(count_text, answer.groups))})"
