"""A year of brighter nights: wards get brighter break rooms for a year. A cluster-randomised study. All invented."""

from __future__ import annotations

from ragwort.demo.stated import given, with_statements
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry, Words
from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Resources

_STAFF = {"one": "member of staff", "many": "staff", "clusters": "wards"}
_ROOMS = ("usual lighting", "brighter lighting")
_WARDS = 7  # per arm, for the primary aim as it stands now; the other aims have as many
_LIKENESS = "that of errors in the same wards before"
_LOGS, _LISTS = "the wards' logs of two years", "staff lists of the hospital"


def second_demo_study() -> Study:
    """The study, signed off once and amended since. Ids are fixed, so that two runs write the same file."""
    study = with_statements(
        _planned(),
        kind="cluster-randomised",
        analysis_set="all wards that were allocated, as allocated; staff who leave count until they leave",
        missing="wards' logs are complete; staff without a log are left out",
        committee="the data monitoring committee of the hospital",
        author="A. Marsh",
        version="1.0",
        date="1 June 2026",
        screened="120",
        eligible="90",
        consenting="60",
    )
    signed = edits.sign_off(study, "A. Marsh and the nursing board", "1 June 2026").study
    icc = given(0.03, (0.01, 0.06), f"{_LOGS}, read again ward by ward", _LIKENESS)
    aims = tuple(aim.changed(entries=aim.entries | {"icc": icc}) for aim in signed.aims)
    amended = signed.changed(aims=aims)
    return with_statements(amended, version="1.1", date="10 August 2026")


def _planned() -> Study:
    study = Study(
        title="A year of brighter nights",
        background=(
            "The brighter break room stays for a year. Whole wards are allocated to it or to the usual lighting, as "
            "the staff of one ward share a room."
        ),
        limit=420,
        resources=Resources(clusters=20, centres=1, per_month=60, months=8),
        aims=(_errors(), _misses(), _leaving()),
    )
    return edits.choose_plan(study, "order").study


def _clusters(**more: Entry) -> dict[str, Entry]:
    return {
        "icc": given(0.02, (0.01, 0.06), _LOGS, _LIKENESS),
        "cluster_size": given(18, (15, 20), _LISTS),
        "cluster_size_cv": given(0.2, (0.1, 0.4), _LISTS),
        "dropout": given(0.1, (0.05, 0.2), "the rota of the last winter"),
        "cluster_loss": given(0.05, (0.0, 0.1), "wards that were closed in the last five years"),
        **more,
    }


def _errors() -> Aim:
    entries = _clusters(
        difference=given(
            -2.0, (-2.6, -1.6), "an agreement of the nursing board", "two errors fewer a month is one less a week"
        ),
        sd=given(4.0, (3.5, 4.6), _LOGS),
        power=given(0.8),
        fractions=given([0.5, 1], source="an agreement with the data monitoring committee"),
    )
    return Aim(
        id="errors",
        name="Errors logged",
        design="cluster-means",
        planned_on="worthwhile",
        words=Words(outcome="errors logged", unit="errors", names={"groups": _ROOMS}, **_STAFF),
        time_point="in the twelfth month",
        entries=entries,
    )


def _misses() -> Aim:
    entries = _clusters(
        proportion1=given(0.45, (0.38, 0.5), _LOGS),
        proportion2=given(0.23, (0.18, 0.3), "the pilot ward", "half as many, as in the pilot ward"),
        clusters=given(_WARDS),
    )
    return Aim(
        id="misses",
        name="Near misses",
        design="cluster-proportions",
        role="secondary",
        find="power",
        words=Words(outcome="near misses", names={"groups": _ROOMS}, **_STAFF),
        time_point="in the twelfth month",
        entries=entries,
    )


def _leaving() -> Aim:
    entries = _clusters(
        proportion1=given(0.12, (0.08, 0.18), _LISTS),
        power=given(0.8),
        clusters=given(_WARDS),
    )
    return Aim(
        id="leaving",
        name="Leaving night work",
        design="cluster-proportions",
        role="exploratory",
        find="effect",
        words=Words(outcome="leaving night work", names={"groups": _ROOMS}, **_STAFF),
        time_point="within the year",
        entries=entries,
    )
