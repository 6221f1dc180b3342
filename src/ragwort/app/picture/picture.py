"""The picture of the aim, as one of several: its tabs, what it says, and what moving its point does."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QTimer, Signal
from PySide6.QtGui import QActionGroup, QGuiApplication, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QMenu, QVBoxLayout, QWidget

from ragwort.app.kit.jobs import Jobs, Ticket
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, link, say
from ragwort.app.picture.canvas import Canvas
from ragwort.app.picture.handling import Handling
from ragwort.app.picture.moving import dragged, stepped
from ragwort.app.picture.steering_view import SteeringView
from ragwort.app.picture.tabs import Tabs
from ragwort.app.session.session import Session
from ragwort.base.patience import Late, heard_by, within
from ragwort.designs import Answer
from ragwort.figures.paper import SIZES, USUAL
from ragwort.figures.pictures import PICTURE_FORMATS, PICTURES, Picture, Scene, has_rough, picture_of, pictures_for
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.results.outcome import PATIENCE, Halted, Outcome, Pending
from ragwort.study.results.resources import limit_of
from ragwort.study.words.numbers import percent_text

NARROW = 520  # a picture less wide has no link to copy it
ROUGH = "Drawn roughly; the fine picture is being worked out."
OVERDUE = 60  # ms that a picture of an answer before may stay as it is


class PictureView(QWidget):
    """Tabs, the picture, and the line of text that says what it shows."""

    export_asked = Signal(str)
    range_asked = Signal()  # a plausible range is to be typed
    fill_asked = Signal()  # the whole page for the picture, or back

    def __init__(self, session: Session, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self.theme = session, theme
        self.name = PICTURES[0]
        self._slow: set[tuple[str, str, str, str]] = set()  # kinds of picture that were not there in time
        self._shown_for: object = None  # what a picture that took time was made for
        self._rough = False  # whether a rough picture stands for a fine one that comes
        self.ready = False  # pictures wait for matplotlib, which is imported once the window has been painted
        self._loading = Jobs(self)
        self._working = Jobs(self)  # pictures that take time
        self.overdue = QTimer(self, singleShot=True, interval=OVERDUE)
        self.overdue.timeout.connect(self._mark_old)
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(26), theme.px(8), theme.px(18), theme.px(8))
        column.setSpacing(theme.px(2))
        column.addLayout(self._tab_line())
        self.steering = SteeringView(session, theme)
        column.addWidget(self.steering)
        self.canvas = Canvas(theme)
        self.canvas.point_dragged.connect(self._drag_to)
        self.canvas.drag_ended.connect(session.end_scrub)
        self.canvas.nudged.connect(self._nudge)
        self.canvas.painted_first.connect(self._load)
        self.handling = Handling(session, self.canvas)
        column.addWidget(self.canvas, 1)
        self.says = Elided(name="quiet")
        self.says.setContentsMargins(theme.px(4), 0, 0, 0)
        self.says.double_clicked.connect(lambda: self.handling.ask_words("caption", self.canvas.place_of("caption")))
        foot = QHBoxLayout()
        foot.addWidget(self.says, 1)
        self.stop = link("Stop", self._stop_or_start, "smallLink")
        self.stop.hide()
        foot.addWidget(self.stop)
        self.plausible = link("Type what is plausible", self.range_asked.emit, "smallLink")
        self.plausible.hide()
        foot.addWidget(self.plausible)
        column.addLayout(foot)
        session.answers.progressed.connect(self._show_progress)
        self._working.progressed.connect(self._show_drawn)
        session.changed.connect(self.refresh)
        self.refresh()

    def _tab_line(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(0)
        row.setContentsMargins(self.theme.px(4), 0, 0, 0)
        self.tabs = Tabs(self.theme, PICTURES)
        self.tabs.check(self.name)
        self.tabs.pressed_twice.connect(self.fill_asked)
        self.tabs.chosen.connect(self.show_tab)
        row.addWidget(self.tabs, 1)
        self._copy = link("Copy", self.copy)
        row.addWidget(self._copy)
        row.addSpacing(self.theme.px(10))
        self.export_link = link("Export", lambda: None)
        self.export_link.setMenu(self._ways_out())
        self.export_link.setStyleSheet("QPushButton::menu-indicator { image: none; width: 0; }")
        row.addWidget(self.export_link)
        return row

    def _ways_out(self) -> QMenu:
        menu = QMenu(self.export_link)
        for kind in PICTURE_FORMATS:
            title = "Data as CSV…" if kind == "csv" else f"Picture as {kind.upper()}…"
            menu.addAction(title, lambda kind=kind: self.export_asked.emit(kind))
        menu.addAction("Copy the picture", self.copy)
        menu.addSeparator()
        self.sizes = QActionGroup(menu)
        for name, size in SIZES.items():
            action = menu.addAction(f"For a {size.words}", lambda name=name: self.handling.set_size(name))
            action.setCheckable(True)
            action.setData(name)
            self.sizes.addAction(action)
        menu.aboutToShow.connect(self.check_size)
        return menu

    def check_size(self) -> None:
        aim = self.session.aim
        now = (aim.steer(self.name).size if aim is not None else "") or USUAL
        for action in self.sizes.actions():
            action.setChecked(action.data() == now)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._copy.setVisible(self.width() >= self.theme.px(NARROW))  # the menu of ways out has it too

    def _load(self) -> None:
        if self.ready:
            return
        from ragwort.figures.drawing import prepare

        self._loading.start(lambda _: prepare(), lambda _: self.start(), self._load_failed)

    def start(self) -> None:
        """Draw from now on: matplotlib is loaded."""
        self.ready = True
        self.refresh()

    def _load_failed(self, error: Exception) -> None:
        self.says.set_text("Pictures cannot be drawn on this machine.")
        raise error

    def finish(self) -> None:
        """Wait until no thread works any more: for closing the window."""
        self._loading.finish()
        self.overdue.stop()
        self._working.finish()

    def show_tab(self, name: str) -> None:
        """Bring another picture into view."""
        self.handling.take_words()
        self.name, self._shown_for = name, None
        self.tabs.check(name)
        self.canvas.forget()
        self.steering.forget()
        self.refresh()

    def copy(self) -> None:
        """The picture on the clipboard."""
        QGuiApplication.clipboard().setPixmap(self.canvas.bitmap())

    def refresh(self) -> None:
        """Draw the session's aim."""
        aim = self.session.aim
        if not self.ready:
            outcome = None if aim is None else self.session.outcome(aim)
            if isinstance(outcome, Answer):
                self._show_tabs(outcome)
            return
        if aim is None:
            self.canvas.forget()
            self.steering.forget()
            self.says.set_text("")
            return
        outcome = self.session.outcome(aim)
        self.steering.keep_for(aim.id)
        self._show_stop(outcome)
        if not isinstance(outcome, Answer):
            self._give_up()
            waiting = isinstance(outcome, Pending)
            self.canvas.show_picture(None, outcome.message, waiting=waiting)
            self.plausible.hide()
            self.says.set_text("Out of date." if waiting else "Out of date: there is no answer to draw.")
            return
        self._show_tabs(outcome)
        picture = self._picture_soon(aim, outcome)
        if picture is None:
            self._draw_later(aim, outcome)
        else:
            self._give_up()
            self._show(picture, aim, outcome)

    def _picture_soon(self, aim: Aim, answer: Answer) -> Picture | None:
        """The picture, unless it takes longer than a view can wait; one of this kind did before, or does now."""
        kind = self._kind(aim)
        if kind in self._slow:
            return None
        try:
            with within(PATIENCE):
                return self.picture(aim, answer)
        except Late:
            self._slow.add(kind)
            return None

    def _kind(self, aim: Aim) -> tuple[str, str, str, str]:
        """Of which it is remembered whether it takes time."""
        return aim.id, aim.design, aim.find, self.name

    def _show(self, picture: Picture, aim: Aim, answer: Answer, whole_of: object = None) -> None:
        """`whole_of` is what was wanted where a picture that took time is there in full: it need not be made again."""
        self._shown_for, self._rough = whole_of, False
        self.steering.show_for(self.name, aim, answer, picture)
        self.handling.name = self.name
        self.canvas.show_picture(picture, dragging=self.session.scrubbing)
        self.plausible.setVisible(picture.supposed)
        self.says.set_text(dict(picture.texts).get("caption") or picture.foot)

    def _give_up(self) -> None:
        self.overdue.stop()
        self._working.cancel()

    def _draw_later(self, aim: Aim, answer: Answer) -> None:
        """A picture that takes time, a rough one first where there is one; the one shown is marked as old till then."""
        wanted = (self.name, aim, answer.design, answer.find, answer.answer, self.session.scrubbing)
        if wanted == self._shown_for and self.canvas.picture is not None:
            self._give_up()  # of what came in between, and is on its way
            self._show(self.canvas.picture, aim, answer, wanted)
            return
        self.overdue.start()
        kind = self._kind(aim)

        def show(picture: Picture, took: float) -> None:
            if took < PATIENCE:
                self._slow.discard(kind)  # no time after all: the next of its kind is waited for
            self.overdue.stop()
            self._show(picture, aim, answer, wanted)

        def start() -> None:
            draw = self.drawing(aim, answer)
            self._working.start(lambda ticket: _timed(draw, ticket), lambda made: show(*made), self._drawing_failed)

        def show_rough(picture: Picture) -> None:
            self.overdue.stop()
            self._show(picture, aim, answer)
            self._rough = True
            self.says.set_text(ROUGH)
            start()

        if has_rough(self.name):
            rough = self.drawing(aim, answer, rough=True)
            self._working.start(lambda _: rough(), show_rough, self._drawing_failed)
        else:
            start()

    def _mark_old(self) -> None:
        self.canvas.show_picture(None, "The picture is being worked out.", waiting=True)
        self.says.set_text("Out of date.")

    @property
    def busy(self) -> bool:
        """Whether a picture is being worked out, or its labels put in order."""
        return self._working.busy or self.overdue.isActive() or self.canvas.busy

    @staticmethod
    def _drawing_failed(error: Exception) -> None:
        raise error

    def _show_tabs(self, answer: Answer) -> None:
        """The tabs of the pictures that there are of this answer; another is taken where the one in view is not."""
        names = pictures_for(answer)
        if self.name not in names:
            self.name = names[0]
            self._shown_for = None
            self.canvas.forget()
            self.steering.forget()
        self.tabs.show_names(names, self.name)

    def _show_stop(self, outcome: Outcome) -> None:
        waiting = isinstance(outcome, Pending)
        self.stop.setVisible(waiting or isinstance(outcome, Halted))
        self.stop.setText("Stop" if waiting else "Work it out")

    def _stop_or_start(self) -> None:
        answers = self.session.answers
        (answers.stop if answers.busy else answers.start_again)()

    def _show_progress(self, share: float) -> None:
        if self.canvas.stale and self.session.answers.busy:
            self.says.set_text(f"Out of date. The answer is being worked out: {percent_text(share, 0)}.")

    def _show_drawn(self, share: float) -> None:
        if self._rough:
            self.says.set_text(f"{ROUGH} {percent_text(share, 0)}.")

    def picture(self, aim: Aim, answer: Answer) -> Picture:
        """The picture in view, with its axes kept where they can be."""
        return self.drawing(aim, answer)()

    def drawing(self, aim: Aim, answer: Answer, rough: bool = False) -> Callable[[], Picture]:
        """What makes the picture in view; it reads no widget, and can be done elsewhere."""
        limit = limit_of(self.session.study, aim, answer)
        scene = Scene(aim, answer, limit, self.canvas.picture, self.session.scrubbing, rough)
        return partial(picture_of, self.name, scene)

    # --- the point ---

    def _drag_to(self, x: float, y: float) -> None:
        self._move(self.session.scrub, dragged, (x, y))

    def _nudge(self, across: int, up: int) -> None:
        self._move(self.session.do, stepped, (across, up))
        if self.canvas.picture is not None:
            say(self.canvas, self.canvas.picture.says)

    def _move(self, do: Callable[[Edit], object], move: Callable[..., Edit], to: tuple[float, float]) -> None:
        aim, picture = self.session.aim, self.canvas.picture
        outcome = None if aim is None else self.session.outcome(aim)
        if aim is not None and picture is not None and isinstance(outcome, Answer):
            do(move(self.session.study, aim, picture.holding(self.canvas.in_hand), outcome, to))


def _timed(draw: Callable[[], Picture], ticket: Ticket) -> tuple[Picture, float]:
    """A picture, and the seconds of processor time that it took."""
    started = time.thread_time()
    with heard_by(ticket.progress, ticket.check):
        return draw(), time.thread_time() - started
