"""What the report of a study says."""

from __future__ import annotations

import json

import ragwort
from ragwort.designs import Answer, Design, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.designs.saying import listed
from ragwort.figures.pictures import Scene, reported
from ragwort.report.coverage import coverage_blocks
from ragwort.report.grids import grid_blocks
from ragwort.report.rehearsals import rehearsal_blocks
from ragwort.report.together import together_blocks
from ragwort.report.tree import Block, Bullets, Code, Document, FigureBlock, Heading, Paragraph, Table
from ragwort.study.breakdown import breakdown_of
from ragwort.study.found import power_text
from ragwort.study.model import Aim, Scenario, Study
from ragwort.study.naming import cluster_word, label_of, names_of
from ragwort.study.numbers import count_text, range_text, value_text, with_unit
from ragwort.study.outcome import (
    Outcome,
    Problem,
    Settled,
    key_of,
    outcome_of,
    request_of,
    to_enrol,
    trouble_of,
    values_with_defaults,
)
from ragwort.study.overview import Needs, needs_of
from ragwort.study.progress import progress_of
from ragwort.study.provenance import examples_of, source_words, with_examples
from ragwort.study.resources import limit_of, spent_words
from ragwort.study.scenarios import answer_words, difference_words
from ragwort.study.sentence import plain_text, sentence_of, size_remark


def report_of(study: Study) -> Document:
    """The whole report."""
    for aim in study.aims:
        outcome_of(aim, aim.planned_scenario)  # worked out once; from here on at hand
    blocks: list[Block] = [Heading(study.title, 1)]
    if study.background:
        blocks.append(Paragraph(study.background))
    blocks.extend(_examples(study))
    blocks.extend(_overview(study))
    blocks.extend(together_blocks(study))
    for number, aim in enumerate(study.aims, start=1):
        blocks.extend(_aim_blocks(study, aim, number))
    blocks.extend(_references(study))
    blocks.extend(_reproduce(study))
    return Document(study.title, tuple(blocks))


def _examples(study: Study) -> list[Block]:
    """What nobody has decided on yet is said before anything that follows from it."""
    items = [
        f"{aim.name}: {listed([in_running_text(label_of(each, aim)) for each in examples_of(aim)])}"
        for aim in with_examples(study)
    ]
    if not items:
        return []
    warning = "Not confirmed: these values are examples to start from, and so is what follows from them."
    return [Paragraph(warning, "problem"), Bullets(tuple(items))]


def _overview(study: Study) -> list[Block]:
    needs = needs_of(study)
    if needs is None:
        return [Paragraph("No aim of this study has an answer yet.", "problem")]
    needing = "With example values the study would need" if with_examples(study) else "The study needs"
    text = f"{needing} to enrol {count_text(needs.count)} {needs.many}"
    if len(study.aims) > 1:
        text += f", as many as its most demanding aim asks for ({needs.aim_name})"
    text += _within(needs)
    rows = [_overview_row(aim.as_planned()) for aim in study.aims]
    table = Table("Aims of the study", ("Aim", "Analysed", "Enrolled", "Power"), tuple(rows), (1, 2, 3))
    return [Paragraph(f"{text}.", "statement"), *_spending(study, needs), table]


def _within(needs: Needs) -> str:
    """How the need stands to what can be had; empty where nothing is limited."""
    if needs.bound is None or needs.spare is None:
        return ""
    within = "within" if needs.spare >= 0 else "above"
    if needs.bound.by == "limit":
        return f"; this is {within} the {count_text(needs.bound.count)} that can be had"
    about = "about " if needs.bound.about else ""
    return f"; this is {within} what can be had ({about}{count_text(needs.bound.count)}, by {needs.bound.words})"


def _spending(study: Study, needs: Needs) -> list[Block]:
    """What enrolling so many costs, and how long it takes, as far as that is known."""
    aim = study.aim(needs.aim_id)
    answer = outcome_of(aim, aim.planned_scenario)
    assert isinstance(answer, Answer), "the study's need is that of an answer"
    words = spent_words(study.resources, answer, f"{count_text(needs.count)} {needs.many}")
    return [Paragraph(words)] if words else []


def _overview_row(aim: Aim) -> tuple[str, str, str, str]:
    outcome = outcome_of(aim)
    if isinstance(outcome, Problem):
        return aim.name, "—", "—", "—"
    enrolled = count_text(to_enrol(outcome))
    return aim.name, count_text(outcome.total), enrolled, power_text(outcome.power)


# --- one aim --------------------------------------------------------------------------------------------------


def _aim_blocks(study: Study, given: Aim, number: int) -> list[Block]:
    aim = given.as_planned()
    outcome = outcome_of(aim)
    blocks: list[Block] = [Heading(f"Aim {number}: {aim.name}", 2)]
    if isinstance(outcome, Problem):
        return [*blocks, Paragraph(f"There is no answer yet. {outcome.message}", "problem")]
    design = design_named(aim.design)
    blocks += [
        Heading("Sample size", 3),
        Paragraph(statement(aim, outcome), "statement"),
        _answer_table(aim, design, outcome),
        *_strata(aim, outcome),
        Heading("Assumptions", 3),
        _assumption_table(aim, design),
        *_notes(aim, design),
        Heading("Method", 3),
        Paragraph(f"Power was computed {design.method_text(values_with_defaults(aim) | _stated(aim, design))}"),
        Bullets(design.data_assumptions),
        *(Paragraph(note, "quiet") for note in outcome.notes),
        Heading("Pictures", 3),
        *_figures(aim, outcome, limit_of(study, aim, outcome)),
        *_scenarios(aim, given, outcome),
        *grid_blocks(study, aim, outcome),
        *rehearsal_blocks(aim),
        *coverage_blocks(given),
    ]
    return blocks


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


def _stated(aim: Aim, design: Design) -> dict[str, object]:
    """The choices that the design works out where nothing was chosen."""
    values = aim.values()
    return {
        a.name: design.default_choice(a.name, values)
        for a in design.assumptions
        if a.chosen and a.name not in values and design.default_choice(a.name, values) is not None
    }


def _answer_table(aim: Aim, design: Design, answer: Answer) -> Table:
    names = names_of(aim, "groups") if len(answer.groups) > 1 else ()
    head = ("", *names, "In all")
    by_group = [count_text(size) for size in answer.groups] if names else []
    analysed = ("Analysed", *by_group, count_text(answer.total))
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
    caption = f"{_with_capital(aim.words.many)} needed"
    return Table(caption, head, tuple(rows), tuple(range(1, len(head))))


def _with_capital(words: str) -> str:
    """With a capital at the start; those that it has it keeps: ICU nurses."""
    return f"{words[:1].upper()}{words[1:]}"


def _assumption_table(aim: Aim, design: Design) -> Table:
    rows = []
    unused = design.unused_names(aim.find)
    values = aim.values() | _stated(aim, design)
    for assumption in design.assumptions:
        value = values.get(assumption.name, assumption.default)
        hidden = not assumption.in_ledger or assumption.name in unused or value is None
        if not hidden and not _other_way(aim, design, assumption.name):
            rows.append(_assumption_row(aim, assumption, value))
    head = ("Assumption", "Value", "Plausible", "Source")
    return Table("Assumptions, their plausible ranges and where they come from", head, tuple(rows), (1, 2))


def _other_way(aim: Aim, design: Design, name: str) -> bool:
    """Whether a quantity is stated in another way than by this assumption."""
    stated = {name for name, entry in aim.entries.items() if entry.value is not None}
    return any(name in way.names for ways in design.ways for way in ways) and name not in stated


def _assumption_row(aim: Aim, assumption: Assumption, value: object) -> tuple[str, str, str, str]:
    entry = aim.entry(assumption.name)
    text = value_text(assumption, value) if assumption.chosen else with_unit(assumption, value, aim.words.unit)
    text = f"{text}: {entry.terms}" if entry.terms else text
    return label_of(assumption, aim), text, range_text(assumption, entry.low, entry.high), _source(aim, assumption)


def _source(aim: Aim, assumption: Assumption) -> str:
    words = source_words(aim, assumption)
    if aim.entry(assumption.name).example:
        return "example value, not confirmed"
    return words if words.startswith("was ") else words.removeprefix("from ")


def _notes(aim: Aim, design: Design) -> list[Block]:
    noted = [
        f"{label_of(assumption, aim)}: {aim.entry(assumption.name).note}"
        for assumption in design.assumptions
        if aim.entry(assumption.name).note
    ]
    return [Bullets(tuple(noted))] if noted else []


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
        Heading("Scenarios side by side", 3),
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
    return name, differs or "—", f"{number} {rest}", count_text(outcome.total), power_text(outcome.power)


# --- the end --------------------------------------------------------------------------------------------------


def _usable(study: Study) -> list[Aim]:
    """The aims that something can be made of."""
    return [aim for aim in study.aims if not trouble_of(aim)]


def _references(study: Study) -> list[Block]:
    found: list[str] = []
    for aim in _usable(study):
        found += [reference for reference in design_named(aim.design).references if reference not in found]
    return [Heading("References", 2), Bullets(tuple(found))] if found else []


def _reproduce(study: Study) -> list[Block]:
    requests = [request_of(design_named(aim.design), aim.as_planned()) for aim in _usable(study)]
    return [
        Heading("How to reproduce the numbers", 2),
        Paragraph(
            f"Computed with Ragwort {ragwort.__version__}. The command “ragwort compute FILE” gives the same numbers "
            "from this request:"
        ),
        Code(json.dumps(requests if len(requests) != 1 else requests[0], indent=2, ensure_ascii=False)),
    ]
