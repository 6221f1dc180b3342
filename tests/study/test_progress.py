"""How far along a study is: needed, there, still needed, and what is said of it."""

from __future__ import annotations

from pathlib import Path

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, design_named, settle
from ragwort.report import report_of
from ragwort.report.writers.preview import write_preview
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.files import read_study, write_study
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.progress import Progress, power_now, progress_of


def progress(study: Study, aim_id: str = "reaction") -> Progress:
    """How far along an aim of a study is."""
    aim = study.aim(aim_id)
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    return progress_of(aim, answer)


def with_counts(*counts: int, aim_id: str = "reaction") -> Study:
    """The demo study with people in the groups of an aim."""
    return edits.set_so_far(sampler_study(), aim_id, counts).study


def test_what_each_group_still_needs() -> None:
    """Named groups, dropout on top of what is missing only; enough is enough."""
    found = progress(with_counts(41, 70))
    assert [(stage.name, stage.needed, stage.so_far, stage.more, stage.enrol) for stage in found.stages] == [
        ("brighter", 64, 41, 23, 26),
        ("usual lighting", 64, 70, 0, 0),
    ]
    assert found.stages[1].share == 1
    assert (
        found.says[0]
        == "111 of 128 staff have an outcome so far: 23 more are needed, so recruit 26 to allow for 10% dropout."
    )
    assert "usual lighting does not make up for fewer elsewhere" in found.says[1]
    assert progress(with_counts(64, 64)).says == (
        "128 of 128 staff have an outcome so far: every group has what was planned.",
    )
    assert progress(sampler_study()).more == 128


def test_power_at_the_counts_so_far_is_that_of_the_design() -> None:
    """As if these were the sizes planned; none where a group is too small, where clusters decide, or it takes long."""
    aim = with_counts(41, 38).aim("reaction")
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    alone = settle(design_named("two-means"), "power", {"difference": 12, "sd": 24, "n1": 41, "n2": 38})
    assert power_now(aim, answer, (41, 38)) == pytest.approx(alone.power, abs=1e-12)
    assert power_now(aim, answer, (1, 38)) is None
    for name in ("errors",):
        clustered = sampler_study().aim(name)
        found = outcome_of(clustered)
        assert isinstance(found, Answer)
        assert power_now(clustered, found, (40, 40)) is None


@pytest.mark.parametrize("aim", sampler_study().aims, ids=lambda aim: aim.id)
def test_every_design_has_progress(aim: Aim) -> None:
    """Half of each group: as many more are needed as are missing, whatever the groups are."""
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    half = tuple(size // 2 for size in answer.groups)
    found = progress(with_counts(*half, aim_id=aim.id), aim.id)
    assert found.more == sum(answer.groups) - sum(half)
    assert all(stage.name for stage in found.stages)
    assert len(set(stage.name for stage in found.stages)) == len(found.stages)


def test_people_of_clusters_are_not_all_that_counts() -> None:
    """The clusters of each arm are said beside them."""
    says = progress(with_counts(40, 40, aim_id="errors"), "errors").says
    assert any("from 5 and 5 wards, arm by arm" in line for line in says)
    assert not any("wards" in line for line in progress(with_counts(40, 40)).says)


def test_counts_are_typed_kept_and_printed(tmp_path: Path) -> None:
    """Group by group; empty is nobody; saved; in the report; another design keeps what it has groups for."""
    study = edits.type_so_far(sampler_study(), "reaction", 1, "38").study
    assert study.aim("reaction").so_far.counts == (0, 38)
    study = edits.type_so_far(study, "reaction", 0, " 41 ").study
    write_study(study, tmp_path / "s.ragwort")
    again = read_study(tmp_path / "s.ragwort")
    assert again.aim("reaction").so_far.counts == (41, 38)
    text = write_preview(report_of(again), 600)
    assert "With an outcome so far" in text
    assert "Still needed" in text
    paired = edits.change_design(again, "reaction", design_named("paired-means")).study
    assert [stage.so_far for stage in progress(paired).stages] == [41]
    for text in ("-3", "2.5", "many"):
        kept = edits.type_so_far(study, "reaction", 0, text).study.aim("reaction").so_far
        assert (kept.counts, kept.draft_of("0")) == ((41, 38), text)
        assert kept.first_fault
    cleared = edits.type_so_far(edits.type_so_far(study, "reaction", 0, "").study, "reaction", 1, "0").study
    assert cleared.aim("reaction").so_far is None
