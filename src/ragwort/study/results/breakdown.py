"""Where clusters come in strata: participants and clusters of each stratum in both arms, as a table that adds up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ragwort.designs import Answer
from ragwort.designs.assumption import EMPTY_CELL
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import values_with_defaults
from ragwort.study.words.naming import cluster_word, name_at, names_of
from ragwort.study.words.numbers import count_text


@dataclass(frozen=True)
class Breakdown:
    """A table in words; the last row is what the rows above add up to."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    note: str


def clusters_of_strata(answer: Answer, recruited: bool = False) -> list[list[float]]:
    """Clusters of each stratum by arm: whole, unless sizes are exact; none where there are no strata."""
    if "strata" in answer.details:
        by_arm = answer.n_more.get("enrol_strata") if recruited else None
        return [list(of) for of in zip(*(by_arm or answer.details["strata"]), strict=True)]
    return [stratum["clusters"] for stratum in answer.n_more.get("strata", ())]


def kinds_text(aim: Aim, answer: Answer | None) -> str:
    """The strata as they are typed by numbers of clusters: `2 8 2; 2 18 4`; `?` for a number that is not known."""
    strata = values_with_defaults(aim).get("strata", ())
    clusters = clusters_of_strata(answer) if answer is not None else []
    numbers = [f"{of[0]:g}" for of in clusters] if len(clusters) == len(strata) else [EMPTY_CELL] * len(strata)
    return "; ".join(
        f"{number} {of['mean_size']:g} {of['sd_size']:g}" for number, of in zip(numbers, strata, strict=True)
    )


def breakdown_of(aim: Aim, answer: Answer) -> Breakdown | None:
    """The strata of an answer; None where there are none."""
    clusters = clusters_of_strata(answer)
    if not clusters:
        return None
    arms, word = names_of(aim, "groups"), cluster_word(aim)
    head = tuple(f"{arm}: {what}" for arm in arms for what in (aim.words.many, word))
    exact = "strata" in answer.n_more
    means = [record["mean_size"] for record in values_with_defaults(aim)["strata"]]
    numbers = [
        [value for number in of for value in (number * mean, number)] for of, mean in zip(clusters, means, strict=True)
    ]
    sums = [sum(column) for column in zip(*numbers, strict=True)]
    rows = [(name_at(aim, "strata", at), *_texts(row, exact)) for at, row in enumerate(numbers)]
    return Breakdown(
        head=("", *head),
        rows=(*rows, ("together", *_texts(sums, exact))),
        note=_note(answer.n_more["clusters"], word) if exact else "",
    )


def _note(clusters: Sequence[int], word: str) -> str:
    return f"Rounded up, that is {' and '.join(count_text(number) for number in clusters)} whole {word}."


def _texts(row: Sequence[Any], exact: bool) -> list[str]:
    """Participants with one decimal where they are not whole; clusters of exact sizes with two."""
    return [
        f"{value:.{2 if at % 2 else 1}f}" if exact else count_text(round(value)) if _whole(value) else f"{value:.1f}"
        for at, value in enumerate(row)
    ]


def _whole(value: float) -> bool:
    return abs(value - round(value)) < 1e-9
