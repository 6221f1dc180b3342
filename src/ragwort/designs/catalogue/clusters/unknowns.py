"""What designs with clusters can find besides: the intracluster correlation and the cluster size."""

from __future__ import annotations

from typing import Any

from ragwort.base.lazily import np
from ragwort.designs.catalogue.clusters.arms import OfClusters
from ragwort.designs.design import Further
from ragwort.designs.refusals import NotAttainable, plain_percent
from ragwort.designs.sizes import LARGEST_TOTAL, ByClusters, Sizes
from ragwort.stats.search import one as search


def largest_icc(plan: OfClusters, groups: Sizes) -> tuple[Sizes, OfClusters]:
    """The largest ICC that still reaches the target. Raises `NotAttainable`."""
    _need_effect(plan, "icc")

    def power(icc: float) -> float:
        return float(plan.with_clustering(icc=icc).power(groups)[0])

    if power(0.0) < plan.target:
        raise NotAttainable(
            "icc",
            f"Even with an intracluster correlation of 0 these clusters have only {plain_percent(power(0.0))} "
            f"power, not {plain_percent(plan.target)}.",
        )
    icc = 1.0 if power(1.0) >= plan.target else search.close_in(power, plan.target, fails=1.0, reaches=0.0)
    return groups, plan.with_clustering(icc=icc)


def smallest_cluster(plan: OfClusters, groups: Sizes) -> tuple[Sizes, OfClusters]:
    """The smallest cluster size that reaches the target. Raises `NotAttainable`."""
    _need_effect(plan, "cluster_size")
    clusters = groups / plan.clustering.size

    def power(sizes: Any) -> Any:
        return plan.with_clustering(size=sizes.astype(float)).power(clusters * sizes)

    highest = max(1, int(LARGEST_TOTAL / float(clusters.sum())))
    found = search.first_step(power, plan.target, 1, highest)
    if found is None:
        most = plain_percent(float(power(np.array([highest]))[0]))
        raise NotAttainable(
            "cluster_size",
            f"No cluster size reaches {plain_percent(plan.target)} power with this many clusters: more people in "
            f"the same clusters bring it to {most} at most. More clusters are needed.",
        )
    counting = ByClusters(plan.counting.ratio, found) if isinstance(plan.counting, ByClusters) else plan.counting
    return clusters * found, plan.with_clustering(size=float(found)).replace(counting=counting)


def _need_effect(plan: OfClusters, find: str) -> None:
    if plan.hopeless:
        raise NotAttainable(find, plan.hopeless)


FURTHER = {
    "icc": Further(
        largest_icc, lambda plan: plan.icc, lambda plan: "an intracluster correlation of 1" if plan.icc >= 1 else ""
    ),
    "cluster_size": Further(
        smallest_cluster,
        lambda plan: int(plan.clustering.size),
        lambda plan: "one participant per cluster" if plan.clustering.size == 1 else "",
    ),
}
