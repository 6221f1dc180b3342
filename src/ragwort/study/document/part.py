"""A piece of a study: frozen, and keeping keys of a file that it does not know."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Any, Self
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, Field

LONGEST_TEXT = 100_000  # characters of a background or a note
LONGEST_LINE = 2_000  # of a name, a word, a source
MOST_PEOPLE = 10_000_000  # as many as any sample size that is looked for


class Gone(KeyError):
    """An aim or a scenario that is not there any more."""


class Unreadable(ValueError):
    """Typed text that is no value here; its message says what would be."""


def new_id() -> str:
    """A short name for an aim or scenario that never changes, unlike what the user calls it."""
    return uuid4().hex[:12]


Text = Annotated[str, Field(max_length=LONGEST_TEXT)]
Line = Annotated[str, Field(max_length=LONGEST_LINE)]


class Part(BaseModel):
    """A piece of a study: immutable, keeps keys that it does not know, refuses NaN and infinity."""

    model_config = ConfigDict(frozen=True, extra="allow", allow_inf_nan=False)

    def changed(self, **changes: Any) -> Self:
        """The same piece with other values. Raises `TypeError` on a name that it does not have."""
        strange = [name for name in changes if name not in type(self).model_fields]
        if strange:
            raise TypeError(f"{type(self).__name__} has no {', '.join(strange)}")
        return self.model_copy(update=changes)


class Draft(Part):
    """What was typed last in a place, while it cannot be read there, and why not."""

    text: Text = ""
    fault: Line = ""

    @property
    def short(self) -> str:
        """The text as far as a sentence has room for it."""
        return self.text[:24].strip() or "—"


class Typed(Part):
    """A piece of a study whose places are typed over: what cannot be read is kept beside the last that could."""

    drafts: dict[Line, Draft] = Field(default_factory=dict, description="By place: what was typed and cannot be read.")

    def faulty(self, place: str) -> bool:
        """Whether what was typed there last cannot be read."""
        return place in self.drafts

    def draft_of(self, place: str) -> str:
        """What was typed there last, while it cannot be read."""
        return self.drafts[place].text if place in self.drafts else ""

    @property
    def first_fault(self) -> str:
        """Why the first place that cannot be read cannot be; empty where all can."""
        return next((draft.fault for draft in self.drafts.values()), "")

    def typed(self, place: str, text: str, read: Callable[[str], Mapping[str, Any]]) -> Self:
        """The same with the changes that `read` makes of a text; what it refuses (`Unreadable`) is kept."""
        try:
            return self.readable(place, **read(text))
        except Unreadable as error:
            return self.unreadable(place, text, str(error))

    def readable(self, place: str, **changes: Any) -> Self:
        """The same with other values, and nothing that cannot be read at a place."""
        drafts = {key: draft for key, draft in self.drafts.items() if key != place}
        return self.changed(drafts=drafts, **changes)

    def unreadable(self, place: str, text: str, fault: str) -> Self:
        """The same with what was typed at a place, and why it cannot be read there."""
        draft = Draft(text=text[:LONGEST_TEXT], fault=fault[:LONGEST_LINE])
        return self.changed(drafts={**self.drafts, place: draft})
