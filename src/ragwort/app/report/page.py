"""The Report page: the study's title and background on the left, the write-up as it will be exported on the right."""

from __future__ import annotations

import pickle
from functools import partial
from hashlib import sha256

from PySide6.QtCore import Qt, QTimer, QUrl, Signal
from PySide6.QtGui import QGuiApplication, QImage, QResizeEvent, QTextDocument
from PySide6.QtWidgets import QHBoxLayout, QTextBrowser, QVBoxLayout, QWidget
from typing_extensions import override

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import hairline, label, scroll_to
from ragwort.app.report.side import ReportSide
from ragwort.app.session.page import DELAY, Page
from ragwort.app.session.session import Session
from ragwort.figures.paper import HEIGHT, WIDTH
from ragwort.figures.pictures import Picture
from ragwort.files.log import fault_of_ours
from ragwort.report.sections.statements import LENGTHS, statement_of
from ragwort.report.tree import Document
from ragwort.report.writers.preview import MOST_DRAWN, PICTURE, anchor_of, write_preview
from ragwort.study.document.model import Study
from ragwort.study.sharing.family import role_told
from ragwort.study.words.numbers import count_text
from ragwort.study.words.protocol import taken_in


class ReportPage(Page):
    """A live preview; made off the interface thread while the page is in view."""

    key = "Report"

    export_asked = Signal(str)
    checklist_asked = Signal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.pictures: list[Picture] = []
        self._all = 0  # how many pictures there are, drawn here or not
        self.images: dict[bytes, QImage] = {}  # those that have been drawn
        self.made_for: tuple[Study, int] | None = None  # and how wide its page is
        self._looked_at = ""  # the aim at which the preview was opened last
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.side = ReportSide(session, theme)
        self.side.export_asked.connect(self.export_asked)
        self.side.checklist_asked.connect(self.checklist_asked)
        self.side.copy_asked.connect(lambda length: self.copy_statement(length) if length else self.copy())
        self.title, self.background, self.statements = self.side.title, self.side.background, self.side.statements
        row.addWidget(self.side)
        row.addWidget(hairline(vertical=True))
        row.addWidget(self._sheet(), 1)
        session.changed.connect(self.refresh)

    def copy_statement(self, length: str) -> None:
        """The statement of the aim in view on the clipboard."""
        aim = self.session.aim
        if aim is not None:
            study = self.session.study
            role, committee = role_told(study, aim), study.protocol.committee
            QGuiApplication.clipboard().setText(statement_of(aim, length, role, taken_in(study), committee))
            self.state.setText(f"The statement ({LENGTHS[length]}) of {aim.name} is on the clipboard.")

    def _sheet(self) -> QWidget:
        area = QWidget()
        column = QVBoxLayout(area)
        column.setContentsMargins(self.theme.px(40), self.theme.px(20), self.theme.px(40), self.theme.px(16))
        self.preview = QTextBrowser()
        self.preview.setObjectName("preview")
        self.preview.setAccessibleName("Preview of the report")
        self.preview.document().setDocumentMargin(self.theme.px(36))
        self.preview.setOpenLinks(False)
        self.preview.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)  # pages keep their width
        self.preview.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.preview.setFont(self.theme.body)
        column.addWidget(self.preview, 1)
        self.state = label("", "quiet")
        column.addWidget(self.state)
        return area

    # --- showing ---

    @override
    def halt(self) -> None:
        if self.busy:
            self.made_for = None  # what is shown is old, or lacks pictures
        super().halt()

    @override
    def refresh(self) -> None:
        """Show the session's study, soon."""
        self.side.refresh()
        if self.shown and self.made_for is not None and self._looked_at != self.session.aim_id:
            self._look_at_aim()
        if self.shown and (self.session.study, self._page_width()) != self.made_for:
            self.state.setText("Bringing the preview up to date …")
            self.wait.start(DELAY if self.made_for is not None else 0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        QTimer.singleShot(0, self, self.refresh)  # once the page has its width

    @override
    def begin(self) -> None:
        study, width = self.session.study, self._page_width()
        if self.made_for is None and len(study.aims) > 1 and self.session.aim is not None:
            begun = study.changed(aims=(self.session.aim,))  # what is looked at first, and then the whole
            begin = partial(self._begin, study, width)
            self.jobs.start(lambda _: written(begun, width)[0], begin, self._failed)
        else:
            self._write(study, width)

    def _begin(self, study: Study, width: int, html: str) -> None:
        self.preview.setHtml(html)
        self._write(study, width)

    def _write(self, study: Study, width: int) -> None:
        self.jobs.start(lambda _: written(study, width), lambda made: self._show(study, width, *made), self._failed)

    def _page_width(self) -> int:
        return max(
            300, min(self.theme.px(760), self.preview.viewport().width() - 2 * self.theme.px(36) - self.theme.px(12))
        )

    def _show(self, study: Study, width: int, html: str, document: Document) -> None:
        """The words at once, with room for the pictures; they come one by one, those of the aim in view first."""
        place = self.preview.verticalScrollBar().value()
        pictures = document.pictures()[:MOST_DRAWN]
        self.preview.document().clear()
        for number in range(len(pictures)):
            self._put(number, self.images.get(_key(pictures[number])) or _blank())
        self.preview.setHtml(html)
        scroll_to(self.preview, place)
        if self._looked_at != self.session.aim_id:
            self._look_at_aim()
        self.made_for = (study, width)
        self.pictures, self._all = pictures, len(document.pictures())
        first = document.pictures_of(_place_of(study, self.session.aim_id))
        self._draw_next([number for number in sorted(range(len(pictures)), key=lambda at: at not in first)])
        self.refresh()  # an edit that was taken back while this was written left nothing to be made, until now

    def _look_at_aim(self) -> None:
        """Open at the aim in view; at the very beginning where that is the first."""
        self._looked_at = self.session.aim_id
        number = _place_of(self.session.study, self._looked_at)
        if number > 1:
            self.preview.scrollToAnchor(anchor_of(number))
        else:
            scroll_to(self.preview, 0)

    def _draw_next(self, numbers: list[int]) -> None:
        """Draw one picture elsewhere, and then the next; one that was drawn before is at hand."""
        wanted = [number for number in numbers if _key(self.pictures[number]) not in self.images]
        if not wanted:
            kept = [_key(picture) for picture in self.pictures]
            self.images = {key: self.images[key] for key in kept}
            self.state.setText(_what_is_shown(len(self.pictures), self._all))
            return
        self.state.setText(f"Drawing the pictures: {len(self.pictures) - len(wanted)} of {len(self.pictures)} …")
        number = wanted[0]
        picture = self.pictures[number]

        def show(image: QImage) -> None:
            self.images[_key(picture)] = image
            self._put(number, image)
            self.preview.viewport().update()
            self._draw_next(wanted[1:])

        self.jobs.start(lambda _: _drawn(picture), show, self._failed)

    def _put(self, number: int, image: QImage) -> None:
        place = QUrl(PICTURE.format(number))
        self.preview.document().addResource(QTextDocument.ResourceType.ImageResource, place, image)

    def _failed(self, error: Exception) -> None:
        self.state.setText(f"The preview could not be made. {fault_of_ours(error)}")

    def copy(self) -> None:
        """The whole report on the clipboard, to paste into a word processor."""
        self.preview.selectAll()
        self.preview.copy()
        cursor = self.preview.textCursor()
        cursor.clearSelection()
        self.preview.setTextCursor(cursor)


def _what_is_shown(drawn: int, pictures: int) -> str:
    if drawn < pictures:
        return f"Of {count_text(pictures)} pictures the first {drawn} are drawn here; all are in what is exported."
    return "This is what is exported."


def written(study: Study, width: int) -> tuple[str, Document]:
    """The preview's HTML and the document that it shows; runs off the interface thread."""
    from ragwort.report import report_of

    document = report_of(study)
    return write_preview(document, width), document


def _drawn(picture: Picture) -> QImage:
    """The picture that is exported, and at hand then; runs off the interface thread."""
    from ragwort.report.writers.drawn import as_dots, svg_of

    return QImage.fromData(as_dots(svg_of(picture)))


def _key(picture: Picture) -> bytes:
    """What tells a picture from others: all that it is drawn from."""
    return sha256(pickle.dumps(picture)).digest()


def _blank() -> QImage:
    """Room for a picture that is still to be drawn."""
    image = QImage(int(64 * WIDTH), int(64 * HEIGHT), QImage.Format.Format_ARGB32)
    image.fill(0)
    return image


def _place_of(study: Study, aim_id: str) -> int:
    """Where an aim stands in its study, the first being 1."""
    return next((number for number, aim in enumerate(study.aims, start=1) if aim.id == aim_id), 0)
