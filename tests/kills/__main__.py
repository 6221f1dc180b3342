"""`python -m tests.kills --count 1000 --seed 1`."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

import click

from tests.kills.engine import kill_and_look


@click.command()
@click.option("--count", default=100, help="How many kills.")
@click.option("--seed", default=1, help="Where the randomness begins.")
def main(count: int, seed: int) -> None:
    """Kill the program while it edits, saves, exports and recovers."""
    faults = kill_and_look(Path(tempfile.mkdtemp()), count, seed)
    for fault in faults[:30]:
        click.echo(fault)
    click.echo(f"seed {seed}: {count} kills, {len(faults)} faults")
    sys.exit(1 if faults else 0)


main()
