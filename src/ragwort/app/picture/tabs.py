"""The tabs of the pictures: as close together as they must be, and what has no room in a menu at their end."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QMenu, QSizePolicy, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Tab, link, restyle

_FITS = ((20, False), (12, False), (12, True), (5, True))  # px between tabs, and whether their letters are smaller


class Tabs(QWidget):
    """One tab a picture, those of which there is one in view."""

    chosen = Signal(str)
    pressed_twice = Signal()

    def __init__(self, theme: Theme, names: Sequence[str]) -> None:
        super().__init__()
        self.theme, self._there = theme, list(names)
        self.group = QButtonGroup(self)
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        for name in names:
            self._row.addWidget(self._tab(name))
        self._more = link("more", lambda: None, "smallLink")
        self._more.setMenu(QMenu(self._more))
        self._more.menu().aboutToShow.connect(self._fill_menu)
        self._row.addWidget(self._more)
        self._row.addStretch(1)

    def _tab(self, name: str) -> Tab:
        tab: Tab = Tab(name, checkable=True)
        tab.pressed_twice.connect(self.pressed_twice)
        tab.setToolTip("Press twice, or F9, to let the picture fill the page.")
        tab.setObjectName("pictureTab")
        tab.setAccessibleName(f"Picture {name}")
        tab.setCursor(Qt.CursorShape.PointingHandCursor)
        tab.clicked.connect(lambda _=False: self.chosen.emit(name))
        self.group.addButton(tab)
        return tab

    def buttons(self) -> list[Tab]:
        """All tabs, in their order."""
        return [each for each in self.group.buttons() if isinstance(each, Tab)]

    @property
    def there(self) -> list[str]:
        """The pictures that there are, with a tab or in the menu."""
        return list(self._there)

    def show_names(self, names: Sequence[str], now: str) -> None:
        """The pictures that there are, and which of them is in view."""
        self._there = list(names)
        self.check(now)
        self._fit()

    def check(self, now: str) -> None:
        """Mark the picture that is in view; it has its tab whatever room there is."""
        for tab in self.buttons():
            tab.setChecked(tab.text() == now)
            tab.updateGeometry()  # its letters are bold, or no more
        self._fit()

    def sizeHint(self) -> QSize:
        return QSize(0, max(tab.sizeHint().height() for tab in self.buttons()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """The loosest way in which all have room; else the last of them go into a menu."""
        tabs = [tab for tab in self.buttons() if tab.text() in self._there]
        for gap, narrow in _FITS:
            self._row.setSpacing(self.theme.px(gap))
            for tab in self.buttons():
                restyle(tab, narrow=narrow)
            if self._width(tabs) <= self.width():
                break
        while tabs and self._width(tabs) > self.width() - self._room_for_menu(tabs):
            over = next((tab for tab in reversed(tabs) if not tab.isChecked()), None)
            if over is None:
                break
            tabs.remove(over)
        for tab in self.buttons():
            tab.setVisible(tab in tabs)
        self._more.setVisible(len(tabs) < len(self._there))

    def _room_for_menu(self, tabs: Sequence[Tab]) -> int:
        return 0 if len(tabs) == len(self._there) else self._more.sizeHint().width() + self._row.spacing()

    def _width(self, tabs: Sequence[Tab]) -> int:
        return sum(tab.sizeHint().width() + self._row.spacing() for tab in tabs)

    def _fill_menu(self) -> None:
        menu = self._more.menu()
        menu.clear()
        hidden = [tab.text() for tab in self.buttons() if tab.text() in self._there and tab.isHidden()]
        for name in hidden:
            menu.addAction(name, lambda name=name: self.chosen.emit(name))
