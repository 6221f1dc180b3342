"""A live sentence: plain words are painted, values are small widgets that can be typed over, nudged and scrubbed."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import discard
from ragwort.app.session.token import Token
from ragwort.study.words.sentence import Piece

SYMBOLS = ("d", "f", "f²", "h", "w", "R²", "η²", "SD", "SDs", "alpha")  # never at the end of a line
LIVE = ("value", "choice", "name")  # kinds of pieces that are tokens
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


def _weight_of(piece: Piece) -> tuple[int, bool]:
    """The weight of a token's letters, and whether its digits are all as wide."""
    return (_FOUND_WEIGHT if piece.found else _VALUE_WEIGHT), piece.kind == "value"


@dataclass(frozen=True)
class Letters:
    """How large a sentence is set, and the room around it."""

    sizes: tuple[tuple[float, int], ...]  # letters, most lines
    margins: tuple[float, float, float] = (30, 20, 16)  # beside, above, below
    keeps_room: bool = True  # for the quiet line, also while there is none


LARGE = Letters(((23, 2), (21.5, 2), (20, 3), (17.5, 4), (16, 9)))  # of the Bench
PLAIN = Letters(((21.5, 2), (19, 3), (17.5, 4), (16.5, 5)))  # of a page
SMALL = Letters(((15.5, 2), (14.5, 9)), (4, 4, 2), keeps_room=False)  # over a picture, close to what it steers


class LiveText(QWidget):
    """Words and tokens in lines. A sentence says what its tokens do (`wire`) and what they offer (`dress`)."""

    def __init__(self, theme: Theme, letters: Letters = LARGE) -> None:
        super().__init__()
        self.theme, self.letters = theme, letters
        self.pieces: list[Piece] = []
        self._remark, self._fault = "", False
        self.tokens: list[Token] = []
        self.words_at: list[tuple[QPointF, str]] = []
        self._remark_at = QPointF()
        self._laid_out: object = None  # for what
        self._turn = 0  # how often a sentence was shown
        self.letter_size = letters.sizes[0][0]

    def wire(self, token: Token) -> None:
        """Connect a new token."""
        raise NotImplementedError

    def dress(self, token: Token, piece: Piece) -> None:
        """Give a token its piece, and what it offers."""
        raise NotImplementedError

    def show_pieces(self, pieces: list[Piece], remark: str = "", fault: bool = False) -> None:
        """Show a sentence, and the quiet line below it; tokens are kept as long as the sentence keeps its shape."""
        self._turn += 1
        if not self._live(pieces, remark, fault, self._turn):
            return
        theme = self.theme
        wants = (pieces, remark, fault, self.width(), theme.scale, theme.colours.name, self.shows_below())
        if wants != self._laid_out or any(token.typing for token in self.tokens):
            self._laid_out = wants
            self._lay_out()

    def _live(self, pieces: list[Piece], remark: str, fault: bool, turn: int) -> bool:
        """Bring the tokens to these pieces; false where a newer sentence was shown meanwhile.

        What was typed in a token that goes counts, and whatever takes the focus away can end an edit elsewhere: either
        shows the sentence anew, with more tokens or fewer, before this goes on.
        """
        wanted = [piece for piece in pieces if piece.kind in LIVE]
        for going in self.tokens[len(wanted) :]:
            going.stop_typing()
        if turn == self._turn:
            self.pieces, self._remark, self._fault = pieces, remark, fault
        while turn == self._turn and len(self.tokens) > len(wanted):
            discard(self.tokens.pop())
        while turn == self._turn and len(self.tokens) < len(wanted):
            self._add_token(turn)
        for place, piece in enumerate(wanted):
            if turn == self._turn:
                self.dress(self.tokens[place], piece)
        if turn != self._turn:  # the one that was being made ready then has taken on a piece that is old
            newer = [piece for piece in self.pieces if piece.kind in LIVE]
            for token, piece in zip(self.tokens, newer, strict=False):
                self.dress(token, piece)
        return turn == self._turn

    def shows_below(self) -> object:
        """What stands below the remark: lines are laid out anew where it has changed."""
        return None

    def _add_token(self, turn: int) -> None:
        token = self._new_token()
        if turn == self._turn:
            self.tokens.append(token)
        else:
            discard(token)

    def _new_token(self) -> Token:
        token = Token(self, self.theme)
        self.setTabOrder(self.tokens[-1] if self.tokens else self._focused_before(), token)
        token.resized.connect(self._lay_out)
        self.wire(token)
        token.show()
        return token

    def _focused_before(self) -> QWidget:
        """What has the focus before the words, so that they come in reading order however late they are made."""
        before = self.previousInFocusChain()
        while before is not None and before is not self and before.focusPolicy() == Qt.FocusPolicy.NoFocus:
            before = before.previousInFocusChain()
        return before or self

    # --- layout ---

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._lay_out()

    def sizeHint(self) -> QSize:
        return QSize(600, self.theme.px(140))

    def _lay_out(self) -> None:
        """Break the sentence into lines; a long one is set smaller before it takes a fourth line."""
        for size, most in self.letters.sizes:
            lines = self.lines_of(size)
            if len(lines) <= most:
                break
        self._place(lines, size)
        self.update()  # words may stand elsewhere now

    def lines_of(self, size: float) -> list[list[_Run]]:
        room = max(200, self.width() - 2 * self.theme.px(self.letters.margins[0]))
        space = self.theme.width(" ", size, _WEIGHT)
        lines: list[list[_Run]] = [[]]
        used = 0.0
        for chunk in self._chunks(size, room):
            width = sum(run.width for run in chunk) + space * sum(run.space for run in chunk[1:])
            gap = space if lines[-1] and chunk[0].space else 0.0
            if lines[-1] and used + gap + width > room:
                lines.append([])
                used, gap = 0.0, 0.0
            lines[-1].extend(chunk)
            used += gap + width
        return lines

    def _chunks(self, size: float, room: float) -> list[list[_Run]]:
        """Runs that stay together on a line: a token with the punctuation that touches it, a symbol with its value."""
        chunks: list[list[_Run]] = []
        glued = False
        for index, piece in enumerate(self.pieces):
            if piece.kind in ("text", "derived"):
                words = piece.text.replace("\u00a0", "\u2007").split(" ")
                for position, word in enumerate(words):
                    if position:
                        glued = False
                    if word:
                        shown = word.replace("\u2007", "\u00a0")
                        run = _Run(shown, -1, not glued, self.theme.width(shown, size, _WEIGHT))
                        (chunks[-1].append(run) if glued and chunks else chunks.append([run]))
                        glued = True
            else:
                shown = self._elided(piece, size, room * 0.6)
                run = _Run(shown, index, not glued, self._token_width(index, shown, size))
                (chunks[-1].append(run) if glued and chunks else chunks.append([run]))
                glued = True
        return _with_symbols(chunks)

    def _elided(self, piece: Piece, size: float, room: float) -> str:
        if self._width_of(piece, piece.text, size) <= room:
            return piece.text
        metrics = QFontMetricsF(self._token_font(piece, size))
        return metrics.elidedText(piece.text, Qt.TextElideMode.ElideMiddle, room)

    def _token_font(self, piece: Piece, size: float) -> QFont:
        return self.theme.font(size, *_weight_of(piece))

    def _width_of(self, piece: Piece, shown: str, size: float) -> float:
        return self.theme.width(shown, size, *_weight_of(piece))

    def _token_width(self, index: int, shown: str, size: float) -> float:
        piece = self.pieces[index]
        width = self._width_of(piece, shown, size)
        if piece.found:
            return width + self.theme.px(size) * 0.82 + self.theme.px(17)
        return max(width + 3, self._token_of(index).width_of_editor())

    def _token_of(self, index: int) -> Token:
        return self.tokens[sum(piece.kind in LIVE for piece in self.pieces[:index])]

    def _place(self, lines: list[list[_Run]], size: float) -> None:
        plain = QFontMetricsF(self.theme.font(size, _WEIGHT))
        height = self.theme.px(size * 1.52)
        left, top = float(self.theme.px(self.letters.margins[0])), float(self.theme.px(self.letters.margins[1]))
        self.letter_size, self.words_at = size, []
        for number, line in enumerate(lines):
            x, y = left, top + number * height
            baseline = y + (height + plain.ascent() - plain.descent()) / 2
            for position, run in enumerate(line):
                x += self.theme.width(" ", size, _WEIGHT) if run.space and position else 0.0
                if run.piece < 0:
                    self.words_at.append((QPointF(x, baseline), run.text))
                else:
                    self._place_token(self._token_of(run.piece), run, size, QRectF(x, y + 2, run.width, height - 4))
                x += run.width
        bottom = self._place_remark(left, top + len(lines) * height)
        self.setFixedHeight(int(self.place_below(left, bottom) + self.theme.px(self.letters.margins[2])))

    def _place_remark(self, left: float, top: float) -> float:
        self._remark_at = QPointF(left, top + self.theme.px(6))
        if not (self._remark or self.letters.keeps_room):
            return top
        metrics = QFontMetricsF(self.theme.font(13.5))
        room = QRectF(0, 0, max(200.0, self.width() - 2 * left), 1000)
        needed = metrics.boundingRect(room, Qt.TextFlag.TextWordWrap, self._remark or " ").height()
        return top + self.theme.px(6) + needed

    def place_below(self, left: float, bottom: float) -> float:
        """Place what stands below the remark; where that ends."""
        return bottom

    def _place_token(self, token: Token, run: _Run, size: float, place: QRectF) -> None:
        token.place(self._token_font(self.pieces[run.piece], size), run.text, place.toAlignedRect())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setFont(self.theme.font(self.letter_size, _WEIGHT))
        painter.setPen(self.theme.colour("ink"))
        for at, word in self.words_at:
            painter.drawText(at, word)
        painter.setFont(self.theme.font(13.5))
        painter.setPen(self.theme.colour("brick" if self._fault else "quiet"))
        room = QRectF(self._remark_at.x(), self._remark_at.y(), self.width() - 2 * self._remark_at.x(), 1000)
        painter.drawText(room, Qt.TextFlag.TextWordWrap, self._remark)
