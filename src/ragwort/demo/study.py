"""Night-shift lighting: does a brighter break room help hospital staff through the night? A study that could be run.

One primary aim, two secondary ones and a safety aim, served by one recruitment to two groups. All invented.
"""

from __future__ import annotations

from ragwort.demo.stated import given, with_statements
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Scenario, Words
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Grid, Steer, Varied
from ragwort.study.document.study_wide import Resources

_STAFF = {"one": "member of staff", "many": "staff"}
_ROOMS = ("usual lighting", "brighter lighting")
_PILOT, _ROTA = "pilot of 60 nights", "rota of the last winter"
_ANALYSED = 128  # for the primary aim, as it stands now; the other aims have as many


def demo_study() -> Study:
    """The study, signed off once and amended since. Ids are fixed, so that two runs write the same file."""
    study = with_statements(
        _planned(),
        kind="randomised",
        analysis_set="all who were allocated, as allocated; the difference whatever happens after allocation",
        missing="multiple imputation by group, assuming that outcomes are missing at random",
        interim="none planned",
        author="A. Marsh",
        version="1.0",
        date="2 March 2026",
        screened="36",
        eligible="24",
        consenting="16",
    )
    signed = edits.sign_off(study, "A. Marsh and the ward managers", "2 March 2026").study
    reaction = signed.aim("reaction")
    scatter = given(24, (20, 28), _PILOT)
    amended = signed.with_aim(reaction.changed(entries=reaction.entries | {"sd": scatter}))
    return _with_scenarios(with_statements(amended, version="1.1", date="20 April 2026"))


def _with_scenarios(study: Study) -> Study:
    """With what else the primary aim could have assumed."""
    aim = study.aim("reaction")
    other: tuple[tuple[str, str, dict[str, float]], ...] = (
        ("cautious", "Cautious SD", {"sd": 28}),
        ("smaller", "Difference 10 ms", {"difference": -10}),
        ("surer", "Power 90%", {"power": 0.9}),
    )
    kept = tuple(
        Scenario(
            id=scenario_id,
            name=name,
            entries=aim.entries | {key: aim.entries[key].changed(value=value) for key, value in changes.items()},
        )
        for scenario_id, name, changes in other
    )
    return study.with_aim(aim.changed(scenarios=kept))


def _planned() -> Study:
    study = Study(
        title="Night-shift lighting",
        background=(
            "Staff on night shifts react more slowly towards the morning. Half of them take their breaks in a room "
            "with brighter lighting for six weeks, and are compared with those who take them under the usual lighting."
        ),
        limit=160,
        resources=Resources(centres=1, per_month=12, months=14),
        aims=(_reaction_time(), _alertness(), _sleepiness(), _headaches()),
    )
    return edits.choose_plan(study, "order").study


def _words(outcome: str, unit: str = "") -> Words:
    return Words(outcome=outcome, unit=unit, names={"groups": _ROOMS}, **_STAFF)


def _reaction_time() -> Aim:
    entries = {
        "difference": given(
            -12,
            (-16, -8),
            "an agreement of the ward managers before the pilot",
            "12 ms is about what one cup of coffee buys in our staff's own tests",
        ),
        "sd": given(22, (20, 28), "the first 30 nights of the pilot"),
        "power": given(0.8),
        "dropout": given(0.1, (0.05, 0.2), _ROTA),
    }
    return Aim(
        id="reaction",
        name="Reaction time",
        design="two-means",
        words=_words("reaction time at 4 am", "ms"),
        time_point="six weeks after allocation",
        planned_on="worthwhile",
        entries=entries,
        pictures={"Map": Steer(x="difference", y="n"), "Spread": Steer()},
        grid=Grid(
            varied=(Varied(name="difference", text="\u221216 to \u22128 by 2"), Varied(name="sd", text="20, 24, 28"))
        ),
    )


def _alertness() -> Aim:
    entries = {
        "difference": given(1.1, (0.8, 1.4), _PILOT, "a point is the step that staff name when they feel more awake"),
        "sd": given(2.2, (1.9, 2.6), _PILOT),
        "n": given(_ANALYSED),
        "dropout": given(0.1, (0.05, 0.2), _ROTA),
    }
    return Aim(
        id="alertness",
        name="Alertness",
        design="two-means",
        role="secondary",
        find="power",
        words=_words("alertness rating", "points"),
        time_point="six weeks after allocation",
        entries=entries,
    )


def _sleepiness() -> Aim:
    entries = {
        "proportion1": given(0.5, (0.4, 0.6), _PILOT),
        "proportion2": given(0.25, (0.2, 0.35), "the occupational physician", "half as many would change the rota"),
        "n": given(_ANALYSED),
        "dropout": given(0.1, (0.05, 0.2), _ROTA),
    }
    return Aim(
        id="sleepy",
        name="Sleepy at 4 am",
        design="two-proportions",
        role="secondary",
        find="power",
        words=_words("sleepiness at 4 am"),
        time_point="in the last week",
        entries=entries,
        pictures={"Split": Steer(y="cost", costs={"cost_1": 1.0, "cost_2": 3.0})},
    )


def _headaches() -> Aim:
    entries = {
        "proportion1": given(0.1, (0.05, 0.15), "sick leave of the last two years"),
        "proportion2": given(0.1, (0.08, 0.14), "the same, as no difference is expected"),
        "hypothesis": given("non-inferiority"),
        "margin": given(
            0.15, None, "an agreement with the works council", "up to 15 points more would be borne for the gain"
        ),
        "better": given("lower"),
        "n": given(_ANALYSED),
        "dropout": given(0.1, (0.05, 0.2), _ROTA),
    }
    return Aim(
        id="headache",
        name="Headaches",
        design="two-proportions",
        role="exploratory",
        find="power",
        words=_words("headache"),
        time_point="in the last week",
        entries=entries,
    )
