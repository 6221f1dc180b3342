"""A second sampler of designs: margins, ranks, counts and times. All invented."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ragwort.study.document.aim import Aim, Entry, Words
from ragwort.study.document.model import Study

_STAFF = {"one": "member of staff", "many": "staff"}
_ROOMS = ("usual lighting", "brighter")
_LOGS, _NIGHTS = "the wards' logs of two years", "pilot of 60 nights"
_DOUBTS: Mapping[str, Mapping[str, tuple[float, float, str]]] = {  # by aim: plausible ends, and where they come from
    "Cheaper lamp": {"sd": (20, 28, _NIGHTS), "dropout": (0.05, 0.2, "rota of the last winter")},
    "Same cortisol": {"mean_ratio": (0.93, 1.02, "a study of morning light"), "cv": (0.2, 0.3, "the laboratory")},
    "Staying on nights": {"hazard_ratio": (0.5, 0.7, "smallest worthwhile"), "median1": (24, 36, "staff records")},
    "Near misses a year": {"rate1": (1.1, 1.7, _LOGS), "dispersion": (0.2, 0.8, _LOGS)},
    "Falls against the norm": {"rate": (0.1, 0.14, "first half year")},
    "Nap before and after": {"proportion10": (0.2, 0.3, _NIGHTS), "proportion01": (0.05, 0.15, _NIGHTS)},
    "Who leaves": {"odds_ratio": (1.3, 1.8, "smallest worthwhile"), "probability": (0.2, 0.3, "staff records")},
    "Sleepiness scale": {"rmsea": (0.07, 0.09, "the scale's handbook")},
}


def second_sampler_study() -> Study:
    """The study with its aims. Ids are fixed, so that two runs write the same file."""
    return Study(
        title="A year of brighter nights",
        background=(
            "The brighter break room stays for a year. Is a cheaper lamp as good, do staff stay well and safe, and "
            "what of the morning after?"
        ),
        aims=(*_margins(), *_counts_and_times(), *_ordered()),
    )


def _aim(name: str, design: str, words: Mapping[str, Any], names: Mapping[str, tuple[str, ...]], **values: Any) -> Aim:
    """An aim with the usual power and dropout beside these values, and what is plausible of them."""
    given = {"power": 0.8, "dropout": 0.1, **values}
    entries = {each: Entry(value=value) for each, value in given.items()}
    for each, (low, high, source) in _DOUBTS.get(name, {}).items():
        entries[each] = Entry(value=given[each], low=low, high=high, source=source)
    own = Words(**words, names=dict(names))
    return Aim(id=name.lower().replace(" ", "-"), name=name, design=design, find="n", entries=entries, words=own)


def _margins() -> tuple[Aim, ...]:
    lamps = {"groups": ("the usual lamp", "the cheaper lamp")}
    times = {**_STAFF, "outcome": "reaction time at 4 am", "unit": "ms"}
    cortisol = {**_STAFF, "outcome": "morning cortisol"}
    treatments = {"conditions": ("usual lighting", "brighter lighting")}
    return (
        _aim(
            "Cheaper lamp",
            "two-means",
            times,
            lamps,
            difference=0,
            sd=24,
            hypothesis="non-inferiority",
            margin=6,
            better="lower",
        ),
        _aim(
            "Same cortisol",
            "crossover-means",
            cortisol,
            treatments,
            scale="log",
            hypothesis="equivalence",
            mean_ratio=0.97,
            cv=0.25,
            margin_low=0.8,
            margin_high=1.25,
        ),
    )


def _counts_and_times() -> tuple[Aim, ...]:
    rooms = {"groups": _ROOMS}
    stay = {**_STAFF, "outcome": "time until leaving night work", "unit": "months"}
    misses = {**_STAFF, "outcome": "near misses", "unit": "years"}
    return (
        _aim("Staying on nights", "survival", stay, rooms, hazard_ratio=0.6, median1=30, accrual=6, follow_up=24),
        _aim("Near misses a year", "two-rates", misses, rooms, rate1=1.4, rate2=1.0, exposure=1, dispersion=0.4),
        _aim(
            "Falls against the norm",
            "one-rate",
            {**_STAFF, "outcome": "falls", "unit": "years"},
            {"reference": ("the hospital's rate",)},
            rate=0.12,
            null_rate=0.2,
            exposure=1,
        ),
    )


def _ordered() -> tuple[Aim, ...]:
    awake = {"one": "pair of nights", "many": "pairs of nights", "outcome": "a nap at 4 am"}
    return (
        _aim(
            "Nap before and after",
            "paired-proportions",
            awake,
            {"conditions": ("usual lighting", "brighter lighting")},
            proportion10=0.25,
            proportion01=0.1,
        ),
        _aim(
            "Sleepiness in five steps",
            "rank-sum",
            {**_STAFF, "outcome": "sleepiness"},
            {"groups": _ROOMS},
            proportions1=[0.1, 0.2, 0.3, 0.25, 0.15],
            proportions2=[0.2, 0.27, 0.28, 0.16, 0.09],
        ),
        _aim(
            "More light more awake",
            "trend-proportions",
            {**_STAFF, "outcome": "awake at the wheel"},
            {"groups": ("300 lux", "600 lux", "1200 lux")},
            proportions=[0.8, 0.87, 0.93],
            scores=[0, 1, 2],
        ),
        _aim(
            "Who leaves",
            "logistic",
            {**_STAFF, "outcome": "leaving night work"},
            {},
            probability=0.25,
            odds_ratio=1.5,
            r_squared_predictors=0.1,
        ),
        _aim(
            "Sleepiness scale",
            "model-fit",
            {**_STAFF, "outcome": "answers to twelve questions"},
            {},
            rmsea=0.08,
            observed=12,
            parameters=27,
        ),
    )
