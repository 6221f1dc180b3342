"""What was kept of a rehearsal, in the report."""

from __future__ import annotations

from ragwort.demo import sampler_study
from ragwort.rehearsal import rehearse, stage
from ragwort.rehearsal.edits import keep
from ragwort.rehearsal.keeping import kept_of
from ragwort.rehearsal.of_aim import planned_of
from ragwort.rehearsal.worlds import departing, worlds_of
from ragwort.report import report_bytes
from ragwort.study.document.model import Study
from ragwort.study.edits import type_value


def kept_study() -> Study:
    """The demo study with its first aim rehearsed and kept."""
    study = sampler_study()
    aim = study.aims[0]
    of = planned_of(aim)
    done = [(world, rehearse(stage(of, departing(world, of)), 1000)) for world in worlds_of(aim, of)]
    return keep(study, aim.id, kept_of(aim, of, done)).study


def test_the_report_has_the_worlds_and_the_picture() -> None:
    """Each world with its power and the formula's; the picture of the estimates; the verdict."""
    html = report_bytes(kept_study(), "html").decode().replace("\u00a0", " ").replace("\u2009", " ")
    assert "1000 trials were simulated in each scenario (seed 1" in html
    for words in (
        "Skewed outcomes",
        "SDs 1.5 times apart",
        "No effect at all",
        "α 5%",
        "The formula and the rehearsal",
    ):
        assert words in html
    assert "estimated difference, ms" in html
    assert "The aim has changed since" not in html
    assert "Rehearsal" not in report_bytes(sampler_study(), "html").decode()


def test_the_report_says_when_the_aim_has_changed_since() -> None:
    """And shows no picture of something else."""
    study = type_value(kept_study(), "reaction", "sd", "26").study
    html = report_bytes(study, "html").decode()
    assert "The aim has changed since it was rehearsed" in html
    assert "estimated difference, ms" not in html
