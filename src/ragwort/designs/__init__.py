"""What the product knows about each kind of comparison, declared once.

A design is one class in one family module (`means`, ...), decorated with `@register`. It declares its
assumptions, the ways to state its effect, its sentence, its help and its references, and it turns settled
values into a `Plan`, which knows the test statistic at given group sizes. The ledger, the sentence, the command
line, the pictures and the report are drawn from that declaration: to add a design, add a class and its tests.

    assumption.py   one quantity: bounds, unit kind, help
    design.py       the declaration (`Design`) and the settled comparison (`Plan`)
    sizes.py        how a sample size is counted: two groups by ratio, any total, ...
    solve.py        find n, power, effect or alpha for any plan -> `Answer`
    request.py      the JSON request and the JSON answer
    errors.py       what is wrong, in which assumption, and what would be allowed

May import `stats` only: no pydantic, no Qt, no file.
"""

# Each module registers its designs; the order here is the order in lists.
# isort: off
from ragwort.designs import means  # noqa: F401
from ragwort.designs import anova  # noqa: F401
from ragwort.designs import proportions  # noqa: F401
from ragwort.designs import clusters  # noqa: F401
from ragwort.designs import correlation  # noqa: F401
from ragwort.designs import regression  # noqa: F401
from ragwort.designs import tables  # noqa: F401

# isort: on
from ragwort.designs.design import Design, Plan, Way, all_designs, design_named
from ragwort.designs.refusals import NotAttainable, RequestError
from ragwort.designs.request import answer_request, settle
from ragwort.designs.solve import Answer

__all__ = [
    "Answer",
    "Design",
    "NotAttainable",
    "Plan",
    "RequestError",
    "Way",
    "all_designs",
    "answer_request",
    "design_named",
    "settle",
]
