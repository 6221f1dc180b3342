"""What both designs share: two arms of whole clusters."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Any, Self

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.assumption import rounded
from ragwort.designs.catalogue.clusters.assumptions import FEW_CLUSTERS
from ragwort.designs.catalogue.clusters.clustering import Clustering, checked_strata
from ragwort.designs.design import Derived, Values, Way
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.looks import WithLooks
from ragwort.designs.phrases import (
    MOST_NAMED,
    Naming,
    numbered,
)
from ragwort.designs.plan import Basis, Plan
from ragwort.designs.refusals import RequestError, plain_number, plain_percent
from ragwort.designs.remarks import General
from ragwort.designs.sizes import ByClusters, ByStrata, Enrolment, RealArms, Sizes, rounded_up
from ragwort.designs.ways_out import WayOut
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.clusters import Arms, seen_arms

DF_IN_SYMBOLS = "ν = number of clusters − 2"
DF_OF_CLUSTERS = (
    "The statistic follows a noncentral t distribution with the number of clusters less 2 degrees of freedom."
)
SMALLER_CLUSTERS = "More clusters are needed then, and each has to be won over: ask whether there are as many."


class OfClusters(Plan):
    """What plans of clusters share, whatever is tested. Sizes are participants by arm."""

    clustering: Clustering
    distribution: str

    wrong_ways = {"individuals": "an analysis of individuals, as if nobody came in clusters"}

    @property
    def icc(self) -> float:
        """The intracluster correlation."""
        return float(self.clustering.icc)

    def with_clustering(self, **changes: Any) -> Self:
        """The same plan with another clustering."""
        return self.replace(clustering=replace(self.clustering, **changes))

    @property
    @override
    def comes_in_clusters(self) -> bool:
        return True

    @override
    def seen(self, groups: Sequence[Array]) -> Arms:
        """Of each arm clusters and outcomes, in two columns."""
        return seen_arms(groups)

    @override
    def clusters_at(self, groups: Sizes) -> list[int]:
        return [self.clustering.clusters(arm) for arm in groups[:, 0]]

    @override
    def recruited(self, lost: Enrolment, groups: Sizes) -> dict[str, Any]:
        """The clusters, and those of each stratum where these are whole."""
        clusters = lost.clusters(self.clusters_at(groups))
        found: dict[str, Any] = {"enrol_clusters": list(clusters)}
        if self.clustering.counts_clusters:
            numbers = self.clustering.kinds.numbers(np.array(clusters, dtype=float))
            found["enrol_strata"] = [[int(each) for each in of] for of in numbers]
        return found

    @override
    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        found: dict[str, Any] = {"clusters": self.clusters_at(groups)}
        if self.clustering.strata and not self.clustering.whole:
            found["strata"] = self.clustering.by_stratum(groups)
        return found

    def drawn_sizes(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> tuple[Any, Any]:
        """The cluster sizes of both arms in `count` studies, each an array (studies x clusters)."""
        first, second = (self.clustering.drawn(population.rng, count, arm, population.more) for arm in sizes)
        return first, second

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        found = {**super().details(groups), "design_effect": self.design_effect(groups)}
        if self.clustering.counts_clusters:
            found["strata"] = [self.clustering.numbers(arm) for arm in groups[:, 0]]
        return found

    def design_effect(self, groups: Sizes) -> float:
        """How much larger the variance of a difference of means is than that of independent participants."""
        arms = self.clustering.arms(groups)
        return float(np.ravel(arms.inverse / sum(1 / people for people in arms.people))[0])

    def of_clusters(self, groups: Sizes) -> list[str]:
        """What must be known of whole and of few clusters."""
        clustering = self.clustering
        if clustering.strata and not clustering.whole:
            return [REAL_SIZES]
        uneven = bool(clustering.strata) or bool(np.any(np.asarray(clustering.cv) > 0))
        found = [self.too_hopeful(groups)] if self.distribution == "z" else [CAUTIOUS] * uneven
        arms = list(enumerate((clustering.numbers(arm) for arm in groups[:, 0]), start=1)) if clustering.strata else []
        for arm, numbers in arms:
            found += [_NONE_IN.format(at=at, arm=arm) for at, number in enumerate(numbers, start=1) if not number]
        return found

    def too_hopeful(self, groups: Sizes) -> str:
        """What the normal distribution promises beyond t where clusters are few."""
        if min(self.clusters_at(groups)) >= FEW_CLUSTERS:
            return General("The normal distribution takes the variance between clusters as known.")
        own, careful = (float(each.power(groups)[0]) for each in (self, self.replace(distribution="t")))
        return (
            f"With fewer than {FEW_CLUSTERS} clusters per arm the normal distribution is too hopeful: power by the t "
            f"distribution is {plain_percent(careful)} in place of {plain_percent(own)}, "
            f"{100 * (own - careful):.1f} percentage points less."
        )


class ClusterPlan(OfClusters, StatisticPlan):
    """One test of a difference between two arms."""


CAUTIOUS = (  # measured: 13 plans, ICC 0.03 and 0.05, CV 0.3 to 0.9 and strata from 8 to 60, 4 to 40 clusters per arm
    "With unequal cluster sizes power is an approximation on the safe side: up to 7 percentage points below that of a "
    "simulated t test on weighted cluster means."
)
_NONE_IN = "No cluster of stratum {at} is in arm {arm}: its share comes to less than one cluster."
REAL_SIZES = (
    "With strata of cluster sizes power is a normal approximation at sizes that are not rounded; clusters are rounded "
    "up by arm."
)


KNOWN_AS = (  # of both designs
    "cluster randomized trial",
    "cluster randomised",
    "group randomized",
    "wards",
    "schools",
    "practices",
    "classes",
    "villages",
    "intracluster correlation icc",
    "design effect",
)


class Clusters(WithLooks):
    """What both designs share: arms of whole clusters."""

    sizes = (Way("clusters", ("clusters",)), Way("one total", ("n",)))
    clusters = "clusters"
    buys = "Whole groups can be allocated where people within them cannot be told apart."
    group_word = "arm"
    group_words = ("arm 1", "arm 2")

    @override
    def unused_names(self, find: str) -> frozenset[str]:
        """While the cluster size is found, only the clusters say how large the study is."""
        return super().unused_names(find) | (frozenset({"n"}) if find == "cluster_size" else frozenset())

    @override
    def restated(self, given: Values) -> tuple[dict[str, Any], list[str]]:
        """One cluster an arm is refused with its reason."""
        if given.get("clusters") == 1:
            raise RequestError(
                "clusters",
                "Clusters must be from 2 to 10 000 000 per arm: with one, what differs between the arms cannot "
                "be told from what differs between any two clusters.",
            )
        return super().restated(given)

    def clustering(self, values: Values) -> Clustering:
        """How participants come in clusters; stand-ins for what is found. Raises `RequestError`."""
        icc = values.get("icc", 0.0)
        if "strata" not in values:
            return Clustering(icc, values.get("cluster_size", 1.0), values["cluster_size_cv"])
        if "cluster_size" in values:
            raise RequestError("strata", "Give one cluster size, or strata of sizes, not both.")
        return Clustering(icc, strata=checked_strata(values["strata"]), whole=values["sizes"] == "whole")

    @override
    def default_choice(self, name: str, values: Values) -> Any:
        """Z at sizes that are not whole, t otherwise."""
        if name == "distribution":
            return "z" if "strata" in values and values.get("sizes") == "exact" else "t"
        return super().default_choice(name, values)

    def distribution(self, values: Values) -> str:
        """Which distribution the statistic has. Raises `RequestError`."""
        found: str = values.get("distribution", self.default_choice("distribution", values))
        if found == "t" and "strata" in values and values["sizes"] == "exact":
            raise RequestError("distribution", "At exact sizes of strata, which are no whole clusters, the test is z.")
        return found

    @override
    def idle_names(self, values: Values) -> frozenset[str]:
        """Strata of whole clusters have no total that could be split."""
        whole = "strata" in values and values.get("sizes", "whole") == "whole"
        idle = {"n"} if whole else set()
        idle |= {"cluster_capacity"} if "strata" in values else set()
        return super().idle_names(values) | idle

    @override
    def refuse_idle(self, given: Values, find: str) -> None:
        super().refuse_idle(given, find)
        if "n" in given and "n" in self.idle_names(given) and find not in ("n", "cluster_size"):
            raise RequestError(
                "n", "With strata the size is given as whole clusters of arm 1 (clusters), not as participants (n)."
            )

    @override
    def refuse_looks(self, values: Values) -> None:
        super().refuse_looks(values)
        if "strata" in values:
            raise RequestError("strata", "Interim analyses are after shares of clusters of one size: no strata.")

    @override
    def counting(self, values: Values) -> ByClusters | ByStrata | RealArms:
        """Whole clusters of one size or of several, or real numbers of participants."""
        clustering = self.clustering(values)
        if not clustering.strata:
            return ByClusters(values["ratio"], float(clustering.size))
        return ByStrata(values["ratio"], clustering.kinds) if clustering.whole else RealArms(values["ratio"])

    @override
    def basis(self, values: Values, find: str) -> Basis:
        if find == "cluster_size" and "strata" in values:
            raise RequestError("strata", "The cluster size is found for clusters of one size: leave out the strata.")
        return super().basis(values, find)

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        assert isinstance(plan, OfClusters)
        counting, clustering = plan.counting, plan.clustering
        if isinstance(counting, RealArms):
            if "clusters" in values:
                return [counting.sizes(values["clusters"] / clustering.clusters_per_participant)]
            return counting.splits(values["n"])
        if isinstance(counting, ByStrata):
            return counting.ways(np.array([values["clusters"]]))
        if "clusters" in values:
            ways = counting.ways(np.array([values["clusters"]]))
            total = float(ways[0].sum())
            if "n" in values and abs(values["n"] - total) > 1e-6:
                raise RequestError("n", f"n is {values['n']}, but the clusters make it {plain_number(total)}.")
            return ways
        clusters = values["n"] / float(clustering.size)
        if abs(clusters - round(clusters)) > 1e-9 or clusters < 4:
            size = plain_number(float(clustering.size))
            raise RequestError(
                "n", f"n must make whole clusters of {size}, at least two in each arm; {values['n']} do not."
            )
        return counting.splits(values["n"])

    @override
    def enrolment(self, values: Values) -> Enrolment:
        """Whole clusters are lost, too, and more clusters can make up for dropout."""
        by_clusters = values.get("dropout_made_up_by") == "clusters"
        return Enrolment(values.get("dropout") or 0.0, values.get("cluster_loss") or 0.0, by_clusters)

    @override
    def remarks_on(self, values: Values) -> list[str]:
        """Clusters that have too few people."""
        most, size, lost = values.get("cluster_capacity"), values.get("cluster_size"), self.enrolment(values)
        if most is None or size is None:
            return []
        each = rounded_up(float(size) if lost.by_clusters else float(size) / (1 - float(lost.dropout)))
        if each <= most:
            return []
        instead = "" if lost.by_clusters or float(size) > most else " Let more clusters make up for dropout instead."
        said = (
            f"{plain_number(each)} would have to be recruited in each of the clusters, which have {plain_number(most)}."
        )
        return [f"{said}{instead}"]

    @override
    def ways_out(self, values: Values, effect: float) -> list[WayOut]:
        """Smaller clusters, of which there are more."""
        size = values.get("cluster_size")
        found = super().ways_out(values, effect)
        if size is not None and size >= 4:
            words = f"Take half of each cluster: {math.ceil(size / 2)} in place of {plain_number(size)}"
            found.append(WayOut("smaller-clusters", words, SMALLER_CLUSTERS, {"cluster_size": math.ceil(size / 2)}))
        return found

    @override
    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        assert isinstance(plan, OfClusters)
        return {"clusters": plan.clustering.clusters(groups[0]), "n": sum(groups)}

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """One size as a single stratum, strata as their mean size."""
        values = super().in_other_words(values)
        if "strata" in values:
            strata = checked_strata(values["strata"])
            mean = rounded(1 / sum(s.share / s.mean_size for s in strata))
            return {**values, "cluster_size": mean, "cluster_size_cv": 0.0}
        if "cluster_size" in values:
            size = float(values["cluster_size"])
            scatter = size * values.get("cluster_size_cv", 0.0)
            return {**values, "strata": [{"share": 1, "mean_size": size, "sd_size": scatter}]}
        return dict(values)

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        """Both arms, and the strata where there are any."""
        strata = len(values.get("strata") or ())
        named = (Naming("strata", "Strata", numbered("stratum", strata)),) if 1 < strata <= MOST_NAMED else ()
        return (*super().names(values), *named)

    @staticmethod
    def size_words(values: Values, find: str) -> str:
        """The sizes and the clusters as the sentence says them."""
        several = "strata" in values and find != "cluster_size"
        each = "{cluster_word} of different sizes" if several else "{cluster_word} of {cluster_size}"
        icc = "" if find == "icc" else "; intracluster correlation {icc}"
        if find != "n" and "clusters" in values:
            return f"{{clusters}} {each} for {{groups.1}} ({{cluster_numbers}}, {{total}} in total{icc})"
        return f"{{n}} in {each} ({{cluster_numbers}}{icc})"


SIZES_OF_CLUSTERS = (Way("one cluster size", ("cluster_size", "cluster_size_cv")), Way("strata of sizes", ("strata",)))
DERIVED = (
    Derived("Structure", "design_effect", "design effect"),
    Derived("Sample", "df", "degrees of freedom"),
)
