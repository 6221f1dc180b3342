"""What an axis can carry: something that is found, or an assumption, as numbers in the unit in which it is read."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import to_enrol, values_with_defaults
from ragwort.study.words.found import found_text
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import count_text, unit_text, with_unit
from ragwort.study.words.sentence import people

DIGITS = 4  # of a value that somebody points at


@dataclass(frozen=True)
class Quantity:
    """One assumption as an axis has it; shares in per cent."""

    assumption: Assumption
    aim: Aim

    @property
    def name(self) -> str:
        """As requests have it."""
        return self.assumption.name

    @property
    def words(self) -> str:
        """In running text: `standard deviation`."""
        return in_running_text(label_of(self.assumption, self.aim))

    @property
    def axis(self) -> str:
        """With its unit: `standard deviation, ms`."""
        return f"{self.words}, {self.unit}" if self.unit else self.words

    @property
    def unit(self) -> str:
        """What stands after a value; empty where nothing does."""
        return unit_text(self.assumption, self.aim.words.unit)

    @property
    def scale(self) -> float:
        """What a value is multiplied by on the axis."""
        return 100.0 if self.assumption.kind == "share" else 1.0

    def text(self, value: float) -> str:
        """A value with its unit, as far as a reader can use its digits."""
        return with_unit(self.assumption, value, self.aim.words.unit, digits=DIGITS)


@dataclass(frozen=True)
class Unknown:
    """Something that the design can find, as an axis has it; of a sample size, how many to enrol."""

    find: str
    aim: Aim

    @property
    def _assumption(self) -> Assumption:
        design = design_named(self.aim.design)
        return design.assumption(design.unknown_of(self.find, self.aim.values()))

    @property
    def _enrols(self) -> bool:
        return values_with_defaults(self.aim)["dropout"] > 0 or bool(self.aim.entry("dropout").high)

    @property
    def words(self) -> str:
        """In running text: `sample size`."""
        return {"n": "sample size", "power": "power"}.get(self.find) or Quantity(self._assumption, self.aim).words

    @property
    def subject(self) -> str:
        """The same with its basis: `number to be recruited`, where that is another one than those analysed."""
        return "number to be recruited" if self.find == "n" and self._enrols else self.words

    @property
    def axis(self) -> str:
        """With its unit: `staff to be recruited`."""
        if self.find == "n":
            return f"{self.aim.words.many} to be recruited" if self._enrols else f"total {self.aim.words.many}"
        return Quantity(self._assumption, self.aim).axis

    def number(self, answer: Answer) -> float:
        """Where an answer stands on the axis."""
        if self.find == "n":
            return float(to_enrol(answer))
        if self.find == "power":
            return 100 * answer.power
        return float(answer.answer) * Quantity(self._assumption, self.aim).scale

    def text(self, answer: Answer) -> str:
        """What was found, in words: `144 staff`."""
        return people(self.aim, to_enrol(answer)) if self.find == "n" else found_text(answer, self.aim.words.unit)

    def short(self, answer: Answer) -> str:
        """The same without the unit."""
        return count_text(to_enrol(answer)) if self.find == "n" else self.text(answer)
