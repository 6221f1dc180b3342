"""What is rehearsed: a design with every assumption settled."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from ragwort.base.wording import uncapital
from ragwort.designs import Answer, Design, settle
from ragwort.designs.assumption import Assumption
from ragwort.designs.kinds import has_margin
from ragwort.designs.plan import Plan
from ragwort.designs.request import values_in_force


@dataclass(frozen=True, eq=False)
class Planned:
    """A design with every assumption settled, also the one that was found. One is equal to itself only."""

    design: Design
    values: dict[str, Any]
    answer: Answer
    unit: str = ""
    label: str = ""  # of the primary effect in the study's own words; the design's where empty

    @property
    def plan(self) -> Plan:
        """The plan that is analysed by."""
        return self.answer.plan

    @property
    def primary(self) -> Assumption:
        """The primary effect, in the study's words."""
        primary = self.design.assumption(self.answer.primary)
        return replace(primary, label=self.label) if self.label else primary

    @property
    def effect_words(self) -> str:
        """What the primary effect is called within a sentence."""
        label = self.primary.label
        return uncapital(label)

    @property
    def nothing_words(self) -> str:
        """The truth under which there is nothing to find."""
        return "truth on the margin" if has_margin(self.plan) else "no effect at all"


def planned(
    design: Design,
    find: str,
    assumptions: Mapping[str, Any],
    unit: str = "",
    label: str = "",
    known: Answer | None = None,
) -> Planned:
    """Settle what is to be rehearsed, unless the answer is `known` already. Raises `RequestError`."""
    answer = settle(design, find, assumptions) if known is None else known
    values, _ = values_in_force(design, find, assumptions)
    if find == "effect":
        values = {**values, answer.primary: answer.answer}
    elif find != "n":
        values = {**values, find: answer.answer}
    return Planned(design, values, answer, unit, label)
