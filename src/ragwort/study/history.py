"""Undo and redo: the states of a study, each with the name of the edit that led to it."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.study.model import Study

LONGEST = 500  # states remembered


@dataclass(frozen=True)
class Edit:
    """A new state of the study and what was done to reach it.

    Successive edits with the same `merge` (one drag, one value nudged) are undone together.
    """

    label: str
    study: Study
    merge: str = ""


class History:
    """The present study and its past and future."""

    def __init__(self, study: Study) -> None:
        self.present = study
        self._past: list[tuple[str, Study]] = []
        self._future: list[tuple[str, Study]] = []
        self._merge = ""

    def do(self, edit: Edit) -> bool:
        """Make the edit's study the present one. Returns False where nothing changes."""
        if edit.study == self.present:
            return False
        if not (edit.merge and edit.merge == self._merge and self._past):
            self._past = [*self._past[-LONGEST + 1 :], (edit.label, self.present)]
        self._merge = edit.merge
        self._future = []
        self.present = edit.study
        return True

    def take_back(self, merge: str) -> bool:
        """Forget a merged run of edits that is still open, as if it had not been begun."""
        if not merge or merge != self._merge or not self._past:
            return False
        self.present = self._past.pop()[1]
        self._merge = ""
        return True

    def seal(self) -> None:
        """End a merged run of edits: the next one is undone by itself."""
        self._merge = ""

    @property
    def undo_label(self) -> str:
        """What undo would take back; empty where there is nothing."""
        return self._past[-1][0] if self._past else ""

    @property
    def redo_label(self) -> str:
        """What redo would do again; empty where there is nothing."""
        return self._future[-1][0] if self._future else ""

    def undo(self) -> None:
        """Go one state back, if there is one."""
        self._move(self._past, self._future)

    def redo(self) -> None:
        """Go one state forward, if there is one."""
        self._move(self._future, self._past)

    def _move(self, source: list[tuple[str, Study]], target: list[tuple[str, Study]]) -> None:
        if source:
            label, study = source.pop()
            target.append((label, self.present))
            self.present = study
        self._merge = ""
