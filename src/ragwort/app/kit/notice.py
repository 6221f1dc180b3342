"""A quiet bar over the pages: a message, an offer, or work under way."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import Slot
from PySide6.QtWidgets import QFrame, QHBoxLayout, QProgressBar, QPushButton

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import discard, label, link

Offer = tuple[str, Callable[[], object]]


@dataclass(frozen=True)
class _Said:
    """What the bar says: a message, what can be done about it, and what an offer is about."""

    message: str
    offers: tuple[Offer, ...]
    working: bool = False
    about: str = ""


class Notice(QFrame):
    """Shows one thing at a time. An offer stays until it is answered: what is said meanwhile stands before it."""

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
        self._message: _Said | None = None
        self._waiting: list[_Said] = []  # offers
        self.hide()

    def say(self, message: str) -> None:
        """A message with a way to close it."""
        self._message = _Said(message, (("Close", lambda: None),))
        self._show()

    def offer(self, message: str, offers: tuple[Offer, ...], about: str = "") -> None:
        """A message with things to do about it; it takes the place of an older offer about the same."""
        self._waiting = [old for old in self._waiting if not about or old.about != about]
        self._waiting.append(_Said(message, offers, about=about))
        self._show()

    def work(self, message: str, cancel: Callable[[], None]) -> None:
        """Work under way, which can be cancelled."""
        self._bar.setValue(0)
        self._message = _Said(message, (("Cancel", cancel),), working=True)
        self._show()

    @Slot(float)
    def show_progress(self, share: float) -> None:
        """How far the work is (0..1)."""
        self._bar.setValue(int(share * 1000))

    def clear(self) -> None:
        """Nothing is said, and nothing waits for an answer."""
        self._message, self._waiting = None, []
        self._show()

    def _show(self) -> None:
        """The message, else the offer that has waited longest."""
        said = self._message or (self._waiting[0] if self._waiting else None)
        for old in self._links:
            discard(old)
        self._links = []
        self.setVisible(said is not None)
        if said is None:
            return
        self.text.setText(said.message)
        self._bar.setVisible(said.working)
        self._links = [link(title, lambda act=act: self._close(said, act)) for title, act in said.offers]
        for each in self._links:
            self._row.addWidget(each)

    def _close(self, said: _Said, act: Callable[[], object]) -> None:
        if said is self._message:
            self._message = None
        elif said in self._waiting:
            self._waiting.remove(said)
        else:  # its link is on its way out
            return
        self._show()
        act()
