"""What a protocol must say beside its numbers: the statements of a study, whom it recruits from, what is not stated."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.wording import listed, uncapital
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Protocol
from ragwort.study.results.resources import amount_text
from ragwort.study.sharing.family import plan_of
from ragwort.study.words.numbers import count_text

NOT_STATED = "not stated"


@dataclass(frozen=True)
class Statement:
    """One thing that a committee asks for; a field of `Protocol`."""

    name: str
    label: str
    prompt: str  # what could stand there
    choices: tuple[tuple[str, str], ...] = ()  # value and words, where it is one of a few


KINDS_OF_STUDY = (
    ("randomised", "randomised trial"),
    ("cluster-randomised", "cluster-randomised trial"),
    ("observational", "observational study"),
    ("animal", "animal experiment"),
    ("diagnostic", "diagnostic accuracy study"),
)
RECRUITED = "recruited"
_TAKEN_IN = {"observational": "included", "diagnostic": "included", "animal": "used"}
GUIDELINES = {  # of kinds of study: the edition of a reporting guideline that fits it
    "randomised": "consort-2025",
    "cluster-randomised": "consort-2025",
    "observational": "strobe-2007",
    "animal": "arrive-2.0",
}
STATEMENTS = (
    Statement("kind", "Kind of study", "which decides the checklist", KINDS_OF_STUDY),
    Statement(
        "analysis_set",
        "Analysis set and estimand",
        "all who were allocated, as allocated; the difference in means whatever happens after allocation",
    ),
    Statement(
        "missing",
        "Missing data",
        "multiple imputation, assuming that data are missing at random (dropout is not that)",
    ),
    Statement("interim", "Interim analyses", "none planned"),
    Statement("committee", "Interim results are seen by", "the independent data monitoring committee"),
    Statement("multiplicity", "Multiplicity", "none; secondary aims are exploratory"),
)
HEAD = (
    Statement("author", "Author", "who answers for it"),
    Statement("version", "Version", "1.0"),
    Statement("date", "Date", "2 March 2026"),
)
FLOW = (  # each stage counts people of the one before it
    Statement("screened", "Screened per centre and month", "40"),
    Statement("eligible", "of whom eligible", "20"),
    Statement("consenting", "of whom consenting", "12"),
)
TIME_POINT = Statement("time_point", "Time point of the outcome", "six weeks after allocation")


def taken_in(study: Study) -> str:
    """What is done with participants by the kind of study: `recruited`, `included`, of animals `used`."""
    return _TAKEN_IN.get(study.protocol.kind, RECRUITED)


def words_of(statement: Statement, protocol: Protocol) -> str:
    """What was stated, in words; empty where nothing was."""
    value: str = " ".join(str(getattr(protocol, statement.name)).split())
    return dict(statement.choices).get(value, value)


def stated(study: Study) -> list[str]:
    """Sentences on what was stated: `Missing data: multiple imputation.`"""
    found = [(each.label, words_of(each, study.protocol).rstrip(".")) for each in _asked(study)]
    flow = recruitment_flow(study)
    return [f"{label}: {words}." for label, words in found if words] + ([flow] if flow else [])


def not_stated(study: Study) -> list[str]:
    """Labels of what nobody has stated yet, in running text."""
    missing = [each.label for each in _asked(study) if not words_of(each, study.protocol)]
    without = [aim for aim in study.aims if not aim.time_point]
    if without:
        missing.append(TIME_POINT.label)
    if not recruitment_flow(study):
        missing.append("Recruitment, from screening to consent")
    return [uncapital(label) for label in missing]


def _asked(study: Study) -> list[Statement]:
    """What is asked of a study: where the aims share an alpha by a plan, that is its multiplicity.

    Who sees interim results is asked where there are any.
    """
    looks = {"interim", "committee"} - {field_of_looks(study)}  # planned looks are told aim by aim
    apart = looks | ({"multiplicity"} if plan_of(study).shares else set())
    return [each for each in STATEMENTS if each.name not in apart]


def field_of_looks(study: Study) -> str:
    """Where interim analyses are stated: who sees them, where some are planned."""
    return "committee" if any(has_looks(aim) for aim in study.aims) else "interim"


def has_looks(aim: Aim) -> bool:
    """Whether interim analyses of an aim are planned."""
    fractions = aim.as_planned().values().get("fractions")
    return isinstance(fractions, list) and len(fractions) > 1


def head_line(study: Study) -> str:
    """`Version 1.0, 2 March 2026, by A. Marsh`; empty where none of it is stated."""
    author, version, date = (words_of(each, study.protocol) for each in HEAD)
    parts = [f"Version {version}" if version else "", date, f"by {author}" if author else ""]
    return ", ".join(part for part in parts if part)


def recruitment_flow(study: Study) -> str:
    """How many are screened, eligible and consenting, and how many centres recruit; empty where nothing is stated."""
    protocol, has = study.protocol, study.resources
    known = [(word, value) for word, value in zip(_FLOW_WORDS, flow_of(protocol), strict=True) if value is not None]
    if not known:
        return ""
    recruited = [] if has.per_month is None else [("recruited", has.per_month)]
    stages = [f"{amount_text(value)} {word}" for word, value in (*known, *recruited)]
    centres = _CENTRES.get(has.centres) or f"each of {count_text(has.centres or 1)} centres"
    return f"Recruitment: {centres} expects {listed(stages)} a month."


_CENTRES = {None: "each centre", 1: "the centre"}
_FLOW_WORDS = ("screened", "eligible", "consenting")


def flow_of(protocol: Protocol) -> tuple[float | None, ...]:
    """The stages of recruitment, from the first on; None where one is not stated."""
    return protocol.screened, protocol.eligible, protocol.consenting


def flow_fault(study: Study, name: str, value: float) -> str:
    """Why a stage cannot have this many: it would have more than the one before it, or fewer than the next."""
    names = [each.name for each in FLOW]
    at = names.index(name)
    stages = [*flow_of(study.protocol), study.resources.per_month]
    before = next((stages[each] for each in range(at - 1, -1, -1) if stages[each] is not None), None)
    after = next((each for each in stages[at + 1 :] if each is not None), None)
    if before is not None and value > before:
        return f"More than the {amount_text(before)} of the stage before it: at most {amount_text(before)}."
    if after is not None and value < after:
        return f"Fewer than the {amount_text(after)} of the next stage: at least {amount_text(after)}."
    return ""


def time_point_words(aim: Aim) -> str:
    """The outcome's time point as a clause: `, six weeks after allocation,`; empty where it is not stated."""
    said = " ".join(aim.time_point.split()).rstrip(".")
    return f" ({said})" if said else ""
