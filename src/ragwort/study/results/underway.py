"""A study under way: what its interim analysis says, and what sizes follow from what is learnt without unblinding."""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy import special

from ragwort.designs import Answer, RequestError, design_named, settle
from ragwort.designs.looks.underway import Underway, reestimated, underway
from ragwort.pilot import PilotError
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Interim
from ragwort.study.results.interim_file import statistic_of_summaries
from ragwort.study.results.looks import looks_of
from ragwort.study.results.outcome import request_of
from ragwort.study.words.looks import LookWords
from ragwort.study.words.numbers import count_text, decimals_text, percent_text

UNBLINDS = (
    "Whoever reads this has seen the comparison: it belongs to the monitoring committee, not to those who recruit, "
    "treat or assess."
)
FUTILE = (
    "A low conditional power may be a reason to stop for futility. Stopping on it spends no alpha and is not binding; "
    "it costs power unless it was planned."
)
_LOW = 0.5  # a conditional power with the planned effect that somebody may think of stopping on
BLINDED = (
    "This is learnt from all together and unblinds nobody. A size is never set below those who are enrolled already; "
    "sizes from the difference seen so far need another method."
)


@dataclass(frozen=True)
class Reestimated:
    """What the sizes become."""

    total: int
    groups: tuple[int, ...]
    said: str


def whole_of(answer: Answer) -> float:
    """What all of the information is: people, events, clusters."""
    if answer.plan.events_expected(answer.sizes()) is not None:
        return float(answer.n_more["events"])
    clusters = answer.plan.clusters_at(answer.sizes())
    return float(sum(clusters)) if clusters else float(answer.total)


def interim_result(aim: Aim, answer: Answer) -> Underway | None:
    """What is to be said now; None where nothing is known yet. Raises `RequestError`."""
    interim, whole = aim.interim, whole_of(answer)
    if interim.now is None:
        return None
    before = tuple(_share(answer, each, whole) for each in interim.before)
    z, error = statistic(interim, answer)
    return underway(answer, _share(answer, interim.now, whole), before, z, error)


def _share(answer: Answer, there: float, whole: float) -> float:
    """Of the information; what a look was planned after, rounded up to whole people, is the share that was planned."""
    planned = {each.counted: each.fraction for each in looks_of(answer)}
    return planned.get(round(there), there / whole) if float(there).is_integer() else there / whole


def statistic(interim: Interim, answer: Answer) -> tuple[float | None, float | None]:
    """The statistic as a z, upwards positive, and the standard error where it is known. Raises `RequestError`."""
    if interim.seen_as == "z":
        return interim.z, None
    if interim.seen_as == "estimate":
        if interim.estimate is None or interim.error is None:
            return None, None
        nothing = answer.plan.nothing
        estimate = math.log(interim.estimate) if answer.plan.estimated_ratio else interim.estimate
        return (estimate - nothing) / interim.error, interim.error
    if interim.seen_as == "summaries":
        return _of_summaries(interim, answer), None
    if interim.p is None:
        return None, None
    sides = 2 if answer.plan.sides == "two" else 1
    toward = -float(special.ndtri(interim.p / sides))
    down = answer.plan.sides == "less" or (sides == 2 and float(answer.plan.effect) < 0)
    signed = -toward if down else toward
    return (signed if interim.toward or sides == 1 else -signed), None


def _of_summaries(interim: Interim, answer: Answer) -> float | None:
    try:
        return statistic_of_summaries(answer, interim.summary)
    except PilotError as error:
        raise RequestError("summary", str(error)) from error


def said_of(aim: Aim, answer: Answer, found: Underway) -> list[str]:
    """For the committee, line by line."""
    words = LookWords(aim, answer)
    now = aim.interim.now or 0.0
    there = f"{count_text(round(now))} of {count_text(round(whole_of(answer)))} {words.counted_in}"
    said = [f"{there} ({percent_text(found.fraction, 0)} of the information). {_of_boundary(found, answer)}"]
    if found.z is not None:
        said.append(_of_seen(found))
    if found.interval is not None:
        low, high = (_as_reported(words, answer, each, aim) for each in found.interval)
        said.append(f"Repeated confidence interval of the {words.effect_name}: {low} to {high}.")
    if found.as_planned is not None and not found.crossed:
        chances = [percent_text(each or 0.0) for each in (found.as_planned, found.trend, found.none, found.predictive)]
        said.append(
            f"Chance of success at the end: {chances[0]} with the planned effect, {chances[1]} if the trend goes on, "
            f"{chances[2]} if there is no effect; {chances[3]} averaged over what is seen (predictive power)."
        )
        if (found.as_planned or 0.0) < _LOW:
            said.append(FUTILE)
    return said


def _as_reported(words: LookWords, answer: Answer, value: float, aim: Aim) -> str:
    """Of an estimate on its own scale what is reported."""
    ratio = aim.interim.seen_as == "estimate" and bool(answer.plan.estimated_ratio)
    return words.with_unit(math.exp(value) if ratio else value)


def _of_boundary(found: Underway, answer: Answer) -> str:
    sides = "±" if answer.plan.sides == "two" else ""
    if found.bound is None:
        return "No alpha may be spent yet: nothing is tested now."
    spent = f"alpha spent up to now {decimals_text(found.spent, 4)}"
    planned = "This look was planned" if found.planned else "This look was not planned; it spends what is due by now"
    futility = f", for futility {decimals_text(found.futility, 3)}" if found.futility is not None else ""
    return (
        f"{planned}: {spent}, boundary for efficacy z = {sides}{decimals_text(found.bound, 3)} "
        f"(nominal p {decimals_text(found.p or 0.0, 4)}){futility}; at the end it will be "
        f"{sides}{decimals_text(found.final_bound, 3)}."
    )


def _of_seen(found: Underway) -> str:
    z = decimals_text(found.z or 0.0, 3)
    if found.crossed:
        said = f"z = {z} crosses the boundary for efficacy: the protocol's rule is to stop."
        return f"{said} An estimate at an early stop tends to be too large."
    if found.gave_up:
        return f"z = {z} is beyond the boundary for futility."
    return f"z = {z} crosses no boundary: the study goes on."


def reestimate(aim: Aim, answer: Answer) -> Reestimated | None:
    """The sizes with what was seen of all together; None where nothing was. Raises `RequestError`."""
    design, interim = design_named(aim.design), aim.interim
    if design.blinded is None or interim.blinded is None or interim.of is None:
        return None
    values = dict(request_of(design, aim)["assumptions"])
    found_so = {"effect": answer.primary, "power": "power", "alpha": "alpha"}.get(answer.find)
    values |= {found_so: float(answer.answer)} if found_so else {}
    changed = reestimated(design, values, interim.blinded, interim.of, interim.adjusted, interim.beside)
    found = settle(design, "n", changed)
    enrolled = max(interim.of, round(interim.now or 0.0) if not answer.counted else 0)
    total = max(found.total, enrolled)
    said = (
        f"{count_text(found.total)} {aim.words.many} ({' + '.join(map(count_text, found.groups))}) with what is seen, "
        f"in place of {count_text(answer.total)}."
    )
    if total > found.total:
        said += f" {count_text(total)} are there already: the size stays at that."
    return Reestimated(total, found.groups, said)
