"""The main window: menus, aims panel, pages, status. What can be done is declared by its parts and gathered here."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QCoreApplication, QEvent, QSize, Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QIcon, QKeySequence, QPixmap, QShowEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QMenuBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.kit import theme as themes
from ragwort.app.kit.command import Command
from ragwort.app.kit.notice import Notice
from ragwort.app.kit.widgets import Elided, PassingEdit
from ragwort.app.shell.finder import Finder
from ragwort.app.shell.fitting import fit_the_screen
from ragwort.app.shell.help import Help
from ragwort.app.shell.opening import FirstWords, Opening
from ragwort.app.shell.pages import PAGES, Pages
from ragwort.app.shell.settings import Remembered
from ragwort.files.log import fault_of_ours

if TYPE_CHECKING:  # what takes time to load is imported once the window has been painted
    from ragwort.app.bench.bench import Bench
    from ragwort.app.session.session import Session
    from ragwort.app.shell.aims_panel import AimsPanel
    from ragwort.app.shell.exports import Exports
    from ragwort.app.shell.studies import Studies

MENUS = ("File", "Edit", "Study", "View", "Help")
DESIGNED_AT = (1280, 800)
SMALLEST = (900, 560)


class Window(QMainWindow):
    """One study in one window. Made with the words that are known at once; `take` fills it."""

    session: Session
    aims: AimsPanel
    bench: Bench
    studies: Studies
    exports: Exports

    def __init__(self, remembered: Remembered, words: FirstWords | None = None) -> None:
        super().__init__()
        self.remembered = remembered
        self.by_id: dict[str, QAction] = {}
        self.taken = False
        self.theme = themes.make_theme(self._wants_dark())
        themes.put_on(self.theme, self._wants_dark(), themes.the_application())
        icon = QPixmap()
        icon.loadFromData(themes.flower_svg().encode(), "SVG")
        self.setWindowIcon(QIcon(icon))
        self.opening = Opening(self.theme, words or FirstWords())
        self.setCentralWidget(self.opening)
        self.setWindowTitle(f"{words.title} – Ragwort" if words is not None else "Ragwort")
        self.resize(*(self.theme.px(size) for size in DESIGNED_AT))
        if remembered.geometry is not None:
            self.restoreGeometry(remembered.geometry)
        self._fit_the_screen()

    def take(self, session: Session) -> None:
        """Fill the window with everything about an open study."""
        self.session = session
        self._build()
        self.taken = True
        session.changed.connect(self._show_state)
        session.noticed.connect(self.say)
        self._show_state()
        self.centralWidget().show()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest)  # the first that is seen is in its place
        self.setFocus()

    def _fit_the_screen(self) -> None:
        fit_the_screen(self, QSize(*(self.theme.px(size) for size in SMALLEST)))

    # --- building ---

    def _build(self) -> None:
        """Make every widget."""
        from ragwort.app.bench.bench import Bench
        from ragwort.app.shell.aims_panel import AimsPanel
        from ragwort.app.shell.exports import Exports
        from ragwort.app.shell.studies import Studies

        root = QWidget()
        root.setObjectName("root")
        root.hide()
        self.setCentralWidget(root)
        column, middle = QVBoxLayout(root, spacing=0), QHBoxLayout(spacing=0)
        column.setContentsMargins(0, 0, 0, 0)
        self.notice = Notice(self.theme)
        column.addWidget(self.notice)
        column.addLayout(middle, 1)
        self.aims = AimsPanel(self.session, self.theme)
        middle.addWidget(self.aims)
        self.pages = Pages(self)
        middle.addWidget(self.pages, 1)
        self.aims.limit_refused.connect(self.say)
        self.bench = self.pages.of(Bench)
        self.studies = Studies(self, self.session, self.remembered, self.notice, self.leave_editor)
        self.studies.opened.connect(lambda: self.show_page("Bench"))
        self.help = Help(self, self.theme, self.session)
        self.exports = Exports(self, self.session, self.bench.picture, self.notice)
        starts = {"choose": self.choose, "demo": self.studies.open_demo, "open": self.studies.ask_and_open}
        self.bench.invitation.asked.connect(lambda way: starts[way]())
        self.bench.picture.export_asked.connect(self.exports.picture)
        self.bench.comparison_asked.connect(self.exports.comparison)
        self.bench.detail.guide_asked.connect(self.help.show_design)
        self.aims.choose_asked.connect(self.choose)
        self.aims.ways_asked.connect(self._show_ways)
        self._add_actions()
        column.insertWidget(0, self._top())
        column.addWidget(self._bottom())
        self.finder = Finder(self, self.theme, self.enabled_commands)
        self.studies.examples_asked.connect(lambda: self.finder.open("examples "))
        self.show_page(self.pages.name)

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
        for each in (each for each in self.commands if each.menu == name):
            if each.separated:
                menu.addSeparator()
            menu.addAction(self.by_id[each.id])
            if each.id == "file.open":
                self._recent = menu.addMenu("Open recent")
                self._recent.aboutToShow.connect(self._fill_recent)
        menu.aboutToShow.connect(self._name_actions)
        return menu

    def _add_actions(self) -> None:
        self.commands = self._gathered()
        for each in self.commands:
            action = QAction(each.label, self)
            action.triggered.connect(lambda _=False, each=each: each.run())
            if each.shortcut:
                action.setShortcut(QKeySequence(each.shortcut))
            self.by_id[each.id] = action
            self.addAction(action)

    def _bottom(self) -> QWidget:
        bottom = QFrame()
        bottom.setObjectName("bottom")
        bottom.setFixedHeight(self.theme.px(40))
        row = QHBoxLayout(bottom)
        row.setContentsMargins(self.theme.px(16), 0, self.theme.px(18), 0)
        row.setSpacing(self.theme.px(4))
        self.tabs = QButtonGroup(self)
        for name in PAGES:
            tab = QPushButton(name, checkable=True)
            tab.setObjectName("pageTab")
            tab.setAccessibleName(f"Page {name}")
            tab.clicked.connect(lambda _=False, name=name: self.show_page(name))
            self.tabs.addButton(tab)
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
        for each in self.commands:
            self.by_id[each.id].setText(each.title())
            self.by_id[each.id].setEnabled(each.enabled())

    def _gathered(self) -> list[Command]:
        """Every command once, in the order of the menus."""
        from ragwort.app.bench import commands as bench_commands
        from ragwort.app.shell import aims_commands, history_commands, view_commands

        return [
            *self.studies.commands(),
            *self.exports.commands(),
            Command("file.quit", "File", "Quit", self.close, "Ctrl+Q", separated=True),
            *history_commands.commands_of(self.session, self.leave_editor),
            Command("study.add-aim", "Study", "Add an aim", self.choose, "Ctrl+Shift+N"),
            *aims_commands.commands_of(self.aims, self.session),
            Command("view.finder", "View", "Search commands", lambda: self.finder.open(), "Ctrl+K"),
            *view_commands.pages(list(PAGES), self.show_page),
            *bench_commands.commands_of(self.bench, self.session, lambda: self.show_page("Bench")),
            Command("study.ways-out", "Study", "What fits the study's limit", self._show_ways, enabled=self._has_aim),
            Command("study.doubt", "Study", "Is this the right design?", self._doubt, enabled=self._has_aim),
            *view_commands.looks(self.set_theme, self.toggle_explaining),
            *self.help.commands(),
        ]

    def enabled_commands(self) -> list[Command]:
        """The commands that can be used now."""
        return [each for each in self.commands if each.enabled()]

    def _has_aim(self) -> bool:
        return self.session.aim is not None

    def _show_ways(self) -> None:
        self.show_page("Bench")
        self.bench.show_panel("ways")

    def _doubt(self) -> None:
        self.choose(self.session.aim_id)

    def _fill_recent(self) -> None:
        self._recent.clear()
        for path in self.remembered.recent:
            self._recent.addAction(path.name, lambda path=path: self.studies.open_path(path))
        if self._recent.isEmpty():
            self._recent.addAction("No studies yet").setEnabled(False)

    def show_page(self, name: str) -> None:
        """Bring a page into view."""
        self.leave_editor()
        self.pages.bring(name)
        for tab in self.tabs.buttons():
            tab.setChecked(tab.text() == name)

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

    def finish_threads(self) -> None:
        self.pages.finish()
        self.exports.jobs.finish()

    @property
    def busy(self) -> list[str]:
        """What is still being worked out or written; the names of the pages that are at work."""
        working = {"answers": self.session.answers.busy, "files": self.exports.jobs.busy}
        working |= {name: page.busy for name, page in self.pages.made.items()}
        return [name for name, works in working.items() if works]

    def leave(self) -> None:
        """Go at once, without a question: what is half typed and unsaved is kept for the next start."""
        self.leave_editor()
        self.session.leave()
        self.finish_threads()

    def tell_fault(self, error: BaseException) -> None:
        """An exception that nobody foresaw: logged, and said; the window stays."""
        self.say(fault_of_ours(error))

    def toggle_explaining(self) -> None:
        """Show or hide explanations."""
        self.remembered.explaining = not self.remembered.explaining
        self.bench.detail.set_explaining(self.remembered.explaining)

    def choose(self, aim_id: str = "") -> None:
        """The page for choosing a design: for a new aim, or to doubt that of an aim."""
        from ragwort.app.choose.chooser import Chooser

        self.show_page("Choose")
        self.pages.of(Chooser).start(aim_id)

    def design_chosen(self, aim_id: str) -> None:
        """A design was chosen: for the aim that was in doubt, or for a new one, which wants a name."""
        self.show_page("Bench")
        if not aim_id:
            self.aims.start_renaming(self.session.aim_id)

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self.taken:
            return
        if not self.studies.may_leave():
            event.ignore()
            return
        self.remembered.geometry = self.saveGeometry()
        self.finish_threads()
        self.session.close()
        event.accept()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if self.taken and event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            self.studies.look_at_disk()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if not event.spontaneous():
            QTimer.singleShot(0, self, self._fit_the_screen)
