"""What the whole study needs, against its limit: below the aims."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QMenu, QVBoxLayout, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, hairline, label, link, restyle
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.base.wording import listed
from ragwort.study import edits
from ragwort.study.results.overview import Needs, needs_of
from ragwort.study.results.serving import Recruitment, how_allocated, said_of
from ragwort.study.words.numbers import count_text
from ragwort.study.words.provenance import with_examples
from ragwort.study.words.scenarios import counted_words

_WAYS = {  # by what limits the study
    "limit": "ways to stay below",
    "budget": "ways to fit the budget",
    "months": "ways to fit the time",
    "clusters": "ways to fit the clusters",
}
WIDE = 236  # px of the panel
NO_TOTAL = "the aims use different designs: no single total applies"
_SHOWN = 5  # recruitments that are listed
_MOST_PAIRS, _MOST_NAMES, _LONGEST = 12, 2, 40  # offered to be one, names of aims in each, characters of a name


def _listed(found: Sequence[Recruitment]) -> list[str]:
    """`240 staff, wards to 2 arms: 2 aims`."""
    more = [f"and {len(found) - _SHOWN} more"] if len(found) > _SHOWN else []
    return [*map(_in_short, found[:_SHOWN]), *more]


def _in_short(found: Recruitment) -> str:
    many = len(found.aims)
    return f"{_number(found)}, {how_allocated(found)}: {many} aim{'' if many == 1 else 's'}"


def _in_full(found: Recruitment) -> str:
    return f"{_number(found)}, {how_allocated(found)}: {listed([aim.name for aim, _ in found.aims])}"


def _names(found: Recruitment) -> str:
    """`Reaction time`, `Reaction time, Alertness and 3 more`."""
    names = [_cut(aim.name) for aim, _ in found.aims]
    more = [f"{len(names) - _MOST_NAMES} more"] if len(names) > _MOST_NAMES else []
    return listed([*names[:_MOST_NAMES], *more])


def _cut(name: str) -> str:
    return name if len(name) <= _LONGEST else f"{name[: _LONGEST - 1].strip()}\u2026"


def _number(found: Recruitment) -> str:
    return f"{count_text(found.count)} {counted_words(*found.leading)}"


def _short(found: Recruitment) -> str:
    """The aims that are no primary ones and would need more."""
    return f"; too few for {listed([aim.name for aim, _ in found.short])}" if found.short else ""


class Bar(QWidget):
    """How much of the limit is used."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme, self._share = theme, 0.0
        self.setFixedHeight(theme.px(14))

    def show_share(self, share: float) -> None:
        self._share = share
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        height = self.theme.px(5)
        whole = QRectF(0, (self.height() - height) / 2, self.width(), height)
        painter.setBrush(self.theme.colour("hairline"))
        painter.drawRoundedRect(whole, 2, 2)
        used = QRectF(whole)
        used.setWidth(whole.width() * min(self._share, 1.0))
        painter.setBrush(self.theme.colour("brick" if self._share > 1 else "leaf"))
        painter.drawRoundedRect(used, 2, 2)


class StudyNeeds(QWidget):
    """One number where one recruitment serves all aims; else that of the largest aim, and that there is no total."""

    limit_refused = Signal(str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setFixedWidth(theme.px(WIDE))
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(16), 0, theme.px(16), 0)
        column.setSpacing(theme.px(3))
        column.addWidget(hairline())
        column.addSpacing(theme.px(10))
        self.heading = label("THE STUDY NEEDS", "heading")
        column.addWidget(self.heading)
        self.total = Wrapped(name="needs")
        self.set_by = Wrapped(name="quiet")
        self.together = link("", self._say_serving, "smallLink", flush=True)
        self.bar = Bar(theme)
        self.spare = Wrapped(name="quiet")
        self.limit = self._limit_field()
        for widget in (self.total, self.set_by):
            column.addWidget(widget)
        column.addWidget(self.together, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(self.bar)
        row = QHBoxLayout()
        row.setSpacing(theme.px(5))
        row.addWidget(self.limit)
        row.addWidget(label("available", "quiet"))
        row.addWidget(self.spare, 1)
        column.addLayout(row)
        self.ways = link("", lambda: None, "smallLink", flush=True)
        column.addWidget(self.ways, 0, Qt.AlignmentFlag.AlignLeft)

    def _limit_field(self) -> QLineEdit:
        made = QLineEdit()
        made.setObjectName("remark")
        made.setAccessibleName("How many participants are available at most")
        made.setPlaceholderText("no limit")
        made.setToolTip("How many participants are available at most; empty for no limit")
        made.setFixedWidth(self.theme.px(62))
        make_live(made, self.session, lambda text: edits.type_limit(self.session.study, text))
        made.editingFinished.connect(self._tell_of_limit)
        return made

    def refresh(self) -> None:
        """Show the session's study."""
        study = self.session.study
        needs = needs_of(study, self.session.outcome)
        show_in(self.limit, study.draft_of("limit") or ("" if study.limit is None else f"{study.limit}"))
        restyle(self.limit, fault=study.faulty("limit"))
        for widget in (self.set_by, self.bar, self.spare, self.ways):
            widget.setVisible(needs is not None)
        self.together.setVisible(needs is not None and self._can_be_said(needs))
        if needs is None:
            self.total.set_text("\u2014")
            restyle(self.total, tight=False)
            return
        guessed = "; example values are not confirmed" if with_examples(study) else ""
        if needs.single:
            self._show_total(f"{count_text(needs.count)} {needs.many}")
            self.set_by.set_text(f"to be recruited, set by {needs.aim_name}{_short(needs.recruitments[0])}{guessed}")
        else:
            self._show_total(f"{len(needs.recruitments)} recruitments")
            self.set_by.set_text("\n".join([*_listed(needs.recruitments), f"{NO_TOTAL}{guessed}"]))
        self.set_by.setToolTip("" if needs.single else "\n".join(map(_in_full, needs.recruitments)))
        self.together.setText(self._how_to_say(needs))
        self.bar.setVisible(needs.spare is not None)
        self.spare.setVisible(needs.spare is not None)
        self._show_spare(needs)

    def _show_total(self, words: str) -> None:
        self.total.set_text(words)
        room = self.width() - self.theme.px(2 * 16 + 6)  # words are laid out a little wider than they are
        tight = QFontMetrics(self.theme.font(26, 700)).horizontalAdvance(words) > room
        restyle(self.total, tight=tight)

    def _can_be_said(self, needs: Needs) -> bool:
        """Whether aims can be said to share a recruitment, or were said to."""
        return bool(needs.sayable) or said_of(self.session.study)

    def _how_to_say(self, needs: Needs) -> str:
        if needs.single or not needs.sayable:
            return "not the same people after all"
        return "the same people serve all aims" if self._is_one_click(needs) else "the same people serve \u2026"

    def _is_one_click(self, needs: Needs) -> bool:
        """Whether there is only one thing to say."""
        return len(needs.recruitments) == 2 and needs.can_be_said and not said_of(self.session.study)

    def _say_serving(self) -> None:
        needs = needs_of(self.session.study, self.session.outcome)
        if needs is None or needs.single or not needs.sayable:
            self._say(together=False)
        elif self._is_one_click(needs):
            self._say(together=True)
        else:
            self._ask_who(needs)

    def _ask_who(self, needs: Needs) -> None:
        """Which aims: any two recruitments of the same unit, or all of them."""
        menu = QMenu(self.together)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for one, other in needs.sayable[:_MOST_PAIRS]:
            ids = [aim.id for aim, _ in (*one.aims, *other.aims)]
            words = f"{_names(one)}, and {_names(other)}"
            menu.addAction(words, lambda ids=ids: self._say(together=True, aims=ids))
        if needs.can_be_said:
            menu.addAction("All aims", lambda: self._say(together=True))
        if said_of(self.session.study):
            menu.addSeparator()
            menu.addAction("As their designs tell", lambda: self._say(together=False))
        menu.popup(self.together.mapToGlobal(self.together.rect().topLeft()))

    def _say(self, together: bool, aims: Sequence[str] = ()) -> None:
        self.session.do(edits.say_serving(self.session.study, together, aims))

    def _show_spare(self, needs: Needs) -> None:
        """How the need stands to the tightest limit; the way to what else is limited."""
        if needs.bound is None or needs.spare is None:
            self.ways.setText("cost, time and other limits")
            return
        over, most = needs.spare < 0, needs.bound.count
        words = f"{count_text(-needs.spare)} too many" if over else f"{count_text(needs.spare)} to spare"
        self.spare.set_text(words)
        self.spare.setToolTip(f"{count_text(most)} at most, by {needs.bound.words}")
        restyle(self.spare, over=over)
        self.ways.setText(_WAYS[needs.bound.by] if over else "what would they buy?")
        self.bar.show_share((most - needs.spare) / max(most, 1))

    def _tell_of_limit(self) -> None:
        fault = self.session.study.first_fault
        if fault:
            self.limit_refused.emit(fault)
