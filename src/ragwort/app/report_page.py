"""The Report page: the study's title and background on the left, the write-up as it will be exported on the right."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QEvent, QObject, Qt, QTimer, QUrl, Signal
from PySide6.QtGui import QImage, QTextDocument
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPlainTextEdit, QTextBrowser, QVBoxLayout, QWidget

from ragwort.app.jobs import Jobs, Ticket
from ragwort.app.parts import hairline, label, link
from ragwort.app.session import Session
from ragwort.app.theme import Theme
from ragwort.study import edits
from ragwort.study.model import Study

DELAY = 250  # ms after the last edit until the preview is made anew


class ReportPage(QWidget):
    """A live preview; made off the interface thread while the page is in view."""

    export_asked = Signal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._jobs = Jobs(self)
        self._shown = False
        self._made_for: Study | None = None
        self._timer = QTimer(self, singleShot=True, interval=DELAY)
        self._timer.timeout.connect(self._start)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._side())
        row.addWidget(hairline(vertical=True))
        row.addWidget(self._sheet(), 1)
        session.changed.connect(self.refresh)
        self._show_fields()

    def _side(self) -> QWidget:
        side = QWidget()
        side.setFixedWidth(self.theme.px(300))
        column = QVBoxLayout(side)
        column.setContentsMargins(self.theme.px(26), self.theme.px(24), self.theme.px(22), self.theme.px(20))
        column.setSpacing(self.theme.px(6))
        column.addWidget(label("TITLE", "heading"))
        self.title = QLineEdit()
        self.title.setAccessibleName("Title of the study")
        self.title.editingFinished.connect(self._set_title)
        column.addWidget(self.title)
        column.addSpacing(self.theme.px(12))
        column.addWidget(label("BACKGROUND", "heading"))
        self.background = QPlainTextEdit()
        self.background.setAccessibleName("Background of the study")
        self.background.setPlaceholderText("What the study asks, in two or three sentences.")
        self.background.setTabChangesFocus(True)
        self.background.installEventFilter(self)
        column.addWidget(self.background, 1)
        column.addSpacing(self.theme.px(12))
        column.addWidget(label("TAKE IT WITH YOU", "heading"))
        for kind, words in (("pdf", "Export as PDF"), ("html", "Export as one HTML file")):
            column.addWidget(link(words, lambda kind=kind: self.export_asked.emit(kind)), 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(link("Copy the text", self.copy), 0, Qt.AlignmentFlag.AlignLeft)
        return side

    def _sheet(self) -> QWidget:
        area = QWidget()
        column = QVBoxLayout(area)
        column.setContentsMargins(self.theme.px(40), self.theme.px(20), self.theme.px(40), self.theme.px(16))
        self.preview = QTextBrowser()
        self.preview.setObjectName("preview")
        self.preview.setAccessibleName("Preview of the report")
        self.preview.document().setDocumentMargin(self.theme.px(36))
        self.preview.setOpenLinks(False)
        self.preview.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.preview.setFont(self.theme.body)
        column.addWidget(self.preview, 1)
        self.state = label("", "quiet")
        column.addWidget(self.state)
        return area

    # --- showing ---

    def set_shown(self, shown: bool) -> None:
        """Make previews only while the page is in view."""
        self._shown = shown
        if shown:
            self.refresh()
        else:
            self._timer.stop()
            self._jobs.cancel()

    def finish(self) -> None:
        """Stop, and wait until no thread works any more: for closing the window."""
        self._timer.stop()
        self._jobs.finish()

    def refresh(self) -> None:
        """Show the session's study, soon."""
        self._show_fields()
        if self._shown and self.session.study is not self._made_for:
            self.state.setText("Bringing the preview up to date …")
            self._timer.start()

    def _show_fields(self) -> None:
        study = self.session.study
        if not self.title.hasFocus():
            self.title.setText(study.title)
        if not self.background.hasFocus() and self.background.toPlainText() != study.background:
            self.background.setPlainText(study.background)

    def _start(self) -> None:
        study, width = self.session.study, self._page_width()
        self._jobs.start(lambda ticket: _made(study, width, ticket), lambda made: self._show(study, made), self._failed)

    def _page_width(self) -> int:
        return max(
            300, min(self.theme.px(760), self.preview.viewport().width() - 2 * self.theme.px(36) - self.theme.px(12))
        )

    def _show(self, study: Study, made: tuple[str, list[bytes]]) -> None:
        html, images = made
        from ragwort.report.preview import PICTURE

        document = self.preview.document()
        place = self.preview.verticalScrollBar().value()
        document.clear()
        for number, data in enumerate(images):
            image = QImage.fromData(data)
            document.addResource(QTextDocument.ResourceType.ImageResource, QUrl(PICTURE.format(number)), image)
        self.preview.setHtml(html)
        self.preview.verticalScrollBar().setValue(place)
        self._made_for = study
        self.state.setText("This is what is exported.")

    def _failed(self, error: Exception) -> None:
        self.state.setText("The preview could not be made.")
        raise error

    def copy(self) -> None:
        """The whole report on the clipboard, to paste into a word processor."""
        self.preview.selectAll()
        self.preview.copy()
        cursor = self.preview.textCursor()
        cursor.clearSelection()
        self.preview.setTextCursor(cursor)

    # --- edits ---

    def _set_title(self) -> None:
        title = edits.short_name(self.title.text())
        if title and title != self.session.study.title:
            self.session.do(edits.set_study(self.session.study, title=title))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if watched is self.background and event.type() == QEvent.Type.FocusOut:
            text = self.background.toPlainText().strip()
            if text != self.session.study.background:
                self.session.do(edits.set_study(self.session.study, background=text))
        return False


def _made(study: Study, width: int, ticket: Ticket) -> tuple[str, list[bytes]]:
    """The preview's HTML and its pictures; runs off the interface thread."""
    from ragwort.figures.export import picture_bytes
    from ragwort.report import report_of
    from ragwort.report.preview import write_preview

    document = report_of(study)
    pictures = document.pictures()
    images: list[Any] = []
    for number, picture in enumerate(pictures, start=1):
        images.append(picture_bytes(picture, "png"))
        ticket.progress(number / len(pictures))
    return write_preview(document, width), images
