"""What the product knows about each kind of comparison, declared once.

A design is one class in a family of the `catalogue`, decorated with `@register`. It declares its assumptions, the ways
to state its effect, its sentence, its help and its references, and it turns settled values into a `Plan` of a known
kind. The ledger, the sentence, the command line, the pictures and the report are drawn from that declaration: to add a
design, add a class and its tests.

    catalogue/      the designs, a family a folder
    kinds/          the kinds of comparison: one statistic, two variances, counts
    sizes/          how a sample size is counted: two groups by ratio, any total, whole clusters, ...
    evidence/       where an effect comes from
    design.py       the declaration (`Design`)
    plan.py         the settled comparison (`Plan`)
    assumption.py   one quantity: bounds, unit kind, help
    sampling.py     one sample, or two separate groups
    saying.py       the parts of a design's sentence
    agreement.py    whether two statements of one thing say the same
    solve.py        find n, power, effect or alpha for any plan -> `Answer`
    request.py      the JSON request and the JSON answer
    refusals.py     what is wrong, in which assumption, and what would be allowed
    choosing.py     questions that lead to a design
    conversions.py  one effect size as another

May import `stats` only: no pydantic, no Qt, no file.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from ragwort.designs.design import Design, Way, all_designs, design_named
    from ragwort.designs.kinds import CountsPlan, StatisticPlan
    from ragwort.designs.plan import Plan
    from ragwort.designs.refusals import NotAttainable, RequestError
    from ragwort.designs.request import answer_request, settle
    from ragwort.designs.solve import Answer

# Where each name is; the designs are made known when the first of them is asked for, so that a part of this package
# can be used without all of it.
_PLACES = {
    "Answer": "solve",
    "CountsPlan": "kinds",
    "Design": "design",
    "NotAttainable": "refusals",
    "Plan": "plan",
    "RequestError": "refusals",
    "StatisticPlan": "kinds",
    "Way": "design",
    "all_designs": "design",
    "answer_request": "request",
    "design_named": "design",
    "settle": "request",
}
__all__ = [
    "Answer",
    "CountsPlan",
    "Design",
    "NotAttainable",
    "Plan",
    "RequestError",
    "StatisticPlan",
    "Way",
    "all_designs",
    "answer_request",
    "design_named",
    "settle",
]


def __getattr__(name: str) -> Any:
    if name not in _PLACES:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    import_module("ragwort.designs.catalogue")
    found = getattr(import_module(f"ragwort.designs.{_PLACES[name]}"), name)
    globals()[name] = found
    return found
