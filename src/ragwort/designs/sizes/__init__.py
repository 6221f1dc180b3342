"""How a sample size is counted: the whole numbers that a design allows, one step at a time.

A counting turns steps (1-d array of whole numbers) into group sizes (array of shape groups x steps), and a total into
the groups that make it up. Group sizes are whole numbers held as floats, ready for the formulas. To add one, subclass
`Counting` in the module of its kind.
"""

from ragwort.designs.sizes.clusters import ByClusters, RealArms
from ragwort.designs.sizes.counting import (
    LARGEST_TOTAL,
    SLACK,
    TIE,
    Counting,
    Sizes,
    Steps,
    rounded_up,
    whole_total,
)
from ragwort.designs.sizes.enrolment import Enrolment
from ragwort.designs.sizes.groups import AnyOver, EqualGroups, OneGroup
from ragwort.designs.sizes.strata import ByStrata, Kinds
from ragwort.designs.sizes.two_groups import AnyTotal, ByEvents, ByRatio, TwoGroupCounting

__all__ = [
    "LARGEST_TOTAL",
    "SLACK",
    "TIE",
    "AnyOver",
    "AnyTotal",
    "ByClusters",
    "ByEvents",
    "ByRatio",
    "ByStrata",
    "Counting",
    "Enrolment",
    "EqualGroups",
    "Kinds",
    "OneGroup",
    "RealArms",
    "Sizes",
    "Steps",
    "TwoGroupCounting",
    "rounded_up",
    "whole_total",
]
