"""What a design says of itself in a protocol: the comparison, the name of its test, what its power is computed from.

These are parts for another writer than that of the live sentence (`saying`): third person, the names of textbooks.
Tokens are those of `saying`; `{subject}` is the outcome with its role: `The primary outcome, reaction time,`.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ragwort.designs.works import Work, cited

Values = Mapping[str, Any]
BETWEEN = "{subject} will be compared between {groups.1} and {groups.2}"
AMONG = "{subject} will be compared between the groups"
WITHIN = "{subject} will be compared within pairs between {conditions.1} and {conditions.2}"
WITH_REFERENCE = "{subject} will be compared with {reference.1}"
FROM_T, FROM_F = "the noncentral t distribution", "the noncentral F distribution"
FROM_CHI = "the noncentral chi-square distribution"
FROM_NORMAL = "a normal approximation"


@dataclass(frozen=True)
class InProtocol:
    """The parts of one design; what depends on a choice is a mapping from the value of the choice `by`."""

    compared: str  # the beginning of a sentence: `{subject} will be compared between {groups.1} and {groups.2}`
    test: str | Mapping[Any, str]  # its name, without article and sides: `two-sample t test`
    computed: str | Mapping[Any, str]  # what power is computed from: `the noncentral t distribution`
    by: str | Callable[[Values], Any] = "method"
    sided: bool = True  # whether the test has sides to be told
    plural: bool = False  # whether several things are compared: `were compared`
    cites: tuple[Work, ...] | Mapping[Any, tuple[Work, ...]] = ()  # where the test and its power come from
    equivalence: tuple[Work, ...] = ()  # the same of two one-sided tests

    def test_in(self, values: Values) -> str:
        """The test with article and sides: `a two-sided Welch t test`, `two one-sided t tests`."""
        name = self._of(self.test, values)
        if not self.sided:
            return name if name.startswith("the ") else f"{_article(name)} {name}"
        hypothesis = values.get("hypothesis", "difference")
        if hypothesis == "equivalence":
            return f"two one-sided {name.replace(' test', ' tests', 1)}"
        one = hypothesis != "difference" or values.get("sides", "two") != "two"
        return f"a {'one' if one else 'two'}-sided {name}"

    def computed_in(self, values: Values) -> str:
        """What power is computed from under the choices made, and where that comes from."""
        more = self.equivalence if values.get("hypothesis") == "equivalence" else ()
        works = self.cites[self._choice(values)] if isinstance(self.cites, Mapping) else self.cites
        return f"{self._of(self.computed, values)} {cited((*works, *more))}".rstrip()

    @property
    def works(self) -> tuple[Work, ...]:
        """Whatever it cites under some choice, each once."""
        own = (
            [each for works in self.cites.values() for each in works] if isinstance(self.cites, Mapping) else self.cites
        )
        return tuple(dict.fromkeys((*own, *self.equivalence)))

    def _of(self, said: str | Mapping[Any, str], values: Values) -> str:
        return said if isinstance(said, str) else said[self._choice(values)]

    def _choice(self, values: Values) -> Any:
        return self.by(values) if callable(self.by) else values[self.by]


def _article(name: str) -> str:
    """`an analysis`, `a one-way analysis`."""
    return "an" if name[0] in "aeiou" and not name.startswith("one") else "a"
