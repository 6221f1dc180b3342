"""A limit: the largest design under it, the ways out above it and the room below, each checked against the core."""

from __future__ import annotations

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import Answer, answer_request, design_named
from ragwort.designs.sizes import Enrolment
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.results.limits import Out, largest_under, room, said_of, ways_out
from ragwort.study.results.outcome import outcome_of, request_of, to_enrol

AIMS = [aim.id for aim in sampler_study().aims]


def answered(aim: Aim) -> Answer:
    outcome = outcome_of(aim)
    assert isinstance(outcome, Answer)
    return outcome


def checked(aim: Aim, out: Out) -> dict[str, object]:
    """What the core answers where the scenario that the way out is kept as is asked by itself."""
    study = edits.keep_values(sampler_study().with_aim(aim), aim.id, out.values, out.way.find, "Out").study
    kept = study.aim(aim.id).scenarios[-1]
    answer = answer_request(request_of(design_named(aim.design), kept))
    assert "error" not in answer
    return answer


@pytest.mark.parametrize("aim_id", AIMS)
@pytest.mark.parametrize("share", [0.6, 0.8])
def test_each_way_out_is_what_the_core_answers(aim_id: str, share: float) -> None:
    """For every aim of the demo: no alpha is raised, the number falls, and what is said to fit does."""
    aim = sampler_study().aim(aim_id)
    before = answered(aim)
    limit = int(to_enrol(before) * share)
    outs = ways_out(aim, before, limit)
    assert {"effect", "power"} <= {out.way.name for out in outs}
    for out in outs:
        answer = checked(aim, out)
        enrolled = sum(answer["n"].get("enrol") or answer["n"]["groups"])
        assert "alpha" not in out.values
        assert to_enrol(out.answer) < to_enrol(before)
        assert enrolled <= to_enrol(out.answer) + len(out.answer.groups)
        assert out.fits == (to_enrol(out.answer) <= limit)
        assert answer["answer"] == pytest.approx(out.answer.answer, rel=1e-9)
        assert answer["power"] == pytest.approx(out.answer.power, abs=1e-9)


@pytest.mark.parametrize("aim_id", AIMS)
def test_the_largest_design_under_a_limit(aim_id: str) -> None:
    """One step more would enrol too many; none below the smallest design."""
    aim = sampler_study().aim(aim_id)
    answer = answered(aim)
    for limit in (to_enrol(answer), to_enrol(answer) + 37, 1000):
        groups = largest_under(aim, answer, limit)
        assert groups is not None
        assert limit - 2 * answer.total < sum(Enrolment(0.1).people(groups)) <= limit
        more = largest_under(aim, answer, limit + 1)
        assert more is not None
        assert sum(more) >= sum(groups)
    assert largest_under(aim, answer, 1) is None


def test_where_there_is_room_it_buys_power_or_a_smaller_effect() -> None:
    """And nothing where there is none, or where something else is found."""
    aim = sampler_study().aim("reaction")
    answer = answered(aim)
    bought = {out.way.name: out for out in room(aim, answer, 240)}
    assert set(bought) == {"effect", "power"}
    assert bought["power"].answer.power > 0.94
    assert float(bought["effect"].answer.answer) < 12
    assert bought["power"].says.startswith("95.5")
    assert room(aim, answer, 144) == ways_out(aim, answer, 144) == []
    assert said_of(aim, answer, 144, []) == "As many are available as are needed: 144 staff."
    assert said_of(aim, answer, 145, []) == "1 member of staff more are available than are needed."
    assert said_of(aim, answer, 143, []) == "144 staff to be recruited are 1 more than available."
    given = edits.move_flower(sampler_study(), "reaction", "power").study.aim("reaction")
    assert ways_out(given, answered(given), 10) == room(given, answered(given), 1000) == []


def test_designs_declare_their_own() -> None:
    """Equal groups, smaller clusters, more measurements; one side where the test has two."""
    study = sampler_study()
    names = {
        aim.id: {out.way.name for out in ways_out(aim, answered(aim), int(0.8 * to_enrol(answered(aim))))}
        for aim in study.aims
    }
    assert names["reaction"] == {"effect", "power", "one-sided"}
    assert names["misses"] == {"effect", "power", "one-sided", "smaller-clusters"}
    assert names["weeks"] == {"effect", "power", "more-measurements"}
    aim = study.aim("reaction")
    uneven = aim.changed(entries={**aim.entries, "ratio": Entry(value=3)})
    outs = {out.way.name: out for out in ways_out(uneven, answered(uneven), 120)}
    assert outs["equal"].values == {"ratio": 1}
    assert to_enrol(outs["equal"].answer) == 144
    assert not outs["equal"].fits
