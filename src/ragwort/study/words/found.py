"""What was found, in as many digits as a reader can use, rounded to the side on which what is said still holds."""

from __future__ import annotations

import math

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.kinds import EquivalencePlan
from ragwort.study.words.numbers import (
    count_text,
    decimals_text,
    percent_text,
    unit_text,
    united,
    value_text,
    with_unit,
)

_NOISE = 1e-9  # of a search that ends at the target
FURTHER = 12  # digits after which a value is said as it is


def power_text(power: float, target: float | None = None) -> str:
    """A power with one decimal; one below its target is never shown as reaching it: of 80% 79.97% is 79.9%."""
    nearest = round(power, 3)
    if target is not None and power < target - _NOISE and nearest >= target and power >= 0.001:
        return percent_text(math.floor(power * 1000) / 1000)
    return percent_text(power)


def reached_text(answer: Answer) -> str:
    """The power of an answer, against the one that was asked for."""
    return power_text(answer.power, answer.plan.target)


def is_nominal(answer: Answer) -> bool:
    """Whether the test rejects at alpha by its construction: of one that counts it is worked out how often it does."""
    actual = answer.details.get("actual_alpha")
    return actual is None or abs(float(actual) - float(answer.plan.alpha)) < _NOISE


def found_text(answer: Answer, unit: str) -> str:
    """What was found, with its unit; of a sample size all participants."""
    if answer.find == "n":
        return count_text(answer.total)
    if answer.find == "power":
        return reached_text(answer)
    return said_value(answer, unit)


def found_number(answer: Answer) -> str:
    """The same without the unit, as the ledger's editor shows it."""
    if answer.find in ("n", "power"):
        return found_text(answer, "").removesuffix("%")
    return _text(answer, _assumption(answer))


def said_value(answer: Answer, unit: str) -> str:
    """A found effect, alpha, ICC or cluster size, rounded so that the power asked for is still reached."""
    assumption = _assumption(answer)
    return united(_text(answer, assumption), unit_text(assumption, unit, answer.answer))


def full_text(answer: Answer, unit: str) -> str:
    """What was found in full, where less is said of it; empty for whole people."""
    if answer.find == "n":
        return ""
    value = answer.power if answer.find == "power" else float(answer.answer)
    return with_unit(_assumption(answer), value, unit, digits=10)


def _assumption(answer: Answer) -> Assumption:
    design = design_named(answer.design)
    return design.assumption(
        answer.primary if answer.find == "effect" and answer.effect else design.unknown_of(answer.find)
    )


def _text(answer: Answer, assumption: Assumption) -> str:
    """The shortest that holds: three digits of an effect, two of a rate; more where rounding would leave the bounds."""
    if isinstance(answer.answer, int):
        return count_text(answer.answer)
    value = float(answer.answer)
    scale = 100.0 if assumption.kind == "share" else 1.0
    for digits in range(2 if answer.find in ("alpha", "icc") else 3, FURTHER):
        decimals = max(digits - 1 - math.floor(math.log10(abs(value * scale))), 0) if value else 0
        rounded = _rounded(value * scale, decimals, _upwards(answer)) / scale
        if assumption.allows(rounded):
            return decimals_text(rounded * scale, decimals)
    return value_text(assumption, value)


def _upwards(answer: Answer) -> bool:
    """Which way there is more power than was asked for."""
    plan = answer.plan
    if isinstance(plan, EquivalencePlan) and answer.find == "effect":
        return float(plan.effect) < (plan.low + plan.high) / 2
    if answer.find == "margin":
        return plan.wider_is_easier
    if answer.find == "effect":
        return float(plan.effect) >= 0
    return answer.find not in ("icc", "confidence")


def _rounded(value: float, decimals: int, up: bool) -> float:
    shifted = round(value * 10.0**decimals, 9)  # so that the noise of a product does not make 12.0 into 12.1
    return (math.ceil(shifted) if up else math.floor(shifted)) / 10.0**decimals
