"""A short walk over the command line, with a fixed seed; `python -m tests.commands` goes on for long."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import click

from ragwort.cli import cli
from tests.commands.grammar import Grammar

ROOT = Path(__file__).parents[1]


def test_random_command_lines_end_as_they_should() -> None:
    """Known status, one line for what is wrong, in time, within memory; what they write can be opened."""
    command = [sys.executable, "-m", "tests.commands", "--count", "60", "--seed", "5"]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, timeout=600, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    assert "seed 5: 60 lines, 0 faults" in done.stdout


def test_every_command_and_option_comes_up() -> None:
    """The grammar is read off the commands: a new option is walked over without being told."""
    grammar, seen = Grammar(1), set[str]()
    for _ in range(4_000):
        words, _ = grammar.line()
        seen |= {words[0], *(f"{words[0]} {word}" for word in words[1:] if word.startswith("-"))}
    for name, command in cli.commands.items():
        if name in ("demo", "open"):
            continue
        assert name in seen
        for parameter in command.params:
            if isinstance(parameter, click.Option):
                assert any(f"{name} {flag}" in seen for flag in parameter.opts), (name, parameter.opts)
