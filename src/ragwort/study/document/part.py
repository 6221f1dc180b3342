"""A piece of a study: frozen, and keeping keys of a file that it does not know."""

from __future__ import annotations

from typing import Annotated, Any, Self
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, Field

LONGEST_TEXT = 100_000  # characters of a background or a note
LONGEST_LINE = 2_000  # of a name, a word, a source
MOST_PEOPLE = 10_000_000  # as many as any sample size that is looked for


class Gone(KeyError):
    """An aim or a scenario that is not there any more."""


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
