"""Money, time and clusters: what they allow an aim, what its design costs, and how that is said."""

from __future__ import annotations

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer
from ragwort.report.sections.content import report_of
from ragwort.report.tree import Paragraph
from ragwort.study import edits
from ragwort.study.document.files import read_study, write_study
from ragwort.study.document.model import Study
from ragwort.study.results.limits import ways_out
from ragwort.study.results.outcome import outcome_of, to_enrol
from ragwort.study.results.overview import needs_of
from ragwort.study.results.resources import bounds_of, cost_of, limit_of
from ragwort.study.slots.resources import implied, pieces_of, text_of
from ragwort.study.words.sentence import plain_text


def study_with(**typed: str) -> Study:
    """The demo study with resources as they are typed."""
    study = sampler_study()
    for name, text in typed.items():
        study = edits.type_resource(study, name, text).study
        assert name not in study.resources.drafts
    return study


def answered(study: Study, aim: str) -> Answer:
    outcome = outcome_of(study.aim(aim))
    assert isinstance(outcome, Answer)
    return outcome


def bounds(study: Study, aim: str) -> dict[str, int]:
    return {each.by: each.count for each in bounds_of(study, study.aim(aim), answered(study, aim))}


def test_each_resource_says_how_many_can_be_enrolled() -> None:
    """144 staff in two arms of 72; of the ward aim 194 in 12 wards."""
    assert bounds(sampler_study(), "reaction") == {"limit": 240}
    assert bounds(study_with(costs="150", budget="36 000"), "reaction") == {"budget": 240, "limit": 240}
    assert bounds(study_with(costs="100, 200", budget="30000"), "reaction") == {"budget": 200, "limit": 240}
    assert bounds(study_with(centres="3", per_month="5", months="6.5"), "reaction") == {"months": 97, "limit": 240}
    assert bounds(study_with(per_month="0.1", months="1000"), "reaction")["months"] == 100
    assert "clusters" not in bounds(study_with(clusters="10"), "reaction")
    answer = answered(sampler_study(), "errors")
    wards = sum(answer.n_more["clusters"])
    assert bounds(study_with(clusters=f"{wards}"), "errors")["clusters"] == to_enrol(answer)
    assert bounds(study_with(clusters=f"{wards - 2}"), "errors")["clusters"] < to_enrol(answer)


def test_a_cost_counts_every_group_and_every_cluster() -> None:
    """Of an aim with other groups than there are costs, nothing is known."""
    answer = answered(sampler_study(), "reaction")
    assert cost_of(study_with(costs="100, 200").resources, answer) == 72 * 100 + 72 * 200
    assert cost_of(sampler_study().resources, answer) is None
    study = study_with(costs="10", cluster_cost="500")
    wards = answered(study, "errors")
    assert cost_of(study.resources, wards) == 10 * to_enrol(wards) + 500 * sum(wards.n_more["clusters"])
    three = study_with(costs="1, 2, 3")
    assert cost_of(three.resources, answer) is None
    assert "Costs are given for 3 groups; this aim has 2" in implied(three, three.aim("reaction"), answer)


def test_what_is_bought_for_the_budget_is_within_it() -> None:
    """Group by group, for every aim of the demo: the bound costs no more than there is, one more does."""
    study = study_with(costs="150", budget="20 000")
    for aim in study.aims:
        answer = answered(study, aim.id)
        most = limit_of(study, aim, answer)
        assert most is not None
        assert most * 150 <= 20_000 < (most + 1) * 150


def test_the_tightest_limit_of_any_aim_is_the_study_s() -> None:
    """And is said with its reason, in the report too; what it costs beside it."""
    study = study_with(costs="150", budget="30 000", currency="€", centres="4", per_month="5")
    needs = needs_of(study, outcome_of)
    assert needs is not None
    assert needs.bound is not None
    assert (needs.count, needs.spare, needs.bound.by) == (228, -28, "budget")
    said = [each.text.replace("\u00a0", " ") for each in report_of(study).blocks if isinstance(each, Paragraph)]
    assert any("this is above what is available (200, by the budget of 30\u2009000 €)." in each for each in said)
    assert "To recruit 228 staff costs 34\u2009200 € and takes 11.4 months." in said
    told = implied(study, study.aim("reaction"), answered(study, "reaction"))
    assert told.startswith("200 staff at most, by the budget of 30\u2009000 €; 240 by the limit of 240.")


def test_fewer_in_a_cluster_need_more_clusters() -> None:
    """A way out that would break another limit is not said to fit."""
    study = study_with(clusters="8")
    aim, answer = study.aim("errors"), answered(study, "errors")
    limit = limit_of(study, aim, answer)
    assert limit is not None
    assert limit < to_enrol(answer)

    def most(found: Answer) -> int | None:
        return limit_of(study, aim, found)

    for out in ways_out(aim, answer, limit, most):
        clusters = sum(out.answer.n_more["clusters"])
        assert out.fits == (clusters <= 8 and to_enrol(out.answer) <= 240)


@pytest.mark.parametrize(
    ("name", "text", "told"),
    [
        ("budget", "0", "above 0"),
        ("budget", "lots", "not a number"),
        ("costs", "150, x", "not a number"),
        ("costs", "-1", "from 0 to 10\u2009000\u2009000\u2009000"),
        ("centres", "1.5", "whole"),
        ("months", "1e9", "at most"),
        ("clusters", "1", "from 2 to"),
    ],
)
def test_what_cannot_be_read_stays_and_says_why(name: str, text: str, told: str) -> None:
    """The last good value goes on counting."""
    study = study_with(budget="36000", costs="150")
    typed = edits.type_resource(study, name, text).study
    assert told in typed.resources.drafts[name].fault
    assert text_of(typed, name) == text
    assert bounds(typed, "reaction") == bounds(study, "reaction")
    emptied = edits.type_resource(typed, name, "").study
    assert name not in emptied.resources.drafts


def test_the_sentence_says_all_of_it_and_is_kept(tmp_path: object) -> None:
    """In the words of the aim; read back from a file."""
    from pathlib import Path

    study = study_with(
        costs="150; 180", budget="36 000", currency="€", centres="4", per_month="5", months="12", clusters="12"
    )
    said = plain_text(pieces_of(study, study.aim("errors"))).replace("\u00a0", " ")
    assert said == (
        "At most 240 staff are available in at most 12 wards; each costs 150; 180, each of the wards nothing more, "
        "out of 36\u2009000 (in €). Recruited by 4 centres, 5 a month each, for 12 months."
    )
    plain = plain_text(pieces_of(edits.set_study(sampler_study(), limit=None).study, study.aim("reaction")))
    assert plain == (
        "Any number of staff are available; each costs an unstated sum, out of no fixed budget. "
        "Recruited by one centre, any number a month, for any number of months."
    )
    place = Path(str(tmp_path)) / "kept.ragwort"
    write_study(study, place)
    assert read_study(place).resources == study.resources


def test_one_of_anything_is_said_in_the_singular() -> None:
    """One centre, one month, one participant."""
    study = study_with(centres="1", per_month="1", months="1")
    aim = study.aims[0].changed(words=study.aims[0].words.changed(one="member of staff"))
    said = plain_text(pieces_of(study, aim))
    assert said.endswith("Recruited by 1 centre, 1 a month, for 1 month.")
    told = implied(study, aim, answered(study, aim.id))
    assert told.startswith("1 member of staff at most, by 1 month of recruitment; 240 by the limit of 240.")
