"""The pages of the window, in the order of their tabs: each is made when it is first asked for."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from ragwort.app.kit.stack import Stack
from ragwort.app.session.page import Page

if TYPE_CHECKING:
    from ragwort.app.bench.bench import Bench
    from ragwort.app.choose.chooser import Chooser
    from ragwort.app.grid.page import GridPage
    from ragwort.app.rehearse.page import RehearsePage
    from ragwort.app.report.page import ReportPage
    from ragwort.app.sheet.page import SheetPage
    from ragwort.app.shell.window import Window


def _bench(window: Window) -> Bench:
    from ragwort.app.bench.bench import Bench

    page = Bench(window.session, window.theme, window.pages)
    page.detail.set_explaining(window.remembered.explaining)
    return page


def _grid(window: Window) -> GridPage:
    from ragwort.app.grid.page import GridPage

    page = GridPage(window.session, window.theme)
    page.rows_wanted.connect(lambda kind: window.exports.grid(kind, page.results))
    page.chart_wanted.connect(lambda kind: window.exports.chart(kind, page.view.chart))
    page.bench_wanted.connect(lambda: window.show_page("Bench"))
    return page


def _rehearse(window: Window) -> RehearsePage:
    from ragwort.app.rehearse.page import RehearsePage

    page = RehearsePage(window.session, window.theme)
    page.data_wanted.connect(lambda kind: window.exports.made_up_study(kind, page.data()))
    return page


def _report(window: Window) -> ReportPage:
    from ragwort.app.report.page import ReportPage

    page = ReportPage(window.session, window.theme)
    page.export_asked.connect(window.exports.report)
    page.checklist_asked.connect(window.exports.checklist)
    return page


def _sheet(window: Window) -> SheetPage:
    from ragwort.app.sheet.page import SheetPage

    page = SheetPage(window.session, window.theme)
    page.sheet_wanted.connect(lambda kind: window.exports.sheet(kind, page.sheet))
    page.list_wanted.connect(lambda kind: window.exports.allocation_list(kind, page.sheet))
    page.labels_wanted.connect(lambda: window.exports.labels(page.sheet))
    return page


def _choose(window: Window) -> Chooser:
    from ragwort.app.choose.chooser import Chooser

    page = Chooser(window.session, window.theme)
    page.done.connect(window.design_chosen)
    return page


PAGES: dict[str, Callable[[Window], Page]] = {
    "Bench": _bench,
    "Grid": _grid,
    "Rehearse": _rehearse,
    "Report": _report,
    "Sheet": _sheet,
    "Choose": _choose,
}


class Pages(Stack):
    """The pages that were made so far."""

    def __init__(self, window: Window) -> None:
        super().__init__({name: partial(make, window) for name, make in PAGES.items()})
        self.name = next(iter(PAGES))  # of the page in view

    def bring(self, name: str) -> None:
        """Bring a page into view."""
        self.name = name
        self.setCurrentWidget(self.named(name))
        for each, page in self.made.items():
            page.set_shown(each == name)
