"""What the page shows of a rehearsal: the rows of its table, its remark, its pictures."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ragwort.base.processors import processors
from ragwort.base.wording import uncapital
from ragwort.figures.shown.by_size import by_size_of
from ragwort.figures.shown.one_study import one_study_of
from ragwort.figures.shown.rehearsed import estimates_of, p_values_of, worlds_of
from ragwort.figures.shown.shown import Shown
from ragwort.rehearsal.by_size import AtSize, Needed
from ragwort.rehearsal.dataset import DataSet, measured_label
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.tally import Tally
from ragwort.rehearsal.verdicts import coverage_words, looks_words, verdict
from ragwort.rehearsal.worlds import departing, title_of, why_not
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import World
from ragwort.study.words.numbers import count_text, decimals_text, percent_text, with_unit

_COUNTS = {2: "two", 3: "three", 4: "four", 8: "eight"}
OF_TESTS = ("p-values", "By size")  # pictures that need a test
_WORKING = "The studies are being made up."


@dataclass(frozen=True)
class Line:
    """A row of the table: departure, power, its interval, the formula's, by how much success inflates, wrong signs."""

    world: str  # its id
    texts: tuple[str, ...]
    fault: str = ""


@dataclass(frozen=True)
class Known:
    """What is known so far of the world in view, and of all."""

    tally: Tally | None
    worlds: Sequence[tuple[World, Tally | None]]
    sizes: Sequence[AtSize]
    needed: Needed | None
    data: DataSet | None
    fault: str = ""  # why the world in view cannot be had


def line(of: Planned, world: World, tally: Tally | None, fault: str) -> Line:
    """The row of a world; dots where nothing is known yet."""
    title = title_of(world, of)
    if fault:
        return Line(world.id, (title, "—", "", "", "", ""), fault)
    null = world.asked.get("effect") == "none"
    level = float(of.answer.plan.actual_alpha(of.answer.sizes())[0])
    if tally is None or not tally.replicates:
        return Line(world.id, (title, "…", "", _formula_text(of.answer.power, level, null), "", ""))
    return Line(world.id, (title, *row_of(tally, null, level if null else of.answer.power)))


def _formula_text(power: float, level: float, null: bool) -> str:
    return f"α {100 * level:.3g}%" if null else percent_text(power)


def row_of(tally: Tally, null: bool, formula: float) -> tuple[str, ...]:
    """Power, its interval, the formula's (without an effect its alpha), by how much success inflates, wrong signs."""
    low, high = (decimals_text(100 * end, 1) for end in tally.interval)
    inflates = "–" if tally.exaggeration is None else decimals_text(tally.exaggeration, 2)
    sign = "–" if tally.wrong_sign is None else percent_text(tally.wrong_sign)
    said = _formula_text(formula, formula if null else tally.alpha, null)
    return percent_text(tally.power), f"{low} – {high}", said, inflates, sign


def remark(aim: Aim, of: Planned, world: World, tally: Tally | None, seconds: float) -> str:
    """The quiet line under the sentence: how long it took, and whether formula and rehearsal agree."""
    if tally is None or not tally.replicates or why_not(world, of):
        return ""
    asked = departing(world, of)
    if tally.replicates < aim.rehearsing.times:
        left = seconds * (aim.rehearsing.times / tally.replicates - 1)
        soon = "less than a second" if left < 1 else f"about {_duration(left)}"
        return f"{count_text(tally.replicates)} of {count_text(aim.rehearsing.times)} studies so far; {soon} left."
    cores = processors()
    on = "one processor" if cores == 1 else f"{_COUNTS.get(cores, str(cores))} processors"
    undone = f" {count_text(tally.undone)} could not be analysed." if tally.undone else ""
    looked = f" {looks_words(of, tally)}" if tally.ended_at and not asked["timing"] else ""
    return f"Done in {decimals_text(seconds, 1)} s on {on}. {verdict(of, asked, tally)}{looked}{undone}"


def _duration(seconds: float) -> str:
    if seconds >= 90:
        return f"{round(seconds / 60)} minutes"
    whole = max(1, round(seconds))
    return f"{whole} second{'' if whole == 1 else 's'}"


def picture(name: str, aim: Aim, of: Planned, world: World, known: Known) -> tuple[Shown | None, str]:
    """The picture of this name, or why there is none."""
    if known.fault and name != "Power":
        return None, known.fault
    if name in OF_TESTS and not of.design.tested:
        return None, "Nothing is tested here: the study is to end with an interval."
    if name == "One study":
        return _one_study(aim, known)
    if name == "By size":
        return _by_size(aim, of, known)
    if name == "Power":
        return _worlds(of, world, known)
    tally = known.tally
    if tally is None or not tally.edges:
        return None, _WORKING
    return (p_values_of(tally) if name == "p-values" else estimates_picture(aim, of, tally)), ""


def estimates_picture(aim: Aim, of: Planned, tally: Tally) -> Shown | None:
    """How the estimates lie; None where no study could be analysed."""
    if not tally.edges:
        return None
    measured = of.primary.kind == "measured" and not of.answer.plan.estimated
    unit, scale = aim.words.unit if measured else "", 1.0
    if "proportion" in of.answer.primary:
        unit, scale = ("points" if of.answer.plan.estimated else "%"), 100.0
    as_ratio = bool(of.answer.plan.estimated_ratio)
    return estimates_of(tally, _estimated(of), unit, _truth_words(of, tally, unit), scale, as_ratio)


def _estimated(of: Planned) -> str:
    """What the estimates are of."""
    plan = of.answer.plan
    if plan.estimated or "proportion" in of.answer.primary:
        return plan.estimated_ratio or plan.estimated or "proportion"
    return uncapital(of.primary.label) if plan.has_test else "value, from the true one on"


def _truth_words(of: Planned, tally: Tally, unit: str) -> str:
    if not tally.tested and tally.truth == tally.nothing:
        return "the truth"
    if tally.truth == tally.nothing:
        return "truth on the margin" if tally.margin else "no true effect"
    primary = of.primary
    if "proportion" in primary.name:
        points = decimals_text(100 * tally.truth, 1).removesuffix(".0")
        whole = f"true {_estimated(of)} {percent_text(tally.truth)}"
        return f"true difference {points} points" if of.answer.plan.estimated else whole
    if of.answer.plan.estimated_ratio:
        return f"true {_estimated(of)} {math.exp(tally.truth):.3g}"
    if of.answer.plan.estimated:
        return f"true {of.answer.plan.estimated} {tally.truth:.3g}".replace("-", "−")
    return f"true {_estimated(of)} {with_unit(primary, tally.truth, unit, digits=3)}"


def _worlds(of: Planned, world: World, known: Known) -> tuple[Shown | None, str]:
    there = [(each, tally) for each, tally in known.worlds if tally is not None and tally.replicates]
    if not there:
        return None, _WORKING
    chosen = next((place for place, (each, _) in enumerate(there) if each.id == world.id), -1)
    return worlds_of([(title_of(each, of), tally) for each, tally in there], of.answer.power, chosen), ""


def _by_size(aim: Aim, of: Planned, known: Known) -> tuple[Shown | None, str]:
    if not known.sizes:
        return None, "Looking for the size at which simulation reaches the power asked for."
    return by_size_of(known.sizes, known.needed, of, aim.words.many), ""


def _one_study(aim: Aim, known: Known) -> tuple[Shown | None, str]:
    if known.data is None:
        return None, _WORKING
    shown = one_study_of(known.data, measured_label(aim, known.data))
    return shown, "" if shown is not None else "Its outcomes are categories: show them as a table."


def below(name: str, of: Planned, tally: Tally | None) -> str:
    """What else is said under the picture."""
    if tally is None or not tally.replicates or name != "Estimates":
        return ""
    return coverage_words(of, tally)
