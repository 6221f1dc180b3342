"""Any design in any world: rehearsed, or refused with a reason; never a crash, a warning or a number that is none."""

from __future__ import annotations

import warnings
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from ragwort.demo import sampler_study
from ragwort.designs import Design, RequestError, all_designs
from ragwort.rehearsal import rehearse, stage
from ragwort.rehearsal.dataset import data_set
from ragwort.rehearsal.departures import read
from ragwort.rehearsal.departures.outcomes import SHAPES
from ragwort.rehearsal.of_aim import planned_of
from ragwort.sheet.allocation import SheetError
from ragwort.sheet.layout import sheet_of
from ragwort.study.document.aim import Aim, Entry

ODD = st.sampled_from([0.001, 0.5, 1, 3, -2, 0.9, 50, 1e4, 0.0])
NUMBERS = ("number", "measured", "share", "rate", "ratio")
WORLD: dict[str, st.SearchStrategy[Any]] = {
    "lost": st.sampled_from([0, 0.5, 0.95, 0.999]),
    "related": st.sampled_from(["high", "low"]),
    "shape": st.sampled_from([choice.value for choice in SHAPES]),
    "idle": st.sampled_from([0, 0.5, 1]),
    "apart": st.sampled_from([0.01, 3, 100]),
    "alike": st.sampled_from([0, 0.5, 5]),
    "cv": st.sampled_from([0, 0.5, 3]),
    "effect": st.just("none"),
}
PEOPLE = 5_000  # of a study that is still quick


@st.composite
def aims(draw: st.DrawFn) -> Aim:
    """An aim of any design, some of its numbers odd."""
    design: Design = draw(st.sampled_from(all_designs()))
    names = [each.name for each in design.assumptions if each.kind in NUMBERS]
    odd = draw(st.dictionaries(st.sampled_from(names), ODD, max_size=3))
    entries = {name: Entry(value=value) for name, value in {**design.starting, **odd}.items()}
    return Aim(design=design.id, entries=entries)


@given(aim=aims(), asked=st.fixed_dictionaries({}, optional=WORLD), seed=st.integers(0, 2**40))
@settings(max_examples=60, deadline=None)
def test_any_design_in_any_world(aim: Aim, asked: dict[str, Any], seed: int) -> None:
    """What can be had has a power between 0 and 1, a data set and a sheet."""
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        try:
            of = planned_of(aim)
            if of.answer.total > PEOPLE:
                return
            staged = stage(of, read(asked, of))
        except RequestError as error:
            assert error.message
            return
        found = rehearse(staged, 120, seed)
        assert 0 <= found.power <= 1
        assert found.undone <= 120
        assert "nan" not in data_set(of, staged, aim, 3, 120, seed).words
        try:
            assert sheet_of(sampler_study(), aim).rows
        except SheetError as error:
            assert str(error)
