"""Interim analyses in a study: typed in many ways, moved, spent otherwise, said; and what is seen under way."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest
from scipy import special

from ragwort.demo import demo_study, second_demo_study
from ragwort.demo.half_way import half_way_csv
from ragwort.designs import Answer
from ragwort.pilot import Data, PilotError, read_table
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.model import Study
from ragwort.study.results.interim_file import seen_in, statistic_of_summaries, takes_files
from ragwort.study.results.looks import Look, looks_of
from ragwort.study.results.outcome import Problem, outcome_of
from ragwort.study.results.underway import interim_result, reestimate, said_of
from ragwort.study.words.sentence import plain_text, remarks, sentence_of

FIRST = demo_study().aims[0].id


def with_looks(text: str = "1") -> Study:
    """The demo study whose first aim looks so."""
    return edits.type_looks(demo_study(), FIRST, text).study


def answer_of(study: Study, aim: str = FIRST) -> Answer:
    """What is found of an aim."""
    found = outcome_of(study.aim(aim))
    assert isinstance(found, Answer), found
    return found


def looks(study: Study) -> list[Look]:
    """Those of the first aim."""
    return looks_of(answer_of(study))


@pytest.mark.parametrize(
    ("text", "fractions"),
    [
        ("1", [0.5, 1]),
        ("two", [0.333333, 0.666667, 1]),
        ("50%, 75%", [0.5, 0.75, 1]),
        ("50 % and 75 %", [0.5, 0.75, 1]),
        ("0.4; 0.8; 1", [0.4, 0.8, 1]),
        ("0,4; 0,8", [0.4, 0.8, 1]),
        ("64", [0.5, 1]),
        ("32 96", [0.25, 0.75, 1]),
        ("none", None),
        ("", None),
    ],
)
def test_looks_are_taken_as_people_type_them(text: str, fractions: list[float] | None) -> None:
    """How many, shares, per cent, counts; the last look may be left out."""
    assert with_looks(text).aim(FIRST).values().get("fractions") == fractions


@pytest.mark.parametrize("text", ["half", "0.5 0.4", "1.2.3", "50% 150%", "-1"])
def test_what_cannot_be_looks_is_kept_as_typed(text: str) -> None:
    """With its fault; the looks before stay."""
    study = edits.type_looks(with_looks(), FIRST, text).study
    entry = study.aim(FIRST).entry("fractions")
    assert entry.draft == text
    assert entry.fault.endswith(".")
    assert entry.value == [0.5, 1]


def test_the_sentence_says_looks_and_what_to_expect() -> None:
    """Numbers of people, the spending, expected sizes, what the look costs."""
    study = with_looks()
    aim = study.aim(FIRST)
    said = plain_text(sentence_of(aim, outcome_of(aim)))
    assert "with one interim analysis after 64 and O'Brien–Fleming-type spending, to detect" in said
    below = remarks(aim, outcome_of(aim))
    assert "Expected: 117 staff if the planned effect is true, 128 if there is none." in below
    assert "With a single analysis at the end the power would be 80.1%." in below


def test_a_look_is_added_moved_and_removed() -> None:
    """Each one edit; a look stays between its neighbours; without any there is one analysis."""
    study = edits.add_look(with_looks(), FIRST).study
    assert study.aim(FIRST).values()["fractions"] == [0.25, 0.5, 1]
    moved = edits.move_look(study, FIRST, 0, 0.9).study.aim(FIRST).values()["fractions"]
    assert 0.48 < moved[0] < 0.5
    assert edits.remove_look(study, FIRST, 0).study.aim(FIRST).values()["fractions"] == [0.5, 1]
    assert "fractions" not in edits.remove_look(with_looks(), FIRST, 0).study.aim(FIRST).values()
    many = with_looks("19")
    assert edits.add_look(many, FIRST).study == many


def test_a_typed_boundary_is_where_it_was_typed_and_spending_becomes_own() -> None:
    """As z, as p, as the effect; the rest of alpha goes to the end."""
    for scale, text, read in (
        ("z", "3.2", lambda look: look.bound),
        ("p", "0.002", lambda look: look.p),
        ("effect", "-20", lambda look: look.effect),
    ):
        study = edits.type_boundary(with_looks(), FIRST, 0, text, scale).study
        assert study.aim(FIRST).values()["spending"] == "own"
        first, last = looks(study)
        assert read(first) == pytest.approx(float(text), rel=1e-4)
        assert last.spent == pytest.approx(0.05)


def test_typed_alpha_and_what_cannot_be_spent() -> None:
    """Too much is kept as typed, with the bounds; at the last look alpha itself is changed."""
    study = edits.type_spent(with_looks(), FIRST, 0, "0.01").study
    assert looks(study)[0].spent == pytest.approx(0.01)
    wrong = edits.type_spent(study, FIRST, 0, "0.2").study.aim(FIRST).entry("fractions")
    assert wrong.draft_of("spent 0") == "0.2"
    assert "to 0.05" in wrong.first_fault
    last = edits.type_spent(study, FIRST, 1, "0.04").study.aim(FIRST).entry("fractions")
    assert "change alpha itself" in last.first_fault
    strange = edits.type_boundary(study, FIRST, 0, "much").study.aim(FIRST).entry("fractions")
    assert "is not a z" in strange.first_fault


def test_own_amounts_follow_alpha_on_demand_and_a_new_look_in_between() -> None:
    """Another alpha is a problem at what is spent, which one edit mends."""
    study = edits.type_spent(with_looks(), FIRST, 0, "0.01").study
    other = edits.set_value(study, FIRST, "alpha", 0.04).study
    found = outcome_of(other.aim(FIRST))
    assert isinstance(found, Problem)
    assert found.field == "spent"
    mended = edits.scale_spent(other, FIRST).study
    assert looks(mended)[0].spent == pytest.approx(0.008)
    more = edits.plan_looks(study, FIRST, [0.5, 0.75, 1]).study
    assert [each.spent for each in looks(more)] == pytest.approx([0.01, 0.03, 0.05])


def test_conditional_power_and_what_the_committee_reads() -> None:
    """A statistic at the planned look; at a time that was not planned; in the wrong order."""
    study = edits.type_interim(with_looks(), FIRST, "now", "64").study
    study = edits.type_interim(study, FIRST, "z", "-1.2").study
    aim, answer = study.aim(FIRST), answer_of(study)
    found = interim_result(aim, answer)
    assert found is not None
    assert found.planned
    assert not found.crossed
    assert found.bound == pytest.approx(2.9625880427, rel=1e-9)
    said = " ".join(said_of(aim, answer, found))
    assert "64 of 128 staff (50% of the information). This look was planned" in said
    assert "crosses no boundary" in said
    assert "(predictive power)" in said
    late = edits.type_interim(study, FIRST, "now", "90").study
    unplanned = interim_result(late.aim(FIRST), answer)
    assert unplanned is not None
    assert not unplanned.planned
    assert unplanned.spent > found.spent
    fewer = edits.type_interim(late, FIRST, "before", "100").study
    with pytest.raises(ValueError, match="there must be more"):
        interim_result(fewer.aim(FIRST), answer)
    beyond = edits.type_interim(study, FIRST, "now", "200").study
    with pytest.raises(ValueError, match="up to all of the information"):
        interim_result(beyond.aim(FIRST), answer)


@pytest.mark.parametrize(("toward", "sign"), [(True, -1), (False, 1)])
def test_a_p_and_its_direction_are_a_z(toward: bool, sign: int) -> None:
    """The planned difference is negative: in its direction z is, too."""
    study = edits.choose_interim(with_looks(), FIRST, now=64.0, seen_as="p", p=0.05, toward=toward).study
    found = interim_result(study.aim(FIRST), answer_of(study))
    assert found is not None
    assert found.z == pytest.approx(sign * 1.959964, rel=1e-6)


def test_an_estimate_has_a_repeated_interval_in_its_unit() -> None:
    """Estimate ± boundary times its standard error."""
    study = edits.choose_interim(with_looks(), FIRST, now=64.0, seen_as="estimate", estimate=-15.0, error=6.0).study
    found = interim_result(study.aim(FIRST), answer_of(study))
    assert found is not None
    assert found.interval == pytest.approx((-15 - 2.9625880427 * 6, -15 + 2.9625880427 * 6))


def test_a_study_without_looks_is_told_what_an_unplanned_one_spends() -> None:
    """O'Brien and Fleming's type stands in."""
    study = edits.choose_interim(demo_study(), FIRST, now=64.0, z=-3.2).study
    found = interim_result(study.aim(FIRST), answer_of(study))
    assert found is not None
    assert not found.planned
    assert found.crossed
    assert "was not planned" in " ".join(said_of(study.aim(FIRST), answer_of(study), found))


def test_blinded_sizes_are_those_of_the_example() -> None:
    """Planned difference 5, SD 10; after 64 outcomes an SD of 12.3: 96 a group, adjusted 94."""
    values = {"difference": 5.0, "sd": 10.0, "power": 0.8}
    aim = Aim(entries={name: Entry(value=value) for name, value in values.items()})
    study = Study(aims=(aim,))
    study = edits.choose_interim(study, aim.id, blinded=12.3, of=64).study
    found = reestimate(study.aim(aim.id), answer_of(study, aim.id))
    assert found is not None
    assert found.groups == (96, 96)
    adjusted = edits.choose_interim(study, aim.id, adjusted=True).study
    again = reestimate(adjusted.aim(aim.id), answer_of(adjusted, aim.id))
    assert again is not None
    assert again.groups == (94, 94)
    many = edits.choose_interim(study, aim.id, blinded=1.0, of=100).study
    kept = reestimate(many.aim(aim.id), answer_of(many, aim.id))
    assert kept is not None
    assert kept.total == 100
    with pytest.raises(ValueError, match="explain all of this scatter"):
        edit = edits.choose_interim(adjusted, aim.id, blinded=2.0)
        reestimate(edit.study.aim(aim.id), answer_of(edit.study, aim.id))


@pytest.mark.parametrize(
    ("design", "values", "blinded"),
    [
        ("two-proportions", {"proportion1": 0.3, "proportion2": 0.45}, 0.375),
        ("survival", {"hazard_ratio": 0.7, "median1": 12.0, "accrual": 12.0, "follow_up": 12.0}, 0.0495),
        ("two-rates", {"rate1": 1.0, "rate2": 1.4}, 1.2),
    ],
)
def test_what_is_planned_seen_again_changes_no_size(design: str, values: dict[str, float], blinded: float) -> None:
    """The pooled share, hazard and rate of the plan itself."""
    aim = Aim(design=design, entries={name: Entry(value=value) for name, value in values.items()})
    study = edits.choose_interim(Study(aims=(aim,)), aim.id, blinded=blinded, of=50).study
    found, planned = reestimate(study.aim(aim.id), answer_of(study, aim.id)), answer_of(study, aim.id)
    assert found is not None
    assert abs(sum(found.groups) - planned.total) <= 0.02 * planned.total


def half_way(folder: object, text: str) -> Data:
    """A file of this text."""
    path = folder / "half-way.csv"  # type: ignore[operator]
    path.write_text(text)
    return Data(read_table(path))


def test_the_half_way_file_of_the_demo_is_worked_through(tmp_path: object) -> None:
    """From the file to the words for the committee: eight wards, at the planned look."""
    study, rooms = second_demo_study(), ("usual lighting", "brighter lighting")
    aim, answer = study.aim("errors"), answer_of(study, "errors")
    assert takes_files(answer)
    data = half_way(tmp_path, half_way_csv())
    seen = seen_in(aim, answer, data, "room", rooms, "errors logged", "ward")
    assert seen["now"] == 8
    study = edits.choose_interim(study, "errors", **seen).study
    found = interim_result(study.aim("errors"), answer)
    assert found is not None
    assert found.planned
    assert "8 of 14 wards (50% of the information)" in said_of(study.aim("errors"), answer, found)[0]
    with pytest.raises(PilotError, match="has no"):
        seen_in(aim, answer, data, "room", ("usual lighting", "dark"), "errors logged", "ward")


def test_a_file_of_two_groups_gives_the_planned_t_test(tmp_path: object) -> None:
    """As SciPy has it."""
    from scipy import stats

    first, second = [10.0, 12, 14, 9, 11], [15.0, 13, 17, 16, 14]
    rows = [*(f"usual lighting,{each}" for each in first), *(f"brighter lighting,{each}" for each in second)]
    data = half_way(tmp_path, "room,reaction time\n" + "\n".join(rows) + "\n")
    study = with_looks()
    seen = seen_in(
        study.aim(FIRST), answer_of(study), data, "room", ("usual lighting", "brighter lighting"), "reaction time"
    )
    p = stats.ttest_ind(second, first).pvalue
    assert seen["z"] == pytest.approx(stats.norm.isf(p / 2), rel=1e-9)
    assert seen["of"] == 10
    assert seen["blinded"] == pytest.approx(stats.tstd(first + second), rel=1e-4)


def _summed(design: str, values: dict[str, object], summary: dict[str, float]) -> float:
    """z of the planned test on summaries, in a study of one aim."""
    aim = Aim(design=design, entries={name: Entry(value=each) for name, each in values.items()})
    found = outcome_of(aim)
    assert isinstance(found, Answer), found
    z = statistic_of_summaries(found, summary)
    assert z is not None
    return z


def _of_t(t: float, df: int) -> float:
    """The z with the p of a t."""
    return math.copysign(float(special.ndtri(special.stdtr(df, -abs(t)))), t)


_MEANS = {"mean1": 182.0, "sd1": 26.0, "n1": 31.0, "mean2": 169.5, "sd2": 22.0, "n2": 33.0}


def test_summaries_of_means_make_the_pooled_t_test() -> None:
    """Altman (1991), section 9.6: from means, SDs and sizes."""
    pooled = math.sqrt((30 * 26**2 + 32 * 22**2) / 62)
    t = (169.5 - 182) / (pooled * math.sqrt(1 / 31 + 1 / 33))
    assert _summed("two-means", {"difference": -12, "sd": 24}, _MEANS) == pytest.approx(_of_t(t, 62), rel=1e-9)


def test_summaries_of_differences_make_the_paired_t_test() -> None:
    """Beyond what is meant without an effect."""
    summary = {"mean1": 4.0, "sd1": 9.0, "n1": 20.0}
    found = _summed("paired-means", {"difference": 5, "sd1": 10, "sd2": 10, "correlation": 0.5}, summary)
    assert found == pytest.approx(_of_t(4 / (9 / math.sqrt(20)), 19), rel=1e-9)


def test_summaries_of_one_mean_are_held_against_the_reference() -> None:
    """With its direction."""
    found = _summed("one-mean", {"null_mean": 100, "mean": 106, "sd": 15}, {"mean1": 96.0, "sd1": 14.0, "n1": 25.0})
    assert found == pytest.approx(_of_t(-4 / (14 / 5), 24), rel=1e-9)


def test_counts_make_the_pooled_test_of_proportions() -> None:
    """Altman (1991), section 10.2."""
    both = 30 / 96
    z = (12 / 48 - 18 / 48) / math.sqrt(both * (1 - both) * 2 / 48)
    summary = {"yes1": 18.0, "n1": 48.0, "yes2": 12.0, "n2": 48.0}
    found = _summed("two-proportions", {"proportion1": 0.4, "proportion2": 0.2, "method": "pooled"}, summary)
    assert found == pytest.approx(z, rel=1e-9)


def test_events_make_the_test_of_the_log_rate_ratio() -> None:
    """With the planned dispersion."""
    summary = {"events1": 40.0, "n1": 50.0, "events2": 22.0, "n2": 50.0}
    error = math.sqrt(1 / 40 + 1 / 22 + 2 * 0.3 / 50)
    values = {"rate1": 1.0, "rate2": 0.6, "dispersion": 0.3, "method": "unpooled"}
    assert _summed("two-rates", values, summary) == pytest.approx(math.log(22 / 40) / error, rel=1e-9)


def test_summaries_are_typed_and_kept_with_their_fault() -> None:
    """With the last size so many have come; what cannot be is said."""
    study = edits.choose_interim(with_looks(), FIRST, seen_as="summaries").study
    for place, value in _MEANS.items():
        study = edits.type_summary(study, FIRST, 2, place, f"{value:g}").study
    aim = study.aim(FIRST)
    assert aim.interim.now == 64
    found = interim_result(aim, answer_of(study))
    assert found is not None
    assert found.z == pytest.approx(-2.03749, abs=1e-5)
    odd = edits.type_summary(study, FIRST, 2, "sd1", "-3").study.aim(FIRST).interim
    assert odd.summary["sd1"] == 26
    assert "above 0" in odd.first_fault
    less = edits.type_summary(study, FIRST, 2, "sd2", "").study
    unknown = interim_result(less.aim(FIRST), answer_of(less))
    assert unknown is not None
    assert unknown.z is None


def test_summaries_that_no_group_has_are_refused() -> None:
    """More with the outcome than there are; a mean of one with an SD."""
    with pytest.raises(PilotError, match="cannot be among"):
        _summed("two-proportions", {"proportion1": 0.4, "proportion2": 0.2}, {"yes1": 9, "n1": 8, "yes2": 1, "n2": 8})
    with pytest.raises(PilotError, match="at least two"):
        _summed("two-means", {"difference": 5, "sd": 10}, {**_MEANS, "n1": 1})


_COUNTS = {"rate1": 1.0, "rate2": 0.6, "dispersion": 0.3, "exposure": 2.0}


def _of_counts() -> tuple[Aim, Answer]:
    aim = Aim(design="two-rates", entries={name: Entry(value=each) for name, each in _COUNTS.items()})
    found = outcome_of(aim)
    assert isinstance(found, Answer)
    return aim, found


def test_a_larger_dispersion_of_all_asks_for_more() -> None:
    """With the rate as planned the sizes are those of a design with that dispersion."""
    aim, found = _of_counts()
    seen = aim.interim.changed(blinded=0.8, of=60, beside=0.9)
    again = reestimate(aim.changed(interim=seen), found)
    wider = outcome_of(aim.changed(entries={**aim.entries, "dispersion": Entry(value=0.9)}))
    assert again is not None
    assert isinstance(wider, Answer)
    assert again.total == wider.total > found.total


def test_counts_of_a_file_give_rate_and_dispersion_of_all(tmp_path: Path) -> None:
    """Per unit of time watched; variance beyond the mean over the mean squared."""
    aim, found = _of_counts()
    counts = {"old": [0, 2, 5, 1, 3, 0, 7, 2], "new": [0, 1, 2, 0, 4, 1, 0, 2]}
    lines = "\n".join(f"{name},{each}" for name, values in counts.items() for each in values)
    path = tmp_path / "counts.csv"
    path.write_text(f"arm,falls\n{lines}\n")
    data = Data(read_table(path))
    changes = seen_in(aim, found, data, "arm", ("old", "new"), "falls")
    every = np.array([*counts["old"], *counts["new"]], dtype=float)
    assert changes["blinded"] == pytest.approx(every.mean() / 2, rel=1e-5)
    assert changes["beside"] == pytest.approx((every.var(ddof=1) - every.mean()) / every.mean() ** 2, rel=1e-3)
    assert changes["z"] < 0
