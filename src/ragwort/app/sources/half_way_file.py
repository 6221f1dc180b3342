"""A half-way data file in the panel Under way: which columns are meant, and what they give."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Box, Elided, label, link
from ragwort.app.sources.datafile import DataFile, source_of
from ragwort.demo.half_way import half_way_csv
from ragwort.designs import Answer
from ragwort.pilot import Data, PilotError, group_columns, likely_groups, matched
from ragwort.study.document.aim import Aim
from ragwort.study.results.interim_file import needs_cluster, needs_event, seen_in
from ragwort.study.results.progress import stage_names
from ragwort.study.words.numbers import count_text


class HalfWayFile(QWidget):
    """`found` carries the changes of what is known; `failed` why there are none."""

    found = Signal(object)
    failed = Signal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._of: tuple[Aim, Answer] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(4))
        self.file = DataFile(theme, "Take it from a half-way file…", ("half-way-in-eight-wards.csv", half_way_csv))
        self.file.opened.connect(self._opened)
        self.file.failed.connect(self.failed)
        self.file.started.connect(lambda: self.failed.emit(""))
        column.addWidget(self.file)
        self.try_demo = link("or try it with the demo's half-way file", self.file.read_demo, "smallLink", flush=True)
        column.addWidget(self.try_demo, 0, Qt.AlignmentFlag.AlignLeft)
        self.choices = QWidget()
        row = QHBoxLayout(self.choices)
        row.setContentsMargins(0, 0, 0, 0)
        self.boxes = {
            "outcome": Box(theme, "Column of the outcome"),
            "event": Box(theme, "Column of the event"),
            "cluster": Box(theme, "Column of the clusters"),
            "group": Box(theme, "Column of the groups"),
        }
        self._labels = {name: label(words, "quiet") for name, words in _LABELS.items()}
        for name, box in self.boxes.items():
            row.addWidget(self._labels[name])
            row.addWidget(box)
            box.activated.connect(lambda _: self._take())
        row.addStretch(1)
        self.choices.hide()
        column.addWidget(self.choices)
        self.said = Elided("", "quiet")
        column.addWidget(self.said)

    @property
    def busy(self) -> bool:
        """Whether a file is being read."""
        return self.file.jobs.busy

    def show_for(self, aim: Aim, answer: Answer) -> None:
        """For whom a file is read; that of another aim is forgotten."""
        if self._of is not None and self._of[0].id != aim.id:
            self.file.forget()
            self.choices.hide()
        self._of = aim, answer
        self.try_demo.setVisible(needs_cluster(answer) and self.file.data is None)
        self.said.set_text(f"from {aim.interim.source}" if aim.interim.source else "")
        self.said.setVisible(bool(aim.interim.source))

    def _opened(self, data: Data) -> None:
        if self._of is None:
            return
        aim, answer = self._of
        asked = {"event": needs_event(answer), "cluster": needs_cluster(answer)}
        numbers = [each.name for each in data.columns if each.kind in ("numbers", "yes or no") and not each.running]
        self._fill("outcome", numbers, _likely(numbers, aim.words.outcome))
        self._fill("event", numbers, _likely(numbers, "event"))
        groups = [each.name for each in group_columns(data)]
        self._fill("group", groups, likely_groups(data, stage_names(aim, answer)))
        several = [each.name for each in data.columns if each.different > 1 and each.kind != "yes or no"]
        self._fill("cluster", several, _likely(several, aim.words.clusters.removesuffix("s") or "cluster"))
        for name, needed in asked.items():
            for widget in (self.boxes[name], self._labels[name]):
                widget.setVisible(needed)
        self.choices.show()
        self.try_demo.hide()
        self._take()

    def _fill(self, name: str, columns: list[str], now: str) -> None:
        box = self.boxes[name]
        box.clear()
        box.addItems(columns)
        box.setCurrentText(now)

    def _take(self) -> None:
        data = self.file.data
        if data is None or self._of is None:
            return
        aim, answer = self._of
        chosen = {name: box.currentText() for name, box in self.boxes.items()}
        beside = chosen["event"] if needs_event(answer) else chosen["cluster"] if needs_cluster(answer) else ""
        try:
            names = matched(stage_names(aim, answer), data.codes(chosen["group"])[1])
            both = (names[0], names[1])
            changes: dict[str, Any] = seen_in(aim, answer, data, chosen["group"], both, chosen["outcome"], beside)
        except (PilotError, KeyError) as error:
            self.failed.emit(str(error))
            return
        self.file.state.set_text(f"{data.table.name}: {count_text(data.table.rows)} rows")
        self.failed.emit("")
        self.found.emit({**changes, "source": source_of(data.table, changes["source"], [])})


_LABELS = {"outcome": "Outcome", "event": "Event", "cluster": "Clusters in", "group": "Groups in"}


def _likely(columns: list[str], words: str) -> str:
    """The column that is called as the study calls it; else the first."""
    asked = words.casefold()
    same = [name for name in columns if name.casefold() == asked or (asked and name.casefold() in asked)]
    return next(iter([*same, *columns]), "")
