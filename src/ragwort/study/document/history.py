"""Undo and redo: the states of a study, each with the name of the edit that led to it."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.study.document.model import Study

LONGEST = 500  # states remembered
LARGEST = 50_000_000  # bytes that they may take
_IN_MEMORY = 10  # bytes that a character of a study's file takes in memory, roughly


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
        self._sizes: list[int] = []  # of the past states: what each has that the next has not
        self._merge = ""

    def do(self, edit: Edit) -> bool:
        """Make the edit's study the present one. Returns False where nothing changes."""
        if edit.study == self.present:
            return False
        if not (edit.merge and edit.merge == self._merge and self._past):
            self._remember(edit)
        self._merge = edit.merge
        self._future = []
        self.present = edit.study
        return True

    def _remember(self, edit: Edit) -> None:
        """The present state as the past's last; the oldest go where they would be too many, or take too much."""
        self._past.append((edit.label, self.present))
        self._sizes.append(size_beside(self.present, edit.study))
        while len(self._past) > LONGEST or (len(self._past) > 1 and sum(self._sizes) > LARGEST):
            del self._past[0], self._sizes[0]

    def take_back(self, merge: str) -> bool:
        """Forget a merged run of edits that is still open, as if it had not been begun."""
        if not merge or merge != self._merge or not self._past:
            return False
        self.present = self._past.pop()[1]
        self._sizes.pop()
        self._merge = ""
        return True

    def seal(self) -> bool:
        """End a merged run of edits: the next one is undone by itself. Returns whether one was open."""
        was, self._merge = self._merge, ""
        return bool(was)

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
        del self._sizes[len(self._past) :]

    def redo(self) -> None:
        """Go one state forward, if there is one."""
        before = self.present
        self._move(self._future, self._past)
        if len(self._past) > len(self._sizes):
            self._sizes.append(size_beside(before, self.present))

    def _move(self, source: list[tuple[str, Study]], target: list[tuple[str, Study]]) -> None:
        if source:
            label, study = source.pop()
            target.append((label, self.present))
            self.present = study
        self._merge = ""


def size_beside(state: Study, other: Study) -> int:
    """Roughly how many bytes a state takes beside another: what they share is held once."""
    kept = {id(aim) for aim in other.aims}
    own = sum(len(aim.model_dump_json()) for aim in state.aims if id(aim) not in kept)
    texts = [getattr(state, name) for name in type(state).model_fields if name != "aims"]
    shared = {id(getattr(other, name)) for name in type(other).model_fields}
    own += sum(len(str(text)) for text in texts if id(text) not in shared)
    return _IN_MEMORY * own
