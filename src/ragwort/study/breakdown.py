"""Where clusters come in strata: participants and clusters of each stratum in both arms, as a table that adds up."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.designs import Answer
from ragwort.study.model import Aim
from ragwort.study.naming import cluster_word, name_at, names_of
from ragwort.study.numbers import count_text


@dataclass(frozen=True)
class Breakdown:
    """A table in words; the last row is what the rows above add up to."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    note: str


def breakdown_of(aim: Aim, answer: Answer) -> Breakdown | None:
    """The strata of an answer; None where there are none."""
    strata = answer.n_more.get("strata")
    if not strata:
        return None
    arms, word = names_of(aim, "groups"), cluster_word(aim)
    head = tuple(f"{arm}: {what}" for arm in arms for what in (aim.words.many, word))
    numbers = [
        [value for arm in range(len(arms)) for value in (stratum["participants"][arm], stratum["clusters"][arm])]
        for stratum in strata
    ]
    sums = [sum(column) for column in zip(*numbers, strict=True)]
    rows = [(name_at(aim, "strata", at), *_texts(row)) for at, row in enumerate(numbers)]
    clusters = " and ".join(count_text(number) for number in answer.n_more["clusters"])
    return Breakdown(
        head=("", *head),
        rows=(*rows, ("together", *_texts(sums))),
        note=f"Rounded up, that is {clusters} whole {word}.",
    )


def _texts(row: list[float]) -> list[str]:
    """Participants with one decimal, clusters with two."""
    return [f"{value:.{2 if at % 2 else 1}f}" for at, value in enumerate(row)]
