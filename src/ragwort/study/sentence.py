"""The design said in one sentence: part by part for the window, as plain text for everything else."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from ragwort.designs import Answer, Design, design_named
from ragwort.study.edits import cluster_word, group_names
from ragwort.study.model import Aim, Setting
from ragwort.study.numbers import count_text, percent_text, with_unit
from ragwort.study.outcome import Outcome, Pending, to_enrol, values_with_defaults

Kind = Literal["text", "value", "choice", "group", "derived"]
DASH = "—"
_TOKEN = re.compile(r"\{(\w+)\}")


@dataclass(frozen=True)
class Piece:
    """A run of the sentence. `name` is the assumption (or the group's number) that an editor changes."""

    kind: Kind
    text: str
    name: str = ""
    found: bool = False
    fault: bool = False
    stale: bool = False  # found under other assumptions; the answer to these is being worked out


def sentence_of(aim: Aim, outcome: Outcome, setting: Setting | None = None) -> list[Piece]:
    """The aim's live sentence, or that of one of its scenarios."""
    setting = aim if setting is None else setting
    design = design_named(aim.design)
    values = values_with_defaults(aim, setting)
    stale = isinstance(outcome, Pending)
    writer = _Writer(aim, setting, design, values, outcome.last or outcome if isinstance(outcome, Pending) else outcome)
    pieces = []
    for index, text in enumerate(_TOKEN.split(design.sentence(setting.values() | _choices(values), setting.find))):
        if index % 2:
            piece = writer.piece(text)
            of_answer = stale and (piece.found or piece.kind == "derived")
            pieces.append(replace(piece, stale=True) if of_answer else piece)
        elif text:
            pieces.append(Piece("text", text))
    return pieces


def plain_text(pieces: list[Piece], joined: bool = False) -> str:
    """The sentence as it reads aloud; `joined` keeps numbers on one line with their units."""
    text = "".join(piece.text for piece in pieces)
    return text if joined else text.replace("\u00a0", " ")


def size_remark(aim: Aim, outcome: Outcome) -> str:
    """The quiet line below the sentence: the power really reached, and how many to enrol."""
    if not isinstance(outcome, Answer):
        return ""
    parts = []
    if outcome.find == "n":
        parts.append(f"Power at these sizes is {percent_text(outcome.power)}.")
    elif outcome.find == "effect":
        parts.append("A smaller effect than this would be missed more often.")
    if outcome.enrol:
        each = f" ({_by_group(outcome.enrol, aim)})" if len(outcome.enrol) > 1 else ""
        dropout = percent_text(values_with_defaults(aim)["dropout"], 0)
        parts.append(f"Enrol {count_text(to_enrol(outcome))}{each} to allow for {dropout} dropout.")
    return " ".join(parts).replace("\u00a0", " ")


def remarks(aim: Aim, outcome: Outcome) -> str:
    """All that is said below the sentence: sizes, and what a reader must know, such as that a formula is "
    "approximate."""
    notes = outcome.notes if isinstance(outcome, Answer) else ()
    return " ".join(part for part in (size_remark(aim, outcome), *notes) if part)


def people(aim: Aim, count: int) -> str:
    """`1 participant`, `128 staff`."""
    return f"{count_text(count)}\u00a0{aim.words.one if count == 1 else aim.words.many}"


def _by_group(sizes: tuple[int, ...], aim: Aim) -> str:
    if len(set(sizes)) == 1:
        return f"{count_text(sizes[0])} per {design_named(aim.design).group_word}"
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

    def piece(self, token: str) -> Piece:
        if token.startswith("group") and token[5:].isdigit():
            index = int(token[5:]) - 1
            return Piece("group", group_names(self.aim, self.design)[index], str(index))
        if token == "many":
            return Piece("derived", self.aim.words.many)
        if token == "total":
            return Piece("derived", self._found("n"))
        if token == "cluster_word":
            return Piece("derived", cluster_word(self.aim))
        if token == "group_sizes":
            return Piece("derived", self._groups())
        if token == "cluster_numbers":
            return Piece("derived", self._clusters())
        if any(token == assumption.name for assumption in self.design.assumptions):
            return self._assumption(token)
        return Piece("derived", self._effect(token))

    def _assumption(self, name: str) -> Piece:
        assumption = self.design.assumption(name)
        if name == self.design.unknown_of(self.setting.find):
            return Piece("value", self._found(name), name, found=True)
        entry = self.setting.entries.get(name)
        if entry is not None and entry.fault:
            return Piece("value", entry.draft[:24].strip() or DASH, name, fault=True)
        if name == "n":
            given = self.values.get("n")
            return Piece("value", DASH if given is None else people(self.aim, given), name)
        if assumption.chosen:
            return Piece("choice", self._chosen(name), name)
        value = self.values.get(name)
        if value is None and isinstance(self.outcome, Answer):
            return Piece("derived", self._worked_out(name))
        text = DASH if value is None else with_unit(assumption, value, self.aim.words.unit)
        return Piece("value", text, name)

    def _found(self, name: str) -> str:
        if not isinstance(self.outcome, Answer):
            return f"{DASH}\u00a0{self.aim.words.many}" if name == "n" else DASH
        if name == "n":
            return people(self.aim, self.outcome.total)
        value = float(self.outcome.answer)
        if name == "power":
            return percent_text(value)
        return with_unit(self.design.assumption(name), value, self.aim.words.unit, digits=4)

    def _chosen(self, name: str) -> str:
        value = self.values.get(name, self.design.default_choice(name, self.setting.values()))
        choice = self.design.assumption(name).choice_for(value)
        return choice.words or choice.label

    def _groups(self) -> str:
        return _by_group(self.outcome.groups, self.aim) if isinstance(self.outcome, Answer) else f"{DASH} per group"

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
        assert isinstance(self.outcome, Answer)
        known = {**self.outcome.details, **self.outcome.effect}
        if name not in known:
            return DASH
        value = float(np.ravel(known[name])[0])
        text = f"{value:.0f}" if value.is_integer() and name not in self.outcome.effect else f"{value:.2f}"
        shown = text if abs(value) >= 0.095 or value == 0 else f"{value:.2g}"
        return shown.replace("-", "\u2212")
