"""Interim analyses as values state them: when, how alpha is spent, whether for futility. Each refused at its field."""

from __future__ import annotations

from itertools import pairwise

from ragwort.base.lazily import np
from ragwort.designs.design import Values
from ragwort.designs.looks.assumptions import USUAL
from ragwort.designs.refusals import RequestError
from ragwort.stats.sequential.looks import Futility
from ragwort.stats.sequential.spending import Spending

_WHOLE = 1e-9  # within which the last look is at all of the information, and all alpha is spent
_CLOSEST = 1e-3  # that looks may follow one another by, of the information at the earlier one


def fractions_in(values: Values) -> tuple[float, ...]:
    """Shares of the information, the last of them all. Raises `RequestError`."""
    given = [float(each) for each in values["fractions"]]
    if given[0] <= 0:
        raise RequestError("fractions", f"Looks are after a share of the information above 0, not {given[0]:g}.")
    for earlier, later in pairwise(given):
        if later <= earlier:
            raise RequestError("fractions", f"Each look must be after the one before: {later:g} follows {earlier:g}.")
        if (later - earlier) / earlier < _CLOSEST:
            raise RequestError(
                "fractions",
                f"Looks at {earlier:.6g} and {later:.6g} of the information are too close to tell apart: let each "
                f"follow by {_CLOSEST:.1%} or more.",
            )
    if abs(given[-1] - 1) > _WHOLE:
        raise RequestError("fractions", f"The last look is at all of the information, 1, not at {given[-1]:g}.")
    return (*given[:-1], 1.0)


def spending_in(values: Values, find: str, count: int, two_sided: bool) -> Spending:
    """How alpha is spent; own amounts of one side. Raises `RequestError`."""
    if values["spending"] != "own":
        return _function(values, "spending", "spending_parameter")
    if find == "alpha":
        raise RequestError("spending", "Own amounts say what alpha is: to find it choose a spending function.")
    if "spent" not in values:
        raise RequestError("spent", "Own spending needs the alpha spent up to each look, the last all of alpha.")
    spent = [float(each) for each in values["spent"]]
    if len(spent) != count:
        raise RequestError("spent", f"There are {count} looks, the last one included, but {len(spent)} amounts.")
    if spent[0] < 0:
        raise RequestError("spent", f"The alpha spent is 0 or more, not {spent[0]:g}.")
    for earlier, later in pairwise(spent):
        if later < earlier:
            raise RequestError("spent", f"What is spent cannot fall: {later:g} follows {earlier:g}.")
    alpha = float(np.ravel(values["alpha"])[0])
    if np.any(np.abs(np.asarray(values["alpha"]) - spent[-1]) > _WHOLE):
        raise RequestError("spent", f"By the last look all of alpha, {alpha:g}, is spent, not {spent[-1]:g}.")
    return Spending("own", own=tuple(each / 2 if two_sided else each for each in spent))


def futility_in(values: Values, two_sided: bool) -> Futility | None:
    if values["futility"] == "none":
        return None
    if two_sided:
        raise RequestError("futility", "Stopping for futility is planned for one-sided tests: choose a side, or none.")
    return Futility(values["futility"] == "binding", _function(values, "futility_spending", "futility_parameter"))


def _function(values: Values, of: str, parameter: str) -> Spending:
    kind = values[of]
    if kind not in USUAL:
        return Spending(kind)
    given = float(values[parameter])
    if kind == "power" and not 0 < given <= 40:
        raise RequestError(parameter, f"The power of the information must be above 0 and at most 40, not {given:g}.")
    if kind != "power" and not -40 <= given <= 40:
        raise RequestError(parameter, f"γ must be from -40 to 40, not {given:g}.")
    return Spending(kind, given)
