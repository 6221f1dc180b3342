"""The user guide in a window of its own: the designs on the left, the chapter in hand on the right."""

from __future__ import annotations

from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtGui import QFontMetrics, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QTextBrowser, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.shell.fitting import fit_the_screen
from ragwort.designs import all_designs
from ragwort.report.guide import chapter_of, guide_to_all
from ragwort.report.writers.preview import write_preview

WIDTH, HEIGHT = 980, 720
_WIDE = 250  # of the list of chapters
SMALLEST = (480, 320)


class GuideWindow(QWidget):
    """Stays open beside the main window while one works."""

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setObjectName("guide")
        self.setWindowTitle("Guide to Ragwort")
        self.resize(theme.px(WIDTH), theme.px(HEIGHT))
        self.chapters = QListWidget()
        self.chapters.setObjectName("chapters")
        self.chapters.setAccessibleName("Chapters of the guide")
        self.chapters.setFixedWidth(theme.px(_WIDE))
        self.chapters.setWordWrap(True)
        self.chapters.setTextElideMode(Qt.TextElideMode.ElideNone)
        for title in ("What all designs share", *(design.title for design in all_designs())):
            item = QListWidgetItem(title, self.chapters)
            item.setSizeHint(QSize(0, self._height_of(title, theme)))
            item.setToolTip(title)
        self.chapters.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.chapters.currentRowChanged.connect(self._show)
        self.page = QTextBrowser()
        self.page.setObjectName("preview")
        self.page.setAccessibleName("Chapter")
        self.page.document().setDocumentMargin(theme.px(30))
        self.page.setFont(theme.body)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.chapters)
        row.addWidget(self.page, 1)

    def _height_of(self, title: str, theme: Theme) -> int:
        """A long title stands on two lines."""
        room = QRect(0, 0, theme.px(_WIDE) - theme.px(70), 1000)
        needed = QFontMetrics(theme.body).boundingRect(room, Qt.TextFlag.TextWordWrap, title).height()
        return max(needed + theme.px(12), theme.px(30))

    def open_at(self, design_id: str) -> None:
        """Show the chapter of a design; the general one for no design."""
        ids = ["", *(design.id for design in all_designs())]
        self.chapters.setCurrentRow(ids.index(design_id) if design_id in ids else 0)
        fit_the_screen(self, QSize(*SMALLEST))
        self.show()
        self.raise_()
        self.activateWindow()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)

    def _show(self, row: int) -> None:
        document = guide_to_all() if row == 0 else chapter_of(all_designs()[row - 1])
        self.page.setHtml(write_preview(document, self.page.width()))
        self.page.verticalScrollBar().setValue(0)
