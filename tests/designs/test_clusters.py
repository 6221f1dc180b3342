"""Whole clusters: sizes add up, unknowns of their own, and what cannot be."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from ragwort.designs import Answer, NotAttainable, RequestError, answer_request, design_named, settle
from ragwort.designs.sizes import Kinds

MEANS = {"difference": 3, "sd": 10, "icc": 0.05, "cluster_size": 20}
SHARES = {"proportion1": 0.3, "proportion2": 0.4, "icc": 0.02, "cluster_size": 25}
STRATA = [
    {"share": 0.25, "mean_size": 8, "sd_size": 2.5},
    {"share": 0.35, "mean_size": 25, "sd_size": 10},
    {"share": 0.4, "mean_size": 60, "sd_size": 0},
]
BOTH = pytest.mark.parametrize(("design", "given"), [("cluster-means", MEANS), ("cluster-proportions", SHARES)])


def find(unknown: str, design: str, given: dict[str, Any], **more: Any) -> Answer:
    """One answer; an assumption given as None is left out."""
    values = {name: value for name, value in {**given, **more}.items() if value is not None}
    return settle(design_named(design), unknown, values)


@BOTH
def test_without_likeness_in_clusters_they_do_not_matter(design: str, given: dict[str, Any]) -> None:
    """With an ICC of 0 the design effect is 1, and clusters of one person are people."""
    assert find("power", design, given, icc=0, clusters=12).details["design_effect"] == 1
    alone = {"cluster_size": 1, "clusters": 200}
    assert find("power", design, given, **alone).power == find("power", design, given, icc=0, **alone).power


@BOTH
def test_largest_icc_and_smallest_size_are_at_the_edge(design: str, given: dict[str, Any]) -> None:
    """A little more likeness, or one person less in each cluster, and the power is missed."""
    sized = find("n", design, given)
    clusters = sized.n_more["clusters"][0]
    icc = float(find("icc", design, given, icc=None, clusters=clusters).answer)
    assert icc >= given["icc"]
    assert find("power", design, given, icc=icc, clusters=clusters).power >= 0.8
    assert find("power", design, given, icc=icc * (1 + 1e-6), clusters=clusters).power < 0.8
    size = int(find("cluster_size", design, given, cluster_size=None, clusters=clusters).answer)
    assert size <= given["cluster_size"]
    assert find("power", design, given, cluster_size=size, clusters=clusters).power >= 0.8
    assert find("power", design, given, cluster_size=size - 1, clusters=clusters).power < 0.8


@BOTH
@pytest.mark.parametrize("ratio", [1, 0.4, 2.5])
def test_strata_add_up(design: str, given: dict[str, Any], ratio: float) -> None:
    """Participants and clusters of the strata are those of the arms; power at the real sizes is the target."""
    answer = find("n", design, given, cluster_size=None, strata=STRATA, ratio=ratio, sizes="exact")
    strata = answer.n_more["strata"]
    arms = [float(size) for size in answer.sizes()[:, 0]]
    for arm in (0, 1):
        assert math.fsum(s["participants"][arm] for s in strata) == pytest.approx(arms[arm], rel=1e-12)
        assert answer.n_more["clusters"][arm] == math.ceil(math.fsum(s["clusters"][arm] for s in strata) - 1e-9)
    assert arms[1] == pytest.approx(ratio * arms[0], rel=1e-12)
    assert answer.power == pytest.approx(0.8, abs=1e-9)
    assert answer.total == math.ceil(sum(arms) - 1e-9)
    assert any("not rounded" in note for note in answer.notes)


@BOTH
def test_one_stratum_is_one_size(design: str, given: dict[str, Any]) -> None:
    """One stratum with the same size and scatter has the power of the one-size formula at the same people."""
    one = [{"share": 1, "mean_size": 20, "sd_size": 10}]
    for distribution, sizes in (("t", "whole"), ("z", "whole"), ("z", "exact")):
        more = {"distribution": distribution, "clusters": 15}
        strata = find("power", design, given, cluster_size=None, strata=one, sizes=sizes, **more)
        sized = find("power", design, given, cluster_size=20, cluster_size_cv=0.5, **more)
        assert strata.power == pytest.approx(sized.power, abs=1e-12)
        assert strata.total == sized.total == 600
        assert strata.n_more["clusters"] == [15, 15]


@BOTH
@pytest.mark.parametrize("ratio", [1, 0.4, 2.5])
@pytest.mark.parametrize("share", [0.4, 0.05, 0.9])
def test_whole_strata_are_the_smallest(design: str, given: dict[str, Any], ratio: float, share: float) -> None:
    """Every smaller number of clusters, looked at one by one by hand, falls short; people are those of the clusters."""
    strata = [{"share": share, "mean_size": 7.5, "sd_size": 2}, {"share": 1 - share, "mean_size": 31, "sd_size": 9}]
    given = {**given, "cluster_size": None, "strata": strata, "ratio": ratio}
    found = find("n", design, given)
    clusters = found.n_more["clusters"][0]
    powers = [find("power", design, given, clusters=number).power for number in range(2, clusters + 1)]
    assert [power >= 0.8 for power in powers] == [False] * (clusters - 2) + [True]
    assert powers[-1] == found.power
    for arm, numbers in enumerate(found.details["strata"]):
        assert sum(numbers) == found.n_more["clusters"][arm]
        assert found.groups[arm] == math.floor(7.5 * numbers[0] + 31 * numbers[1] + 0.5)
    assert found.total == sum(found.groups)


def test_clusters_of_strata_by_largest_remainder() -> None:
    """By hand: of 7 clusters, shares 0.5, 0.3, 0.2 make 3.5, 2.1, 1.4, so the first kind has the one that is left."""
    kinds = Kinds((0.5, 0.3, 0.2), (10.0, 20.0, 40.0))
    assert kinds.numbers(np.array([7.0])).tolist() == [[4, 2, 1]]
    assert kinds.people(np.array([7.0])).tolist() == [120]
    thirds = Kinds((1 / 3, 1 / 3, 1 / 3), (5.0, 5.0, 5.0))
    assert thirds.numbers(np.array([4.0, 5.0])).tolist() == [[2, 1, 1], [2, 2, 1]]


def test_as_many_people_in_other_clusters_are_told_apart() -> None:
    """Where a large cluster gives way to small ones, two numbers of clusters can have as many people."""
    kinds = Kinds((0.46, 0.51, 0.03), (10.0, 10.0, 20.0))
    clusters = np.arange(2.0, 3000.0)
    people = kinds.people(clusters)
    assert (np.diff(people) == 0).any()
    assert kinds.clusters(kinds.sized(clusters)).tolist() == clusters.tolist()


@BOTH
def test_few_clusters_by_z_are_said_to_be_too_hopeful(design: str, given: dict[str, Any]) -> None:
    """By how many points, below twenty clusters per arm; and t is what is taken unless z is chosen."""
    z, t = (find("power", design, given, clusters=6, distribution=each) for each in ("z", "t"))
    assert find("power", design, given, clusters=6).power == t.power
    note = next(note for note in z.notes if "too hopeful" in note)
    assert f"{100 * (z.power - t.power):.1f} percentage points less" in note
    assert not any("too hopeful" in note for note in find("power", design, given, clusters=20, distribution="z").notes)


def test_five_wards_of_eighteen() -> None:
    """45% against 20%, ICC 0.03: z says 83.9%, t 72.9%."""
    given = {"proportion1": 0.45, "proportion2": 0.2, "icc": 0.03, "cluster_size": 18, "clusters": 5}
    assert find("power", "cluster-proportions", given).power == pytest.approx(0.7293, abs=5e-5)
    assert find("power", "cluster-proportions", given, distribution="z").power == pytest.approx(0.8389, abs=5e-5)


WARDS = {"proportion1": 0.45, "proportion2": 0.2, "icc": 0.03, "cluster_size": 18}


@pytest.mark.parametrize(
    ("more", "enrol", "clusters"),
    [
        ({"dropout": 0.1}, (120, 120), [6, 6]),  # 108 / 0.9: 20 in each of 6 wards
        ({"dropout": 0.15}, (128, 128), [6, 6]),  # 108 / 0.85 = 127.06, rounded up once: not 6 times 22
        ({"dropout": 0.1, "cluster_loss": 0.1}, (140, 140), [7, 7]),  # 6 / 0.9 = 6.67 wards
        ({"cluster_loss": 0.25}, (144, 144), [8, 8]),
        ({"dropout": 0.1, "dropout_made_up_by": "clusters"}, (126, 126), [7, 7]),  # of 18 each
        ({"dropout": 0.1, "cluster_loss": 0.1, "dropout_made_up_by": "clusters"}, (144, 144), [8, 8]),  # 6 / 0.81 = 7.4
        ({"dropout": 0.1, "ratio": 2}, (100, 200), [5, 10]),
    ],
)
def test_what_is_recruited_by_hand(more: dict[str, Any], enrol: tuple[int, int], clusters: list[int]) -> None:
    """People within clusters, more clusters, and clusters lost as a whole; what is analysed stays the same."""
    found = find("n", "cluster-proportions", WARDS, **more)
    assert found.enrol == enrol
    assert found.n_more["enrol_clusters"] == clusters
    without = find("n", "cluster-proportions", WARDS, ratio=more.get("ratio", 1))
    assert (found.groups, found.power) == (without.groups, without.power)


def test_lost_clusters_of_strata_are_whole_in_each_stratum() -> None:
    """The clusters to recruit are shared out among the strata as those analysed are, and add up."""
    found = find("n", "cluster-means", MEANS, cluster_size=None, strata=STRATA, cluster_loss=0.1)
    for arm in (0, 1):
        assert sum(found.n_more["enrol_strata"][arm]) == found.n_more["enrol_clusters"][arm]
        assert found.n_more["enrol_clusters"][arm] == math.ceil(found.n_more["clusters"][arm] / 0.9 - 1e-9)


@pytest.mark.parametrize(
    ("more", "says"),
    [
        (
            {"dropout": 0.1, "cluster_capacity": 19},
            "20 would have to be recruited in each of the clusters, which have 19.",
        ),
        ({"dropout": 0.1, "cluster_capacity": 20}, ""),
        ({"dropout": 0.1, "cluster_capacity": 19, "dropout_made_up_by": "clusters"}, ""),
        ({"cluster_capacity": 12}, "18 would have to be recruited in each of the clusters, which have 12."),
    ],
)
def test_a_cluster_that_has_too_few_people_says_so(more: dict[str, Any], says: str) -> None:
    """And that more clusters can make up for dropout, where that would do."""
    notes = [note for note in find("n", "cluster-proportions", WARDS, **more).notes if "would have to" in note]
    assert [note.startswith(says) for note in notes] == ([True] if says else [])
    found = find("cluster_size", "cluster-proportions", WARDS, cluster_size=None, clusters=6, cluster_capacity=10)
    assert any("17 would have to be recruited" in note for note in found.notes)


def test_a_stratum_without_a_cluster_is_said() -> None:
    """Two people in a hundred, in clusters of ten: of four clusters none is of that kind."""
    strata = [{"share": 0.02, "mean_size": 10, "sd_size": 1}, {"share": 0.98, "mean_size": 30, "sd_size": 3}]
    found = find("power", "cluster-means", MEANS, cluster_size=None, strata=strata, clusters=4)
    assert found.details["strata"] == [[0, 4], [0, 4]]
    assert sum("No cluster of stratum 1" in note for note in found.notes) == 2


def test_a_mean_size_that_is_not_whole_gives_whole_people() -> None:
    """Seven clusters of 12.5 are 87.5 people: 88 are analysed."""
    answer = find("power", "cluster-means", MEANS, cluster_size=12.5, clusters=7)
    assert answer.groups == (88, 88)
    assert answer.total == 175
    assert answer.details["df"] == 12


def test_a_million_clusters() -> None:
    """Large numbers are computed with, not refused."""
    answer = find("power", "cluster-means", MEANS, difference=0.01, clusters=10**6)
    assert 0.05 < answer.power < 1
    assert answer.total == 40_000_000


def test_a_total_has_no_say_while_the_cluster_size_is_found() -> None:
    """It is ignored with a note; without clusters, they are asked for."""
    found = find("cluster_size", "cluster-means", MEANS, cluster_size=None, clusters=20, n=999)
    assert found.answer == 17
    assert "n was given but is not used" in found.notes[0]
    with pytest.raises(RequestError) as caught:
        find("cluster_size", "cluster-means", MEANS, cluster_size=None, n=400)
    assert caught.value.field == "clusters"


@pytest.mark.parametrize(
    ("find_what", "more", "field", "says"),
    [
        ("n", {"icc": 1.2}, "icc", "from 0 to 1"),
        ("n", {"icc": None}, "icc", "is missing"),
        ("n", {"strata": STRATA}, "strata", "not both"),
        ("n", {"cluster_size": None, "strata": STRATA[:2]}, "strata", "0.4 too little. Rescaled they would be 0.4167"),
        (
            "n",
            {"cluster_size": None, "strata": [{"share": 1, "mean_size": 0.5, "sd_size": 1}]},
            "strata",
            "1 or more",
        ),
        ("n", {"cluster_size": 1e-300}, "cluster_size", "from 1 to"),
        ("n", {"cluster_size": None, "strata": [{"share": 0, "mean_size": 5, "sd_size": 1}]}, "strata", "above 0"),
        ("n", {"cluster_size": None, "strata": [{"share": 1, "size": 4}]}, "strata", "must be like"),
        ("n", {"cluster_size": None, "strata": [{"share": 1, "mean_size": "8", "sd_size": 1}]}, "strata", "a number"),
        ("n", {"cluster_size": None, "strata": STRATA, "distribution": "t", "sizes": "exact"}, "distribution", "is z"),
        ("power", {"cluster_size": None, "strata": STRATA, "n": 600}, "n", "whole clusters of arm 1"),
        ("power", {"n": 730}, "n", "whole clusters of 20"),
        ("power", {"n": 60}, "n", "two in each arm"),
        ("power", {"n": 700, "clusters": 18}, "n", "make it 720"),
        ("power", {"clusters": 1}, "clusters", "cannot be told from"),
        ("icc", {"icc": None, "clusters": 4}, "icc", "Even with an intracluster correlation of 0"),
        ("cluster_size", {"cluster_size": None, "clusters": 4}, "cluster_size", "More clusters are needed"),
        ("cluster_size", {"cluster_size": None, "clusters": 4, "difference": 0}, "cluster_size", "nothing to detect"),
        ("cluster_size", {"cluster_size": None, "strata": STRATA, "clusters": 9}, "strata", "leave out the strata"),
    ],
)
def test_what_cannot_be_is_said(find_what: str, more: dict[str, Any], field: str, says: str) -> None:
    """The assumption concerned, what is wrong, and what would do."""
    with pytest.raises(RequestError) as caught:
        find(find_what, "cluster-means", MEANS, **more)
    assert caught.value.field == field
    assert says in caught.value.message


@pytest.mark.parametrize("design", ["cluster-means", "cluster-proportions"])
def test_a_study_of_more_people_than_are_looked_at_is_refused(design: str) -> None:
    """A vast ratio of arms, in strata and in clusters of one size: said, never a number that cannot be held."""
    strata = [{"share": 1.0, "mean_size": 20, "sd_size": 5}]
    effect = {"difference": 2, "sd": 4} if design == "cluster-means" else {"proportion1": 0.4, "proportion2": 0.2}
    for sizes in ({"strata": strata}, {"cluster_size": 20}):
        for ratio in (1e8, 1e18, 1e300):
            with pytest.raises(NotAttainable, match=r"more than 10.000.000 in all|No sample size up to"):
                settle(design_named(design), "n", {**effect, "icc": 0.03, "ratio": ratio, **sizes})


def test_no_answer_is_a_study_of_nobody() -> None:
    """However large the effect: sizes that are not rounded become one participant and one cluster at least."""
    strata = [{"share": 0.5, "mean_size": 8, "sd_size": 2}, {"share": 0.5, "mean_size": 18, "sd_size": 4}]
    values = {"difference": 5, "sd": 1e-12, "icc": 0.03, "strata": strata, "sizes": "exact"}
    answer = answer_request({"design": "cluster-means", "find": "n", "assumptions": values})
    assert answer["n"]["groups"] == [1, 1]
    assert answer["n"]["clusters"] == [1, 1]
