"""How many are recruited so that enough are analysed: people lost from groups, and clusters lost as a whole."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ragwort.designs.sizes.counting import SLACK, rounded_up
from ragwort.stats.noncentral import Number


@dataclass(frozen=True)
class Enrolment:
    """What is lost between recruitment and analysis, and what makes up for it. Shares under 1.

    Everything is rounded up once: clusters to whole clusters, people to whole people of an arm.
    """

    dropout: Number = 0.0  # of the people
    cluster_loss: float = 0.0  # of whole clusters
    by_clusters: bool = False  # whether more clusters make up for dropout, instead of more people in each

    @property
    def needed(self) -> bool:
        """Whether anything is lost."""
        return bool(self.dropout > 0 or self.cluster_loss > 0)

    @property
    def kept(self) -> Number:
        """The share of those recruited that is analysed, before anything is rounded."""
        return (1 - self.dropout) * (1 - self.cluster_loss)

    def largest_within(self, limit: int, groups: int) -> int:
        """The most people in each of so many equal groups of which no more than `limit` are recruited in all.

        As `people` rounds up, n of a group need ceil(n / kept): n is at most kept times the whole people of a group.
        """
        return math.floor(float(self.kept) * (limit // groups) + SLACK)

    def clusters(self, clusters: Sequence[int]) -> tuple[int, ...]:
        """Clusters to recruit, arm by arm, so that as many remain."""
        kept = self.kept if self.by_clusters else 1 - self.cluster_loss
        return tuple(rounded_up(number / float(kept)) for number in clusters)

    def people(self, groups: Sequence[int], clusters: Sequence[int] = ()) -> tuple[int, ...]:
        """Participants to recruit, group by group, so that `groups` remain; empty where nothing is lost."""
        if not self.needed:
            return ()
        more = [new / old for new, old in zip(self.clusters(clusters), clusters, strict=True)] or [1.0] * len(groups)
        within = 1.0 if self.by_clusters else 1 - float(self.dropout)
        return tuple(rounded_up(size * grown / within) for size, grown in zip(groups, more, strict=True))
