"""What the whole study needs: the largest enrolment of its aims against the limit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ragwort.designs import Answer
from ragwort.study.document.aim import Aim, Setting
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Outcome, at_hand, to_enrol
from ragwort.study.results.resources import Bound, bounds_of
from ragwort.study.results.serving import Recruitment, can_be_said, recruitments, sayable, serves_all, sets_size
from ragwort.study.words.scenarios import counted_words


@dataclass(frozen=True)
class Needs:
    """How many participants the study must enrol, and which aim says so."""

    count: int
    aim_name: str
    aim_id: str
    many: str
    spare: int | None  # left under the tightest limit of any aim, negative where it is exceeded; None without one
    bound: Bound | None  # that limit
    others: tuple[tuple[int, str, str], ...] = ()  # of aims that count something else: how many, what, which aim
    single: bool = True  # one recruitment serves all aims: the count is the study's, not only that of its largest aim
    can_be_said: bool = False  # the user could say so
    recruitments: tuple[Recruitment, ...] = ()  # that the study takes: one where one serves all aims

    @property
    def sayable(self) -> tuple[tuple[Recruitment, Recruitment], ...]:
        """Pairs of recruitments that the user may say are one."""
        return sayable(self.recruitments)


def needs_of(study: Study, outcome: Callable[[Aim, Setting | None], Outcome] = at_hand) -> Needs | None:
    """What the study needs by the outcomes of its aims as planned; None while none has an answer.

    Exploratory aims set no size. Aims that count other things, as pairs or children, are not compared with the rest:
    the study's need is that of what most of its aims count.
    """
    counted = [(aim, outcome(aim, aim.planned_scenario)) for aim in study.aims]
    kinds = _by_what_is_counted(counted)
    if not kinds:
        return None
    (count, aim, many), *others = kinds
    spare, bound = _tightest(study, counted)
    rest = tuple((number, words, other.name) for number, other, words in others)
    answered = [(each, found) for each, found in counted if isinstance(found, Answer)]
    single = serves_all(study, answered)
    can_say = not single and can_be_said(answered)
    return Needs(count, aim.name, aim.id, many, spare, bound, rest, single, can_say, recruitments(study, answered))


def _by_what_is_counted(counted: list[tuple[Aim, Outcome]]) -> list[tuple[int, Aim, str]]:
    """The enrolment and the aim that sets it for each thing that aims count, what most of them count first."""
    answered = [(aim, found) for aim, found in counted if isinstance(found, Answer)]
    confirmatory = [each for each in answered if each[0].role != "exploratory"] or answered
    kinds: dict[str, list[tuple[Aim, Answer]]] = {}
    for aim, found in confirmatory:
        kinds.setdefault(counted_words(aim, found), []).append((aim, found))
    ordered = sorted(kinds.items(), key=lambda each: -len(each[1]))
    return [(to_enrol(found), aim, words) for words, alike in ordered for aim, found in [sets_size(alike)]]


def _tightest(study: Study, counted: list[tuple[Aim, Outcome]]) -> tuple[int | None, Bound | None]:
    """How many are left under the limit that leaves the fewest, and which that is."""
    found = [
        (bounds[0].count - to_enrol(answer), at, bounds[0])
        for at, (aim, answer) in enumerate(counted)
        if isinstance(answer, Answer) and (bounds := bounds_of(study, aim, answer))
    ]
    spare, _, bound = min(found, key=lambda each: each[:2]) if found else (None, 0, None)
    return spare, bound
