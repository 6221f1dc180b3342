"""The row below an effect's help: whether the smallest worthwhile effect is planned on, and what is expected beside."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Box, Elided, label
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.designs import design_named
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.edits.effect import primary_of


class EffectRow(QWidget):
    """Shown for the effect alone; the expected one is asked for where the smallest worthwhile one is planned on."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(8))
        self.kind = Box(theme, "Planned on", list(edits.PLANNED_ON.values()))
        self.kind.widen()
        self.kind.setToolTip("What the power is computed for: it is said in the sentence and in the report")
        self.kind.activated.connect(self._chosen)
        row.addWidget(label("Planned on", "quiet"))
        row.addWidget(self.kind)
        self._asks = label("Expected", "quiet")
        row.addWidget(self._asks)
        self.expected = QLineEdit()
        self.expected.setObjectName("remark")
        self.expected.setAccessibleName("Expected effect")
        self.expected.setPlaceholderText("15 (12 to 20)")
        self.expected.setToolTip("With its plausible range: assurance and the one-way sensitivity analysis use it")
        self.expected.setMinimumWidth(theme.px(96))
        make_live(self.expected, session, self._typed)
        row.addWidget(self.expected, 1)
        self.fault = Elided(name="fault")
        row.addWidget(self.fault, 1)
        row.addStretch(1)

    def show_effect(self, aim: Aim, name: str, has_room: bool) -> None:
        """What is said of the effect of an aim; hidden where the assumption in hand is another, or without room."""
        self.setVisible(has_room and name in design_named(aim.design).effect_names())
        kinds = list(edits.PLANNED_ON)
        self.kind.setCurrentIndex(kinds.index(aim.planned_on) if aim.planned_on in kinds else 0)
        asked = aim.planned_on == "worthwhile" and aim.entry(primary_of(aim).name).value is not None
        self._asks.setVisible(asked)
        self.expected.setVisible(asked)
        show_in(self.expected, edits.expected_text(aim))
        self.fault.set_text(aim.expected.fault)
        self.fault.setVisible(asked and bool(aim.expected.fault))

    def _chosen(self, at: int) -> None:
        kind = list(edits.PLANNED_ON)[at]
        self.session.do(edits.plan_effect_on(self.session.study, self.session.aim_id, kind))

    def _typed(self, text: str) -> Edit:
        return edits.type_expected(self.session.study, self.session.aim_id, text)
