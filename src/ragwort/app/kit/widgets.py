"""Small parts that several views are made of."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QEvent, QObject, QPointF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QAccessible,
    QAccessibleAnnouncementEvent,
    QEnterEvent,
    QFocusEvent,
    QFontMetrics,
    QHideEvent,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QStandardItemModel,
    QWheelEvent,
)
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QApplication,
    QComboBox,
    QFrame,
    QGridLayout,
    QLabel,
    QLineEdit,
    QListView,
    QMenu,
    QPushButton,
    QStyle,
    QStyleOptionComboBox,
    QStylePainter,
    QWidget,
)

from ragwort.app.kit.theme import Theme, paint_flower

# How many steps a key moves a number.
UP_AND_DOWN: dict[int, int] = {
    Qt.Key.Key_Up: 1,
    Qt.Key.Key_Down: -1,
    Qt.Key.Key_PageUp: 10,
    Qt.Key.Key_PageDown: -10,
}


def label(text: str, name: str = "", parent: QWidget | None = None) -> QLabel:
    """A label in one of the styles of the theme: `heading`, `quiet`, `fault`, `strong`."""
    made = QLabel(text, parent)
    made.setTextFormat(Qt.TextFormat.PlainText)
    if name:
        made.setObjectName(name)
    return made


def link(text: str, act: Callable[[], object], name: str = "link", flush: bool = False) -> QPushButton:
    """A button that looks like a link: `link` or `smallLink`; a `flush` one stands exactly under text."""
    made = QPushButton(text)
    made.setObjectName(name)
    made.setProperty("flush", flush)
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    made.clicked.connect(lambda _=False: act())
    return made


def restyle(widget: QWidget, **marks: bool) -> None:
    """Set properties that the style sheet asks for; the widget is dressed anew only where one of them changes."""
    if any(widget.property(name) != value for name, value in marks.items()):
        for name, value in marks.items():
            widget.setProperty(name, value)
        widget.style().unpolish(widget)
        widget.style().polish(widget)


def scroll_to(area: QAbstractScrollArea, place: int) -> None:
    """Scroll down to a place, as soon as the area knows how high its contents are."""

    def go() -> None:
        area.verticalScrollBar().setValue(place)

    go()
    QTimer.singleShot(0, area, go)


class Tab(QPushButton):
    """A tab that also hears when it is pressed twice."""

    pressed_twice = Signal()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        super().mouseDoubleClickEvent(event)
        self.pressed_twice.emit()


def close_menus(widget: QWidget) -> None:
    """Close what was opened from a widget: an entry would be picked of what is not there any more."""
    for menu in widget.findChildren(QMenu):
        menu.close()


def discard(widget: QWidget) -> None:
    """Take a widget away: out of sight at once, not only when it is deleted.

    The focus leaves it first: Qt would look for the next in line, and among widgets that are going it has found one
    that was gone already.
    """
    close_menus(widget)
    focused = QApplication.focusWidget()
    if focused is not None and (focused is widget or widget.isAncestorOf(focused)):
        focused.clearFocus()
    widget.hide()
    widget.deleteLater()


def hairline(vertical: bool = False) -> QFrame:
    """A line of one pixel."""
    made = QFrame()
    made.setObjectName("hairline")
    (made.setFixedWidth if vertical else made.setFixedHeight)(1)
    return made


class Wrapped(QLabel):
    """A label that is never cut: it goes on in a further line where there is no room."""

    def __init__(self, text: str = "", name: str = "") -> None:
        super().__init__(text)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        self.setMinimumWidth(20)
        if name:
            self.setObjectName(name)

    def set_text(self, text: str) -> None:
        """Show another text."""
        if text != self.text():
            self.setText(text)

    def whole(self) -> str:
        """The text that was asked for."""
        return self.text()


class Standing(Wrapped):
    """The same, which keeps the height of all its lines also where a layout is short of room."""

    def set_text(self, text: str) -> None:
        """Show another text."""
        super().set_text(text)
        self._stand()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._stand()

    def _stand(self) -> None:
        self.setMinimumHeight(0)  # or what is asked for next would be no less than it
        self.setMinimumHeight(max(self.heightForWidth(self.width()), 0))


def say(widget: QWidget, words: str) -> None:
    """Tell assistive technology something that has just come up in a widget."""
    QAccessible.updateAccessibility(QAccessibleAnnouncementEvent(widget, words.replace("\u00a0", " ")))


class Elided(QLabel):
    """A label of one line that ends in … where there is no room; the whole text is its tool tip."""

    double_clicked = Signal()

    def __init__(self, text: str = "", name: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        if name:
            self.setObjectName(name)
        self.setMinimumWidth(20)
        self._whole = ""
        self.set_text(text)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.double_clicked.emit()

    def set_text(self, text: str) -> None:
        """Show another text."""
        if text == self._whole:
            return
        self._whole = text
        self.setAccessibleName(text)
        self._elide()

    def whole(self) -> str:
        """The text that was asked for."""
        return self._whole

    def sizeHint(self) -> QSize:
        metrics, margins = QFontMetrics(self.font()), self.contentsMargins()
        height = metrics.height() + margins.top() + margins.bottom()
        return QSize(metrics.horizontalAdvance(self._whole) + 2, height)

    def minimumSizeHint(self) -> QSize:
        return QSize(20, self.sizeHint().height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._elide()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.FontChange:
            self._elide()

    def _elide(self) -> None:
        shown = QFontMetrics(self.font()).elidedText(self._whole, Qt.TextElideMode.ElideRight, self.width())
        if shown != self.text():
            self.setText(shown)
        self.setToolTip(self._whole if shown != self._whole else "")


class Box(QComboBox):
    """A box to choose from, with an angle that says so; it can be narrower than its longest entry."""

    def __init__(self, theme: Theme, name: str, entries: Sequence[str] = ()) -> None:
        super().__init__()
        self.theme = theme
        self.setAccessibleName(name)
        self.addItems(list(entries))
        self.setMinimumContentsLength(6)
        self.setMinimumWidth(theme.px(64))
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QStylePainter(self)
        option = QStyleOptionComboBox()
        self.initStyleOption(option)
        painter.drawComplexControl(QStyle.ComplexControl.CC_ComboBox, option)
        room = self.width() - self.theme.px(44)
        option.currentText = self.fontMetrics().elidedText(self.currentText(), Qt.TextElideMode.ElideRight, room)
        painter.drawControl(QStyle.ControlElement.CE_ComboBoxLabel, option)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self.theme.colour("leaf" if self.hasFocus() else "quiet"), 1.4))
        x, y, arm = self.width() - self.theme.px(14), self.height() / 2, self.theme.px(4)
        painter.drawPolyline([QPointF(x - arm, y - arm / 2), QPointF(x, y + arm / 2), QPointF(x + arm, y - arm / 2)])

    def offer(self, at: int, possible: bool) -> None:
        """Whether an entry can be chosen; else it is neither shown nor reached by keys."""
        model, view = self.model(), self.view()
        if isinstance(model, QStandardItemModel) and isinstance(view, QListView):
            model.item(at).setEnabled(possible)
            view.setRowHidden(at, not possible)

    def widen(self) -> None:
        """Be as wide as the longest entry."""
        longest = max(self.fontMetrics().horizontalAdvance(self.itemText(at)) for at in range(self.count()))
        self.setMinimumWidth(longest + self.theme.px(48))

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The page scrolls, not the choice, unless the box is in hand."""
        if self.hasFocus():
            super().wheelEvent(event)
        else:
            event.ignore()


class FlowerButton(QAbstractButton):
    """A place where the flower can stand: full where the value is found, a faint ring where it could be."""

    def __init__(self, theme: Theme, name: str) -> None:
        super().__init__()
        self.theme = theme
        self.setCheckable(True)
        self.setObjectName(f"flower-{name}")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedSize(theme.px(20), theme.px(20))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        centre = QPointF(self.width() / 2, self.height() / 2)
        if self.isChecked():
            paint_flower(painter, centre, self.theme.px(16), self.theme)
        else:
            waiting = self.underMouse() or self.hasFocus()
            painter.setPen(QPen(self.theme.colour("found" if waiting else "hairline"), 1.4))
            painter.drawEllipse(centre, self.theme.px(4), self.theme.px(4))
        if self.hasFocus():
            painter.setPen(QPen(self.theme.colour("leaf"), 1.2))
            painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 5, 5)

    def enterEvent(self, event: QEnterEvent) -> None:
        self.update()

    def leaveEvent(self, event: QEvent) -> None:
        self.update()


def is_undo_or_redo(event: QEvent) -> bool:
    """Whether a key is about to be pressed that takes back or brings again, which a field would keep to itself."""
    if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.ShortcutOverride:
        return False
    return event.matches(QKeySequence.StandardKey.Undo) or event.matches(QKeySequence.StandardKey.Redo)


class PassingEdit(QLineEdit):
    """An editor that is there only while it has the focus. `done` says that it has been left, whatever was typed.

    Qt's own signal says so only where something was typed.
    """

    done = Signal()

    def __init__(self, text: str, parent: QWidget) -> None:
        super().__init__(text, parent)
        self.returnPressed.connect(self.done)

    def event(self, event: QEvent) -> bool:
        if is_undo_or_redo(event):
            event.ignore()  # the window's own: what was typed here is one step of the study
            return True
        return super().event(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        if event.reason() != Qt.FocusReason.PopupFocusReason:  # its own menu
            self.done.emit()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        if not event.spontaneous():
            self.done.emit()


class NameEdit(PassingEdit):
    """An editor laid over a name: every keystroke counts; Enter keeps, Escape and an empty name leave it as it was."""

    typed = Signal(str)
    left = Signal(bool)  # whether what was typed is to be kept

    def __init__(self, text: str, parent: QWidget, left: int, top: int, height: int, width: int = 0) -> None:
        super().__init__(text, parent)
        self._place, self._width = (left, top, height), width  # without a width: as wide as there is room
        self._follow()
        parent.installEventFilter(self)
        self.setObjectName("nameEdit")
        self.setAccessibleName("New name")
        self.setMaxLength(500)
        self._done = False
        self.textEdited.connect(self.typed)
        self.done.connect(lambda: self._finish(True))
        self.selectAll()
        self.show()
        self.setFocus()

    def _follow(self) -> None:
        left, top, height = self._place
        self.setGeometry(left, top, self._width or self.parentWidget().width() - 2 * left, height)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize:
            self._follow()
        return False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._finish(False)
        else:
            super().keyPressEvent(event)

    def _finish(self, keep: bool) -> None:
        if self._done:
            return
        self._done = True
        discard(self)
        self.left.emit(keep and bool(self.text().strip()))


def form_grid(body: QWidget, theme: Theme) -> QGridLayout:
    """Labels, editors and units in three columns, the last of which takes what room is left."""
    grid = QGridLayout(body)
    grid.setContentsMargins(0, 0, theme.px(8), 0)
    grid.setHorizontalSpacing(theme.px(12))
    grid.setVerticalSpacing(theme.px(6))
    grid.setColumnStretch(2, 1)
    return grid
