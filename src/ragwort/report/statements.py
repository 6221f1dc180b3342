"""Three ready statements of an aim's sample size: one sentence, a paragraph, in full."""

from __future__ import annotations

import re

from ragwort.designs import design_named
from ragwort.designs.design import in_running_text
from ragwort.designs.saying import listed
from ragwort.report.calculated import stated_values
from ragwort.study.model import Aim
from ragwort.study.naming import in_study_words, label_of
from ragwort.study.numbers import with_unit
from ragwort.study.outcome import Outcome, Problem, idle_names, outcome_of
from ragwort.study.provenance import source_words
from ragwort.study.sentence import plain_text, sentence_of, size_remark

_IN_THE_SENTENCE = ("alpha", "power")
LENGTHS = {"short": "one sentence", "paragraph": "a paragraph", "full": "in full"}


def statement_of(aim: Aim, length: str) -> str:
    """A statement of one of `LENGTHS`, of the aim as it is planned; where there is no answer, why."""
    there = aim.as_planned()
    outcome = outcome_of(there)
    if isinstance(outcome, Problem):
        return f"There is no answer yet. {outcome.message}"
    parts = [_sentence(there, outcome)]
    if length != "short":
        parts += [size_remark(there, outcome, joined=True), _outcome(there), _method(there)]
    if length == "full":
        parts += [_assumptions(there), *outcome.notes, _needs(there)]
    return " ".join(part.strip() for part in parts if part.strip()).replace("\u00a0", " ")


def _sentence(aim: Aim, outcome: Outcome) -> str:
    said = plain_text(sentence_of(aim, outcome), joined=True)
    alike = rf"\b([\d\u2009]+) and \1 {re.escape(aim.words.many)}"
    return re.sub(alike, lambda found: f"{found[1]} {aim.words.many} per group", said)


def _outcome(aim: Aim) -> str:
    return f"The outcome is {aim.words.outcome}." if aim.words.outcome else ""


def _method(aim: Aim) -> str:
    return f"Power was computed {design_named(aim.design).method_text(stated_values(aim))}"


def _assumptions(aim: Aim) -> str:
    """The values that the sentence rests on, each with where it comes from as far as that was said."""
    design = design_named(aim.design)
    unused = design.unused_names(aim.find) | idle_names(design, aim)
    said = []
    for assumption in design.assumptions:
        value = aim.values().get(assumption.name)
        if value is None or assumption.name in unused or assumption.chosen or assumption.several:
            continue
        if assumption.name in _IN_THE_SENTENCE or any(assumption.name in way.names for way in design.sizes):
            continue
        source = source_words(aim, assumption)
        words = _assumed(label_of(assumption, aim), with_unit(assumption, value, aim.words.unit), assumption.kind)
        said.append(f"{words} ({source})" if source else words)
    if any("," in words for words in said):
        return f"It was assumed: {'; '.join(said)}."
    return f"It was assumed: {listed(said)}." if said else ""


def _assumed(label: str, value: str, kind: str) -> str:
    """`standard deviation 10`, but `3 predictors` and `proportion, group 2: 45%`."""
    label = in_running_text(label)
    first = label.split()[0]
    if kind == "count" and first.endswith("s") and (" " not in label or " per " in label):
        return f"{value} {first[:-1] if value == '1' else first}{label[len(first) :]}"
    return f"{label}: {value}" if "," in label or kind == "count" else f"{label} {value}"


def _needs(aim: Aim) -> str:
    needs = [in_study_words(aim, need).rstrip(".") for need in design_named(aim.design).data_assumptions]
    lowered = [need[:1].lower() + need[1:] for need in needs]
    if not lowered:
        return ""
    return f"This holds if {'; '.join(lowered[:-1])}{'; and ' if len(lowered) > 1 else ''}{lowered[-1]}."
