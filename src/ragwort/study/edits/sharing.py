"""How the aims share the study's error: the plan, the roles, alpha, weights, correlation."""

from __future__ import annotations

import re
from typing import Any

from ragwort.base.lazily import np
from ragwort.designs.assumption import Assumption
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Family
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.sharing.family import applied, confirmatory, plan_of
from ragwort.study.words.numbers import NumberError, parse

ALPHA = Assumption(
    "alpha", "The study's alpha", "rate", "Error rates", "", low=0, high=1, open_low=True, open_high=True
)
CORRELATION = Assumption("correlation", "The correlation", "number", "Error rates", "", low=0, high=1, open_high=True)
PAIR = Assumption("correlation", "A correlation", "number", "Error rates", "", low=-1, high=1)
WEIGHT = Assumption("weight", "A weight", "number", "Error rates", "", low=0, open_low=True, high=1e6)
_LABEL = "sharing the error"


def choose_plan(study: Study, plan: str) -> Edit:
    """Share the error in another way; every aim's alpha follows."""
    return _with(study, study.family.changed(plan=plan))


@no_edit_of_what_is_gone
def set_role(study: Study, aim_id: str, role: str) -> Edit:
    """Make an aim primary, secondary or exploratory; exploratory aims share no error."""
    changed = study.with_aim(study.aim(aim_id).changed(role=role))
    return Edit(_LABEL, applied(changed) if plan_of(changed).shares else changed)


def type_family(study: Study, name: str, text: str) -> Edit:
    """Take typed text as alpha, correlation or `weight_` and an aim's id; what cannot be read is kept with why."""
    changed = study.family.typed(name, text, lambda typed: _read(study, name, typed))
    return _with(study, changed) if name not in changed.drafts else Edit(_LABEL, study.changed(family=changed))


def _read(study: Study, name: str, text: str) -> dict[str, Any]:
    if name == "correlation" and len(text.split()) > 1:
        return {"matrix": _matrix_in(text, len(confirmatory(study)))}
    if name == "correlation":
        return {name: float(parse(CORRELATION, text)), "matrix": ()}
    if name == "alpha":
        return {name: float(parse(ALPHA, text))}
    return {"weights": {**study.family.weights, name.removeprefix("weight_"): float(parse(WEIGHT, text))}}


def _matrix_in(text: str, count: int) -> tuple[tuple[float, ...], ...]:
    """Correlations pair by pair: a whole matrix, or what stands below its diagonal, rows apart by `;`."""
    rows = [[float(parse(PAIR, part)) for part in row.split()] for row in re.split(r"[;\n]", text) if row.strip()]
    return below_the_diagonal(rows, count)


def below_the_diagonal(rows: list[list[float]], count: int) -> tuple[tuple[float, ...], ...]:
    """Correlations of `count` aims as they are kept. Raises `NumberError` where they cannot be."""
    if [len(row) for row in rows] == [count] * count:
        found = np.array(rows)
        if not np.allclose(found, found.T) or not np.allclose(np.diag(found), 1):
            raise NumberError("A matrix of correlations is the same above and below its diagonal, which is 1.")
        rows = [row[:place] for place, row in enumerate(rows)][1:]
    if [len(row) for row in rows] != list(range(1, count)):
        raise NumberError(
            f"For {count} confirmatory aims give one number for all pairs, or rows apart by “;”: the second aim's "
            f"correlation with the first; the third's with the first and the second; and so on, {count - 1} rows."
        )
    full = np.eye(count)
    for down, row in enumerate(rows, start=1):
        full[down, :down] = full[:down, down] = row
    if np.linalg.eigvalsh(full)[0] < -1e-9:
        raise NumberError("No test statistics can have these correlations together: some contradict each other.")
    return tuple(tuple(row) for row in rows)


def _with(study: Study, family: Family) -> Edit:
    return Edit(_LABEL, applied(study.changed(family=family)))
