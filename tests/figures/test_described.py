"""Pictures for those who do not see them: told in words, and read step by step."""

from __future__ import annotations

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer
from ragwort.figures.described import described
from ragwort.figures.pictures import Picture, Scene, picture_of
from ragwort.figures.shown.shown import Pointer
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of


def shown(picture: str, study: Study | None = None, aim: str = "reaction") -> Picture:
    """A picture of an aim of the demo."""
    study = study or sampler_study()
    outcome = outcome_of(study.aim(aim))
    assert isinstance(outcome, Answer)
    return picture_of(picture, Scene(study.aim(aim), outcome, study.limit))


def test_a_curve_is_told_with_its_crossings() -> None:
    """Shape, ends, and where the target is crossed: for the aim near its own size, for each scenario further on."""
    study = edits.put_pin(sampler_study(), "reaction", "Curve", "n", 55).study
    text = described(shown("Curve", study))
    assert text.startswith("Power is 80.1% with 64 per group")
    assert "now rises from 6.15% at 2 to 99.4% at 160, through the target 80% at 63.8." in text
    assert "Cautious SD rises from" in text
    assert "Read at 55 per group: 73.8%." in text


def test_an_exact_test_goes_up_and_down() -> None:
    """Each turn that the eye would see is not told one by one."""
    text = described(shown("Curve", aim="awake"))
    assert "goes up and down and rises at last" in text


def test_a_map_is_told_line_by_line() -> None:
    """From where to where each goes, and which of them is the target's."""
    text = described(shown("Map"))
    assert "Across difference, ms, up staff per group, analysed." in text
    assert "The line of 80%, the target, goes from 7." in text
    assert "Power 90% lies on it." in text


@pytest.mark.parametrize("picture", ["Curve", "Split", "Spread"])
def test_a_walk_reads_what_the_pointer_reads(picture: str) -> None:
    """From left to right, each place in words that hovering there has, too."""
    made = shown(picture)
    walk = made.walk()
    assert len(walk) >= 40
    assert [reading.x for reading in walk] == sorted(reading.x for reading in walk)
    for reading in walk[5:30:7]:
        pointed = made.reading(Pointer(reading.x, reading.y, (0.01, 0.01)))
        assert pointed is not None
        assert pointed.words.split(", ")[-1].split(": ")[-1] in reading.words


def test_a_walk_says_why_nothing_is_found() -> None:
    """Where no sample size is enough, as words in its place."""
    study = edits.choose_for_picture(sampler_study(), "reaction", "Curve", {"y": "n", "x": "difference"}).study
    study = edits.set_ends(study, "reaction", "Curve", {"x_low": 0.0, "x_high": 20.0}, {"x": "difference"}).study
    walk = shown("Curve", study).walk()
    assert "there is nothing to detect" in walk[0].words
    assert walk[-1].words.replace("\u00a0", " ") == "20 ms: 54 staff"
