"""Take the pictures of docs/screenshots/ from the demo study. Run after a view changes:
.venv/bin/python docs/screenshots.py
"""

from __future__ import annotations

import io
import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from ragwort.app.choose.chooser import Chooser
from ragwort.app.grid.page import GridPage
from ragwort.app.rehearse.page import RehearsePage
from ragwort.app.report.page import ReportPage
from ragwort.app.sheet.page import SheetPage
from ragwort.app.sources.evidence_panel import EvidencePanel
from ragwort.app.sources.ways_panel import WaysPanel

os.environ.setdefault("QT_QPA_PLATFORM", f"offscreen:configfile={Path(__file__).parents[1] / 'tests' / 'screen.json'}")

from PySide6.QtCore import QEventLoop, QSettings, QTimer
from PySide6.QtWidgets import QApplication

from ragwort.app.shell.main import make_window
from ragwort.app.shell.settings import Remembered
from ragwort.app.shell.window import Window
from ragwort.demo import demo_study
from ragwort.study import edits
from ragwort.study.document.history import Edit
from ragwort.study.document.recovery import Recovery

TARGET = Path(__file__).parent / "screenshots"


def wait(milliseconds: int = 250) -> None:
    """Let the window work."""
    loop = QEventLoop()
    QTimer.singleShot(milliseconds, loop.quit)
    loop.exec()


def take(name: str, act: Callable[[Window], None], theme: str = "light", settle: int = 400) -> None:
    """One picture: a fresh window on the demo study after `act`."""
    folder = Path(tempfile.mkdtemp())
    remembered = Remembered(QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    remembered.theme = theme
    window = make_window(demo_study(), None, remembered, Recovery(folder))
    window.resize(1280, 800)
    window.show()
    while not window.bench.picture.ready:
        wait(50)
    act(window)
    wait(settle)
    window.grab().save(str(TARGET / f"{name}.png"))
    window.leave_editor()
    window.session.open(demo_study(), None)
    window.close()


def bench_error(window: Window) -> None:
    """A standard deviation below zero."""
    session = window.session
    window.bench.ledger.row("sd").editor.setFocus()
    session.do(edits.type_value(session.study, session.aim_id, "sd", "-5"))


def bench_errors(window: Window) -> None:
    """The second aim with the picture Errors, a value in hand."""
    window.session.select("alertness")
    window.bench.picture.show_tab("Errors")
    window.bench.ledger.row("power").editor.setFocus()


def showing(picture: str) -> Callable[[Window], None]:
    """The first aim with this picture, once it is there."""

    def act(window: Window) -> None:
        window.bench.picture.show_tab(picture)
        while window.bench.picture.busy or window.bench.picture.canvas.picture is None:
            wait(50)

    return act


def bench_boundaries(window: Window) -> None:
    """Two interim analyses, evenly; the ledger's table of them in view."""
    session = window.session
    session.do(edits.type_looks(session.study, session.aim_id, "2"))
    wait()
    showing("Boundaries")(window)
    ledger = window.bench.ledger
    wait()
    ledger.verticalScrollBar().setValue(ledger.verticalScrollBar().maximum())


def grid(window: Window) -> None:
    """The demo's combinations, a row picked."""
    window.show_page("Grid")
    while window.pages.of(GridPage).busy or window.pages.of(GridPage).results is None:
        wait(50)
    window.pages.of(GridPage).table.selectRow(4)


def bench_ways(window: Window) -> None:
    """Less can be had than is needed."""
    for name, text in (("costs", "150"), ("budget", "18 000"), ("currency", "€"), ("centres", "4"), ("per_month", "5")):
        window.session.do(edits.type_resource(window.session.study, name, text))
    window.bench.show_panel("ways")
    while window.bench.right.of(WaysPanel).jobs.busy:
        wait(50)


def rehearse(window: Window) -> None:
    """SDs apart, all worlds done."""
    window.show_page("Rehearse")
    page = window.pages.of(RehearsePage)
    while page.busy:
        wait(50)
    page.table.setCurrentCell(2, 0)
    while page.busy:
        wait(50)


def sheet(window: Window) -> None:
    """With codes, by stratum."""
    for name, value in (("method", "stratified"), ("strata", "ward: small, medium, large"), ("shown", "codes")):
        own = window.session.study.aims[0]
        changed = own.changed(sheet=own.sheet.changed(**{name: value}))
        window.session.do(Edit("changing the sheet", window.session.study.with_aim(changed)))
    window.show_page("Sheet")
    while window.pages.of(SheetPage).busy or window.pages.of(SheetPage).sheet is None:
        wait(50)


def choose(window: Window) -> None:
    """Three questions answered, two designs side by side."""
    window.choose()
    for question, value in (("measured", "number"), ("compared", "two"), ("same", "twice")):
        window.pages.of(Chooser).options[question, value].click()
    for entry in window.pages.of(Chooser).entries:
        if entry.id in ("two-means", "paired-means"):
            entry.beside.click()


def evidence(window: Window) -> None:
    """The effect from the means and SDs of an earlier study."""
    window.bench.show_panel("evidence")
    panel = window.bench.right.of(EvidencePanel)
    panel.buttons["means"].click()
    texts = {"mean1": "412", "mean2": "396", "sd1": "24", "sd2": "26", "n1": "30", "n2": "30"}
    for name, text in texts.items():
        panel.editors[name].setText(text)
        panel.editors[name].textEdited.emit(text)


def pilot(window: Window) -> None:
    """The demo's pilot file, some rows kept."""
    window.bench.show_panel("evidence")
    page = window.bench.right.of(EvidencePanel).pilot
    window.bench.right.of(EvidencePanel).choose_named("pilot")
    page.file.read_demo()
    while page.last is None or page.file.jobs.busy:
        wait(50)


def progress(window: Window) -> None:
    """A study half way."""
    session = window.session
    session.do(edits.set_so_far(session.study, session.aim_id, (41, 38)))
    window.bench.show_panel("progress")


def guide(window: Window) -> None:
    """The guide at the design in view, as a picture of its own window."""
    window.help.show("two-proportions")
    wait(400)
    window.help.guide.grab().save(str(TARGET / "guide.png"))
    window.help.guide.close()


def report_preview(window: Window) -> None:
    """The report page, once its preview is there."""
    window.show_page("Report")
    while not window.pages.of(ReportPage).state.text().startswith("This is what"):
        wait(100)


def report_page_one() -> None:
    """The first page of the PDF."""
    import subprocess

    from ragwort.report import report_bytes

    with tempfile.TemporaryDirectory() as folder:
        pdf = Path(folder) / "report.pdf"
        pdf.write_bytes(report_bytes(demo_study(), "pdf"))
        made = subprocess.run(["pdftoppm", "-r", "80", "-f", "1", "-l", "1", "-png", str(pdf)], capture_output=True)
    from PIL import Image

    Image.open(io.BytesIO(made.stdout)).save(TARGET / "report-pdf.png", optimize=True)


if __name__ == "__main__":
    application = QApplication([])
    application.setStyle("Fusion")
    TARGET.mkdir(exist_ok=True)
    take("bench", lambda window: None)
    for picture in ("Map", "Drivers", "Spread"):
        take(f"bench-{picture.lower()}", showing(picture))
    take("bench-errors", bench_errors)
    take("bench-error", bench_error)
    take("bench-boundaries", bench_boundaries)
    take("bench-ways", bench_ways)
    take("grid", grid)
    take("rehearse", rehearse)
    take("sheet", sheet)
    take("choose", choose)
    take("evidence", evidence)
    take("pilot", pilot)
    take("progress", progress)
    take("bench-dark", guide, theme="dark")
    take("report", report_preview)
    report_page_one()
