"""What a rehearsal says in words: whether it agrees with the formula, and where it does not, why that may be."""

from __future__ import annotations

from itertools import accumulate

import numpy as np

from ragwort.base.wording import listed
from ragwort.designs.refusals import plain_number
from ragwort.rehearsal.departures import DEPARTURES, NONE, Departing, in_words
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.tally import Tally
from ragwort.study.words.numbers import percent_text

_SLACK = 1e-12
_FINE = 0.01  # a difference of power that no one would plan differently for


def verdict(of: Planned, asked: Departing, found: Tally) -> str:
    """One or two sentences: agreement of simulation and formula, and why not where there is none."""
    if asked["effect"] == NONE:
        return _error_verdict(of, found)
    formula, gap = of.answer.power, found.power - of.answer.power
    low, high = found.interval
    if low <= formula <= high:
        return "The formula and the rehearsal agree." if asked.as_planned else _hardly(of, asked)
    points = f"{plain_number(round(abs(gap) * 100, 1))} points {'above' if gap > 0 else 'below'}"
    why = _reasons(of, asked)
    if abs(gap) < _FINE and not asked.as_planned:
        return f"The rehearsal lies {points} the formula: more than chance explains, and too little to matter."
    return f"The rehearsal lies {points} the formula: {why}."


def _hardly(of: Planned, asked: Departing) -> str:
    return f"The formula and the rehearsal agree, also with {in_words(asked, of)}."


def _reasons(of: Planned, asked: Departing) -> str:
    reasons = [each.why for each in DEPARTURES if each.says(asked, of)]
    return ", and ".join(reasons) or "the formula is an approximation here"


def _error_verdict(of: Planned, found: Tally) -> str:
    """Whether the test rejects as often as it says where there is nothing to find."""
    promised = float(of.answer.plan.actual_alpha(of.answer.sizes())[0])
    low, high = found.interval
    where = "With the truth on the margin" if found.margin else "Without an effect"
    said = f"{where} the test rejects {percent_text(found.power)} of studies"
    if low <= promised <= high:
        return f"{said}, as its alpha of {percent_text(promised)} says."
    more = "more often than" if found.power > promised else "less often than"
    return f"{said}, {more} the {percent_text(promised)} that it promises."


def estimates_words(found: Tally) -> str:
    """What the studies that succeed make of the effect."""
    if not found.tested:
        return "Whether an interval is narrow says nothing of where it lies."
    if found.margin and found.truth != found.nothing:
        return "Success shows where the effect lies, seen from the margin, not how large it is."
    if found.margin:
        return "With the truth on the margin every success misleads."
    if found.exaggeration is None:
        return "Without a true effect every success misleads."
    percent = round((found.exaggeration - 1) * 100)
    said = f"Studies that succeed overstate the effect by {percent}% on average"
    if percent <= 0:
        said = "Studies that succeed do not overstate the effect"
    wrong = found.wrong_sign
    if wrong and wrong >= 0.0005:
        return f"{said}, and {percent_text(wrong)} of them point in the wrong direction."
    return f"{said}."


def looks_words(of: Planned, found: Tally) -> str:
    """How many studies ended at each look, and how large they became; empty without interim analyses."""
    if not found.ended_at:
        return ""
    fractions = of.values["fractions"]
    ended = [*found.ended_at, *[0] * (len(fractions) - len(found.ended_at))]
    shares = [each / found.replicates for each in ended]
    early = listed([percent_text(each) for each in shares[:-1]])
    mean = sum(t * share for t, share in zip(fractions, shares, strict=True))
    median = next(t for t, upto in zip(fractions, accumulate(shares), strict=True) if upto >= 0.5 - _SLACK)
    whole, what = _whole(of)
    interim = "the interim analysis" if len(ended) == 2 else "the interim analyses, in turn"
    return (
        f"{early} of studies ended at {interim}; on average {plain_number(round(mean * whole))} {what} were needed, "
        f"in the median study {plain_number(round(median * whole))}."
    )


def _whole(of: Planned) -> tuple[float, str]:
    """How large the study may become, and in what that is counted."""
    events = of.answer.plan.events_expected(of.answer.sizes())
    if events is not None:
        return float(np.ravel(events)[0]), "events"
    return float(of.answer.total), "events" if of.answer.counted else "people"


def coverage_words(of: Planned, found: Tally) -> str:
    """How many intervals held the true effect; empty where there are none."""
    if found.coverage is None:
        return ""
    interval = f"{100 * (1 - 2 * of.answer.plan.level.tail):.3g}% interval"
    truth = "true effect" if found.tested else "truth"
    studies = "study" if found.judged == 1 else "studies"
    said = (
        f"In {plain_number(found.judged)} made-up {studies} the {interval} held the {truth} in "
        f"{plain_number(found.held)} ({percent_text(found.coverage)})."
    )
    return said.replace("\u2009", "\u00a0")  # a number stays on its line
