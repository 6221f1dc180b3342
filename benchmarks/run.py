"""Measure what users feel, and print it side by side in one run:
.venv/bin/python benchmarks/run.py

Each figure stands beside what it is compared with, measured in the same run; medians of repeated measurements.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from scipy import special

REPEATS = 200
UFUNCS = ("nctdtr", "stdtrit", "ndtr", "ndtri", "ncfdtr", "betaincinv", "chndtr", "chdtri", "hyp2f1", "gammaln")


def timed(work: Callable[[], Any]) -> float:
    """Seconds that `work` takes."""
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def line(what: str, got: str, against: str, ratio: str, aim: str) -> None:
    """One row of the table."""
    print(f"{what:<46} {got:>16} {against:>28} {ratio:>8}  {aim}")


# --- the core -------------------------------------------------------------------------------------------------


class Recorder:
    """Stands in for `scipy.special` and remembers every call of a ufunc."""

    def __init__(self) -> None:
        self.calls: list[tuple[Any, tuple[Any, ...]]] = []

    def __getattr__(self, name: str) -> Any:
        function = getattr(special, name)
        if name not in UFUNCS:
            return function

        def record(*arguments: Any) -> Any:
            self.calls.append((function, arguments))
            return function(*arguments)

        return record


def core() -> None:
    """One search for n against the bare ufunc calls that it makes."""
    from ragwort.designs import all_designs, settle
    from ragwort.stats import exact, noncentral

    for design in all_designs():
        for find in ("n", "power", "effect", "alpha"):
            sizes = design.sizes_as_values(settle(design, "n", design.starting).groups)
            values = {k: v for k, v in (design.starting | sizes).items() if k not in design.unused_names(find)}
            recorder = Recorder()
            noncentral.special = exact.special = recorder
            settle(design, find, values)
            noncentral.special = exact.special = special
            whole = median_of(settle, design, find, values)
            bare = median_of(replay, recorder.calls)
            aim = "aim <= 5x" if find == "n" else ""
            calls = f"{bare * 1e3:.3f} ms, {len(recorder.calls)} ufunc calls"
            line(f"{design.id}: find {find}", f"{whole * 1e3:.3f} ms", calls, f"{whole / bare:.1f}x", aim)


def median_of(function: Callable[..., Any], *arguments: Any) -> float:
    """Median seconds of a call."""
    return statistics.median(timed(lambda: function(*arguments)) for _ in range(REPEATS))


def replay(calls: list[tuple[Any, tuple[Any, ...]]]) -> None:
    """The recorded calls and nothing else."""
    for function, arguments in calls:
        function(*arguments)


def vectorised() -> None:
    """Power at 10 000 sizes against the bare ufuncs on 10 000 points."""
    from ragwort.stats.noncentral import NormalTest, TTest

    df, shift = np.linspace(3, 2000, 10_000), np.linspace(0.1, 5, 10_000)
    limit = -special.stdtrit(df, 0.025)

    def bare_t() -> None:
        special.stdtrit(df, 0.025)
        special.nctdtr(df, shift, limit)
        special.nctdtr(df, -shift, limit)

    def bare_z() -> None:
        special.ndtri(0.025)
        special.ndtr(shift - 1.96)
        special.ndtr(-shift - 1.96)

    pairs = (("t", TTest(shift, df), bare_t), ("z", NormalTest(shift), bare_z))
    for name, test, bare in pairs:
        ours = statistics.median(timed(lambda test=test: test.power(0.05, "two")) for _ in range(20))
        theirs = statistics.median(timed(bare) for _ in range(20))
        line(
            f"{name}: power at 10 000 points",
            f"{ours * 1e3:.2f} ms",
            f"{theirs * 1e3:.2f} ms",
            f"{ours / theirs:.2f}x",
            "",
        )


# --- the window -----------------------------------------------------------------------------------------------


def window() -> None:
    """From a keystroke to the repainted window, and one step of a scrub."""
    from PySide6.QtCore import QSettings, Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from ragwort.app.main import make_window
    from ragwort.app.sentence import Token
    from ragwort.app.settings import Remembered
    from ragwort.demo import demo_study
    from ragwort.study.files import Recovery

    application = QApplication.instance() or QApplication([])
    application.setStyle("Fusion")
    folder = Path(tempfile.mkdtemp())
    remembered = Remembered(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    shown = make_window(demo_study(), None, remembered, Recovery(folder))
    shown.resize(1280, 800)
    shown.show()
    while not shown.bench.picture.ready:
        application.processEvents()
    editor = shown.bench.ledger.row("sd").editor

    def keystroke(key: str) -> float:
        """Seconds from the key to the repainted window; then a pause, in which labels settle, as between keys."""
        took = timed(lambda: (QTest.keyClicks(editor, key), application.processEvents()))
        until = time.perf_counter() + 0.15
        while time.perf_counter() < until:
            application.processEvents()
        return took

    editor.setFocus()
    for name in ("Curve", "Errors"):
        shown.bench.picture.show_tab(name)
        times = []
        for number in range(18, 78):
            editor.selectAll()
            times += [keystroke(key) for key in str(number)]
        report("keystroke to repaint", name, times, 100)
    shown.bench.picture.show_tab("Curve")
    token = shown.bench.sentence.findChild(Token, "token-sd")

    def scrub(steps: int) -> None:
        token.nudged.emit(steps, True)
        application.processEvents()

    report("scrub, one frame", "Curve", [timed(lambda k=k: scrub(1 if k % 12 < 6 else -1)) for k in range(240)], 33)
    token.drag_ended.emit()
    QTest.keyClick(editor, Qt.Key.Key_Escape)
    shown.bench.picture.finish()
    shown.session.open(demo_study(), None)
    shown.close()


def report(what: str, picture: str, times: list[float], limit: int) -> None:
    """Median and 95th percentile."""
    p50, p95 = (1e3 * float(np.percentile(times[5:], q)) for q in (50, 95))
    line(f"{what} ({picture})", f"p50 {p50:.1f} ms", f"p95 {p95:.1f} ms", "", f"aim p95 <= {limit} ms")


# --- start-up -------------------------------------------------------------------------------------------------

OURS = """
import os, sys, time
from PySide6.QtCore import QEvent, QObject, QSettings, QTimer
from PySide6.QtWidgets import QApplication
from pathlib import Path
application = QApplication([]); application.setStyle("Fusion")
from ragwort.app.main import make_window
from ragwort.app.settings import Remembered
from ragwort.study.files import Recovery
folder = Path(sys.argv[1])
settings = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
window = make_window(None, None, Remembered(settings), Recovery(folder))
window.show()
window.bench.picture.canvas.painted_first.disconnect()
window.bench.picture.canvas.painted_first.connect(lambda: (sys.stdout.write("ready"), sys.stdout.flush(), os._exit(0)))
application.exec()
"""
BARE = """
import os, sys
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QWidget
import numpy, scipy.special
application = QApplication([]); application.setStyle("Fusion")
class Bare(QWidget):
    def paintEvent(self, event):
        QTimer.singleShot(0, lambda: (sys.stdout.write("ready"), sys.stdout.flush(), os._exit(0)))
window = Bare(); window.resize(1280, 800); window.show()
application.exec()
"""


def start_up() -> None:
    """From the start of the process until the window has been painted and takes input."""
    with tempfile.TemporaryDirectory() as folder:

        def start(script: str) -> float:
            return timed(
                lambda: subprocess.run([sys.executable, "-c", script, folder], check=True, capture_output=True)
            )

        start(OURS), start(BARE)
        pairs = [(start(OURS), start(BARE)) for _ in range(9)]
    ours, bare = (statistics.median(column) for column in zip(*pairs, strict=True))
    ratio = statistics.median(one / other for one, other in pairs)
    line(
        "process start to interactive",
        f"{ours * 1e3:.0f} ms",
        f"{bare * 1e3:.0f} ms bare",
        f"{ratio:.2f}x",
        "aim <= 1.8x",
    )


if __name__ == "__main__":
    print(f"Python {sys.version.split()[0]}, NumPy {np.__version__}; medians\n")
    line("what", "ours", "beside it", "ratio", "")
    core()
    vectorised()
    start_up()
    window()
