"""The page Rehearse: the worlds and what came of them on the left, their pictures on the right."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QMenu, QSplitter, QStackedLayout, QVBoxLayout, QWidget
from typing_extensions import override

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, hairline, label, link
from ragwort.app.rehearse.pictures import RehearsalPictures
from ragwort.app.rehearse.running import Done, Running, Wanted, key_of_world
from ragwort.app.rehearse.worlds_table import WorldsTable
from ragwort.app.session.live_sentence import LiveSentence
from ragwort.app.session.page import Page
from ragwort.app.session.session import Session
from ragwort.designs import RequestError
from ragwort.figures.drawing import prepare
from ragwort.figures.shown import rehearsal_page as showing
from ragwort.rehearsal import edits
from ragwort.rehearsal.dataset import DataSet
from ragwort.rehearsal.keeping import has_changed, kept_of
from ragwort.rehearsal.of_aim import planned_of
from ragwort.rehearsal.planned import Planned
from ragwort.rehearsal.sentence import rehearsal_sentence
from ragwort.rehearsal.worlds import PLANNED, chosen_of, why_not, worlds_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.pages import World
from ragwort.study.results.outcome import Pending
from ragwort.study.words.numbers import count_text

EMPTY = "There is no aim to rehearse yet: add one on the page Bench."


class RehearsePage(Page):
    """What the aim's rehearsal asks, worked out while the page is in view."""

    key = "Rehearse"

    data_wanted = Signal(str)  # as which kind of file

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.running = Running(self)
        self.running.grown.connect(self.show_all)
        self.shown, self.halted = False, ""
        self._planned: tuple[Aim, Planned | str] | None = None  # asked for with every step of a rehearsal
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.sentence = LiveSentence(session, theme, "rehearsalSentence")
        column.addWidget(self.sentence)
        column.addWidget(hairline())
        body = QWidget()
        self._stack = QStackedLayout(body)
        self.empty = Wrapped(EMPTY, "quiet")
        self.empty.setContentsMargins(*(theme.px(30),) * 4)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._stack.addWidget(self.empty)
        self.halves = halves = QSplitter(Qt.Orientation.Horizontal)
        halves.setChildrenCollapsible(False)
        halves.addWidget(self._left())
        self.pictures = RehearsalPictures(theme)
        self.pictures.tab_changed.connect(lambda _: self.refresh())
        self.keep = link("Keep for the report", self._keep, "smallLink")
        self.leave_out = link("Leave out what was kept", self._leave_out, "smallLink")
        self.kept_note = Wrapped("", "quiet")
        self.kept_note.setContentsMargins(theme.px(4), 0, 0, 0)
        self.pictures.row.addWidget(self.keep)
        self.pictures.row.addWidget(self.leave_out)
        self.pictures.row.addStretch(1)
        self.pictures.layout().addWidget(self.kept_note)
        halves.addWidget(self.pictures)
        halves.setSizes([theme.px(540), theme.px(505)])
        self._stack.addWidget(halves)
        column.addWidget(body, 1)
        session.changed.connect(self.refresh)

    def _left(self) -> QWidget:
        px = self.theme.px
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(px(20), px(12), px(14), px(12))
        column.setSpacing(px(6))
        column.addWidget(label("WHAT IF", "heading"))
        self.table = WorldsTable(self.theme)
        self.table.world_chosen.connect(self._choose_world)
        column.addWidget(self.table)
        links = QHBoxLayout()
        links.setSpacing(px(12))
        self.add = link("+ another departure", self._add, "smallLink")
        self.remove = link("remove", self._remove, "smallLink")
        self.stop = link("Stop", self.stop_or_go_on, "smallLink")
        for each in (self.add, self.remove):
            links.addWidget(each)
        links.addStretch(1)
        links.addWidget(self.stop)
        column.addLayout(links)
        column.addSpacing(px(12))
        self.one_heading = label("ONE OF THEM", "heading")
        column.addWidget(self.one_heading)
        self.one_words = Wrapped("", "quiet")
        column.addWidget(self.one_words)
        column.addLayout(self._one_links())
        column.addStretch(1)
        return side

    def _one_links(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(12))
        self.previous = link("Previous", lambda: self._step(-1), "smallLink")
        self.next = link("Next one", lambda: self._step(1), "smallLink")
        self.as_table = link("Show as a table", self._show_table, "smallLink")
        self.save = link("Save", lambda: None, "smallLink")
        menu = QMenu(self.save)
        for kind in ("csv", "xlsx"):
            menu.addAction(f"As {kind.upper()}…", lambda kind=kind: self.data_wanted.emit(kind))
        self.save.setMenu(menu)
        self.save.setStyleSheet("QPushButton::menu-indicator { image: none; width: 0; }")
        for each in (self.next, self.previous, self.as_table, self.save):
            row.addWidget(each)
        row.addStretch(1)
        return row

    # --- showing ---

    def changeEvent(self, event: QEvent) -> None:
        """The table's inks are the theme's."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.PaletteChange and self.shown:
            self.show_all()

    @override
    def set_shown(self, shown: bool) -> None:
        if shown:
            prepare()
        super().set_shown(shown)

    @override
    def halt(self) -> None:
        super().halt()
        self.running.stop()

    @override
    def finish(self) -> None:
        self.wait.stop()
        self.running.finish()

    @property
    @override
    def busy(self) -> bool:
        return self.wait.isActive() or self.running.busy or self.pictures.canvas.busy

    @override
    def refresh(self) -> None:
        """Show the session's aim; what is missing is worked out soon."""
        if not self.shown:
            return
        wanted = self.wanted()
        if wanted is None:
            self.running.stop()
        self.show_all()
        if wanted is not None and self.running.is_missing(wanted) and not self._is_halted(wanted):
            self.wait.start()
            self._show_links()

    @override
    def begin(self) -> None:
        wanted = self.wanted()
        if wanted is not None and not self._is_halted(wanted):
            self.running.want(wanted)
            self._show_links()
        else:
            self.show_all()  # nothing comes that would be waited for

    def _is_halted(self, wanted: Wanted) -> bool:
        """Whether somebody has stopped just this."""
        return self.halted == self.key_of(wanted)

    def planned(self) -> Planned | str:
        """What the aim plans, or why there is nothing to rehearse."""
        aim = self.session.aim
        if aim is None:
            return EMPTY
        outcome = self.session.outcome(aim.as_planned())
        if isinstance(outcome, Pending):
            return outcome.message
        if self._planned is None or self._planned[0] is not aim:
            self._planned = aim, _planned(aim)
        return self._planned[1]

    def wanted(self) -> Wanted | None:
        aim, of = self.session.aim, self.planned()
        if aim is None or isinstance(of, str):
            return None
        chosen = chosen_of(aim, of)
        can_be = [each for each in worlds_of(aim, of) if not why_not(each, of)]
        first = chosen in can_be
        worlds = tuple(sorted(can_be, key=lambda each: each.id != chosen.id))
        number = aim.rehearsing.number if first else 0
        return (
            Wanted(aim, of, worlds, first and of.design.tested and self.pictures.name == "By size", number)
            if worlds
            else None
        )

    def _comes(self) -> bool:
        """Whether a study is being made up, or will be in a moment: of a world that cannot be none is."""
        wanted = self.wanted()
        asked = wanted is not None and wanted.number > 0 and not self._is_halted(wanted)
        return asked and wanted is not None and self.running.is_missing(wanted)

    def key_of(self, wanted: Wanted) -> str:
        return "|".join([*(key_of_world(wanted.aim, each) for each in wanted.worlds), f"{wanted.by_size}"])

    def show_all(self) -> None:
        aim, of = self.session.aim, self.planned()
        self.sentence.setVisible(aim is not None and not isinstance(of, str))
        if aim is None or isinstance(of, str):
            self.empty.setText(of if isinstance(of, str) else EMPTY)
            self._stack.setCurrentIndex(0)
            return
        self._stack.setCurrentIndex(1)
        world = chosen_of(aim, of)
        done = self.running.done(aim, world)
        remark = showing.remark(aim, of, world, done.tally, done.seconds)
        self.sentence.show_sentence(rehearsal_sentence(aim, of, world, remark))
        lines = tuple(
            showing.line(of, each, self.running.done(aim, each).tally, why_not(each, of)) for each in worlds_of(aim, of)
        )
        self.table.name_success(of.design.tested)
        self.table.show_lines(lines, world.id)
        self._show_one(aim, done)
        self._show_picture(aim, of, world, done)
        self._show_links()

    def _show_one(self, aim: Aim, done: Done) -> None:
        self.one_heading.setText(f"ONE OF THE {count_text(aim.rehearsing.times)}")
        data = done.data.get(aim.rehearsing.number)
        self.one_words.setText(data.words if data is not None else "Making up a study …" if self._comes() else "")
        for each in (self.as_table, self.save):
            each.setVisible(data is not None)
        self.as_table.setText("Show as a picture" if self.pictures.as_table else "Show as a table")
        self.previous.setVisible(data is not None and aim.rehearsing.number > 1)
        self.next.setVisible(data is not None and aim.rehearsing.number < aim.rehearsing.times)

    def _show_picture(self, aim: Aim, of: Planned, world: World, done: Done) -> None:
        data = done.data.get(aim.rehearsing.number)
        if self.pictures.as_table and data is not None:
            self.pictures.show_table(data)
            return
        worlds = worlds_of(aim, of)
        all_done = [(each, self.running.done(aim, each).tally) for each in worlds]
        fault = why_not(world, of)
        known = showing.Known(done.tally, all_done, done.sizes, done.needed, data, fault)
        picture, missing = showing.picture(self.pictures.name, aim, of, world, known)
        below = showing.below(self.pictures.name, of, done.tally)
        self.pictures.show_picture(picture, missing, below)

    def _show_links(self) -> None:
        aim, of = self.session.aim, self.planned()
        if aim is None or isinstance(of, str):
            return
        wanted = self.wanted()
        missing = wanted is not None and self.running.is_missing(wanted)
        self.stop.setVisible(missing and not self.wait.isActive())
        self.stop.setText("Stop" if self.running.busy else "Go on")
        self.remove.setVisible(chosen_of(aim, of).id != PLANNED)
        complete = any(self.running.done(aim, each).tally is not None for each in worlds_of(aim, of))
        self.keep.setVisible(complete and not missing)
        self.leave_out.setVisible(bool(aim.rehearsing.kept))
        kept = aim.rehearsing.kept
        changed = "; the aim has changed since" if has_changed(aim) else ""
        self.kept_note.setText(f"{count_text(len(kept))} kept{changed}." if kept else "")
        self.kept_note.setVisible(bool(kept))

    def data(self) -> DataSet | None:
        """The made-up study in view; None where there is none."""
        aim, of = self.session.aim, self.planned()
        if aim is None or isinstance(of, str):
            return None
        return self.running.done(aim, chosen_of(aim, of)).data.get(aim.rehearsing.number)

    # --- edits ---

    def _choose_world(self, world_id: str) -> None:
        self._do(edits.choose_world, world_id)

    def _add(self) -> None:
        of = self.planned()
        if isinstance(of, Planned):
            self._do(edits.add_world, of)

    def _remove(self) -> None:
        aim, of = self.session.aim, self.planned()
        if aim is not None and isinstance(of, Planned):
            self._do(edits.remove_world, of, chosen_of(aim, of).id)

    def stop_or_go_on(self) -> None:
        wanted = self.wanted()
        if wanted is None:
            return
        if self.running.busy:
            self.halted = self.key_of(wanted)
            self.running.stop()
        else:
            self.halted = ""
            self.running.want(wanted)
        self.show_all()

    def _step(self, by: int) -> None:
        aim = self.session.aim
        if aim is not None:
            shown = edits.show_study(self.session.study, aim.id, aim.rehearsing.number + by)
            self.session.do(shown, joined=f"study {aim.id}")

    def _show_table(self) -> None:
        if not self.pictures.as_table:
            self.pictures.show_tab("One study")
        self.pictures.as_table = not self.pictures.as_table
        self.show_all()

    def _keep(self) -> None:
        aim, of = self.session.aim, self.planned()
        if aim is None or isinstance(of, str):
            return
        done = [(each, self.running.done(aim, each).tally) for each in worlds_of(aim, of)]
        self._do(edits.keep, kept_of(aim, of, [(world, tally) for world, tally in done if tally is not None]))

    def _leave_out(self) -> None:
        self._do(edits.keep, ())

    def _do(self, edit: Callable[..., Edit], *what: object) -> None:
        self.session.do(edit(self.session.study, self.session.aim_id, *what))


def _planned(aim: Aim) -> Planned | str:
    try:
        return planned_of(aim)
    except RequestError as error:
        return f"{error.message} A rehearsal needs an answer first."
