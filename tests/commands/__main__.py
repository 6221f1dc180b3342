"""`python -m tests.commands --count 20000 --seed 1`."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

import click

from tests.commands.engine import walk


@click.command()
@click.option("--count", default=1000, help="How many command lines.")
@click.option("--seed", default=1, help="Where the randomness begins.")
def main(count: int, seed: int) -> None:
    """Walk at random over the command line."""
    folder = Path(tempfile.mkdtemp()) / "here"
    folder.mkdir()
    faults = walk(folder, count, seed)
    for fault in faults[:40]:
        click.echo(fault)
    click.echo(f"seed {seed}: {count} lines, {len(faults)} faults")
    sys.exit(1 if faults else 0)


main()
