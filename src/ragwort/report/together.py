"""Several aims together: how they share the study's error, the chances that they succeed, which sets the size."""

from __future__ import annotations

from ragwort.report.tree import Block, Heading, Paragraph, Table
from ragwort.study.family import PLANS, confirmatory, matrix_of, plan_of
from ragwort.study.model import Study
from ragwort.study.outcome import outcome_of
from ragwort.study.sharing import rows_of, together_of, words_of

_BY_PLAN = {
    "split": "Each confirmatory aim is tested at an equal part of it.",
    "weights": "Each confirmatory aim is tested at its part of it.",
    "holm": "Each is planned with the strictest level that Holm's procedure can ask of it, that of its first step.",
    "hochberg": "Each is planned with the strictest level that Hochberg's procedure can ask of it.",
    "order": "An aim is tested only once those before it have succeeded, each at the whole of it.",
    "fallback": "Each is tested in order at its own part of it, and at what the aim before passes on by succeeding.",
}


def together_blocks(study: Study) -> list[Block]:
    """Nothing for a study whose aims share nothing."""
    family = study.family
    if not plan_of(study) or len(study.aims) < 2 or not confirmatory(study):
        return []
    found = [(aim.as_planned(), outcome_of(aim.as_planned())) for aim in study.aims]
    known = together_of(study, found)
    count = len(confirmatory(study))
    if count < 2:
        said = f"Only one aim is confirmatory: it has the whole alpha of {family.alpha:g}."
    else:
        shared = f"The {count} confirmatory aims share an alpha of {family.alpha:g} {PLANS[family.plan]}."
        said = f"{shared} {_BY_PLAN[family.plan]}"
    if count > 1 and known is not None and not known.chances.exact:
        said += f" The chances were simulated from normal test statistics, {_correlated(study)}."
    head, rows = rows_of(study, found, known)
    table = Table("The aims together", head, rows, (2, 3, 4, 5, 6))
    note = "At the study's size: the power of each aim if as many are recruited as the study needs; “—” where an aim "
    blocks: list[Block] = [Heading("The aims together", 2), Paragraph(said), Paragraph(words_of(study, found, known))]
    return [*blocks, table, Paragraph(f"{note}counts something else than most of them do.", "quiet")]


def _correlated(study: Study) -> str:
    pairs = matrix_of(study)
    if pairs is None:
        return f"any two with a correlation of {study.family.correlation:g}"
    rows = "; ".join(", ".join(f"{each:g}" for each in row).replace("-", "−") for row in pairs)
    return f"with these correlations of each aim, from the second on, with those before it: {rows}"
