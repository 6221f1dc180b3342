"""The sentence of the page: what the grid asks, or the rows of a file in its place."""

from __future__ import annotations

from PySide6.QtCore import Signal

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import link
from ragwort.app.session.live_sentence import LiveSentence
from ragwort.app.session.session import Session
from ragwort.grid.combinations import MOST_VARIED, varied_of
from ragwort.grid.reading import FromFile
from ragwort.grid.sentence import file_sentence, grid_sentence, names, vary
from ragwort.study.document.aim import Aim

FROM_FILE = "take the rows from a table file"


class GridSentence(LiveSentence):
    """`Find the sample size for difference 8 to 16 by 2 ms …`, and below it how many combinations that makes."""

    file_asked = Signal()
    file_left = Signal()
    column_chosen = Signal(str, str)  # for which assumption, and which column holds it

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "gridSentence")
        self._file: FromFile | None = None
        self.more = link("+ vary another", self._vary_another, "smallLink")
        self.from_file = link(FROM_FILE, self._ask_for_file, "smallLink")
        self.add_link(self.more)
        self.add_link(self.from_file)

    def show_aim(self, aim: Aim, remark: str, file: FromFile | None = None) -> None:
        """Show what the aim's grid asks, or the rows of a file in its place."""
        self._file = file
        more = 0 < len(varied_of(aim)) < MOST_VARIED and bool(self._free(aim))
        self.more.setVisible(more and file is None)
        self.from_file.setText(FROM_FILE if file is None else "type the values instead")
        if file is None:
            self.show_sentence(grid_sentence(aim, self.session.outcome(aim), remark))
        else:
            self.show_sentence(file_sentence(aim, file, remark, self.column_chosen.emit))

    def _ask_for_file(self) -> None:
        (self.file_asked if self._file is None else self.file_left).emit()

    def _free(self, aim: Aim) -> list[str]:
        """What could be varied besides."""
        return [name for name, *_ in names(aim, self.session.outcome(aim), len(varied_of(aim)))]

    def _vary_another(self) -> None:
        aim = self.session.aim
        free = [] if aim is None else self._free(aim)
        if aim is not None and free:
            self.session.do(vary(self.session.study, aim, len(varied_of(aim)), free[0]))
