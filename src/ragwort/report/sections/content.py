"""What the report of a study says."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from functools import cache, partial
from textwrap import fill
from typing import Any

import ragwort
from ragwort.base.wording import listed
from ragwort.designs import Answer, design_named
from ragwort.designs.design import in_running_text
from ragwort.designs.phrases import MOST_LISTED
from ragwort.report.sections.aim import aim_blocks
from ragwort.report.sections.arranged import Made, arranged
from ragwort.report.sections.calculated import stated_values
from ragwort.report.sections.references import references_of
from ragwort.report.sections.together import together_blocks
from ragwort.report.tree import Block, Bullets, Code, Document, Heading, Paragraph, Table
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.document.signing import EDITED, amendments, signature, was_edited
from ragwort.study.document.writing import APPENDICES, CHAPTERS, PARTS, is_shown, ordered
from ragwort.study.results.outcome import (
    Problem,
    outcome_of,
    request_of,
    to_enrol,
    trouble_of,
)
from ragwort.study.results.overview import Needs, needs_of
from ragwort.study.results.resources import spent_words
from ragwort.study.results.serving import design_effect_of, how_allocated, ignore_clusters
from ragwort.study.sharing.together import power_with
from ragwort.study.words.found import power_text, reached_text
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import count_text
from ragwort.study.words.protocol import head_line, not_stated, stated, taken_in
from ragwort.study.words.provenance import examples_of, with_examples
from ragwort.study.words.scenarios import counted_words

_CODE = 100  # characters of a line of code
_WORD = re.compile(r'"(?:[^"\\]|\\.)*"')


def report_of(study: Study) -> Document:
    """The whole report."""
    for aim in study.aims:
        outcome_of(aim, aim.planned_scenario)  # worked out once; from here on at hand
    blocks: list[Block] = [Heading(study.title, 1)]
    if head_line(study):
        blocks.append(Paragraph(f"{head_line(study)}.", "quiet"))
    if study.background:
        blocks.append(Paragraph(study.background))
    blocks.extend(_examples(study))
    made: dict[str, Made] = {
        "overview": lambda: _overview(study),
        "together": lambda: together_blocks(study),
        "aims": lambda: _chapter(study, "aims", "Aims" if len(study.aims) > 1 else "Sample size"),
        **{name: partial(_appendix, study, name) for name in PARTS if name != "aims"},
        "reproduce": lambda: [_appendix_heading(study, "reproduce"), *_reproduce(study)],
    }
    made = {name: cache(each) for name, each in made.items()}
    made["references"] = partial(_references, study, dict(made))
    blocks.extend(arranged(study.writing, CHAPTERS, study.writing.texts, made, 0))
    return Document(study.title, tuple(blocks))


def _chapter(study: Study, chapter: str, title: str) -> list[Block]:
    """What a chapter says of each aim, under its title; nothing where it says nothing."""
    found = [block for number, aim in enumerate(study.aims, 1) for block in aim_blocks(study, aim, number, chapter)]
    return [Heading(title, 2), *found] if found and title else found


def _appendix(study: Study, chapter: str) -> list[Block]:
    found = _chapter(study, chapter, "")
    return [_appendix_heading(study, chapter), *found] if found else []


def _appendix_heading(study: Study, chapter: str) -> Heading:
    """With its letter, by the order of the appendices that are written and say something."""
    before = [
        name
        for name in ordered(study.writing, CHAPTERS)
        if name in APPENDICES and is_shown(study.writing, name) and (name == "reproduce" or _chapter(study, name, ""))
    ]
    return Heading(f"Appendix {chr(ord('A') + before.index(chapter))}. {CHAPTERS[chapter]}", 2)


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
    text = f"{_total(study, needs)}{_within(needs)}"
    rows = [_overview_row(aim.as_planned()) for aim in study.aims]
    head = ("Aim", "Test", "Analysed", f"To be {taken_in(study)}", "Power")
    table = Table("Aims of the study", head, tuple(rows), (2, 3, 4))
    apart = [_recruitments(study, needs)] if not needs.single else []
    said = f"{text}.{_short(needs)}"
    return [
        Paragraph(said, "statement"),
        *_spending(study, needs),
        table,
        *apart,
        *_ignoring(study),
        *_stated(study),
        *_amended(study),
    ]


def _stated(study: Study) -> list[Block]:
    """What a protocol says beside its numbers, and what of it nobody has stated."""
    found = [Paragraph(" ".join(stated(study)))] if stated(study) else []
    missing = not_stated(study)
    return [*found, *([Paragraph(f"Not stated: {listed(missing)}.", "quiet")] if missing else [])]


def _amended(study: Study) -> list[Block]:
    """The version that was signed off, and what has changed since."""
    if study.signed is None:
        return []
    edited = f" {EDITED}" if was_edited(study) else ""
    changes = amendments(study)
    since = "Changes since:" if changes else "Nothing has changed since."
    head = Paragraph(f"{signature(study.signed)}. {since}{edited}")
    return [head, Bullets(tuple(changes))] if changes else [head]


def _recruitments(study: Study, needs: Needs) -> Table:
    """What each recruitment needs, where one cannot serve all aims."""
    rows = [
        (
            f"{count_text(found.count)} {counted_words(*found.leading)}",
            how_allocated(found),
            listed([aim.name for aim, _ in found.aims]),
        )
        for found in needs.recruitments
    ]
    return Table("Separate recruitments", (f"To be {taken_in(study)}", "Allocation", "Aims"), tuple(rows))


def _short(needs: Needs) -> str:
    """Secondary aims that would need more than is recruited for the primary ones, and the power that they have."""
    found = [
        f"{aim.name} would need {count_text(to_enrol(answer))}, and has "
        f"{power_text(power_with(answer, aim, part.count), answer.plan.target)} power with {count_text(part.count)}"
        for part in needs.recruitments
        for aim, answer in part.short
    ]
    return f" {'; '.join(found)}." if found else ""


def _total(study: Study, needs: Needs) -> str:
    """The study's number where one recruitment serves all aims; else that of the largest aim."""
    taken = taken_in(study)
    needing = f"would have to be {taken} with the example values" if with_examples(study) else f"will be {taken}"
    number = f"{count_text(needs.count)} {needs.many}"
    if len(study.aims) < 2:
        return f"{number} {needing}"
    if needs.single:
        return f"{number} {needing}. The same recruitment serves all aims; {needs.aim_name} determines the sample size"
    different = "The aims use different designs; no single total applies"
    return f"{different}. The largest number to be {taken} is {number} ({needs.aim_name})"


def _ignoring(study: Study) -> list[Block]:
    """That aims of single people ignore the clusters that other aims of the study allocate."""
    found = [(aim, outcome_of(aim.as_planned())) for aim in study.aims]
    answered = [(aim, each) for aim, each in found if isinstance(each, Answer)]
    clusters, aims = ignore_clusters(answered)
    if not aims:
        return []
    named = f"{listed(aims)} ignore{'s' if len(aims) == 1 else ''} them"
    which = named if len(aims) <= MOST_LISTED else f"{len(aims)} others ignore them"
    effect = design_effect_of(answered)
    many = f" (with the same design effect, {effect:.2f}, {effect:.2f} times as many are needed)" if effect else ""
    text = f"Some aims allocate {clusters}; {which}: in a study that allocates {clusters} their power is overstated"
    return [Paragraph(f"{text}{many}.")]


def _within(needs: Needs) -> str:
    """How the need stands to what can be had; empty where nothing is limited."""
    if needs.bound is None or needs.spare is None:
        return ""
    within = "within" if needs.spare >= 0 else "above"
    if needs.bound.by == "limit":
        return f"; this is {within} the {count_text(needs.bound.count)} available"
    about = "about " if needs.bound.about else ""
    return f"; this is {within} what is available ({about}{count_text(needs.bound.count)}, by {needs.bound.words})"


def _spending(study: Study, needs: Needs) -> list[Block]:
    """What enrolling so many costs, and how long it takes, as far as that is known."""
    aim = study.aim(needs.aim_id)
    answer = outcome_of(aim, aim.planned_scenario)
    assert isinstance(answer, Answer), "the study's need is that of an answer"
    words = spent_words(study.resources, answer, f"{count_text(needs.count)} {needs.many}")
    return [Paragraph(words)] if words else []


def _overview_row(aim: Aim) -> tuple[str, ...]:
    outcome = outcome_of(aim)
    if isinstance(outcome, Problem):
        return aim.name, "—", "—", "—", "—"
    test = design_named(aim.design).in_protocol.test_in(stated_values(aim))
    reached = reached_text(outcome) if outcome.plan.has_test or outcome.find == "power" else "—"
    return aim.name, _bare(test), count_text(outcome.total), count_text(to_enrol(outcome)), reached


def _bare(test: str) -> str:
    """Without its article."""
    return re.sub(r"^(an?|the) ", "", test)


# --- the end --------------------------------------------------------------------------------------------------


def _usable(study: Study) -> list[Aim]:
    """The aims that something can be made of."""
    return [aim for aim in study.aims if not trouble_of(aim)]


def _references(study: Study, made: Mapping[str, Made]) -> list[Block]:
    """Of what all chapters that are written cite."""
    found = references_of(block for name, each in made.items() if is_shown(study.writing, name) for block in each())
    return [Heading("References", 2), Bullets(tuple(found))] if found else []


def _reproduce(study: Study) -> list[Block]:
    requests = [request_of(design_named(aim.design), aim.as_planned()) for aim in _usable(study)]
    return [
        Paragraph(
            f"Computed with Ragwort {ragwort.__version__}. The command “ragwort compute FILE” gives the same numbers "
            "from this request:"
        ),
        Code(_as_json(requests if len(requests) != 1 else requests[0])),
    ]


def _as_json(requests: Any) -> str:
    """On as few lines as they fill; what could not be parsed again then, on lines of its own for each name."""
    several = requests if isinstance(requests, list) else [requests]
    short = ",\n".join(_filled(json.dumps(each, ensure_ascii=False, separators=(", ", ":"))) for each in several)
    short = f"[\n{short}\n]" if isinstance(requests, list) else short
    whole = not any(" " in word for word in _WORD.findall(short))  # a line must not end within a word
    return short if whole else json.dumps(requests, indent=2, ensure_ascii=False)


def _filled(text: str) -> str:
    """Lines that end after a comma."""
    lines = fill(text, _CODE, subsequent_indent="  ", break_long_words=False, break_on_hyphens=False)
    return lines.replace('":', '": ')
