"""The main window: menus, aims panel, pages, status; opening, saving and closing studies."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QSize, Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QIcon, QKeySequence, QPixmap, QShowEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QMenuBar,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

import ragwort
from ragwort.app.bench.bench import Bench
from ragwort.app.kit import theme as themes
from ragwort.app.kit.jobs import Jobs, Ticket
from ragwort.app.kit.later import Later
from ragwort.app.kit.notice import Notice
from ragwort.app.kit.widgets import Elided, PassingEdit
from ragwort.app.session import asking
from ragwort.app.session.session import Session
from ragwort.app.shell.aims_panel import AimsPanel
from ragwort.app.shell.commands import COMMANDS, MENUS
from ragwort.app.shell.finder import Finder
from ragwort.app.shell.settings import Remembered
from ragwort.designs import Answer, all_designs
from ragwort.files import FileError, short, write_whole
from ragwort.files.log import fault_of_ours
from ragwort.study import edits
from ragwort.study.differences import differences
from ragwort.study.files import SUFFIX, read_study, read_study_and_digest
from ragwort.study.model import Study
from ragwort.study.recovery import Recovered

if TYPE_CHECKING:
    from ragwort.app.choose.chooser import Chooser
    from ragwort.app.report.page import ReportPage
    from ragwort.app.shell.guide_window import GuideWindow

PAGES = ("Bench", "Report", "Choose")
DESIGNED_AT = (1280, 800)
SMALLEST = (900, 560)
FRAME = (12, 42)  # pixels that a desktop may put around a window; known exactly once it is shown


class Window(QMainWindow):
    """One study in one window."""

    def __init__(self, session: Session, remembered: Remembered) -> None:
        super().__init__()
        self.session, self.remembered = session, remembered
        self._guide: GuideWindow | None = None
        self.jobs = Jobs(self)
        self._actions: dict[str, QAction] = {}
        self._page = PAGES[0]
        self._add_shortcuts()
        self._build()
        self.resize(*(self.theme.px(size) for size in DESIGNED_AT))
        if remembered.geometry is not None:
            self.restoreGeometry(remembered.geometry)
        self._fit_the_screen()
        session.changed.connect(self._show_state)
        session.noticed.connect(self.say)
        self._show_state()
        self.setFocus()

    def _fit_the_screen(self) -> None:
        """Be no larger than there is room, the window's frame counted, and nowhere outside."""
        room = self.screen().availableGeometry()
        frame = self.frameGeometry().size() - self.size() if self.isVisible() else QSize(*FRAME)
        most = room.size() - frame
        least = QSize(self.theme.px(SMALLEST[0]), self.theme.px(SMALLEST[1]))
        self.setMinimumSize(least.boundedTo(most))
        if not self.isMaximized() and not self.isFullScreen():
            self.resize(self.size().boundedTo(most))
            if not room.contains(self.frameGeometry()):
                self.move(
                    max(room.left(), min(self.x(), room.right() + 1 - self.width() - frame.width())),
                    max(room.top(), min(self.y(), room.bottom() + 1 - self.height() - frame.height())),
                )

    # --- building ---

    def _build(self) -> None:
        """Make every widget."""
        self.theme = themes.make_theme(self._wants_dark())
        themes.put_on(self.theme, self._wants_dark(), themes.the_application())
        icon = QPixmap()
        icon.loadFromData(themes.flower_svg().encode(), "SVG")
        self.setWindowIcon(QIcon(icon))
        root = QWidget()
        root.setObjectName("root")
        column = QVBoxLayout(root)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.notice = Notice(self.theme)
        self.aims = AimsPanel(self.session, self.theme)
        self.aims.limit_refused.connect(self.say)
        self.bench = Bench(self.session, self.theme)
        self.bench.detail.set_explaining(self.remembered.explaining)
        starts = {"choose": self.choose, "demo": self.open_demo, "open": self.ask_and_open}
        self.bench.invitation.asked.connect(lambda way: starts[way]())
        self.bench.picture.export_asked.connect(self.export_picture)
        self.bench.detail.guide_asked.connect(
            lambda: self.show_guide(self.session.aim.design if self.session.aim else "")
        )
        self._report_page, self._chooser = Later(self._make_report_page), Later(self._make_chooser)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.bench)
        self.aims.choose_asked.connect(self.choose)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.aims)
        middle.addWidget(self.pages, 1)
        column.addWidget(self._top())
        column.addWidget(self.notice)
        column.addLayout(middle, 1)
        column.addWidget(self._bottom())
        self.setCentralWidget(root)
        self.finder = Finder(self, self.theme)
        self.show_page(self._page)

    @property
    def report_page(self) -> ReportPage:
        """The page of the write-up."""
        return self._report_page()

    @property
    def chooser(self) -> Chooser:
        """The page for choosing a design."""
        return self._chooser()

    def _make_report_page(self) -> ReportPage:
        from ragwort.app.report.page import ReportPage

        page = ReportPage(self.session, self.theme)
        page.export_asked.connect(self.export_report)
        self.pages.addWidget(page)
        return page

    def _make_chooser(self) -> Chooser:
        from ragwort.app.choose.chooser import Chooser

        page = Chooser(self.session, self.theme)
        page.done.connect(self._chosen)
        self.pages.addWidget(page)
        return page

    def _top(self) -> QWidget:
        top = QFrame()
        top.setObjectName("top")
        top.setFixedHeight(self.theme.px(34))
        row = QHBoxLayout(top)
        row.setContentsMargins(0, 0, self.theme.px(18), 0)
        bar = QMenuBar()
        bar.setNativeMenuBar(False)
        bar.setFixedHeight(self.theme.px(30))
        for name in MENUS:
            bar.addMenu(self._menu(name))
        row.addWidget(bar, 1)
        search = QPushButton("Search commands            Ctrl K")
        search.setObjectName("finderButton")
        search.setFixedSize(self.theme.px(230), self.theme.px(25))
        search.setCursor(Qt.CursorShape.PointingHandCursor)
        search.clicked.connect(lambda: self.finder.open())
        row.addWidget(search)
        return top

    def _menu(self, name: str) -> QMenu:
        menu = QMenu(name, self)
        for each in COMMANDS:
            if each.menu != name:
                continue
            if each.separated:
                menu.addSeparator()
            menu.addAction(self._actions[each.id])
            if each.id == "file.open":
                self._recent = menu.addMenu("Open recent")
                self._recent.aboutToShow.connect(self._fill_recent)
        menu.aboutToShow.connect(self._name_actions)
        return menu

    def _add_shortcuts(self) -> None:
        for each in COMMANDS:
            action = QAction(each.label, self)
            action.triggered.connect(lambda _=False, each=each: each.run(self))
            if each.shortcut:
                action.setShortcut(QKeySequence(each.shortcut))
            self._actions[each.id] = action
            self.addAction(action)

    def _bottom(self) -> QWidget:
        bottom = QFrame()
        bottom.setObjectName("bottom")
        bottom.setFixedHeight(self.theme.px(40))
        row = QHBoxLayout(bottom)
        row.setContentsMargins(self.theme.px(16), 0, self.theme.px(18), 0)
        row.setSpacing(self.theme.px(4))
        self._tabs = QButtonGroup(self)
        for name in PAGES:
            tab = QPushButton(name, checkable=True)
            tab.setObjectName("pageTab")
            tab.setAccessibleName(f"Page {name}")
            tab.clicked.connect(lambda _=False, name=name: self.show_page(name))
            self._tabs.addButton(tab)
            row.addWidget(tab)
        self.status = Elided(name="quiet")
        self.status.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        row.addWidget(self.status, 1)
        return bottom

    # --- showing ---

    def _show_state(self) -> None:
        self.status.set_text(self.session.status())
        self.setWindowTitle(f"{self.session.study.title}{'*' if self.session.unsaved else ''} – Ragwort")
        if not self.session.scrubbing:
            self._name_actions()

    def _name_actions(self) -> None:
        for each in COMMANDS:
            self._actions[each.id].setText(each.title(self))
            self._actions[each.id].setEnabled(each.enabled(self))

    def _fill_recent(self) -> None:
        self._recent.clear()
        for path in self.remembered.recent:
            self._recent.addAction(path.name, lambda path=path: self.open_path(path))
        if self._recent.isEmpty():
            self._recent.addAction("No studies yet").setEnabled(False)

    def show_page(self, name: str) -> None:
        """Bring a page into view."""
        self.leave_editor()
        self._page = name
        pages: dict[str, Callable[[], QWidget]] = {
            "Bench": lambda: self.bench,
            "Report": self._report_page,
            "Choose": self._chooser,
        }
        page = pages[name]()
        self.pages.setCurrentWidget(page)
        for tab in self._tabs.buttons():
            tab.setChecked(tab.text() == name)
        if self._report_page.made is not None:
            self.report_page.set_shown(name == "Report")

    def leave_editor(self) -> None:
        """Take over what stands in the field with the focus."""
        focused = self.focusWidget()  # also while another window is in front
        if focused is not None and focused is not self:
            focused.clearFocus()
            if isinstance(focused, PassingEdit):
                focused.done.emit()  # where another window is in front nothing else tells it

    def say(self, message: str) -> None:
        """A message over the pages, until it is closed."""
        self.notice.say(message)

    def set_theme(self, name: str) -> None:
        """Light, dark, or what the desktop asks for."""
        self.remembered.theme = name
        themes.put_on(self.theme, self._wants_dark(), themes.the_application())

    def _wants_dark(self) -> bool:
        return {"dark": True, "light": False}.get(self.remembered.theme, themes.desktop_is_dark())

    def _finish_threads(self) -> None:
        self.bench.picture.finish()
        self.bench.finish()
        for page in (self._chooser.made, self._report_page.made):
            if page is not None:
                page.finish()
        self.jobs.finish()

    def leave(self) -> None:
        """Go at once, without a question: what is half typed and unsaved is kept for the next start."""
        self.leave_editor()
        self.session.leave()
        self._finish_threads()

    def tell_fault(self, error: BaseException) -> None:
        """An exception that nobody foresaw: logged, and said; the window stays."""
        self.say(fault_of_ours(error))

    def toggle_explaining(self) -> None:
        """Show or hide explanations."""
        self.remembered.explaining = not self.remembered.explaining
        self.bench.detail.set_explaining(self.remembered.explaining)

    def choose(self, aim_id: str = "") -> None:
        """The page for choosing a design: for a new aim, or to doubt that of an aim."""
        self.show_page("Choose")
        self.chooser.start(aim_id)

    def _chosen(self) -> None:
        fresh = not self.chooser.aim_id
        self.show_page("Bench")
        if fresh:
            self.aims.start_renaming(self.session.aim_id)

    def show_guide(self, design_id: str = "") -> None:
        """The user guide, at the chapter of a design."""
        from ragwort.app.shell.guide_window import GuideWindow

        if self._guide is None:
            self._guide = GuideWindow(self.theme, self)
        self._guide.open_at(design_id)

    def tell_about(self) -> None:
        """Version and purpose."""
        asking.tell(
            self,
            "About Ragwort",
            f"Ragwort {ragwort.__version__}\n\nSizes research studies: which test, which effect, how many "
            "participants, and the paragraph for the protocol.",
        )

    # --- studies ---

    def new_study(self) -> None:
        """A study with one fresh aim."""
        if self._may_leave():
            study = Study(title="Untitled study", aims=(edits.new_aim(all_designs()[0], "Aim 1"),))
            self.session.open(study, None)
            self.show_page("Bench")

    def open_demo(self) -> None:
        """The demo study, as a study not yet saved."""
        from ragwort.demo import demo_study

        if self._may_leave():
            self.session.open(demo_study(), None)
            self.show_page("Bench")

    def ask_and_open(self) -> None:
        """Open a study of the user's choice."""
        folder = self.session.path.parent if self.session.path else Path.home()
        path = asking.study_to_open(self, folder)
        if path is not None:
            self.open_path(path)

    def open_path(self, path: Path) -> bool:
        """Open a study file; what is wrong with it is said, and the present study stays."""
        try:
            study, digest = read_study_and_digest(path)
        except FileError as error:
            self.say(str(error))
            return False
        if not self._may_leave():
            return False
        self.session.open(study, path, digest)
        self.remembered.remember(path)
        return True

    def offer_recovered(self, recovered: Recovered) -> None:
        """Offer work that a crash left behind."""

        def restore() -> None:
            if self._may_leave():
                self.session.restore(recovered)
                self.show_page("Bench")
            else:
                self.offer_recovered(recovered)

        how = "was ended from outside" if recovered.ended else "stopped unexpectedly"
        self.notice.offer(
            f"Unsaved work on “{short(recovered.study.title)}” was kept when Ragwort {how}.",
            (("Open it", restore), ("Discard it", recovered.discard)),
        )

    def save(self) -> bool:
        """Save; asks where to if the study has no file yet."""
        self.leave_editor()
        if self.session.path is None:
            return self.save_as()
        return self._save_to(self.session.path)

    def _differences(self) -> list[str]:
        """In what the study's file differs from the study here."""
        if self.session.path is None:
            return []
        try:
            return differences(self.session.study, read_study(self.session.path))
        except FileError as error:
            return [str(error)]

    def _look_at_disk(self) -> None:
        """Say once that the study's file has other contents by now."""
        path = self.session.path
        if path is None or not self.session.newly_differs_on_disk():
            return
        said = "; ".join(self._differences()) or "only its layout differs"
        self.notice.offer(
            f"{short(path.name)} was changed by another program since it was opened here. In the file: {said}.",
            (("Open what the file holds", lambda: self.open_path(path)), ("Keep what is here", lambda: None)),
        )

    def save_as(self, suggestion: Path | None = None) -> bool:
        """Save under a new name."""
        self.leave_editor()
        folder = self.session.path.parent if self.session.path else Path.home()
        suggestion = suggestion or folder / f"{self._file_name()}{SUFFIX}"
        path = asking.place_to_save(self, "Save the study", suggestion, SUFFIX)
        return path is not None and self._save_to(path)

    def _save_to(self, path: Path) -> bool:
        if path == self.session.path and self.session.differs_on_disk:
            choice = asking.about_other_contents(self, path, self._differences())
            if choice == "beside":
                return self.save_as(path.with_stem(f"{path.stem}-mine"))
            if choice != "replace":
                return False
        if not self.session.save(path):
            return False
        self.remembered.remember(path)
        return True

    def _file_name(self) -> str:
        kept = "".join(c if c.isalnum() or c in " -_" else " " for c in self.session.study.title)
        return "-".join(kept.lower().split())[:80] or "study"

    def _may_leave(self) -> bool:
        """Whether the present study may go: it is saved, or the user gives it up."""
        self.leave_editor()
        if not self.session.unsaved:
            return True
        choice = asking.about_unsaved(self, self.session.study.title)
        return self.save() if choice == "save" else choice == "discard"

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self._may_leave():
            event.ignore()
            return
        self.remembered.geometry = self.saveGeometry()
        self._finish_threads()
        self.session.close()
        event.accept()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            self._look_at_disk()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if not event.spontaneous():
            QTimer.singleShot(0, self, self._fit_the_screen)

    # --- exports ---

    def export_report(self, kind: str) -> None:
        """Write the report, off the interface thread."""
        self.leave_editor()
        folder = self.session.path.parent if self.session.path else Path.home()
        path = asking.place_to_save(self, "Export the report", folder / f"{self._file_name()}.{kind}", f".{kind}")
        if path is None:
            return
        from ragwort.report import report_bytes

        study = self.session.study
        self.notice.work(f"Writing {path.name} …", self.jobs.cancel)

        def work(ticket: Ticket) -> None:
            write_whole(path, report_bytes(study, kind, ticket.progress))

        self._progress = self.jobs.progressed.connect(self.notice.show_progress)
        self.jobs.start(work, lambda _: self.say(f"The report is in {path}."), self._export_failed)

    def export_picture(self, kind: str) -> None:
        """Write the picture in view, or its data, off the interface thread."""
        aim = self.session.aim
        outcome = self.session.outcome(aim) if aim is not None else None
        if aim is None or not isinstance(outcome, Answer):
            self.say("There is no picture to export while the aim has no answer.")
            return
        folder = self.session.path.parent if self.session.path else Path.home()
        name = f"{self._file_name()}-{self.bench.picture.name.lower()}.{kind}"
        path = asking.place_to_save(self, "Export the picture", folder / name, f".{kind}")
        if path is None:
            return
        from ragwort.figures.export import picture_bytes

        view = self.bench.picture
        self.notice.work(f"Writing {path.name} …", self.jobs.cancel)
        self.jobs.start(
            lambda ticket: write_whole(path, picture_bytes(view.picture(aim, outcome), kind)),
            lambda _: self.say(f"The picture is in {path}."),
            self._export_failed,
        )

    def _export_failed(self, error: Exception) -> None:
        self.say(str(error) if isinstance(error, FileError) else fault_of_ours(error))
