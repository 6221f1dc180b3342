"""What a protocol says of interim analyses: when, by which boundaries, what is to be expected, who sees them."""

from __future__ import annotations

from ragwort.base.wording import capital, listed
from ragwort.designs import Answer
from ragwort.designs.looks import SPENDING_WORKS, LookedPlan
from ragwort.designs.works import ARMITAGE_LOOKS, LAN_DEMETS, PAMPALLONA, cited
from ragwort.report.tree import Block, Table
from ragwort.stats.sequential.looks import Looks
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.looks import Look, looks_of
from ragwort.study.words.looks import LookWords, looks_words
from ragwort.study.words.numbers import count_text, decimals_text, percent_text

_FUNCTIONS = {
    "obrien-fleming": "an O'Brien–Fleming-type spending function",
    "pocock": "a Pocock-type spending function",
    "hwang-shih-decani": "the Hwang–Shih–DeCani spending function with γ = {parameter}",
    "power": "the power spending function with ρ = {parameter}",
    "own": "amounts fixed beforehand",
}
_LATER = (
    "If an analysis takes place at another time than planned, its boundary will follow from the alpha that is due to "
    "be spent by then."
)


def interim_short(aim: Aim, answer: Answer) -> str:
    """For one sentence: ` and one interim analysis after 64 staff (O'Brien–Fleming-type alpha spending)`."""
    looks = looks_of(answer)
    if not looks:
        return ""
    kind = _course(answer).spending.kind
    how = {
        "obrien-fleming": "O'Brien–Fleming-type alpha spending",
        "pocock": "Pocock-type alpha spending",
        "hwang-shih-decani": "Hwang–Shih–DeCani alpha spending",
        "power": "alpha spent by a power of the information",
        "own": "alpha spent in fixed amounts",
    }[kind]
    return f" and {looks_words(len(looks) - 1)} after {_after(aim, answer, looks)} ({how})"


def interim_words(aim: Aim, answer: Answer, committee: str = "") -> str:
    """The paragraph of a protocol; empty where no interim analyses are planned."""
    looks = looks_of(answer)
    if not looks:
        return ""
    said = [
        _when(aim, answer, looks),
        _spent(answer),
        _boundaries(aim, answer, looks),
        _futility(aim, answer, looks),
        _expected(aim, answer),
        _LATER,
        f"Results of interim analyses will be seen by {committee.rstrip('.')} only." if committee else "",
        f"Boundaries were computed from the joint normal distribution of the statistics {cited((ARMITAGE_LOOKS,))}.",
    ]
    return " ".join(each for each in said if each)


def _course(answer: Answer) -> Looks:
    assert isinstance(answer.plan, LookedPlan)
    return answer.plan.course


def _after(aim: Aim, answer: Answer, looks: list[Look]) -> str:
    words = LookWords(aim, answer)
    return f"{listed([words.after(each) for each in looks[:-1]])} {words.counted_in}"


def _when(aim: Aim, answer: Answer, looks: list[Look]) -> str:
    number = looks_words(len(looks) - 1)
    shares = listed([percent_text(each.fraction, 0) for each in looks[:-1]])
    are = "is" if len(looks) == 2 else "are"
    was = {"is": "was", "are": "were"}[are] if aim.finished else are
    come = "" if LookWords(aim, answer).counted_in == "events" else " with an outcome"
    return f"{capital(number)} {was} planned, after {_after(aim, answer, looks)}{come} ({shares} of the information)."


def _spent(answer: Answer) -> str:
    spending = _course(answer).spending
    how = _FUNCTIONS[spending.kind].format(parameter=f"{spending.parameter:g}".replace("-", "−"))
    works = (*SPENDING_WORKS.get(spending.kind, ()), LAN_DEMETS)
    return f"Alpha is spent by {how} {cited(works)}."


def _boundaries(aim: Aim, answer: Answer, looks: list[Look]) -> str:
    words = LookWords(aim, answer)
    early = [_boundary(words, each) for each in looks[:-1] if each.bound is not None]
    last = looks[-1]
    stop = f"The study will be stopped for efficacy at {'; or at '.join(early)}." if early else ""
    end = f"The final analysis will be at a nominal p of {words.p(last)}." if last.bound is not None else ""
    return " ".join(each for each in (stop, end) if each)


def _boundary(words: LookWords, look: Look) -> str:
    name, _, whose = words.effect_name.partition(", ")
    name = f"{name} ({whose})" if whose else name
    effect = f", that is, a {name} of {words.boundary(look, 'effect')}" if look.effect is not None else ""
    return f"{words.beyond(look)} (nominal p {words.p(look)}{effect})"


def _futility(aim: Aim, answer: Answer, looks: list[Look]) -> str:
    course = _course(answer)
    if course.futility is None:
        return ""
    early = [decimals_text(each.futility, 3) for each in looks[:-1] if each.futility is not None]
    binding = "binding" if course.futility.binding else "non-binding"
    rest = "" if course.futility.binding else "; the study may go on beyond them without loss of control of alpha"
    return f"Boundaries for futility are {binding} {cited((PAMPALLONA,))}, at z = {listed(early) or 'none'}{rest}."


def _expected(aim: Aim, answer: Answer) -> str:
    details, words = answer.details, LookWords(aim, answer)
    of = next((each for each in ("n", "events") if f"expected_{each}_effect" in details), None)
    if of is None:
        return ""
    effect, null = (count_text(round(details[f"expected_{of}_{each}"])) for each in ("effect", "null"))
    what = "events" if of == "events" else aim.words.many
    most = words.after(looks_of(answer)[-1]) if of == "events" else count_text(answer.total)
    return (
        f"The expected number of {what} is {effect} if the planned effect is true and {null} if there is none; the "
        f"largest possible is {most}."
    )


def interim_blocks(study: Study, aim: Aim, answer: Answer) -> list[Block]:
    """The boundaries as a table."""
    looks, words = looks_of(answer), LookWords(aim, answer)
    if not looks:
        return []
    futile = any(each.futility is not None for each in looks[:-1])
    head = (
        "Analysis", capital(words.counted_in), "Information", "Alpha spent", "z", "Nominal p",
        capital(words.effect_head),
        *(("Futility, z",) if futile else ()), "Chance, planned effect", "Chance, no effect",
    )  # fmt: skip
    rows = [_row(words, each, futile, each is looks[-1]) for each in looks]
    return [Table("Interim and final analyses: boundaries for efficacy", head, tuple(rows), tuple(range(1, len(head))))]


def _row(words: LookWords, look: Look, futile: bool, last: bool) -> tuple[str, ...]:
    cells = words.cells(look.fraction, look, "z")
    futility = "—" if look.futility is None or last else decimals_text(look.futility, 3)
    return (
        "final" if last else f"interim {look.number}",
        cells["after"],
        percent_text(look.fraction, 0),
        cells["spent"],
        cells["bound"],
        words.p(look),
        cells["effect"],
        *((futility,) if futile else ()),
        percent_text(look.reject_effect),
        percent_text(look.reject_null),
    )
