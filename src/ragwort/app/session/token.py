"""A value, choice or name in a live sentence: typed over, nudged, scrubbed, picked from a list."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QPoint, QPointF, QRect, QRectF, Qt, Signal, SignalInstance
from PySide6.QtGui import (
    QAction,
    QContextMenuEvent,
    QFont,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QMenu, QWidget

from ragwort.app.kit.theme import Theme, paint_flower
from ragwort.app.kit.widgets import UP_AND_DOWN, PassingEdit, close_menus, discard
from ragwort.study.slots.slot import Offers
from ragwort.study.words.sentence import Piece

PIXELS_PER_STEP = 6  # of a sideways drag


class Token(QWidget):
    """One value, choice or name in the sentence."""

    typed = Signal(str)  # each keystroke
    chosen = Signal(str)
    typing_ended = Signal(bool)  # whether what was typed is to be kept
    nudged = Signal(int, bool)  # steps, whether it is part of a drag
    drag_ended = Signal()
    find_instead = Signal(str)
    resized = Signal()  # the editor needs more room, or none any more
    confirmed = Signal()  # Enter on an example that is left as it is

    def __init__(self, parent: QWidget, theme: Theme) -> None:
        super().__init__(parent)
        self.theme = theme
        self.piece = Piece("value", "")
        self._told: tuple[Piece, str, bool, bool] | None = None
        self.shown = ""
        self.choices: Offers = ()  # value, label, ticked
        self.unknowns: Offers = ()  # find, label, ticked
        self.edit_text = ""
        self.nudges = False  # whether arrows and dragging move its value
        self._press: QPoint | None = None
        self._dragged = 0
        self.editor: PassingEdit | None = None
        self._font = theme.body  # kept here: a style sheet takes a widget's own font away when it is shown again
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_piece(self, piece: Piece, label: str) -> None:
        """Take over what is to be shown; `label` is the accessible name."""
        if self.editor is not None and piece.name != self.piece.name:
            self.stop_typing()
        if piece.name != self.piece.name:
            close_menus(self)
        told = piece, label, self.nudges, bool(self.unknowns)
        if told == self._told:
            return  # nothing to paint anew
        self.piece, self._told = piece, told
        self.setObjectName(f"token-{piece.name}")
        self.setAccessibleName(f"{label}: {piece.text}")
        self.setCursor(Qt.CursorShape.SizeHorCursor if self._moves else Qt.CursorShape.PointingHandCursor)
        instead = "; right-click to find it instead" if self.unknowns else ""
        tips = {
            "choice": f"{label}. Click to choose.",
            "name": "Click to rename.",
            "value": f"{label}. {'Type, press ↑ ↓ or drag sideways' if self._moves else 'Type'}{instead}.",
        }
        full = f" In full {piece.full}." if piece.full else ""
        found = f"{label}: found from everything else.{full} Click to find something else."
        example = " An example to start from: Enter keeps it." if piece.example else ""
        self.setToolTip(found if piece.found else f"{tips[piece.kind]}{example}")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(self._font)
        area = QRectF(self.rect())
        if self.piece.found:
            self._paint_found(painter, area)
        else:
            faded = "quiet" if self.piece.example else "leaf"
            painter.setPen(self.theme.colour("brick" if self.piece.fault else faded))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, self.shown)
            pen = QPen(painter.pen().color(), 1.6, Qt.PenStyle.DotLine, Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            painter.drawLine(QPointF(1, area.bottom() - 3), QPointF(area.right() - 1, area.bottom() - 3))
        if self.hasFocus():
            painter.setPen(QPen(self.theme.colour("leaf"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(area.adjusted(0.7, 0.7, -0.7, -0.7), 5, 5)

    def _paint_found(self, painter: QPainter, area: QRectF) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.colour("found_wash"))
        painter.drawRoundedRect(area, self.theme.px(6), self.theme.px(6))
        size = self._font.pixelSize() * 0.82
        paint_flower(painter, QPointF(self.theme.px(6) + size / 2, area.center().y() + 0.5), size, self.theme)
        painter.setPen(self.theme.colour("quiet" if self.piece.stale else "found_text"))
        text_area = area.adjusted(size + self.theme.px(11), 0, -self.theme.px(6), 0)
        painter.drawText(text_area, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, self.shown)

    # --- mouse and keyboard ---

    @property
    def _moves(self) -> bool:
        """Whether arrows and dragging do anything."""
        return self.nudges and self.piece.kind == "value" and not self.piece.found

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._press, self._dragged = event.globalPosition().toPoint(), 0

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._press is None or not self._moves:
            return
        steps = round((event.globalPosition().toPoint().x() - self._press.x()) / PIXELS_PER_STEP)
        if steps != self._dragged:
            moved, self._dragged = steps - self._dragged, steps
            self.nudged.emit(moved, True)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._press is None or event.button() != Qt.MouseButton.LeftButton:
            return
        dragged = self._dragged != 0
        self._press, self._dragged = None, 0
        if dragged:
            self.drag_ended.emit()
        else:
            self._activate()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        number = self.piece.kind == "value" and not self.piece.found
        if event.key() in UP_AND_DOWN and self._moves:
            self.nudged.emit(UP_AND_DOWN[event.key()], False)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_F2, Qt.Key.Key_Space):
            self._activate()
        elif number and event.text().strip() and event.text().isprintable():
            self._start_typing(event.text())
            self.typed.emit(event.text())
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if self.unknowns:
            self._menu(self.unknowns, self.find_instead).popup(event.globalPos())

    def _activate(self) -> None:
        below = self.mapToGlobal(QPoint(0, self.height()))
        if self.piece.found:
            self._menu(self.unknowns, self.find_instead).popup(below)
        elif self.piece.kind == "choice":
            self._menu(self.choices, self.chosen).popup(below)
        else:
            self._start_typing(self.edit_text, select=True)

    def _menu(self, entries: Offers, signal: SignalInstance) -> QMenu:
        menu = QMenu(self)
        menu.setObjectName("tokenMenu")
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for value, label, ticked in entries:
            action = QAction(label, menu, checkable=True, checked=ticked)
            action.triggered.connect(lambda _=False, value=value: signal.emit(value))
            menu.addAction(action)
        return menu

    def _start_typing(self, text: str, select: bool = False) -> None:
        parent = self.parentWidget()
        assert parent is not None, "a token stands in a sentence"
        self.stop_typing()
        editor = PassingEdit(text, parent)
        editor.setObjectName("tokenEditor")
        editor.setAccessibleName(self.accessibleName())
        editor.setFont(self._font)
        if select:
            editor.selectAll()
        self.editor = editor
        self.resized.emit()
        editor.textEdited.connect(self.typed)
        editor.textEdited.connect(lambda _: self.resized.emit())
        editor.done.connect(self.stop_typing)
        editor.installEventFilter(self)
        editor.show()
        editor.setFocus()

    def place(self, font: QFont, shown: str, area: QRect) -> None:
        """Where the value stands in the sentence, and how; an open editor goes with it."""
        self._font, self.shown = font, shown
        self.setGeometry(area)
        self.update()
        self._place_editor()

    @property
    def typing(self) -> bool:
        """Whether something is being typed over it."""
        return self.editor is not None

    def width_of_editor(self) -> int:
        """The room that what is being typed takes; 0 while nothing is."""
        if self.editor is None:
            return 0
        typed = QFontMetricsF(self._font).horizontalAdvance(self.editor.text())
        return max(int(typed) + self.theme.px(30), self.theme.px(60))

    def _place_editor(self) -> None:
        if self.editor is not None:
            place = self.geometry().adjusted(0, -2, 0, 2)
            place.setRight(min(place.right(), self.parentWidget().width() - 1))
            self.editor.setGeometry(place)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if watched is not self.editor or not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not self.editor.isModified():
            self.confirmed.emit()
        if event.key() == Qt.Key.Key_Escape:
            self._close_editor(keep=False)
            return True
        return False

    def stop_typing(self) -> None:
        """Close the editor; every keystroke has counted already."""
        self._close_editor(keep=True)

    def _close_editor(self, keep: bool) -> None:
        editor, self.editor = self.editor, None
        if editor is not None:
            had_focus = editor.hasFocus()
            editor.removeEventFilter(self)
            discard(editor)
            self.resized.emit()
            if had_focus:
                self.setFocus()
            self.typing_ended.emit(keep)
