"""Measure what users feel, and print it side by side in one run:
.venv/bin/python benchmarks/run.py [--small]

Each figure stands beside what it is compared with, measured in the same run; medians of repeated measurements. With
`--small` each is run once with little, to see that it runs: its figures say nothing.
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

os.environ.setdefault("QT_QPA_PLATFORM", f"offscreen:configfile={Path(__file__).parents[1] / 'tests' / 'screen.json'}")

import numpy as np
from catalogue import reports, second_catalogue
from looks import interim_analyses
from rehearsals import rehearsals
from scipy import special
from size import SMALL, so_many

REPEATS = so_many(60)
UFUNCS = ("nctdtr", "stdtrit", "ndtr", "ndtri", "ncfdtr", "betaincinv", "chndtr", "chdtri", "hyp2f1", "gammaln")
UFUNCS += ("betainc", "betaincc")


def timed(work: Callable[[], Any]) -> float:
    """Seconds that `work` takes."""
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def line(what: str, got: str, against: str, ratio: str, aim: str) -> None:
    """One row of the table."""
    print(f"{what:<44} {got:>14} {against:>46} {ratio:>8}  {aim}")


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


class Counter:
    """Counts the evaluations of power, whichever plan they are of."""

    def __init__(self) -> None:
        from ragwort.designs import Plan

        self.calls = 0
        self._kept = [(kind, kind.__dict__["power"]) for kind in _kinds_of(Plan) if "power" in kind.__dict__]
        self._depth = 0

    def __enter__(self) -> Counter:
        for kind, power in self._kept:
            kind.power = self._counted(power)
        return self

    def __exit__(self, *_: object) -> None:
        for kind, power in self._kept:
            kind.power = power

    def _counted(self, power: Any) -> Any:
        def counted(plan: Any, groups: Any) -> Any:
            self.calls += self._depth == 0
            self._depth += 1
            try:
                return power(plan, groups)
            finally:
                self._depth -= 1

        return counted


def _kinds_of(kind: type) -> list[type]:
    return [kind, *(each for below in kind.__subclasses__() for each in _kinds_of(below))]


AGAINST_A_MARGIN = {"hypothesis": "non-inferiority", "better": "higher"}


def core() -> None:
    """Every unknown of every design against the bare ufunc calls that it makes."""
    from ragwort.designs import all_designs, settle
    from ragwort.designs.kinds.counts import first_and_steady
    from ragwort.stats import binomial, noncentral, statistic
    from ragwort.stats import pearson as exact

    def asked(design: Any, find: str, values: Any) -> None:
        first_and_steady.cache_clear()
        settle(design, find, values)

    for design in all_designs():
        for find in design.finds if design.tested else design.finds_with(design.starting):
            sized = settle(design, "n", design.starting)
            sizes = design.sizes_as_values(sized.groups, sized.plan)
            known = design.starting | sizes | (AGAINST_A_MARGIN if find == "margin" else {})
            left_out = design.unused_names(find) | ({design.primary} if find == "margin" else set())
            values = {k: v for k, v in known.items() if k not in left_out}
            recorder = Recorder()
            for module in (noncentral, statistic, exact, binomial):
                module.special = recorder
            asked(design, find, values)
            for module in (noncentral, statistic, exact, binomial):
                module.special = special
            with Counter() as counter:
                asked(design, find, values)
            whole = median_of(asked, design, find, values)
            bare = median_of(replay, recorder.calls)
            aim = "aim <= 5x" if (design.id, find) == ("two-means", "n") else ""
            calls = f"{bare * 1e3:.3f} ms, {len(recorder.calls)} ufunc calls, {counter.calls} of power"
            line(f"{design.id}: find {find}", f"{whole * 1e3:.3f} ms", calls, f"{whole / bare:.1f}x", aim)


def exact_tests() -> None:
    """Exact tests, whose power is summed and not looked up; nothing to compare with but the aim."""
    from ragwort.designs import design_named, settle
    from ragwort.designs.kinds.counts import first_and_steady
    from ragwort.stats import fisher

    def fresh(design: str, find: str, **values: Any) -> Any:
        first_and_steady.cache_clear()
        for kept in (fisher._kept, fisher._common_counts, fisher._log_choose):
            kept.cache_clear()
        return settle(design_named(design), find, values)

    shares = {"proportion1": 0.3, "proportion2": 0.41, "method": "fisher"}
    sized = fresh("two-proportions", "n", **shares)
    pearson = fresh("correlation", "power", rho=0.3, n=84).plan
    single = {"proportion": 0.44, "null_proportion": 0.4}
    steady = fresh("one-proportion", "n", **single).n_more["steady"]
    steps = np.arange(20, 220)
    for what, work, aim in (
        ("Fisher, power at 300 a group", lambda: fresh("two-proportions", "power", n=600, **shares), 50),
        (f"Fisher, find n ({sized.groups[0]} a group)", lambda: fresh("two-proportions", "n", **shares), 2000),
        ("exact correlation, power", lambda: fresh("correlation", "power", rho=0.3, n=84), 5),
        ("exact correlation, power at 200 sizes", lambda: pearson.power_along(steps), 200),
        (
            "exact limits of a proportion, find n (near 10 000)",
            lambda: fresh("precision-proportion", "n", proportion=0.5, half_width=0.0098, method="exact"),
            20,
        ),
        (f"one proportion, steady n ({steady})", lambda: fresh("one-proportion", "n", **single), 50),
    ):
        took = 1e3 * statistics.median(timed(work) for _ in range(so_many(9)))
        line(what, f"{took:.1f} ms", f"aim {aim} ms", f"{took / aim:.2f}x", "aim <= 1x")


def median_of(function: Callable[..., Any], *arguments: Any) -> float:
    """Median seconds of a call."""
    return statistics.median(timed(lambda: function(*arguments)) for _ in range(REPEATS))


def replay(calls: list[tuple[Any, tuple[Any, ...]]]) -> None:
    """The recorded calls and nothing else."""
    for function, arguments in calls:
        function(*arguments)


def vectorised() -> None:
    """Power at 10 000 sizes against the bare ufuncs on 10 000 points."""
    from ragwort.stats.statistic import ChiSquareTest, FTest, NormalTest, TTest

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

    def bare_f() -> None:
        share = special.betaincinv(df / 2, 1.5, 0.05)
        special.ncfdtr(3.0, df, shift, df * (1 - share) / (3.0 * share))

    def bare_chi_square() -> None:
        special.chndtr(special.chdtri(4.0, 0.05), 4.0, shift)

    pairs = (
        ("t", TTest(shift, df), bare_t),
        ("z", NormalTest(shift), bare_z),
        ("F", FTest(shift, 3.0, df), bare_f),
        ("chi-square", ChiSquareTest(shift, 4.0), bare_chi_square),
    )
    for name, test, bare in pairs:
        ours = statistics.median(timed(lambda test=test: test.power(0.05, "two")) for _ in range(so_many(20)))
        theirs = statistics.median(timed(bare) for _ in range(so_many(20)))
        line(
            f"{name}: power at 10 000 points",
            f"{ours * 1e3:.2f} ms",
            f"{theirs * 1e3:.2f} ms",
            f"{ours / theirs:.2f}x",
            "aim <= 2x",
        )


def pictures() -> None:
    """The pictures of the demo's first aim against as many bare evaluations of the t test as they need."""
    from ragwort.demo import sampler_study
    from ragwort.figures.pictures import Scene, picture_of
    from ragwort.figures.shown import map as maps
    from ragwort.figures.shown.spread import DRAWS
    from ragwort.study import edits
    from ragwort.study.results.outcome import outcome_of

    study = sampler_study()
    over_two = edits.choose_for_picture(study, "reaction", "Map", {"x": "difference", "y": "sd"}).study
    along = edits.choose_for_picture(study, "reaction", "Curve", {"y": "n", "x": "difference"}).study
    maps.PLACES = MAP
    for what, shown, picture, points, aim in (
        ("Map, difference and n", study, "Map", MAP * MAP, "aim <= 150 ms, 2x"),
        ("Map, difference and SD", over_two, "Map", MAP * MAP, "aim <= 150 ms, 2x"),
        ("Curve, n against difference", along, "Curve", 0, "aim <= 100 ms"),
        ("Drivers", study, "Drivers", 0, "aim <= 50 ms"),
        (f"Spread, {DRAWS} draws", study, "Spread", DRAWS, "aim <= 150 ms"),
        ("Split", study, "Split", 0, "aim <= 100 ms"),
    ):
        scene = Scene(shown.aim("reaction"), outcome_of(shown.aim("reaction")), shown.limit)
        took = median_of(picture_of, picture, scene)
        bare = median_of(bare_powers, points) if points else 0.0
        against = f"{1e3 * bare:.1f} ms, {points} powers of t at once" if points else ""
        line(what, f"{1e3 * took:.0f} ms", against, f"{took / bare:.1f}x" if points else "", aim)


MAP = so_many(101, 11)  # points along each side of a map


def bare_powers(points: int) -> Any:
    """As many powers of a two-sided t test by the library's functions alone."""
    df, shift = np.full(points, 126.0), np.linspace(0.1, 5, points)
    limit = special.stdtrit(df, 0.975)
    return 1 - special.nctdtr(df, shift, limit) + 1 - special.nctdtr(df, -shift, limit)


def many_sizes() -> None:
    """Sample sizes of ten thousand t designs at once, against halving all their ranges side by side by hand."""
    from ragwort.designs import design_named
    from ragwort.designs.finding import find_many

    rng, count = np.random.default_rng(1), so_many(10_000, 100)
    columns = {"difference": rng.lognormal(1.5, 0.5, count), "sd": rng.lognormal(2.3, 0.3, count)}
    design = design_named("two-means")
    found = find_many(design, "n", {}, columns)
    by_hand = halved(columns["difference"] / columns["sd"])
    assert np.array_equal(found.answer, 2 * by_hand)
    took = statistics.median(timed(lambda: find_many(design, "n", {}, columns)) for _ in range(so_many(5)))
    halving = statistics.median(timed(lambda: halved(columns["difference"] / columns["sd"])) for _ in range(so_many(3)))
    against = f"{1e3 * halving:.0f} ms, halving by hand"
    line(
        f"find n, {count} designs at once",
        f"{1e3 * took:.0f} ms",
        against,
        f"{took / halving:.2f}x",
        "aim <= 500 ms, < 1x",
    )


def halved(d: Any) -> Any:
    """The smallest size a group of 80 % power, all ranges halved side by side."""
    low, high = np.full(len(d), 1.0), np.full(len(d), 5e6)
    while np.any(high - low > 1):
        n = np.where(high - low > 1, np.floor((low + high) / 2), high)
        df, shift = 2 * n - 2, d * np.sqrt(n / 2)
        limit = special.stdtrit(df, 0.975)
        power = (
            1
            - special.nctdtr(df, np.minimum(shift, 30), limit)
            + 1
            - special.nctdtr(df, np.maximum(-shift, -6.5), limit)
        )
        low, high = np.where(power >= 0.8, low, n), np.where(power >= 0.8, n, high)
    return high


# --- pilot files ----------------------------------------------------------------------------------------------


def pilot_file() -> None:
    """A pilot file of a million rows: read, its columns described, two groups summarised."""
    import csv

    from ragwort.pilot import READINGS, Data, filtered, guessed, read_table

    count = so_many(1_000_000, 1_000)
    scores = np.random.default_rng(1).normal(400, 24, count)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "long.csv"
        with path.open("w") as file:
            file.write("person,room,reaction time\n")
            file.writelines(f"p{at},{'ab'[at % 2]},{score:.2f}\n" for at, score in enumerate(scores))

        def bare() -> None:
            with path.open(newline="") as file:
                assert sum(1 for _ in csv.reader(file)) == count + 1

        def ours() -> None:
            data = Data(read_table(path))
            assert len(data.columns) == 3
            rows, reading = filtered(data), READINGS["two_groups"]
            assert reading.read(rows, guessed(reading, rows)).inputs["n1"] == count // 2

        theirs, got = timed(bare), timed(ours)
    line(f"pilot file, {count} rows", f"{got:.2f} s", f"{theirs:.2f} s csv.reader", f"{got / theirs:.1f}x", "seconds")


STEPS = so_many(100, 3)  # along each side of a grid


def grids() -> None:
    """Ten thousand combinations, exact tests on one and on all processors, a table file of 100 000 rows."""
    from ragwort.demo import sampler_study
    from ragwort.grid import cores
    from ragwort.grid.asking import grid_asked, worked_out_for
    from ragwort.grid.work import whole

    aims = {aim.id: aim for aim in sampler_study().aims}
    for name, words, aim in (
        ("reaction", [f"difference=8 to 16 in {STEPS} steps", f"sd=20 to 30 in {STEPS} steps"], "aim <= 1 s"),
        ("kinds", [f"sd=20 to 30 in {STEPS} steps", f"power=80 to 90 in {STEPS} steps"], "aim <= 2 s"),
    ):
        asked = grid_asked(aims[name], words)
        took = timed(lambda asked=asked: whole(asked))
        line(f"grid, {asked.count} of {aims[name].design}", f"{took:.2f} s", "", "", aim)
    asked = grid_asked(
        aims["awake"],
        [
            f"proportion=0.89 to 0.95 in {so_many(30, 2)} steps",
            f"null_proportion=0.83 to 0.87 in {so_many(40, 2)} steps",
        ],
    )
    every, cores.PAYS = cores.PAYS, float("inf")
    alone = timed(lambda: whole(asked))
    cores.PAYS = every
    both = timed(lambda: whole(asked))
    against = f"{alone:.1f} s by one processor"
    line(
        f"grid, {asked.count} of one-proportion, exact", f"{both:.1f} s", against, f"{alone / both:.2f}x", "aim >= 1.6x"
    )
    with tempfile.TemporaryDirectory() as folder:
        path, count = Path(folder) / "rows.csv", so_many(100_000, 100)
        rows = (f"{8 + at % 90 / 10:.1f},{20 + at % 100 / 10:.1f}\n" for at in range(count))
        path.write_text("difference,sd\n" + "".join(rows))
        took = timed(lambda: worked_out_for(aims["reaction"], [], table=path))
    line(f"table file of {count} rows, answered (t)", f"{took:.1f} s", "", "", "aim <= 15 s")


# --- the window -----------------------------------------------------------------------------------------------


def window() -> None:
    """From a keystroke to the repainted window, and one step of a scrub."""
    from PySide6.QtCore import QSettings, Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from ragwort.app.session.token import Token
    from ragwort.app.shell.main import make_window, spare_what_stays
    from ragwort.app.shell.settings import Remembered
    from ragwort.demo import sampler_study
    from ragwort.study.document.recovery import Recovery

    application = QApplication.instance() or QApplication([])
    application.setStyle("Fusion")
    folder = Path(tempfile.mkdtemp())
    remembered = Remembered(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    shown = make_window(sampler_study(), None, remembered, Recovery(folder))
    shown.resize(1280, 800)
    shown.show()
    while not shown.bench.picture.ready:
        application.processEvents()
    spare_what_stays()
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
        for number in range(18, so_many(78, 20)):
            editor.selectAll()
            times += [keystroke(key) for key in str(number)]
        report("keystroke to repaint", name, times, 100)
    shown.bench.picture.show_tab("Curve")
    token = shown.bench.sentence.findChild(Token, "token-sd")

    def scrub(steps: int) -> None:
        token.nudged.emit(steps, True)
        application.processEvents()

    report(
        "scrub, one frame",
        "Curve",
        [timed(lambda k=k: scrub(1 if k % 12 < 6 else -1)) for k in range(so_many(240, 12))],
        33,
    )
    token.drag_ended.emit()
    QTest.keyClick(editor, Qt.Key.Key_Escape)
    memory(application, shown)
    heartbeat(application, shown)
    beside_a_grid(application, shown)
    shown.bench.picture.finish()
    shown.session.open(sampler_study(), None)
    shown.close()


def memory(application: Any, shown: Any) -> None:
    """What a window that is worked in takes: before and after many edits, and when it has given back what it can."""
    from ragwort.app.kit.memory import give_back
    from ragwort.study import edits

    def taken() -> float:
        return int(Path("/proc/self/statm").read_text().split()[1]) * 4096 / 1e6

    session, count = shown.session, so_many(600, 4)
    before = taken()
    for step in range(count):
        session.do(edits.type_value(session.study, session.aim_id, "sd", str(20 + step % 17)))
        session.history.seal()
        application.processEvents()
    after = taken()
    give_back()
    line(f"memory after {count} edits", f"{after:.0f} MB", f"{before:.0f} MB before", f"{after / before:.2f}x", "")
    line("the same, given back when idle", f"{taken():.0f} MB", f"{before:.0f} MB before", "", "")


def heartbeat(application: Any, shown: Any) -> None:
    """The longest time that the event loop stood still while the points of all demo aims are dragged.

    Beside it the longest that its thread itself worked: the rest of a pause is the machine's, busy with others.
    """
    from PySide6.QtCore import QTimer

    beats: list[tuple[float, float, str]] = []
    at = [time.perf_counter(), time.thread_time(), ""]

    def beat() -> None:
        now, worked = time.perf_counter(), time.thread_time()
        beats.append((now - at[0], worked - at[1], at[2]))
        at[:2] = now, worked

    timer = QTimer(interval=1)
    timer.timeout.connect(beat)
    canvas = shown.bench.picture.canvas
    for aim in shown.session.study.aims[: so_many(99)]:
        for picture in ("Curve", "Map", "Split"):
            timer.stop()
            shown.session.select(aim.id)
            shown.bench.picture.show_tab(picture)
            until = time.perf_counter() + 0.8
            while time.perf_counter() < until:
                application.processEvents()
            if canvas.picture is None or canvas.point_at() is None or shown.bench.picture.name != picture:
                continue
            at[:] = [time.perf_counter(), time.thread_time(), f"{picture} of {aim.name}"]
            timer.start()
            drag(application, canvas)
    timer.stop()
    longest, _, where = max(beats)
    _, worked, busiest = max(beats, key=lambda each: each[1])
    gaps = [gap for gap, _, _ in beats]
    line("event loop while dragging all aims", f"{1e3 * longest:.0f} ms", f"longest in {where}", "", "aim <= 50 ms")
    line("the same, its thread at work", f"{1e3 * worked:.0f} ms", f"most in {busiest}", "", "")
    line("the same, a twentieth of the time longer", f"{1e3 * float(np.percentile(gaps, 95)):.0f} ms", "", "", "")


def beside_a_grid(application: Any, shown: Any) -> None:
    """The longest time that the event loop stood still while a grid of 90 000 rows was worked out beside it."""
    from PySide6.QtCore import QTimer

    from ragwort.app.grid.page import GridPage
    from ragwort.grid import edits

    session = shown.session
    session.select(session.study.aims[0].id)
    for place, text in enumerate((f"8 to 16 in {3 * STEPS} steps", f"20 to 30 in {3 * STEPS} steps")):
        session.do(edits.type_values(session.study, session.aim_id, place, text))
    shown.show_page("Grid")
    page = shown.pages.of(GridPage)
    beats: list[tuple[float, float]] = []
    at = [time.perf_counter(), time.thread_time()]

    def beat() -> None:
        now, worked = time.perf_counter(), time.thread_time()
        beats.append((now - at[0], worked - at[1]))
        at[:] = now, worked

    until = time.perf_counter() + 1.0
    while time.perf_counter() < until:
        application.processEvents()
    at[:] = time.perf_counter(), time.thread_time()
    timer = QTimer(interval=1)
    timer.timeout.connect(beat)
    timer.start()
    page.work_out()
    while page.busy or not beats:  # a small grid may be there before the timer's first beat
        application.processEvents()
    timer.stop()
    longest, worked = max(gap for gap, _ in beats), max(work for _, work in beats)
    against = f"its thread at work {1e3 * worked:.0f} ms"
    line(f"event loop beside a grid of {9 * STEPS**2} rows", f"{1e3 * longest:.0f} ms", against, "", "aim <= 50 ms")


def drag(application: Any, canvas: Any) -> None:
    """The point taken to and fro, a mouse move for each time that the loop comes round."""
    from PySide6.QtCore import QPointF

    start = canvas.point_at()
    canvas.point_dragged.emit(*canvas.data_at(start))
    for step in range(40):
        place = start + QPointF(3 * (step if step < 20 else 40 - step), 0)
        canvas.point_dragged.emit(*canvas.data_at(place))
        application.processEvents()
    canvas.drag_ended.emit()
    application.processEvents()


def report(what: str, picture: str, times: list[float], limit: int) -> None:
    """Median and 95th percentile."""
    p50, p95 = (1e3 * float(np.percentile(times[so_many(5, 0) :], q)) for q in (50, 95))
    line(f"{what} ({picture})", f"p50 {p50:.1f} ms", f"p95 {p95:.1f} ms", "", f"aim p95 <= {limit} ms")


# --- start-up -------------------------------------------------------------------------------------------------

OURS = """
import os, sys, time
from PySide6.QtCore import QEvent, QObject, QSettings, QTimer
from PySide6.QtWidgets import QApplication
from pathlib import Path
application = QApplication([]); application.setStyle("Fusion")
from ragwort.app.shell import main
from ragwort.app.shell.settings import Remembered
folder = Path(sys.argv[1])
settings = QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat)
main.Remembered = lambda: Remembered(settings)
main.recovery_folder = lambda: folder
def ready():
    sys.stdout.write("ready"); sys.stdout.flush(); os._exit(0)
start = main.Start(application, Path(sys.argv[2]) if len(sys.argv) > 2 else None, False)
if FIRST:
    start._fill = ready
else:
    fill = start._take
    def filled():
        fill()
        canvas = start.window.bench.picture.canvas
        canvas.painted_first.disconnect()
        canvas.painted_first.connect(ready)
    start._take = filled
start.begin(main.FirstWords())
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

        for name, script, aim in (
            ("process start to first paint", f"FIRST = True{OURS}", "aim <= 1.5x"),
            ("process start to interactive", f"FIRST = False{OURS}", "aim <= 1.8x"),
        ):
            start(script), start(BARE)
            pairs = [(start(script), start(BARE)) for _ in range(so_many(9))]
            ours, bare = (statistics.median(column) for column in zip(*pairs, strict=True))
            ratio = statistics.median(one / other for one, other in pairs)
            line(name, f"{ours * 1e3:.0f} ms", f"{bare * 1e3:.0f} ms bare", f"{ratio:.2f}x", aim)


if __name__ == "__main__":
    if SMALL:
        print("Small, to see that every benchmark runs: these figures say nothing.\n")
    print(f"Python {sys.version.split()[0]}, NumPy {np.__version__}; medians\n")
    line("what", "ours", "beside it", "ratio", "")
    core()
    vectorised()
    exact_tests()
    second_catalogue(line)
    interim_analyses(line)
    reports(line)
    pictures()
    many_sizes()
    pilot_file()
    grids()
    rehearsals(line)
    start_up()
    window()
