"""What a design asks of its interim analyses, and which of it has a say."""

from __future__ import annotations

from ragwort.designs.assumption import Assumption, Choice
from ragwort.designs.design import Values
from ragwort.designs.works import HWANG, KIM_DEMETS, OBRIEN_FLEMING, POCOCK

_FUNCTIONS = (
    Choice("obrien-fleming", "O'Brien–Fleming type", "O'Brien–Fleming-type spending"),
    Choice("pocock", "Pocock type", "Pocock-type spending"),
    Choice("hwang-shih-decani", "Hwang–Shih–DeCani", "Hwang–Shih–DeCani spending"),
    Choice("power", "power of the information", "spending by a power of the information"),
)
FRACTIONS = Assumption(
    "fractions",
    "Interim analyses",
    "list",
    "Looks",
    "When the data are looked at: shares of the information, which is people with an outcome, or events, up to the "
    "last look at 1: 0.5, 1. Every look at the comparison costs a little alpha. Looks for safety alone cost none.",
    symbol="t",
    longest=20,
    decided=True,
    in_table=True,
)
SPENDING = Assumption(
    "spending",
    "Alpha spent",
    "choice",
    "Looks",
    "How alpha is used up as information comes in. O'Brien–Fleming type: hardly any early, so that the last test is "
    "nearly the usual one. Pocock type: about as much at every look, so that stopping early is easier, and the last "
    "test harder. Own: amounts of your own.",
    default="obrien-fleming",
    choices=(*_FUNCTIONS, Choice("own", "own amounts", "own spending")),
)
SPENDING_PARAMETER = Assumption(
    "spending_parameter",
    "Its parameter",
    "number",
    "Looks",
    "Of Hwang, Shih and DeCani γ, from −40 to 40: −4 is near O'Brien and Fleming's type, 1 near Pocock's. Of a power "
    "of the information ρ, above 0: 1 spends evenly, 3 little early.",
    decided=True,
)
SPENT = Assumption(
    "spent",
    "Alpha spent up to each look",
    "list",
    "Looks",
    "Of own spending: what is used up by each look, both sides together, the last all of alpha.",
    longest=20,
    decided=True,
    in_table=True,
)
FUTILITY = Assumption(
    "futility",
    "Stopping for futility",
    "choice",
    "Looks",
    "Whether the study may also end because little is left to be hoped for. Non-binding: it may go on all the same, "
    "and alpha holds. Binding: it must stop, for alpha relies on it.",
    default="none",
    choices=(
        Choice("none", "none"),
        Choice("non-binding", "non-binding", "non-binding boundaries for futility"),
        Choice("binding", "binding", "binding boundaries for futility"),
    ),
)
FUTILITY_SPENDING = Assumption(
    "futility_spending",
    "Type II error spent",
    "choice",
    "Looks",
    "How the chance of missing the effect is used up by stopping for futility.",
    default="obrien-fleming",
    choices=_FUNCTIONS,
)
FUTILITY_PARAMETER = Assumption(
    "futility_parameter",
    "Its parameter",
    "number",
    "Looks",
    "As of the alpha spent: γ from −40 to 40, or ρ above 0.",
    decided=True,
)
LOOKS = (FRACTIONS, SPENDING, SPENDING_PARAMETER, SPENT, FUTILITY, FUTILITY_SPENDING, FUTILITY_PARAMETER)
SPENDING_WORKS = {  # of spending functions by kind: those that they are called after
    "obrien-fleming": (OBRIEN_FLEMING,),
    "pocock": (POCOCK,),
    "hwang-shih-decani": (HWANG,),
    "power": (KIM_DEMETS,),
}
NAMES = frozenset(each.name for each in LOOKS)
USUAL = {"hwang-shih-decani": -4.0, "power": 3.0}  # parameters


def idle(values: Values) -> frozenset[str]:
    """Of the assumptions on looks, those that have no say."""
    if "fractions" not in values:
        return NAMES - {"fractions"}
    idle = {"spending_parameter"} if values.get("spending") not in USUAL else set()
    idle |= {"spent"} if values.get("spending") != "own" else set()
    if values.get("futility", "none") == "none":
        return frozenset({*idle, "futility_spending", "futility_parameter"})
    return frozenset(idle | ({"futility_parameter"} if values.get("futility_spending") not in USUAL else set()))
