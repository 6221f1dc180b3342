"""Aims that share the study's chance of a false finding."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ragwort.demo import sampler_study
from ragwort.designs import design_named, settle
from ragwort.report import report_of
from ragwort.report.tree import Paragraph, Table
from ragwort.study import edits
from ragwort.study.document.aim import Entry, Scenario
from ragwort.study.document.files import read_study_file, write_study
from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Family
from ragwort.study.results.outcome import outcome_of, to_enrol
from ragwort.study.results.overview import needs_of
from ragwort.study.sharing.family import (
    _drawn,
    alphas_of,
    chances,
    correlations_of,
    guarded,
    rounded_down,
)
from ragwort.study.sharing.plans import PLANS
from ragwort.study.sharing.together import together_of, words_of
from ragwort.study.slots.sharing import fault_of, pieces_of

THREE = sampler_study().changed(aims=(*sampler_study().aims[:3],))
IDS = [aim.id for aim in THREE.aims]


def shared(plan: str, **more: Any) -> Study:
    """Three aims under a plan."""
    study = THREE.changed(family=Family(**more))
    return edits.choose_plan(study, plan).study


def alpha_of(study: Study, aim_id: str) -> object:
    """The alpha that an aim is computed with."""
    return study.aim(aim_id).values()["alpha"]


@pytest.mark.parametrize(
    ("plan", "more", "alphas"),
    [
        ("split", {}, [0.05 / 3] * 3),
        ("holm", {}, [0.05 / 3] * 3),
        ("hochberg", {"alpha": 0.03}, [0.01] * 3),
        ("order", {}, [0.05] * 3),
        ("weights", {"weights": {IDS[0]: 3.0}}, [0.03, 0.01, 0.01]),
        ("fallback", {"weights": {IDS[0]: 2.0, IDS[2]: 2.0}}, [0.02, 0.01, 0.02]),
    ],
)
def test_every_aim_is_planned_with_its_part(plan: str, more: dict[str, Any], alphas: list[float]) -> None:
    """The part goes into answers and kept scenarios, and says where it comes from."""
    study = shared(plan, **more)
    for aim, alpha in zip(study.aims, alphas, strict=True):
        assert alpha_of(study, aim.id) == pytest.approx(alpha, rel=6e-4)
        assert aim.entry("alpha").derived
        assert all(each.values()["alpha"] == alpha_of(study, aim.id) for each in aim.scenarios)
    if plan == "split":
        assert study.aims[0].entry("alpha").source == "study's plan: a third of 0.05, in equal parts"
        assert outcome_of(study.aims[0]).total > outcome_of(THREE.aims[0]).total  # type: ignore[union-attr]


def test_an_exploratory_aim_shares_nothing_and_a_plan_can_be_given_up() -> None:
    """The others get more; without a plan each has the study's alpha again, as its own."""
    study = edits.set_role(shared("holm"), IDS[1], "exploratory").study
    assert alpha_of(study, IDS[0]) == 0.025
    assert study.aim(IDS[0]).entry("alpha").source == "study's plan: half of 0.05, by Holm's procedure"
    assert alpha_of(study, IDS[1]) == 0.05
    assert not study.aim(IDS[1]).entry("alpha").source
    without = edits.choose_plan(study, "").study
    assert [alpha_of(without, aim_id) for aim_id in IDS] == [0.05] * 3
    assert alphas_of(without) == {}


def test_what_is_done_to_the_aims_moves_their_parts() -> None:
    """One aim fewer, one more; and an alpha that is typed is refused with the reason, its text kept."""
    study = shared("split")
    fewer = guarded(study, edits.delete_aim(study, IDS[2]).study)
    assert alpha_of(fewer, IDS[0]) == 0.025
    typed = guarded(study, edits.type_value(study, IDS[0], "alpha", "0.01").study)
    entry = typed.aim(IDS[0]).entry("alpha")
    assert entry.value == pytest.approx(0.05 / 3, rel=6e-4)
    assert entry.draft == "0.01"
    assert "Change the plan, or make the aim exploratory." in entry.fault
    assert guarded(study, study) is study
    cleared = edits.type_family(typed, "alpha", "0.03").study
    assert cleared.aim(IDS[0]).entry("alpha").fault == ""
    assert alpha_of(cleared, IDS[0]) == 0.01
    bad = edits.type_family(study, "alpha", "1.5").study
    assert bad.family.alpha == 0.05
    assert bad.family.drafts


# --- procedures, against definitions written out ---


def holm(p: list[float], alpha: float) -> list[bool]:
    """Adjusted p-values: the running largest of (m - rank) p."""
    order, worst, found = sorted(range(len(p)), key=lambda at: p[at]), 0.0, [False] * len(p)
    for rank, at in enumerate(order):
        worst = max(worst, (len(p) - rank) * p[at])
        found[at] = worst <= alpha
    return found


def hochberg(p: list[float], alpha: float) -> list[bool]:
    """Adjusted p-values: the running smallest of (m - rank) p from the largest on."""
    order, best, found = sorted(range(len(p)), key=lambda at: p[at]), math.inf, [False] * len(p)
    for rank in range(len(p) - 1, -1, -1):
        best = min(best, (len(p) - rank) * p[order[rank]])
        found[order[rank]] = best <= alpha
    return found


@given(p=st.lists(st.floats(0.0, 0.2), min_size=1, max_size=6))
def test_holm_and_hochberg_reject_what_their_adjusted_p_values_say(p: list[float]) -> None:
    """And Hochberg all that Holm does, Holm all that equal parts do."""
    rows, alphas = np.array([p]), np.full(len(p), 0.05 / len(p))
    stepped = {plan: PLANS[plan].rejected(rows, 0.05, alphas)[0] for plan in ("split", "holm", "hochberg")}
    margin = min(abs(each * (len(p) - rank) - 0.05) for each in p for rank in range(len(p)))
    if margin > 1e-12:
        assert stepped["holm"].tolist() == holm(p, 0.05)
        assert stepped["hochberg"].tolist() == hochberg(p, 0.05)
    assert np.all(stepped["split"] <= stepped["holm"])
    assert np.all(stepped["holm"] <= stepped["hochberg"])


def test_order_stops_and_fallback_passes_on() -> None:
    """By hand."""
    alphas = np.array([0.02, 0.01, 0.02])
    p = np.array([[0.04, 0.001, 0.001], [0.001, 0.04, 0.001], [0.015, 0.025, 0.045], [0.03, 0.009, 0.029]])
    assert PLANS["order"].rejected(p, 0.05, alphas).tolist() == [
        [True, True, True],
        [True, True, True],
        [True, True, True],
        [True, True, True],
    ]
    assert PLANS["order"].rejected(np.array([[0.06, 0.001]]), 0.05, alphas[:2]).tolist() == [[False, False]]
    assert PLANS["fallback"].rejected(p, 0.05, alphas).tolist() == [
        [False, True, True],
        [True, False, True],
        [True, True, True],
        [False, True, True],
    ]


def test_chances_are_exact_where_aims_are_independent_and_simulated_otherwise() -> None:
    """Products; the simulation gives them too; a correlation brings all and some nearer to each other."""
    study, powers = shared("split"), [0.9, 0.8, 0.7]
    exact = chances(study, powers)
    assert exact.exact
    assert exact.every == pytest.approx(0.504)
    assert exact.some == pytest.approx(0.994)
    nearly = chances(study.changed(family=study.family.changed(correlation=1e-9)), powers)
    assert not nearly.exact
    assert nearly.every == pytest.approx(exact.every, abs=0.005)
    assert nearly.each == pytest.approx((0.9, 0.8, 0.7), abs=0.005)
    alike = chances(study.changed(family=study.family.changed(correlation=0.8)), powers)
    assert alike.every > exact.every + 0.05
    assert alike.some < exact.some - 0.02


def test_holm_finds_more_than_equal_parts_and_order_less_of_the_last() -> None:
    """At the same powers at the aims' own alpha."""
    powers = [0.8, 0.8, 0.8]
    split, stepped = chances(shared("split"), powers), chances(shared("holm"), powers)
    assert all(more > less for more, less in zip(stepped.each, split.each, strict=True))
    assert stepped.some == pytest.approx(split.some, abs=0.005)  # the first step is the same
    ordered = chances(shared("order"), powers)
    assert ordered.exact
    assert ordered.each == pytest.approx((0.8, 0.64, 0.512), abs=1e-12)
    assert ordered.every == pytest.approx(0.512, abs=1e-12)
    assert ordered.some == 0.8


def test_an_aim_that_waits_for_none_has_its_own_power_however_the_aims_are_correlated() -> None:
    """Nothing of the simulation shows there; what does wait is simulated, and agrees with products nearby."""
    powers = [0.8, 0.7, 0.6]
    for plan, own in (("", 3), ("split", 3), ("order", 1), ("fallback", 1), ("holm", 0)):
        study = shared(plan)
        found = chances(study.changed(family=study.family.changed(correlation=1e-9)), powers)
        assert not found.exact
        assert list(found.each[:own]) == powers[:own]
        assert all(share not in powers for share in found.each[own:])
    ordered = shared("order")
    nearly = chances(ordered.changed(family=ordered.family.changed(correlation=1e-9)), powers)
    assert nearly.each == pytest.approx((0.8, 0.56, 0.336), abs=0.005)
    assert nearly.some == 0.8


def test_the_report_of_six_aims_under_holm() -> None:
    """Checked by hand: 0.05 / 6 each; sizes are those of plans with that alpha; the largest sets the study."""
    study = edits.choose_plan(sampler_study().changed(aims=sampler_study().aims[:6]), "holm").study
    document = report_of(study)
    table = next(b for b in document.blocks if isinstance(b, Table) and b.caption == "Power of the aims together")
    assert [row[2] for row in table.rows] == ["0.008333"] * 6
    enrolled = [int(row[3]) for row in table.rows]
    by_hand = [sum(outcome_of(aim).enrol) for aim in study.aims]  # type: ignore[union-attr]
    assert enrolled == by_hand
    words = " ".join(block.text for block in document.blocks if isinstance(block, Paragraph))
    assert "The family-wise error rate of the 6 confirmatory aims is controlled at 5% by Holm's procedure" in words
    assert "each aim is powered at 0.833%" in words
    assert f"determines the size: {max(enrolled)} staff to be recruited." in words
    assert "All 6 are significant with probability" in words


def test_a_file_edited_by_hand_has_the_alphas_of_its_plan_again(tmp_path: Path) -> None:
    """And says whose were others; a file as it was saved says nothing."""
    study = edits.choose_plan(sampler_study().changed(aims=sampler_study().aims[:3]), "holm").study
    path = tmp_path / "study.ragwort"
    write_study(study, path)
    assert read_study_file(path).remark == ""
    path.write_text(path.read_text().replace('"value": 0.01666,', '"value": 0.04,', 1))
    found = read_study_file(path)
    assert found.study == study
    assert found.remark == (
        "The file has alphas that its plan (by Holm's procedure) does not give; derived anew: Reaction time (0.01666)."
    )


def test_what_was_typed_under_a_plan_is_read_again_as_it_was(tmp_path: Path) -> None:
    """A draft that was refused, a scenario with another alpha, alpha as what is found: none is derived anew."""
    study = edits.choose_plan(sampler_study().changed(aims=sampler_study().aims[:3]), "holm").study
    study = guarded(study, edits.type_value(study, "reaction", "alpha", "0.05").study)
    assert study.aim("reaction").entry("alpha").fault
    odd = study.aim("alertness")
    own = Scenario(id="own", name="Own", entries={**odd.entries, "alpha": Entry(value=0.01)})
    study = study.with_aim(odd.changed(scenarios=(*odd.scenarios, own)))
    path = tmp_path / "study.ragwort"
    write_study(study, path)
    found = read_study_file(path)
    assert (found.study, found.remark) == (study, "")


def test_what_dropping_an_aim_would_save() -> None:
    """The difference to the next largest."""
    found = [(aim, outcome_of(aim)) for aim in THREE.aims]
    assert words_of(THREE, found, None) == (
        "Alertness after six weeks determines the size: 228 staff to be recruited. Excluding it, "
        "Reaction time determines the size (144)."
    )


@given(alpha=st.floats(1e-9, 0.5), count=st.integers(1, 60))
def test_parts_never_add_up_to_more_than_the_whole(alpha: float, count: int) -> None:
    """Four digits, rounded down, within a thousandth of the part."""
    part = rounded_down(alpha / count)
    assert part * count <= alpha * (1 + 1e-9)
    assert part == pytest.approx(alpha / count, rel=1.1e-3)


def test_one_confirmatory_aim_has_all_of_it_and_says_so() -> None:
    """In the singular."""
    study = edits.set_role(edits.choose_plan(THREE.changed(aims=THREE.aims[:2]), "holm").study, IDS[1], "exploratory")
    words = [block.text for block in report_of(study.study).blocks if isinstance(block, Paragraph)]
    assert "One aim is confirmatory; it is tested at the 5% significance level." in words


def test_correlations_pair_by_pair() -> None:
    """A triangle or a whole matrix; what cannot be is refused with why; as many draws of it have them."""
    study = edits.type_family(shared("holm"), "correlation", "0.5; 0.2 -0.3").study
    assert study.family.matrix == ((0.5,), (0.2, -0.3))
    whole = edits.type_family(shared("holm"), "correlation", "1 0.5 0.2\n0.5 1 -0.3\n0.2 -0.3 1").study
    assert whole.family.matrix == study.family.matrix
    z = _drawn([0.05] * 3, [0.8] * 3, correlations_of(study, 3), 1)
    assert np.corrcoef(z.T)[np.tril_indices(3, -1)] == pytest.approx([0.5, 0.2, -0.3], abs=0.01)
    for text, why in (
        ("0.5; 0.2", "2 rows"),
        ("0.9; 0.9 -0.9", "contradict"),
        ("1 0.5 0.2; 0.4 1 0; 0.2 0 1", "same above and below"),
        ("0.5; x 0.1", "number"),
    ):
        bad = edits.type_family(study, "correlation", text).study.family
        assert why in bad.drafts["correlation"].fault
        assert bad.draft_of("correlation") == text
        assert bad.matrix == study.family.matrix
    assert edits.type_family(study, "correlation", "0.4").study.family.matrix == ()
    fewer = edits.delete_aim(study, IDS[2]).study
    assert correlations_of(fewer, 2).tolist() == [[1, 0], [0, 1]]  # the matrix is of three: the one number counts


def test_the_power_of_each_aim_at_the_studys_size() -> None:
    """By hand: as many enrolled, dropout off, the largest groups that fit; other counts stand apart."""
    study = edits.choose_plan(sampler_study().changed(aims=sampler_study().aims[:4]), "split").study
    found = [(aim, outcome_of(aim)) for aim in study.aims]
    known = together_of(study, found)
    assert known is not None
    at = known.at_the_studys_size
    assert set(at) == {aim.id for aim in study.aims if aim.words.many == "staff"}
    leading = max((answer for aim, answer in found if aim.words.many == "staff"), key=to_enrol)  # type: ignore[arg-type]
    each = int(to_enrol(leading) * 0.9 / 2 + 1e-9)  # type: ignore[arg-type]  # dropout of 10%
    values = {**study.aims[0].values(), "n": 2 * each}
    assert at["reaction"] == pytest.approx(settle(design_named("two-means"), "power", values).power)
    assert all(at[aim.id] >= answer.power - 1e-9 for aim, answer in found if aim.id in at)  # type: ignore[union-attr]
    needs = needs_of(study, outcome_of)
    assert needs is not None
    assert needs.many == "staff"
    assert [(many, name) for _, many, name in needs.others] == [("pairs of shifts", "Both rooms, the same staff")]


def test_an_exploratory_aim_sets_no_size() -> None:
    """Unless there is no other."""
    needs = needs_of(edits.set_role(THREE, "alertness", "exploratory").study, outcome_of)
    assert needs is not None
    assert needs.aim_id == "reaction"


def test_a_plan_that_is_not_known_is_said_and_none_is_in_force() -> None:
    """Each aim by itself, with the reason; choosing another mends it."""
    odd = THREE.changed(family=Family(plan="from a later version"))
    assert alphas_of(odd) == {}
    assert fault_of(odd).startswith("The plan “from a later version” is not known here")
    assert all(plan.label in fault_of(odd) for plan in PLANS.values() if plan.shares)
    (plan,) = [piece for piece in pieces_of(odd) if piece.name == "plan"]
    assert (plan.text, plan.fault) == ("each by itself", True)
    assert not [block for block in report_of(odd).blocks if isinstance(block, Table) and "together" in block.caption]
    assert fault_of(edits.choose_plan(odd, "holm").study) == ""
    assert alphas_of(edits.choose_plan(odd, "holm").study) != {}


def test_a_role_is_said_only_where_aims_are_told_apart() -> None:
    """Without a word from anybody no outcome is called primary; with one secondary aim the others are."""
    whole = " ".join(block.text for block in report_of(THREE).blocks if isinstance(block, Paragraph))
    assert "The primary outcome" not in whole
    told = edits.set_role(THREE, "alertness", "secondary").study
    texts = [block.text for block in report_of(told).blocks if isinstance(block, Paragraph)]
    assert any(text.startswith("The primary outcome, reaction time at 4 am, will be compared") for text in texts)
    assert any(text.startswith("The secondary outcome, alertness rating, will be compared") for text in texts)


def test_a_file_that_tells_only_by_its_source_that_an_alpha_is_derived_is_read_so(tmp_path: Path) -> None:
    """As files were before there was a mark for it: nothing is said, and the plan can be taken away again."""
    study = shared("holm")
    old = study.changed(
        aims=tuple(
            aim.changed(entries={**aim.entries, "alpha": aim.entry("alpha").changed(derived=False)})
            for aim in study.aims
        )
    )
    write_study(old, tmp_path / "old.ragwort")
    found = read_study_file(tmp_path / "old.ragwort")
    assert found.remark == ""
    assert found.study == study
    alone = edits.choose_plan(found.study, "").study
    assert {aim.values()["alpha"] for aim in alone.aims} == {study.family.alpha}
    typed = edits.type_value(alone, IDS[0], "alpha", "0.04").study
    assert not typed.aim(IDS[0]).entry("alpha").derived
