"""What comparisons of times until an event assume."""

from __future__ import annotations

from typing import Any

from ragwort.designs.assumption import Assumption, Choice, method


def _time(name: str, label: str, help_text: str, symbol: str, group: Any = "Effect", **more: Any) -> Assumption:
    timed = "" if name == "hazard_ratio" else "per" if name in ("hazard1", "loss") else "time"
    decided = name in ("accrual", "follow_up", "time")
    more = {"timed": timed, "decided": decided, "low": 0, **more}
    return Assumption(name, label, "number", group, help_text, symbol=symbol, **more)


def _share(name: str, label: str, help_text: str, symbol: str) -> Assumption:
    bounds: dict[str, Any] = {"low": 0, "high": 1, "open_low": True, "open_high": True}
    words = f"Without the event, {{group{name[-1]}}}"
    return Assumption(name, label, "share", "Effect", help_text, words=words, symbol=symbol, **bounds)


ARM1 = (
    _time(
        "median1",
        "Median of arm 1",
        "By when half of the first arm have had the event.",
        "m₁",
        open_low=True,
        words="Median, {group1}",
    ),
    _share("survival1", "Without the event, arm 1", "The share of the first arm without the event at a time.", "S₁"),
    _time("time", "At time", "The time at which the shares without the event are stated.", "t", open_low=True),
    _time(
        "hazard1",
        "Hazard of arm 1",
        "Events per unit of time among those who have not had one yet; ln 2 over the median.",
        "λ₁",
        open_low=True,
        words="Hazard, {group1}",
    ),
)
ARM2 = (
    _time(
        "hazard_ratio",
        "Hazard ratio",
        "By what the chance that the event comes next is multiplied in the second arm, at any time: 0.7 is 30% less.",
        "HR",
        open_low=True,
    ),
    _time(
        "median2",
        "Median of arm 2",
        "By when half of the second arm have had the event.",
        "m₂",
        open_low=True,
        words="Median, {group2}",
    ),
    _share("survival2", "Without the event, arm 2", "The share of the second arm without the event then.", "S₂"),
)
SCHEDULE = (
    _time(
        "accrual",
        "Accrual period",
        "How long people are recruited, evenly, in the unit of the medians or hazards; 0 if all enter at once.",
        "A",
        "Structure",
        required=True,
    ),
    _time(
        "follow_up",
        "Follow-up",
        "How long the last one to enter is watched. Those who entered earlier are watched longer.",
        "F",
        "Structure",
        required=True,
    ),
    _time(
        "loss",
        "Hazard of loss",
        "How many of those still watched are lost per unit of time, as a hazard; 0 for none. Not the same as dropout, "
        "which adds people on top.",
        "η",
        "Structure",
        default=0.0,
    ),
)
METHOD = method(
    "Schoenfeld: the logarithm of the hazard ratio, the usual one. Freedman: the ratio itself, with the shares of the "
    "arms as at the start. With unequal arms the truth lies between the two.",
    Choice("schoenfeld", "Schoenfeld", "log-rank test"),
    Choice("freedman", "Freedman", "log-rank test"),
)
