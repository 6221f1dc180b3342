"""A live sentence: what stands in it, and what can be done to each word that is a value, a choice or a name."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.words.sentence import Piece, plain_text

Offers = Sequence[tuple[str, str, bool]]  # value, label, whether it is shown now


@dataclass(frozen=True)
class Slot:
    """What can be done to a word of a sentence. Whatever is None or empty, nobody offers."""

    label: str = ""  # what it is about, for those who do not see where it stands
    write: Callable[[str], Edit] | None = None  # typed text, or a choice
    text: str = ""  # as it is typed
    choices: Offers = ()
    key: str = ""  # what joins the keystrokes in it to one undo
    nudge: Callable[[int], Edit | None] | None = None  # some steps up or down
    finds: Offers = ()  # what can be found in its place
    find: Callable[[str], Edit] | None = None
    confirm: Callable[[], Edit] | None = None  # an example is kept as it is

    def written(self, text: str) -> Edit | None:
        """Typed text, or a choice that was picked; the keystrokes in one word are undone together."""
        edit = self.write(text) if self.write is not None else None
        return edit if edit is None or self.choices else replace(edit, merge=self.key)

    def moved(self, steps: int, dragged: bool = False) -> Edit | None:
        """Some steps up or down; None where nothing moves."""
        edit = self.nudge(steps) if self.nudge is not None else None
        return None if edit is None else replace(edit, merge=f"{'drag' if dragged else 'nudge'} {self.key}")

    def found(self, find: str) -> Edit | None:
        """Something is found in its place."""
        return self.find(find) if self.find is not None else None

    def confirmed(self) -> Edit | None:
        """What stands there is kept."""
        return self.confirm() if self.confirm is not None else None


GONE = Slot()  # of a word whose aim, pin or place is not there any more


def aim_in(study: Study, aim_id: str) -> Aim | None:
    """The aim with this id; None where it is gone."""
    return next((each for each in study.aims if each.id == aim_id), None)


def no_slot(study: Study, name: str) -> Slot:
    """Of a sentence in which there is nothing to do."""
    return GONE


@dataclass(frozen=True)
class Sentence:
    """A sentence to work in, and the quiet line below it."""

    pieces: list[Piece] = field(default_factory=list)
    slot: Callable[[Study, str], Slot] = no_slot  # of a word, in a study as it stands now
    remark: str = ""
    fault: bool = False  # whether the line says what is wrong

    def text(self) -> str:
        """How it reads aloud, with its remark."""
        return " ".join(part for part in (plain_text(self.pieces), self.remark) if part)
