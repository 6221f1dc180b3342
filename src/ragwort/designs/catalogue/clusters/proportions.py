"""Two arms of whole clusters compared on a proportion."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence, holding
from ragwort.designs.assumption import (
    ALPHA,
    DIRECTION,
    SIDES,
    Choice,
    method,
)
from ragwort.designs.catalogue.clusters.arms import (
    DERIVED,
    DF_IN_SYMBOLS,
    DF_OF_CLUSTERS,
    KNOWN_AS,
    SIZES_OF_CLUSTERS,
    ClusterPlan,
    Clusters,
)
from ragwort.designs.catalogue.clusters.assumptions import OF_CLUSTERS, SAMPLE, distribution
from ragwort.designs.catalogue.clusters.clustering import Clustering
from ragwort.designs.catalogue.clusters.unknowns import FURTHER
from ragwort.designs.catalogue.proportions.two import (
    METHOD_TEXTS,
    WHERE_SHARES,
    TwoProportionsPlan,
    difference_of_proportions,
    formulas_of_shares,
    no_difference,
    two_proportions_effect,
)
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, claim, power_of_t, power_of_two_t, row
from ragwort.designs.looks import LOOKS
from ragwort.designs.phrases import (
    OF_SHARES,
    Saying,
    difference_of_shares,
    looking_for,
)
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_NORMAL, FROM_T, InProtocol
from ragwort.designs.remarks import General, normal_approximation
from ragwort.designs.sizes import Sizes
from ragwort.designs.stated import RATIOS_OF_SHARES
from ragwort.designs.works import DONNER, ELDRIDGE
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import clusters
from ragwort.stats.statistic import Test, TwoVariancesTTest


@dataclass(frozen=True)
class ClusterProportionsPlan(TwoProportionsPlan, ClusterPlan):
    """A difference of proportions between two arms of clusters."""

    clustering: Clustering
    distribution: str

    @override
    def inflated(self, groups: Sizes) -> tuple[Any, Any]:
        """By the design effect of each arm."""
        arms = self.clustering.arms(groups)
        return arms.people, arms.effects

    @override
    def test(self, groups: Sizes) -> Test:
        """Donner and Klar (2000), section 5.3, with t for the few clusters there are."""
        if self.distribution == "z":
            return super().test(groups)
        null, own = self.variances(groups)
        spread, noncentrality = np.sqrt(own / null), self.effect / np.sqrt(own)
        return TwoVariancesTTest(
            noncentrality, self.clustering.arms(groups).df, spread=spread, mean=self.effect, null_variance=null
        )

    @override
    def seen(self, groups: Sequence[Array]) -> Any:
        """Whole clusters, not counts."""
        return clusters.seen_arms(groups)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> Any:
        drawn, shares = self.drawn_sizes(sizes, population, count), (self.proportion1, float(self.planned))
        return clusters.draw_yes_no(population, drawn, shares, self.icc)

    @override
    def analyse(self, data: Any, way: str = "") -> simulated.Found:
        return clusters.analyse_yes_no(data, self.icc, way or self.method, self.distribution, self.level)

    @override
    def interval(self, groups: Sizes) -> Interval:
        _, own = self.variances(groups)
        each = self.confidence.z if self.distribution == "z" else self.confidence.t(self.clustering.arms(groups).df)
        return self.confidence.around("difference", "points", self.effect, each * np.sqrt(own))

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        """The effect in its own standard errors, whichever test."""
        _, own = self.variances(groups)
        return {**ClusterPlan.details(self, groups), "noncentrality": self.effect / np.sqrt(own)}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        found = [normal_approximation()] if self.distribution == "z" else [General(_NEAR)]
        return [*found, *self.of_clusters(groups)]


_NEAR = "This power is an approximation: cluster proportions are taken to be normal, and the design effect as known."


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
            (test, method): f"{test} test adjusted for clustering ({method} variance)"
            for test in ("t", "z")
            for method in ("pooled", "unpooled")
        },
        {
            (test, method): f"{computed} with the design effect of clustering"
            for test, computed in (("t", FROM_T), ("z", FROM_NORMAL))
            for method in ("pooled", "unpooled")
        },
        by=lambda values: (values.get("distribution", "t"), values.get("method", "pooled")),
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
        distribution("t test on cluster-adjusted proportions", "z test on cluster-adjusted proportions"),
        method(
            "Pooled: one variance for both arms under the null hypothesis. Unpooled: each arm its own.",
            Choice("pooled", "pooled", "pooled variance"),
            Choice("unpooled", "unpooled", "unpooled variance"),
        ),
        *SAMPLE,
        *OF_CLUSTERS,
        *LOOKS,
    )
    further = FURTHER
    ways = ((Way("a proportion for each arm", ("proportion2",)),), SIZES_OF_CLUSTERS)
    answered_as = ("risk_ratio", "odds_ratio")
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
    accuracy_by = "distribution"
    accuracies = {
        "t": "The calculation takes cluster proportions to be normal and the design effect as known; its degrees of "
        "freedom are those of the clusters.",
        "z": "The calculation is a normal approximation with the design effect taken as known; too hopeful with few "
        "clusters.",
    }
    approximation = (
        "The calculation takes cluster proportions to be normal and the design effect as known; z is too hopeful with "
        "few clusters."
    )

    @override
    def comparison(self, values: Values, find: str) -> ClusterProportionsPlan:
        no_difference(values, find)
        return ClusterProportionsPlan(
            **self.basis(values, find),
            proportion1=values["proportion1"],
            method=values["method"],
            clustering=self.clustering(values),
            distribution=self.distribution(values),
        )

    @override
    def stated_effect(self, values: Values) -> Number:
        return difference_of_proportions(values)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        sizes, looking = self.size_words(values, find), looking_for(values, *OF_SHARES)
        return Saying(sizes, difference_of_shares(values, find), "a {sides} {distribution} ({method})", looking)

    @override
    def claim(self, values: Values) -> Claim:
        return claim("π₂ − π₁", "0", values["sides"], WHERE_SHARES)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        effect, z = "D = 1 + ICC (M − 1)", formulas_of_shares(values["method"], values["sides"], "D ")
        if self.distribution({"sizes": "whole", **values}) == "z":
            return effect, *z
        if values["method"] == "unpooled":
            return effect, row(z[0], f",   {DF_IN_SYMBOLS}"), power_of_t(values["sides"])
        noncentrality = row("δ = ", Frac("Δ", Root("V₁")), f",   {DF_IN_SYMBOLS}")
        return effect, *z[:2], noncentrality, power_of_two_t(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        test = self.distribution({"sizes": "whole", **values})
        taken = "" if test == "z" else f" {DF_OF_CLUSTERS}"
        return f"{_METHOD_TEXTS[test, values['method']]} {_INFLATED}{taken}"


_INFLATED = (
    "Both variances are multiplied by the design effect 1 + ICC · (M − 1), where M is the mean cluster size, adjusted "
    "for its coefficient of variation."
)
_METHOD_TEXTS = {("z", method): METHOD_TEXTS[method] for method in ("pooled", "unpooled")} | {
    ("t", method): METHOD_TEXTS[method]
    .replace("z test of", "t test of cluster-adjusted")
    .replace(", as a normal approximation", "")
    for method in ("pooled", "unpooled")
}
