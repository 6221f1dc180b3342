"""The interim analyses in the ledger: a row a look, typed over anywhere."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.value_line import ValueLine
from ragwort.app.kit.widgets import Elided, Wrapped, discard, label, link, restyle
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.designs import Answer
from ragwort.designs.looks import FRACTIONS, LOOKS
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.results.looks import Look, looks_of
from ragwort.study.results.outcome import Outcome, Pending, Problem
from ragwort.study.words.looks import MOST_LOOKS, LookWords, evenly

_NAMES = {each.name for each in LOOKS}
_EDGE, _INDENT = 8, 22  # px to the left of the table, and from there to where labels begin
_WIDTHS = {"after": 49, "spent": 70, "bound": 62, "effect": 56}  # px of what is typed over
_WRITERS: dict[str, Callable[[Study, str, int, str], Edit]] = {
    "after": edits.type_look,
    "spent": edits.type_spent,
    "z": partial(edits.type_boundary, scale="z"),
    "p": partial(edits.type_boundary, scale="p"),
    "effect": partial(edits.type_boundary, scale="effect"),
}
_CALLED = {"after": "after", "spent": "alpha spent", "z": "boundary, z", "p": "boundary, p", "effect": "stops at"}


@dataclass
class _Line:
    """The widgets of one look."""

    cells: dict[str, ValueLine]
    chance: QLabel
    gives_up: Wrapped
    remove: QPushButton


class LooksTable(QWidget):
    """All looks of the aim in view, or that none are planned. It reads the session and does edits."""

    underway_asked = Signal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setObjectName("looks")
        self.setMinimumWidth(1)  # it takes what the rows have, and makes them no wider
        self.scale, self.planned = "z", True  # boundaries as z or p; chances with the planned effect or without
        self.lines: list[_Line] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(theme.px(_EDGE), 0, theme.px(14), theme.px(4))
        self._column.setSpacing(theme.px(2))
        self._none = self._offers()
        self._table = QWidget()
        self.grid = QGridLayout(self._table)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(0)
        self.grid.setVerticalSpacing(0)
        self._heads: dict[str, Any] = {}
        self.grid.setColumnStretch(5, 1)
        self.fault = Wrapped(name="fault")
        self.fault.setContentsMargins(theme.px(_INDENT), 0, 0, 0)
        self.rescale = link("spend alpha in the same parts", self._rescale, "smallLink", flush=True)
        self.foot = self._links()
        for each in (self._none, self._table, self.fault, self.rescale, self.foot):
            self._column.addWidget(each)

    def _offers(self) -> QWidget:
        line = QWidget()
        box = QHBoxLayout(line)
        box.setContentsMargins(self.theme.px(_INDENT), 0, 0, 0)
        box.addWidget(label("none; plan", "quiet"))
        box.addStretch(1)
        for words, count in (("one half-way", 1), ("two evenly", 2), ("three evenly", 3)):
            button = link(words, partial(self._plan, evenly(count)), "smallLink")
            button.setAccessibleName(f"Interim analyses: {words}")
            box.addWidget(button)
        return line

    def _links(self) -> QWidget:
        line = QWidget()
        box = QHBoxLayout(line)
        box.setContentsMargins(self.theme.px(_INDENT), 0, 0, 0)
        self.more = link("+ another look", self._add, "smallLink", flush=True)
        box.addWidget(self.more)
        under_way = link("under way?", self.underway_asked.emit, "smallLink")
        under_way.setToolTip("What is seen at a look, planned or not, and what it means.")
        box.addWidget(under_way)
        box.addStretch(1)
        self.none = link("no interim analyses", partial(self._plan, None), "smallLink")
        box.addWidget(self.none)
        return line

    # --- showing ---

    def show_state(self, aim: Aim, outcome: Outcome) -> None:
        """Show the looks of an aim, with what is found of them while there is an answer."""
        fractions = aim.values().get(FRACTIONS.name) or []
        there = len(fractions) > 0
        if len(self.lines) != len(fractions):
            self._build(len(fractions))
        self._none.setHidden(there)
        self._table.setVisible(there)
        self.foot.setVisible(there)
        self.more.setEnabled(len(fractions) < MOST_LOOKS)
        answer = outcome.last if isinstance(outcome, Pending) else outcome
        looks = looks_of(answer) if isinstance(answer, Answer) else []
        words = LookWords(aim, answer if isinstance(answer, Answer) else None)
        self._show_heads(words)
        entry = aim.entry(FRACTIONS.name)
        for at, line in enumerate(self.lines):
            look = looks[at] if len(looks) == len(self.lines) else None
            self._show_line(line, at, float(fractions[at]), look, words, entry)
        self._show_fault(aim, outcome, entry)

    def _show_line(
        self, line: _Line, at: int, fraction: float, look: Look | None, words: LookWords, entry: Entry
    ) -> None:
        texts = words.cells(fraction, look, self.scale)
        for name, editor in line.cells.items():
            scale = self.scale if name == "bound" else name
            place = f"{scale} {at}"
            show_in(editor, entry.draft_of(place) or texts[name])
            restyle(editor, fault=entry.faulty(place))
            editor.setToolTip(words.tip(fraction, look))
            editor.setAccessibleName(f"Look {at + 1}: {_CALLED[scale]}")
        line.chance.setText(words.chance(look, self.planned))
        line.gives_up.set_text(words.gives_up(look, self.planned))
        line.gives_up.setVisible(bool(line.gives_up.text()))

    def _show_heads(self, words: LookWords) -> None:
        if not self._heads:
            return
        self._heads["after"].set_text(words.after_head)
        self._heads["bound"].setText(f"{self.scale} ▾")
        self._heads["effect"].set_text(words.effect_head)
        self._heads["chance"].setText("chance ▾" if self.planned else "if none ▾")

    def _show_fault(self, aim: Aim, outcome: Outcome, entry: Entry) -> None:
        wrong = isinstance(outcome, Problem) and outcome.field in _NAMES
        said = entry.first_fault or (outcome.message if wrong else "")
        self.fault.set_text(said)
        self.fault.setVisible(bool(said))
        self.rescale.setVisible(wrong and outcome.field == "spent")

    # --- building ---

    def _build(self, count: int) -> None:
        while self.grid.count():
            item = self.grid.takeAt(0).widget()
            if item is not None:
                discard(item)
        self.lines, self._heads = [], {}
        if count:
            self._build_heads()
        for at in range(count):
            self.lines.append(self._line(at, last=at == count - 1))

    def _build_heads(self) -> None:
        flip = {"bound": self._flip_scale, "chance": self._flip_chance}
        tips = {
            "bound": "Boundaries as z or as nominal p",
            "chance": "The chance of stopping there, with the planned effect or without one",
        }
        for column, name in enumerate(("after", "spent", "bound", "effect", "chance"), start=1):
            head: Any = link("", flip[name], "smallLink") if name in flip else Elided("α spent", "quiet")
            if name in flip:
                head.setToolTip(tips[name])
            else:
                head.setFixedWidth(self.theme.px(_WIDTHS[name]))
                head.setAlignment(Qt.AlignmentFlag.AlignRight)
            self._heads[name] = head
            self.grid.addWidget(head, 0, column, Qt.AlignmentFlag.AlignRight)

    def _line(self, at: int, last: bool) -> _Line:
        row = 2 * at + 1
        number = label(str(at + 1), "quiet")
        number.setFixedWidth(self.theme.px(_INDENT))
        number.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.grid.addWidget(number, row, 0)
        cells = {}
        for column, name in enumerate(("after", "spent", "bound", "effect"), start=1):
            cells[name] = editor = self._editor(at, name, read_only=last)
            self.grid.addWidget(editor, row, column)
        chance = label("")
        chance.setFont(self.theme.font(13, tabular=True))
        self.grid.addWidget(chance, row, 5, Qt.AlignmentFlag.AlignRight)
        remove = link("×", partial(self._remove, at), "smallLink")
        remove.setToolTip("Do not look here")
        remove.setAccessibleName(f"Remove look {at + 1}")
        self.grid.addWidget(remove, row, 6)
        remove.setHidden(last)
        gives_up = Wrapped(name="quiet")
        self.grid.addWidget(gives_up, row + 1, 1, 1, 6)
        return _Line(cells, chance, gives_up, remove)

    def _editor(self, at: int, name: str, read_only: bool) -> ValueLine:
        editor = ValueLine()
        editor.setObjectName("value")
        editor.setAlignment(Qt.AlignmentFlag.AlignRight)
        editor.setFixedWidth(self.theme.px(_WIDTHS[name]))
        editor.setFont(self.theme.font(13, 600, tabular=True))
        editor.setReadOnly(read_only)
        restyle(editor, found=False, settled=read_only)
        make_live(editor, self.session, partial(self._typed, at, name))
        return editor

    # --- edits ---

    def _typed(self, at: int, name: str, text: str) -> Edit:
        return _WRITERS[self.scale if name == "bound" else name](self.session.study, self.session.aim_id, at, text)

    def _plan(self, fractions: list[float] | None) -> None:
        self.session.do(edits.plan_looks(self.session.study, self.session.aim_id, fractions))

    def _add(self) -> None:
        self.session.do(edits.add_look(self.session.study, self.session.aim_id))

    def _remove(self, at: int) -> None:
        self.session.do(edits.remove_look(self.session.study, self.session.aim_id, at))

    def _rescale(self) -> None:
        self.session.do(edits.scale_spent(self.session.study, self.session.aim_id))

    def _flip_scale(self) -> None:
        self.scale = "p" if self.scale == "z" else "z"
        self._show_again()

    def _flip_chance(self) -> None:
        self.planned = not self.planned
        self._show_again()

    def _show_again(self) -> None:
        aim = self.session.aim
        if aim is not None:
            self.show_state(aim, self.session.outcome(aim))
