"""The sentence that the picture is steered by, right under its tabs."""

from __future__ import annotations

from typing import ClassVar

from ragwort.app.kit.theme import Theme
from ragwort.app.session.live_text import SmallText
from ragwort.app.session.session import Session
from ragwort.app.session.token import Token
from ragwort.designs import Answer
from ragwort.figures.shown.shown import Shown
from ragwort.figures.steering.sentences import SENTENCES, plain
from ragwort.figures.steering.typed import Place, typed
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.words.numbers import NumberError
from ragwort.study.words.sentence import Piece


class SteeringView(SmallText):
    """The live sentence of the picture in view; nothing where its picture has none."""

    nudges: ClassVar[bool] = True

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(theme)
        self.session = session
        self.setObjectName("steering")
        self._of: tuple[str, Aim, Answer, Shown] | None = None
        self.hide()

    def show_for(self, picture: str, aim: Aim, answer: Answer, shown: Shown) -> None:
        """Show the sentence of a picture of an aim."""
        self._of = (picture, aim, answer, shown)
        sentence = SENTENCES.get(picture)
        if self.isHidden() and sentence is not None:
            self._take_place()
        self.setVisible(sentence is not None)
        if sentence is not None:
            faults = list(aim.steer(picture).faults.values())
            pieces = sentence.pieces(aim, answer, shown)
            self.setAccessibleName(plain(pieces).replace("\u00a0", " "))
            self.show_pieces(pieces, faults[0] if faults else "", bool(faults))

    def _take_place(self) -> None:
        """Be as wide as there is room before lines are laid out: else they are short, and the picture shrinks twice."""
        self.show()
        around = self.parentWidget().layout() if self.parentWidget() is not None else None
        if around is not None:
            around.activate()

    def keep_for(self, aim_id: str) -> None:
        """There is no picture yet: words that steer another aim's go."""
        if self._of is not None and self._of[1].id != aim_id:
            self.forget()

    def forget(self) -> None:
        """There is no picture."""
        self._of = None
        self.show_pieces([])
        self.hide()

    def text(self) -> str:
        """The sentence as it reads."""
        return plain(self._pieces).replace("\u00a0", " ")

    def dress(self, token: Token, piece: Piece) -> None:
        """See `LiveText.dress`."""
        picture, aim, answer, shown = self._now()
        sentence = SENTENCES[picture]
        if piece.kind == "choice":
            token.choices = sentence.offers(aim, answer, shown, piece.name)
            token.show_piece(piece, sentence.labels[piece.name])
            return
        word = typed(piece.name)
        token.edit_text = aim.steer(picture).drafts.get(piece.name, "") or word.text(aim, shown, piece.name)
        token.show_piece(piece, word.label(piece.name))

    def wire(self, token: Token) -> None:
        """See `LiveText.wire`."""
        token.typed.connect(lambda text: self._typed(token, text))
        token.chosen.connect(lambda value: self._chosen(token, value))
        token.nudged.connect(lambda steps, drag: self._nudged(token, steps, drag))
        token.drag_ended.connect(self.session.end_scrub)
        token.typing_ended.connect(lambda keep: self.session.leave_field(self._joined(token), keep))

    def _now(self) -> tuple[str, Aim, Answer, Shown]:
        assert self._of is not None, "a sentence without a picture has no words to steer by"
        return self._of

    def _joined(self, token: Token) -> str:
        """What joins the keystrokes in a word; nothing where it is picked."""
        if self._of is None or token.piece.kind == "choice":
            return ""
        return edits.steering(self._of[1].id, self._of[0], token.piece.name)

    def _chosen(self, token: Token, value: str) -> None:
        picture, aim, answer, shown = self._now()
        changes = SENTENCES[picture].chosen(aim, answer, shown, token.piece.name, value)
        self.session.do(edits.choose_for_picture(self.session.study, aim.id, picture, changes))

    def _typed(self, token: Token, text: str) -> None:
        place = self._word_at(token, self._joined(token))
        try:
            edit = typed(place.slot).edit(place, text)
        except NumberError as error:
            told = place.slot, text[:200], str(error), place.joined
            edit = edits.keep_draft_of_end(place.study, place.aim.id, place.picture, *told)
        self.session.do(edit)

    def _nudged(self, token: Token, steps: int, drag: bool) -> None:
        place = self._word_at(token, f"{'drag' if drag else 'nudge'} {self._joined(token)}")
        edit = typed(place.slot).nudge(place, steps)
        if edit is not None:
            (self.session.scrub if drag else self.session.do)(edit)

    def _word_at(self, token: Token, joined: str) -> Place:
        picture, aim, _, shown = self._now()
        return Place(self.session.study, aim, picture, shown, token.piece.name, joined)
