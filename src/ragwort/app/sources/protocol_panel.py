"""What a protocol says beside its numbers, typed line by line; and the plan signed off."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QGridLayout, QLineEdit, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, label, link, restyle
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.app.sources.sidepanel import SidePanel, scrolled
from ragwort.study import edits
from ragwort.study.document.history import Edit
from ragwort.study.document.signing import EDITED, amendments, signature, was_edited
from ragwort.study.results.resources import amount_text
from ragwort.study.sharing.family import plan_of
from ragwort.study.words.protocol import FLOW, HEAD, NOT_STATED, STATEMENTS, TIME_POINT, Statement, field_of_looks

_INTRO = (
    "What a committee asks for beside the numbers. It stands in the report; what is empty is said to be not stated."
)


class ProtocolPanel(SidePanel):
    """Opened from the menu over the picture."""

    key = "protocol"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "protocol", "What the protocol says")
        self.column.addWidget(Wrapped(_INTRO, "quiet"))
        self.fault = Wrapped("", "fault")
        self.column.addWidget(self.fault)
        body = QWidget()
        self._grid = QGridLayout(body)
        self._grid.setContentsMargins(0, 0, theme.px(8), 0)
        self._grid.setHorizontalSpacing(theme.px(12))
        self._grid.setVerticalSpacing(theme.px(7))
        self._grid.setColumnStretch(1, 1)
        self._grid.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.fields: dict[str, QLineEdit] = {}
        self._add_line(TIME_POINT, lambda text: edits.state_time_point(session.study, session.aim_id, text))
        self.kind = self._kind(STATEMENTS[0])
        for each in (*STATEMENTS[1:], *FLOW, *HEAD):
            self._add_line(each, partial(self._stated, each.name))
        self._signing()
        self.column.addWidget(scrolled(body), 1)
        session.changed.connect(self.refresh)

    def _stated(self, name: str, text: str) -> Edit:
        return edits.state(self.session.study, name, text)

    def _add_line(self, asked: Statement, edit: Callable[[str], Edit]) -> None:
        field = self._field(asked.label, f"{NOT_STATED}; for example: {asked.prompt}")
        make_live(field, self.session, edit)
        self.fields[asked.name] = field

    def _field(self, words: str, placeholder: str) -> QLineEdit:
        row, field = self._grid.rowCount(), QLineEdit()
        field.setObjectName("remark")
        field.setPlaceholderText(placeholder)
        field.setToolTip(placeholder)
        field.setAccessibleName(words)
        self._grid.addWidget(label(words, "quiet"), row, 0)
        self._grid.addWidget(field, row, 1)
        return field

    def _kind(self, asked: Statement) -> QComboBox:
        row, box = self._grid.rowCount(), QComboBox()
        box.setAccessibleName(asked.label)
        box.setToolTip(f"The kind of study, {asked.prompt}")
        box.addItem(NOT_STATED, "")
        for value, words in asked.choices:
            box.addItem(words, value)
        box.activated.connect(lambda _: self.session.do(self._stated(asked.name, str(box.currentData()))))
        self._grid.addWidget(label(asked.label, "quiet"), row, 0)
        self._grid.addWidget(box, row, 1, Qt.AlignmentFlag.AlignLeft)
        return box

    def _across(self, widget: QWidget) -> None:
        self._grid.addWidget(widget, self._grid.rowCount(), 0, 1, 2)

    def _signing(self) -> None:
        """Who signs the plan off, and when; what has changed since."""
        self._across(label("SIGNED OFF", "heading"))
        self.signed = Wrapped("", "quiet")
        self._across(self.signed)
        self.signer = self._field("By", "who signs this plan off")
        self.day = self._field("On", "2 March 2026")
        self.sign = link("Sign this plan off", self._sign, "smallLink", flush=True)
        self._grid.addWidget(self.sign, self._grid.rowCount(), 1, Qt.AlignmentFlag.AlignLeft)
        for field in (self.signer, self.day):
            field.textChanged.connect(lambda _: self._allow())

    def _allow(self) -> None:
        ready = bool(self.signer.text().strip() and self.day.text().strip())
        self.sign.setEnabled(ready)
        self.sign.setVisible(ready)

    def _sign(self) -> None:
        self.session.do(edits.sign_off(self.session.study, self.signer.text(), self.day.text()))

    def refresh(self) -> None:
        """Show what is stated."""
        if not self.isVisible():
            return
        study, aim = self.session.study, self.session.aim
        protocol = study.protocol
        show_in(self.fields[TIME_POINT.name], "" if aim is None else aim.time_point)
        self.fields[TIME_POINT.name].setEnabled(aim is not None)
        self.kind.setCurrentIndex(max(self.kind.findData(protocol.kind), 0))
        for each in (*STATEMENTS[1:], *HEAD):
            show_in(self.fields[each.name], getattr(protocol, each.name))
        self.fields["multiplicity"].setEnabled(not plan_of(study).shares)
        if plan_of(study).shares:
            show_in(self.fields["multiplicity"], "as the aims share the error, by the study's plan")
        looks = field_of_looks(study) == "committee"
        self.fields["interim"].setEnabled(not looks)
        self.fields["committee"].setEnabled(looks)
        if looks:
            show_in(self.fields["interim"], "as planned, aim by aim")
        for each in FLOW:
            value = getattr(protocol, each.name)
            text = protocol.draft_of(each.name) or ("" if value is None else amount_text(value))
            show_in(self.fields[each.name], text)
            restyle(self.fields[each.name], fault=protocol.faulty(each.name))
        self.fault.set_text(" ".join(draft.fault for draft in protocol.drafts.values()))
        self.fault.setVisible(bool(protocol.drafts))
        self._show_signed()
        self._allow()

    def _show_signed(self) -> None:
        study = self.session.study
        if study.signed is None:
            self.signed.set_text("No version has been signed off. Once one is, the report lists what changes.")
            return
        changed = amendments(study)
        lines = [f"{signature(study.signed)}.", *([EDITED] if was_edited(study) else [])]
        lines += ["Changed since:", *changed] if changed else ["Nothing has changed since."]
        self.signed.set_text("\n".join(lines))
