"""The aims panel: the aims with their answers, and what the whole study needs."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QMimeData, QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QContextMenuEvent,
    QDrag,
    QDragEnterEvent,
    QDropEvent,
    QEnterEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QMenu,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.kit.theme import Theme, paint_flower
from ragwort.app.kit.widgets import NameEdit, discard, label, link
from ragwort.app.session.session import Session
from ragwort.app.shell.study_needs import WIDE, StudyNeeds
from ragwort.designs import Answer, Design, all_designs, design_named
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.words.numbers import percent_text, with_unit
from ragwort.study.words.scenarios import answer_words

_MIME = "application/x-ragwort-aim"


class AimCard(QAbstractButton):
    """One aim: its name, and what was found."""

    def __init__(self, panel: AimsPanel, aim: Aim) -> None:
        super().__init__()
        self.panel, self.theme, self.aim = panel, panel.theme, aim
        self.setObjectName(f"aim-{aim.id}")
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._press: QPointF | None = None
        self._words: object = None

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(58))

    def show_aim(self, aim: Aim, number: str, rest: str, current: bool) -> None:
        """Show the aim's name and answer."""
        words = (aim.name, number, rest, current)
        self.aim, self.number, self.rest = aim, number, rest
        if words == self._words:
            return  # nothing to paint anew
        self._words = words
        self.setChecked(current)
        self.setAccessibleName(f"{aim.name}: {number} {rest}")
        self.setToolTip(aim.name)
        self.update()

    def forget_words(self) -> None:
        """Show everything anew the next time."""
        self._words = None

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(self.rect()).adjusted(0.6, 0.6, -0.6, -0.6)
        if self.isChecked() or self.underMouse() or self.hasFocus():
            painter.setBrush(self.theme.colour("raised") if self.isChecked() else Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self.theme.colour("leaf" if self.hasFocus() else "hairline"), 1.2))
            painter.drawRoundedRect(area, self.theme.px(8), self.theme.px(8))
        inner = area.adjusted(self.theme.px(11), self.theme.px(8), -self.theme.px(8), -self.theme.px(8))
        painter.setFont(self.theme.font(14, 600))
        painter.setPen(self.theme.colour("ink"))
        name = painter.fontMetrics().elidedText(self.aim.name, Qt.TextElideMode.ElideRight, int(inner.width()))
        painter.drawText(inner, Qt.AlignmentFlag.AlignTop, name)
        self._paint_answer(painter, inner)

    def _paint_answer(self, painter: QPainter, inner: QRectF) -> None:
        size = self.theme.px(12)
        line = QRectF(inner.left(), inner.bottom() - self.theme.px(17), inner.width(), self.theme.px(18))
        paint_flower(painter, QPointF(line.left() + size / 2, line.center().y()), size, self.theme)
        painter.setFont(self.theme.font(12.5, 700))
        painter.setPen(self.theme.colour("found_text"))
        number = line.adjusted(size + self.theme.px(6), 0, 0, 0)
        painter.drawText(number, Qt.AlignmentFlag.AlignVCenter, self.number)
        used = painter.fontMetrics().horizontalAdvance(f"{self.number} ") + 2
        painter.setFont(self.theme.font(12.5))
        painter.setPen(self.theme.colour("quiet"))
        rest = number.adjusted(used, 0, 0, 0)
        text = painter.fontMetrics().elidedText(self.rest, Qt.TextElideMode.ElideRight, int(rest.width()))
        painter.drawText(rest, Qt.AlignmentFlag.AlignVCenter, text)

    def enterEvent(self, event: QEnterEvent) -> None:
        self.update()

    def leaveEvent(self, event: QEvent) -> None:
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._press = event.position()
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._press is not None and (event.position() - self._press).manhattanLength() > self.theme.px(12):
            self._press = None
            self.setDown(False)
            drag = QDrag(self)
            data = QMimeData()
            data.setData(_MIME, self.aim.id.encode())
            drag.setMimeData(data)
            drag.setPixmap(self.grab())
            drag.exec(Qt.DropAction.MoveAction)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.panel.start_renaming(self.aim.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves: dict[int, int] = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        if event.key() in moves and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.panel.move_aim(self.aim.id, moves[event.key()])
        elif event.key() == Qt.Key.Key_F2:
            self.panel.start_renaming(self.aim.id)
        elif event.key() == Qt.Key.Key_Delete:
            self.panel.delete(self.aim.id)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        aim_id, panel = self.aim.id, self.panel
        menu.addAction("Rename", lambda: panel.start_renaming(aim_id))
        menu.addAction("Duplicate", lambda: panel.duplicate(aim_id))
        menu.addAction("Move up", lambda: panel.move_aim(aim_id, -1))
        menu.addAction("Move down", lambda: panel.move_aim(aim_id, 1))
        menu.addSeparator()
        menu.addAction("Delete", lambda: panel.delete(aim_id))
        menu.popup(event.globalPos())


class AimsPanel(QFrame):
    """The list of aims and the study's needs. Aims are reordered by dragging, or with Alt and the arrow keys."""

    limit_refused = Signal(str)
    ways_asked = Signal()
    choose_asked = Signal()  # a design for a new aim

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setObjectName("aims")
        self.setFixedWidth(theme.px(WIDE))
        self.setAcceptDrops(True)
        self.cards: list[AimCard] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, theme.px(16), 0, theme.px(16))
        column.setSpacing(theme.px(6))
        heading = label("AIMS", "heading")
        heading.setContentsMargins(theme.px(16), 0, 0, theme.px(2))
        column.addWidget(heading)
        column.addWidget(self._list_area(), 1)
        self.study_needs = StudyNeeds(session, theme)
        self.study_needs.limit_refused.connect(self.limit_refused)
        self.study_needs.ways.clicked.connect(self.ways_asked)
        column.addWidget(self.study_needs)
        session.changed.connect(self.refresh)
        self.refresh()

    def _list_area(self) -> QScrollArea:
        scroll = self._scroll = QScrollArea()
        self._in_view = ""
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        body = QWidget()
        self._list = QVBoxLayout(body)
        self._list.setContentsMargins(self.theme.px(9), 0, self.theme.px(9), 0)
        self._list.setSpacing(self.theme.px(3))
        add = link("+ Add an aim", self.choose_asked.emit)
        add.setObjectName("link")
        add.setStyleSheet(f"margin-left: {self.theme.px(7)}px;")
        self._list.addWidget(add, 0, Qt.AlignmentFlag.AlignLeft)
        self._list.addStretch(1)
        scroll.setWidget(body)
        return scroll

    def refresh(self) -> None:
        """Show the session's study."""
        study = self.session.study
        while len(self.cards) > len(study.aims):
            card = self.cards.pop()
            self._list.removeWidget(card)
            discard(card)
        while len(self.cards) < len(study.aims):
            card = AimCard(self, study.aims[len(self.cards)])
            card.clicked.connect(lambda _=False, card=card: self._select(card))
            self._list.insertWidget(len(self.cards), card)
            self.cards.append(card)
        for card, aim in zip(self.cards, study.aims, strict=True):
            outcome = self.session.outcome(aim)
            number, rest = answer_words(aim, outcome)
            if isinstance(outcome, Answer) and outcome.find == "n":
                rest = f"{rest}, {_aimed_at(aim, outcome)}".replace("\u00a0", " ")
            planned = aim.planned_scenario
            if planned is not None:
                number_planned = answer_words(aim, self.session.outcome(aim, planned))[0]
                rest = f"{rest.partition(',')[0]}; planned {number_planned}"
            card.show_aim(aim, number, rest, aim.id == self.session.aim_id)
        self._bring_into_view()
        self.study_needs.refresh()

    def _bring_into_view(self) -> None:
        """Scroll to the aim in view once it is another."""
        if self._in_view != self.session.aim_id:
            self._in_view = self.session.aim_id
            for card in self.cards:
                if card.aim.id == self._in_view:
                    QTimer.singleShot(0, card, lambda card=card: self._scroll_to(card))

    def _scroll_to(self, card: AimCard) -> None:
        self._list.activate()  # a new card has no place yet
        self._scroll.widget().adjustSize()
        self._scroll.ensureWidgetVisible(card, 0, 2 * card.height())

    # --- edits ---

    def _select(self, card: AimCard) -> None:
        card.forget_words()  # the click has flipped its check mark
        card.setChecked(True)
        self.session.select(card.aim.id)
        self.refresh()

    def add(self, design: Design | None = None) -> None:
        """A new aim of a design (the first where none is named), with the study's words for people where they fit."""
        design = all_designs()[0] if design is None else design
        aim = edits.aim_beside(self.session.study, self.session.aim, design)
        self.session.do(edits.add_aim(self.session.study, aim), then_show=aim.id)
        self.start_renaming(aim.id)

    def duplicate(self, aim_id: str) -> None:
        """Duplicate an aim."""
        self.session.do(edits.duplicate_aim(self.session.study, aim_id))

    def move_aim(self, aim_id: str, by: int) -> None:
        """Move an aim up or down."""
        self.session.do(edits.move_aim(self.session.study, aim_id, by))
        for card in self.cards:
            if card.aim.id == aim_id:
                card.setFocus()

    def delete(self, aim_id: str) -> None:
        """Delete an aim; undo brings it back."""
        self.session.do(edits.delete_aim(self.session.study, aim_id))

    def start_renaming(self, aim_id: str) -> None:
        """Lay an editor over the name of an aim."""
        card = next((card for card in self.cards if card.aim.id == aim_id), None)
        if card is None:
            return  # a menu outlived the aim
        editor = NameEdit(card.aim.name, card, self.theme.px(5), self.theme.px(3), self.theme.px(29))
        session, merge = self.session, edits.typing(aim_id, "name")
        editor.typed.connect(lambda name: session.do(edits.rename_aim(session.study, aim_id, name), joined=merge))
        editor.left.connect(lambda keep: session.leave_field(merge, keep))

    # --- drag and drop ---

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasFormat(_MIME):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        self.drop(bytes(event.mimeData().data(_MIME)).decode(), event.position().y())
        event.acceptProposedAction()

    def drop(self, aim_id: str, y: float) -> None:
        """Put an aim where it was dropped, at a height of the panel."""
        ids = [card.aim.id for card in self.cards]
        above = sum(card.mapTo(self, card.rect().center()).y() < y for card in self.cards if card.aim.id != aim_id)
        self.move_aim(aim_id, above - ids.index(aim_id))


def _aimed_at(aim: Aim, answer: Answer) -> str:
    """What as many are for: `power 80%`, `half width 3 ms`."""
    if answer.plan.has_test:
        return f"power {percent_text(answer.plan.target, 0)}"
    primary = design_named(aim.design).assumption(answer.primary)
    return f"half width {with_unit(primary, answer.effect[answer.primary], aim.words.unit, digits=3)}"
