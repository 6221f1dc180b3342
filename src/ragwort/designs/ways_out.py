"""What would bring a study under a limit: declared by each design, worked out by `study.limits`."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal


@dataclass(frozen=True)
class WayOut:
    """One way: what changes in the design, and what that commits to."""

    name: str
    words: str  # what is done: `Test one side only`
    commits: str  # what that means, in a sentence
    changes: Mapping[str, Any] = field(default_factory=dict)
    find: Literal["n", "power", "effect"] = "n"  # with `power` and `effect`: of the largest size that can be had
    gain: str = ""  # of these, what is done where more can be had than are needed


EFFECT = WayOut(
    "effect",
    "Plan on a larger effect",
    "Smaller effects would then be missed more often: is the larger one still worth finding, and likely?",
    find="effect",
    gain="Find a smaller effect",
)
POWER = WayOut(
    "power",
    "Accept less power",
    "The planned effect, though there, would be missed more often: say so in the protocol.",
    find="power",
    gain="Have more power",
)
ONE_SIDED = "An effect in the other direction could then never be claimed, however large: the protocol must say why."

EQUAL = "No group has more people than another; what speaks for the unequal split is given up."


def usual(values: Mapping[str, Any], effect: float) -> list[WayOut]:
    """The ways that most designs have: a larger effect, less power, one side, an equal split. Alpha is never raised."""
    found = [EFFECT, POWER]
    if values.get("sides") == "two" and effect:
        side = "greater" if effect > 0 else "less"
        found.append(WayOut("one-sided", "Test one side only", ONE_SIDED, {"sides": side}))
    if values.get("ratio", 1) != 1:
        found.append(WayOut("equal", "Split the groups equally", EQUAL, {"ratio": 1}))
    return found
