"""A live sentence in the window: each word offers what its slot can do, and nothing else."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QGuiApplication
from PySide6.QtWidgets import QPushButton
from typing_extensions import override

from ragwort.app.kit.theme import Theme
from ragwort.app.session.live_text import PLAIN, Letters, LiveText
from ragwort.app.session.session import Session
from ragwort.app.session.token import Token
from ragwort.study.document.history import Edit
from ragwort.study.slots.slot import Sentence, Slot
from ragwort.study.words.sentence import Piece


class LiveSentence(LiveText):
    """Shows a sentence and carries out what is done to its words; `links` stand below it."""

    def __init__(self, session: Session, theme: Theme, name: str, letters: Letters = PLAIN) -> None:
        super().__init__(theme, letters)
        self.session = session
        self.sentence = Sentence()
        self.links: list[QPushButton] = []
        self.setObjectName(name)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)
        copy = QAction("Copy the sentence", self)
        copy.triggered.connect(self.copy)
        self.addAction(copy)

    def show_sentence(self, sentence: Sentence) -> None:
        """Show a sentence, and the quiet line below it."""
        self.sentence = sentence
        self.show_pieces(sentence.pieces, sentence.remark, sentence.fault)
        self.setAccessibleName(self.text())

    def text(self) -> str:
        """The sentence as it reads aloud, with its remark."""
        return self.sentence.text().replace("\u00a0", " ")

    def copy(self) -> None:
        """The sentence as plain text on the clipboard."""
        QGuiApplication.clipboard().setText(self.text())

    def add_link(self, link: QPushButton) -> None:
        """A link below the sentence."""
        link.setParent(self)
        self.links.append(link)

    def slot_of(self, token: Token) -> Slot:
        """What can be done to a word now."""
        return self.sentence.slot(self.session.study, token.piece.name)

    @override
    def dress(self, token: Token, piece: Piece) -> None:
        slot = self.sentence.slot(self.session.study, piece.name)
        token.edit_text, token.choices, token.unknowns = slot.text, slot.choices, slot.finds
        token.nudges = slot.nudge is not None
        token.show_piece(piece, slot.label)

    @override
    def wire(self, token: Token) -> None:
        token.typed.connect(lambda text: self._do(self.slot_of(token).written(text)))
        token.chosen.connect(lambda value: self._do(self.slot_of(token).written(value)))
        token.nudged.connect(lambda steps, dragged: self._do(self.slot_of(token).moved(steps, dragged), dragged))
        token.drag_ended.connect(self.session.end_scrub)
        token.typing_ended.connect(lambda keep: self.session.leave_field(self.slot_of(token).key, keep))
        token.find_instead.connect(lambda find: self._do(self.slot_of(token).found(find)))
        token.confirmed.connect(lambda: self._do(self.slot_of(token).confirmed()))

    def _do(self, edit: Edit | None, dragged: bool = False) -> None:
        if edit is not None:
            (self.session.scrub if dragged else self.session.do)(edit)

    @override
    def shows_below(self) -> object:
        return [(link.isHidden(), link.text()) for link in self.links]

    @override
    def place_below(self, left: float, bottom: float) -> float:
        shown = [link for link in self.links if not link.isHidden()]
        at, top = int(left), int(bottom + self.theme.px(4))
        for link in shown:
            link.adjustSize()
            link.move(at, top)
            at += link.width() + self.theme.px(12)
        return max([bottom, *(top + link.height() for link in shown)])
