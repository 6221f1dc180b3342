"""The two sentences of the page: what the grid asks, and what its chart shows."""

from __future__ import annotations

from collections.abc import Callable
from typing import ClassVar

from PySide6.QtCore import Signal

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import link
from ragwort.app.session.live_text import LiveText, SmallText
from ragwort.app.session.session import Session
from ragwort.app.session.token import Token
from ragwort.designs import design_named
from ragwort.figures.steering.sentences import plain
from ragwort.grid import chart as charts
from ragwort.grid import edits
from ragwort.grid import sentence as sentences
from ragwort.grid.chart import GridChart
from ragwort.grid.combinations import MOST_VARIED, varied_of
from ragwort.grid.reading import FromFile
from ragwort.grid.work import Results
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.results.resources import Limits
from ragwort.study.words.sentence import Piece

_LABELS = {
    sentences.FIND: "What each row finds",
    sentences.NAME: "What differs",
    sentences.VALUES: "Its values",
    sentences.COLUMN: "Which column holds it",
}


def _word(name: str) -> tuple[str, int]:
    """What a token is about, and at which place of the sentence: `values_1`."""
    word, _, place = name.partition("_")
    return word, int(place) if place.isdecimal() else 0


FROM_FILE = "take the rows from a table file"


class GridSentence(LiveText):
    """`Find the sample size for difference 8 to 16 by 2 ms …`, and below it how many combinations that makes."""

    file_asked = Signal()
    file_left = Signal()
    column_chosen = Signal(str, str)  # for which assumption, and which column holds it

    sizes: ClassVar[tuple[tuple[float, int], ...]] = ((21.5, 2), (20, 2), (17.5, 3))

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(theme)
        self.session = session
        self.setObjectName("gridSentence")
        self._file: FromFile | None = None
        self.more = link("+ vary another", self._vary_another, "smallLink")
        self.from_file = link(FROM_FILE, self._ask_for_file, "smallLink")
        for each in (self.more, self.from_file):
            each.setParent(self)

    def show_aim(self, aim: Aim, remark: str, file: FromFile | None = None) -> None:
        """Show what the aim's grid asks, or the rows of a file in its place."""
        self._file = file
        fault = sentences.fault_of(aim) if file is None else ""
        pieces = sentences.pieces_of(aim) if file is None else sentences.pieces_of_file(aim, file)
        more = 0 < len(varied_of(aim)) < MOST_VARIED and bool(self._free(aim))
        self.more.setVisible(more and file is None)
        self.from_file.setText(FROM_FILE if file is None else "type the values instead")
        self.show_pieces(pieces, fault or remark, bool(fault))
        self.setAccessibleName(self.text())

    def text(self) -> str:
        """The sentence as it reads, with its remark."""
        return " ".join(part for part in (plain(self._pieces), self._remark) if part).replace("\u00a0", " ")

    def dress(self, token: Token, piece: Piece) -> None:
        """See `LiveText.dress`."""
        aim = self._aim()
        word, place = _word(piece.name)
        if word == sentences.FIND:
            token.unknowns = sentences.finds(aim)
        elif word == sentences.COLUMN:
            assert self._file is not None, "no file has no columns"
            token.choices = sentences.columns_for(self._file, piece.name.partition("_")[2])
        elif word == sentences.NAME:
            token.choices = sentences.names(aim, self.session.outcome(aim), place)
        else:
            token.edit_text = sentences.typed_text(varied_of(aim)[place])
        token.show_piece(piece, _LABELS[word])

    def wire(self, token: Token) -> None:
        """See `LiveText.wire`."""
        token.find_instead.connect(lambda find: self._do(edits.choose_find, find))
        token.chosen.connect(lambda name: self._chosen(token, name))
        token.typed.connect(lambda text: self._typed(token, text))
        token.typing_ended.connect(lambda keep: self.session.leave_field(self._joined(token), keep))

    def place_below(self, left: float, bottom: float) -> float:
        """See `LiveText.place_below`: the links to one more assumption, and to a file."""
        at, top = int(left), int(bottom + self.theme.px(4))
        for each in (self.more, self.from_file):
            if not each.isHidden():
                each.adjustSize()
                each.move(at, top)
                at += each.width() + self.theme.px(12)
        return bottom + self.theme.px(4) + self.from_file.height()

    def _ask_for_file(self) -> None:
        (self.file_asked if self._file is None else self.file_left).emit()

    def _aim(self) -> Aim:
        aim = self.session.aim
        assert aim is not None, "a grid without an aim has no words"
        return aim

    def _free(self, aim: Aim) -> list[str]:
        """What could be varied besides."""
        return [name for name, *_ in sentences.names(aim, self.session.outcome(aim), len(varied_of(aim)))]

    def _joined(self, token: Token) -> str:
        word, place = _word(token.piece.name)
        return edits.typing(self.session.aim_id, place) if word == sentences.VALUES else ""

    def _chosen(self, token: Token, name: str) -> None:
        word, place = _word(token.piece.name)
        if word == sentences.COLUMN:
            self.column_chosen.emit(token.piece.name.partition("_")[2], name)
        elif name:
            self._vary(place, name)
        else:
            self._do(edits.leave_out, place)

    def _vary_another(self) -> None:
        aim = self._aim()
        free = self._free(aim)
        if free:
            self._vary(len(varied_of(aim)), free[0])

    def _vary(self, place: int, name: str) -> None:
        aim = self._aim()
        if not any(assumption.name == name for assumption in design_named(aim.design).assumptions):
            return  # the menu was opened for an aim of another design
        now = sentences.value_now(aim, design_named(aim.design).assumption(name))
        self._do(edits.vary, place, name, now)

    def _typed(self, token: Token, text: str) -> None:
        _, place = _word(token.piece.name)
        self._do(edits.type_values, place, text, self._joined(token))

    def _do(self, edit: Callable[..., Edit], *what: object) -> None:
        self.session.do(edit(self.session.study, self.session.aim_id, *what))


class ChartSentence(SmallText):
    """`Staff against difference, a line for each standard deviation.`"""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(theme)
        self.session = session
        self.setObjectName("chartSentence")
        self._of: tuple[GridChart, Results, Limits] | None = None

    def show_chart(self, chart: GridChart | None, results: Results, limits: Limits) -> None:
        """Show what a chart shows; nothing where there is none."""
        self._of = None if chart is None else (chart, results, limits)
        self.show_pieces([] if chart is None else charts.pieces_of(chart, results, limits))
        self.setAccessibleName(plain(self._pieces).replace("\u00a0", " "))

    def dress(self, token: Token, piece: Piece) -> None:
        """See `LiveText.dress`."""
        assert self._of is not None, "no chart has no words"
        token.choices = charts.offers(*self._of, piece.name)
        labels = {"y": "What is shown", "x": "What runs across", "family": "What differs from line to line"}
        labels["panel"] = "What differs from panel to panel"
        token.show_piece(piece, labels[piece.name])

    def wire(self, token: Token) -> None:
        """See `LiveText.wire`."""
        token.chosen.connect(lambda value: self._chosen(token.piece.name, value))

    def _chosen(self, word: str, value: str) -> None:
        self.session.do(edits.draw(self.session.study, self.session.aim_id, {word: value}))
