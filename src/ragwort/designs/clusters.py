"""Two parallel arms of whole clusters, such as wards or schools, compared on a mean or on a proportion.

Sources: Donner and Klar, *Design and Analysis of Cluster Randomization Trials in Health Research* (2000), chapter 5;
Eldridge, Ashby and Kerry, "Sample size for cluster randomized trials: effect of coefficient of variation of cluster
size and analysis method", International Journal of Epidemiology 35 (2006), pages 1292-1300 (unequal sizes).
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Self

import numpy as np

from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, Field
from ragwort.designs.design import Derived, Design, Plan, Values, Way, register, rounded
from ragwort.designs.means import DIFFERENCE, SD
from ragwort.designs.proportions import (
    METHOD_TEXTS,
    POOLED,
    UNPOOLED,
    TwoProportionsPlan,
    no_difference,
    two_proportions_effect,
)
from ragwort.designs.refusals import NotAttainable, RequestError, as_number, number_text, percent_text, said
from ragwort.designs.sampling import RATIO, statistic_details
from ragwort.designs.saying import (
    MOST_NAMED,
    OF_SHARES,
    OF_VALUES,
    Naming,
    Saying,
    difference_of_means,
    difference_of_shares,
    looking_for,
    numbered,
)
from ragwort.designs.sizes import LARGEST_TOTAL, ByClusters, RealArms, Sizes
from ragwort.stats import search, studies
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import NormalTest, Test, TTest

_SUM_SLACK = 1e-9
STEP_WORDS = " clusters in arm 1"
_REFERENCES = (
    "Donner A, Klar N. Design and Analysis of Cluster Randomization Trials in Health Research. London: Arnold; 2000. "
    "Chapter 5.",
    "Eldridge SM, Ashby D, Kerry S. Sample size for cluster randomized trials: effect of coefficient of variation of "
    "cluster size and analysis method. International Journal of Epidemiology 2006; 35: 1292-1300.",
)

_ICC = Assumption(
    "icc",
    "Intracluster correlation",
    "number",
    "Structure",
    "How much more alike two people of one cluster are than two of different clusters: the share of all scatter that "
    "lies between clusters. Take it from a study with similar clusters and the same outcome; if it is really larger, "
    "more people in the same clusters hardly help.",
    symbol="ρ",
    low=0,
    high=1,
    required=True,
    usual="0.01 to 0.05 for outcomes of patients by hospital or practice (Campbell, Fayers and Grimshaw, Clinical "
    "Trials 2005; 2: 99-107)",
)
_CLUSTER_SIZE = Assumption(
    "cluster_size",
    "Participants per cluster",
    "number",
    "Structure",
    "How many people of each cluster are analysed; the mean where clusters differ.",
    words="{many} per cluster",
    symbol="m",
    low=0,
    open_low=True,
    high=10**7,
)
_CV = Assumption(
    "cluster_size_cv",
    "Variation of cluster sizes",
    "number",
    "Structure",
    "The SD of the cluster sizes divided by their mean: 0 where all are equally large. Uneven clusters tell less for "
    "the same number of people.",
    symbol="CV",
    low=0,
    high=100,
    default=0.0,
    usual="0.4 to 0.9 in general practices (Eldridge, Ashby and Kerry, 2006)",
)
_STRATA = Assumption(
    "strata",
    "Strata of cluster sizes",
    "records",
    "Structure",
    "Clusters of different kinds of size, such as small, medium and large wards: for each kind its share of all "
    "participants, and the mean and the SD of its cluster sizes. The shares must add up to 1.",
    fields=(
        Field("share", "share", "share"),
        Field("mean_size", "mean size"),
        Field("sd_size", "SD of sizes"),
    ),
    row_names="strata",
    adds_to_one=True,
    longest=50,
)
_CLUSTERS = Assumption(
    "clusters",
    "Clusters in arm 1",
    "count",
    "Sample",
    "How many whole clusters are allocated to the first arm; the second has them by the ratio.",
    words="{clusters}, {group1}",
    low=2,
    high=10**7,
)


@dataclass(frozen=True)
class Stratum:
    """Clusters of one kind of size; `share` of all participants."""

    share: float
    mean_size: float
    sd_size: float


@dataclass(frozen=True)
class Clustering:
    """How participants come in clusters: of one size, or in strata of sizes."""

    icc: Number
    size: Number = 0.0
    cv: float = 0.0
    strata: tuple[Stratum, ...] = ()

    @property
    def effective_size(self) -> Number:
        """M: the cluster size that counts, larger than the mean where sizes differ."""
        if not self.strata:
            return self.size * (1 + self.cv**2)
        return sum(s.share * s.mean_size * (1 + (s.sd_size / s.mean_size) ** 2) for s in self.strata)

    @property
    def design_effect(self) -> Number:
        """D: how much larger the variance is than that of independent participants."""
        return 1 + self.icc * (self.effective_size - 1)

    @property
    def clusters_per_participant(self) -> float:
        """Clusters that one participant takes, on average."""
        return sum(s.share / s.mean_size for s in self.strata) if self.strata else 1 / self.size

    def clusters(self, participants: float) -> int:
        """Whole clusters of an arm."""
        return math.ceil(participants * self.clusters_per_participant - 1e-9)

    def drawn(self, rng: np.random.Generator, count: int, participants: float) -> Any:
        """Cluster sizes of one arm in `count` studies (studies x clusters)."""
        if not self.strata:
            clusters = round(participants / float(self.size))
            return studies.cluster_sizes(rng, count, clusters, float(self.size), self.cv)
        parts = [
            studies.cluster_sizes(
                rng, count, max(round(participants * s.share / s.mean_size), 1), s.mean_size, s.sd_size / s.mean_size
            )
            for s in self.strata
        ]
        return np.concatenate(parts, axis=1)

    def by_stratum(self, groups: Sizes) -> list[dict[str, Any]]:
        """Participants and clusters of each stratum by arm, not rounded, so that they add up."""
        return [
            {
                "participants": [float(arm * s.share) for arm in groups[:, 0]],
                "clusters": [float(arm * s.share / s.mean_size) for arm in groups[:, 0]],
            }
            for s in self.strata
        ]


class _ClusterPlan(Plan):
    """What plans of both outcomes share. Sizes are participants by arm."""

    clustering: Clustering

    @property
    def icc(self) -> float:
        """The intracluster correlation."""
        return float(self.clustering.icc)

    @property
    def cluster_size(self) -> int:
        """The cluster size, as it is found: whole."""
        return int(self.clustering.size)

    @property
    def step_words(self) -> str:
        """See `Plan.step_words`."""
        return STEP_WORDS

    def with_clustering(self, **changes: Any) -> Self:
        """The same plan with another clustering."""
        return self.replace(clustering=replace(self.clustering, **changes))

    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.further_sizes`."""
        found: dict[str, Any] = {"clusters": [self.clustering.clusters(arm) for arm in groups[:, 0]]}
        if self.clustering.strata:
            found["strata"] = self.clustering.by_stratum(groups)
        return found

    def solve_further(self, find: str, groups: Sizes) -> tuple[Sizes, Self]:
        """See `Plan.solve_further`: the largest icc, or the smallest cluster size, that still reaches the target."""
        if self.effect == 0:
            raise NotAttainable(find, "With no effect there is nothing to detect.")
        return self._largest_icc(groups) if find == "icc" else self._smallest_cluster(groups)

    def _largest_icc(self, groups: Sizes) -> tuple[Sizes, Self]:
        def power(icc: float) -> float:
            return float(self.with_clustering(icc=icc).power(groups)[0])

        if power(0.0) < self.target:
            raise NotAttainable(
                "icc",
                f"Even with an intracluster correlation of 0 these clusters have only {percent_text(power(0.0))} "
                f"power, not {percent_text(self.target)}.",
            )
        icc = 1.0 if power(1.0) >= self.target else search.close_in(power, self.target, fails=1.0, reaches=0.0)
        return groups, self.with_clustering(icc=icc)

    def _smallest_cluster(self, groups: Sizes) -> tuple[Sizes, Self]:
        clusters = groups / self.clustering.size

        def power(sizes: Any) -> Any:
            plan = self.with_clustering(size=sizes.astype(float))
            return plan.power(clusters * sizes)

        highest = max(1, int(LARGEST_TOTAL / float(clusters.sum())))
        found = search.first_step(power, self.target, 1, highest)
        if found is None:
            most = percent_text(float(power(np.array([highest]))[0]))
            raise NotAttainable(
                "cluster_size",
                f"No cluster size reaches {percent_text(self.target)} power with this many clusters: more people in "
                f"the same clusters bring it to {most} at most. More clusters are needed.",
            )
        counting = ByClusters(self.counting.ratio, found) if isinstance(self.counting, ByClusters) else self.counting
        return clusters * found, self.with_clustering(size=float(found)).replace(counting=counting)

    def drawn_sizes(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> tuple[Any, Any]:
        """The cluster sizes of both arms in `count` studies, each an array (studies x clusters)."""
        first, second = (self.clustering.drawn(rng, count, arm) for arm in sizes)
        return first, second

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        found = statistic_details(self, groups)
        return {**found, "design_effect": float(self.clustering.design_effect)}


@dataclass(frozen=True)
class ClusterMeansPlan(_ClusterPlan):
    """A difference of means between two arms of clusters; `sd` is the total SD."""

    sd: float
    clustering: Clustering
    distribution: str

    @property
    def effect_scale(self) -> float:
        """See `Plan.effect_scale`."""
        return self.sd

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; Donner and Klar (2000), section 5.2."""
        n1, n2 = groups
        error = self.sd * np.sqrt(self.clustering.design_effect * (1 / n1 + 1 / n2))
        if self.distribution == "z":
            return NormalTest(self.effect / error)
        return TTest(self.effect / error, np.round((n1 + n2) / self.clustering.size, 6) - 2)

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        drawn, test = self.drawn_sizes(sizes, rng, count), self.distribution
        return studies.cluster_means(rng, drawn, float(self.effect), self.sd, self.icc, test, self.level)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        return {"difference": self.effect, "d": self.effect / self.sd}

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        found = []
        if self.clustering.strata:
            found.append(_REAL_SIZES)
        if self.clustering.cv > 0 and self.distribution == "t":
            found.append("With unequal cluster sizes the t test is an approximation.")
        if self.distribution == "z":
            found.append("The normal distribution takes the variance as known: too hopeful with few clusters.")
        return found


_REAL_SIZES = (
    "With strata of cluster sizes power is a normal approximation at sizes that are not rounded; clusters are rounded "
    "up by arm."
)


@dataclass(frozen=True)
class ClusterProportionsPlan(TwoProportionsPlan, _ClusterPlan):
    """A difference of proportions between two arms of clusters."""

    clustering: Clustering = Clustering(0.0, 1.0)

    @property
    def inflated(self) -> Number:
        """See `TwoProportionsPlan.inflated`: by the design effect."""
        return self.clustering.design_effect

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        drawn, shares = self.drawn_sizes(sizes, rng, count), (self.proportion1, float(self.planned))
        return studies.cluster_proportions(rng, drawn, shares, self.icc, self.method, self.level)

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return _ClusterPlan.details(self, groups)

    @property
    def step_words(self) -> str:
        """See `Plan.step_words`."""
        return STEP_WORDS

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        found = ["A normal approximation: too hopeful with few clusters."]
        return [*found, _REAL_SIZES] if self.clustering.strata else found


class _Clusters(Design):
    """What both designs share: arms of whole clusters."""

    finds = ("n", "power", "effect", "alpha", "icc", "cluster_size")
    sizes = (Way("clusters", ("clusters",)), Way("one total", ("n",)))
    clusters = "clusters"
    group_word = "arm"
    group_words = ("arm 1", "arm 2")
    references = _REFERENCES

    def unused_names(self, find: str) -> frozenset[str]:
        """See `Design.unused_names`: while the cluster size is found, only the clusters say how large the study is."""
        return super().unused_names(find) | (frozenset({"n"}) if find == "cluster_size" else frozenset())

    def clustering(self, values: Values, find: str) -> Clustering:
        """How participants come in clusters; stand-ins for what is found. Raises `RequestError`."""
        icc = 0.0 if find == "icc" else values["icc"]
        if "strata" not in values:
            return Clustering(icc, 1.0 if find == "cluster_size" else values["cluster_size"], values["cluster_size_cv"])
        if find == "cluster_size":
            raise RequestError("strata", "The cluster size is found for clusters of one size: leave out the strata.")
        if "cluster_size" in values:
            raise RequestError("strata", "Give one cluster size, or strata of sizes, not both.")
        return Clustering(icc, strata=_checked_strata(values["strata"]))

    def counting(self, values: Values, clustering: Clustering) -> ByClusters | RealArms:
        """Whole clusters, or real numbers of participants where they come in strata."""
        if clustering.strata:
            return RealArms(values["ratio"])
        return ByClusters(values["ratio"], float(clustering.size))

    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """See `Design.given_sizes`."""
        assert isinstance(plan, _ClusterPlan)
        counting, clustering = plan.counting, plan.clustering
        if isinstance(counting, RealArms):
            if "clusters" in values:
                return [counting.sizes(values["clusters"] / clustering.clusters_per_participant)]
            return counting.splits(values["n"])
        if "clusters" in values:
            ways = counting.ways(np.array([values["clusters"]]))
            total = float(ways[0].sum())
            if "n" in values and abs(values["n"] - total) > 1e-6:
                raise RequestError("n", f"n is {values['n']}, but the clusters make it {number_text(total)}.")
            return ways
        clusters = values["n"] / float(clustering.size)
        if abs(clusters - round(clusters)) > 1e-9 or clusters < 4:
            size = number_text(float(clustering.size))
            raise RequestError(
                "n", f"n must make whole clusters of {size}, at least two in each arm; {values['n']} do not."
            )
        return counting.splits(values["n"])

    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        """See `Design.sizes_as_values`."""
        assert isinstance(plan, _ClusterPlan)
        return {"clusters": plan.clustering.clusters(groups[0]), "n": sum(groups)}

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`: one size as a single stratum, strata as their mean size."""
        if "strata" in values and "cluster_size" in way.names:
            strata = _checked_strata(values["strata"])
            mean = rounded(1 / sum(s.share / s.mean_size for s in strata))
            return {"cluster_size": mean, "cluster_size_cv": 0.0}
        if "cluster_size" in values and "strata" in way.names:
            size = float(values["cluster_size"])
            return {"strata": [{"share": 1, "mean_size": size, "sd_size": size * values.get("cluster_size_cv", 0.0)}]}
        return {name: values[name] for name in way.names if name in values}

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`: both arms, and the strata where there are any."""
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
            return f"{{clusters}} {each} for {{groups.1}} ({{cluster_numbers}}, {{total}} in all{icc})"
        return f"{{n}} in {each} ({{cluster_numbers}}{icc})"


def _checked_strata(records: Any) -> tuple[Stratum, ...]:
    """The strata, read and adding up. Raises `RequestError`."""
    strata = tuple(_checked_stratum(record) for record in records)
    total = math.fsum(stratum.share for stratum in strata)
    if abs(total - 1) > _SUM_SLACK:
        fair = ", ".join(f"{stratum.share / total:.4g}" for stratum in strata)
        raise RequestError(
            "strata",
            f"The shares of the strata add up to {number_text(total)}, not 1: {number_text(abs(total - 1))} too "
            f"{'much' if total > 1 else 'little'}. Rescaled they would be {fair}.",
        )
    return strata


def _checked_stratum(record: Any) -> Stratum:
    names = ("share", "mean_size", "sd_size")
    if not isinstance(record, Mapping) or set(record) != set(names):
        raise RequestError(
            "strata", 'Each of strata must be like {"share": 0.4, "mean_size": 12, "sd_size": 5}, with no other names.'
        )
    for name in names:
        value = record[name]
        if as_number(value) is None:
            raise RequestError("strata", f"{name} of a stratum must be a number, not {said(value)}.")
        if value < 0 or (value == 0 and name != "sd_size"):
            least = "0 or more" if name == "sd_size" else "above 0"
            raise RequestError("strata", f"{name} of a stratum must be {least}, not {number_text(value)}.")
    return Stratum(*(float(record[name]) for name in names))


_SIZES_OF_CLUSTERS = (Way("one cluster size", ("cluster_size", "cluster_size_cv")), Way("strata of sizes", ("strata",)))
_DERIVED = (
    Derived("Structure", "design_effect", "design effect"),
    Derived("Sample", "df", "degrees of freedom"),
)
_OF_CLUSTERS = (_ICC, _CLUSTER_SIZE, _CV, _STRATA)
_SAMPLE = (POWER, TOTAL, _CLUSTERS, RATIO, DROPOUT)


@register
class ClusterMeans(_Clusters):
    """Two arms of whole clusters compared on a mean."""

    id = "cluster-means"
    title = "Means of two arms of clusters"
    summary = "Is the mean of a measured outcome different where whole clusters are allocated to two arms?"
    evidence = evidence.CLUSTER_MEANS
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
        "multilevel",
    )
    buys = "Whole groups can be allocated where people within them cannot be told apart."
    assumptions = (
        DIFFERENCE,
        replace(
            SD,
            required=True,
            help="The total SD: how far people scatter, within and between clusters together. " + SD.help,
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        Assumption(
            "distribution",
            "Test",
            "choice",
            "Error rates",
            "t: allows for the variance being estimated from so many clusters. z: takes it as known, as is done with "
            "strata of cluster sizes.",
            choices=(Choice("t", "t", "t test of clusters"), Choice("z", "z", "z test of clusters")),
        ),
        *_SAMPLE,
        *_OF_CLUSTERS,
    )
    ways = ((Way("one difference", ("difference",)),), _SIZES_OF_CLUSTERS)
    starting = {"difference": 5.0, "sd": 10.0, "icc": 0.05, "cluster_size": 20.0}
    derived = (Derived("Effect", "d", "d"), *_DERIVED)
    data_assumptions = (
        "Clusters are independent of each other, and each is wholly in one arm.",
        "People of one cluster are equally alike in all clusters; the means of clusters are roughly normal.",
    )
    approximation = (
        "Exact for clusters of equal size and the t test. Unequal sizes make it an approximation (simulated "
        "with 15 clusters per arm and a variation of 0.6: 0.671 where the formula says 0.646); z takes the "
        "variance as known."
    )

    def default_choice(self, name: str, values: Values) -> Any:
        """See `Design.default_choice`: z with strata, t otherwise."""
        if name == "distribution":
            return "z" if "strata" in values else "t"
        return super().default_choice(name, values)

    def plan(self, values: Values, find: str) -> ClusterMeansPlan:
        """See `Design.plan`."""
        distribution = values.get("distribution", self.default_choice("distribution", values))
        if distribution == "t" and "strata" in values:
            raise RequestError("distribution", "With strata of cluster sizes the test is z, not t.")
        clustering = self.clustering(values, find)
        return ClusterMeansPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides=values["sides"],
            effect=0.0 if find == "effect" else values["difference"],
            counting=self.counting(values, clustering),
            sd=values["sd"],
            clustering=clustering,
            distribution=distribution,
        )

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        effect, looking = difference_of_means(values, find), looking_for(values, *OF_VALUES)
        return Saying(
            self.size_words(values, find), f"{effect} (SD {{sd}}, d {{d}})", "a {sides} {distribution}", looking
        )

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the comparison of two arms of whole clusters: the variance of independent "
            "participants is multiplied by the design effect 1 + ICC · (M − 1), where M is the cluster size, enlarged "
            "for the variation of sizes. "
            + (
                "The statistic follows a noncentral t distribution with the number of clusters less 2 degrees of "
                "freedom."
                if values.get("distribution", self.default_choice("distribution", values)) == "t"
                else "The statistic is taken to be normal."
            )
        )


@register
class ClusterProportions(_Clusters):
    """Two arms of whole clusters compared on a proportion."""

    id = "cluster-proportions"
    title = "Proportions of two arms of clusters"
    summary = "Is the share of people with a yes different where whole clusters are allocated to two arms?"
    evidence = evidence.CLUSTER_SHARES
    takes = {
        "measured": ("yes-no",),
        "compared": ("two",),
        "same": ("once",),
        "whole": ("yes",),
    }
    known_as = (
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
        "percentages",
    )
    buys = "Whole groups can be allocated where people within them cannot be told apart."
    assumptions = (
        *two_proportions_effect(),
        DIRECTION,
        ALPHA,
        SIDES,
        Assumption(
            "method",
            "Method",
            "choice",
            "Error rates",
            "Pooled: one variance for both arms under the null hypothesis. Unpooled: each arm its own.",
            default="pooled",
            choices=(POOLED, UNPOOLED),
        ),
        *_SAMPLE,
        *_OF_CLUSTERS,
    )
    ways = ((Way("a proportion for each arm", ("proportion2",)),), _SIZES_OF_CLUSTERS)
    starting = {"proportion1": 0.3, "proportion2": 0.4, "icc": 0.02, "cluster_size": 25.0}
    derived = (
        Derived("Effect", "risk_difference", "difference"),
        Derived("Effect", "risk_ratio", "risk ratio"),
        Derived("Effect", "odds_ratio", "odds ratio"),
        *_DERIVED[:1],
    )
    data_assumptions = (
        "Clusters are independent of each other, and each is wholly in one arm.",
        "People of one cluster are equally alike in all clusters, and each has one yes or no.",
    )
    approximation = (
        "A normal approximation with the design effect taken as known (simulated with 22 clusters of 25 per "
        "arm: 0.825 where the formula says 0.817); too hopeful with few clusters."
    )

    def plan(self, values: Values, find: str) -> ClusterProportionsPlan:
        """See `Design.plan`."""
        no_difference(values, find)
        clustering = self.clustering(values, find)
        return ClusterProportionsPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides=values["sides"],
            effect=0.0 if find == "effect" else values["proportion2"] - values["proportion1"],
            counting=self.counting(values, clustering),
            proportion1=values["proportion1"],
            method=values["method"],
            clustering=clustering,
        )

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        sizes, looking = self.size_words(values, find), looking_for(values, *OF_SHARES)
        return Saying(sizes, difference_of_shares(values, find), "a {sides} {method}", looking)

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            f"{METHOD_TEXTS[values['method']]} Both variances are multiplied by the design effect 1 + ICC · (M − 1), "
            "where M is the cluster size, enlarged for the variation of sizes."
        )
