"""Several aims together: how they share the study's error, the chances that they succeed, which sets the size."""

from __future__ import annotations

from ragwort.report.tree import Block, Heading, Paragraph, Table
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.sharing.family import confirmatory, matrix_of, plan_of
from ragwort.study.sharing.together import rows_of, together_of, words_of
from ragwort.study.words.numbers import level_words


def together_blocks(study: Study) -> list[Block]:
    """Nothing for a study whose aims share nothing."""
    family = study.family
    if not plan_of(study).shares or len(study.aims) < 2 or not confirmatory(study):
        return []
    found = [(aim.as_planned(), outcome_of(aim.as_planned())) for aim in study.aims]
    known = together_of(study, found)
    count = len(confirmatory(study))
    if count < 2:
        said = f"One aim is confirmatory; it is tested at the {level_words(family.alpha)} significance level."
    else:
        how = plan_of(study).in_protocol.format(level=level_words(family.alpha), part=level_words(family.alpha / count))
        controlled = f"is controlled at {level_words(family.alpha)}"
        said = f"The family-wise error rate of the {count} confirmatory aims {controlled} {how}."
    if count > 1 and known is not None and not known.chances.exact:
        said += f" The joint probabilities were simulated from normal test statistics, {_correlated(study)}."
    head, rows = rows_of(study, found, known)
    table = Table("Power of the aims together", head, rows, (2, 3, 4, 5, 6))
    note = f"{head[-1]}: the power of each aim if as many are recruited as the largest of them needs; “—” where an aim "
    blocks: list[Block] = [Heading("Multiplicity", 2), Paragraph(said), Paragraph(words_of(study, found, known))]
    return [*blocks, table, Paragraph(f"{note}counts other units than most of them do.", "quiet")]


def _correlated(study: Study) -> str:
    pairs = matrix_of(study)
    if pairs is None:
        return f"any two with a correlation of {study.family.correlation:g}"
    rows = "; ".join(", ".join(f"{each:g}" for each in row).replace("-", "−") for row in pairs)
    return f"with these correlations of each aim, from the second on, with those before it: {rows}"
