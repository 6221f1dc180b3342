"""The shelf: scenarios kept of the aim in view, each one click to return to."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QContextMenuEvent, QEnterEvent, QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QMenu, QScrollArea, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import NameEdit, label, link
from ragwort.app.session.session import Session
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.words.scenarios import answer_words, changed_since, difference_words, suggested_name


class Card(QAbstractButton):
    """One scenario, or the aim as it stands."""

    rename_asked = Signal()
    delete_asked = Signal()
    plan_asked = Signal()

    def __init__(self, theme: Theme, title: str, answer: str, rest: str, now: bool) -> None:
        super().__init__()
        self.theme, self.now = theme, now
        self.title = self.answer = self.rest = ""
        self.setCursor(Qt.CursorShape.ArrowCursor if now else Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus if now else Qt.FocusPolicy.StrongFocus)
        self.show_words(title, answer, rest)

    def show_words(self, title: str, answer: str, rest: str) -> None:
        """Name, what was found, and the rest."""
        if (title, answer, rest) == (self.title, self.answer, self.rest):
            return
        self.title, self.answer, self.rest = title, answer, rest
        self.setAccessibleName(f"{title}: {answer} {rest}")
        self.setToolTip("" if self.now else f"Return to {title}: {answer} {rest}")
        self.setFixedSize(self._size())
        self.update()

    def _size(self) -> QSize:
        bold, plain = QFontMetrics(self.theme.font(13, 600)), QFontMetrics(self.theme.font(12.5, 600))
        text = max(bold.horizontalAdvance(self.title), plain.horizontalAdvance(f"{self.answer} {self.rest}"))
        width = min(max(text + self.theme.px(30), self.theme.px(120)), self.theme.px(320))
        return QSize(width, self.theme.px(54))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(self.rect()).adjusted(0.6, 0.6, -0.6, -0.6)
        edge = "found" if self.now else ("leaf" if self.hasFocus() or self.underMouse() else "hairline")
        painter.setBrush(self.theme.colour("raised"))
        painter.setPen(QPen(self.theme.colour(edge), 1.2))
        painter.drawRoundedRect(area, self.theme.px(8), self.theme.px(8))
        if self.now:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.colour("found"))
            painter.drawRoundedRect(QRectF(area.left(), area.top() + 6, 4, area.height() - 12), 2, 2)
        self._paint_words(painter, area.adjusted(self.theme.px(13), 0, -self.theme.px(8), 0))

    def _paint_words(self, painter: QPainter, area: QRectF) -> None:
        half = area.height() / 2
        top = QRectF(area.left(), area.top() + self.theme.px(5), area.width(), half - self.theme.px(4))
        low = QRectF(area.left(), area.top() + half, area.width(), half - self.theme.px(5))
        elide = Qt.TextElideMode.ElideRight
        painter.setFont(self.theme.font(13, 600))
        painter.setPen(self.theme.colour("ink"))
        painter.drawText(
            top,
            Qt.AlignmentFlag.AlignVCenter,
            painter.fontMetrics().elidedText(self.title, elide, int(area.width())),
        )
        painter.setFont(self.theme.font(12.5, 700))
        painter.setPen(self.theme.colour("found_text"))
        painter.drawText(low, Qt.AlignmentFlag.AlignVCenter, self.answer)
        used = painter.fontMetrics().horizontalAdvance(f"{self.answer} ") + 2
        painter.setFont(self.theme.font(12.5))
        painter.setPen(self.theme.colour("quiet"))
        rest = painter.fontMetrics().elidedText(self.rest, elide, int(area.width() - used))
        painter.drawText(low.adjusted(used, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, rest)

    def enterEvent(self, event: QEnterEvent) -> None:
        self.update()

    def leaveEvent(self, event: QEvent) -> None:
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_F2:
            self.rename_asked.emit()
        elif event.key() == Qt.Key.Key_Delete:
            self.delete_asked.emit()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if self.now:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.addAction("Return to it", self.click)
        menu.addAction("Plan on it, or no longer", self.plan_asked.emit)
        menu.addAction("Rename", self.rename_asked.emit)
        menu.addAction("Delete", self.delete_asked.emit)
        menu.popup(event.globalPos())


class Shelf(QScrollArea):
    """All cards of the aim in view."""

    compare_asked = Signal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setObjectName("shelf")
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFixedHeight(theme.px(80))
        self._shown: object = None
        self.cards: list[Card] = []
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the session's aim; cards are made anew only where there are others."""
        aim = self.session.aim
        words = self._words(aim) if aim is not None else []
        cards = (aim.id if aim is not None else "", [each[0] for each in words])
        if cards == self._shown:
            for card, each in zip(self.cards, words, strict=True):
                card.show_words(*each[1:])
            return
        self._shown = cards
        body = QWidget()
        row = QHBoxLayout(body)
        row.setContentsMargins(self.theme.px(20), 0, self.theme.px(20), 0)
        row.setSpacing(self.theme.px(12))
        self.cards = []
        if aim is not None:
            self._fill(row, aim, words)
        row.addStretch(1)
        self.setWidget(body)

    def _words(self, aim: Aim) -> list[tuple[str, str, str, str]]:
        found = [("", "Now", *answer_words(aim, self.session.outcome(aim)))]
        for kept in aim.scenarios:
            answer, rest = answer_words(aim, self.session.outcome(aim, kept))
            changes = difference_words(aim, kept)
            since = changed_since(aim, kept, self.session.outcome(aim, kept))
            title = f"{kept.name} · planned" if kept == aim.planned_scenario else kept.name
            found.append((kept.id, title, answer, ", ".join(part for part in (rest, changes, since) if part)))
        return found

    def _fill(self, row: QHBoxLayout, aim: Aim, words: list[tuple[str, str, str, str]]) -> None:
        for scenario_id, title, answer, rest in words:
            card = Card(self.theme, title, answer, rest, now=not scenario_id)
            self.cards.append(card)
            row.addWidget(card)
            if scenario_id:
                self._connect(card, aim.id, scenario_id)
        keep = link("+ Keep this", self.keep)
        keep.setToolTip("Keep these assumptions as a scenario (Ctrl+D)")
        row.addWidget(keep)
        if len(words) > 1:
            row.addWidget(link("Side by side", self.compare_asked.emit))
        else:
            row.addWidget(label("Kept scenarios stand here, and as further curves in the picture.", "quiet"))

    def _connect(self, card: Card, aim_id: str, kept_id: str) -> None:
        session = self.session
        card.clicked.connect(lambda: session.do(edits.return_to_scenario(session.study, aim_id, kept_id)))
        card.rename_asked.connect(lambda: self.start_renaming(card, aim_id, kept_id))
        card.plan_asked.connect(lambda: self._plan(aim_id, kept_id))
        card.delete_asked.connect(lambda: session.do(edits.delete_scenario(session.study, aim_id, kept_id)))

    def _plan(self, aim_id: str, kept_id: str) -> None:
        """Plan on a scenario, or on the aim as it stands where that was the plan."""
        study = self.session.study
        planned = any(aim.id == aim_id and aim.planned == kept_id for aim in study.aims)
        self.session.do(edits.plan_on(study, aim_id, "" if planned else kept_id))

    def keep(self) -> None:
        """Keep the aim as it stands under a name that says what is special about it; the name can be typed over."""
        aim = self.session.aim
        if aim is None:
            return
        self.session.do(edits.keep_scenario(self.session.study, aim.id, suggested_name(aim)))
        self.start_renaming(self.cards[-1], aim.id, self.session.study.aim(aim.id).scenarios[-1].id)

    def start_renaming(self, card: Card, aim_id: str, kept_id: str) -> None:
        """Lay an editor over the name of a card."""
        self.ensureWidgetVisible(card)
        editor = NameEdit(card.title, card, self.theme.px(6), self.theme.px(4), self.theme.px(28))
        session, merge = self.session, edits.typing(aim_id, f"name of {kept_id}")
        editor.typed.connect(
            lambda name: session.do(edits.rename_scenario(session.study, aim_id, kept_id, name), joined=merge)
        )
        editor.left.connect(lambda keep: session.leave_field(merge, keep))
