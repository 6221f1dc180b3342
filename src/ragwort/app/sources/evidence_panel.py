"""The panel that finds an effect from what is known: routes on the left, inputs and the result on the right.

It names no effect and no design: routes come from the declaration (`Design.evidence`). A pilot file is one more way
in, for the routes that it can give the inputs of.
"""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)
from typing_extensions import override

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Box, discard, form_grid, hairline, label, link
from ragwort.app.session.session import Session
from ragwort.app.sources.inputs import input_of
from ragwort.app.sources.pilot_page import PilotPage
from ragwort.app.sources.sidepanel import SidePanel, scrolled
from ragwort.designs import RequestError, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.evidence import Finding, Route
from ragwort.pilot import Numbers
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.edits import PILOT_FILE, PILOT_GAVE
from ragwort.study.words.naming import in_words
from ragwort.study.words.numbers import NumberError, unit_text
from ragwort.study.words.provenance import values_said

ROOMY = 560  # px from which the routes stand beside the inputs
PILOT = "a pilot file"
SAME_DATA = "Judging the power of a finished study by the effect that it found itself tells nothing new."


class EvidencePanel(SidePanel):
    """Opened from the ledger over the picture."""

    key = "evidence"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "evidence", "Source of the effect")
        self.route: Route | None = None
        self.in_pilot = False
        self.editors: dict[str, QWidget] = {}
        self._labels: dict[str, QLabel] = {}
        self.units: dict[str, QLabel] = {}
        self.buttons: dict[str, QPushButton] = {}
        self.typed: dict[str, dict[str, str]] = {}  # by route: nothing typed is lost on the way to another
        self._aim_id = ""
        self._all: tuple[Route, ...] = ()
        row = QHBoxLayout()
        row.setSpacing(theme.px(18))
        self._routes = QVBoxLayout()
        self._routes.setSpacing(theme.px(2))
        self._routes.setContentsMargins(0, 0, 0, 0)
        self._left = QWidget()
        self._left.setFixedWidth(theme.px(252))
        self._left.setLayout(self._routes)
        row.addWidget(self._left)
        self._between = hairline(vertical=True)
        row.addWidget(self._between)
        self.box = Box(theme, "Where the effect comes from")  # in place of the list where there is little room
        self.box.activated.connect(self._chosen_in_box)
        form = self._form()
        row.addWidget(form, 1)
        above = QHBoxLayout()
        above.setSpacing(theme.px(12))
        above.addWidget(self.box, 1)
        above.addWidget(self.pilot.file, 2)
        self.column.addLayout(above)
        self.column.addLayout(row, 1)
        session.changed.connect(self._aim_may_be_another)

    def _form(self) -> QWidget:
        area = QWidget()
        column = QVBoxLayout(area)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(self.theme.px(6))
        self.pilot = PilotPage(self.theme)
        self.pilot.found.connect(self._from_pilot)
        self.pilot.lost.connect(self._nothing_from_pilot)
        self.entries, pilot = scrolled(), scrolled()
        pilot.setWidget(self.pilot)
        self._pages = QStackedWidget()
        self._pages.addWidget(self.entries)
        self._pages.addWidget(pilot)
        column.addWidget(self._pages, 1)
        self.result, self.interval, self.fault = label("", "found"), label("", "quiet"), label("", "fault")
        for line in (self.result, self.interval, self.fault):
            line.setWordWrap(True)
            column.addWidget(line)
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(16))
        self.use = link("Use it", lambda: self._take(lower=False))
        self.on_lower = link("Plan on the lower limit", lambda: self._take(lower=True))
        row.addWidget(self.use)
        row.addWidget(self.on_lower)
        row.addStretch(1)
        column.addLayout(row)
        return area

    # --- opening ---

    def open_at(self, route: str, inputs: dict[str, str]) -> None:
        """Show the routes with one of them chosen; `inputs` are where nothing was typed into it yet."""
        self.open()
        if not any(self.typed.get(route, {}).values()):
            self.typed[route] = dict(inputs)
        self.choose_named(route)

    def open(self) -> None:
        """Show the routes of the aim in view; the one that was used before, with what was typed then."""
        aim = self.session.aim
        if aim is None:
            return
        design = design_named(aim.design)
        if self._aim_id != f"{aim.id} {aim.design}":
            self.typed = {}
        self._aim_id = f"{aim.id} {aim.design}"
        kept = [entry.evidence for entry in aim.entries.values() if entry.evidence is not None]
        for used in kept:
            self.typed[used.route] = dict(used.inputs)
        self._all = design.evidence
        self._list_routes()
        self.pilot.offer(self._all, aim.words.groups, [used.inputs.get(PILOT_FILE, "") for used in kept])
        names = {route.name: route for route in self._all}
        self.choose(names.get(kept[-1].route if kept else "", self._all[0]))

    def _list_routes(self) -> None:
        """A button for each route and an entry in the box; the pilot file before the rules of thumb."""
        while self._routes.count():
            gone = self._routes.takeAt(0).widget()
            if gone is not None:
                discard(gone)
        group = QButtonGroup(self)
        self.buttons = {}
        self.box.clear()
        ways = [(route.name, route.label) for route in self._all]
        if any(each.readings for each in self._all):
            ways.insert(sum(not each.last_resort for each in self._all), ("pilot", PILOT))
        for name, words in ways:
            self._add_way(name, words, group)
        self._routes.addStretch(1)

    def _add_way(self, name: str, words: str, group: QButtonGroup) -> None:
        button = QPushButton(words, checkable=True)
        button.setObjectName("answer")
        button.setAccessibleName(f"Effect from {words}")
        button.clicked.connect(lambda _=False: self.choose_named(name))
        group.addButton(button)
        self._routes.addWidget(button)
        self.buttons[name] = button
        self.box.addItem(words, name)

    def _chosen_in_box(self, at: int) -> None:
        self.choose_named(self.box.itemData(at))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _arrange(self) -> None:
        """A list beside the inputs where there is room for it; a file needs the whole width."""
        beside = self.width() >= self.theme.px(ROOMY) and not self.in_pilot
        for widget in (self._left, self._between):
            widget.setVisible(beside)
        self.box.setVisible(not beside)
        self.pilot.file.setVisible(self.in_pilot)

    def showEvent(self, event: QShowEvent) -> None:
        QTimer.singleShot(0, self, self._aim_may_be_another)  # also behind another page it may have become another

    def _aim_may_be_another(self) -> None:
        aim = self.session.aim
        if self.isVisible() and (aim is None or self._aim_id != f"{aim.id} {aim.design}"):
            self.closed.emit()
        elif self.isVisible():
            self.refresh()  # what things are called may have changed

    def choose_named(self, name: str) -> None:
        """Ask for the inputs of the route of this name, or for a pilot file."""
        if name == "pilot":
            self.choose_pilot()
        else:
            self.choose({route.name: route for route in self._all}[name])

    def choose(self, route: Route) -> None:
        """Ask for the inputs of a route."""
        self._turn_to(route.name, in_pilot=False)
        self.route, self.editors, self.units = route, {}, {}
        body = QWidget()
        grid = form_grid(body, self.theme)
        self._ask(route, route.inputs, grid)
        self.entries.setWidget(body)
        self.refresh()
        next(iter(self.editors.values())).setFocus()

    def choose_pilot(self) -> None:
        """Ask for a pilot file."""
        self._turn_to("pilot", in_pilot=True)
        self.route, self.editors, self.units = None, {}, {}
        self.refresh()
        if self.pilot.data is not None:
            self.pilot.tell()
        else:
            self.pilot.file.open_link.setFocus()

    def _turn_to(self, name: str, in_pilot: bool) -> None:
        self.in_pilot = in_pilot
        self.buttons[name].setChecked(True)
        self.box.setCurrentIndex(self.box.findData(name))
        self._pages.setCurrentIndex(1 if in_pilot else 0)
        self._arrange()

    def _ask(self, route: Route, inputs: tuple[Assumption, ...], grid: QGridLayout) -> None:
        """An editor for each input."""
        texts, row = self.typed.setdefault(route.name, {}), 0
        for asked in inputs:
            name = self._labels[asked.name] = label("")
            editor = self._input(asked, texts.get(asked.name, ""))
            self.editors[asked.name] = editor
            if asked.kind in ("table", "records"):  # as wide as there is room
                grid.addWidget(name, row, 0, 1, 3)
                row += 1
                grid.addWidget(editor, row, 0, 1, 3)
            else:
                name.setWordWrap(True)  # or its editor would be cut
                top = Qt.AlignmentFlag.AlignTop if asked.several else Qt.AlignmentFlag.AlignVCenter
                grid.addWidget(name, row, 0, top)
                if asked.chosen:
                    grid.addWidget(editor, row, 1, 1, 2, Qt.AlignmentFlag.AlignLeft)
                else:
                    grid.addWidget(editor, row, 1, 1, 2 if asked.several else 1)
                    unit = self.units[asked.name] = label("", "quiet")
                    grid.addWidget(unit, row, 2)
            row += 1
        file = texts.get(PILOT_FILE, "")
        if file and not self.in_pilot:
            origin = label(f"From {file}", "quiet")
            origin.setWordWrap(True)
            grid.addWidget(origin, row, 0, 1, 3)
        grid.setRowStretch(row + 1, 1)

    def _input(self, asked: Assumption, text: str) -> QWidget:
        return input_of(self.theme, asked, text, partial(self._typed, asked.name))

    # --- the pilot file ---

    def _from_pilot(self, route: Route, found: Numbers, said: str) -> None:
        """The numbers of a pilot file take the place of what was typed; what it cannot say is asked for."""
        if not self.in_pilot:
            return
        texts = edits.as_typed(route, found.inputs)
        asked = tuple(each for each in route.inputs if each.name not in texts and (each.required or each.chosen))
        kept = {each.name: self.typed.get(route.name, {}).get(each.name, "") for each in asked}
        gave = {PILOT_FILE: said, PILOT_GAVE: " ".join(texts)}
        self.typed[route.name] = {**texts, **{name: text for name, text in kept.items() if text}, **gave}
        if self.route is not route or set(self.editors) != {each.name for each in asked}:
            self.route = route
            self._ask_rest(route, asked)
        self.refresh()

    def _ask_rest(self, route: Route, asked: tuple[Assumption, ...]) -> None:
        self._forget_rest()
        if asked:
            body = QWidget()
            self._ask(route, asked, form_grid(body, self.theme))
            self.pilot.rest.addWidget(body)

    def _forget_rest(self) -> None:
        self.editors = {}
        while self.pilot.rest.count():
            gone = self.pilot.rest.takeAt(0).widget()
            if gone is not None:
                discard(gone)

    def _nothing_from_pilot(self) -> None:
        if self.in_pilot:
            self._forget_rest()
            self.route = None
            self.refresh()

    @override
    def finish(self) -> None:
        self.pilot.file.finish()

    @property
    @override
    def busy(self) -> bool:
        return self.pilot.file.jobs.busy or self.pilot.conditions.pause.isActive()

    def _typed(self, name: str, text: str) -> None:
        if self.route is None:
            return
        texts = self.typed[self.route.name]
        if texts.get(name, "") != text and name in texts.get(PILOT_GAVE, "").split():
            texts.pop(PILOT_FILE, None)  # typed over: no longer the file's
            texts.pop(PILOT_GAVE, None)
        texts[name] = text
        if name in self.editors or len(self.route.inputs) == 1:
            self.refresh()

    # --- the result ---

    def _unit(self) -> str:
        return self.session.aim.words.unit if self.session.aim is not None else ""

    def finding(self) -> Finding | str:
        """What the route finds from what is typed, or what is missing or wrong."""
        if self.route is None:
            return ""
        try:
            route = self.route if self.session.aim is None else in_words(self.route, self.session.aim)
            return route.find(edits.read_inputs(route, self.typed[route.name], self._unit()))
        except (NumberError, RequestError) as error:
            return str(error)

    def refresh(self) -> None:
        """Show what follows from what is typed."""
        aim, route = self.session.aim, self.route
        if aim is None:
            return
        self._name_inputs(aim)
        found = self.finding()
        ready = isinstance(found, Finding)
        chosen = {each.name for each in route.inputs if each.chosen} if route is not None else set()
        typed = self.typed[route.name] if route is not None else {}
        begun = any(text.strip() for name, text in typed.items() if name not in chosen)
        self.fault.setText("" if ready or not begun else str(found))
        self.fault.setVisible(bool(self.fault.text()))
        self.use.setEnabled(ready)
        self.on_lower.setVisible(isinstance(found, Finding) and bool(found.lower))
        if not isinstance(found, Finding):
            invitation = "" if begun or self.in_pilot else "Type what is known; the effect follows at once."
            self.result.setText("")
            self.interval.setText(invitation)
            return
        self.result.setText(values_said(aim, found.values, found.effect))
        lines = [found.interval, found.remark, SAME_DATA if found.interval else ""]
        if found.lower:
            lines.insert(1, f"At the lower limit: {values_said(aim, found.lower, '')}.")
        self.interval.setText("\n".join(line for line in lines if line))

    def _name_inputs(self, aim: Aim) -> None:
        """Call the inputs by the study's names as they are now."""
        asked_for = in_words(self.route, aim).inputs if self.route is not None else ()
        for asked in (each for each in asked_for if each.name in self.editors):
            self._labels[asked.name].setText(asked.label)
            self.editors[asked.name].setAccessibleName(asked.label)
            if asked.name in self.units:
                self.units[asked.name].setText(unit_text(asked, aim.words.unit))

    def _take(self, lower: bool) -> None:
        if self.route is None or self.session.aim is None:
            return
        inputs = dict(self.typed[self.route.name])
        self.session.do(edits.use_evidence(self.session.study, self.session.aim_id, self.route, inputs, lower))
        self.closed.emit()
