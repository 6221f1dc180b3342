"""One row of the ledger: an assumption with its value, unit, plausible range, source and fault."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QAction, QKeyEvent
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QWidget,
)

from ragwort.app.bench.offers import offers_link
from ragwort.app.kit.cells import Cells
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.value_line import ValueLine
from ragwort.app.kit.widgets import UP_AND_DOWN, Elided, FlowerButton, Wrapped, label, link, restyle
from ragwort.app.session.live import make_live, show_in, undo_with_study
from ragwort.app.session.session import Session
from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.designs.phrases import UNRANGED
from ragwort.study import edits
from ragwort.study.document.aim import RANGE, Aim
from ragwort.study.document.history import Edit
from ragwort.study.results.outcome import Outcome, Pending, Problem, value_in_force
from ragwort.study.slots.aim import slot_of_aim
from ragwort.study.slots.slot import GONE, Slot
from ragwort.study.words.found import found_number
from ragwort.study.words.naming import label_of, names_of, names_of_numbers
from ragwort.study.words.numbers import count_text, range_text, unit_text, value_text
from ragwort.study.words.provenance import source_words

LONGEST_SIZES = 9  # characters of the sizes of two groups that fit beside their total

_LIST_WIDE = 150  # of a list's line, at the least
_ROW_WIDE = 308  # for label, list and the link to its cells


class Row(QWidget):
    """One assumption. It reads the session and does edits; it never computes."""

    focused = Signal(str)

    def __init__(self, session: Session, theme: Theme, assumption: Assumption, find: str) -> None:
        super().__init__()
        self.session, self.theme, self.assumption, self.unknown = session, theme, assumption, find
        self.setObjectName(f"row-{assumption.name}")
        self._found = False
        self._renaming = ""
        self.cells: Cells | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        grid = QGridLayout(self)
        grid.setContentsMargins(theme.px(8), 0, theme.px(10), 0)
        grid.setHorizontalSpacing(theme.px(2))
        grid.setVerticalSpacing(0)
        grid.setColumnStretch(1, 1)
        self.flower = self._flower_button()
        grid.addWidget(self.flower, 0, 0)
        self.label = Wrapped(assumption.label)
        grid.addWidget(self.label, 0, 1)
        self.editor = self._choice() if assumption.chosen else self._line()
        self._place_editor(grid)
        self._build_foot(grid)
        grid.setRowMinimumHeight(0, theme.px(30))

    def _place_editor(self, grid: QGridLayout) -> None:
        """Beside the label, by what the assumption is."""
        if self.assumption.chosen:
            grid.addWidget(self.editor, 0, 2, 1, 3, Qt.AlignmentFlag.AlignRight)
        elif self.assumption.several:
            self._fill_several(grid)
        elif self.assumption.named:
            self._fill_number(grid)
            self._unit.hide()
            self.range_line.hide()
            self.editor.setFixedWidth(self.theme.px(180))
            self.editor.setToolTip("A number, or names that are counted: age, ward (4 levels), age × ward")
            grid.addWidget(self.editor, 0, 2, 1, 3)
        else:
            self._fill_number(grid)
            if self.assumption.name in UNRANGED:  # chosen, not uncertain
                policy = self.range_line.sizePolicy()
                policy.setRetainSizeWhenHidden(True)  # the value stays in its column
                self.range_line.setSizePolicy(policy)
                self.range_line.hide()

    def _build_foot(self, grid: QGridLayout) -> None:
        """What stands below: where the value comes from, what is wrong with it, what can be done with one click."""
        self.remark_line = Elided(name="quiet")
        self.remark_line.setContentsMargins(0, 0, 0, self.theme.px(4))
        self.fault_line = label("", "fault")
        self.fault_line.setWordWrap(True)
        self.example_link = link("example · keep it", self._confirm, "smallLink", flush=True)
        self.example_link.setToolTip(
            "Nobody has decided on this value yet: type your own, or keep it (Enter does, too)"
        )
        self.example_link.hide()
        self.rescale_link = self._rescale_link()
        self.rescale_link.hide()
        right, left = Qt.AlignmentFlag.AlignRight, Qt.AlignmentFlag.AlignLeft
        grid.addWidget(self.remark_line, 2, 1, 1, 4)
        grid.addWidget(self.example_link, 5, 1, 1, 4, left)
        grid.addWidget(self.fault_line, 3, 1, 1, 4)
        grid.addWidget(self.rescale_link, 4, 1, 1, 4, right)
        offers = offers_link(self.session, self.assumption)
        if offers is not None:
            grid.addWidget(offers, 5, 1, 1, 4, right)

    def _rescale_link(self) -> QPushButton:
        to_zero = self.assumption.adds_to_zero
        made = link("centre to 0" if to_zero else "rescale to 1", self._rescale_shares, "smallLink")
        made.setToolTip("Take the mean of all off each" if to_zero else "Divide every share by their sum")
        return made

    def _flower_button(self) -> QWidget:
        if not self.unknown:
            spacer = QWidget()
            spacer.setFixedWidth(self.theme.px(20))
            return spacer
        button = FlowerButton(self.theme, self.assumption.name)
        button.clicked.connect(self._move_flower)
        return button

    def _line(self) -> ValueLine:
        editor = ValueLine()
        editor.setObjectName("value")
        editor.setAlignment(Qt.AlignmentFlag.AlignRight)
        editor.setFixedWidth(self.theme.px(74))
        editor.setFont(self.theme.font(14, 600, tabular=True))
        editor.textEdited.connect(self._typed)
        editor.editingFinished.connect(self._finished)
        editor.installEventFilter(self)
        undo_with_study(editor, self.session)
        return editor

    def _choice(self) -> QPushButton:
        button = QPushButton()
        button.setObjectName("choice")
        button.setCursor(Qt.CursorShape.PointingHandCursor)
        menu = QMenu(button)
        for choice in self.assumption.choices:
            action = QAction(choice.label, menu, checkable=True)
            action.setData(self.assumption.value_of(choice))
            action.triggered.connect(lambda _=False, action=action: self._chosen(action.data()))
            menu.addAction(action)
        button.setMenu(menu)
        button.installEventFilter(self)
        return button

    @property
    def range_field(self) -> QLineEdit | None:
        """Where the plausible range is typed; None where it cannot be now."""
        field = getattr(self, "range_line", None)
        return field if field is not None and field.isVisible() and not field.isReadOnly() else None

    def _fill_number(self, grid: QGridLayout) -> None:
        self._unit = Elided(name="quiet")
        self._unit.setFixedWidth(self.theme.px(36))
        self.range_line = ValueLine()
        self.range_line.setObjectName("range")
        self.range_line.setFixedWidth(self.theme.px(70))
        self.range_line.setAlignment(Qt.AlignmentFlag.AlignRight)
        make_live(self.range_line, self.session, self._range_edit)
        self.range_line.installEventFilter(self)
        grid.addWidget(self.editor, 0, 2)
        grid.addWidget(self._unit, 0, 3)
        grid.addWidget(self.range_line, 0, 4)

    def _fill_several(self, grid: QGridLayout) -> None:
        """One line to type in, and a grid below: at once for tables, on demand for lists."""
        self._fill_number(grid)
        self._unit.hide()
        self.range_line.hide()
        self.editor.setFixedWidth(self.theme.px(_LIST_WIDE))
        line = QWidget()
        box = QHBoxLayout(line)
        box.setContentsMargins(0, 0, self.theme.px(4), 0)
        box.setSpacing(0)
        box.addStretch(1)
        box.addWidget(self.editor)
        self._in_cells = link("cells", self.flip_cells, "smallLink")
        box.addWidget(self._in_cells)
        grid.addWidget(line, 0, 2, 1, 3)
        self.cells = Cells(self.theme, self.assumption)
        self.cells.edited.connect(self._typed)
        self.cells.renamed.connect(self._renamed)
        self.cells.renaming_ended.connect(lambda keep: self.session.leave_field(self._renaming, keep))
        self.cells.focused.connect(lambda: self.focused.emit(self.assumption.name))
        grid.addWidget(self.cells, 1, 1, 1, 4)
        self.show_cells(self.assumption.kind != "list")

    def show_cells(self, shown: bool) -> None:
        """A grid, or one line of text."""
        self.cells.setVisible(shown)
        self.editor.setVisible(not shown)
        self._in_cells.setText("in one line" if shown else "in cells")
        self._in_cells.setAccessibleName(f"{self.assumption.label} {self._in_cells.text()}")
        self._fit_list()

    def flip_cells(self) -> None:
        self.show_cells(self.cells.isHidden())

    # --- showing ---

    def show_state(self, aim: Aim, outcome: Outcome) -> None:
        """Show the aim's value, or what was found."""
        name = self.assumption.name
        entry = aim.entry(name)
        self._found = bool(self.unknown) and aim.find == self.unknown
        text = label_of(self.assumption, aim)
        self.label.set_text(text)
        self.editor.setAccessibleName(text)
        self._show_background()
        if isinstance(self.flower, FlowerButton):
            self.flower.setChecked(self._found)
            self.flower.setAccessibleName(f"{text} is found" if self._found else f"Find {text}")
            self.flower.setToolTip(self.flower.accessibleName())
        if self.assumption.chosen:
            self._show_choice(aim)
        else:
            self._show_number(aim, outcome)
        wrong = isinstance(outcome, Problem) and outcome.field == name
        fault = outcome.message if wrong else entry.drafts[RANGE].fault if RANGE in entry.drafts else ""
        self.fault_line.setText(fault)
        self.fault_line.setVisible(bool(fault))
        can_rescale = wrong and not entry.fault and edits.rescaled(self.assumption, entry.value) is not None
        self.rescale_link.setVisible(can_rescale)
        counted = f"that is {entry.value}" if entry.terms else ""
        parts = [counted, names_of_numbers(self.assumption, aim), source_words(aim, self.assumption)]
        remark = ", ".join(part for part in parts if part) if not self._found else ""
        self.remark_line.set_text(remark)
        self.remark_line.setVisible(bool(remark))
        self.example_link.setVisible(entry.example and not self._found)
        self.example_link.setAccessibleName(f"{text}: an example value. Keep it")
        restyle(
            self.editor, found=self._found, fault=wrong and not self._found, example=entry.example and not self._found
        )

    def _show_background(self) -> None:
        restyle(self, found=self._found)

    def _show_choice(self, aim: Aim) -> None:
        design = design_named(aim.design)
        value = aim.values().get(self.assumption.name)
        if value is None:
            value = design.default_choice(self.assumption.name, aim.values())
        self.editor.setText(value_text(self.assumption, value))
        for action in self.editor.menu().actions():
            action.setChecked(action.data() == value)

    def _show_number(self, aim: Aim, outcome: Outcome) -> None:
        entry = aim.entry(self.assumption.name)
        self._unit.set_text(unit_text(self.assumption, aim.words.unit))
        text = self._found_text(outcome) if self._found else self._given_text(aim)
        if self._found and self.assumption.name == "n" and isinstance(outcome, Answer):
            self._show_groups(outcome)
        else:
            self.range_line.setReadOnly(self._found)
            typed = entry.draft_of(RANGE) or range_text(self.assumption, entry.low, entry.high)
            show_in(self.range_line, "" if self._found else typed)
            self.range_line.setToolTip("The plausible range, as in 8 to 16")
        self.range_line.setAccessibleName(f"Plausible range of {self.editor.accessibleName()}")
        self.editor.setReadOnly(self._found)
        typing = self.editor.hasFocus() and self.editor.isModified()
        if (self._found or not typing) and self.editor.text() != text:
            self.editor.setText(text)
            if not self.editor.hasFocus():
                self.editor.setCursorPosition(0)  # of a long one the beginning
        if self.cells is not None:
            self._fit_list()
            self.cells.show_text(text)
            self.cells.show_names(*(names_of(aim, kind) for kind in self._kinds_of_names()))

    def _fit_list(self) -> None:
        """As wide as the list is, up to where its label begins to wrap."""
        beside = self.label.fontMetrics().horizontalAdvance(self.label.text()) + self._in_cells.sizeHint().width()
        most = max(self.theme.px(_LIST_WIDE), self.theme.px(_ROW_WIDE) - beside)
        self.editor.setFixedWidth(min(most, max(self.theme.px(_LIST_WIDE), self.editor.width_for(self.editor.text()))))

    def _show_groups(self, answer: Answer) -> None:
        self.range_line.setReadOnly(True)
        self.range_line.setText(groups_text(answer.groups))
        self.range_line.setToolTip(" + ".join(count_text(size) for size in answer.groups))
        self.range_line.setCursorPosition(0)

    def _found_text(self, outcome: Outcome) -> str:
        if isinstance(outcome, Pending):
            return "…" if outcome.last is None else f"({self._found_text(outcome.last)})"
        if not isinstance(outcome, Answer):
            return "—"
        return found_number(outcome)

    def _given_text(self, aim: Aim) -> str:
        entry = aim.entry(self.assumption.name)
        if entry.fault:
            return entry.draft
        if entry.terms:
            return entry.terms
        value = value_in_force(aim, self.assumption.name)
        return "" if value is None else value_text(self.assumption, value)

    def _kinds_of_names(self) -> tuple[str, str]:
        return self.assumption.row_names, self.assumption.column_names

    # --- edits ---

    def _renamed(self, kind: str, at: int, text: str) -> None:
        self._renaming = edits.typing(self.session.aim_id, f"{kind}.{at}")
        self.session.do(edits.rename(self.session.study, self.session.aim_id, kind, at, text), joined=self._renaming)

    def _typed(self, text: str) -> None:
        """Every keystroke counts at once; they are undone together."""
        self._do(self._slot().written(text))

    def _slot(self) -> Slot:
        """What the sentence's word for the same can do."""
        aim = self.session.aim
        return slot_of_aim(self.session.study, self.assumption.name, aim.id) if aim is not None else GONE

    def _do(self, edit: Edit | None) -> None:
        if edit is not None:
            self.session.do(edit)

    def _confirm(self) -> None:
        self._do(self._slot().confirmed())

    def _finished(self) -> None:
        if self.editor.isModified():
            self.editor.setModified(False)
            self.session.leave_field("", anew=True)

    def _chosen(self, value: object) -> None:
        self._typed(self.assumption.choice_for(value).label)

    def _range_edit(self, text: str) -> Edit:
        return edits.type_range(self.session.study, self.session.aim_id, self.assumption.name, text)

    def _rescale_shares(self) -> None:
        self.session.do(edits.rescale(self.session.study, self.session.aim_id, self.assumption.name))

    def _move_flower(self) -> None:
        self.session.do(edits.move_flower(self.session.study, self.session.aim_id, self.unknown))
        self.session.changed.emit()

    def _nudge(self, steps: int) -> None:
        edit = None if self._found else self._slot().moved(steps)
        if edit is not None:
            self.editor.setModified(False)
            self._do(edit)
            if self.session.aim is not None:  # at its bound nothing moves, but what was typed is not what is shown
                self.show_state(self.session.aim, self.session.outcome(self.session.aim))

    def _leave_as_it_was(self) -> None:
        """Escape: what has been typed since the field was entered is forgotten, and so is what cannot be read."""
        typed = self.editor.isModified()
        self.editor.setModified(False)
        self.session.leave_field(edits.typing(self.session.aim_id, self.assumption.name), keep=False, anew=typed)
        if self.session.aim is not None:
            self.session.do(edits.drop_draft(self.session.study, self.session.aim_id, self.assumption.name))

    def _is_typed_in(self, watched: QObject) -> bool:
        return watched is self.editor and not self.assumption.chosen

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.FocusIn:
            self.focused.emit(self.assumption.name)
        if event.type() == QEvent.Type.FocusOut and watched is self.editor and not self.assumption.chosen:
            self.editor.setCursorPosition(0)
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and self._is_typed_in(watched):
            if event.key() in UP_AND_DOWN:
                self._nudge(UP_AND_DOWN[event.key()])
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not self.editor.isModified():
                self._confirm()
            if event.key() == Qt.Key.Key_Escape:
                self._leave_as_it_was()
                return True
        return False


def groups_text(groups: tuple[int, ...]) -> str:
    """Sizes by group, as short as they can be said; nothing for one group."""
    if len(groups) == 1:
        return ""
    text = " + ".join(count_text(size) for size in groups)
    if len(set(groups)) == 1 and (len(groups) > 2 or len(text) > LONGEST_SIZES):
        return f"{count_text(groups[0])} each"
    return text
