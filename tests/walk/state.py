"""The state of a window beside its study: what is shown and how, which a freshly made window has to take over.

It is what depends on the past by design: pages and panels in view, what was typed in them, how far is scrolled, the
axes of a picture (kept while a value moves), the picture under a message that there is no answer.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QAbstractScrollArea

from ragwort.app.bench.ledger import Ledger
from ragwort.app.choose.chooser import Chooser
from ragwort.app.grid.page import GridPage
from ragwort.app.kit.cells import Cells
from ragwort.app.kit.plain_text import PlainText
from ragwort.app.picture.picture import PictureView
from ragwort.app.rehearse.page import RehearsePage
from ragwort.app.report.page import ReportPage
from ragwort.app.shell.window import Window
from ragwort.app.sources.evidence_panel import EvidencePanel
from ragwort.app.sources.pilot_page import PilotPage
from ragwort.app.sources.protocol_panel import ProtocolPanel
from ragwort.pilot.filters import WITHOUT_VALUE


def take_over(old: Window, new: Window) -> Callable[[], None]:
    """Show in `new` what `old` shows; what is given back is to be called once `new` has come to rest."""
    _pages(old, new)
    _picture(old.bench.picture, new.bench.picture)
    _ledger(old.bench.ledger, new.bench.ledger)
    if old.bench.is_filled:
        new.bench.fill_with_picture()
    new.bench.detail.row = old.bench.detail.row
    new.bench.detail.show_assumption(old.bench.detail.name)
    _panels(old, new)
    if old.pages.name == "Grid":
        _grid(old.pages.of(GridPage), new.pages.of(GridPage))
    if old.pages.name == "Rehearse":
        _rehearse(old.pages.of(RehearsePage), new.pages.of(RehearsePage))
    if old.pages.name == "Report":
        _report(old.pages.of(ReportPage), new.pages.of(ReportPage))
    return lambda: _at_rest(old, new)


def _at_rest(old: Window, new: Window) -> None:
    """What the new window's own work would undo."""
    _scroll(old, new)
    if old.pages.name == "Report" and old.pages.of(ReportPage).state.text().endswith(" is on the clipboard."):
        new.pages.of(ReportPage).state.setText(old.pages.of(ReportPage).state.text())


def _report(old: ReportPage, new: ReportPage) -> None:
    new.side.show_view(old.side.views.currentIndex())
    new.side.sections.list.pick(old.side.sections.list.picked)


def _pages(old: Window, new: Window) -> None:
    new.show_page(old.pages.name)
    if old.pages.name == "Choose":
        was, now = old.pages.of(Chooser), new.pages.of(Chooser)
        now.aim_id, now.answers, now.pair = was.aim_id, dict(was.answers), list(was.pair)
        now.search.setText(was.search.text())
        now.refresh()


def _grid(old: GridPage, new: GridPage) -> None:
    """Rows that were worked out before an edit, their order, the row that is picked, the room of each part."""
    new.results = old.results
    new.file.opened, new.file.taken = old.file.opened, old.file.taken
    new.halves.restoreState(old.halves.saveState())
    new.refresh()
    if not old.file_fault.isHidden():
        new.say_of_file(old.file_fault.text())
    header = old.table.horizontalHeader()
    new.table.horizontalHeader().setSortIndicator(header.sortIndicatorSection(), header.sortIndicatorOrder())
    for at in range(header.count()):
        new.table.setColumnWidth(at, old.table.columnWidth(at))
    picked = old.table.selectionModel().selectedRows()
    if picked:
        new.table.selectRow(picked[0].row())


def _rehearse(old: RehearsePage, new: RehearsePage) -> None:
    """What was worked out (and how long it took), which picture, what somebody stopped, the room of each part."""
    new.running.known = old.running.known
    new.halted = old.halted
    new.halves.restoreState(old.halves.saveState())
    new.pictures.show_tab(old.pictures.name)
    new.pictures.as_table = old.pictures.as_table
    new.refresh()


def _scroll(old: Window, new: Window) -> None:
    """Everything that can be scrolled, as far; some of it was made in another order."""
    were, are = (_areas(window) for window in (old, new))
    for was, now in ((each, are[name]) for name, each in were.items() if name in are):
        if isinstance(now, PlainText):
            now.document().documentLayout().documentSize()  # lays out every line: how far it can be scrolled
        now.verticalScrollBar().setValue(was.verticalScrollBar().value())
        now.horizontalScrollBar().setValue(was.horizontalScrollBar().value())


def _areas(window: Window) -> dict[tuple[str, ...], QAbstractScrollArea]:
    """What can be scrolled, by its kind and where it stands."""
    found: dict[tuple[str, ...], QAbstractScrollArea] = {}
    for area in (each for each in window.findChildren(QAbstractScrollArea) if each.isVisible()):
        name = [type(area).__name__, area.objectName(), type(area.parent()).__name__]
        while (*name,) in found:
            name.append("next")
        found[(*name,)] = area
    return found


def _picture(old: PictureView, new: PictureView) -> None:
    new.name = old.name
    new.tabs.show_names(old.tabs.there, old.name)
    new.canvas.picture = old.canvas.picture
    if not old.steering.isHidden():
        new.steering.show()
        new.steering.show_sentence(old.steering.sentence)
    if old.ready:
        new.start()


def _ledger(old: Ledger, new: Ledger) -> None:
    for was, now in zip(old.rows, new.rows, strict=True):
        if was.cells is not None:
            now.show_cells(not was.cells.isHidden())
            _same_size(was.cells, now.cells)
    if old.looks is not None and new.looks is not None:
        new.looks.scale, new.looks.planned = old.looks.scale, old.looks.planned
        new.refresh()


def _same_size(was: Cells, now: Cells) -> None:
    """Empty rows and columns wait for what will be typed, also between others."""
    now.table.setRowCount(was.table.rowCount())
    now.table.setColumnCount(was.table.columnCount())
    texts = _texts(was)
    if [text for text in texts.values() if text] == [text for text in _texts(now).values() if text]:
        with QSignalBlocker(now.table):
            for (row, column), text in texts.items():
                now.set_text(row, column, text)
    for row in range(was.table.rowCount()):  # names go with their rows, also where an empty one stands between
        if was.table.verticalHeaderItem(row) is not None and now.table.verticalHeaderItem(row) is not None:
            now.table.verticalHeaderItem(row).setText(was.table.verticalHeaderItem(row).text())
    now.fit()


def _texts(cells: Cells) -> dict[tuple[int, int], str]:
    table = cells.table
    places = [(row, column) for row in range(table.rowCount()) for column in range(table.columnCount())]
    return {place: item.text() if (item := table.item(*place)) is not None else "" for place in places}


def _panels(old: Window, new: Window) -> None:
    shown = old.bench.right.currentWidget()
    key = next((key for key, panel in old.bench.right.made.items() if panel is shown), "")
    if key:
        new.bench.show_panel(key)
    if key == "evidence":
        _evidence(old.bench.right.of(EvidencePanel), new.bench.right.of(EvidencePanel))
    if key == "protocol":  # no part of the study until it is signed
        was, now = old.bench.right.of(ProtocolPanel), new.bench.right.of(ProtocolPanel)
        now.signer.setText(was.signer.text())
        now.day.setText(was.day.text())


def _evidence(old: EvidencePanel, new: EvidencePanel) -> None:
    new.typed = {name: dict(texts) for name, texts in old.typed.items()}
    _pilot(old.pilot, new.pilot)
    route = "pilot" if old.in_pilot else old.route.name if old.route is not None else ""
    if route in new.buttons:
        new.choose_named(route)
    for name, was in old.editors.items():
        if isinstance(was, Cells) and isinstance(now := new.editors.get(name), Cells):
            _same_size(was, now)


def _pilot(old: PilotPage, new: PilotPage) -> None:
    if old.data is None:
        new.fault.setText(old.fault.text())  # of a file that could not be read, until the panel is opened anew
        new.fault.setHidden(old.fault.isHidden())
        new.file.state.set_text(old.file.state.whole())
        return
    new.file.show_data(old.data)
    new.way.setCurrentIndex(old.way.currentIndex())
    new.show_way()
    for each in old.conditions.filters():
        new.conditions.add()
        _, column, relation, value = new.conditions.lines[-1]
        column.setCurrentText(each.column)
        relation.setCurrentText(each.relation)
        value.setText(each.value)
        value.setVisible(each.relation not in WITHOUT_VALUE)
    new.look(old.roles.choices())
    if not old.fault.isHidden() and old.last is not None and not old.last.fault:
        new.file.jobs.finish()  # of another file, which could not be read
        new.take_read(new.ways[new.way.currentIndex()], old.last, old.conditions.filters())
        new.fault.setText(old.fault.text())
        new.fault.show()
