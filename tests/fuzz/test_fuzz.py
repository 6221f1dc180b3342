"""Anything at all: an answer, or a message in a sentence, in bounded time and memory. `corpus/` has what broke once."""

from __future__ import annotations

import json
import resource
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from ragwort.base.patience import Late, within
from ragwort.demo import sampler_study
from ragwort.designs import all_designs, answer_request
from ragwort.designs.conversions import NAMES, ROUTES, convert
from ragwort.figures.pictures import Scene, picture_of, pictures_for
from ragwort.pilot import READINGS, Data, PilotError, filtered, guessed, read_table
from ragwort.report import report_of
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.differences import differences
from ragwort.study.document.files import StudyFileError, study_from_text, study_text
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Answer, outcome_of, trouble_of
from ragwort.study.words.sentence import plain_text, sentence_of

CORPUS = Path(__file__).parent / "corpus"
MOST_TIME, MOST_MEMORY = 4.0, 3_000_000_000  # seconds; bytes beyond what the process has already
LONGEST = 500  # characters of a message
FUZZ = settings(max_examples=80, suppress_health_check=[HealthCheck.too_slow], deadline=None)

JUNK = st.one_of(
    st.sampled_from([None, True, False, 0, -1, 1, 2, 1e-300, 1e300, -1e300, 5e-324, 10**250, "", "x", "0.5", [], {}]),
    st.floats(allow_nan=False, allow_infinity=False),
    st.integers(-5, 10**7),
    st.lists(st.one_of(st.floats(0, 1), st.integers(-2, 20), st.text(max_size=3)), max_size=4),
    st.text(max_size=8),
)


@contextmanager
def bounded(patience: float = MOST_TIME / 2) -> Iterator[None]:
    """Work inside has to end, or to let itself be stopped after some seconds, in time and memory."""
    soft, hard = resource.getrlimit(resource.RLIMIT_AS)
    has = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (has + MOST_MEMORY, hard))
    started = time.process_time()
    try:
        with within(patience):
            yield
    except Late:
        pass  # long, and could be stopped
    finally:
        resource.setrlimit(resource.RLIMIT_AS, (soft, hard))
    assert time.process_time() - started < MOST_TIME


def is_said(answer: dict[str, Any]) -> None:
    """An answer, or a message that is one sentence or a few."""
    json.dumps(answer, allow_nan=False)
    if "error" in answer:
        assert answer["error"]["field"] is not None
        assert 5 < len(answer["error"]["message"]) <= LONGEST


def requests() -> st.SearchStrategy[dict[str, Any]]:
    """Each design from its starting values, with some taken out, some added, some replaced by anything."""

    def of(design: Any) -> st.SearchStrategy[dict[str, Any]]:
        names = [assumption.name for assumption in design.assumptions]
        start = {**design.starting, "n": 60}
        return st.builds(
            lambda find, gone, odd: {
                "design": design.id,
                "find": find,
                "assumptions": {**{k: v for k, v in start.items() if k not in gone}, **odd},
            },
            st.sampled_from(design.finds),
            st.sets(st.sampled_from(names), max_size=2),
            st.dictionaries(st.sampled_from(names), JUNK, max_size=3),
        )

    return st.sampled_from(all_designs()).flatmap(of)


@FUZZ
@given(requests())
def test_any_request_is_answered_or_refused(request: dict[str, Any]) -> None:
    """Never an exception."""
    with bounded():
        is_said(answer_request(request))


EXTREMES = st.one_of(
    st.sampled_from(
        [0, 1e-300, 1e-9, 0.01, 0.05, 0.3, 0.5, 0.9, 0.999999, 1, 2, 3, 12, 50, 1e4, 1e9, 1e300, -0.5, -1e9]
    ),
    st.floats(0, 1),
    st.floats(1, 1e4),
)


@st.composite
def numbers(draw: st.DrawFn) -> dict[str, Any]:
    """A request in which everything is a number or a choice that there is: ways of one's own, and extreme values."""
    design = draw(st.sampled_from(all_designs()))
    find, given = (
        draw(st.sampled_from(design.finds)),
        {**design.starting, "n": draw(st.sampled_from([5, 37, 128, 10**6]))},
    )

    def state(names: Sequence[str]) -> None:
        for assumption in (design.assumption(name) for name in names):
            if assumption.chosen:
                given[assumption.name] = assumption.value_of(draw(st.sampled_from(assumption.choices)))
            elif not assumption.several:
                value = draw(EXTREMES)
                given[assumption.name] = int(value) if assumption.kind == "count" else value

    for ways in design.ways:
        if draw(st.booleans()):
            for name in {name for way in ways for name in way.names}:
                given.pop(name, None)
            state(draw(st.sampled_from(ways)).names)
    state(draw(st.lists(st.sampled_from([a.name for a in design.assumptions]), max_size=2)))
    unused = design.unused_names(find) - {"direction"}
    return {"design": design.id, "find": find, "assumptions": {k: v for k, v in given.items() if k not in unused}}


@FUZZ
@given(numbers())
def test_whatever_is_found_has_the_power_asked_for(request: dict[str, Any]) -> None:
    """A size at least that, and never a power that is none."""
    with bounded():
        told = answer_request(request)
        is_said(told)
        if "error" not in told and "power" in told:  # of intervals a chance, where one is asked for
            assert 0 <= told["power"] <= 1
            assert request["find"] != "n" or told["power"] >= request["assumptions"].get("power", 0.8) - 1e-9


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_each_assumption_left_out_is_no_fault_of_ours(design: Any) -> None:
    """For every unknown; a required one that is missing is named."""
    start = {**design.starting, **({"clusters": 6} if design.clusters else {"n": 60})}
    for find in design.finds_with(start):
        for gone in start:
            given = {name: value for name, value in start.items() if name != gone}
            with bounded():
                answer = answer_request({"design": design.id, "find": find, "assumptions": given})
                is_said(answer)
                aside = design.unused_names(find) | design.idle_for(given, find)
                needed = design.assumption(gone).required and gone not in aside
                assert answer.get("error", {}).get("field") == gone if needed else True


@FUZZ
@given(st.sampled_from(ROUTES), st.dictionaries(st.sampled_from(sorted(NAMES)), JUNK, max_size=2), st.data())
def test_any_conversion_is_answered_or_refused(route: Any, odd: dict[str, Any], data: st.DataObject) -> None:
    """Each route with anything in it."""
    given = {name: data.draw(st.one_of(st.floats(0.01, 50), st.integers(2, 50), JUNK)) for name in sorted(route.needs)}
    with bounded():
        is_said(convert({"from": {**given, **odd}, "to": route.to}))


def test_what_broke_once_does_not_again() -> None:
    """Requests and conversions kept from earlier faults."""
    for request in json.loads((CORPUS / "requests.json").read_text()):
        with bounded():
            is_said((convert if isinstance(request, dict) and "from" in request else answer_request)(request))


def all_is_shown(text: str) -> None:
    """Refused in a short sentence; or opened, shown, compared and saved."""
    try:
        study = study_from_text(text, "odd.ragwort")
    except StudyFileError as error:
        assert len(str(error)) <= LONGEST
        return
    assert study_from_text(study_text(study), "again").changed(title="") == study.changed(title="")
    for aim in study.aims:
        if not trouble_of(aim):
            plain_text(sentence_of(aim, outcome_of(aim)))
            assert isinstance(outcome_of(aim), Answer) or outcome_of(aim).message
    differences(sampler_study(), study)
    report_of(study)


def test_the_odd_study_is_shown() -> None:
    """With unknown designs, unknown unknowns, values of every wrong type."""
    with bounded():
        all_is_shown((CORPUS / "odd.ragwort").read_text())


DEMO = json.loads(study_text(sampler_study().changed(aims=sampler_study().aims[:4])))


@FUZZ
@given(st.lists(st.tuples(st.lists(st.integers(0, 30), min_size=1, max_size=6), JUNK), min_size=1, max_size=3))
def test_a_study_with_anything_in_any_place_opens_or_is_refused(changes: list[tuple[list[int], Any]]) -> None:
    """Values of the demo study replaced at random."""
    study = json.loads(json.dumps(DEMO))
    for way, junk in changes:
        place: Any = study
        for step in way[:-1]:
            inner = list(place.values()) if isinstance(place, dict) else place
            inner = [each for each in inner if isinstance(each, dict | list) and each]
            place = inner[step % len(inner)] if inner else place
        key = list(place)[way[-1] % len(place)] if isinstance(place, dict) else way[-1] % len(place)
        place[key] = junk
    with bounded():
        all_is_shown(json.dumps(study))


TEXTS = (
    "12", "0.5", "80 %", "8 to 16", "3 : 2", "0", "1", "-4", "1e-300", "9" * 12, "412, 405, 398", "0.5 0.3 0.2", "0.9",
    "20", "150", "2", "50; 60", "0.3 0.2; 0.2 0.3", "0.1 to 0.2", "2 to 3",
)  # fmt: skip


@st.composite
def typed_aims(draw: st.DrawFn) -> Aim:
    """An aim of any design in which somebody typed, moved the flower and chose ways and choices at random."""
    design = draw(st.sampled_from(all_designs()))
    study = Study(aims=(edits.new_aim(design, "Aim 1"),))
    ways = [way for each in (*design.ways, design.sizes) for way in each]
    for _ in range(draw(st.integers(1, 6))):
        name = draw(st.sampled_from(design.assumptions)).name
        aim_id, text = study.aims[0].id, draw(st.sampled_from(TEXTS))
        edit: Callable[[], Edit] = draw(
            st.sampled_from(
                (
                    partial(edits.type_value, study, aim_id, name, text),
                    partial(edits.type_range, study, aim_id, name, text),
                    partial(edits.move_flower, study, aim_id, draw(st.sampled_from(design.finds))),
                    partial(edits.choose_way, study, aim_id, draw(st.sampled_from(ways))),
                )
            )
        )
        study = edit().study
    return study.aims[0]


@settings(FUZZ, max_examples=20)
@given(typed_aims())
def test_every_picture_of_whatever_was_typed_is_made_or_can_be_stopped(aim: Aim) -> None:
    """No fault, no number that is none."""
    with bounded():
        answer = outcome_of(aim)
    if isinstance(answer, Answer):
        for name in pictures_for(answer):
            with bounded(0.3):
                picture = picture_of(name, Scene(aim, answer))
                assert "nan" not in " ".join(picture.foot.split())


CELL = st.one_of(
    st.sampled_from(["", "NA", "1,5", "1.234", "2.5", "1 234,5", "yes", "no", "a", "b", "²", "9" * 400, '"', "−3"]),
    st.floats(-100, 100).map(str),
    st.text(max_size=4),
)


@FUZZ
@given(st.lists(st.lists(CELL, min_size=1, max_size=5), min_size=1, max_size=12), st.sampled_from(",;\t|"))
def test_any_text_file_is_read_or_refused(tmp_path_factory: Any, rows: list[list[str]], sign: str) -> None:
    """And every way to read it gives numbers, or says what is wrong."""
    path = tmp_path_factory.getbasetemp() / "fuzz.csv"
    path.write_text("\n".join(sign.join(row) for row in rows), encoding="utf-8", errors="replace")
    with bounded():
        try:
            data = Data(read_table(path))
        except PilotError as error:
            assert len(str(error)) <= LONGEST
            return
        assert data.columns
        for reading in READINGS.values():
            try:
                whole = filtered(data)
                reading.read(whole, guessed(reading, whole))
            except PilotError as error:
                assert len(str(error)) <= LONGEST


@FUZZ
@given(st.binary(max_size=300), st.sampled_from(["p.csv", "p.txt"]))
def test_any_bytes_are_read_or_refused(tmp_path_factory: Any, content: bytes, name: str) -> None:
    """Whatever their encoding."""
    path = tmp_path_factory.getbasetemp() / name
    path.write_bytes(content)
    with bounded():
        try:
            assert Data(read_table(path)).columns
        except PilotError as error:
            assert len(str(error)) <= LONGEST
