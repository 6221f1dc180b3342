"""The window on a real X server: started as a process, sized, drawn, closed and started again."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

pytestmark = [
    pytest.mark.xvfb,
    pytest.mark.skipif(shutil.which("Xvfb") is None, reason="needs Xvfb (./run test installs it as root)"),
]

# Runs in its own process, as `ragwort FILE` does; the steps of a user are timed into the event loop.
SCRIPT = """
import sys
from pathlib import Path
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication
from ragwort.app.session import asking
from ragwort.app.shell import main

asking.about_unsaved = lambda *_: "discard"
application = QApplication(sys.argv)
file, picture, steps = Path(sys.argv[1]), sys.argv[2], sys.argv[3]

def act():
    found = [w for w in application.topLevelWidgets() if getattr(w, "taken", False) and w.bench.picture.ready]
    if not found:
        return QTimer.singleShot(50, act)
    (window,) = found
    print("platform", application.platformName())
    print("size", window.width(), window.height())
    if steps == "first":
        row = window.bench.ledger.row("difference")
        row.editor.setText("10")
        row.editor.textEdited.emit("10")
        print("sentence", window.bench.sentence.text())
        window.screen().grabWindow(window.winId()).save(picture)
        window.resize(1111, 700)
    QTimer.singleShot(300, window.close)

QTimer.singleShot(50, act)
sys.exit(main.run(file))
"""


@pytest.fixture(scope="module")
def display() -> Iterator[str]:
    """An X server of our own."""
    reading, writing = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-screen", "0", "1600x1000x24", "-displayfd", str(writing)],
        pass_fds=[writing],
        stderr=subprocess.DEVNULL,
    )
    os.close(writing)
    with os.fdopen(reading) as told:
        yield f":{told.readline().strip()}"
    server.terminate()
    server.wait()


def run(display: str, home: Path, file: Path, steps: str) -> dict[str, str]:
    """What the script printed, by its first word."""
    environment = {
        **os.environ,
        "DISPLAY": display,
        "QT_QPA_PLATFORM": "xcb",
        "HOME": str(home),
        "XDG_CONFIG_HOME": str(home / "config"),
        "XDG_STATE_HOME": str(home / "state"),
    }
    arguments = [sys.executable, "-c", SCRIPT, str(file), str(home / "window.png"), steps]
    done = subprocess.run(arguments, env=environment, capture_output=True, text=True, timeout=90, check=False)
    assert done.returncode == 0, done.stderr
    assert "Traceback" not in done.stderr
    return dict(line.split(" ", 1) for line in done.stdout.splitlines())


def test_the_window_works_on_a_screen_and_remembers_its_size(display: str, tmp_path: Path) -> None:
    """Typed into, drawn in our colours, closed; the next start has the size of the last."""
    from PySide6.QtGui import QImage

    from ragwort.demo import sampler_study
    from ragwort.study.document.files import write_study

    file = tmp_path / "night.ragwort"
    write_study(sampler_study(), file)
    first = run(display, tmp_path, file, "first")
    assert first["platform"] == "xcb"
    assert "so that 184 (" in first["sentence"]
    picture = QImage(str(tmp_path / "window.png"))
    colours = {
        picture.pixelColor(x, y).name() for x in range(0, picture.width(), 7) for y in range(0, picture.height(), 7)
    }
    assert {"#fbf9f2", "#f4f0e4"} <= colours
    assert len(colours) > 20
    assert run(display, tmp_path, file, "second")["size"] == "1111 700"
