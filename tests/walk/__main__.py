"""`python -m tests.walk --actions 20000 --seed 7 [--xvfb]`: walk, and say what was found."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

import click


@click.command()
@click.option("--actions", default=2000, help="How many actions.")
@click.option("--seed", default=1, help="Where the randomness begins.")
@click.option("--xvfb", is_flag=True, help="On a real X server instead of no screen at all.")
@click.option("--watch", is_flag=True, help="Say what long stalls were at.")
@click.option("--folder", type=click.Path(path_type=Path), help="Where pictures of faults go.")
def main(actions: int, seed: int, xvfb: bool, watch: bool, folder: Path | None) -> None:
    """Walk at random through the window."""
    if xvfb and "RAGWORT_WALK" not in os.environ:
        sys.exit(_on_a_server())
    screen = Path(__file__).parents[1] / "screen.json"
    os.environ.setdefault("QT_QPA_PLATFORM", f"offscreen:configfile={screen}")
    from PySide6.QtWidgets import QApplication

    application = QApplication.instance() or QApplication([])
    application.setStyle("Fusion")
    from ragwort.app.kit.memory import keep_little
    from tests.walk.engine import Walk

    keep_little()

    walk = Walk(seed, folder or Path(tempfile.mkdtemp()), watched=watch)
    faults = walk.run(actions)
    for fault in faults[:20]:
        click.echo(f"\n--- fault after: {' | '.join(fault.trail)}\n{fault.what}")
    click.echo(f"\nseed {seed}: {actions} actions, {walk.looks} looks, {len(faults)} faults")
    click.echo(f"{len(walk.stalls)} stalls over 100 ms; the longest:")
    for took, cause in sorted(walk.stalls, reverse=True)[:8]:
        click.echo(f"  {took:.2f} s  {cause}")
    os._exit(1 if faults else 0)  # threads of pictures may still be at work


def _on_a_server() -> int:
    if shutil.which("xvfb-run") is None:
        raise click.ClickException("xvfb-run is not installed (package xvfb)")
    environment = {**os.environ, "QT_QPA_PLATFORM": "xcb", "RAGWORT_WALK": "1"}
    command = ["xvfb-run", "-a", "-s", "-screen 0 1920x1200x24", sys.executable, "-m", "tests.walk", *sys.argv[1:]]
    return subprocess.run(command, env=environment, check=False).returncode


if __name__ == "__main__":
    main()
