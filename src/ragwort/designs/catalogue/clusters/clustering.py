"""How participants come in clusters: of one size, or in strata of sizes."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ragwort.base.lazily import np
from ragwort.designs.agreement import is_whole
from ragwort.designs.refusals import RequestError, as_number, plain_number, said
from ragwort.designs.sizes import Kinds, Sizes, rounded_up
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated.clusters import cluster_sizes


@dataclass(frozen=True)
class Stratum:
    """Clusters of one kind of size; `share` of all participants."""

    share: float
    mean_size: float
    sd_size: float


@dataclass(frozen=True)
class Arms:
    """Arms of clusters at group sizes (groups x anything), each of them an array: people, clusters, design effects."""

    people: tuple[Any, ...]
    clusters: tuple[Any, ...]
    effects: tuple[Any, ...]

    @property
    def df(self) -> Any:
        """Degrees of freedom of a test on cluster means: clusters less one for each arm."""
        return sum(self.clusters) - len(self.clusters)

    @property
    def inverse(self) -> Any:
        """D1/n1 + D2/n2: the variance of a difference of means, for people that vary by 1."""
        return sum(effect / people for effect, people in zip(self.effects, self.people, strict=True))


@dataclass(frozen=True)
class Clustering:
    """How participants come in clusters: of one size, or in strata of sizes.

    With `whole`, strata have whole clusters, and the arms their own mixture of them; otherwise sizes are real numbers.
    """

    icc: Number
    size: Number = 0.0
    cv: float = 0.0
    strata: tuple[Stratum, ...] = ()
    whole: bool = True

    @property
    def counts_clusters(self) -> bool:
        """Whether strata have whole clusters."""
        return self.whole and bool(self.strata)

    @property
    def kinds(self) -> Kinds:
        """The strata as kinds of clusters."""
        each = self.clusters_per_participant
        means = tuple(s.mean_size for s in self.strata)
        return Kinds(tuple(s.share / s.mean_size / each for s in self.strata), means)

    def arms(self, groups: Sizes) -> Arms:
        """What arms of these sizes are made of."""
        if not self.counts_clusters:
            clusters = tuple(np.round(arm * self.clusters_per_participant, 6) for arm in groups)
            return Arms(tuple(groups), clusters, (self.design_effect,) * len(groups))
        kinds = self.kinds
        number = kinds.clusters(groups)
        members = kinds.numbers(number) * np.array(kinds.means)
        people = members.sum(axis=-1)
        scattered = np.array([s.mean_size * (1 + (s.sd_size / s.mean_size) ** 2) for s in self.strata])
        effective = (members * scattered).sum(axis=-1) / people
        effects = tuple(1 + self.icc * (arm - 1) for arm in effective)
        return Arms(tuple(people), tuple(number), effects)

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
        if self.counts_clusters:
            return int(self.kinds.clusters(np.array([participants]))[0])
        return rounded_up(participants * self.clusters_per_participant)

    def numbers(self, participants: float) -> list[int]:
        """Whole clusters of an arm, stratum by stratum."""
        if self.counts_clusters:
            return [int(number) for number in self.kinds.numbers(self.kinds.clusters(np.array(participants)))]
        return [max(round(participants * s.share / s.mean_size), 1) for s in self.strata]

    def drawn(self, rng: np.random.Generator, count: int, participants: float, more: float = 1.0) -> Any:
        """Cluster sizes of one arm in `count` studies (studies x clusters), each `more` times as large as planned."""
        if not self.strata:
            clusters = round(participants / float(self.size))
            return cluster_sizes(rng, count, clusters, more * float(self.size), self.cv)
        parts = [
            cluster_sizes(rng, count, number, more * s.mean_size, s.sd_size / s.mean_size)
            for number, s in zip(self.numbers(participants), self.strata, strict=True)
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


def checked_strata(records: Any) -> tuple[Stratum, ...]:
    """The strata, read and adding up. Raises `RequestError`."""
    strata = tuple(_checked_stratum(record) for record in records)
    total = math.fsum(stratum.share for stratum in strata)
    if not is_whole(total):
        fair = ", ".join(f"{stratum.share / total:.4g}" for stratum in strata)
        raise RequestError(
            "strata",
            f"The shares of the strata add up to {plain_number(total)}, not 1: {plain_number(abs(total - 1))} too "
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
        least = {"share": "above 0", "mean_size": "1 or more", "sd_size": "0 or more"}[name]
        if value < (name == "mean_size") or (value == 0 and name == "share"):
            raise RequestError("strata", f"{name} of a stratum must be {least}, not {plain_number(value)}.")
    return Stratum(*(float(record[name]) for name in names))
