"""Three ready statements of an aim's sample size: one sentence, a paragraph, in full."""

from __future__ import annotations

from ragwort.base.wording import uncapital
from ragwort.designs import Answer, design_named
from ragwort.designs.remarks import is_general
from ragwort.report.sections.calculated import stated_values
from ragwort.report.sections.protocol import one_sentence, paragraph, planning_words, sensitivity_words
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import Problem, outcome_of
from ragwort.study.words.naming import in_study_words
from ragwort.study.words.protocol import RECRUITED

LENGTHS = {"short": "one sentence", "paragraph": "a paragraph", "full": "in full"}


def statement_of(aim: Aim, length: str, role: str = "", taken: str = RECRUITED, committee: str = "") -> str:
    """A statement of one of `LENGTHS`, of the aim as it is planned; where there is no answer, why.

    `role`, `taken` and `committee` as of `report.protocol.paragraph`.
    """
    there = aim.as_planned()
    outcome = outcome_of(there)
    if isinstance(outcome, Problem):
        return f"There is no answer yet. {outcome.message}"
    if length == "short":
        text = one_sentence(there, outcome, taken)
    else:
        text = paragraph(there, outcome, role=role, taken=taken, committee=committee)
    if length == "full":
        text = " ".join(part for part in (text, *_appendix(there, outcome, taken)) if part)
    return text.replace("\u00a0", " ")


def _appendix(aim: Aim, answer: Answer, taken: str) -> list[str]:
    """What a statistician looks for beyond the paragraph."""
    design = design_named(aim.design)
    needs = [in_study_words(aim, need).rstrip(".") for need in design.data_assumptions]
    lowered = [uncapital(need) for need in needs]
    notes = [note for note in answer.notes if not is_general(note)]
    assumed = f"Statistical assumptions: {'; '.join(lowered)}." if lowered else ""
    return [
        planning_words(aim),
        sensitivity_words(aim, taken=taken),
        assumed,
        design.accuracy(stated_values(aim)),
        *notes,
    ]
