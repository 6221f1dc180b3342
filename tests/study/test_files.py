"""The study file: what was saved comes back, and what is wrong with a file is said."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import pytest

from ragwort.demo import demo_study
from ragwort.study import files
from ragwort.study.edits import type_value
from ragwort.study.files import Recovery, StudyFileError, read_study, study_text, write_study

FIRST = Path(__file__).parent / "files" / "schema-1.ragwort"


def test_a_study_comes_back_as_it_was(tmp_path: Path) -> None:
    """Aims, scenarios, drafts of unreadable text: everything."""
    study = type_value(demo_study(), "reaction", "sd", "abc 🌙").study
    path = tmp_path / "a study with spaces.ragwort"
    write_study(study, path)
    assert read_study(path) == study
    assert list(tmp_path.iterdir()) == [path]


def test_the_first_schema_is_still_read() -> None:
    """A file kept since version 1; its unknown keys survive a save."""
    study = read_study(FIRST)
    assert study.aims[0].values()["difference"] == 12
    saved = json.loads(study_text(study))
    assert saved["colour of the door"] == "green"
    assert saved["aims"][0]["entries"]["sd"]["weight"] == 3


def test_schema_document_is_current() -> None:
    """docs/study-file.schema.json describes the model as it is (tools/write_schema.py writes it)."""
    from ragwort.study.model import Study

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
        with pytest.raises(StudyFileError, match=says):
            read_study(path)


def test_a_failed_save_leaves_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The new file takes the old one's place only when it is whole."""
    path = tmp_path / "study.ragwort"
    write_study(demo_study(), path)

    def full(_: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(files.os, "fsync", full)
    with pytest.raises(StudyFileError, match="No space left"):
        write_study(demo_study().changed(title="Other"), path)
    assert read_study(path).title == "Night-shift lighting"
    assert list(tmp_path.iterdir()) == [path]


def test_work_of_a_process_that_died_is_found(tmp_path: Path) -> None:
    """Only copies of other processes that no longer run count; unreadable ones are set aside, not deleted."""
    recovery = Recovery(tmp_path / "recovery")
    recovery.keep(demo_study(), Path("/somewhere/night.ragwort"))
    assert recovery.left_behind() == []
    own = tmp_path / "recovery" / f"{os.getpid()}.ragwort"
    content: dict[str, Any] = json.loads(own.read_text())
    dead = 2**22 + 12345
    (own.parent / f"{dead}.ragwort").write_text(json.dumps(content))
    (own.parent / "99999999.ragwort").write_text("half a file")
    (found,) = recovery.left_behind()
    assert (found.study, found.path) == (demo_study(), Path("/somewhere/night.ragwort"))
    assert (own.parent / "99999999.unreadable").read_text() == "half a file"
    recovery.clear()
    assert not own.exists()
