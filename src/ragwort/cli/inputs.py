"""What the command line is given: JSON in a file or on standard input, and study files."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ragwort.cli.output import BadInput
from ragwort.files import FileError, read_plain
from ragwort.files.reading import size_text

if TYPE_CHECKING:
    from ragwort.study.document.aim import Aim
    from ragwort.study.document.model import Study

LARGEST = 64_000_000  # bytes of a file of requests
MOST_DIGITS = 300  # of a whole number: more than any that can be computed with


def json_from(file: str) -> Any:
    """The parsed content of a file or of standard input.

    In a list what is no number stands as `_NoNumber` in its place, so that it costs its own request only.
    """
    try:
        text = _standard_input() if file == "-" else read_plain(Path(file), LARGEST)
        odd: list[_NoNumber] = []
        found = json.loads(
            text.decode("utf-8-sig"),
            parse_constant=lambda word: _noted(odd, word),
            parse_int=lambda digits: int(digits) if len(digits) <= MOST_DIGITS else _noted(odd, f"{digits[:9]}…"),
        )
    except OSError as error:
        raise BadInput(f"{file} cannot be read: {error.strerror}.") from error
    except FileError as error:
        raise BadInput(str(error)) from error
    except RecursionError as error:
        raise BadInput(f"{file} is nested too deeply to be a request.") from error
    except UnicodeDecodeError as error:
        raise BadInput(f"{file} is not JSON: it is not UTF-8 text.") from error
    except json.JSONDecodeError as error:
        raise BadInput(f"{file} is not JSON: line {error.lineno}, column {error.colno}: {error.msg}.") from error
    if odd and not isinstance(found, list):
        raise BadInput(f"{file} is not JSON: {odd[0]} is no number that JSON has and a computer can hold.")
    return found


def _standard_input() -> bytes:
    if sys.stdin is None:
        raise BadInput("standard input is closed: name a file, or give the request on standard input.")
    content = sys.stdin.buffer.read(LARGEST + 1)
    if len(content) > LARGEST:
        raise BadInput(f"standard input has more than {size_text(LARGEST)}, which is the most that is read.")
    return content


class _NoNumber:
    """Something that JSON has no number for, or no reader can hold: its request will say that it is none."""

    def __init__(self, words: str) -> None:
        self._words = words

    def __repr__(self) -> str:
        return self._words


def _noted(odd: list[_NoNumber], words: str) -> _NoNumber:
    odd.append(_NoNumber(words))
    return odd[-1]


def study_in(source: str) -> Study:
    """The study in a file, or one made of a request."""
    from ragwort.figures.by_words import study_of_request
    from ragwort.study.document.files import SUFFIX, read_study

    if Path(source).suffix == SUFFIX:
        return read_study(Path(source))
    found = json_from(source)
    if not isinstance(found, dict):
        raise BadInput("a picture is drawn of a study, or of one request: an object with design, find and assumptions.")
    return study_of_request(found)


def aim_called(study: Study, name: str) -> Aim:
    """The aim of this name, or of this number, counting from 1. Raises `NotWanted`."""
    from ragwort.figures.by_words import aim_named

    if name.isdecimal() and len(name) < 9 and 0 < int(name) <= len(study.aims):
        return study.aims[int(name) - 1]
    return aim_named(study, name)
