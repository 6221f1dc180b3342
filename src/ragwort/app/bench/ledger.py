"""The ledger: every assumption of the aim in a row, grouped, with unit, plausible range, source and fault."""

from __future__ import annotations

from html import escape

import numpy as np
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.bench.ledger_row import Row
from ragwort.app.bench.looks_table import LooksTable
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, discard, label, link
from ragwort.app.session.session import Session
from ragwort.designs import Answer, Design, Way, design_named
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.results.breakdown import Breakdown, breakdown_of
from ragwort.study.results.outcome import Outcome, idle_names, to_enrol, values_with_defaults
from ragwort.study.words.found import is_nominal
from ragwort.study.words.numbers import count_text, with_unit

GROUPS = ("Effect", "Error rates", "Sample", "Structure", "Looks")
_HEADINGS = {"Looks": "Interim analyses"}

_LINKS_ACROSS = 330  # that the links to other ways may take of a line


class Ledger(QScrollArea):
    """All rows of the aim in view."""

    focused = Signal(str)
    evidence_asked = Signal()
    kinds_asked = Signal()  # strata from numbers of clusters
    progress_asked = Signal()
    underway_asked = Signal()

    def __init__(self, session: Session, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self.theme = session, theme
        self.setObjectName("ledger")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # Room for the bar is always kept: otherwise labels wrap once it is there, and because they do it stays.
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.built_for: object = None
        self.rows: list[Row] = []
        self.looks: LooksTable | None = None
        self._derived: dict[str, Wrapped] = {}
        self._links: dict[str, QVBoxLayout] = {}  # by group: the other ways to state it, line by line
        self.offered: list[Way] | None = None
        self.breakdown: QLabel | None = None
        self._kinds: QPushButton | None = None
        self._evidence: QPushButton | None = None
        session.changed.connect(self.refresh)
        self.refresh()

    def row(self, name: str) -> Row:
        """The row of an assumption. Raises `KeyError`."""
        return {row.assumption.name: row for row in self.rows}[name]

    def refresh(self) -> None:
        """Show the session's aim; rows are rebuilt only where the aim has others."""
        aim = self.session.aim
        if aim is None:
            self.rows, self._derived, self.built_for, self.looks = [], {}, None, None
            self.breakdown = self._evidence = self._kinds = None
            self.setWidget(QWidget())
            return
        design = design_named(aim.design)
        names = rows_of(design, aim)
        if self.built_for != (design.id, names):
            self.built_for = (design.id, names)
            self._build(design, aim, names)
        self._offer(design, offered_ways(design, aim, names))
        outcome = self.session.outcome(aim)
        for row in self.rows:
            row.show_state(aim, outcome)
        if self.looks is not None:
            self.looks.show_state(aim, outcome)
        if self._evidence is not None:
            self._evidence.setVisible(aim.find != "effect")
        self._show_breakdown(aim, outcome)
        self._show_derived(design, outcome)  # hides what has nothing to show, the links of the breakdown among it

    def _build(self, design: Design, aim: Aim, names: list[str]) -> None:
        self.rows, self._derived, self.breakdown, self._evidence, self._kinds = [], {}, None, None, None
        self._links, self.offered, self.looks = {}, None, None
        finds = {design.unknown_of(find, aim.values()): find for find in design.finds}
        body = QWidget()
        self.setWidget(body)  # before it is filled: what is moved later is styled anew in full
        body.hide()
        column = QVBoxLayout(body)
        column.setContentsMargins(self.theme.px(6), self.theme.px(12), self.theme.px(6), self.theme.px(12))
        column.setSpacing(0)
        for group in GROUPS:
            rows = [name for name in names if design.assumption(name).group == group]
            tabled = [each for each in design.assumptions if each.group == group and each.in_table]
            if not rows and not tabled:
                continue
            column.addWidget(self._heading(group, first=not self.rows))
            if tabled:
                self.looks = LooksTable(self.session, self.theme)
                self.looks.underway_asked.connect(self.underway_asked)
                column.addWidget(self.looks)
            for name in rows:
                row = Row(self.session, self.theme, design.assumption(name), finds.get(name, ""))
                row.focused.connect(self.focused)
                self.rows.append(row)
                column.addWidget(row)
            column.addWidget(self._tail(design, group))
        column.addStretch(1)
        body.show()

    def _heading(self, group: str, first: bool) -> QWidget:
        line = QWidget()
        box = QHBoxLayout(line)
        box.setContentsMargins(
            self.theme.px(30), 0 if first else self.theme.px(12), self.theme.px(14), self.theme.px(2)
        )
        box.addWidget(label(_HEADINGS.get(group, group).upper(), "heading"))
        box.addStretch(1)
        if first:
            plausible = label("plausible range", "quiet")
            plausible.setContentsMargins(0, 0, self.theme.px(3), 0)  # over the numbers, which stand in fields
            box.addWidget(plausible)
        return line

    def _tail(self, design: Design, group: str) -> QWidget:
        """What follows from the group, and the other ways to state it."""
        line = QWidget()
        column = QVBoxLayout(line)
        column.setContentsMargins(self.theme.px(30), 0, self.theme.px(14), self.theme.px(2))
        column.setSpacing(0)
        derived = Wrapped(name="quiet")
        self._derived[group] = derived
        beside = QHBoxLayout()
        beside.addWidget(derived, 1)
        column.addLayout(beside)
        if group == "Effect" and design.evidence:
            self._evidence = button = link("from evidence", self.evidence_asked.emit, "smallLink")
            button.setToolTip("Find the effect from means, counts, a published statistic, or what would matter.")
            beside.addWidget(button, 0, Qt.AlignmentFlag.AlignRight)
        if group == "Sample":
            button = link("how far along?", self.progress_asked.emit, "smallLink")
            button.setToolTip("What each group has so far, and how many more it needs.")
            beside.addWidget(button, 0, Qt.AlignmentFlag.AlignRight)
        if group == "Structure":
            self.breakdown = label("", "breakdown")
            self.breakdown.setTextFormat(Qt.TextFormat.RichText)
            self.breakdown.setWordWrap(True)
            column.addWidget(self.breakdown)
            self._kinds = link("type the clusters", self.kinds_asked.emit, "smallLink")
            self._kinds.setToolTip("How many clusters there are of each kind, in place of their shares of participants")
            column.addWidget(self._kinds, 0, Qt.AlignmentFlag.AlignRight)
        box = QVBoxLayout()
        box.setSpacing(0)
        column.addLayout(box)
        self._links[group] = box
        return line

    def _offer(self, design: Design, ways: list[Way]) -> None:
        """A link for each other way to state something; rows stay as they are."""
        if ways == self.offered:
            return
        self.offered = ways
        for group, box in self._links.items():
            _clear(box)
            links = [self._way_link(way) for way in ways if design.assumption(way.names[0]).group == group]
            _in_lines(box, links, self.theme.px(_LINKS_ACROSS), self.theme.px(8))

    def _way_link(self, way: Way) -> QPushButton:
        button = link(f"as {way.label}", lambda: self._choose(way), "smallLink")
        button.setToolTip(f"State it as {way.label}; what can be worked out is carried over.")
        return button

    def _choose(self, way: Way) -> None:
        self.session.do(edits.choose_way(self.session.study, self.session.aim_id, way))

    def _show_breakdown(self, aim: Aim, outcome: Outcome) -> None:
        if self.breakdown is None or self._kinds is None:
            return
        self._kinds.setVisible(any(row.assumption.name == "strata" for row in self.rows))
        table = breakdown_of(aim, outcome) if isinstance(outcome, Answer) else None
        self.breakdown.setVisible(table is not None)
        if table is not None:
            self.breakdown.setText(breakdown_html(table))
            self.breakdown.parentWidget().show()

    def _show_derived(self, design: Design, outcome: Outcome) -> None:
        for group, shown in self._derived.items():
            text = derived_text(design, group, outcome, {row.assumption.name for row in self.rows})
            shown.set_text(text)
            shown.setVisible(bool(text))
            tail = shown.parentWidget()
            tail.setVisible(bool(text) or any(not each.isHidden() for each in tail.findChildren(QPushButton)))


def _clear(lines: QVBoxLayout) -> None:
    """Take every line out, with what stands in it."""
    while lines.count():
        line = lines.takeAt(0).layout()
        while line is not None and line.count():
            old = line.takeAt(0).widget()
            if old is not None:
                discard(old)


def _in_lines(lines: QVBoxLayout, links: list[QPushButton], width: int, gap: int) -> None:
    """Links beside each other as far as there is room, to the right; the rest in further lines."""
    room = 0
    for button in links:
        wide = button.sizeHint().width() + gap
        if wide > room:
            line = QHBoxLayout()
            line.setSpacing(gap)
            line.addStretch(1)
            lines.addLayout(line)
            room = width
        room -= wide
        line.addWidget(button)
        button.show()


def rows_of(design: Design, aim: Aim) -> list[str]:
    """The assumptions that have a row: of what can be stated in several ways, the way in use."""
    unknown = design.unknown_of(aim.find, aim.values())
    idle = idle_names(design, aim)
    hidden = set(idle)
    for ways in (*design.ways, design.sizes):
        names = {name for way in ways for name in way.names}
        used = _used_way(ways, aim, unknown if unknown in names else "", idle)
        rows = {unknown, *_still_known(design, aim, names)} if unknown in used.names else set()
        hidden |= names - (rows if len(rows) > 1 else set(used.names)) | set(used.without)
    return [a.name for a in design.assumptions if a.in_ledger and not a.in_table and a.name not in hidden]


def _still_known(design: Design, aim: Aim, names: set[str]) -> set[str]:
    """Of what states an effect, what stays known while it is found: known shares, or a table's rows and columns."""
    stated = names & set(aim.entries)
    return stated - design.effect_names() if aim.find == "effect" else set()


def offered_ways(design: Design, aim: Aim, rows: list[str]) -> list[Way]:
    """The other ways to state what has a row and is given."""
    unknown, shown, idle = design.unknown_of(aim.find, aim.values()), set(rows), idle_names(design, aim)
    found = []
    for ways in (*design.ways, design.sizes):
        used = next((way for way in ways if shown & set(way.names)), None)
        if used is None or any(unknown in way.names for way in ways):
            continue
        for way in ways:
            if way is used or idle & set(way.names):
                continue
            if all(design.assumption(name).in_ledger for name in way.names):
                found.append(way)
    return found


def _used_way(ways: tuple[Way, ...], aim: Aim, unknown: str, idle: frozenset[str]) -> Way:
    """That of the unknown, else the one that is given, follows or is begun, else the first; as far as it has a say."""
    if unknown:
        return next(way for way in ways if unknown in way.names)
    open_ways = [way for way in ways if not idle & set(way.names)] or list(ways)
    known = (aim.entries, values_with_defaults(aim))
    full = (way for values in known for way in open_ways if all(name in values for name in way.names))
    begun = (way for way in open_ways if any(name in aim.entries for name in way.names))
    return next(full, next(begun, open_ways[0]))


def breakdown_html(table: Breakdown) -> str:
    """The strata as a small table, numbers to the right, the sum below a line."""

    def line(cells: tuple[str, ...], tag: str) -> str:
        first, *rest = (escape(cell) for cell in cells)
        return f"<tr><{tag} align=left>{first}</{tag}>" + "".join(f"<{tag} align=right>{c}</{tag}>" for c in rest)

    body = "".join(f"{line(row, 'td')}</tr>" for row in table.rows[:-1])
    last = f"{line(table.rows[-1], 'th')}</tr>"
    head = f"{line(table.head, 'td')}</tr>"
    return f"<table cellpadding=2 width='100%'>{head}{body}{last}</table>{escape(table.note)}"


def derived_text(design: Design, group: str, outcome: Outcome, shown: set[str]) -> str:
    """What the design works out in a group beside what is shown in rows; empty where there is no answer."""
    if not isinstance(outcome, Answer):
        return ""
    known = {**outcome.effect, **outcome.details}
    parts = []
    for derived in design.derived:
        nominal = derived.name == "actual_alpha" and is_nominal(outcome)  # a level that nobody works out
        if derived.group == group and derived.name in known and derived.name not in shown and not nominal:
            text = _derived_number(design, derived.name, float(np.ravel(known[derived.name])[0]))
            parts.append(f"{derived.label} {text}".replace("-", "\u2212"))
    if group == "Sample" and outcome.enrol:
        parts.insert(0, f"{count_text(to_enrol(outcome))} to be recruited")
    return ", ".join(parts)


def _derived_number(design: Design, name: str, number: float) -> str:
    stated = next((each for each in design.assumptions if each.name == name), None)
    if stated is not None and stated.kind == "share":
        return with_unit(stated, number, "", digits=3)
    text = f"{number:.0f}" if number.is_integer() else f"{number:.2f}"
    return text if abs(number) >= 0.1 or number == 0 else f"{number:.3g}"
