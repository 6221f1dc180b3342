"""What was kept of an aim's rehearsal: its worlds as a table, the estimates as a picture, whether it still holds."""

from __future__ import annotations

from ragwort.designs import RequestError
from ragwort.figures.shown.rehearsal_page import estimates_picture, row_of
from ragwort.rehearsal.keeping import has_changed
from ragwort.rehearsal.of_aim import planned_of
from ragwort.rehearsal.records import tally_from_json
from ragwort.rehearsal.verdicts import coverage_words, looks_words, verdict
from ragwort.rehearsal.worlds import departing
from ragwort.report.tree import Block, FigureBlock, Paragraph, Table
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Rehearsed, World
from ragwort.study.words.numbers import count_text

_HEADS = ("Scenario", "Power", "95% interval", "Formula", "Type M error", "Type S error")
_CHANGED = "The aim has changed since it was rehearsed: this belongs to what it asked then."


def rehearsal_blocks(aim: Aim) -> list[Block]:
    """What was kept; nothing where nothing was."""
    kept = aim.rehearsing.kept
    if not kept:
        return []
    first = kept[0]
    times = (
        f"{count_text(first.times)} trials were simulated in each scenario (seed {first.seed}, version {first.version})"
    )
    words = (
        f"{times} and analysed as planned. Type M error: the exaggeration ratio, how many times the true effect the "
        "significant estimates are on average. Type S error: the share of them with the wrong sign."
    )
    rows = tuple(_row(each) for each in kept)
    table = Table("Simulated operating characteristics", _HEADS, rows, tuple(range(1, len(_HEADS))))
    found: list[Block] = [Paragraph(words), table]
    if has_changed(aim):
        return [*found, Paragraph(_CHANGED, "problem")]
    return [*found, *_as_found(aim, first)]


def _row(kept: Rehearsed) -> tuple[str, ...]:
    null, formula = kept.asked.get("effect") == "none", _number(kept, "formula")
    return (kept.words, *row_of(tally_from_json(kept.tally), null, formula))


def _number(kept: Rehearsed, name: str) -> float:
    value = kept.found.get(name)
    return float(value) if isinstance(value, int | float) else 0.0


def _as_found(aim: Aim, kept: Rehearsed) -> list[Block]:
    """What the first world says, and its estimates."""
    try:
        of = planned_of(aim)
        world = World(asked=kept.asked)
        asked = departing(world, of)
    except RequestError:
        return []
    tally = tally_from_json(kept.tally)
    looked = "" if asked["timing"] else looks_words(of, tally)
    parts = verdict(of, asked, tally), looked, coverage_words(of, tally)
    said = " ".join(part for part in parts if part)
    picture = estimates_picture(aim, of, tally)
    return [Paragraph(said), *([] if picture is None else [FigureBlock(picture, picture.says)])]
