"""What the command line says, and how it ends: nothing that was to be written is lost in silence."""

from __future__ import annotations

import json
import os
import re
import sys
from typing import Any

import click

BAD_INPUT = 2
SOME_UNANSWERED = 3
NOBODY_READS = 141  # as a shell says it of a command whose reader has gone
INTERRUPTED = 130


class BadInput(click.ClickException):
    """Something the user can mend, said in one line."""

    exit_code = BAD_INPUT

    def show(self, file: Any = None) -> None:
        """One line on standard error."""
        complain(self.format_message())


def complain(message: str) -> None:
    """One line on standard error, whatever names of files are in it."""
    click.echo(f"ragwort: {_on_one_line(message)}", err=True)


def _on_one_line(text: str) -> str:
    line = "".join(c if c.isprintable() else " " if c.isspace() else repr(c)[1:-1] for c in text)
    return _ENDLESS.sub(lambda found: f"{found[0][:60]}…{found[0][-20:]}", line)


_ENDLESS = re.compile(r"\S{240,}")  # digits or a name that nobody reads to the end


class OurFault(BadInput):
    """Something that only we can mend."""

    exit_code = 1


def as_text(answer: Any) -> str:
    """As JSON; half a character, which no text can hold, as its escape."""
    text = json.dumps(answer, indent=2, ensure_ascii=False, allow_nan=False)
    return text.encode("utf-8", "backslashreplace").decode()


def say(text: str) -> None:
    """To standard output, or not at all: an answer that got lost is said."""
    if sys.stdout is None:
        raise BadInput("standard output is closed: the answer cannot be written.")
    try:
        click.echo(text)
    except BrokenPipeError:
        _let_go_of_output()
        sys.exit(NOBODY_READS)
    except OSError as error:
        _let_go_of_output()
        raise BadInput(f"the answer cannot be written to standard output: {error.strerror}.") from error


def _let_go_of_output() -> None:
    """What is left in the buffer cannot be written: without this Python would try once more, and complain."""
    nowhere = os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, sys.stdout.fileno())
    os.close(nowhere)
