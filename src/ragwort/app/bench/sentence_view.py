"""The live sentence: plain words are painted, values are small widgets that can be typed over, nudged and scrubbed."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import (
    QAction,
    QFont,
    QFontMetricsF,
    QGuiApplication,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PySide6.QtWidgets import QWidget

from ragwort.app.bench.token import Token
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import discard, link
from ragwort.app.session.session import Session
from ragwort.designs import Answer, design_named
from ragwort.study import edits
from ragwort.study.model import Aim
from ragwort.study.naming import label_of, namings_of
from ragwort.study.numbers import nudged, value_text
from ragwort.study.outcome import Halted, Problem
from ragwort.study.sentence import Piece, plain_text, remarks, sentence_of

SYMBOLS = ("d", "f", "f²", "h", "w", "R²", "η²", "SD", "SDs", "alpha")  # never at the end of a line
_WEIGHT, _VALUE_WEIGHT, _FOUND_WEIGHT = 400, 600, 700


@dataclass(frozen=True)
class _Run:
    """A word or token on its way to a line."""

    text: str
    piece: int  # index of the token's piece; -1 for plain words
    space: bool  # a space goes before it
    width: float = 0.0


def _with_symbols(chunks: list[list[_Run]]) -> list[list[_Run]]:
    """The chunks, none of which ends in a symbol whose value goes after it."""
    joined: list[list[_Run]] = []
    for chunk in chunks:
        if joined and joined[-1][-1].piece < 0 and joined[-1][-1].text.lstrip("(") in SYMBOLS:
            joined[-1] += chunk
        else:
            joined.append(chunk)
    return joined


def _stand_in(aim: Aim, name: str) -> str:
    """What something is called that has no name yet, for a screen reader."""
    key, _, index = name.partition(".")
    for naming in namings_of(aim):
        if naming.key == key and int(index) < len(naming.stand_ins):
            return naming.stand_ins[int(index)]
    return name


class SentenceView(QWidget):
    """The sentence of the aim in view, and the quiet line below it."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setObjectName("sentence")
        self._pieces: list[Piece] = []
        self._remark = ""
        self._fault = False
        self._tokens: list[Token] = []
        self._words: list[tuple[QPointF, str]] = []
        self._remark_at = QPointF()
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
        if aim is None:
            told = self.session.trouble
            self._pieces = [Piece("text", told or "This study has no aim yet. What does it ask?")]
            self._remark, self._fault = "", False
        else:
            outcome = self.session.outcome(aim)
            self._pieces = sentence_of(aim, outcome)
            self._fault = isinstance(outcome, Problem | Halted)
            self._remark = remarks(aim, outcome) if isinstance(outcome, Answer) else outcome.message
        self._instead.setVisible(aim is not None and aim.finished and aim.find == "power" and not self._fault)
        self._show_tokens(aim)
        self.setAccessibleName(self.text())
        self._lay_out()
        self.update()

    def _show_tokens(self, aim: Aim | None) -> None:
        """Widgets for the pieces that can be edited; kept as long as the sentence keeps its shape."""
        wanted = [piece for piece in self._pieces if piece.kind in ("value", "choice", "name")]
        while len(self._tokens) > len(wanted):
            gone = self._tokens.pop()
            gone.stop_typing()
            discard(gone)
        while len(self._tokens) < len(wanted):
            self._tokens.append(self._new_token())
        if aim is None:
            return
        design = design_named(aim.design)
        unknowns = [
            (find, label_of(design.assumption(design.unknown_of(find)), aim), find == aim.find) for find in design.finds
        ]
        for token, piece in zip(self._tokens, wanted, strict=True):
            if piece.kind == "name":
                token.edit_text, token.unknowns = piece.text, []
                token.show_piece(piece, f"Name of {_stand_in(aim, piece.name)}")
                continue
            assumption = design.assumption(piece.name)
            entry = aim.entry(piece.name)
            value = aim.values().get(piece.name, design.default_choice(piece.name, aim.values()))
            token.choices = [(c.label, c.label, assumption.value_of(c) == value) for c in assumption.choices]
            token.unknowns = unknowns if piece.kind == "value" else []
            shown = entry.terms or ("" if value is None else value_text(assumption, value))
            token.edit_text = entry.draft if entry.fault else shown
            token.show_piece(piece, label_of(assumption, aim))

    def _new_token(self) -> Token:
        token = Token(self, self.theme)
        token.typed.connect(lambda text, token=token: self._typed(token, text))
        token.nudged.connect(lambda steps, drag, token=token: self._nudged(token, steps, drag))
        token.drag_ended.connect(self.session.end_scrub)
        token.chosen.connect(lambda value, token=token: self._typed(token, value))
        token.typing_ended.connect(lambda keep, token=token: self._typing_ended(token, keep))
        token.find_instead.connect(self._find_instead)
        token.confirmed.connect(lambda token=token: self._confirm(token))
        token.show()
        return token

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
        value = None if aim is None else aim.values().get(name, design_named(aim.design).assumption(name).default)
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

    # --- layout ---

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._lay_out()

    def sizeHint(self) -> QSize:
        return QSize(600, self.theme.px(140))

    def _lay_out(self) -> None:
        """Break the sentence into lines; a long one is set smaller before it takes a fourth line."""
        for size in (23, 21.5, 20, 17.5):
            lines = self._broken(size)
            if len(lines) <= (2 if size > 20 else 3):
                break
        self._place(lines, size)

    def _broken(self, size: float) -> list[list[_Run]]:
        plain = QFontMetricsF(self.theme.font(size, _WEIGHT))
        room = max(200, self.width() - 2 * self.theme.px(30))
        space = plain.horizontalAdvance(" ")
        lines: list[list[_Run]] = [[]]
        used = 0.0
        for chunk in self._chunks(size, plain, room):
            width = sum(run.width for run in chunk) + space * sum(run.space for run in chunk[1:])
            gap = space if lines[-1] and chunk[0].space else 0.0
            if lines[-1] and used + gap + width > room:
                lines.append([])
                used, gap = 0.0, 0.0
            lines[-1].extend(chunk)
            used += gap + width
        return lines

    def _chunks(self, size: float, plain: QFontMetricsF, room: float) -> list[list[_Run]]:
        """Runs that stay together on a line: a token with the punctuation that touches it, a symbol with its value."""
        chunks: list[list[_Run]] = []
        glued = False
        for index, piece in enumerate(self._pieces):
            if piece.kind in ("text", "derived"):
                words = piece.text.replace("\u00a0", "\u2007").split(" ")
                for position, word in enumerate(words):
                    if position:
                        glued = False
                    if word:
                        run = _Run(word.replace("\u2007", "\u00a0"), -1, not glued, plain.horizontalAdvance(word))
                        (chunks[-1].append(run) if glued and chunks else chunks.append([run]))
                        glued = True
            else:
                shown = self._elided(piece, size, room * 0.6)
                run = _Run(shown, index, not glued, self._token_width(piece, shown, size))
                (chunks[-1].append(run) if glued and chunks else chunks.append([run]))
                glued = True
        return _with_symbols(chunks)

    def _elided(self, piece: Piece, size: float, room: float) -> str:
        metrics = QFontMetricsF(self._token_font(piece, size))
        return metrics.elidedText(piece.text, Qt.TextElideMode.ElideMiddle, room)

    def _token_font(self, piece: Piece, size: float) -> QFont:
        weight = _FOUND_WEIGHT if piece.found else _VALUE_WEIGHT
        return self.theme.font(size, weight, tabular=piece.kind == "value")

    def _token_width(self, piece: Piece, shown: str, size: float) -> float:
        width = QFontMetricsF(self._token_font(piece, size)).horizontalAdvance(shown)
        if piece.found:
            return width + self.theme.px(size) * 0.82 + self.theme.px(17)
        return width + 3

    def _place(self, lines: list[list[_Run]], size: float) -> None:
        plain = QFontMetricsF(self.theme.font(size, _WEIGHT))
        height = self.theme.px(size * 1.52)
        left, top = float(self.theme.px(30)), float(self.theme.px(20))
        self._size, self._words = size, []
        tokens = iter(self._tokens)
        for number, line in enumerate(lines):
            x, y = left, top + number * height
            baseline = y + (height + plain.ascent() - plain.descent()) / 2
            for position, run in enumerate(line):
                x += plain.horizontalAdvance(" ") if run.space and position else 0.0
                if run.piece < 0:
                    self._words.append((QPointF(x, baseline), run.text))
                else:
                    self._place_token(next(tokens), run, size, QRectF(x, y + 2, run.width, height - 4))
                x += run.width
        bottom = top + len(lines) * height
        self._remark_at = QPointF(left, bottom + self.theme.px(6))
        remark = QFontMetricsF(self.theme.font(13.5))
        room = QRectF(0, 0, max(200.0, self.width() - 2 * left), 1000)
        needed = remark.boundingRect(room, Qt.TextFlag.TextWordWrap, self._remark or " ").height()
        bottom += self.theme.px(6) + needed
        if not self._instead.isHidden():
            self._instead.adjustSize()
            self._instead.move(int(left), int(bottom + self.theme.px(4)))
            bottom += self.theme.px(4) + self._instead.height()
        self.setFixedHeight(int(bottom + self.theme.px(16)))

    def _place_token(self, token: Token, run: _Run, size: float, place: QRectF) -> None:
        token.place(self._token_font(self._pieces[run.piece], size), run.text, place.toAlignedRect())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setFont(self.theme.font(self._size, _WEIGHT))
        painter.setPen(self.theme.colour("ink"))
        for at, word in self._words:
            painter.drawText(at, word)
        painter.setFont(self.theme.font(13.5))
        painter.setPen(self.theme.colour("brick" if self._fault else "quiet"))
        room = QRectF(self._remark_at.x(), self._remark_at.y(), self.width() - 2 * self._remark_at.x(), 1000)
        painter.drawText(room, Qt.TextFlag.TextWordWrap, self._remark)
