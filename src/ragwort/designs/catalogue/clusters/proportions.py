"""Two arms of whole clusters compared on a proportion."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ragwort.designs import evidence, holding
from ragwort.designs.assumption import (
    ALPHA,
    DIRECTION,
    SIDES,
    method,
)
from ragwort.designs.catalogue.clusters.arms import (
    DERIVED,
    KNOWN_AS,
    OF_CLUSTERS,
    REAL_SIZES,
    SAMPLE,
    SIZES_OF_CLUSTERS,
    ClusterPlan,
    Clusters,
)
from ragwort.designs.catalogue.clusters.clustering import Clustering
from ragwort.designs.catalogue.clusters.unknowns import FURTHER
from ragwort.designs.catalogue.proportions.two import (
    METHOD_TEXTS,
    POOLED,
    UNPOOLED,
    WHERE_SHARES,
    TwoProportionsPlan,
    difference_of_proportions,
    formulas_of_shares,
    no_difference,
    two_proportions_effect,
)
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, claim
from ragwort.designs.protocol import FROM_NORMAL, InProtocol
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.saying import (
    OF_SHARES,
    Saying,
    difference_of_shares,
    looking_for,
)
from ragwort.designs.sizes import Sizes
from ragwort.designs.stated import RATIOS_OF_SHARES
from ragwort.designs.works import DONNER, ELDRIDGE
from ragwort.stats import studies
from ragwort.stats.noncentral import Number
from ragwort.stats.studies import clusters


@dataclass(frozen=True)
class ClusterProportionsPlan(TwoProportionsPlan, ClusterPlan):
    """A difference of proportions between two arms of clusters."""

    clustering: Clustering

    @property
    def inflated(self) -> Number:
        """See `TwoProportionsPlan.inflated`: by the design effect."""
        return self.clustering.design_effect

    def draw(self, sizes: tuple[int, ...], world: studies.World, count: int) -> Any:
        """See `Plan.draw`."""
        drawn, shares = self.drawn_sizes(sizes, world, count), (self.proportion1, float(self.planned))
        return clusters.draw_yes_no(world, drawn, shares, self.icc)

    def analyse(self, data: Any, way: str = "") -> studies.Found:
        """See `Plan.analyse`."""
        return clusters.analyse_yes_no(data, self.icc, way or self.method, self.level)

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return ClusterPlan.details(self, groups)

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        found = [normal_approximation(more=", too hopeful with few clusters")]
        return [*found, REAL_SIZES] if self.clustering.strata else found


@register
class ClusterProportions(Clusters):
    """Two arms of whole clusters compared on a proportion."""

    id = "cluster-proportions"
    title = "Cluster-randomised trial: proportions"
    summary = "Does the proportion with an event differ where whole clusters are allocated to two arms?"
    holds = holding.SHARES
    in_protocol = InProtocol(
        "{subject} will be compared between {groups.1} and {groups.2}, with {cluster_word} as the unit of allocation,",
        {
            "pooled": "z test adjusted for clustering (pooled variance)",
            "unpooled": "z test adjusted for clustering (unpooled variance)",
        },
        f"{FROM_NORMAL} with the design effect of clustering",
        cites=(DONNER.at("chapter 5"), ELDRIDGE),
    )
    evidence = evidence.CLUSTER_SHARES
    rows = "member"
    takes = {
        "measured": ("yes-no",),
        "compared": ("two",),
        "same": ("once",),
        "whole": ("yes",),
    }
    known_as = (
        *KNOWN_AS,
        "percentages",
        "proportions of two arms of clusters",
    )
    assumptions = (
        *two_proportions_effect(),
        DIRECTION,
        ALPHA,
        SIDES,
        method(
            "Pooled: one variance for both arms under the null hypothesis. Unpooled: each arm its own.",
            POOLED,
            UNPOOLED,
        ),
        *SAMPLE,
        *OF_CLUSTERS,
    )
    further = FURTHER
    ways = ((Way("a proportion for each arm", ("proportion2",)),), SIZES_OF_CLUSTERS)
    statements = RATIOS_OF_SHARES
    elementwise = elementwise("proportion1", "proportion2", "icc", "cluster_size_cv")
    starting = {"proportion1": 0.3, "proportion2": 0.4, "icc": 0.02, "cluster_size": 25.0}
    derived = (
        Derived("Effect", "risk_difference", "difference"),
        Derived("Effect", "risk_ratio", "risk ratio"),
        Derived("Effect", "odds_ratio", "odds ratio"),
        *DERIVED[:1],
    )
    data_assumptions = (
        "Clusters are independent of each other, and each is wholly in one arm.",
        "The intracluster correlation is the same in all clusters; the outcome is binary.",
    )
    approximation = (
        "The calculation is a normal approximation with the design effect taken as known; too hopeful with few "
        "clusters."
    )

    def plan(self, values: Values, find: str) -> ClusterProportionsPlan:
        """See `Design.plan`."""
        no_difference(values, find)
        return ClusterProportionsPlan(
            **self.basis(values, find),
            proportion1=values["proportion1"],
            method=values["method"],
            clustering=self.clustering(values),
        )

    def stated_effect(self, values: Values) -> Number:
        """See `Design.stated_effect`."""
        return difference_of_proportions(values)

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        sizes, looking = self.size_words(values, find), looking_for(values, *OF_SHARES)
        return Saying(sizes, difference_of_shares(values, find), "a {sides} {method}", looking)

    def claim(self, values: Values) -> Claim:
        """See `Design.claim`."""
        return claim("π₂ − π₁", "0", values["sides"], WHERE_SHARES)

    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """See `Design.formulas`."""
        return "D = 1 + ICC (M − 1)", *formulas_of_shares(values["method"], values["sides"], "D ")

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            f"{METHOD_TEXTS[values['method']]} Both variances are multiplied by the design effect 1 + ICC · (M − 1), "
            "where M is the mean cluster size, adjusted for its coefficient of variation."
        )
