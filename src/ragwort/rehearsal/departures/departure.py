"""What a departure is: all that one declares, and the world that several of them make."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar

from ragwort.designs.assumption import Assumption
from ragwort.designs.plan import Plan
from ragwort.rehearsal.planned import Planned
from ragwort.study.document.pages import World
from ragwort.study.words.numbers import value_text, with_unit
from ragwort.study.words.sentence import Piece

Asked = Mapping[str, Any]  # what is asked of a world, by slot


@dataclass(frozen=True)
class Departing:
    """One world: what is asked of it, by slot. What is not asked is as planned."""

    name: str = ""
    asked: Asked = field(default_factory=dict)

    def __getitem__(self, slot: str) -> Any:
        """What is asked; None where nothing is."""
        return self.asked.get(slot)

    @property
    def as_planned(self) -> bool:
        """Whether nothing departs."""
        return not self.asked


@dataclass(frozen=True)
class Word:
    """A word of the sentence."""

    declared: Assumption
    empty: str = ""  # what stands there while nothing departs
    first: Any = None  # where a nudge begins then
    planned: Any = None  # or what it is then, from where a nudge goes on
    choices: Mapping[str, str] | None = None  # values and words, where it is picked; the first is as planned


class Departure:
    """One way to depart from the plan."""

    name: ClassVar[str]
    label: ClassVar[str]  # what a design cannot have
    why: ClassVar[str]  # a simulation lies off the formula
    slots: ClassVar[tuple[Assumption, ...]] = ()  # what it asks for
    in_unit: ClassVar[bool] = False  # whether what is typed may have the outcome's unit
    plain: ClassVar[Asked] = {}  # what each slot is where nothing departs, if anything

    def words(self, of: Planned, asked: Asked) -> dict[str, Word]:
        """The words of its sentence, by slot."""
        return {each.name: Word(each) for each in self.slots}

    def barred(self, of: Planned) -> str:
        """Why a design cannot take it; empty where it can."""
        return ""

    def says(self, asked: Departing, of: Planned) -> str:
        """What departs, in words; empty where nothing does."""
        raise NotImplementedError

    def pieces(self, say: Say) -> list[Piece]:
        """Its part of the sentence."""
        raise NotImplementedError

    def said(self, word: Word, value: Any, of: Planned) -> str:
        """A value as it stands in the sentence; empty where it is as planned."""
        shown = word.planned if value is None else value
        return "" if shown is None else with_unit(word.declared, shown, "")

    def typed(self, word: Word, value: Any, of: Planned) -> str:
        """A value as it stands in the editor."""
        shown = word.planned if value is None else value
        return "" if shown is None else value_text(word.declared, shown)

    def read(self, text: str) -> Any:
        """What typed words mean that are no number; None where they mean nothing of their own."""
        return None

    def goes_with(self, slot: str, value: Any) -> tuple[str, ...]:
        """The slots that say nothing any more once this one has another value."""
        return ()

    def check(self, slot: str, value: Any, asked: Asked, of: Planned) -> Any:
        """A value as it is asked for in JSON. Raises `RequestError`."""
        return next(each for each in self.slots if each.name == slot).check(value)

    def refuse(self, asked: Departing, of: Planned) -> None:
        """Refuse what the design cannot take besides. Raises `RequestError`."""

    def usual(self, of: Planned) -> dict[str, Asked]:
        """What is most often feared, by the id of its world."""
        return {}

    # --- what it changes ---

    def values(self, asked: Departing, of: Planned) -> dict[str, Any]:
        """Assumptions that are really others. Raises `RequestError`."""
        return {}

    def truth(self, asked: Departing, of: Planned, plan: Plan) -> Plan:
        """The plan that is really true. Raises `RequestError`."""
        return plan

    def refuse_truth(self, asked: Departing, plan: Plan) -> None:
        """Refuse what that plan has no room for. Raises `RequestError`."""

    def analyst(self, asked: Departing, plan: Plan) -> Plan:
        """The plan that is analysed by."""
        return plan

    def draws(self, asked: Departing) -> dict[str, Any]:
        """What is drawn otherwise: arguments of `stats.simulated.World`."""
        return {}


class Say:
    """Makes the pieces of a departure's part of a world's sentence."""

    def __init__(self, departure: Departure, of: Planned, world: World) -> None:
        self.departure, self.of, self.world = departure, of, world
        self._words = departure.words(of, world.asked)

    def value(self, slot: str) -> Piece:
        """A word to type over."""
        word, draft = self._words[slot], self.world.drafts.get(slot)
        said = self.departure.said(word, self.world.asked.get(slot), self.of) or word.empty
        return Piece("value", draft.short if draft is not None else said, slot, fault=draft is not None)

    def choice(self, slot: str) -> Piece:
        """A word to choose."""
        choices = self._words[slot].choices or {"": ""}
        as_planned, *_ = choices.values()
        return Piece("choice", choices.get(str(self.world.asked.get(slot)), as_planned), slot)

    def asks(self, slot: str) -> bool:
        """Whether the world has this departure, or one that cannot be read."""
        return slot in self.world.asked or self.world.faulty(slot)
