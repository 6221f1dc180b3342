"""Small examples in the world of the lighting studies: one design each, a study of its own. All invented."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.demo.sampler import sampler_study
from ragwort.demo.second_sampler import second_sampler_study
from ragwort.designs import Design, design_named
from ragwort.study.document.aim import Aim, Entry, Words
from ragwort.study.document.files import SUFFIX, file_name
from ragwort.study.document.model import Study

_ABOUT = "An example from the world of the lighting study: one design, with invented values."


@dataclass(frozen=True)
class Example:
    """A study of one aim, and what it is found by."""

    study: Study
    design: str  # the title of its design
    known_as: tuple[str, ...]  # as Choose searches it

    @property
    def label(self) -> str:
        """`Both rooms, the same staff (Paired means: t test)`."""
        return f"{self.study.title} ({self.design})"

    @property
    def file(self) -> str:
        """What its file is called."""
        return f"{file_name(self.study)}{SUFFIX}"


def examples() -> tuple[Example, ...]:
    """All of them, in the order of the samplers."""
    aims = (*sampler_study().aims, *second_sampler_study().aims, *_further())
    found = []
    for aim in aims:
        design = design_named(aim.design)
        study = Study(title=aim.name, background=_ABOUT, aims=(aim,))
        found.append(Example(study, design.title, design.known_as))
    return tuple(found)


_FURTHER = {  # of designs that no sampler has: what the aim is called, the outcome, its unit
    "one-mean": ("Sleep against the norm", "hours slept after a night", "hours"),
    "signed-rank": ("Sleepiness before and after", "change in sleepiness", "points"),
    "ancova": ("Reaction time, adjusted for age", "reaction time at 4 am", "ms"),
    "anova-contrast": ("More light, faster", "reaction time at 4 am", "ms"),
    "two-variances": ("Steadier reactions", "reaction time at 4 am", "ms"),
    "one-variance": ("Scatter of a new timer", "reaction time of the timer", "ms"),
    "chi-square-fit": ("Which break is taken", "break that is taken", ""),
    "two-correlations": ("Age and alertness in two rooms", "alertness rating", "points"),
    "regression-overall": ("What explains alertness", "alertness rating", "points"),
    "precision-mean": ("How long naps are", "length of a nap", "min"),
    "precision-two-means": ("How much faster with more light", "reaction time at 4 am", "ms"),
    "precision-proportion": ("How many nap at work", "a nap during the shift", ""),
    "precision-two-proportions": ("How many fewer headaches", "a headache after the shift", ""),
    "regression-coefficient": ("Does light explain alertness", "alertness rating", "points"),
}


def _further() -> list[Aim]:
    """One aim of each, with the values that a new aim of its design starts from."""
    found = []
    for design_id, (name, outcome, unit) in _FURTHER.items():
        design = design_named(design_id)
        values = {"power": 0.8, "dropout": 0.1, **design.starting}
        entries = {key: Entry(value=value) for key, value in values.items()}
        words = Words(one="member of staff", many="staff", outcome=outcome, unit=unit, names=_named(design))
        found.append(Aim(id=design_id, name=name, design=design_id, words=words, entries=entries))
    return found


def _named(design: Design) -> dict[str, tuple[str, ...]]:
    return {"groups": ("usual lighting", "brighter lighting")} if len(design.group_words) == 2 else {}
