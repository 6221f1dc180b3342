"""A quiet bar over the pages: a message, an offer, or work under way."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Slot
from PySide6.QtWidgets import QFrame, QHBoxLayout, QProgressBar, QPushButton

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import discard, label, link

Offer = tuple[str, Callable[[], object]]


class Notice(QFrame):
    """Shows one thing at a time."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("notice")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(theme.px(30), theme.px(8), theme.px(18), theme.px(8))
        self._row.setSpacing(theme.px(14))
        self.text = label("")
        self.text.setObjectName("noticeText")
        self.text.setWordWrap(True)
        self._row.addWidget(self.text, 1)
        self._bar = QProgressBar()
        self._bar.setRange(0, 1000)
        self._bar.setTextVisible(False)
        self._bar.setFixedWidth(theme.px(160))
        self._row.addWidget(self._bar)
        self._links: list[QPushButton] = []
        self.hide()

    def say(self, message: str) -> None:
        """A message with a way to close it."""
        self._show(message, (("Close", lambda: None),), working=False)

    def offer(self, message: str, offers: tuple[Offer, ...]) -> None:
        """A message with things to do about it."""
        self._show(message, offers, working=False)

    def work(self, message: str, cancel: Callable[[], None]) -> None:
        """Work under way, which can be cancelled."""
        self._bar.setValue(0)
        self._show(message, (("Cancel", cancel),), working=True)

    @Slot(float)
    def show_progress(self, share: float) -> None:
        """How far the work is (0..1)."""
        self._bar.setValue(int(share * 1000))

    def _show(self, message: str, offers: tuple[Offer, ...], working: bool) -> None:
        self.text.setText(message)
        self._bar.setVisible(working)
        for old in self._links:
            discard(old)
        self._links = [link(title, lambda act=act: self._close(act)) for title, act in offers]
        for each in self._links:
            self._row.addWidget(each)
        self.show()

    def _close(self, act: Callable[[], None]) -> None:
        self.hide()
        act()
