"""What a user does to a study, and undo."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, Design, all_designs, design_named
from ragwort.study import edits
from ragwort.study.document import history
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import History
from ragwort.study.document.model import Study
from ragwort.study.results import outcome
from ragwort.study.results.outcome import Problem, outcome_of
from ragwort.study.results.overview import needs_of

AIM = "reaction"


def aim_of(study: Study) -> Aim:
    """The demo's first aim."""
    return study.aim(AIM)


def answer_of(study: Study) -> Answer:
    """Its answer."""
    outcome = outcome_of(aim_of(study))
    assert isinstance(outcome, Answer)
    return outcome


@pytest.mark.parametrize("text", ["", "abc", "1e400", "-5", "0"])
def test_text_that_cannot_be_read_is_kept_beside_the_last_good_value(text: str) -> None:
    """The value stays, the answer is a problem that names the row, and dropping the text brings the answer back."""
    study = sampler_study()
    typed = edits.type_value(study, AIM, "sd", text).study
    entry = aim_of(typed).entry("sd")
    assert (entry.value, entry.draft) == (24, text)
    outcome = outcome_of(aim_of(typed))
    assert isinstance(outcome, Problem)
    assert outcome.field == "sd"
    assert edits.drop_draft(typed, AIM, "sd").study == study


@pytest.mark.parametrize("find", ["power", "effect", "alpha"])
def test_moving_the_flower_makes_what_was_found_given(find: str) -> None:
    """128 found becomes 128 given; and back again it is found anew, with the power it had."""
    study = sampler_study()
    moved = edits.move_flower(study, AIM, find).study
    assert aim_of(moved).find == find
    assert aim_of(moved).values()["n"] == 128
    assert answer_of(moved).total == 128
    back = edits.move_flower(moved, AIM, "n").study
    assert answer_of(back).total in (126, 128, 130)


def test_an_effect_found_for_two_means_moves_the_second_mean() -> None:
    """The first mean is what is known; the effect found is put on top of it."""
    design = design_named("two-means")
    study = edits.choose_way(sampler_study(), AIM, design.ways[0][1]).study
    study = edits.set_value(study, AIM, "mean1", 400.0).study
    study = edits.set_value(study, AIM, "mean2", 412.0).study
    study = edits.move_flower(study, AIM, "effect").study
    assert answer_of(study).answer == pytest.approx(11.9777, rel=1e-4)
    study = edits.move_flower(study, AIM, "power").study
    assert aim_of(study).values()["mean2"] == pytest.approx(411.98)


def test_an_answer_that_no_view_waits_for_is_carried_over_too(monkeypatch: pytest.MonkeyPatch) -> None:
    """The edit waits for it a while."""
    monkeypatch.setattr(outcome, "at_hand", lambda *_: outcome.Pending())
    moved = edits.move_flower(sampler_study(), AIM, "power").study
    assert aim_of(moved).values()["n"] == 128


def test_another_way_says_the_same() -> None:
    """Stating SDs by group, or sizes by group, keeps the answer and carries the source over."""
    design = design_named("two-means")
    study = edits.choose_way(sampler_study(), AIM, design.ways[1][1]).study
    assert aim_of(study).values()["sd1"] == aim_of(study).values()["sd2"] == 24
    assert aim_of(study).entry("sd1").source == "pilot of 60 nights"
    study = edits.move_flower(study, AIM, "power").study
    study = edits.choose_way(study, AIM, design.sizes[1]).study
    assert (aim_of(study).values()["n1"], aim_of(study).values()["n2"]) == (64, 64)
    assert "n" not in aim_of(study).entries


def test_a_table_that_does_not_add_up_can_be_stated_otherwise() -> None:
    """What cannot be worked out is left to be typed."""
    study = sampler_study()
    aim = study.aim("drinks")
    design = design_named(aim.design)
    short = aim.entry("table").changed(value=[[0.12, 0.2], [0.22, 0.18]])
    study = study.with_aim(aim.changed(entries={**aim.entries, "table": short}))
    other = next(way for ways in design.ways for way in ways if "table" not in way.names)
    stated = edits.choose_way(study, "drinks", other).study.aim("drinks")
    assert "table" not in stated.entries
    assert set(other.names) <= set(stated.entries)


@pytest.mark.parametrize("step", [2, 30, 64, 65, 100, 400])
def test_dragging_the_point_asks_for_the_power_of_its_size(step: int) -> None:
    """With n unknown, the target moves so that exactly this size is found; sizes in vain are not accepted."""
    study = sampler_study()
    moved = edits.drag_to_step(study, AIM, step).study
    assert answer_of(moved).groups[0] == step


def test_dragging_the_point_gives_the_size_when_power_is_found() -> None:
    """With power unknown, the size moves."""
    study = edits.move_flower(sampler_study(), AIM, "power").study
    moved = edits.drag_to_step(study, AIM, 40).study
    assert aim_of(moved).values()["n"] == 80


def test_aims_are_added_copied_moved_renamed_and_deleted() -> None:
    """Each by one edit, with names of any length on one line."""
    study = sampler_study()
    study = edits.add_aim(study, edits.new_aim(design_named("two-means"), "Third")).study
    study = edits.duplicate_aim(study, AIM).study
    assert [aim.name for aim in study.aims][1] == "Reaction time (copy)"
    assert len({aim.id for aim in study.aims}) == len(sampler_study().aims) + 2
    study = edits.move_aim(study, AIM, 99).study
    assert study.aims[-1].id == AIM
    study = edits.rename_aim(study, AIM, "x" * 500 + "\nsecond line").study
    assert len(aim_of(study).name) == edits.LONGEST_NAME
    assert edits.rename_aim(study, AIM, "  ").study == study
    assert AIM not in [aim.id for aim in edits.delete_aim(study, AIM).study.aims]


def test_scenarios_are_kept_returned_to_renamed_and_deleted() -> None:
    """A scenario holds every assumption; returning to it brings them all back."""
    study = edits.set_value(sampler_study(), AIM, "sd", 30.0).study
    study = edits.keep_scenario(study, AIM, "Wide").study
    wide = aim_of(study).scenarios[-1]
    study = edits.set_value(study, AIM, "sd", 10.0).study
    assert edits.return_to_scenario(study, AIM, wide.id).study.aim(AIM).values()["sd"] == 30
    study = edits.rename_scenario(study, AIM, wide.id, "Very wide").study
    assert aim_of(study).scenario(wide.id).name == "Very wide"
    assert wide.id not in [kept.id for kept in aim_of(edits.delete_scenario(study, AIM, wide.id).study).scenarios]


def test_a_menu_that_outlived_its_design_changes_nothing() -> None:
    """What was chosen in it is no assumption of the design that the aim has now."""
    study = sampler_study()
    assert edits.type_value(study, "drinks", "sides", "greater").study == study


def test_history_undoes_and_redoes_by_name() -> None:
    """Merged edits go back together; a new edit forgets the future."""
    history = History(sampler_study())
    for sd in (25.0, 26.0, 27.0):
        history.do(replace(edits.set_value(history.present, AIM, "sd", sd), merge="drag sd"))
    assert history.undo_label == "changing standard deviation"
    history.undo()
    assert history.present == sampler_study()
    assert (history.undo_label, history.redo_label) == ("", "changing standard deviation")
    history.redo()
    assert aim_of(history.present).values()["sd"] == 27
    history.seal()
    history.do(replace(edits.set_value(history.present, AIM, "sd", 28.0), merge="drag sd"))
    history.undo()
    assert aim_of(history.present).values()["sd"] == 27
    assert not history.do(edits.set_value(history.present, AIM, "sd", 27.0))


def test_the_study_needs_what_its_largest_aim_enrols() -> None:
    """Dropout counts; an aim without an answer does not."""
    study = sampler_study()
    needs = needs_of(study)
    assert needs is not None
    assert (needs.count, needs.aim_id, needs.spare) == (228, "alertness", 12)
    broken = edits.set_value(study, "alertness", "mean2", 6.4).study
    assert (needs_of(broken).count, needs_of(broken).aim_id) == (208, "sleepy")


def test_the_effect_is_found_on_the_side_on_which_it_was_stated() -> None:
    """A smaller proportion in the second group: the smallest detectable one is smaller too."""
    study = edits.move_flower(sampler_study(), "sleepy", "effect").study
    outcome = outcome_of(study.aim("sleepy"))
    assert isinstance(outcome, Answer)
    assert float(outcome.answer) == pytest.approx(0.3, abs=0.005)


def test_what_cannot_be_stated_another_way_is_left_open() -> None:
    """An f of a million is an η² that no number tells from 1; back again nothing is divided by nothing."""
    design = design_named("anova-factorial")
    aim = edits.new_aim(design, "Large")
    study = edits.set_value(Study(aims=(aim,)), aim.id, "f", 1e6).study
    as_share = edits.choose_way(study, aim.id, design.ways[0][1]).study
    assert as_share.aims[0].entry("eta_squared").value is None
    assert edits.choose_way(as_share, aim.id, design.ways[0][0]).study.aims[0].entry("f").fault == ""


def test_the_flower_moves_only_to_what_the_design_finds_and_leaves_allowed_values() -> None:
    """A menu that outlived its design; a study of millions of clusters that no file could be read with."""
    study = sampler_study()
    assert edits.move_flower(study, "reaction", "cluster_size").study == study
    given = {"clusters": 9_000_000, "cluster_size": 9_000_000.0}
    large = edits.move_flower(study, "errors", "power").study
    for name, value in given.items():
        large = edits.set_value(large, "errors", name, value).study
    moved = edits.move_flower(large, "errors", "n").study
    for name, entry in moved.aim("errors").entries.items():
        if entry.value is not None:
            design_named("cluster-means").assumption(name).check(entry.value)


_CANNOT = {  # by design and way: what cannot be found however it is stated, and is said so
    ("anova-factorial", "several terms"): "Several terms together|needs term",
    ("cluster-means", "strata of sizes"): "leave out the strata",
    ("precision-proportion", "a lower limit"): "Half width is missing",
    ("precision-proportion", "an upper limit"): "Half width is missing",
    ("cluster-proportions", "strata of sizes"): "leave out the strata",
    ("rank-sum", "categories"): "From categories no effect can be found",
}


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_the_flower_moves_from_every_way_to_everything(design: Design) -> None:
    """What the new question lacks follows from how things were stated, or it is said why it cannot be asked."""
    for way in (way for ways in design.ways for way in ways):
        aim = edits.new_aim(design, "New")
        stated = edits.choose_way(Study(aims=(aim,)), aim.id, way).study
        if isinstance(outcome_of(stated.aims[0]), Problem):
            continue  # a scale on which it has no say
        for find in design.finds_with(stated.aims[0].values()):
            outcome = outcome_of(edits.move_flower(stated, aim.id, find).study.aims[0])
            if isinstance(outcome, Problem):
                assert re.search(_CANNOT.get((design.id, way.label), "^$"), outcome.message), outcome


def test_what_is_remembered_is_bounded_in_bytes(monkeypatch: pytest.MonkeyPatch) -> None:
    """A background of a million letters, edited again and again, costs the oldest states, not all memory."""
    monkeypatch.setattr(history, "LARGEST", 60_000_000)
    kept = history.History(Study(title="Large"))
    for number in range(20):
        kept.do(history.Edit("writing", kept.present.changed(background=f"{number} " + "x" * 1_000_000)))
    undone = 0
    while kept.undo_label:
        kept.undo()
        undone += 1
    assert 3 <= undone <= 7
    for _ in range(undone):
        kept.redo()
    assert kept.present.background.startswith("19 ")
    kept.do(history.Edit("title", kept.present.changed(title="Small")))
    kept.undo()
    assert kept.present.title == "Large"
