"""What the pointer and the keys do to a picture beside moving its point: framing, pins, words of one's own."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QObject, QPoint, Qt, QTimer
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu, QWidget

from ragwort.app.picture.canvas import Canvas
from ragwort.app.session.session import Session
from ragwort.figures.shown.shown import Shown
from ragwort.figures.steering.framing import moved, zoomed
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit

_NOTCH = 1.25  # times as much is seen for a notch of the wheel
_EDITOR_WIDTH = 260
_PROMPTS = {
    "title": "Title of the picture",
    "x": "Words below the picture",
    "y": "Words beside the picture",
    "caption": "What the picture shows",
    "pin": "Name of this reading",
}


@dataclass(frozen=True)
class _Asked:
    """Words that are typed in place, and what for."""

    editor: QLineEdit
    aim_id: str
    picture: str
    part: str
    before: str


class Handling(QObject):
    """Turns what is done on the canvas into edits of the aim in view; `name` is that of the picture."""

    def __init__(self, session: Session, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.session, self.canvas, self.name = session, canvas, ""
        self._asked: _Asked | None = None
        QApplication.instance().focusChanged.connect(self._leave_words)
        canvas.zoomed.connect(self._zoom)
        canvas.panned.connect(self._pan)
        canvas.reset_asked.connect(self.reset)
        canvas.pin_asked.connect(self.pin)
        canvas.pin_dragged.connect(self._drag_pin)
        canvas.pin_dropped.connect(self._drop_pin)
        canvas.words_asked.connect(self.ask_words)
        canvas.menu_asked.connect(self.show_menu)

    def _now(self) -> tuple[Aim, Shown] | None:
        aim, shown = self.session.aim, self.canvas.picture
        return None if aim is None or shown is None or self.canvas.stale else (aim, shown)

    # --- framing ---

    def _zoom(self, x: float, y: float, notches: float) -> None:
        now = self._now()
        if now is not None:
            self._frame(now, zoomed(*now, (x, y), _NOTCH**-notches), "zoom", drag=False)

    def zoom_by(self, notches: float) -> None:
        """Nearer, or (below 0) further off, about the design's point."""
        now = self._now()
        if now is not None and now[1].zooms:
            middle = [sum(axis.ends) / 2 for axis in now[1].axes().values()]
            x, y = now[1].handle or (middle[0], middle[-1])
            self._zoom(x, y, notches)

    def _pan(self, x: float, y: float) -> None:
        now = self._now()
        if now is not None:
            self._frame(now, moved(*now, (x, y)), "pan", drag=True)

    def _frame(self, now: tuple[Aim, Shown], ends: dict[str, float], how: str, drag: bool) -> None:
        aim, shown = now
        if not ends:
            return
        shows = {slot: axis.name for slot, axis in shown.axes().items()}
        edit = edits.set_ends(self.session.study, aim.id, self.name, ends, shows)
        (self.session.scrub if drag else self.session.do)(edit, joined=f"{how} {aim.id} {self.name}")

    def reset(self) -> None:
        """Let the picture choose its ends by itself again."""
        now = self._now()
        if now is not None and self.can_reset():
            self.session.do(edits.reset_ends(self.session.study, now[0].id, self.name))

    def can_reset(self) -> bool:
        """Whether the picture in view has ends that were typed or framed."""
        now = self._now()
        return now is not None and bool(now[0].steer(self.name).ends)

    # --- pins ---

    def can_pin(self) -> bool:
        """Whether the picture in view takes pins."""
        now = self._now()
        return now is not None and now[1].pinned

    def pin(self, x: float | None = None) -> None:
        """Read the picture at a place of its axis, or where the design is."""
        now = self._now()
        if now is None or not now[1].pinned:
            return
        aim, shown = now
        axis = shown.axes()["x"]
        at = x if x is not None else (shown.handle or (sum(axis.ends) / 2, 0.0))[0]
        value = _round(at, axis.ends) / axis.scale
        self.session.do(edits.put_pin(self.session.study, aim.id, self.name, axis.name, value))

    def _drag_pin(self, number: int, x: float) -> None:
        now = self._now()
        if now is not None and number < len(now[0].steer(self.name).pins):
            axis = now[1].axes()["x"]
            at = _round(min(max(x, axis.ends[0]), axis.ends[1]), axis.ends) / axis.scale
            moved = edits.change_pin(self.session.study, now[0].id, self.name, number, at=at)
            self.session.scrub(moved, joined=_drag_of(number, now[0]))

    def _drop_pin(self, number: int, off: bool) -> None:
        """The drag of a pin is over; one that was taken off the axes goes, and one undo brings it back as it was."""
        if off:
            self._remove_pin(number, joined=True)
        self.session.end_scrub()

    def remove_pin(self, number: int) -> None:
        """Take a pin away."""
        self._remove_pin(number)

    def _remove_pin(self, number: int, joined: bool = False) -> None:
        aim = self.session.aim
        if aim is not None:
            edit = edits.remove_pin(self.session.study, aim.id, self.name, number)
            self.session.do(edit, joined=_drag_of(number, aim) if joined else "")

    # --- taken out ---

    def set_size(self, size: str) -> None:
        """For what the picture is taken out."""
        self._do(lambda aim: edits.set_picture_size(self.session.study, aim.id, self.name, size))

    # --- words ---

    def ask_title(self) -> None:
        """Type a title in place."""
        self.ask_words("title", self.canvas.place_of("title"))

    def ask_words(self, part: str, at: QPoint) -> None:
        """Type other words in place: `title`, `x`, `y`, `caption`, `pin 0`; none give back the picture's own."""
        self.take_words()
        now = self._now()
        if now is None:
            return
        aim, shown = now
        text = self._text(aim, shown, part)
        editor = QLineEdit(text, self.canvas)
        editor.setObjectName("pictureWords")
        editor.setAccessibleName(_PROMPTS[part.partition(" ")[0]])
        editor.setPlaceholderText(_PROMPTS[part.partition(" ")[0]])
        width = min(self.canvas.theme.px(_EDITOR_WIDTH), self.canvas.width() - 8)
        left = min(max(at.x() - width // 2, 4), self.canvas.width() - width - 4)
        height = editor.sizeHint().height()
        editor.setGeometry(left, min(max(at.y() - height // 2, 2), self.canvas.height() - height - 2), width, height)
        editor.selectAll()
        editor.editingFinished.connect(self.take_words)
        editor.show()
        editor.setFocus(Qt.FocusReason.OtherFocusReason)
        self._asked = _Asked(editor, aim.id, self.name, part, text)

    def _ask_soon(self, part: str, at: QPoint) -> None:
        """Once the menu is gone, which takes the focus with it."""
        QTimer.singleShot(0, self.canvas, lambda: self.ask_words(part, at))

    def take_words(self) -> None:
        """What was typed counts, for the picture that it was typed for; the editor goes."""
        asked, self._asked = self._asked, None
        if asked is None:
            return
        text = asked.editor.text().strip()[:300]
        asked.editor.hide()
        asked.editor.setObjectName("")  # it stays until the event that ended it is over
        asked.editor.deleteLater()
        if text == asked.before:
            return
        study, part = self.session.study, asked.part
        if part.startswith("pin"):
            self.session.do(
                edits.change_pin(study, asked.aim_id, asked.picture, int(part.partition(" ")[2]), name=text)
            )
        else:
            self.session.do(edits.set_picture_text(study, asked.aim_id, asked.picture, part, text))

    def _leave_words(self, _: object, now: QWidget | None) -> None:
        """Focus is elsewhere, in this window: nobody types any more."""
        if self._asked is not None and now is not None and now is not self._asked.editor:
            self.take_words()

    def _text(self, aim: Aim, shown: Shown, part: str) -> str:
        if part.startswith("pin"):
            pins = aim.steer(self.name).pins
            number = int(part.partition(" ")[2])
            return pins[number].name if number < len(pins) else ""
        return shown.words_for(part)

    def _do(self, made: Callable[[Aim], Edit]) -> None:
        aim = self.session.aim
        if aim is not None:
            self.session.do(made(aim))

    # --- the menu ---

    def show_menu(self, at: QPoint, flag: int, x: float) -> None:
        now = self._now()
        if now is None:
            return
        menu = QMenu(self.canvas)
        if flag >= 0:
            menu.addAction("Name this reading…", lambda: self._ask_soon(f"pin {flag}", at))
            menu.addAction("Remove this reading", lambda: self.remove_pin(flag))
        elif now[1].pinned:
            menu.addAction("Read here", lambda: self.pin(x))
        if now[0].steer(self.name).ends:
            menu.addAction("Axes as they were", self.reset)
        for part, words in (
            ("title", "Title…"),
            ("x", "Words below…"),
            ("y", "Words beside…"),
            ("caption", "Caption…"),
        ):
            menu.addAction(words, lambda part=part: self._ask_soon(part, self.canvas.place_of(part)))
        menu.popup(self.canvas.mapToGlobal(at))


def _drag_of(number: int, aim: Aim) -> str:
    """What joins the steps of one drag of a pin to a single undo."""
    return f"drag pin {number} {aim.id}"


def _round(at: float, ends: tuple[float, float]) -> float:
    """A place on a number as round as the axis allows."""
    return round(at, 2 - math.floor(math.log10(ends[1] - ends[0])))
