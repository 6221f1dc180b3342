"""The mixin of designs that may look before their end."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import Any, ClassVar

from typing_extensions import override

from ragwort.designs.design import Design, Values
from ragwort.designs.looks.assumptions import NAMES, USUAL, idle
from ragwort.designs.looks.plan import Asked, looked
from ragwort.designs.looks.reading import fractions_in, futility_in, spending_in
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError

NOT_TAKEN = (
    "Interim analyses are for tests of one effect by a normal or t statistic (means, proportions by a large-sample "
    "test, rates, times until an event, ranks, clusters, a regression coefficient), not for F, chi-square or exact "
    "tests."
)


class WithLooks(Design):
    """A design that may look before its end. Declare `*LOOKS` among the assumptions."""

    looked_by: ClassVar[Mapping[str, tuple[str, ...]]] = {}  # choices, and those of them that take looks

    @override
    def plan(self, values: Values, find: str) -> Plan:
        plan = super().plan(values, find)
        if "fractions" not in values:
            return plan
        self.refuse_looks(values)
        fractions = fractions_in(values)
        two_sided = plan.sides == "two"
        asked = Asked(fractions, spending_in(values, find, len(fractions), two_sided), futility_in(values, two_sided))
        if len(fractions) == 1:
            return plan  # the one analysis at the end
        own = {each.name: getattr(plan, each.name) for each in fields(plan)}
        kind: Any = type(plan)
        made: Plan = looked(kind)(**own, looks=asked)
        return made

    def refuse_looks(self, values: Values) -> None:
        """Refuse looks under choices that have none. Raises `RequestError`."""
        if values.get("hypothesis") == "equivalence":
            raise RequestError("fractions", "Interim analyses are not planned for equivalence here.")
        for name, taken in self.looked_by.items():
            if (chosen := values[name]) not in taken:
                words = " or ".join(f"{each!r}" for each in taken)
                raise RequestError(name, f"Interim analyses need {name} {words}, not {chosen!r}. {NOT_TAKEN}")

    @override
    def idle_names(self, values: Values) -> frozenset[str]:
        return super().idle_names(values) | idle(values)

    @override
    def looks_saying(self, values: Values) -> str:
        """How many, after how many people or events, and what they spend."""
        if len(values.get("fractions") or ()) < 2:
            return ""
        said = "{fractions.looks} after {fractions.after} and {spending}"
        return f"{said} and {{futility}}" if values.get("futility", "none") != "none" else said

    @override
    def implied(self, values: Values) -> dict[str, Any]:
        """The usual parameter of a spending function that has one."""
        found = super().implied(values)
        for name, of in (("spending_parameter", "spending"), ("futility_parameter", "futility_spending")):
            usual = USUAL.get(values.get(of, ""))
            if usual is not None and name not in idle(values):
                found[name] = usual
        return found


def refusal(design: Design, name: str) -> str:
    """Why a design has no assumption on looks; empty for other names, and where it has."""
    return f"{design.id} has no {name}. {NOT_TAKEN}" if name in NAMES else ""
