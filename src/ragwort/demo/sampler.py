"""A sampler of designs in one study: no study could have all of them together, each is an example. All invented."""

from __future__ import annotations

from typing import Any

from ragwort.study.document.aim import Aim, Entry, Scenario, Words
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Grid, Steer, Varied

_STAFF = {"one": "member of staff", "many": "staff"}
_ROOMS = ("brighter", "usual lighting")
_WEEKS = tuple(f"week {number}" for number in range(1, 7))
_DRINKS = {
    "variables": ("choice of drink", "lighting"),
    "columns": ("coffee", "tea", "water"),
    "rows": _ROOMS,
}


def sampler_study() -> Study:
    """A study of thirteen designs, one aim each, with kept scenarios. Ids are fixed, so two runs write the same."""
    return Study(
        title="Night-shift lighting",
        background=(
            "Staff on night shifts react more slowly towards the morning. One ward's break room gets brighter "
            "lighting for six weeks, and its staff are compared with staff who take breaks under the usual lighting."
        ),
        limit=240,
        aims=tuple(_with_pictures(aim) for aim in (_reaction_time(), _alertness(), *_further_aims())),
    )


def _with_pictures(aim: Aim) -> Aim:
    """With what its pictures are asked to show, as far as that was thought about."""
    asked = {
        "reaction": {"Map": Steer(x="difference", y="n"), "Spread": Steer()},
        "sleepy": {"Split": Steer(y="cost", costs={"cost_1": 1.0, "cost_2": 3.0})},
        "errors": {"Curve": Steer(y="n", x="icc")},
    }
    return aim.changed(pictures=asked.get(aim.id, {}))


def _reaction_time() -> Aim:
    entries = {
        "difference": Entry(
            value=12,
            low=8,
            high=16,
            source="smallest worthwhile difference",
            note="12 ms is about what one cup of coffee buys in our staff's own tests.",
        ),
        "sd": Entry(value=24, low=20, high=28, source="pilot of 60 nights"),
        "alpha": Entry(value=0.05),
        "sides": Entry(value="two"),
        "power": Entry(value=0.8),
        "ratio": Entry(value=1),
        "dropout": Entry(value=0.1, low=0.05, high=0.2, source="rota of the last winter"),
    }
    return Aim(
        id="reaction",
        name="Reaction time",
        design="two-means",
        words=Words(outcome="reaction time at 4 am", unit="ms", names={"groups": _ROOMS}, **_STAFF),
        entries=entries,
        scenarios=(
            _kept("cautious", "Cautious SD", entries, sd=28),
            _kept("smaller", "Difference 10 ms", entries, difference=10),
            _kept("surer", "Power 90%", entries, power=0.9),
        ),
        grid=Grid(varied=(Varied(name="difference", text="8 to 16 by 2"), Varied(name="sd", text="20, 24, 28"))),
    )


def _kept(scenario_id: str, name: str, entries: dict[str, Entry], **changes: Any) -> Scenario:
    kept = {key: entries[key].changed(value=value) for key, value in changes.items()}
    return Scenario(id=scenario_id, name=name, entries={**entries, **kept})


def _alertness() -> Aim:
    return Aim(
        id="alertness",
        name="Alertness after six weeks",
        design="two-means",
        words=Words(outcome="alertness rating", unit="points", names={"groups": _ROOMS}, **_STAFF),
        entries={
            "mean1": Entry(value=6.4, source="pilot of 60 nights"),
            "mean2": Entry(value=5.5, source="pilot of 60 nights"),
            "sd1": Entry(value=1.7, low=1.5, high=2.0, source="pilot of 60 nights"),
            "sd2": Entry(value=2.2, low=1.9, high=2.6, source="pilot of 60 nights"),
            "alpha": Entry(value=0.05),
            "sides": Entry(value="two"),
            "power": Entry(value=0.9),
            "ratio": Entry(value=1),
            "dropout": Entry(value=0.1, low=0.05, high=0.2, source="rota of the last winter"),
        },
    )


def _further_aims() -> tuple[Aim, ...]:
    """One aim for each further kind of comparison."""
    shifts = Words(
        one="pair of shifts",
        many="pairs of shifts",
        outcome="reaction time at 4 am",
        unit="ms",
        names={"conditions": _ROOMS},
    )
    return (
        _aim("crossover", "Both rooms, the same staff", "paired-means", shifts, difference=6, sd_difference=20),
        _aim(
            "weeks",
            "Alertness week by week",
            "anova-repeated",
            Words(outcome="alertness rating", names={"groups": _ROOMS, "times": _WEEKS}, **_STAFF),
            f=0.1,
            groups=2,
            measurements=6,
            correlation=0.6,
            term="interaction",
        ),
        _aim(
            "kinds",
            "Three kinds of lighting",
            "anova-one-way",
            _reaction(groups=("usual", "daylight", "brighter")),
            means=[412, 405, 398],
            sd=24,
            groups=3,
        ),
        _aim(
            "caffeine",
            "Lighting and caffeine",
            "anova-factorial",
            _reaction(factors=("lighting", "caffeine"), levels1=_ROOMS, levels2=("coffee", "none")),
            f=0.25,
            levels=[2, 2],
            term=[1, 2],
        ),
        _aim(
            "age",
            "Age and reaction time",
            "correlation",
            _reaction(variables=("age", "reaction time at 4 am")),
            rho=0.25,
        ),
        _aim(
            "chronotype",
            "Does chronotype moderate?",
            "regression-added",
            _reaction(),
            f_squared=0.06,
            tested=Entry(value=1, terms="chronotype × room"),
            predictors=Entry(value=6, terms="age, caffeine, chronotype, room, caffeine × room, chronotype × room"),
        ),
        _aim("sleepy", "Sleepy at 4 am", "two-proportions", _yes("sleepy at 4 am"), proportion1=0.5, proportion2=0.3),
        _aim(
            "awake",
            "Awake at the wheel",
            "one-proportion",
            _yes("driving home without nodding off").changed(names={"reference": ("last winter's proportion",)}),
            proportion=0.92,
            null_proportion=0.85,
        ),
        _aim(
            "errors",
            "Errors logged by ward",
            "cluster-means",
            Words(
                outcome="errors logged in a month",
                unit="errors",
                clusters="wards",
                names={"groups": _ROOMS[::-1], "strata": ("small wards", "medium wards", "large wards")},
                **_STAFF,
            ),
            difference=-2.6,
            sd=4,
            icc=0.03,
            strata=[
                {"share": 0.2, "mean_size": 8, "sd_size": 2},
                {"share": 0.45, "mean_size": 18, "sd_size": 4},
                {"share": 0.35, "mean_size": 34, "sd_size": 9},
            ],
        ),
        _aim(
            "misses",
            "Near misses by ward",
            "cluster-proportions",
            Words(outcome="near miss in a month", clusters="wards", names={"groups": _ROOMS[::-1]}, **_STAFF),
            proportion1=0.45,
            proportion2=0.18,
            icc=0.03,
            cluster_size=18,
        ),
        _aim(
            "drinks",
            "Choice of drink",
            "chi-square-table",
            Words(outcome="drink chosen at 4 am", names=_DRINKS, **_STAFF),
            table=[[0.12, 0.2, 0.18], [0.22, 0.18, 0.1]],
        ),
    )


def _reaction(**names: tuple[str, ...]) -> Words:
    return Words(outcome="reaction time at 4 am", unit="ms", names=names, **_STAFF)


def _yes(outcome: str) -> Words:
    return Words(outcome=outcome, names={"groups": _ROOMS[::-1]}, **_STAFF)


def _aim(aim_id: str, name: str, design: str, words: Words, **values: Any) -> Aim:
    entries = {key: value if isinstance(value, Entry) else Entry(value=value) for key, value in values.items()}
    entries |= {"alpha": Entry(value=0.05), "power": Entry(value=0.8), "dropout": Entry(value=0.1)}
    return Aim(id=aim_id, name=name, design=design, words=words, entries=entries)
