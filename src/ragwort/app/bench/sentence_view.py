"""The sentence of the aim in view."""

from __future__ import annotations

from typing import ClassVar

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QGuiApplication

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import link
from ragwort.app.session.live_text import LiveText
from ragwort.app.session.session import Session
from ragwort.app.session.token import Token
from ragwort.designs import Answer, design_named
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import Halted, Problem, finds_of, value_in_force
from ragwort.study.words.naming import label_of, namings_of
from ragwort.study.words.numbers import nudged, value_text
from ragwort.study.words.sentence import Piece, plain_text, remarks, sentence_of


def _stand_in(aim: Aim, name: str) -> str:
    """What something is called that has no name yet, for a screen reader."""
    key, _, index = name.partition(".")
    for naming in namings_of(aim):
        if naming.key == key and int(index) < len(naming.stand_ins):
            return naming.stand_ins[int(index)]
    return name


def _unknowns(aim: Aim) -> list[tuple[str, str, bool]]:
    """What can be found instead: its name, its label, whether it is found now."""
    design = design_named(aim.design)
    return [
        (find, label_of(design.assumption(design.unknown_of(find, aim.values())), aim), find == aim.find)
        for find in finds_of(aim)
    ]


class SentenceView(LiveText):
    """The sentence of the aim in view, and the quiet line below it."""

    nudges: ClassVar[bool] = True

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(theme)
        self.session = session
        self.setObjectName("sentence")
        self._instead = link("Ask that", lambda: self._find_instead("effect"), "smallLink")
        self._instead.setParent(self)
        self._instead.setAccessibleName("Ask what effect the study could have shown")
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)
        copy = QAction("Copy the sentence", self)
        copy.triggered.connect(self.copy)
        self.addAction(copy)
        session.changed.connect(self.refresh)
        self.refresh()

    def copy(self) -> None:
        """The sentence as plain text on the clipboard."""
        QGuiApplication.clipboard().setText(self.text())

    def text(self) -> str:
        """The sentence as it reads aloud, with its remark."""
        return " ".join(part for part in (plain_text(self._pieces), self._remark) if part)

    def refresh(self) -> None:
        """Show the session's aim."""
        aim = self.session.aim
        outcome = None if aim is None else self.session.outcome(aim)
        fault = isinstance(outcome, Problem | Halted)
        self._instead.setVisible(aim is not None and aim.finished and aim.find == "power" and not fault)
        if aim is None or outcome is None:
            told = self.session.trouble or "This study has no aim yet. What does it ask?"
            self.show_pieces([Piece("text", told)])
        else:
            remark = remarks(aim, outcome) if isinstance(outcome, Answer) else outcome.message
            self.show_pieces(sentence_of(aim, outcome), remark, fault)
        self.setAccessibleName(self.text())

    def dress(self, token: Token, piece: Piece) -> None:
        """See `LiveText.dress`."""
        aim = self.session.aim
        assert aim is not None, "the sentence without an aim has no tokens"
        if piece.kind == "name":
            token.edit_text, token.unknowns = piece.text, []
            token.show_piece(piece, f"Name of {_stand_in(aim, piece.name)}")
            return
        design = design_named(aim.design)
        assumption = design.assumption(piece.name)
        entry = aim.entry(piece.name)
        value = aim.values().get(piece.name, design.default_choice(piece.name, aim.values()))
        token.choices = [(c.label, c.label, assumption.value_of(c) == value) for c in assumption.choices]
        token.unknowns = _unknowns(aim) if piece.kind == "value" else []
        token.nudges = isinstance(value_in_force(aim, piece.name), int | float)
        shown = entry.terms or ("" if value is None else value_text(assumption, value))
        token.edit_text = entry.draft if entry.fault else shown
        token.show_piece(piece, label_of(assumption, aim))

    def wire(self, token: Token) -> None:
        """See `LiveText.wire`."""
        token.typed.connect(lambda text: self._typed(token, text))
        token.nudged.connect(lambda steps, drag: self._nudged(token, steps, drag))
        token.drag_ended.connect(self.session.end_scrub)
        token.chosen.connect(lambda value: self._typed(token, value))
        token.typing_ended.connect(lambda keep: self._typing_ended(token, keep))
        token.find_instead.connect(self._find_instead)
        token.confirmed.connect(lambda: self._confirm(token))

    def shows_below(self) -> bool:
        """See `LiveText.shows_below`."""
        return not self._instead.isHidden()

    def place_below(self, left: float, bottom: float) -> float:
        """See `LiveText.place_below`: the link to the question that a finished study can answer."""
        if self._instead.isHidden():
            return bottom
        self._instead.adjustSize()
        self._instead.move(int(left), int(bottom + self.theme.px(4)))
        return bottom + self.theme.px(4) + self._instead.height()

    # --- edits ---

    def _typed(self, token: Token, text: str) -> None:
        study, aim_id, piece = self.session.study, self.session.aim_id, token.piece
        if self.session.aim is None:
            return
        if piece.kind == "name":
            key, _, index = piece.name.partition(".")
            self.session.do(edits.rename(study, aim_id, key, int(index), text, self._joined(token)))
        else:
            self.session.do(edits.type_value(study, aim_id, piece.name, text, self._joined(token)))

    def _joined(self, token: Token) -> str:
        """What joins the keystrokes in a token; nothing where its value is picked."""
        return "" if token.piece.kind == "choice" else edits.typing(self.session.aim_id, token.piece.name)

    def _typing_ended(self, token: Token, keep: bool) -> None:
        self.session.leave_field(self._joined(token), keep)

    def _nudged(self, token: Token, steps: int, drag: bool) -> None:
        aim, name = self.session.aim, token.piece.name
        value = None if aim is None else value_in_force(aim, name)
        if aim is None or not isinstance(value, int | float):
            return
        assumption = design_named(aim.design).assumption(name)
        moved = nudged(assumption, value, steps)
        edit = edits.set_value(
            self.session.study, aim.id, name, moved, merge=f"{'drag' if drag else 'nudge'} {aim.id} {name}"
        )
        (self.session.scrub if drag else self.session.do)(edit)

    def _find_instead(self, find: str) -> None:
        self.session.do(edits.move_flower(self.session.study, self.session.aim_id, find))

    def _confirm(self, token: Token) -> None:
        self.session.do(edits.confirm(self.session.study, self.session.aim_id, token.piece.name))
