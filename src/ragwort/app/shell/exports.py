"""What is taken out of a study: the report, the picture in view and its data; written off the interface thread."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

from ragwort.app.kit.command import Command
from ragwort.app.kit.jobs import Jobs, Ticket
from ragwort.app.kit.notice import Notice
from ragwort.app.picture.picture import PictureView
from ragwort.app.session import asking
from ragwort.app.session.session import Session
from ragwort.designs import Answer
from ragwort.files import FileError, write_whole
from ragwort.files.log import fault_of_ours
from ragwort.grid.chart import GridChart
from ragwort.grid.work import Results
from ragwort.rehearsal.dataset import DataSet
from ragwort.sheet.parts import Sheet
from ragwort.study.document.files import file_name


class Exports(QObject):
    """Asks where to, and writes."""

    def __init__(self, window: QWidget, session: Session, view: PictureView, notice: Notice) -> None:
        super().__init__(window)
        self._window, self.session, self._view, self._notice = window, session, view, notice
        self.jobs = Jobs(self)
        self.jobs.progressed.connect(notice.show_progress)

    def commands(self) -> list[Command]:
        """What can be exported from anywhere."""
        found = [
            Command(
                "file.report-pdf", "File", "Export the report as PDF…", self._report("pdf"), "Ctrl+E", separated=True
            ),
            Command("file.report-html", "File", "Export the report as HTML…", self._report("html")),
            Command("file.report-docx", "File", "Export the report as DOCX…", self._report("docx")),
            Command("file.report-md", "File", "Export the report as Markdown…", self._report("md")),
            Command("file.report-txt", "File", "Export the report as plain text…", self._report("txt")),
        ]
        kinds = (("svg", "the picture as SVG"), ("pdf", "the picture as PDF"), ("png", "the picture as PNG"))
        for kind, name in (*kinds, ("csv", "the picture's data as CSV")):
            first = kind == "svg"
            found.append(
                Command(
                    f"file.picture-{kind}",
                    "File",
                    f"Export {name}…",
                    lambda kind=kind: self.picture(kind),
                    "Ctrl+Shift+E" if first else "",
                    lambda: self.session.aim is not None,
                    separated=first,
                )
            )
        return found

    def _report(self, kind: str) -> Callable[[], None]:
        return lambda: self.report(kind)

    def report(self, kind: str) -> None:
        """Write the report."""
        path = self._ask("Export the report", f".{kind}", "")
        if path is None:
            return
        from ragwort.report import report_bytes

        study = self.session.study
        self._write(path, lambda ticket: report_bytes(study, kind, ticket.progress), "The report")

    def checklist(self, edition: str) -> None:
        """Write a guideline's checklist, to be filled in and sent along."""
        path = self._ask("Export the checklist", ".docx", f"-{edition}")
        if path is None:
            return
        from ragwort.report import document_bytes
        from ragwort.report.sections.checklist import checklist_of
        from ragwort.study.document.writing import paper_of

        study = self.session.study
        self._write(
            path,
            lambda ticket: document_bytes(checklist_of(study, edition), "docx", paper_of(study), ticket.progress),
            "The checklist",
        )

    def picture(self, kind: str) -> None:
        """Write the picture in view, or its data."""
        aim = self.session.aim
        outcome = self.session.outcome(aim) if aim is not None else None
        if aim is None or not isinstance(outcome, Answer):
            self._notice.say("There is no picture to export while the aim has no answer.")
            return
        path = self._ask("Export the picture", f".{kind}", f"-{self._view.name.lower()}")
        if path is None:
            return
        from ragwort.figures.export import picture_bytes

        draw, size = self._view.drawing(aim, outcome), aim.steer(self._view.name).size
        self._write(path, lambda _: picture_bytes(draw(), kind, size=size, alone=True), "The picture")

    def grid(self, kind: str, results: Results | None) -> None:
        """Write the rows of a grid, as far as they are worked out."""
        if results is None:
            self._notice.say("There is no grid to export yet.")
            return
        path = self._ask("Export the grid", f".{kind}", "-grid")
        if path is None:
            return
        from ragwort.grid.writing import grid_bytes
        from ragwort.study.results.resources import limits_of

        limits = limits_of(self.session.study)
        self._write(path, lambda _: grid_bytes(results, kind, limits), "The grid")

    def comparison(self, made: Callable[[], bytes]) -> None:
        """Write the scenarios side by side."""
        path = self._ask("Export the scenarios", ".csv", "-scenarios")
        if path is not None:
            data = made()
            self._write(path, lambda _: data, "The comparison")

    def chart(self, kind: str, chart: GridChart | None) -> None:
        """Write the chart of a grid, or its data."""
        if chart is None:
            self._notice.say("There is no chart to export while no row has an answer.")
            return
        path = self._ask("Export the chart", f".{kind}", "-grid-chart")
        if path is None:
            return
        from ragwort.figures.export import picture_bytes

        self._write(path, lambda _: picture_bytes(chart, kind, alone=True), "The chart")

    def made_up_study(self, kind: str, data: DataSet | None) -> None:
        """Write one of the rehearsed studies."""
        if data is None:
            self._notice.say("There is no made-up study to export yet.")
            return
        path = self._ask("Export the made-up study", f".{kind}", f"-study-{data.number}")
        if path is None:
            return
        from ragwort.rehearsal.data_files import data_bytes

        self._write(path, lambda _: data_bytes(data, kind), "The made-up study")

    def sheet(self, kind: str, sheet: Sheet | None) -> None:
        """Write the collection sheet."""
        path = self._ask("Export the sheet", f".{kind}", "-sheet") if sheet is not None else None
        if path is not None and sheet is not None:
            from ragwort.sheet.writing import sheet_bytes

            self._write(path, lambda _: sheet_bytes(sheet, kind), "The sheet")

    def allocation_list(self, kind: str, sheet: Sheet | None) -> None:
        """Write the allocation list, apart from the sheet."""
        aim = self.session.aim
        path = self._ask("Export the allocation list", f".{kind}", "-allocation") if sheet is not None else None
        if path is not None and sheet is not None and aim is not None:
            from ragwort.sheet.writing import list_bytes

            seed = aim.sheet.seed
            self._write(path, lambda _: list_bytes(sheet, seed, kind), "The allocation list")

    def labels(self, sheet: Sheet | None) -> None:
        """Write labels for sealed envelopes."""
        aim = self.session.aim
        path = self._ask("Export labels for envelopes", ".pdf", "-envelopes") if sheet is not None else None
        if path is not None and sheet is not None and aim is not None:
            from ragwort.sheet.labels import labels_bytes

            masked = aim.sheet.shown == "codes"
            self._write(path, lambda _: labels_bytes(sheet, masked), "The labels")

    def _ask(self, title: str, suffix: str, what: str) -> Path | None:
        folder = self.session.path.parent if self.session.path else Path.home()
        name = f"{file_name(self.session.study)}{what}{suffix}"
        return asking.place_to_save(self._window, title, folder / name, suffix)

    def _write(self, path: Path, made: Callable[[Ticket], bytes], what: str) -> None:
        self._notice.work(f"Writing {path.name} …", self.jobs.cancel)
        self.jobs.start(
            lambda ticket: write_whole(path, made(ticket)),
            lambda _: self._notice.say(f"{what} is in {path}."),
            self._failed,
        )

    def _failed(self, error: Exception) -> None:
        self._notice.say(str(error) if isinstance(error, FileError) else fault_of_ours(error))
