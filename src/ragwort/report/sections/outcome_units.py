"""A standardised effect in the unit of the outcome, where a standard deviation of that outcome is stated."""

from __future__ import annotations

from ragwort.designs import design_named
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.words.numbers import number_text, united

_MEANS = {  # by the assumption: what so many standard deviations are
    "f": "a standard deviation of {value} among the means",
    "d": "a difference of {value}",
}


def in_outcome_units(study: Study, aim: Aim) -> str:
    """`f = 0.25 corresponds to a standard deviation of 6 ms among the means (SD 24 ms).`; empty where none is known."""
    values = aim.values()
    name = next((each for each in _MEANS if isinstance(values.get(each), int | float)), "")
    sd = _sd_of(study, aim)
    if sd is None or not aim.words.unit or aim.find == "effect" or values.keys() & {"means", "difference"}:
        return ""
    if name not in {assumption.name for assumption in design_named(aim.design).assumptions}:
        return ""
    value, unit = float(f"{values[name] * sd:.3g}"), aim.words.unit
    means = _MEANS[name].format(value=united(number_text(value), unit))
    return (
        f"{name}\u00a0=\u00a0{number_text(values[name])} corresponds to {means} (SD {united(number_text(sd), unit)})."
    )


def _sd_of(study: Study, aim: Aim) -> float | None:
    """That of the aim itself, or of another aim with the same outcome in the same unit."""
    alike = [each for each in study.aims if _measures(each) == _measures(aim) and each.words.outcome]
    found = [each.values().get("sd") for each in (aim, *alike)]
    return next((float(sd) for sd in found if isinstance(sd, int | float) and not isinstance(sd, bool)), None)


def _measures(aim: Aim) -> tuple[str, str]:
    return aim.words.outcome, aim.words.unit
