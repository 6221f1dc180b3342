"""How participants are sampled, as far as several families share it: one sample, or two separate groups."""

from __future__ import annotations

from typing import Any, ClassVar

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.assumption import Assumption, Choice
from ragwort.designs.design import Design, Values, Way
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError
from ragwort.designs.sizes import AnyTotal, ByRatio, OneGroup, Sizes, rounded_up
from ragwort.designs.stated import PER_GROUP, Statement

RATIO = Assumption(
    "ratio",
    "Ratio of the groups",
    "ratio",
    "Sample",
    "How many in group 2 for each one in group 1. Equal groups need the fewest in all; uneven ones pay when one "
    "group costs less or is easier to find.",
    low=0,
    open_low=True,
    default=1.0,
)
BALANCE = Assumption(
    "balance",
    "Group sizes",
    "choice",
    "Sample",
    "By the ratio: every group 1 size with its group 2. Any total: also totals that the ratio divides only nearly, "
    "so that an odd number can be the answer.",
    default="ratio",
    choices=(Choice("ratio", "exactly in the ratio"), Choice("any", "to any total")),
)


def group_sizes(smallest: int) -> tuple[Assumption, Assumption]:
    """The sizes of two groups, n1 and n2, each at least `smallest`."""
    words = (("n1", "Group 1", "first", "{group1}", "n₁"), ("n2", "Group 2", "second", "{group2}", "n₂"))
    n1, n2 = (
        Assumption(
            name,
            label,
            "count",
            "Sample",
            f"Participants analysed in the {place} group.",
            words=own,
            symbol=symbol,
            low=smallest,
            high=10**7,
        )
        for name, label, place, own, symbol in words
    )
    return n1, n2


class OneSample(Design):
    """One sample of n participants, whatever is measured of them."""

    smallest: int = 1  # participants
    sizes = (Way("one number", ("n",)),)

    def smallest_n(self, values: Values) -> int:
        """The smallest sample that the test can be done with."""
        return self.smallest

    @override
    def counting(self, values: Values) -> OneGroup:
        return OneGroup(self.smallest_n(values))

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        smallest = self.smallest_n(values)
        if values["n"] < smallest:
            raise RequestError("n", f"{self.size_reason(values)}n must be {smallest} or more, not {values['n']}.")
        return plan.counting.splits(values["n"])

    def size_reason(self, values: Values) -> str:
        """Why the sample cannot be smaller, where that needs saying: `With 3 predictors `."""
        return ""

    @override
    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        return {"n": groups[0]}


class TwoGroups(Design):
    """Two separate groups in a ratio, given as one total or by group."""

    smallest: int = 2  # participants per group
    statements: ClassVar[tuple[Statement, ...]] = (PER_GROUP,)
    sizes: ClassVar[tuple[Way, ...]] = (Way("one total", ("n",)), Way("a size for each group", ("n1", "n2")))
    group_words = ("group 1", "group 2")

    @override
    def implied(self, values: Values) -> dict[str, Any]:
        """The second group from the first one and a ratio that is given."""
        found = super().implied(values)
        if "n1" in values and "ratio" in values and "n2" not in values and "n" not in values:
            found["n2"] = max(rounded_up(values["n1"] * values["ratio"]), self.smallest)
        return found

    @override
    def counting(self, values: Values) -> ByRatio | AnyTotal:
        kind = AnyTotal if values["balance"] == "any" else ByRatio
        return kind(values["ratio"], self.smallest)

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        if "n1" in values:
            n1, n2 = values["n1"], values["n2"]
            if values.get("n", n1 + n2) != n1 + n2:
                raise RequestError("n", f"n is {values['n']}, but n1 and n2 add up to {n1 + n2}.")
            return [np.array([[float(n1)], [float(n2)]])]
        if values["n"] < 2 * self.smallest:
            least = f"{2 * self.smallest} or more, {self.smallest} per group"
            raise RequestError("n", f"The total number of participants must be {least}, not {values['n']}.")
        return plan.counting.splits(values["n"])

    @override
    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        return {"n": sum(groups), "n1": groups[0], "n2": groups[1]}

    def size_words(self, values: Values, find: str) -> str:
        """The sizes as the sentence says them."""
        return "{n1} and {n2} {many}" if find != "n" and "n1" in values else "{n} ({group_sizes})"
