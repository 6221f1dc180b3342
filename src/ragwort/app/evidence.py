"""The panel that finds an effect from what is known: routes on the left, inputs and the result on the right.

It names no effect and no design: routes come from the declaration (`Design.evidence`).
"""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.cells import Cells
from ragwort.app.parts import Elided, hairline, label, link
from ragwort.app.pilot import PilotStrip
from ragwort.app.session import Session
from ragwort.app.theme import Theme
from ragwort.designs import RequestError, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.designs.evidence import Finding, Route
from ragwort.pilot import GroupSummary
from ragwort.study import edits
from ragwort.study.edits import PILOT_FILE
from ragwort.study.model import Aim
from ragwort.study.numbers import NumberError, unit_text, with_unit

ROOMY = 560  # px from which the routes stand beside the inputs
SAME_DATA = "Judging the power of a finished study by the effect that it found itself tells nothing new."


class EvidencePanel(QWidget):
    """Opened from the ledger over the picture; `closed` gives the picture back."""

    closed = Signal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setObjectName("evidence")
        self.route: Route | None = None
        self.editors: dict[str, QWidget] = {}
        self.typed: dict[str, dict[str, str]] = {}  # by route: nothing typed is lost on the way to another
        self._aim_id = ""
        self._all: tuple[Route, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(26), theme.px(12), theme.px(20), theme.px(12))
        column.setSpacing(theme.px(8))
        top = QHBoxLayout()
        top.addWidget(Elided("Where does the effect come from?", "pageTitle"), 1)
        top.addWidget(link("Back to the picture", self.closed.emit))
        column.addLayout(top)
        row = QHBoxLayout()
        row.setSpacing(theme.px(18))
        self._routes = QVBoxLayout()
        self._routes.setSpacing(theme.px(2))
        self._left = QWidget()
        self._left.setFixedWidth(theme.px(252))
        self._left.setLayout(self._routes)
        row.addWidget(self._left)
        self._between = hairline(vertical=True)
        row.addWidget(self._between)
        self.box = QComboBox()  # in place of the list where there is little room
        self.box.setAccessibleName("Where the effect comes from")
        self.box.activated.connect(lambda at: self.choose(self._all[at]))
        column.addWidget(self.box)
        row.addWidget(self._form(), 1)
        column.addLayout(row, 1)
        session.changed.connect(self._aim_may_be_another)

    def _form(self) -> QWidget:
        area = QWidget()
        column = QVBoxLayout(area)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(self.theme.px(6))
        self._inputs = QWidget()
        scroll = QScrollArea()
        scroll.setObjectName("entries")
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll = scroll
        column.addWidget(scroll, 1)
        self.result = label("", "found")
        self.result.setWordWrap(True)
        self.interval = label("", "quiet")
        self.interval.setWordWrap(True)
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        self.pilot = PilotStrip(self.theme)
        self.pilot.found.connect(self._from_pilot)
        column.addWidget(self.pilot)
        for line in (self.result, self.interval, self.fault):
            column.addWidget(line)
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(16))
        self.use = link("Use it", lambda: self._take(lower=False))
        self.lower = link("Plan on the lower limit", lambda: self._take(lower=True))
        row.addWidget(self.use)
        row.addWidget(self.lower)
        row.addStretch(1)
        column.addLayout(row)
        return area

    # --- opening ---

    def open(self) -> None:
        """Show the routes of the aim in view; the one that was used before, with what was typed then."""
        aim = self.session.aim
        if aim is None:
            return
        design = design_named(aim.design)
        if self._aim_id != f"{aim.id} {aim.design}":
            self.typed = {}
        self._aim_id = f"{aim.id} {aim.design}"
        used = next((entry.evidence for entry in aim.entries.values() if entry.evidence is not None), None)
        if used is not None:
            self.typed[used.route] = dict(used.inputs)
        while self._routes.count():
            gone = self._routes.takeAt(0).widget()
            if gone is not None:
                gone.hide()
                gone.deleteLater()
        group = QButtonGroup(self)
        self.buttons: dict[str, QPushButton] = {}
        for route in design.evidence:
            button = QPushButton(route.label, checkable=True)
            button.setObjectName("answer")
            button.setAccessibleName(f"Effect from {route.label}")
            button.clicked.connect(lambda _=False, route=route: self.choose(route))
            group.addButton(button)
            self._routes.addWidget(button)
            self.buttons[route.name] = button
        self._routes.addStretch(1)
        self._all = design.evidence
        self.box.clear()
        self.box.addItems([route.label for route in self._all])
        names = {route.name: route for route in design.evidence}
        self.choose(names.get(used.route if used else "", design.evidence[0]))

    def resizeEvent(self, event: object) -> None:
        roomy = self.width() >= self.theme.px(ROOMY)
        for widget in (self._left, self._between):
            widget.setVisible(roomy)
        self.box.setVisible(not roomy)

    def _aim_may_be_another(self) -> None:
        aim = self.session.aim
        if self.isVisible() and (aim is None or self._aim_id != f"{aim.id} {aim.design}"):
            self.closed.emit()

    def choose(self, route: Route) -> None:
        """Ask for the inputs of a route."""
        self.route = route
        self.buttons[route.name].setChecked(True)
        self.box.setCurrentText(route.label)
        self.editors = {}
        body = QWidget()
        grid = QGridLayout(body)
        grid.setContentsMargins(0, 0, self.theme.px(8), 0)
        grid.setHorizontalSpacing(self.theme.px(12))
        grid.setVerticalSpacing(self.theme.px(6))
        grid.setColumnStretch(2, 1)
        texts = self.typed.setdefault(route.name, {})
        for at, asked in enumerate(route.inputs):
            optional = "" if asked.required else " (if known)"
            grid.addWidget(label(f"{asked.label}{optional}"), at, 0)
            editor = self._editor(asked, texts.get(asked.name, ""))
            self.editors[asked.name] = editor
            grid.addWidget(editor, at, 1, 1, 2 if asked.several else 1)
            grid.addWidget(label(unit_text(asked, self._unit()), "quiet"), at, 2)
        grid.setRowStretch(len(route.inputs), 1)
        self.pilot.setVisible(bool(route.groups))
        self._scroll.setWidget(body)
        self.refresh()
        next(iter(self.editors.values())).setFocus()

    def _editor(self, asked: Assumption, text: str) -> QWidget:
        if asked.chosen:
            box = QComboBox()
            box.addItems([choice.label for choice in asked.choices])
            box.setCurrentText(text or asked.choices[0].label)
            self._typed(asked.name, box.currentText())
            box.currentTextChanged.connect(lambda chosen: self._typed(asked.name, chosen))
            made: QWidget = box
        elif asked.several:
            cells = Cells(self.theme, asked)
            cells.show_text(text or "0 0; 0 0")
            cells.edited.connect(lambda typed: self._typed(asked.name, typed))
            made = cells
        else:
            line = QLineEdit(text)
            line.setFixedWidth(self.theme.px(96))
            line.setAlignment(Qt.AlignmentFlag.AlignRight)
            line.textEdited.connect(lambda typed: self._typed(asked.name, typed))
            made = line
        made.setAccessibleName(asked.label)
        return made

    def _from_pilot(self, groups: tuple[GroupSummary, GroupSummary], said: str) -> None:
        """The numbers of a pilot file take the place of what was typed."""
        if self.route is None or not self.route.groups:
            return
        for names, group in zip(self.route.groups, groups, strict=True):
            for name, value in zip(names, (group.mean, group.sd, group.n), strict=True):
                editor = self.editors[name]
                assert isinstance(editor, QLineEdit)
                editor.setText(f"{value:.6g}")
                self.typed[self.route.name][name] = editor.text()
        self.typed[self.route.name][PILOT_FILE] = said
        self.refresh()

    def finish(self) -> None:
        """Wait until no thread works any more: for closing the window."""
        self.pilot.finish()

    def _typed(self, name: str, text: str) -> None:
        assert self.route is not None
        self.typed[self.route.name][name] = text
        self.typed[self.route.name].pop(PILOT_FILE, None)  # typed over: no longer the file's
        if name in self.editors or len(self.route.inputs) == 1:
            self.refresh()

    # --- the result ---

    def _unit(self) -> str:
        return self.session.aim.words.unit if self.session.aim is not None else ""

    def finding(self) -> Finding | str:
        """What the route finds from what is typed, or what is missing or wrong."""
        assert self.route is not None
        try:
            given = edits.read_inputs(self.route, self.typed[self.route.name], self._unit())
            return self.route.find(given)
        except (NumberError, RequestError) as error:
            return str(error)

    def refresh(self) -> None:
        """Show what follows from what is typed."""
        aim, route = self.session.aim, self.route
        if aim is None or route is None:
            return
        found = self.finding()
        ready = isinstance(found, Finding)
        begun = any(text.strip() for text in self.typed[route.name].values())
        self.fault.setText("" if ready or not begun else str(found))
        self.fault.setVisible(bool(self.fault.text()))
        self.use.setEnabled(ready)
        self.lower.setVisible(isinstance(found, Finding) and bool(found.lower))
        if not isinstance(found, Finding):
            self.result.setText("Type what is known; the effect follows at once." if not begun else "")
            self.interval.setText("")
            return
        self.result.setText(_said(aim, found.values, found.effect))
        lines = [found.interval, found.remark, SAME_DATA if found.interval else ""]
        if found.lower:
            lines.insert(1, f"At the lower limit: {_said(aim, found.lower, '')}.")
        self.interval.setText("\n".join(line for line in lines if line))

    def _take(self, lower: bool) -> None:
        if self.route is None or self.session.aim is None:
            return
        inputs = dict(self.typed[self.route.name])
        self.session.do(edits.use_evidence(self.session.study, self.session.aim_id, self.route, inputs, lower))
        self.closed.emit()


def _said(aim: Aim, values: dict[str, object], effect: str) -> str:
    """The values as assumptions say them: `difference 12 ms, standard deviation 24 ms (d 0.50)`."""
    design = design_named(aim.design)
    parts = [
        f"{in_running_text(edits.label_of(design.assumption(name), aim))} "
        f"{with_unit(design.assumption(name), value, aim.words.unit, digits=4)}"
        for name, value in values.items()
    ]
    return ", ".join(parts) + (f" ({effect})" if effect else "")
