"""The sentence that a rehearsal is steered by."""

from __future__ import annotations

from typing import ClassVar

from ragwort.app.kit.theme import Theme
from ragwort.app.session.live_text import LiveText
from ragwort.app.session.session import Session
from ragwort.app.session.token import Token
from ragwort.rehearsal import edits
from ragwort.rehearsal import sentence as sentences
from ragwort.rehearsal.stage import Planned
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import World
from ragwort.study.words.sentence import Piece, plain_text


class RehearsalSentence(LiveText):
    """`Rehearse Reaction time 10 000 times with skewed outcomes …`; below it what came of it."""

    sizes: ClassVar[tuple[tuple[float, int], ...]] = ((21.5, 2), (19, 3), (16.5, 4))

    nudges: ClassVar[bool] = True

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(theme)
        self.session = session
        self.setObjectName("rehearsalSentence")
        self._shown: tuple[Aim, Planned, World] | None = None

    def show_world(self, aim: Aim, of: Planned, world: World, remark: str) -> None:
        """Show the world in view, and what there is to say of it."""
        self._shown = (aim, of, world)
        fault = sentences.fault_of(aim, world)
        self.show_pieces(sentences.pieces_of(aim, of, world), fault or remark, bool(fault))
        self.setAccessibleName(self.text())

    def text(self) -> str:
        """The sentence as it reads, with its remark."""
        return " ".join(part for part in (plain_text(self._pieces), self._remark) if part).replace("\u00a0", " ")

    def dress(self, token: Token, piece: Piece) -> None:
        """See `LiveText.dress`."""
        aim, of, world = self._there()
        if piece.kind == "choice":
            token.choices = sentences.offers(of, world, piece.name)
        else:
            token.edit_text = sentences.typed_text(aim, of, world, piece.name)
        token.show_piece(piece, sentences.label_of(of, world, piece.name))

    def wire(self, token: Token) -> None:
        """See `LiveText.wire`."""
        token.chosen.connect(lambda value: self._choose(token.piece.name, value))
        token.typed.connect(lambda text: self._type(token, text))
        token.typing_ended.connect(lambda keep: self.session.leave_field(self._joined(token), keep))
        token.nudged.connect(lambda steps, dragged: self._nudge(token, steps, dragged))
        token.drag_ended.connect(self.session.end_scrub)

    def _there(self) -> tuple[Aim, Planned, World]:
        assert self._shown is not None, "a sentence without a world has no words"
        return self._shown

    def _joined(self, token: Token) -> str:
        return edits.typing(self.session.aim_id, token.piece.name)

    def _choose(self, name: str, value: str) -> None:
        _, of, _ = self._there()
        self.session.do(edits.choose(self.session.study, self.session.aim_id, of, name, value))

    def _type(self, token: Token, text: str) -> None:
        _, of, _ = self._there()
        merge = self._joined(token)
        self.session.do(edits.type_word(self.session.study, self.session.aim_id, of, token.piece.name, text, merge))

    def _nudge(self, token: Token, steps: int, dragged: bool) -> None:
        """One step up or down from what stands there."""
        aim, of, world = self._there()
        text = sentences.nudged_text(aim, of, world, token.piece.name, steps)
        merge = f"{'drag' if dragged else 'nudge'} {self._joined(token)}"
        edit = edits.type_word(self.session.study, self.session.aim_id, of, token.piece.name, text, merge)
        (self.session.scrub if dragged else self.session.do)(edit)
