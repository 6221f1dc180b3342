"""The words of a rehearsal's sentence that are typed over."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.designs.assumption import Assumption
from ragwort.rehearsal.departures import ALIKE, APART, CV, HIGH, IDLE, LOST, LOW, SIZE
from ragwort.rehearsal.stage import Planned
from ragwort.study.document.pages import World

TIMES = Assumption("times", "Studies", "count", "Sample", "How many studies are made up.", low=1, high=1_000_000)
SEED = Assumption("seed", "Seed", "count", "Sample", "Where the randomness begins.", low=0, high=2**53)


@dataclass(frozen=True)
class Word:
    """A word of the sentence that can be typed over: what it is, and what stands there while nothing departs."""

    declared: Assumption
    empty: str = ""


def words_of(of: Planned, world: World) -> dict[str, Word]:
    """Every word that can be typed over, by its name."""
    found = {
        "times": Word(TIMES),
        "seed": Word(SEED),
        "apart": Word(APART, "equal" if not of.values.get("sd2") else "as planned"),
        "lost": Word(LOST, "nobody"),
        "idle": Word(IDLE, "everybody"),
        "effect": Word(of.rehearsed.primary),
        "alike": Word(ALIKE, "as planned"),
        "cv": Word(CV, "as planned"),
        "low": Word(LOW),
        "high": Word(HIGH),
    }
    shape = str(world.asked.get("shape", "normal"))
    return {**found, "size": Word(SIZE[shape])} if shape in SIZE else found
