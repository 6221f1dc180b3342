"""Pages made when they are first asked for, and tied to what the window does for them."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ragwort.app.grid.page import GridPage
    from ragwort.app.rehearse.page import RehearsePage
    from ragwort.app.sheet.page import SheetPage
    from ragwort.app.shell.window import Window


def grid_page(window: Window) -> GridPage:
    """The page Grid."""
    from ragwort.app.grid.page import GridPage

    page = GridPage(window.session, window.theme)
    page.rows_wanted.connect(lambda kind: window.exports.grid(kind, page.results))
    page.chart_wanted.connect(lambda kind: window.exports.chart(kind, page.view.chart))
    page.bench_wanted.connect(lambda: window.show_page("Bench"))
    window.pages.addWidget(page)
    return page


def rehearse_page(window: Window) -> RehearsePage:
    """The page Rehearse."""
    from ragwort.app.rehearse.page import RehearsePage

    page = RehearsePage(window.session, window.theme)
    page.data_wanted.connect(lambda kind: window.exports.made_up_study(kind, page.data()))
    window.pages.addWidget(page)
    return page


def sheet_page(window: Window) -> SheetPage:
    """The page Sheet."""
    from ragwort.app.sheet.page import SheetPage

    page = SheetPage(window.session, window.theme)
    page.sheet_wanted.connect(lambda kind: window.exports.sheet(kind, page.sheet))
    page.list_wanted.connect(lambda kind: window.exports.allocation_list(kind, page.sheet))
    page.labels_wanted.connect(lambda: window.exports.labels(page.sheet))
    window.pages.addWidget(page)
    return page
