"""Two arms of whole clusters compared on a mean."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.assumption import (
    ALPHA,
    DIRECTION,
    SIDES,
)
from ragwort.designs.catalogue.clusters.arms import (
    DERIVED,
    DF_IN_SYMBOLS,
    DF_OF_CLUSTERS,
    KNOWN_AS,
    SIZES_OF_CLUSTERS,
    Clusters,
    OfClusters,
)
from ragwort.designs.catalogue.clusters.assumptions import OF_CLUSTERS, SAMPLE, distribution
from ragwort.designs.catalogue.clusters.clustering import Clustering
from ragwort.designs.catalogue.clusters.unknowns import FURTHER
from ragwort.designs.catalogue.means.assumptions import DIFFERENCE, SD
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import (
    EDGE,
    Claim,
    Expression,
    Frac,
    Root,
    claim,
    power_of_t,
    power_of_z,
    powers_of_equivalence,
    row,
)
from ragwort.designs.kinds import EdgedPlan, EquivalencePlan
from ragwort.designs.looks import LOOKS
from ragwort.designs.margins import MARGIN_WAYS, MARGINS, WithMargins
from ragwort.designs.phrases import (
    IN_SDS,
    OF_VALUES,
    SPREAD,
    Saying,
    difference_of_means,
    looking_for,
)
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_NORMAL, FROM_T, InProtocol
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import DONNER, ELDRIDGE
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import clusters
from ragwort.stats.statistic import NormalTest, Test, TTest


@dataclass(frozen=True)
class ClusterMeansPlan(OfClusters, EdgedPlan):
    """A difference of means between two arms of clusters; `sd` is the total SD."""

    sd: float
    clustering: Clustering
    distribution: str

    traits = frozenset({"measured", "arms"})

    @property
    @override
    def effect_scale(self) -> float:
        return self.sd

    @override
    def test(self, groups: Sizes) -> Test:
        """Donner and Klar (2000), section 5.2."""
        arms = self.clustering.arms(groups)
        standardised = self.effect / (self.sd * np.sqrt(arms.inverse))
        return NormalTest(standardised) if self.distribution == "z" else TTest(standardised, arms.df)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> clusters.Arms:
        drawn = self.drawn_sizes(sizes, population, count)
        return clusters.draw_measured(population, drawn, float(np.ravel(self.difference)[0]), self.sd, self.icc)

    @override
    def analyse(self, data: clusters.Arms, way: str = "") -> simulated.Found:
        found = clusters.analyse_measured(
            data.moved(float(np.ravel(self.edge)[0])), self.sd, self.icc, way or self.distribution, self.level
        )
        return self.from_nothing(found)

    @override
    def interval(self, groups: Sizes) -> Interval:
        return self.confidence.tested("difference", "measured", self.difference, self.replace(effect=1.0).test(groups))

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"difference": self.difference, "d": self.difference / self.sd, **self.margin_report()}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        return self.of_clusters(groups)


@dataclass(frozen=True)
class ClusterMeansEquivalence(OfClusters, EquivalencePlan):
    """Two one-sided tests; the clusters are those of either."""

    @property
    def clustering(self) -> Clustering:  # type: ignore[override]  # that of the test of one side
        """How participants come in clusters."""
        return self.one_side.clustering

    @property
    def distribution(self) -> str:  # type: ignore[override]  # that of the test of one side
        """Which distribution the statistic has."""
        return self.one_side.distribution

    @property
    def one_side(self) -> ClusterMeansPlan:
        """The test of one side."""
        assert isinstance(self.inner, ClusterMeansPlan)
        return self.inner

    @override
    def with_clustering(self, **changes: Any) -> ClusterMeansEquivalence:
        return self.replace(inner=self.one_side.with_clustering(**changes))

    @override
    def too_hopeful(self, groups: Sizes) -> str:
        return self.one_side.too_hopeful(groups)


@register
class ClusterMeans(WithMargins, Clusters):
    """Two arms of whole clusters compared on a mean."""

    id = "cluster-means"
    title = "Cluster-randomised trial: means"
    summary = "Does the mean of a measured outcome differ where whole clusters are allocated to two arms?"
    in_protocol = InProtocol(
        "{subject} will be compared between {groups.1} and {groups.2}, with {cluster_word} as the unit of allocation,",
        {"t": "t test on cluster-adjusted means", "z": "z test on cluster-adjusted means"},
        {
            "t": f"{FROM_T} with the design effect of clustering",
            "z": f"{FROM_NORMAL} with the design effect of clustering",
        },
        by="distribution",
        cites=(DONNER.at("chapter 5"), ELDRIDGE),
    )
    evidence = evidence.CLUSTER_MEANS
    rows = "member"
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": ("two",),
        "same": ("once",),
        "whole": ("yes",),
    }
    known_as = (
        *KNOWN_AS,
        "multilevel",
        "means of two arms of clusters",
    )
    assumptions = (
        DIFFERENCE,
        replace(
            SD,
            required=True,
            help="The total SD: how far people vary, within and between clusters together. " + SD.help,
        ),
        *MARGINS,
        DIRECTION,
        ALPHA,
        SIDES,
        distribution("t test on cluster-adjusted means", "z test on cluster-adjusted means"),
        *SAMPLE,
        *OF_CLUSTERS,
        *LOOKS,
    )
    further = {**WithMargins.further, **FURTHER}
    equivalence = ClusterMeansEquivalence
    ways = ((Way("one difference", ("difference",)),), SIZES_OF_CLUSTERS, MARGIN_WAYS)
    elementwise = elementwise("difference", "sd", "icc", "cluster_size_cv")
    starting = {"difference": 5.0, "sd": 10.0, "icc": 0.05, "cluster_size": 20.0}
    derived = (Derived("Effect", "d", "d"), *DERIVED)
    data_assumptions = (
        "Clusters are independent of each other, and each is wholly in one arm.",
        "The intracluster correlation is the same in all clusters; cluster means are approximately normal.",
    )
    _unequal = "With unequal sizes it is an approximation."
    accuracy_by = "distribution"
    accuracies = {
        "t": "The t test is exact for clusters of equal size.",
        "z": f"The z test takes the variance as known. {_unequal}",
    }
    approximation = f"The t test is exact for clusters of equal size; z takes the variance as known. {_unequal}"

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        plan = ClusterMeansPlan(
            **self.basis(values, find),
            sd=values["sd"],
            clustering=self.clustering(values),
            distribution=self.distribution(values),
        )
        return self.with_margin(plan, values, find)

    @override
    def scatter_is_known(self, values: Values) -> bool:
        return self.distribution(values) == "z"

    @override
    def saying(self, values: Values, find: str) -> Saying:
        if self.hypothesis(values) != "difference":
            compared = "the mean with {groups.2}", "with {groups.1}"
            said = self.margin_saying(values, find, self.size_words(values, find), *compared, (SPREAD,))
            return replace(said, test=said.test.format(test="{distribution}"))
        effect, looking = difference_of_means(values, find), looking_for(values, *OF_VALUES)
        test = "a {sides} {distribution}"
        return Saying(self.size_words(values, find), effect, test, looking, aside=(SPREAD, IN_SDS))

    @override
    def claim(self, values: Values) -> Claim:
        where = "μ₁ is the mean with {groups.1}, μ₂ the mean with {groups.2}."
        if self.hypothesis(values) != "difference":
            return self.margin_claim(values, "μ₂ − μ₁", where)
        return claim("μ₂ − μ₁", "0", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """Donner and Klar (2000), section 5.2."""
        parts = row(Frac("1", "n₁"), " + ", Frac("1", "n₂"))
        error: Expression = row("σ ", Root(row("D (", parts, ")")))
        effect: Expression = "D = 1 + ICC (M − 1)"
        if self.hypothesis(values) == "equivalence":
            known = self.scatter_is_known(values)
            df = () if known else (DF_IN_SYMBOLS,)
            return effect, "Δ = μ₂ − μ₁", *df, *powers_of_equivalence(error, known)
        noncentrality = row("δ = ", Frac(self.apart(values, "μ₂ − μ₁"), error))
        if self.hypothesis(values) != "difference":
            effect = row(effect, f",   {EDGE}")
        if values.get("distribution", self.default_choice("distribution", values)) == "t":
            return effect, row(noncentrality, f",   {DF_IN_SYMBOLS}"), power_of_t(values["sides"])
        return effect, noncentrality, power_of_z(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the comparison of two arms of whole clusters: the variance of independent "
            "participants is multiplied by the design effect 1 + ICC · (M − 1), where M is the cluster size, enlarged "
            "for the variation of sizes. "
            + (
                DF_OF_CLUSTERS
                if values.get("distribution", self.default_choice("distribution", values)) == "t"
                else "The statistic is taken to be normal."
            )
            + self.both_words(values)
        )
