"""The study file: JSON, UTF-8, one key a line, read with care and written whole.

What opens can be shown and saved again: text that no file can hold is replaced, and a value that its assumption cannot
have becomes a draft with its fault, as if it had been typed.
"""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any, NamedTuple

from pydantic import ValidationError

from ragwort.files import FileError, digest_of, read_plain, short, write_whole
from ragwort.files.leftovers import settle_leftovers
from ragwort.study.document.mending import mended
from ragwort.study.document.model import FORMAT, SCHEMA_VERSION, Study
from ragwort.study.document.older import MIGRATIONS, counted_otherwise
from ragwort.study.document.signing import EDITED, was_edited
from ragwort.study.sharing.family import derived_anew

SUFFIX = ".ragwort"
LARGEST = 64_000_000  # bytes of a study file
DEEPEST = 40  # brackets inside brackets; a study has nine


class StudyFileError(FileError):
    """A file that is no study, or a damaged one."""


def read_study(path: Path) -> Study:
    """The study in a file. Raises `FileError`."""
    return read_study_file(path).study


class StudyFile(NamedTuple):
    """What a file holds."""

    study: Study
    digest: str  # what tells its contents from others
    remark: str  # what is otherwise now than it stands there; empty where nothing is


def read_study_file(path: Path) -> StudyFile:
    """What a study file holds. Raises `FileError`.

    A file of several names that a dead writer left half written is finished first.
    """
    settle_leftovers()
    content = read_plain(path, LARGEST)
    name = short(path.name)
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise StudyFileError(f"{name} is not a Ragwort study: it is not text.") from None
    written, version = _as_written(text, name)
    study, remark = derived_anew(written)
    edited = EDITED if was_edited(study) else ""
    said = " ".join(each for each in (remark, counted_otherwise(study, version), edited) if each)
    return StudyFile(study, digest_of(content), said)


def digest_on_disk(path: Path) -> str:
    """What tells the contents of a file now; empty where there is none that can be read."""
    try:
        return digest_of(read_plain(path, LARGEST))
    except FileError:
        return ""


def study_from_text(text: str, name: str) -> Study:
    """The study in the text of a file called `name`. Raises `StudyFileError`."""
    return derived_anew(_as_written(text, name)[0])[0]


def _as_written(text: str, name: str) -> tuple[Study, int]:
    """The study, and the schema version that its file has."""
    found = _parsed(text, name)
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise StudyFileError(f"{name} is not a Ragwort study: it does not say “format”: “{FORMAT}”.")
    migrated = _migrated(found, name)
    return mended(_validated(migrated, name)), int(found["schema_version"])


def _parsed(text: str, name: str) -> Any:
    try:
        found = json.loads(text, parse_constant=_refuse_constant)
        _refuse_depth(found)
    except json.JSONDecodeError as error:
        raise StudyFileError(
            f"{name} is damaged or not a Ragwort study: line {error.lineno} is not JSON ({error.msg})."
        ) from error
    except RecursionError:
        raise StudyFileError(f"{name} is damaged or not a Ragwort study: it is nested too deeply.") from None
    except ValueError as error:  # Python reads no whole number of more than some thousand digits
        raise StudyFileError(f"{name} is damaged: {short(str(error), 120)}.") from error
    return _with_whole_characters(found) if _HALF.search(text) else found


_HALF = re.compile(r"\\u[dD][89a-fA-F]|[\ud800-\udfff]")  # may be half of a character, which no file can hold


def _refuse_constant(word: str) -> None:
    raise ValueError(f"{word} is not a number that a file can hold")


def _refuse_depth(found: Any) -> None:
    level = [found]
    for _ in range(DEEPEST):
        level = [
            inner
            for outer in level
            if isinstance(outer, list | dict)
            for inner in (outer.values() if isinstance(outer, dict) else outer)
            if isinstance(inner, list | dict)
        ]
        if not level:
            return
    raise RecursionError


def _with_whole_characters(found: Any) -> Any:
    """The same with U+FFFD in place of each half of a character."""
    if isinstance(found, str):
        return found.encode("utf-16", "surrogatepass").decode("utf-16", "replace")
    if isinstance(found, list):
        return [_with_whole_characters(each) for each in found]
    if isinstance(found, dict):
        return {_with_whole_characters(key): _with_whole_characters(value) for key, value in found.items()}
    return found


def _migrated(found: dict[str, Any], name: str) -> dict[str, Any]:
    version = found.get("schema_version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        said = short(repr(version), 40)
        raise StudyFileError(f"{name} is damaged: its schema_version is {said}, not a whole number from 1.")
    if version > SCHEMA_VERSION:
        raise StudyFileError(
            f"{name} was saved by a newer Ragwort (schema {short(str(version), 40)}; this one reads up to "
            f"{SCHEMA_VERSION}). Update Ragwort to open it."
        )
    while version < SCHEMA_VERSION:
        found = MIGRATIONS[version](found)
        version += 1
    return {**found, "schema_version": SCHEMA_VERSION}


def _validated(found: dict[str, Any], name: str) -> Study:
    try:
        return Study.model_validate(found)
    except ValidationError as error:
        first = error.errors()[0]
        place = " → ".join(short(str(part), 40) for part in first["loc"])
        raise StudyFileError(
            f"{name} is damaged at {short(place, 160)}: {short(first['msg'].lower(), 160)}."
        ) from error


def study_text(study: Study) -> str:
    """The text of a study's file."""
    return json.dumps(study.model_dump(mode="json"), indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def digest_to_be(study: Study) -> str:
    """What the contents of a study's file would be told by."""
    return digest_of(study_text(study).encode())


def write_study(study: Study, path: Path) -> str:
    """Save a study, and tell what its file's contents are told by. Raises `FileError`.

    Where it fails, the file that was there before is untouched.
    """
    content = study_text(study).encode()
    write_whole(path, content)
    return digest_of(content)


def file_name(study: Study) -> str:
    """What a file of a study could be called: its title in letters that every disk takes, without a suffix."""
    kept = "".join(c if c.isalnum() or c in " -_" else " " for c in study.title)
    return "-".join(kept.lower().split())[:80] or "study"
