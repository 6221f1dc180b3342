"""The sentence that the picture is steered by, right under its tabs."""

from __future__ import annotations

from typing import ClassVar

from ragwort.app.bench.live_text import LiveText
from ragwort.app.bench.token import Token
from ragwort.app.kit.theme import Theme
from ragwort.app.session.session import Session
from ragwort.designs import Answer
from ragwort.figures.shown import Shown
from ragwort.figures.steering import (
    SENTENCES,
    assumption_of,
    axis_of,
    end_of,
    plain,
    read_end,
    read_values,
    text_of_end,
    text_of_values,
)
from ragwort.study import edits
from ragwort.study.edits.pictures import VALUES
from ragwort.study.history import Edit
from ragwort.study.model import Aim
from ragwort.study.numbers import NumberError, nudged
from ragwort.study.sentence import Piece

_LABELS = {"x": "What runs across", "y": "What runs up", "low": "From", "high": "To"}
_ASKED = {"x": "What runs across", "y": "What is asked for", "family": "What differs from line to line"}


class SteeringView(LiveText):
    """The live sentence of the picture in view; nothing where its picture has none."""

    sizes: ClassVar[tuple[tuple[float, int], ...]] = ((15.5, 2), (14.5, 9))
    margins: ClassVar[tuple[float, float, float]] = (4, 4, 2)
    keeps_room: ClassVar[bool] = False

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
        self.setVisible(sentence is not None)
        if sentence is not None:
            faults = list(aim.steer(picture).faults.values())
            pieces = sentence.pieces(aim, answer, shown)
            self.setAccessibleName(plain(pieces).replace("\u00a0", " "))
            self.show_pieces(pieces, faults[0] if faults else "", bool(faults))

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
        if piece.kind == "choice":
            token.choices = SENTENCES[picture].offers(aim, answer, shown, piece.name)
            token.show_piece(piece, _LABELS[piece.name] if picture == "Map" else _ASKED[piece.name])
            return
        draft = aim.steer(picture).drafts.get(piece.name, "")
        values = piece.name == VALUES
        token.edit_text = draft or (text_of_values(aim, shown) if values else text_of_end(aim, shown, piece.name))
        token.show_piece(piece, "A line for each of" if values else _LABELS[piece.name.partition("_")[2]])

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
        picture, aim, _, _ = self._now()
        slot, study, joined = token.piece.name, self.session.study, self._joined(token)
        try:
            edit = self._read(slot, text, joined)
        except NumberError as error:
            edit = edits.keep_draft_of_end(study, aim.id, picture, slot, text[:200], str(error), joined)
        self.session.do(edit)

    def _read(self, slot: str, text: str, joined: str) -> Edit:
        """What typed text changes. Raises `NumberError`."""
        picture, aim, _, shown = self._now()
        study = self.session.study
        if slot == VALUES:
            values = read_values(aim, shown, text)
            return edits.set_family_values(study, aim.id, picture, aim.steer(picture).family, values, joined)
        shows, end = axis_of(shown, slot).name, read_end(aim, shown, slot, text)
        return edits.set_end(study, aim.id, picture, slot, end, shows, joined)

    def _nudged(self, token: Token, steps: int, drag: bool) -> None:
        picture, aim, _, shown = self._now()
        slot = token.piece.name
        if slot == VALUES:
            return
        moved = nudged(assumption_of(aim, shown, slot), end_of(shown, slot), steps)
        if float(moved) != end_of(shown, slot):
            merge = f"{'drag' if drag else 'nudge'} {self._joined(token)}"
            shows = axis_of(shown, slot).name
            edit = edits.set_end(self.session.study, aim.id, picture, slot, float(moved), shows, merge)
            (self.session.scrub if drag else self.session.do)(edit)
