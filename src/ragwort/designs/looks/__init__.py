"""Interim analyses: what a design asks of them, and its plan with them. One mechanism for all designs, like margins.

The plan with looks is the plan without them whose power is that of a test that looks several times: the normal test
with the same power stands in for it. So a search for sizes, effects or margins is that of the plan without looks for
another power (`LookedPlan.searched_as`). Sources: `stats.sequential`; ICH E9 (1998), sections 4.5 and 4.6.

    assumptions.py   what is asked
    reading.py       values as looks, refused at their field
    plan.py          the plan of any kind with looks
    course.py        how its studies go: bounds, chances, expected sizes
    with_looks.py    the mixin of a design
    underway.py      a study that has come so far: the boundary now, conditional power, blinded re-estimation
"""

from ragwort.designs.looks.assumptions import FRACTIONS, LOOKS, SPENDING_WORKS
from ragwort.designs.looks.course import Course
from ragwort.designs.looks.plan import LookedPlan
from ragwort.designs.looks.with_looks import NOT_TAKEN, WithLooks, refusal

__all__ = ["FRACTIONS", "LOOKS", "NOT_TAKEN", "SPENDING_WORKS", "Course", "LookedPlan", "WithLooks", "refusal"]
