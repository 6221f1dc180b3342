"""What a design offers to put in for an assumption, such as contrasts that have a name."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMenu, QPushButton

from ragwort.app.kit.widgets import link
from ragwort.app.session.session import Session
from ragwort.designs import design_named
from ragwort.designs.assumption import Assumption
from ragwort.study import edits
from ragwort.study.words.numbers import value_text


def offers_link(session: Session, assumption: Assumption) -> QPushButton | None:
    """A link that opens a menu of them; None where the design has none for this assumption."""
    if session.aim is None or assumption.name not in design_named(session.aim.design).offers:
        return None
    made = link("by name…", lambda: _menu(session, assumption, made), "smallLink")
    made.setAccessibleName(f"{assumption.label} by name")
    made.setToolTip("Those that have a name, for as many groups as there are")
    return made


def _menu(session: Session, assumption: Assumption, below: QPushButton) -> None:
    aim = session.aim
    if aim is None:
        return
    menu = QMenu(below)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    for offer in design_named(aim.design).offers[assumption.name]:
        values = offer.values(aim.values())
        if values:
            shown = value_text(assumption, values[assumption.name])
            menu.addAction(f"{offer.label}: {shown}").setData(offer.label)
    menu.triggered.connect(
        lambda action: session.do(edits.take_offer(session.study, session.aim_id, assumption.name, action.data()))
    )
    menu.popup(below.mapToGlobal(below.rect().bottomLeft()))
