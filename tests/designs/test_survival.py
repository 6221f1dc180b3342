"""Times until an event: events by the calendar, people against events, what is found beside the usual."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy import integrate

from ragwort.designs import NotAttainable, RequestError, answer_request, design_named, settle
from ragwort.figures.shown.events import events_of
from ragwort.rehearsal import Departing, planned, rehearse, stage
from ragwort.stats.survival import chance_of_event, events_by
from ragwort.study.edits import new_aim
from ragwort.study.results.outcome import outcome_of

DESIGN = design_named("survival")
TIMES = {"median1": 12.0, "accrual": 12.0, "follow_up": 12.0}


@pytest.mark.parametrize("times", [(12.0, 6.0, 0.02), (1e-4, 6.0, 0.02), (30.0, 0.0, 0.0), (0.0, 5.0, 0.1)])
def test_the_chance_of_an_event_is_its_integral(times: tuple[float, float, float]) -> None:
    """Over the times of entry, of the chance that the event comes before the end and before a loss."""
    accrual, follow_up, loss = times
    hazard = 0.08

    def seen(watched: float) -> float:
        return hazard / (hazard + loss) * -np.expm1(-(hazard + loss) * watched)

    whole = seen(follow_up) if accrual == 0 else integrate.quad(seen, follow_up, follow_up + accrual)[0] / accrual
    assert float(chance_of_event(hazard, accrual, follow_up, loss)) == pytest.approx(whole, rel=1e-9)
    assert float(events_by(np.array([accrual + follow_up]), hazard, accrual, loss)[0]) == pytest.approx(whole, rel=1e-9)


def test_events_alone_have_the_power_of_the_people_who_have_them() -> None:
    """And need no times; a median of each arm is a hazard ratio."""
    people = settle(DESIGN, "n", {"hazard_ratio": 0.7, **TIMES})
    events = settle(DESIGN, "power", {"hazard_ratio": 0.7, "events": round(people.n_more["events"])})
    assert events.power == pytest.approx(people.power, abs=0.002)
    needed = settle(DESIGN, "events", {"hazard_ratio": 0.7})
    assert needed.answer == np.ceil((1.959964 + 0.841621) ** 2 * 4 / np.log(0.7) ** 2)
    assert settle(DESIGN, "events", {"median1": 14.0, "median2": 20.0}).answer == needed.answer


def test_the_follow_up_found_is_the_shortest() -> None:
    """A little less falls short; where nobody need be watched after the last entry it is 0; too few never reach it."""
    given = {"hazard_ratio": 0.7, "median1": 12.0, "accrual": 12.0, "n": 430}
    found = settle(DESIGN, "follow_up", given)
    assert found.power == pytest.approx(0.8, abs=1e-9)
    assert settle(DESIGN, "power", {**given, "follow_up": found.answer * 0.999}).power < 0.8
    assert settle(DESIGN, "follow_up", {**given, "n": 2000}).answer == 0.0
    with pytest.raises(NotAttainable, match="more people are needed"):
        settle(DESIGN, "follow_up", {**given, "n": 200})


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"accrual": 0.0, "follow_up": 0.0}, "follow_up"),
        ({"accrual": None}, "accrual"),
        ({"median1": None}, "median1"),
        ({"median1": None, "survival1": 0.5}, "time"),
        ({"median1": None, "survival1": 1.0, "time": 12.0}, "survival1"),
        ({"hazard_ratio": 0.0}, "hazard_ratio"),
        ({"hazard_ratio": 1.0}, "hazard_ratio"),
        ({"hazard_ratio": 0.7, "median2": 30.0}, "hazard_ratio"),
    ],
)
def test_bad_times_are_refused_where_they_stand(more: dict[str, Any], field: str) -> None:
    """Each with its field."""
    values = {"hazard_ratio": 0.7, **TIMES, **more}
    given = {name: value for name, value in values.items() if value is not None}
    answer = answer_request({"design": "survival", "find": "n", "assumptions": given})
    assert answer["error"]["field"] == field


def test_the_log_rank_test_has_the_power_computed() -> None:
    """Simulated with losses and unequal entry, and from events alone."""
    for find, given in (
        ("n", {"hazard_ratio": 0.6, "median1": 10.0, "accrual": 6.0, "follow_up": 12.0, "loss": 0.01}),
        ("power", {"hazard_ratio": 0.65, "events": 170}),
    ):
        of = planned(DESIGN, find, given)
        assert rehearse(stage(of, Departing()), seed=3).power == pytest.approx(of.answer.power, abs=0.02)


def test_the_picture_ends_with_the_events_of_the_answer() -> None:
    """Both arms together; nobody has an event before the first entry; later there are more."""
    aim = new_aim(DESIGN, "Relapse")
    answer = outcome_of(aim)
    shown = events_of(aim, answer)  # type: ignore[arg-type]  # it has an answer
    assert float(np.interp(shown.end, shown.x, shown.total)) == pytest.approx(shown.events, rel=1e-3)
    assert shown.total[0] == 0
    assert np.all(np.diff(shown.total) > 0)
    assert "248 events are expected by 24" in shown.says
    assert len(shown.rows()) == len(shown.x) + 1


def test_a_second_share_needs_its_time() -> None:
    """And says so."""
    with pytest.raises(RequestError) as refused:
        settle(DESIGN, "events", {"hazard1": 0.05, "survival2": 0.6})
    assert refused.value.field == "time"


def test_an_effect_is_found_where_the_first_arm_is_a_share_at_a_time() -> None:
    """As where it is a median that says the same."""
    given = {"accrual": 6.0, "follow_up": 24.0, "n": 300}
    by_share = settle(design_named("survival"), "effect", {"survival1": 0.5, "time": 12.0, **given})
    by_median = settle(design_named("survival"), "effect", {"median1": 12.0, **given})
    assert by_share.answer == pytest.approx(by_median.answer, rel=1e-9)
