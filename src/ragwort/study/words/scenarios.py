"""Kept scenarios in words: what each found, and how it differs from the aim as it stands."""

from __future__ import annotations

import math
from dataclasses import replace

from ragwort.base.wording import capital
from ragwort.designs import Answer, design_named
from ragwort.study.document.aim import Aim, Finding, Scenario, Setting
from ragwort.study.results.outcome import Outcome, Pending, values_with_defaults
from ragwort.study.words.found import found_text
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import count_text, value_text, with_unit


def answer_words(aim: Aim, outcome: Outcome) -> tuple[str, str]:
    """What was found, as its number and the words after it: `128`, `staff`."""
    if isinstance(outcome, Pending):
        number, _ = answer_words(aim, outcome.last) if outcome.last is not None else ("…", "")
        return f"({number})" if outcome.last is not None else number, "being worked out"
    if not isinstance(outcome, Answer):
        return "—", "no answer"
    many = counted_words(aim, outcome)
    if outcome.find == "n":
        return count_text(outcome.total), many
    if outcome.find == "power":
        return found_text(outcome, ""), f"power, {count_text(outcome.total)} {many}"
    if outcome.find == outcome.counted:
        return count_text(outcome.total), many
    design = design_named(aim.design)
    assumption = design.assumption(design.unknown_of(outcome.find, aim.values()))
    found = found_text(outcome, aim.words.unit)
    return found, f"{label_of(assumption, aim).lower()}, {count_text(outcome.total)} {many}"


def counted_words(aim: Aim, answer: Answer) -> str:
    """What an answer counts: the study's people, or events."""
    return answer.counted or aim.words.many


def changes(aim: Aim, kept: Setting) -> list[tuple[str, str, str]]:
    """The assumptions in which a kept setting differs from the aim: name, label, value in words."""
    design = design_named(aim.design)
    now, then = values_with_defaults(aim), kept.values()
    unused = design.unused_names(kept.find)
    found = []
    for assumption in design.assumptions:
        name = assumption.name
        if name in unused or name not in then or then[name] == now.get(name):
            continue
        text = (
            value_text(assumption, then[name])
            if assumption.chosen
            else with_unit(assumption, then[name], aim.words.unit)
        )
        found.append((name, label_of(assumption, aim), text))
    return found


def difference_words(aim: Aim, kept: Setting) -> str:
    """How a kept setting differs, in a few words: `SD 28 ms`."""
    return ", ".join(f"{short_label(label)} {text}" for _, label, text in changes(aim, kept)).replace("\u00a0", " ")


def changed_since(aim: Aim, kept: Scenario, outcome: Outcome) -> str:
    """What a scenario found when it was kept, where it finds something else today; empty otherwise."""
    then = kept.found
    if then is None or not isinstance(outcome, Answer) or _is_same(then, outcome):
        return ""
    before = replace(outcome, answer=then.answer, power=then.power)
    number = count_text(then.total) if outcome.find == "n" else found_text(before, aim.words.unit)
    return f"{number} when it was kept (Ragwort {then.version})"


def _is_same(then: Finding, now: Answer) -> bool:
    return then.total == now.total and math.isclose(then.answer, float(now.answer), rel_tol=1e-6)


def suggested_name(aim: Aim) -> str:
    """A name for the aim as it stands: how it differs from the scenario kept first, else a number."""
    if aim.scenarios:
        then = aim.changed(entries=aim.scenarios[0].entries)
        for _, label, text in changes(then, aim):
            name = f"{short_label(label)} {text}".replace("\u00a0", " ")
            if all(kept.name != name for kept in aim.scenarios):
                return capital(name)
    return f"Scenario {len(aim.scenarios) + 1}"


def short_label(label: str) -> str:
    return "SD" if label == "Standard deviation" else label.lower() if not label.startswith("SD") else label
