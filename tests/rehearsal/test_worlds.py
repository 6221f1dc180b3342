"""The worlds of an aim: the usual ones, the sentence, what can be done to them, what is kept."""

from __future__ import annotations

from typing import Any

import pytest

from ragwort.demo import sampler_study
from ragwort.figures.shown.rehearsal_page import remark
from ragwort.rehearsal import edits, rehearse, stage
from ragwort.rehearsal.keeping import has_changed, kept_of
from ragwort.rehearsal.of_aim import planned_of
from ragwort.rehearsal.records import tally_from_json
from ragwort.rehearsal.sentence import nudged_text, offers, pieces_of, slot_of_rehearsal, typed_text
from ragwort.rehearsal.verdicts import verdict
from ragwort.rehearsal.worlds import PLANNED, chosen_of, departing, title_of, why_not, worlds_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.files import study_from_text, study_text
from ragwort.study.document.model import Study
from ragwort.study.document.pages import World
from ragwort.study.edits import type_value
from ragwort.study.words.sentence import plain_text

DEMO = sampler_study()


def done(study: Study, edit: Any, *what: Any, aim: str = "reaction") -> Study:
    """The study after an edit."""
    made: Study = edit(study, aim, *what).study
    return made


def typed(study: Study, name: str, text: str, aim: str = "reaction") -> Study:
    """The study after a word of its rehearsal was typed."""
    return done(study, edits.type_word, planned_of(study.aim(aim)), name, text, aim=aim)


def chosen(study: Study, aim: str = "reaction") -> World:
    """The world in view."""
    return chosen_of(study.aim(aim), planned_of(study.aim(aim)))


def words(study: Study, aim: str = "reaction") -> str:
    """The sentence of the world in view."""
    own = study.aim(aim)
    return plain_text(pieces_of(own, planned_of(own), chosen(study, aim))).replace("\u00a0", " ").replace("\u2009", " ")


@pytest.mark.parametrize("aim", DEMO.aims, ids=lambda aim: aim.id)
def test_the_usual_worlds_can_be_had(aim: Aim) -> None:
    """Each has its own title and sentence; the one as planned comes first, the one without an effect last."""
    of = planned_of(aim)
    worlds = worlds_of(aim, of)
    titles = [title_of(world, of) for world in worlds]
    assert titles[0] == "As planned"
    assert titles[-1] == "No effect at all"
    assert len(set(titles)) == len(titles)
    assert not any(why_not(world, of) for world in worlds)
    said = {plain_text(pieces_of(aim, of, world)) for world in worlds}
    assert len(said) == len(worlds)
    assert not any("None" in each or "nan" in each for each in said)


def test_what_departs_from_the_plan_is_a_world_of_its_own() -> None:
    """The one as planned stays; keystrokes go on in the new one, which can be removed."""
    study = typed(typed(DEMO, "lost", "1"), "lost", "15%")
    of = planned_of(study.aim("reaction"))
    assert chosen(study).asked == {"lost": 0.15}
    assert worlds_of(study.aim("reaction"), of)[0] == World(id=PLANNED)
    assert "15% lost at random" in words(study)
    study = done(study, edits.choose, of, "related", "high")
    assert chosen(study).asked == {"lost": 0.15, "related": "high"}
    assert "mostly" not in words(typed(study, "lost", "nobody"))
    assert chosen(typed(study, "lost", "nobody")).asked == {}
    gone = done(study, edits.remove_world, of, chosen(study).id)
    assert chosen(gone).id == PLANNED
    assert done(gone, edits.remove_world, of, PLANNED) == gone


def test_words_that_cannot_be_read_are_kept_with_the_reason() -> None:
    """Beside the last that could; in times and seed too."""
    study = typed(typed(DEMO, "apart", "1.5"), "apart", "1.5x")
    assert chosen(study).asked == {"apart": 1.5}
    assert "1.5x" in chosen(study).drafts["apart"].fault
    assert typed_text(study.aim("reaction"), planned_of(study.aim("reaction")), chosen(study), "apart") == "1.5x"
    assert "not a number" in why_not(chosen(study), planned_of(study.aim("reaction")))
    for text, wrong in (("0", "1 to 1"), ("1e9", "1 to 1"), ("many", "not a number")):
        faulty = typed(DEMO, "times", text).aim("reaction").rehearsing
        assert faulty.times == 10_000
        assert wrong in faulty.drafts["times"].fault.replace("\u2009", "").replace("from 1", "1")
    assert typed(DEMO, "times", "100000").aim("reaction").rehearsing.times == 100_000


def test_an_effect_is_typed_in_the_outcomes_unit_or_as_none() -> None:
    """`8 ms`; `none`; as planned again."""
    assert chosen(typed(DEMO, "effect", "8 ms")).asked == {"effect": 8.0}
    assert words(typed(DEMO, "effect", "none")).count("no effect at all") == 1
    assert chosen(typed(typed(DEMO, "effect", "8"), "effect", "")).asked == {}
    assert chosen(typed(DEMO, "effect", "20%", aim="sleepy"), "sleepy").asked == {"effect": 0.2}


def test_steps_and_choices() -> None:
    """The first step departs as people usually fear; choices are those that the design can take."""
    of = planned_of(DEMO.aim("reaction"))
    assert nudged_text(of, World(), "lost", 1) == "15"
    assert nudged_text(of, World(asked={"lost": 0.15}), "lost", 1) == "16"
    moved = slot_of_rehearsal(DEMO, "times", "reaction", of).moved(10)
    assert moved is not None
    assert moved.study.aim("reaction").rehearsing.times == 100_000
    assert float(nudged_text(of, World(), "effect", 1)) > 12
    assert [value for value, *_ in offers(of, World(), "analysis")] == ["", "unequal"]
    paired = planned_of(DEMO.aim("crossover"))
    assert "bounded" not in [value for value, *_ in offers(paired, World(), "shape")]


def test_a_shape_brings_its_own_words() -> None:
    """Skewness, degrees of freedom, bounds; another shape forgets them."""
    of = planned_of(DEMO.aim("reaction"))
    skewed = done(DEMO, edits.choose, of, "shape", "gamma")
    assert "skewed, gamma outcomes of skewness 2" in words(skewed)
    skewed = typed(skewed, "size", "3")
    assert chosen(skewed).asked == {"shape": "gamma", "size": 3.0}
    bounded = done(skewed, edits.choose, of, "shape", "bounded")
    assert chosen(bounded).asked == {"shape": "bounded"}
    assert "from −2 to 2 SDs" in words(bounded).replace("-2", "−2")
    narrow = typed(typed(bounded, "low", "-0.3"), "high", "0.4")
    assert "cannot vary" in why_not(chosen(narrow), of)


def test_what_is_kept_can_be_made_again_and_knows_when_the_aim_changed() -> None:
    """After saving and opening; the same tally comes of the same request, seed and number of studies."""
    aim = DEMO.aim("reaction").changed(rehearsing=DEMO.aim("reaction").rehearsing.changed(times=2000))
    of = planned_of(aim)
    worlds = worlds_of(aim, of)[:3]
    tallies = [rehearse(stage(of, departing(world, of)), 2000) for world in worlds]
    study = done(DEMO, edits.keep, kept_of(aim, of, list(zip(worlds, tallies, strict=True))))
    again = study_from_text(study_text(study), "it")
    kept = again.aim("reaction").rehearsing.kept
    assert [tally_from_json(each.tally) for each in kept] == tallies
    assert kept[1].found["power"] == tallies[1].power
    assert not has_changed(again.aim("reaction"))
    assert has_changed(type_value(again, "reaction", "sd", "26").study.aim("reaction"))
    assert not done(again, edits.keep, ()).aim("reaction").rehearsing.kept


def test_verdicts() -> None:
    """Agreement, disagreement with a reason, and the type I error."""
    aim = DEMO.aim("reaction")
    of = planned_of(aim)

    def said(**asked: Any) -> str:
        there = departing(World(asked=asked), of)
        return verdict(of, there, rehearse(stage(of, there), 20_000))

    assert said() == "The formula and the rehearsal agree."
    assert "points below the formula: the formula takes the SDs as planned" in said(apart=2.0)
    assert "as its alpha of" in said(effect="none")
    assert "the true effect is another" in said(effect=8.0)


def test_of_a_world_that_cannot_be_read_nothing_is_remarked() -> None:
    """Though it was rehearsed before its word was typed over."""
    aim = DEMO.aim("reaction")
    of = planned_of(aim)
    tally = rehearse(stage(of, departing(World(), of)), 100, seed=1)
    assert remark(aim, of, World(), tally, 1.0)
    assert remark(aim, of, World().unreadable("lost", "v", "“v” is not a number."), tally, 1.0) == ""


def test_a_choice_for_a_word_that_is_none_is_no_edit() -> None:
    """The sentence may have moved on while a list was open."""
    of = planned_of(DEMO.aim("reaction"))
    assert edits.choose(DEMO, "reaction", of, "idle", "normal").study == DEMO
