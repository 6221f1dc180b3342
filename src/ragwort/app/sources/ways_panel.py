"""What would bring the aim under the study's limit, or what the room below it would buy; none is done by itself."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget
from typing_extensions import override

from ragwort.app.kit.jobs import Jobs
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, discard, link
from ragwort.app.session.live_sentence import LiveSentence
from ragwort.app.session.live_text import SMALL
from ragwort.app.session.session import Session
from ragwort.app.sources.sidepanel import SidePanel, scrolled
from ragwort.designs import Answer
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.results.limits import Out, room, said_of, ways_out
from ragwort.study.results.outcome import to_enrol
from ragwort.study.results.resources import limit_of, limits_of
from ragwort.study.slots.resources import implied, resources_sentence

NO_LIMIT = "Nothing limits this aim yet. Type over a word above: then the ways to stay within it stand here."
OTHER = "Ways out are worked out for an aim that finds its sample size."


class WaysPanel(SidePanel):
    """Opened from the aims panel over the picture."""

    key = "ways"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "ways", "What fits the study")
        self.jobs = Jobs(self)
        self.outs: list[Out] = []
        self._made_for: object = None
        self.resources = LiveSentence(session, theme, "resources", SMALL)
        self.implied = Wrapped("", "quiet")
        self.says = Wrapped("", "strong")
        body = QWidget()
        whole = QVBoxLayout(body)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(theme.px(8))
        for widget in (self.resources, self.implied, self.says):
            whole.addWidget(widget)
        self._list = QVBoxLayout()
        whole.addLayout(self._list, 1)
        self._list.setContentsMargins(0, 0, theme.px(8), 0)
        self._list.setSpacing(theme.px(10))
        self._list.addStretch(1)
        self.cards: list[QWidget] = []
        self.column.addWidget(scrolled(body), 1)
        session.changed.connect(self.refresh)

    @override
    def finish(self) -> None:
        self.jobs.finish()

    @property
    @override
    def busy(self) -> bool:
        return self.jobs.busy

    def refresh(self) -> None:
        """Work out again what has changed."""
        aim, study = self.session.aim, self.session.study
        if not self.isVisible() or aim is None:
            return
        outcome = self.session.outcome(aim)
        self.resources.show_sentence(resources_sentence(self.session.study, self.session.aim))
        told = implied(study, aim, outcome) if isinstance(outcome, Answer) else ""
        self.implied.setText(told)
        self.implied.setVisible(bool(told))
        limit = limit_of(study, aim, outcome) if isinstance(outcome, Answer) else None
        if not isinstance(outcome, Answer) or limit is None or outcome.find != "n":
            self.jobs.cancel()
            self._made_for = None
            self._show(
                aim, [], NO_LIMIT if limit is None else OTHER if isinstance(outcome, Answer) else outcome.message
            )
            return
        key = (aim.id, aim.design, aim.find, aim.values(), limits_of(study))
        if key != self._made_for:
            self._made_for = key
            over = to_enrol(outcome) > limit
            self.jobs.start(
                lambda _: (ways_out if over else room)(aim, outcome, limit, partial(limit_of, study, aim)),
                lambda outs: self._show(aim, outs, said_of(aim, outcome, limit, outs)),
            )

    def _show(self, aim: Aim, outs: list[Out], says: str) -> None:
        self.outs = outs
        self.says.setText(says)
        while self.cards:
            card = self.cards.pop()
            self._list.removeWidget(card)
            discard(card)
        for at, out in enumerate(outs):
            card = self._card(aim, out)
            self._list.insertWidget(at, card)
            self.cards.append(card)

    def _card(self, aim: Aim, out: Out) -> QWidget:
        card = QFrame()
        card.setObjectName("entry")
        column = QVBoxLayout(card)
        column.setContentsMargins(*(self.theme.px(each) for each in (14, 9, 14, 9)))
        column.setSpacing(self.theme.px(2))
        top = QHBoxLayout()
        words = out.way.words if self._over() else out.way.gain or out.way.words
        top.addWidget(Wrapped(words, "strong"), 1)
        keep = link("Keep as a scenario", lambda: self._keep(aim, out, words), "smallLink")
        keep.setAccessibleName(f"Keep as a scenario: {words}")
        top.addWidget(keep)
        column.addLayout(top)
        column.addWidget(Wrapped(out.says if out.fits else f"{out.says} Still above the limit."))
        if self._over():
            column.addWidget(Wrapped(out.way.commits, "quiet"))
        return card

    def _over(self) -> bool:
        aim = self.session.aim
        outcome = self.session.outcome(aim) if aim is not None else None
        limit = limit_of(self.session.study, aim, outcome) if aim is not None and isinstance(outcome, Answer) else None
        return isinstance(outcome, Answer) and limit is not None and to_enrol(outcome) > limit

    def _keep(self, aim: Aim, out: Out, words: str) -> None:
        self.session.do(edits.keep_values(self.session.study, aim.id, out.values, out.way.find, words))
