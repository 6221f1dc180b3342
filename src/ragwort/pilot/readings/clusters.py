"""People in clusters."""

from __future__ import annotations

from typing import Any

import numpy as np

from ragwort.pilot.filters import Rows
from ragwort.pilot.parts import Part, measured
from ragwort.pilot.readings.reading import (
    ARMS,
    OUTCOME,
    Choices,
    Numbers,
    Role,
    reading,
)
from ragwort.pilot.table import PilotError
from ragwort.stats.estimates import Clusters, clusters_of
from ragwort.stats.noncentral import Array

CLUSTER = Role("cluster", "Clusters in", "id")


@reading("clusters", "one row a person", OUTCOME, CLUSTER, ARMS)
def _clusters(rows: Rows, c: Choices) -> Numbers:
    found, parts, left_out = clustered(rows, c, rows.numbers(c["outcome"]))
    said = f"{c['outcome']} in {found.count} clusters of {c['cluster']}"
    return Numbers({**cluster_inputs(found), "sd": found.sd}, parts, said, left_out)


def clustered(rows: Rows, c: Choices, values: Array) -> tuple[Clusters, tuple[Part, ...], int]:
    cluster, names = rows.codes(c["cluster"])
    arm, arms = rows.codes(c["group"]) if c.get("group") else (np.zeros(len(values), dtype=np.int64), ("",))
    whole = ~np.isnan(values) & (cluster >= 0) & (arm >= 0)
    if not whole.any():
        raise PilotError(f"No row has both {c['outcome']} and {c['cluster']}.")
    values, cluster, arm = values[whole], cluster[whole], arm[whole]
    of_cluster = np.full(len(names), -1, dtype=np.int64)
    of_cluster[cluster] = arm
    if np.any(of_cluster[cluster] != arm):
        raise PilotError(
            f"Some clusters of {c['cluster']} are in more than one arm of {c['group']}: leave the arms open."
        )
    try:
        found = clusters_of(values, cluster, arm)
    except ValueError as error:
        raise PilotError(f"These data cannot be used: {error}.") from error
    counts = np.bincount(cluster)
    sizes = measured("cluster size", counts[counts > 0].astype(float), "cluster size", True) if found.cv > 0 else None
    by_arm = tuple(measured(arms[at] or c["outcome"], values[arm == at], c["outcome"]) for at in np.unique(arm))
    return found, (*by_arm, *((sizes,) if sizes else ())), int((~whole).sum())


def cluster_inputs(found: Clusters) -> dict[str, Any]:
    return {"icc": found.icc, "cluster_size": found.mean_size, "cluster_size_cv": found.cv}
