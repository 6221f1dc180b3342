"""Pages made when they are first asked for, and tied to what the window does for them."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ragwort.app.grid.page import GridPage
    from ragwort.app.rehearse.page import RehearsePage
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
