"""The study file: JSON, UTF-8, one key a line, read with care and written whole.

A file is written to a temporary file beside it, flushed to disk and renamed, so that a crash leaves either the old
or the new file. Recovery copies of unsaved work live in the user's state folder, one for each running window.
"""

from __future__ import annotations

import json
import os
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ragwort.study.model import FORMAT, SCHEMA_VERSION, Study

SUFFIX = ".ragwort"

# From a schema version to the next: functions on the parsed file. None yet: version 1 is the first.
MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {}


class StudyFileError(Exception):
    """A file that cannot be opened; the message says why in plain words."""


def read_study(path: Path) -> Study:
    """The study in a file. Raises `StudyFileError`."""
    try:
        text = path.read_text(encoding="utf-8")
    except FileNotFoundError:
        raise StudyFileError(f"There is no file {path}.") from None
    except UnicodeDecodeError:
        raise StudyFileError(f"{path.name} is not a Ragwort study: it is not text.") from None
    except OSError as error:
        raise StudyFileError(f"{path.name} cannot be read: {error.strerror}.") from error
    return study_from_text(text, path.name)


def study_from_text(text: str, name: str) -> Study:
    """The study in the text of a file called `name`. Raises `StudyFileError`."""
    try:
        found = json.loads(text)
    except json.JSONDecodeError as error:
        raise StudyFileError(
            f"{name} is damaged or not a Ragwort study: line {error.lineno} is not JSON ({error.msg})."
        ) from error
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise StudyFileError(f"{name} is not a Ragwort study: it does not say “format”: “{FORMAT}”.")
    return _validated(_migrated(found, name), name)


def _migrated(found: dict[str, Any], name: str) -> dict[str, Any]:
    version = found.get("schema_version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise StudyFileError(f"{name} is damaged: its schema_version is {version!r}, not a whole number from 1.")
    if version > SCHEMA_VERSION:
        raise StudyFileError(
            f"{name} was saved by a newer Ragwort (schema {version}; this one reads up to {SCHEMA_VERSION}). "
            "Update Ragwort to open it."
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
        place = " → ".join(str(part) for part in first["loc"])
        raise StudyFileError(f"{name} is damaged at {place}: {first['msg'].lower()}.") from error


def study_text(study: Study) -> str:
    """The text of a study's file."""
    return json.dumps(study.model_dump(mode="json"), indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def write_study(study: Study, path: Path) -> None:
    """Save a study. Raises `StudyFileError`; the file that was there before is then untouched."""
    write_whole(path, study_text(study).encode())


def write_whole(path: Path, content: bytes) -> None:
    """Write a file whole or not at all. Raises `StudyFileError`."""
    temporary = ""
    try:
        descriptor, temporary = tempfile.mkstemp(prefix=f".{path.name[:80]}.", dir=path.parent)
        with os.fdopen(descriptor, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        Path(temporary).chmod(path.stat().st_mode if path.exists() else 0o644)
        Path(temporary).replace(path)
    except OSError as error:
        if temporary:
            Path(temporary).unlink(missing_ok=True)
        raise StudyFileError(f"{path.name} cannot be written in {path.parent}: {error.strerror}.") from error


# --- recovery -------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Recovered:
    """Unsaved work that a crash left behind."""

    study: Study
    path: Path | None  # where it had been saved last, if anywhere
    copy: Path  # the recovery copy


class Recovery:
    """Recovery copies in one folder: this process writes its own and finds those of processes that died."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._own = folder / f"{os.getpid()}{SUFFIX}"

    def keep(self, study: Study, path: Path | None) -> None:
        """Write the unsaved state. Raises `StudyFileError`."""
        self._folder.mkdir(parents=True, exist_ok=True)
        content = {"path": str(path) if path else None, "study": study.model_dump(mode="json")}
        write_whole(self._own, json.dumps(content, ensure_ascii=False).encode())

    def clear(self) -> None:
        """Forget this process's copy: everything is saved, or was given up."""
        self._own.unlink(missing_ok=True)

    def left_behind(self) -> list[Recovered]:
        """Copies of processes that no longer run; unreadable ones are set aside under another name."""
        found = []
        for copy in sorted(self._folder.glob(f"*{SUFFIX}")):
            if copy == self._own or _runs(copy.stem):
                continue
            try:
                content = json.loads(copy.read_text(encoding="utf-8"))
                study = study_from_text(json.dumps(content["study"]), copy.name)
                found.append(Recovered(study, Path(content["path"]) if content["path"] else None, copy))
            except (OSError, ValueError, KeyError, TypeError, StudyFileError):
                copy.rename(copy.with_suffix(".unreadable"))
        return found


def _runs(process: str) -> bool:
    if not process.isdigit():
        return False
    try:
        os.kill(int(process), 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
