"""What a study is: one file. Values are frozen and replaced whole; unknown keys of a file are kept."""

from __future__ import annotations

from pydantic import Field

from ragwort.study.document.aim import Aim
from ragwort.study.document.part import MOST_PEOPLE, Gone, Line, Text, Typed
from ragwort.study.document.study_wide import Family, Protocol, Resources, Signed, Writing

SCHEMA_VERSION = 4
FORMAT = "ragwort-study"


class Study(Typed):
    """One file: title, background, limit and aims."""

    format: str = FORMAT
    schema_version: int = SCHEMA_VERSION
    title: Line = "Untitled study"
    background: Text = ""
    limit: int | None = Field(None, ge=1, le=MOST_PEOPLE, description="How many participants are available at most.")
    resources: Resources = Resources()
    family: Family = Family()
    serving: Line = Field("", description="together: the user says that the same participants serve all aims.")
    served_together: tuple[tuple[Line, ...], ...] = Field((), description="Ids of aims that they are said to serve.")
    writing: Writing = Writing()
    protocol: Protocol = Protocol()
    signed: Signed | None = None
    aims: tuple[Aim, ...] = ()

    def aim(self, aim_id: str) -> Aim:
        """The aim with this id. Raises `Gone`."""
        for aim in self.aims:
            if aim.id == aim_id:
                return aim
        raise Gone(aim_id)

    def with_aim(self, aim: Aim) -> Study:
        """The study with the aim of the same id replaced."""
        aims = tuple(aim if old.id == aim.id else old for old in self.aims)
        return self.model_copy(update={"aims": aims})
