"""The sentence of the aim in view."""

from __future__ import annotations

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import link
from ragwort.app.session.live_sentence import LiveSentence
from ragwort.app.session.live_text import LARGE
from ragwort.app.session.session import Session
from ragwort.study import edits
from ragwort.study.slots.aim import aim_sentence
from ragwort.study.slots.slot import Sentence
from ragwort.study.words.sentence import Piece

_NO_AIM = "This study has no aim yet. What does it ask?"


class SentenceView(LiveSentence):
    """The sentence of the aim in view, and the quiet line below it."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "sentence", LARGE)
        self.instead = link("Ask that", self._ask_effect, "smallLink")
        self.instead.setAccessibleName("Ask what effect the study could have shown")
        self.add_link(self.instead)
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the session's aim."""
        aim, session = self.session.aim, self.session
        told = Sentence([Piece("text", session.trouble or _NO_AIM)])
        sentence = told if aim is None else aim_sentence(aim, session.outcome(aim))
        asks_power = aim is not None and aim.finished and aim.find == "power"
        self.instead.setVisible(asks_power and not sentence.fault)
        self.show_sentence(sentence)

    def _ask_effect(self) -> None:
        self.session.do(edits.move_flower(self.session.study, self.session.aim_id, "effect"))
