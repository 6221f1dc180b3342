"""The live sentence of what the study can have, over the ways out."""

from __future__ import annotations

from ragwort.app.kit.theme import Theme
from ragwort.app.session.live_text import SmallText
from ragwort.app.session.session import Session
from ragwort.app.session.token import Token
from ragwort.study import edits
from ragwort.study.document.history import Edit
from ragwort.study.results.affording import LABELS, LIMIT, fault_of, pieces_of, text_of
from ragwort.study.words.sentence import Piece, plain_text


class ResourcesView(SmallText):
    """People, clusters, money and time; each is typed in its place."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(theme)
        self.session = session
        self.setObjectName("resources")

    def refresh(self) -> None:
        """Show what the study has, in the words of the aim in view."""
        aim, study = self.session.aim, self.session.study
        fault = fault_of(study) or edits.limit_fault(study.limit_draft)
        self.show_pieces([] if aim is None else pieces_of(study, aim), fault, bool(fault))
        self.setAccessibleName(self.text())

    def text(self) -> str:
        """The sentence as it reads."""
        return plain_text(self._pieces).replace("\u00a0", " ")

    def dress(self, token: Token, piece: Piece) -> None:
        """See `LiveText.dress`."""
        token.edit_text = text_of(self.session.study, piece.name)
        token.show_piece(piece, LABELS[piece.name])

    def wire(self, token: Token) -> None:
        """See `LiveText.wire`."""
        token.typed.connect(lambda text: self.session.do(self._edit(token, text)))
        token.typing_ended.connect(lambda keep: self.session.leave_field(self._joined(token), keep))

    def _joined(self, token: Token) -> str:
        return f"resource {token.piece.name}"

    def _edit(self, token: Token, text: str) -> Edit:
        study, name = self.session.study, token.piece.name
        made = edits.type_limit(study, text) if name == LIMIT else edits.type_resource(study, name, text)
        return Edit(made.label, made.study, self._joined(token))
