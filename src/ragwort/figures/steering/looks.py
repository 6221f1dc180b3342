"""The sentences of the pictures of interim analyses: Boundaries and Look times."""

from __future__ import annotations

from ragwort.base.wording import capital
from ragwort.designs import Answer
from ragwort.figures.shown.boundaries import ACROSS, SCALES, Boundaries
from ragwort.figures.shown.look_times import MEASURES, LookTimes
from ragwort.figures.shown.shown import Shown
from ragwort.study.document.aim import Aim
from ragwort.study.slots.slot import Offers
from ragwort.study.words.sentence import Piece


def boundaries_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    """What the boundaries are shown as, against what."""
    assert isinstance(shown, Boundaries)
    words = shown.label_of_y.partition(",")[0] if shown.shown_as == "effect" else SCALES[shown.shown_as]
    across = ACROSS["share"] if shown.across else shown.x_label
    return [
        Piece("text", "The "),
        Piece("choice", words, "y"),
        Piece("text", " at which the study stops, against "),
        Piece("choice", across, "x"),
        Piece("text", "."),
    ]


def boundaries_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    """What can be chosen in their place."""
    assert isinstance(shown, Boundaries)
    offers, now = (SCALES, shown.shown_as) if slot == "y" else (ACROSS, shown.across)
    return [(name, words, name == now) for name, words in offers.items()]


def look_times_pieces(aim: Aim, answer: Answer, shown: Shown) -> list[Piece]:
    """What is asked, of which look."""
    assert isinstance(shown, LookTimes)
    return [
        Piece("choice", capital(MEASURES[shown.asked]), "y"),
        Piece("text", " if "),
        Piece("choice", shown.looks[shown.look], "x"),
        Piece("text", f" comes at another time than after {shown.planned_words}."),
    ]


def look_times_offers(aim: Aim, answer: Answer, shown: Shown, slot: str) -> Offers:
    """What can be chosen in their place."""
    assert isinstance(shown, LookTimes)
    if slot == "y":
        return [(name, words, name == shown.asked) for name, words in MEASURES.items()]
    return [(str(at + 1), words, at == shown.look) for at, words in enumerate(shown.looks)]
