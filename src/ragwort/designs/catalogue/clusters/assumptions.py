"""What both designs ask for: how participants come in clusters, how many of them, and what is lost on the way."""

from __future__ import annotations

from ragwort.designs.assumption import DROPOUT, POWER, TOTAL, Assumption, Choice, Field
from ragwort.designs.sampling import RATIO

_ICC = Assumption(
    "icc",
    "Intracluster correlation",
    "number",
    "Structure",
    "How much more alike two people of one cluster are than two of different clusters: the share of all variance that "
    "lies between clusters. Take it from a study with similar clusters and the same outcome; if it is really larger, "
    "more people in the same clusters hardly help.",
    symbol="ρ",
    low=0,
    high=1,
    required=True,
    usual="0.01 to 0.05 for outcomes of patients by hospital or practice (Campbell, Fayers and Grimshaw, Clinical "
    "Trials 2005; 2: 99-107)",
    justified=True,
)
_CLUSTER_SIZE = Assumption(
    "cluster_size",
    "Participants per cluster",
    "number",
    "Structure",
    "How many people of each cluster are analysed; the mean where clusters differ.",
    words="{many} per cluster",
    symbol="m",
    low=1,
    high=10**7,
)
_CV = Assumption(
    "cluster_size_cv",
    "CV of cluster sizes",
    "number",
    "Structure",
    "The coefficient of variation: the SD of the cluster sizes divided by their mean, 0 where all are equally large. "
    "Uneven clusters tell less for the same number of people.",
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
        Field("share", "share of people", "share"),
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
    "How many whole clusters are allocated to the first arm; the second has them in the ratio of the arms, rounded up.",
    words="{clusters}, {group1}",
    low=2,
    high=10**7,
)


_SIZES = Assumption(
    "sizes",
    "Sizes of strata",
    "choice",
    "Sample",
    "Whole: clusters of each stratum are whole, and power is that of the people they have. Exact: sizes are real "
    "numbers that give exactly the power asked for, rounded up afterwards, as published tables have them.",
    default="whole",
    choices=(Choice("whole", "whole clusters"), Choice("exact", "real numbers, not rounded")),
    in_ledger=False,
)
_LOSS = Assumption(
    "cluster_loss",
    "Loss of whole clusters",
    "share",
    "Sample",
    "The share of the clusters recruited that drop out as a whole: a ward that closes, a practice that withdraws. More "
    "clusters are recruited, so that as many as planned remain.",
    low=0,
    high=1,
    open_high=True,
    default=0.0,
)
_MADE_UP_BY = Assumption(
    "dropout_made_up_by",
    "Dropout is made up by",
    "choice",
    "Sample",
    "More people in each cluster is what dropout within clusters usually takes. Where clusters have no more people, "
    "more clusters of the same size are recruited instead.",
    default="people",
    choices=(Choice("people", "more people per cluster"), Choice("clusters", "more clusters")),
)
_CAPACITY = Assumption(
    "cluster_capacity",
    "People available per cluster",
    "count",
    "Sample",
    "How many people a cluster has that could be recruited, the smaller ones counting. It is said where more would "
    "have to be recruited in each.",
    low=1,
    high=10**7,
    decided=True,
)
FEW_CLUSTERS = 20  # in an arm, under which the normal distribution is too hopeful


def distribution(t_words: str, z_words: str) -> Assumption:
    """Which distribution the test statistic has, with the words of the test of this outcome."""
    return Assumption(
        "distribution",
        "Test",
        "choice",
        "Error rates",
        "t: allows for the variance between clusters being estimated from so many of them. z: takes it as known, which "
        f"is too hopeful with fewer than {FEW_CLUSTERS} clusters per arm.",
        choices=(Choice("t", "t", t_words), Choice("z", "z", z_words)),
    )


OF_CLUSTERS = (_ICC, _CLUSTER_SIZE, _CV, _STRATA)
SAMPLE = (POWER, TOTAL, _CLUSTERS, RATIO, _SIZES, DROPOUT, _MADE_UP_BY, _CAPACITY, _LOSS)
