"""The demo study worked through without a window: file, answers, pictures, reports."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

from ragwort.demo.examples import examples
from ragwort.demo.half_way import half_way_csv
from ragwort.demo.pilot import pilot_csv
from ragwort.demo.second import second_demo_study
from ragwort.demo.study import demo_study
from ragwort.designs import Answer, answer_request, design_named
from ragwort.figures.export import picture_bytes
from ragwort.figures.pictures import Scene, picture_of, pictures_for
from ragwort.files import FileError, write_whole
from ragwort.report import REPORT_FORMATS, report_bytes
from ragwort.study.document.files import SUFFIX, write_study
from ragwort.study.results.outcome import outcome_of, request_of
from ragwort.study.results.resources import limit_of
from ragwort.study.words.sentence import plain_text, sentence_of, size_remark


def work_through(folder: Path) -> Iterator[str]:
    """Write everything to `folder`, telling what was found and written. Raises `FileError`."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError(f"{folder} cannot be made: {error.strerror}.") from error
    study = demo_study()
    path = folder / f"night-shift-lighting{SUFFIX}"
    write_study(study, path)
    yield f"{study.title}: {path}"
    second = second_demo_study()
    another = folder / f"a-year-of-brighter-nights{SUFFIX}"
    write_study(second, another)
    yield f"{second.title}: {another}"
    for example in examples():
        place = folder / "examples" / example.file
        place.parent.mkdir(exist_ok=True)
        write_study(example.study, place)
    yield f"Examples: {folder / 'examples'}"
    pilot = folder / "pilot-of-60-nights.csv"
    write_whole(pilot, pilot_csv().encode())
    yield f"Pilot file: {pilot}"
    half_way = folder / "half-way-in-eight-wards.csv"
    write_whole(half_way, half_way_csv().encode())
    yield f"Half-way file: {half_way}"
    requests = [request_of(design_named(aim.design), aim) for aim in study.aims]
    answers = json.dumps([answer_request(request) for request in requests], indent=2, ensure_ascii=False)
    write_whole(folder / "answers.json", f"{answers}\n".encode())
    for aim in study.aims:
        outcome = outcome_of(aim)
        yield f"\n{aim.name}: {plain_text(sentence_of(aim, outcome))} {size_remark(aim, outcome)}"
        if isinstance(outcome, Answer):
            limit = limit_of(study, aim, outcome)
            for name in pictures_for(outcome):
                target = folder / f"{aim.id}-{name.lower()}.svg"
                write_whole(target, picture_bytes(picture_of(name, Scene(aim, outcome, limit)), "svg"))
    for kind in REPORT_FORMATS:
        target = folder / f"night-shift-lighting.{kind}"
        write_whole(target, report_bytes(study, kind))
        yield f"\nReport: {target}"
