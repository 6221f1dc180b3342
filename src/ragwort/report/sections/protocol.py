"""What a protocol says of an aim, as a statistician puts it before a committee: in one sentence, a paragraph, in full.

Third person, future passive or plain present, no imperative and no word of the window's: a writer of its own beside
that of the live sentence (`study.sentence`), from parts that each design declares (`designs.protocol`).
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import replace
from typing import Any

import ragwort
from ragwort.base.wording import capital, listed
from ragwort.designs import Answer, Design, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.catalogue.precision.common import Precise
from ragwort.designs.design import in_running_text
from ragwort.designs.kinds import EquivalencePlan, PrecisionPlan, TwoTestsPlan, has_margin
from ragwort.designs.margins import WithMargins
from ragwort.designs.phrases import Saying
from ragwort.report.sections.assumed import planned_assumptions, planning_values
from ragwort.report.sections.calculated import stated_values
from ragwort.report.sections.interim import interim_short, interim_words
from ragwort.report.sections.precise import need_of_width, reported, sentence_of_width
from ragwort.report.sections.sizes import analysed, in_brackets, needed_sizes, parts_of
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.results.outcome import Settled, outcome_of, to_enrol
from ragwort.study.results.sensitivity import alternatives, largest, valued
from ragwort.study.words.expected import interval_sentence
from ragwort.study.words.found import power_text, reached_text
from ragwort.study.words.naming import has_names, label_of
from ragwort.study.words.numbers import level_words, percent_text, range_text, with_unit
from ragwort.study.words.protocol import RECRUITED, time_point_words
from ragwort.study.words.recruiting import allowance, more_clusters, per_cluster
from ragwort.study.words.sentence import by_group, lacks_time_unit, people, plain_text, told

_ROLES = {
    "primary": "The primary outcome",
    "secondary": "The secondary outcome",
    "exploratory": "The exploratory outcome",
}
_ASKED_FIRST = ("margin", "margin_low", "margin_high", "icc")
_COMPUTED = {
    "n": "The sample size was",
    "power": "Power was",
    "effect": "The smallest detectable effect was",
    "alpha": "The significance level was",
    "margin": "The margin was",
    "icc": "The largest intracluster correlation was",
    "cluster_size": "The number per cluster was",
    "events": "The number of events was",
    "follow_up": "The follow-up was",
    "confidence": "The confidence was",
}
_OF_WIDTH = {"effect": "The half width was", "power": "The chance was"}
_TRUTH_FOUND = (
    "The least favourable true effect was"  # of a hypothesis with a margin, where it is the effect that is found
)


def one_sentence(aim: Aim, answer: Answer, taken: str = RECRUITED) -> str:
    """Sizes, test, level, power and effect, to be pasted as it stands; `taken` as in `study.protocol.taken_in`."""
    design, sizes = design_named(aim.design), {"sizes": analysed(aim, answer, taken)}
    if isinstance(design, Precise) and isinstance(answer.plan, PrecisionPlan):
        text = sentence_of_width(design, answer.plan, answer, design.estimated(stated_values(aim) | aim.values()))
        return _written(aim, answer, text, sizes)
    said, has = _saying(aim), "had" if aim.finished else "have" if _is_two_tests(answer) else "has"
    text = (
        f"With {{sizes}}{_waited(answer)}{interim_short(aim, answer)}, {{test}}{_at_level(answer, ',')} {has} "
        f"{_power(answer)} power to "
        f"{_to_detect(said)}{_provided(answer)}."
    )
    return _written(aim, answer, text, sizes)


def paragraph(
    aim: Aim,
    answer: Answer,
    at_worst: bool = True,
    role: str = "",
    taken: str = RECRUITED,
    committee: str = "",
) -> str:
    """What will be compared and how, the size and what it rests on, whom to recruit, how it was computed.

    `role`: that of the aim in its study, where the study tells (`family.role_told`).
    `at_worst`: what the least favourable end of a plausible range needs, where no sensitivity analysis follows.
    `taken`: what is done with participants (`study.protocol.taken_in`).
    `committee`: who alone sees interim results.
    """
    return _joined(
        _comparison(aim if aim.role else aim.changed(role=role), answer),
        _need(aim, answer),
        _expected(aim, answer),
        reasons(aim),
        _recruited(aim, answer, taken),
        interim_words(aim, answer, committee),
        _actual_level(aim, answer),
        interval_sentence(aim, answer) if answer.plan.has_test or "difference" not in _interval_of(answer) else "",
        _on_the_wrong_side(aim, answer),
        _at_worst(aim, taken) if at_worst else "",
        _computed(aim, answer),
    )


def planning_words(aim: Aim) -> str:
    """Every planning value with its range and its source: numbers, lists, tables and strata alike."""
    rows = planning_values(aim)
    said = []
    for label, text, plausible, source in rows:
        aside = "; ".join(part for part in (f"plausible range {plausible}" if plausible else "", source) if part)
        said.append(f"{in_running_text(label)}: {text}{f' ({aside})' if aside else ''}")
    return f"Planning values: {'; '.join(said)}." if said else ""


def sensitivity_words(aim: Aim, most: int = 3, taken: str = RECRUITED) -> str:
    """What other planning values would need: those that matter most first; empty where no range is stated."""
    found = [f"{words}, {_needed(aim, answer, taken)}" for words, answer in alternatives(aim)[:most]]
    return f"Sensitivity: with {'; with '.join(found)}." if found else ""


def missing_sources(aim: Aim) -> str:
    """The planning values of which nobody says where they come from: margin and intracluster correlation first."""
    missing = [each for each in planned_assumptions(aim) if each.sourced and not aim.entry(each.name).source]
    times = " No unit of time is stated." if lacks_time_unit(aim) else ""
    missing.sort(key=lambda each: each.name not in _ASKED_FIRST)
    if not missing:
        return times.strip()
    return f"No source is stated for the {listed([_called(each, aim) for each in missing])}.{times}"


def _called(assumption: Assumption, aim: Aim) -> str:
    """`proportion (brighter)`, so that it can stand in a list."""
    label, _, whose = in_running_text(label_of(assumption, aim)).partition(", ")
    return f"{label} ({whose})" if whose else label


def reasons(aim: Aim) -> str:
    """Why this effect, this margin, this intracluster correlation, as far as somebody has said it."""
    asked = design_named(aim.design).justified_names()
    return _joined(*(_reason(aim, each) for each in planned_assumptions(aim) if each.name in asked), _beside(aim))


def _reason(aim: Aim, assumption: Assumption) -> str:
    note = " ".join(aim.entry(assumption.name).note.split()).rstrip(".")
    return f"Reason for the {_called(assumption, aim)}: {note}." if note else ""


def _beside(aim: Aim) -> str:
    """What is expected, where the smallest worthwhile effect is planned on."""
    effect = design_named(aim.design).assumption(design_named(aim.design).primary)
    expected = aim.expected
    if aim.planned_on != "worthwhile" or expected.value is None:
        return ""
    plausible = range_text(effect, expected.low, expected.high)
    aside = "; ".join(each for each in (f"plausible range {plausible}" if plausible else "", expected.source) if each)
    return f"Expected is {valued(aim, effect, expected.value, aside)}."


# --- the parts ---


def _interval_of(answer: Answer) -> str:
    """What the expected interval is of; empty where there is none."""
    return "" if answer.interval is None else answer.interval.of


def _comparison(aim: Aim, answer: Answer) -> str:
    design, said = design_named(aim.design), _saying(aim)
    looking = f", directed at {said.looking}" if said.looking else ""
    tested = f"{design.in_protocol.compared} with {{test}}{_at_level(answer)}{looking}."
    if not design.tested:
        tested = reported(design.in_protocol.compared, design.in_protocol.test_in(stated_values(aim)))
    if aim.finished:
        tested = tested.replace(" will be ", " were " if design.in_protocol.plural else " was ", 1)
    return _written(aim, answer, tested)


def _is_two_tests(answer: Answer) -> bool:
    return isinstance(answer.plan, TwoTestsPlan | EquivalencePlan)


def _at_level(answer: Answer, after: str = "") -> str:
    """At which level; of two one-sided tests each, between commas."""
    at = "at the {level} significance level"
    return f", each {at}{after}" if _is_two_tests(answer) else f" {at}"


def _need(aim: Aim, answer: Answer) -> str:
    """`64 staff per group (128 in total) are needed for at least 80% power (attained: 80.1%) to detect …`"""
    said, (assumed, told_already) = _saying(aim), _assumed(aim)
    start, design = f"{assumed}, {{sizes}}" if assumed else "{sizes}", design_named(aim.design)
    if isinstance(design, Precise) and isinstance(answer.plan, PrecisionPlan):
        estimated = design.estimated(stated_values(aim) | aim.values())
        text = need_of_width(answer.plan, answer, estimated, start, aim.finished, told_already)
        return capital(_written(aim, answer, text, {"sizes": needed_sizes(aim, answer)}))
    if answer.find == "n":
        needed = "would have been needed" if aim.finished else "are needed"
        reached = reached_text(answer)
        attained = "" if reached == power_text(answer.plan.target) else f" (attained: {reached})"
        text = f"{start} {needed} for {_power(answer)} power{attained} to {_to_detect(said, told_already)}."
    else:
        give = "gave" if aim.finished else "give"
        detected = f"{_to_detect(said, told_already)}{_provided(answer)}"
        text = f"{start}{_waited(answer)} {give} {_power(answer)} power to {detected}."
    return capital(_written(aim, answer, text, {"sizes": needed_sizes(aim, answer)}))


def _expected(aim: Aim, answer: Answer) -> str:
    """Of an effect in no unit what is expected of the outcome: `Expected proportions: 24% coffee, …`; by name only."""
    words = "" if answer.find == "effect" else design_named(aim.design).expected_in_words(stated_values(aim))
    named = all(has_names(aim, key) for key in re.findall(r"{(\w+)", words))
    return _written(aim, answer, f"Expected proportions: {words}.") if words and named else ""


def _recruited(aim: Aim, answer: Answer, taken: str) -> str:
    if not answer.enrol or aim.finished:
        return ""
    parts = [by_group(answer.enrol, aim)] if len(answer.enrol) > 1 else parts_of(aim, to_enrol(answer))[:1]
    aside = [each for each in (*parts, per_cluster(aim, answer, taken)) if each]
    clusters = more_clusters(aim, answer)
    number = f"{people(aim, to_enrol(answer))}{f' in {clusters}' if clusters else ''}"
    return f"Allowing for {allowance(aim)}, {number}{in_brackets(aside)} will be {taken}."


def _actual_level(aim: Aim, answer: Answer) -> str:
    """Of exact tests: what they really reject at, and that a larger study may have less power than a smaller one."""
    actual = answer.details.get("actual_alpha")
    if actual is None or ("reject_at_or_above" not in answer.details and "reject_at_or_below" not in answer.details):
        return ""
    steady = answer.find == "n" and answer.n_more.get("first", answer.total) < answer.total
    rest = "; this is the smallest size from which power stays at or above {power}"
    told = f"The actual significance level is {percent_text(float(actual))}{rest if steady else ''}."
    return _written(aim, answer, told)


def _on_the_wrong_side(aim: Aim, answer: Answer) -> str:
    """Of non-inferiority: the power if what is to be shown as no worse were a third of the margin worse in truth."""
    design, values = design_named(aim.design), stated_values(aim)
    if values.get("hypothesis") != "non-inferiority" or answer.find not in ("n", "power"):
        return ""
    truths = design.slightly_worse(values) if isinstance(design, WithMargins) else {}
    there = {name: outcome_of(_with_truth(aim, answer, name, worse)) for name, worse in truths.items()}
    return " ".join(
        _if_worse(aim, name, truths[name], each) for name, each in there.items() if isinstance(each, Answer)
    )


def _if_worse(aim: Aim, name: str, worse: float, there: Settled) -> str:
    if not isinstance(there, Answer):
        return ""
    assumption = design_named(aim.design).assumption(name)
    truth = with_unit(assumption, float(f"{worse:.3g}"), aim.words.unit)
    label = in_running_text(label_of(assumption, aim)).partition(",")[0]
    return (
        f"If the true {label} were {truth}, a third of the margin to the wrong side, power would be "
        f"{reached_text(there)}."
    )


def _with_truth(aim: Aim, answer: Answer, name: str, effect: float) -> Aim:
    """The aim at the sizes of its answer, asking for the power that another true effect has."""
    design = design_named(aim.design)
    sizes = design.sizes_as_values(answer.groups, answer.plan)
    apart = {name for ways in (design.sizes, design.effect_ways()) for way in ways for name in way.names}
    entries = {name: entry for name, entry in aim.entries.items() if name not in apart}
    way = next(way for way in design.sizes if set(way.names) <= sizes.keys())
    entries |= {name: Entry(value=sizes[name]) for name in way.names}
    return aim.changed(find="power", entries={**entries, name: Entry(value=effect)})


def _at_worst(aim: Aim, taken: str) -> str:
    """What the least favourable end of a plausible range would need."""
    found = largest(aim)
    return "" if found is None else f"With {found[0]}, {_needed(aim, found[1], taken)}."


def _needed(aim: Aim, answer: Answer, taken: str) -> str:
    planned = outcome_of(aim)
    if isinstance(planned, Answer) and planned.groups == answer.groups and answer.enrol:
        return f"{people(aim, to_enrol(answer))} would be {taken}"
    each = by_group(answer.groups, aim) if len(answer.groups) > 1 else people(aim, answer.total)
    return f"{each} would be needed"


def _computed(aim: Aim, answer: Answer) -> str:
    source = design_named(aim.design).in_protocol.computed_in(stated_values(aim))
    what = _TRUTH_FOUND if answer.find == "effect" and has_margin(answer.plan) else _COMPUTED[answer.find]
    what = what if answer.plan.has_test else _OF_WIDTH.get(answer.find, what)
    return f"{what} computed with Ragwort {ragwort.__version__} from {source}."


def _assumed(aim: Aim) -> tuple[str, list[str]]:
    """`Assuming a standard deviation of 24 ms (pilot of 60 nights)`: what has a source beside the effect; its names."""
    design = design_named(aim.design)
    apart = {*design.effect_names(), "dropout", "cluster_loss", "cluster_size", "alpha", "power"}  # said elsewhere
    values = aim.values()
    known = [
        assumption
        for assumption in design.assumptions
        if assumption.name not in apart
        and values.get(assumption.name) is not None
        and aim.entry(assumption.name).source
        and aim.entry(assumption.name).was is None
        and not assumption.chosen
        and not assumption.several
    ]
    words = [_with_source(aim, each, values[each.name]) for each in known]
    return f"Assuming {listed(words)}" if known else "", [each.name for each in known]


def _with_source(aim: Aim, assumption: Assumption, value: Any) -> str:
    return valued(aim, assumption, value, aim.entry(assumption.name).source)


# --- words ---


def _saying(aim: Aim) -> Saying:
    said = design_named(aim.design).saying(stated_values(aim) | aim.values(), aim.find)
    return replace(said, planned_on="" if aim.find == "effect" else aim.planned_on)


def _to_detect(said: Saying, told_already: Collection[str] = ()) -> str:
    return f"{said.verb} {said.detected(', assuming that ', told_already)}"


_WHOLE = ("n", "events", "cluster_size")  # found as whole numbers, which mostly have more than the power asked for


def _power(answer: Answer) -> str:
    return "{at_least}{power}" if answer.find in _WHOLE else "{power}"


def _waited(answer: Answer) -> str:
    return " and a follow-up of {follow_up} after the end of accrual" if answer.find == "follow_up" else ""


def _provided(answer: Answer) -> str:
    return ", provided that the intracluster correlation is at most {icc}" if answer.find == "icc" else ""


def _written(aim: Aim, answer: Answer, text: str, own: Mapping[str, str] | None = None) -> str:
    design = design_named(aim.design)
    texts = {
        "test": design.in_protocol.test_in(stated_values(aim)),
        "level": level_words(float(answer.plan.alpha)),
        "subject": _subject(aim, design),
        **(own or {}),
    }
    return plain_text(told(aim, answer, text, own=texts), joined=True)


def _subject(aim: Aim, design: Design) -> str:
    role, when = _ROLES.get(aim.role, "The outcome"), time_point_words(aim)
    return f"{role}, {aim.words.outcome}{when}," if aim.words.outcome else f"{role}{when}"


def _joined(*parts: str) -> str:
    return " ".join(part for part in parts if part)
