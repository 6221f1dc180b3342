"""An aim: its design, what is assumed and where that comes from, and the scenarios that were kept."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BeforeValidator, Field, JsonValue

from ragwort.study.document.pages import Grid, Interim, Rehearsing, SheetPlan, SoFar, Steer
from ragwort.study.document.part import Gone, Line, Part, Text, Typed, new_id

VALUE, RANGE = "value", "range"  # the places of an entry that are typed over


class Evidence(Part):
    """How a value was worked out from what is known; kept so that it can be looked at and changed."""

    route: str
    inputs: dict[str, str] = Field(default_factory=dict, description="What was typed, by input.")
    lower: bool = Field(False, description="Whether the limit of the interval nearer to no effect is planned on.")


class Entry(Typed):
    """One assumption of an aim: its value, how far it is plausible, where it comes from."""

    value: JsonValue = None
    low: float | None = None
    high: float | None = None
    source: Line = ""
    was: JsonValue = Field(None, description="The value that the source gave, once it has been typed over.")
    example: bool = Field(False, description="Whether the value is one to start from, which nobody has confirmed.")
    derived: bool = Field(False, description="Whether the value follows from the study's sharing plan.")
    note: Text = ""
    evidence: Evidence | None = None
    terms: str = Field("", description="The names of the terms that the value counts.")

    def given(self, value: JsonValue, terms: str = "") -> Entry:
        """The same with a value that the user gave; of what a source gave before, it is remembered what it was."""
        was = self.value if self.was is None and self.source else self.was
        now = None if was == value else was
        return self.readable(VALUE, value=value, was=now, example=False, derived=False, terms=terms)

    @property
    def draft(self) -> str:
        """What was typed last as the value, while it cannot be read."""
        return self.draft_of(VALUE)

    @property
    def fault(self) -> str:
        """Why that cannot be read; empty where the value can."""
        return self.drafts[VALUE].fault if VALUE in self.drafts else ""


class Words(Part):
    """What the study calls things, in the sentence, on axes and in the report."""

    one: Line = "participant"
    many: Line = "participants"
    outcome: Line = ""
    unit: Line = ""
    clusters: Line = ""
    names: dict[str, tuple[Line, ...]] = Field(
        default_factory=dict, description="By kind (groups, factors, categories …): what each is called, in order."
    )

    @property
    def groups(self) -> tuple[str, ...]:
        """The names of the groups, as far as they have any."""
        return self.names.get("groups", ())


def _find(value: Any) -> Any:
    if not isinstance(value, str) or not value:
        raise ValueError("find must name the unknown, for example n or power")
    return value


class Setting(Part):
    """A design's unknown and its assumptions: what an aim has now, and what a scenario keeps."""

    find: Annotated[str, BeforeValidator(_find)] = "n"
    entries: dict[str, Entry] = Field(default_factory=dict)

    def values(self) -> dict[str, Any]:
        """The plain values, without ranges and sources."""
        return {name: entry.value for name, entry in self.entries.items() if entry.value is not None}


class Finding(Part):
    """What was found when a scenario was kept, and by which version of the program."""

    answer: float
    total: int
    power: float
    version: Line = ""


class Scenario(Setting):
    """A kept set of assumptions."""

    id: Line = Field(default_factory=new_id)
    name: Line = "Scenario"
    note: Text = Field("", description="What speaks for it, or against it.")
    found: Finding | None = None


NOTHING_SAID = Entry()


class Aim(Setting):
    """One hypothesis of the study with its design, assumptions and kept scenarios."""

    id: Line = Field(default_factory=new_id)
    name: Line = "New aim"
    design: Line = "two-means"
    role: Line = Field("", description="primary if empty; secondary or exploratory.")
    words: Words = Words()
    time_point: Line = Field("", description="When the outcome is taken: six weeks after allocation.")
    scenarios: tuple[Scenario, ...] = ()
    planned: Line = Field("", description="The scenario that is planned; the aim as it stands if empty.")
    so_far: SoFar | None = None
    interim: Interim = Interim()
    pictures: dict[Line, Steer] = Field(default_factory=dict, description="By picture: what it is asked to show.")
    grid: Grid = Grid()
    rehearsing: Rehearsing = Rehearsing()
    sheet: SheetPlan = SheetPlan()
    texts: dict[Line, Text] = Field(default_factory=dict, description="Own texts of the report: before size …")
    finished: bool = Field(False, description="Whether the data are in: what is said of the aim is in the past tense.")
    planned_on: Line = Field(
        "", description="worthwhile: the effect is the smallest worthwhile one; expected: the one expected; else empty."
    )
    expected: Entry = Field(
        Entry(), description="Where the smallest worthwhile effect is planned on: the one that is expected beside it."
    )

    def entry(self, name: str) -> Entry:
        """The entry of an assumption; an empty one where nothing was said of it."""
        return self.entries.get(name, NOTHING_SAID)

    def steer(self, picture: str) -> Steer:
        """What a picture is asked to show."""
        return self.pictures.get(picture, Steer())

    def scenario(self, scenario_id: str) -> Scenario:
        """The kept scenario with this id. Raises `Gone`."""
        for scenario in self.scenarios:
            if scenario.id == scenario_id:
                return scenario
        raise Gone(scenario_id)

    @property
    def planned_scenario(self) -> Scenario | None:
        """The scenario that is planned; None where it is the aim as it stands."""
        return next((each for each in self.scenarios if each.id == self.planned), None)

    def as_planned(self) -> Aim:
        """The aim with the assumptions of the planned scenario in force."""
        planned = self.planned_scenario
        return self if planned is None else self.changed(find=planned.find, entries=planned.entries)
