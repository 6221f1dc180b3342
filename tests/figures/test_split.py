"""The picture Split: its places are the core's answers, and its best is the best."""

from __future__ import annotations

import math

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, all_designs, answer_request
from ragwort.figures.pictures import Scene, picture_of, pictures_for
from ragwort.figures.shown.shown import Pointer
from ragwort.figures.shown.split import Split, own_ratio, ratio_at
from ragwort.figures.steering.sentences import SENTENCES, plain
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Steer
from ragwort.study.results.outcome import outcome_of


def drawn(aim: Aim, steer: Steer | None = None) -> Split:
    """The picture of an aim."""
    aim = aim.changed(pictures={"Split": steer or Steer()})
    outcome = outcome_of(aim)
    assert isinstance(outcome, Answer)
    made = picture_of("Split", Scene(aim, outcome))
    assert isinstance(made, Split)
    return made


def reaction() -> Aim:
    """The demo's first aim: 64 + 64, of whom 10% are lost."""
    return sampler_study().aim("reaction")


def test_sizes_at_a_fixed_power() -> None:
    """Each place is what `compute` enrols at that ratio; nothing is smaller than the best."""
    made = drawn(reaction())
    for part in made.parts[::8]:
        given = {"difference": 12, "sd": 24, "power": 0.8, "dropout": 0.1, "ratio": ratio_at(part.x)}
        answer = answer_request({"design": "two-means", "find": "n", "assumptions": given})
        assert part.y == sum(answer["n"]["enrol"])
        assert part.groups == tuple(answer["n"]["enrol"])
    assert made.best is not None
    assert made.best.y == min(part.y for part in made.parts) <= made.point[1] == 144
    assert made.x_label == "brighter : usual lighting"
    assert made.says == "With 80% power: 144 staff (72 + 72); fewest: 143 staff (69 + 74)."


def test_power_at_a_fixed_total() -> None:
    """However they are split, as many as there are; with one SD nothing beats halves."""
    made = drawn(reaction(), Steer(y="power"))
    for part in made.parts[::10]:
        given = {"difference": 12, "sd": 24, "n": 128, "ratio": ratio_at(part.x)}
        answer = answer_request({"design": "two-means", "find": "power", "assumptions": given})
        assert part.y == pytest.approx(100 * answer["power"])
    assert made.best is not None
    assert made.best.groups == (72, 72)
    assert made.point[1] == pytest.approx(80.146, abs=0.001)


def test_the_cheapest_split_is_near_the_root_of_the_costs() -> None:
    """Cochran (Sampling Techniques, 1977, section 5.5): sizes go as the root of what the other group costs."""
    made = drawn(reaction(), Steer(y="cost", costs={"cost_1": 9.0, "cost_2": 1.0}))
    assert made.best is not None
    assert 2.0**made.best.x == pytest.approx(3, rel=0.1)
    first, second = made.best.groups
    assert made.best.y == 9 * first + second
    assert "cheapest: cost" in made.says


def test_every_design_with_two_groups_has_it() -> None:
    """And no other; what cannot be had at a split says why in its place."""
    for design in all_designs():
        aim = edits.new_aim(design, "Aim")
        answer = outcome_of(aim)
        assert isinstance(answer, Answer)
        has_ratio = design.tested and any(assumption.name == "ratio" for assumption in design.assumptions)
        assert ("Split" in pictures_for(answer)) == has_ratio
        if has_ratio:
            for asked in ("n", "power", "cost"):
                made = drawn(aim, Steer(y=asked))
                assert made.handle is not None
                assert made.best is not None
                assert all(math.isfinite(part.y) or part.words for part in made.parts)
                sentence = SENTENCES["Split"]
                assert plain(sentence.pieces(aim.changed(pictures={"Split": Steer(y=asked)}), answer, made))[-1] == "."


def test_sizes_by_group_have_a_ratio_of_their_own() -> None:
    """The point stands where the given sizes are, not where a ratio that has no say would have it."""
    study = sampler_study()
    study = edits.move_flower(study, "reaction", "power").study
    aim = study.aim("reaction")
    entries = {**aim.entries, "n1": aim.entry("n").given(100), "n2": aim.entry("n").given(50)}
    entries.pop("n")
    aim = aim.changed(entries=entries)
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    assert own_ratio(aim, answer) == 0.5
    assert drawn(aim).point[0] == -1.0


def test_the_nearest_split_is_read() -> None:
    """Within the axis; nothing beside it."""
    made = drawn(reaction())
    reading = made.reading(Pointer(1.01, 150.0, (0.01, 1.0)))
    assert reading is not None
    assert reading.words.replace("\u00a0", " ") == "161 staff (54 + 107)"
    assert made.reading(Pointer(2.5, 150.0, (0.01, 1.0))) is None
