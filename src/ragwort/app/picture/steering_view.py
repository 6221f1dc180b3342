"""The sentence that the picture is steered by, right under its tabs."""

from __future__ import annotations

from ragwort.app.kit.theme import Theme
from ragwort.app.session.live_sentence import LiveSentence
from ragwort.app.session.live_text import SMALL
from ragwort.app.session.session import Session
from ragwort.designs import Answer
from ragwort.figures.shown.shown import Shown
from ragwort.figures.steering.sentences import picture_sentence
from ragwort.study.document.aim import Aim
from ragwort.study.slots.slot import Sentence


class SteeringView(LiveSentence):
    """The live sentence of the picture in view; nothing where its picture has none."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "steering", SMALL)
        self._aim_id = ""
        self.hide()

    def show_for(self, picture: str, aim: Aim, answer: Answer, shown: Shown) -> None:
        """Show the sentence of a picture of an aim."""
        self._aim_id = aim.id
        sentence = picture_sentence(picture, aim, answer, shown)
        if self.isHidden() and sentence is not None:
            self._take_place()
        self.setVisible(sentence is not None)
        if sentence is not None:
            self.show_sentence(sentence)

    def _take_place(self) -> None:
        """Be as wide as there is room before lines are laid out: else they are short, and the picture shrinks twice."""
        self.show()
        around = self.parentWidget().layout() if self.parentWidget() is not None else None
        if around is not None:
            around.activate()

    def keep_for(self, aim_id: str) -> None:
        """There is no picture yet: words that steer another aim's go."""
        if self._aim_id not in ("", aim_id):
            self.forget()

    def forget(self) -> None:
        """There is no picture."""
        self._aim_id = ""
        self.show_sentence(Sentence())
        self.hide()
