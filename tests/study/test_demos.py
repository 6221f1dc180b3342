"""Both demo studies could be run: one recruitment, one total wherever it is said, recomputed by hand."""

from __future__ import annotations

import math

import pytest
from scipy import stats

from ragwort.demo import demo_study, second_demo_study
from ragwort.demo.examples import examples
from ragwort.designs import Answer, all_designs
from ragwort.grid.asking import grid_asked
from ragwort.grid.work import whole
from ragwort.report.sections.content import report_of
from ragwort.report.tree import Paragraph
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.document.signing import amendments, was_edited
from ragwort.study.results.limits import largest_under
from ragwort.study.results.outcome import outcome_of, to_enrol
from ragwort.study.results.overview import Needs, needs_of
from ragwort.study.sharing.together import rows_of, together_of, words_of
from ragwort.study.slots.resources import implied
from ragwort.study.words.protocol import not_stated

BOTH = pytest.mark.parametrize(
    ("study", "total"), [(demo_study(), 144), (second_demo_study(), 320)], ids=["demo", "second"]
)


def found(aim: Aim) -> Answer:
    outcome = outcome_of(aim)
    assert isinstance(outcome, Answer), (aim.name, outcome)
    return outcome


def needs(study: Study) -> Needs:
    made = needs_of(study, lambda aim, scenario: outcome_of(aim, scenario))
    assert made is not None
    return made


def test_the_total_of_the_demo_by_hand() -> None:
    """64 per group have 80% power for 12 ms at SD 24, 63 have not; 64 / 0.9 is 71.1, so 72 per group are recruited."""

    def power(n: int) -> float:
        limit, delta = stats.t.isf(0.025, 2 * n - 2), math.sqrt(n / 2) * 12 / 24
        return float(stats.nct.sf(limit, 2 * n - 2, delta) + stats.nct.cdf(-limit, 2 * n - 2, delta))

    assert power(64) >= 0.8 > power(63)
    assert 2 * math.ceil(64 / 0.9) == needs(demo_study()).count == 144


def test_the_total_of_the_second_demo_by_hand() -> None:
    """7 wards per arm by t; 7 / 0.95 is 7.4, so 8 are recruited, with 18 / 0.9 = 20 people in each of 16."""

    def power(wards: int) -> float:
        effect = 1 + 0.03 * (18 * (1 + 0.2**2) - 1)
        delta = 2.0 / (4 * math.sqrt(effect * 2 / (wards * 18)))
        df = 2 * wards - 2
        limit = stats.t.isf(0.025, df)
        return float(stats.nct.sf(limit, df, delta) + stats.nct.cdf(-limit, df, delta))

    assert power(7) >= 0.8 > power(6)
    assert 16 * 20 == needs(second_demo_study()).count == 320


@BOTH
def test_one_total_wherever_it_is_said(study: Study, total: int) -> None:
    """Needs, every aim's answer, limits, sharing, grid and report."""
    made = needs(study)
    assert (made.single, made.count, len(made.recruitments)) == (True, total, 1)
    assert {to_enrol(found(aim)) for aim in study.aims} == {total}
    primary = study.aims[0]
    assert primary.role == ""
    largest = largest_under(primary, found(primary), total)
    assert largest == found(primary).groups
    answers = [(aim, outcome_of(aim)) for aim in study.aims]
    together = together_of(study, answers)
    assert f"determines the size: {total} staff to be recruited" in words_of(study, answers, together)
    assert all(row[3] == str(total) for row in rows_of(study, answers, together)[1])
    assert f"{total} staff" in implied(study, primary, found(primary))
    grid = whole(grid_asked(primary, ("power=0.8",), ""))
    assert grid.enrol.tolist() == [total]
    said = " ".join(block.text for block in report_of(study).blocks if isinstance(block, Paragraph))
    assert f"{total} staff will be recruited. The same recruitment serves all aims" in said
    assert "no single total" not in said
    assert "ignore them" not in said


@BOTH
def test_nothing_is_left_unstated(study: Study, total: int) -> None:
    """Statements, sources, reasons, a signed version and one amendment; within what the study can have."""
    assert not_stated(study) == []
    assert not was_edited(study)
    assert f"→ {total} to be recruited" in amendments(study)[0]
    for aim in study.aims:
        for name, entry in aim.entries.items():
            assert entry.source or name in ("n", "power", "alpha", "clusters", "hypothesis", "better"), (aim.name, name)
    spare = needs(study).spare
    assert spare is not None
    assert spare >= 0
    assert all(found(aim).power >= 0.8 for aim in study.aims if aim.role != "exploratory" and aim.find == "n")


def test_every_design_has_an_example_that_is_answered() -> None:
    """Each a study of its own, in a file of its own, found by the names that Choose searches."""
    made = examples()
    assert {each.study.aims[0].design for each in made} == {design.id for design in all_designs()}
    assert len({each.file for each in made}) == len(made)
    for each in made:
        assert found(each.study.aims[0]).total > 0
        assert each.known_as
