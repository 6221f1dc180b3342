"""The study file: what was saved comes back, and what is wrong with a file is said."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from ragwort.demo import sampler_study
from ragwort.files import FileError, writing
from ragwort.study.document import files
from ragwort.study.document.files import StudyFileError, read_study, study_text, write_study
from ragwort.study.document.model import SCHEMA_VERSION
from ragwort.study.edits import type_value
from ragwort.study.results.outcome import Problem, outcome_of, trouble_of

FIRST = Path(__file__).parent / "files" / "schema-1.ragwort"


def test_a_study_comes_back_as_it_was(tmp_path: Path) -> None:
    """Aims, scenarios, drafts of unreadable text: everything."""
    study = type_value(sampler_study(), "reaction", "sd", "abc 🌙").study
    path = tmp_path / "a study with spaces.ragwort"
    write_study(study, path)
    assert read_study(path) == study
    assert list(tmp_path.iterdir()) == [path]


def test_the_first_schema_is_still_read() -> None:
    """A file kept since version 1; its unknown keys survive a save."""
    study = read_study(FIRST)
    assert study.aims[0].values()["difference"] == 12
    assert study.aims[0].words.names == {"groups": ("brighter", "usual lighting")}
    saved = json.loads(study_text(study))
    assert saved["schema_version"] == SCHEMA_VERSION
    assert saved["colour of the door"] == "green"
    assert saved["aims"][0]["entries"]["sd"]["weight"] == 3


def test_schema_document_is_current() -> None:
    """docs/study-file.schema.json describes the model as it is (tools/write_schema.py writes it)."""
    from ragwort.study.document.model import Study

    written = Path(__file__).parents[2] / "docs" / "study-file.schema.json"
    assert json.loads(written.read_text()) == Study.model_json_schema()


@pytest.mark.parametrize(
    ("content", "says"),
    [
        ("", "line 1 is not JSON"),
        ('{\n  "format": "ragwort-study",\n', "is not JSON"),
        ("[]", "is not a Ragwort study"),
        ('{"format": "else"}', "is not a Ragwort study"),
        ('{"format": "ragwort-study", "schema_version": 99}', "newer Ragwort"),
        ('{"format": "ragwort-study", "schema_version": "1"}', "schema_version"),
        ('{"format": "ragwort-study", "schema_version": 1, "limit": -3}', "damaged at limit"),
        ('{"format": "ragwort-study", "schema_version": 1, "aims": [{"find": 3}]}', "damaged at aims → 0 → find"),
    ],
)
def test_a_bad_file_is_explained(tmp_path: Path, content: str, says: str) -> None:
    """Damaged, newer, or not ours: each says which."""
    path = tmp_path / "bad.ragwort"
    path.write_text(content)
    with pytest.raises(StudyFileError, match=r"^bad\.ragwort ") as caught:
        read_study(path)
    assert says in str(caught.value)


def test_missing_binary_and_folder_are_explained(tmp_path: Path) -> None:
    """No traceback for what is no file of text."""
    (tmp_path / "binary").write_bytes(b"\xff\xfe\x00")
    for path, says in ((tmp_path / "none", "no file"), (tmp_path / "binary", "not text"), (tmp_path, "cannot be read")):
        with pytest.raises(FileError, match=says):
            read_study(path)


def test_a_failed_save_leaves_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The new file takes the old one's place only when it is whole."""
    path = tmp_path / "study.ragwort"
    write_study(sampler_study(), path)

    def full(_: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(writing.os, "fsync", full)
    with pytest.raises(FileError, match="No space left"):
        write_study(sampler_study().changed(title="Other"), path)
    assert read_study(path).title == "Night-shift lighting"
    assert list(tmp_path.iterdir()) == [path]


def _study(**more: Any) -> str:
    return json.dumps({"format": "ragwort-study", "schema_version": 1, **more})


@pytest.mark.parametrize(
    ("content", "says"),
    [
        ("[" * 100_000, "nested too deeply"),
        (_study(note=json.loads("[" * 100 + "]" * 100)), "nested too deeply"),
        ('{"format": "ragwort-study", "schema_version": 1, "limit": ' + "9" * 5000 + "}", "damaged"),
        (_study(limit=10**400), "damaged at limit"),
        (_study(limit=float("nan")), "NaN is not a number"),
        (_study(aims=[{"id" * 3000: 3, "find": ["x" * 3000]}]), "damaged at aims → 0 → find"),
        (_study(schema_version="1" * 3000), "schema_version"),
        (json.dumps({"format": "ragwort-study", "schema_version": 10**200}), "newer Ragwort"),
    ],
)
def test_a_hostile_file_is_refused_in_one_sentence(content: str, says: str) -> None:
    """Short, and without anything that Python would say."""
    with pytest.raises(StudyFileError) as caught:
        files.study_from_text(content, "bad.ragwort")
    assert says in str(caught.value)
    assert len(str(caught.value)) <= 300


def test_what_opens_can_be_saved_and_shown(tmp_path: Path) -> None:
    """Halves of characters, a byte-order mark, values of the wrong type, ids twice: mended or marked, nothing lost."""
    aim = {
        "id": "a",
        "name": "x\ud800y",
        "design": "two-means",
        "entries": {"sd": {"value": "many"}, "power": {"value": 7}},
    }
    strata = {"id": "a", "design": "cluster-means", "entries": {"strata": {"value": [3]}}}
    path = tmp_path / "odd.ragwort"
    path.write_bytes(b"\xef\xbb\xbf" + _study(title="\udfff", aims=[aim, strata], extra={"\ud800": 1}).encode())
    study = read_study(path)
    write_study(study, path)
    assert read_study(path) == study
    first, second = study.aims
    assert (study.title, first.name) == ("\ufffd", "x\ufffdy")
    assert first.id != second.id
    assert (first.entry("sd").value, first.entry("sd").draft) == (None, '"many"')
    assert "must be above 0 and below 1" in first.entry("power").fault
    assert second.entry("strata").draft == "[3]"


@pytest.mark.parametrize("more", [{"design": "seven-means"}, {"design": "two-means", "find": "icc"}])
def test_an_aim_that_nothing_can_be_made_of_is_kept_and_told(more: dict[str, str]) -> None:
    """An unknown design, an unknown that its design does not know: the rest of the study is usable."""
    study = files.study_from_text(_study(aims=[more, {"design": "two-means"}]), "study")
    found = outcome_of(study.aims[0])
    assert isinstance(found, Problem)
    assert "kept as it stands in the file" in found.message
    assert trouble_of(study.aims[1]) == ""
    assert json.loads(study_text(study))["aims"][0]["design"] == more["design"]


_STRATA = [{"share": 0.5, "mean_size": 8, "sd_size": 2}, {"share": 0.5, "mean_size": 30, "sd_size": 9}]
_BY_WARD = {"icc": {"value": 0.03}, "strata": {"value": _STRATA}}
_MEANS = {**_BY_WARD, "difference": {"value": 3}, "sd": {"value": 6}}
_SHARES = {"proportion1": {"value": 0.4}, "proportion2": {"value": 0.2}, "icc": {"value": 0.03}}


def test_what_an_older_file_counted_otherwise_is_said(tmp_path: Path) -> None:
    """Strata in fractions of clusters, proportions by the normal distribution; a total of strata stays what it was."""
    sized = {**_SHARES, "cluster_size": {"value": 18}}
    chosen, total = {**sized, "distribution": {"value": "z"}}, {**_MEANS, "n": {"value": 400}}
    aims = [
        {"id": "a", "name": "Errors", "design": "cluster-means", "entries": _MEANS},
        {"id": "b", "name": "Misses", "design": "cluster-proportions", "entries": sized},
        {"id": "c", "name": "Chosen", "design": "cluster-proportions", "entries": chosen},
        {"id": "d", "name": "Total", "design": "cluster-means", "find": "power", "entries": total},
        {"id": "e", "name": "Reaction", "design": "two-means", "entries": {}},
    ]  # fmt: skip
    path = tmp_path / "old.ragwort"
    path.write_text(_study(schema_version=2, aims=aims))
    found = files.read_study_file(path)
    assert found.remark.startswith("Errors and Misses are now counted in whole clusters and by the t distribution;")
    assert outcome_of(found.study.aim("d")).total == 400
    assert outcome_of(found.study.aim("a")).n_more["clusters"] == [9, 9]
    write_study(found.study, path)
    assert files.read_study_file(path).remark == ""


def test_the_second_schema_is_still_read() -> None:
    """Names, a value typed over its source, a finished study: a file kept since version 2."""
    study = read_study(FIRST.with_name("schema-2.ragwort"))
    assert study.aim("reaction").entry("difference").was == 12
    assert study.aim("age").finished
    assert study.aim("drinks").words.names["columns"] == ("coffee", "tea", "water")


def test_the_third_schema_is_still_read() -> None:
    """What was typed and could not be read, in every place of a file kept since version 3, stands in one shape."""
    study = read_study(FIRST.with_name("schema-3.ragwort"))
    first, second = study.aims
    drafts = {
        "limit": (study, "many"),
        "budget": (study.resources, "a lot"),
        "correlation": (study.family, "2"),
        "screened": (study.protocol, "some"),
        "range": (first.entry("difference"), "8 to"),
        "x_low": (first.steer("Curve"), "far"),
        "text": (first.grid.varied[0], "a few"),
        "blocks": (first.sheet, "four"),
        "1": (first.so_far, "ten"),
        "times": (second.rehearsing, "often"),
        "lost": (second.rehearsing.worlds[-1], "half"),
    }
    for place, (part, text) in drafts.items():
        assert part is not None
        assert part.draft_of(place) == text
        assert part.first_fault
    assert (first.entry("sd").draft, first.expected.draft) == ("twenty", "lots")
    assert "not a number" in first.entry("sd").fault
