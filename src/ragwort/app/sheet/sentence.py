"""The sentence that a sheet is steered by."""

from __future__ import annotations

from typing import ClassVar

from ragwort.app.kit.theme import Theme
from ragwort.app.session.live_text import LiveText
from ragwort.app.session.session import Session
from ragwort.app.session.token import Token
from ragwort.sheet import edits
from ragwort.sheet import sentence as sentences
from ragwort.sheet.sentence import Wanted
from ragwort.study.words.sentence import Piece, plain_text


class SheetSentence(LiveText):
    """`One row a member of staff, ids like P-001; at random in blocks of 4 or 6 …`."""

    sizes: ClassVar[tuple[tuple[float, int], ...]] = ((21.5, 2), (19, 3), (16.5, 5))

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(theme)
        self.session = session
        self.setObjectName("sheetSentence")
        self._of: Wanted | None = None

    def show_sheet(self, of: Wanted, remark: str, fault: str) -> None:
        """Show what is asked for, and below it what comes of it or what is wrong."""
        self._of = of
        self.show_pieces(sentences.pieces_of(of), fault or remark, bool(fault))
        self.setAccessibleName(self.text())

    def text(self) -> str:
        """The sentence as it reads, with its remark."""
        return " ".join(part for part in (plain_text(self._pieces), self._remark) if part).replace("\u00a0", " ")

    def dress(self, token: Token, piece: Piece) -> None:
        """See `LiveText.dress`."""
        assert self._of is not None, "a sentence about nothing has no words"
        if piece.kind == "choice":
            token.choices = sentences.offers(self._of, piece.name)
        else:
            token.edit_text = sentences.typed_text(self._of.aim, piece.name)
        token.show_piece(piece, sentences.LABELS[piece.name])

    def wire(self, token: Token) -> None:
        """See `LiveText.wire`."""
        token.chosen.connect(lambda value: self._choose(token.piece.name, value))
        token.typed.connect(lambda text: self._type(token, text))
        token.typing_ended.connect(lambda keep: self.session.leave_field(self._joined(token), keep))

    def _joined(self, token: Token) -> str:
        return edits.typing(self.session.aim_id, token.piece.name)

    def _choose(self, name: str, value: str) -> None:
        self.session.do(edits.choose(self.session.study, self.session.aim_id, name, value))

    def _type(self, token: Token, text: str) -> None:
        name = token.piece.name
        self.session.do(edits.type_word(self.session.study, self.session.aim_id, name, text, self._joined(token)))
