"""The design said in one sentence: part by part for the window, as plain text for everything else."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Literal

import numpy as np

from ragwort.base.wording import listed
from ragwort.designs import Answer, Design, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.kinds import PrecisionPlan
from ragwort.designs.phrases import MOST_LISTED
from ragwort.designs.refusals import RequestError
from ragwort.study.document.aim import Aim, Entry, Setting
from ragwort.study.results.outcome import Outcome, Pending, to_enrol, values_with_defaults
from ragwort.study.words.found import found_text, full_text, power_text, reached_text
from ragwort.study.words.looks import after_words, looks_remark, looks_words
from ragwort.study.words.naming import cluster_word, has_names, in_study_words, name_at, names_of
from ragwort.study.words.numbers import MINUS, count_text, listed_with_unit, percent_text, with_unit
from ragwort.study.words.provenance import example_words
from ragwort.study.words.recruiting import allowance, more_clusters, per_cluster
from ragwort.study.words.terms import term_names

Kind = Literal["text", "value", "choice", "name", "derived"]
DASH = "—"
_SIZES = ("size", "points")  # ways of saying a value that leave its sign out
_TOKEN = re.compile(r"\{([\w.]+)\}")


@dataclass(frozen=True)
class Piece:
    """A run of the sentence. `name` is the assumption, or the name (`groups.0`), that an editor changes."""

    kind: Kind
    text: str
    name: str = ""
    found: bool = False
    fault: bool = False
    example: bool = False  # a value to start from, which nobody has confirmed
    full: str = ""  # of what was found, more digits than are said
    stale: bool = False  # found under other assumptions; the answer to these is being worked out


def sentence_of(aim: Aim, outcome: Outcome, setting: Setting | None = None) -> list[Piece]:
    """The aim's live sentence, or that of one of its scenarios."""
    setting = aim if setting is None else setting
    values = values_with_defaults(aim, setting)
    said = design_named(aim.design).sentence(
        setting.values() | _choices(values), setting.find, aim.finished, aim.planned_on
    )
    return told(aim, outcome, said, setting)


def told(
    aim: Aim, outcome: Outcome, said: str, setting: Setting | None = None, own: Mapping[str, str] | None = None
) -> list[Piece]:
    """A text with tokens (see `designs.saying`), put into the words of an aim; `own` are further tokens."""
    setting = aim if setting is None else setting
    design = design_named(aim.design)
    values = values_with_defaults(aim, setting)
    stale = isinstance(outcome, Pending)
    shown = outcome.last or outcome if isinstance(outcome, Pending) else outcome
    writer = _Writer(aim, setting, design, values, shown, own or {})
    pieces: list[Piece] = []
    said = said.replace(" = {", "\u00a0=\u00a0{")  # a symbol stays with its value
    for index, text in enumerate(_TOKEN.split(said)):
        if index % 2:
            piece = writer.piece(text)
            of_answer = stale and (piece.found or piece.kind == "derived")
            pieces.append(replace(piece, stale=True) if of_answer else piece)
        elif text:
            pieces.append(Piece("text", text))
    return [piece for piece in pieces if piece.text]


def plain_text(pieces: list[Piece], joined: bool = False) -> str:
    """The sentence as it reads aloud; `joined` keeps numbers on one line with their units."""
    text = "".join(piece.text for piece in pieces)
    return text if joined else text.replace("\u00a0", " ")


def size_remark(aim: Aim, outcome: Outcome, joined: bool = False) -> str:
    """The quiet line below the sentence: the power really reached, and how many to enrol; `joined` as `plain_text`."""
    if not isinstance(outcome, Answer):
        return ""
    parts = [_of_power(aim, outcome), looks_remark(aim, outcome)]
    if outcome.n_more.get("events") and not outcome.counted:
        parts.append(f"{count_text(round(outcome.n_more['events']))} events are expected.")
    if outcome.enrol and not aim.finished:
        parts.append(_to_be_recruited(aim, outcome))
    if lacks_time_unit(aim):
        parts.append("The unit of time is not stated yet: type it under Words.")
    text = " ".join(part for part in parts if part)
    return text if joined else text.replace("\u00a0", " ")


def lacks_time_unit(aim: Aim) -> bool:
    """Whether times are stated in a unit that nobody has named."""
    return design_named(aim.design).has_times and not aim.words.unit


def _to_be_recruited(aim: Aim, answer: Answer) -> str:
    """How many are recruited so that as many are analysed; what the sentence says of it is not said again."""
    lost, clusters, within = allowance(aim), more_clusters(aim, answer), per_cluster(aim, answer)
    split = by_group(answer.enrol, aim) if len(answer.enrol) > 1 else ""
    if answer.find == "n":
        split = f"{split} to be recruited" if split else ""
        aside = "; ".join(each for each in (f"in {clusters}" if clusters else "", split, within) if each)
        return f"This allows for {lost}{f' ({aside})' if aside else ''}."
    aside = "; ".join(each for each in (split, within) if each)
    number = f"{count_text(to_enrol(answer))}{f' in {clusters}' if clusters else ''}"
    return f"To be recruited, allowing for {lost}: {number}{f' ({aside})' if aside else ''}."


def _of_width(plan: PrecisionPlan, answer: Answer, finished: bool) -> str:
    """How often the interval of such a study is no wider."""
    if answer.find == "power" or finished:
        return ""
    return f"In {percent_text(answer.power, 0)} of such studies {plan.met_words}."


def _of_power(aim: Aim, answer: Answer) -> str:
    if isinstance(answer.plan, PrecisionPlan):
        return _of_width(answer.plan, answer, aim.finished)
    if answer.find == "n":
        return f"Power at these sizes {'would have been' if aim.finished else 'is'} {reached_text(answer)}."
    if answer.find == "effect":
        less = "smaller effect than this"
        if aim.values().get("hypothesis", "difference") != "difference":
            less = "true effect nearer to the margin"
        return f"A {less} would {'have been' if aim.finished else 'be'} missed more often."
    if answer.find == "power" and aim.finished:
        return (
            "This holds for an effect that was chosen beforehand. The effect that a study found says nothing new about "
            f"its own power: ask instead what effect {'this' if answer.total == 1 else 'these'} "
            f"{people(aim, answer.total)} could have shown."
        )
    return ""


def remarks(aim: Aim, outcome: Outcome) -> str:
    """All that is said below the sentence: sizes, and what a reader must know, such as that a formula is "
    "approximate."""
    notes = [in_study_words(aim, note) for note in outcome.notes] if isinstance(outcome, Answer) else []
    return " ".join(part for part in (size_remark(aim, outcome), *notes, example_words(aim)) if part)


def people(aim: Aim, count: int) -> str:
    """`1 participant`, `128 staff`."""
    return f"{count_text(count)}\u00a0{aim.words.one if count == 1 else aim.words.many}"


def _in_points(share: str) -> str:
    """The size of a difference of two shares, which is no share itself: `10 percentage points`."""
    number = share.removesuffix("%")
    return f"{number}\u00a0percentage point{'' if number == '1' else 's'}"


def by_group(sizes: tuple[int, ...], aim: Aim) -> str:
    """`64 per group`, `40 + 80`."""
    if len(set(sizes)) == 1:
        return f"{count_text(sizes[0])} per {design_named(aim.design).group_word}"
    if len(sizes) > MOST_LISTED:
        return f"{count_text(min(sizes))} to {count_text(max(sizes))} per {design_named(aim.design).group_word}"
    return " + ".join(count_text(size) for size in sizes)


def _choices(values: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in values.items() if isinstance(value, str | bool)}


@dataclass(frozen=True)
class _Writer:
    """Puts words to the tokens of one sentence."""

    aim: Aim
    setting: Setting
    design: Design
    values: dict[str, Any]
    outcome: Outcome
    own: Mapping[str, str]

    def piece(self, token: str) -> Piece:
        name, _, way = token.partition(".")
        if token in self.own:
            return Piece("derived", self.own[token])
        if way.isdigit():
            return Piece("name", name_at(self.aim, name, int(way) - 1), f"{name}.{int(way) - 1}")
        if token in self._plain():
            return Piece("derived", self._plain()[token]())
        if any(name == assumption.name for assumption in self.design.assumptions):
            return self._assumption(name, way)
        return Piece("derived", self._effect(token))

    def _plain(self) -> dict[str, Callable[[], str]]:
        """The tokens that are neither a name nor a value."""
        return {
            "many": lambda: self.aim.words.many,
            "total": lambda: self._found("n"),
            "outcome": lambda: self.aim.words.outcome or "the outcome",
            "mean_outcome": lambda: f"mean {self.aim.words.outcome}" if self.aim.words.outcome else "means",
            "cluster_word": lambda: cluster_word(self.aim),
            "group_sizes": self._groups,
            "cluster_numbers": self._clusters,
            "others": self._others,
            "to_recruit": self._to_recruit,
            "at_least": self._at_least,
            "times.named": self._times,
        }

    def _assumption(self, name: str, way: str) -> Piece:
        assumption = self.design.assumption(name)
        if name == self.design.unknown_of(self.setting.find, self.setting.values()):
            full = full_text(self.outcome, self.aim.words.unit) if isinstance(self.outcome, Answer) else ""
            return Piece("value", self._found(name, way), name, found=True, full=full)
        entry = self.setting.entries.get(name)
        if entry is not None and entry.fault:
            return Piece("value", entry.draft[:24].strip() or DASH, name, fault=True)
        if assumption.chosen:
            return Piece("choice", self._chosen(name), name)
        value = self.values.get(name)
        if value is None and name != "n" and (isinstance(self.outcome, Answer) or name in self._otherwise):
            return Piece("derived", self._worked_out(name))
        text = DASH if value is None else self._given(assumption, value, way)
        return Piece("value", text, name, example=entry is not None and entry.example)

    @cached_property
    def _otherwise(self) -> dict[str, Any]:
        """What is known in other words without an answer; nothing where what is stated cannot be worked with."""
        try:
            return self.design.in_other_words(self.setting.values())
        except (ArithmeticError, KeyError, RequestError):
            return {}  # an f whose η² is 1; half of what a way needs; or a table that does not add up

    def _given(self, assumption: Assumption, value: Any, way: str) -> str:
        if way == "people" or assumption.name == "n":
            return people(self.aim, value)
        if way == "terms":
            return self._terms(assumption.name, value)
        if way == "looks":
            return looks_words(len(value) - 1)
        if way == "after":
            return after_words(self.aim, self.outcome if isinstance(self.outcome, Answer) else None, value)
        if way in _SIZES:
            value = abs(value)
        if assumption.kind == "list" and not assumption.whole:
            return listed_with_unit(assumption, value, self.aim.words.unit)
        text = with_unit(assumption, value, self.aim.words.unit)
        return _in_points(text) if way == "points" else text

    def _terms(self, name: str, count: int) -> str:
        entry = self.setting.entries.get(name)
        known = term_names(entry.terms) if entry is not None and entry.terms else []
        return listed(known) if known else f"{count_text(count)} {'predictor' if count == 1 else 'predictors'}"

    def _others(self) -> str:
        """The predictors beside those that are tested."""
        every, tested = (self.setting.entries.get(name, Entry()).terms for name in ("predictors", "tested"))
        apart = {term.lower() for term in term_names(tested)}
        others = [name for name in term_names(every) if name.lower() not in apart]
        if apart and others:
            return listed(others)
        left = int(self.values.get("predictors", 0)) - int(self.values.get("tested", 0))
        return {0: "no other predictor", 1: "one other predictor"}.get(left, f"{count_text(left)} others")

    def _times(self) -> str:
        """When the first and the last measurement are, where the study says so."""
        times = names_of(self.aim, "times")
        return f" from {times[0]} to {times[-1]}" if has_names(self.aim, "times") else ""

    def _found(self, name: str, way: str = "") -> str:
        if not isinstance(self.outcome, Answer):
            return f"{DASH}\u00a0{self.aim.words.many}" if name == "n" and way != "count" else DASH
        if name == "n":
            total = self.outcome.total
            return count_text(total) if way == "count" else people(self.aim, total)
        text = found_text(self.outcome, self.aim.words.unit)
        size = text.removeprefix(MINUS) if way in _SIZES else text
        return _in_points(size) if way == "points" else size

    def _to_recruit(self) -> str:
        if not isinstance(self.outcome, Answer):
            return f"{DASH}\u00a0{self.aim.words.many}"
        return people(self.aim, to_enrol(self.outcome))

    def _at_least(self) -> str:
        found = self.outcome
        if not isinstance(found, Answer) or reached_text(found) == power_text(found.plan.target):
            return ""
        return "at least "

    def _chosen(self, name: str) -> str:
        value = self.values.get(name, self.design.default_choice(name, self.setting.values()))
        choice = self.design.assumption(name).choice_for(value)
        return choice.words or choice.label

    def _groups(self) -> str:
        if not isinstance(self.outcome, Answer):
            return f"{DASH} per {self.design.group_word}"
        return by_group(self.outcome.groups, self.aim)

    def _clusters(self) -> str:
        each, arm = cluster_word(self.aim), self.design.group_word
        if not isinstance(self.outcome, Answer):
            return f"{DASH} {each} per {arm}"
        numbers = self.outcome.n_more["clusters"]
        if len(set(numbers)) == 1:
            return f"{count_text(numbers[0])} {each} per {arm}"
        return f"{' + '.join(count_text(number) for number in numbers)} {each}"

    def _effect(self, token: str) -> str:
        return self._worked_out(token) if isinstance(self.outcome, Answer) else DASH

    def _worked_out(self, name: str) -> str:
        """What the design works out from the values given."""
        found = self.outcome if isinstance(self.outcome, Answer) else None
        known = self._otherwise if found is None else {**found.details, **found.effect}
        if name not in known:
            return DASH
        value = float(np.ravel(known[name])[0])
        assumption = next((each for each in self.design.assumptions if each.name == name), None)
        if assumption is not None and assumption.kind == "share":
            return with_unit(assumption, value, self.aim.words.unit, digits=3)
        text = (
            f"{value:.0f}" if found is not None and value.is_integer() and name not in found.effect else f"{value:.2f}"
        )
        shown = text if abs(value) >= 0.095 or value == 0 else f"{value:.2g}"
        return shown.replace("-", "\u2212")
