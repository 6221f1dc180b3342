"""What a study is. Values are frozen and replaced whole; unknown keys of a file are kept."""

from __future__ import annotations

from typing import Annotated, Any, Self
from uuid import uuid4

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, JsonValue

SCHEMA_VERSION = 3
FORMAT = "ragwort-study"
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


class Evidence(Part):
    """How a value was worked out from what is known; kept so that it can be looked at and changed."""

    route: str
    inputs: dict[str, str] = Field(default_factory=dict, description="What was typed, by input.")
    lower: bool = Field(False, description="Whether the limit of the interval nearer to no effect is planned on.")


class Entry(Part):
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
    draft: str = Field("", description="What was typed last, while it cannot be read as a value.")
    terms: str = Field("", description="The names of the terms that the value counts.")
    fault: str = Field("", description="Why the draft cannot be read.")
    range_draft: str = Field("", description="What was typed last as the range, while it cannot be read.")

    def given(self, value: JsonValue, terms: str = "") -> Entry:
        """The same with a value that the user gave; of what a source gave before, it is remembered what it was."""
        was = self.value if self.was is None and self.source else self.was
        return self.model_copy(
            update={
                "value": value,
                "was": None if was == value else was,
                "example": False,
                "derived": False,
                "draft": "",
                "fault": "",
                "terms": terms,
            }
        )


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


class SoFar(Part):
    """How many of each group have an outcome so far."""

    counts: tuple[Annotated[int, Field(ge=0, le=MOST_PEOPLE)], ...] = ()
    source: Line = Field("", description="Where the counts come from: a file, and which rows of it.")
    drafts: tuple[Line, ...] = Field((), description="By group: what was typed last, while it cannot be read.")


class Pin(Part):
    """A place of an axis at which something is to be read."""

    axis: Line = ""
    at: float = 0.0
    name: Line = ""


class Steer(Part):
    """What a picture shows: its own sentence as plain data. What is empty, the picture chooses by itself."""

    x: Line = Field("", description="What runs across.")
    y: Line = Field("", description="What runs up, or what is asked for.")
    family: Line = Field("", description="What differs from line to line.")
    panel: Line = Field("", description="What differs from panel to panel, in the chart of a grid.")
    values: tuple[float, ...] = Field((), max_length=6, description="What it is there; the ends of its range if empty.")
    kept: Line = Field("", description="Whether kept scenarios are drawn beside: with or without.")
    held: Line = Field("", description="Of Drivers: the expression of the effect that stays while a number moves.")
    costs: dict[Line, float] = Field(default_factory=dict, description="Typed costs of one participant: cost_1 …")
    ends: dict[Line, float] = Field(default_factory=dict, description="Typed ends of axes: x_low, x_high, y_low …")
    pins: tuple[Pin, ...] = Field((), max_length=12, description="Where it is read besides.")
    texts: dict[Line, Line] = Field(default_factory=dict, description="The user's own title, x, y and caption.")
    size: Line = Field("", description="For what the picture is taken out: column, page or slide.")
    drafts: dict[Line, Line] = Field(default_factory=dict, description="By end: what was typed last, if unreadable.")
    faults: dict[Line, Line] = Field(default_factory=dict, description="By end: why the draft cannot be read.")


class Varied(Part):
    """An assumption of which a grid tries several values."""

    name: Line
    text: Text = Field("", description="The values as they were typed: 8 to 16 by 2.")
    draft: Text = Field("", description="What was typed last, while it cannot be read.")
    fault: Line = Field("", description="Why the draft cannot be read.")


class Grid(Part):
    """Many combinations at once: the grid's sentence as plain data. What is empty follows the aim."""

    find: Line = Field("", description="What is found in each row.")
    varied: tuple[Varied, ...] = Field((), max_length=4, description="What differs from row to row.")
    hidden: tuple[Line, ...] = Field((), description="Columns that are not shown.")
    cross: bool = Field(False, description="Whether two assumptions are laid out as a cross table.")
    condition: Line = Field("", description="Which rows are shown: enrol <= 240.")
    chart: Steer = Steer()


class Resources(Part):
    """What the study has beside its limit on participants: money, time, clusters. What is empty sets no limit."""

    clusters: int | None = Field(None, ge=2, le=MOST_PEOPLE, description="How many clusters are available at most.")
    costs: tuple[Annotated[float, Field(ge=0)], ...] = Field(
        (), max_length=100, description="What a participant costs: one number, or one for each group."
    )
    cluster_cost: float | None = Field(None, ge=0, description="What a cluster costs beside its participants.")
    budget: float | None = Field(None, gt=0)
    currency: Line = ""
    centres: int | None = Field(None, ge=1, le=MOST_PEOPLE, description="How many recruit; one if empty.")
    per_month: float | None = Field(None, gt=0, description="How many each centre recruits in a month.")
    months: float | None = Field(None, gt=0, description="How long can be recruited at most.")
    drafts: dict[Line, Line] = Field(default_factory=dict, description="What was typed last, if unreadable.")
    faults: dict[Line, Line] = Field(default_factory=dict, description="Why the draft cannot be read.")


class World(Part):
    """A world in which the study is rehearsed: what departs from the plan; nothing where it is as planned."""

    id: Line = Field(default_factory=new_id)
    name: Line = ""
    asked: dict[Line, JsonValue] = Field(default_factory=dict, description="By departure: lost, apart, shape …")
    drafts: dict[Line, Line] = Field(default_factory=dict, description="What was typed last, if unreadable.")
    faults: dict[Line, Line] = Field(default_factory=dict, description="Why the draft cannot be read.")


class Rehearsed(Part):
    """What came of a rehearsal in one world, and of what: kept for the report."""

    words: Line
    asked: dict[Line, JsonValue] = Field(default_factory=dict)
    times: int
    seed: int
    request: Line = Field("", description="Digest of what the aim asked then.")
    version: Line = ""
    found: dict[Line, JsonValue] = Field(default_factory=dict, description="Power, interval, exaggeration …")
    tally: dict[Line, JsonValue] = Field(default_factory=dict, description="The sums from which pictures are drawn.")


class Rehearsing(Part):
    """How the aim is rehearsed: in which worlds, how often. The usual worlds where none is listed."""

    times: int = Field(10_000, ge=1, le=1_000_000)
    seed: int = Field(1, ge=0, le=2**63 - 1)
    worlds: tuple[World, ...] = Field((), max_length=40)
    chosen: Line = Field("", description="The world in view.")
    number: int = Field(1, ge=1, description="Which of the studies is looked at.")
    kept: tuple[Rehearsed, ...] = Field((), max_length=40)
    drafts: dict[Line, Line] = Field(default_factory=dict, description="What was typed last, if unreadable.")
    faults: dict[Line, Line] = Field(default_factory=dict, description="Why the draft cannot be read.")


class SheetPlan(Part):
    """What the collection sheet of an aim is like, and how people are allocated. What is empty follows the design."""

    pattern: Line = Field("P-{number:03}", description="Ids: {number}, {centre}, {cluster}, {stratum}.")
    method: Line = Field("", description="How people are allocated: none, simple, blocks, stratified, minimisation.")
    blocks: Line = Field("", description="Sizes of blocks: 4, 6.")
    strata: Line = Field("", description="What makes strata: sex: f, m; age (2): under 40, 40 on.")
    seed: int = Field(1, ge=0, le=2**53)
    shown: Line = Field("", description="Whether the sheet shows the allocation: empty for no, codes or names.")
    allowed: Line = Field("", description="The allowed range of the outcome: 150 to 900.")
    columns: Line = Field("", description="Further columns: age, shift.")
    drafts: dict[Line, Line] = Field(default_factory=dict, description="What was typed last, if unreadable.")
    faults: dict[Line, Line] = Field(default_factory=dict, description="Why the draft cannot be read.")


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


class Family(Part):
    """How the confirmatory aims share the study's chance of a false finding. Without a plan each has its own."""

    plan: Line = Field("", description="split, weights, holm, hochberg, order or fallback; empty for none.")
    alpha: float = Field(0.05, gt=0, lt=1)
    weights: dict[Line, float] = Field(default_factory=dict, description="By aim: its share; 1 if not named.")
    correlation: float = Field(0.0, ge=0, lt=1, description="Between the test statistics of any two aims.")
    matrix: tuple[tuple[float, ...], ...] = Field(
        (), max_length=100, description="Correlations pair by pair: of the second aim with the first, and so on."
    )
    drafts: dict[Line, Line] = Field(default_factory=dict, description="What was typed last, if unreadable.")
    faults: dict[Line, Line] = Field(default_factory=dict, description="Why the draft cannot be read.")


class Writing(Part):
    """What the report holds. What is empty is as usual: every section, in the usual order, on A4."""

    paper: Line = Field("", description="A4 or Letter.")
    order: tuple[Line, ...] = Field((), max_length=100, description="Names of sections, in their order.")
    hidden: tuple[Line, ...] = Field((), max_length=100, description="Names of sections that are left out.")
    added: tuple[Line, ...] = Field((), max_length=100, description="Names of further sections that are asked for.")
    texts: dict[Line, Text] = Field(default_factory=dict, description="Own texts: before overview, after overview …")


class Protocol(Part):
    """What a protocol says beside its numbers, as the user states it; empty where nothing is stated."""

    kind: Line = Field("", description="randomised, cluster-randomised, observational, animal or diagnostic.")
    analysis_set: Line = ""
    missing: Line = Field("", description="How missing data are handled.")
    interim: Line = Field("", description="Interim analyses: none planned.")
    multiplicity: Line = ""
    author: Line = ""
    version: Line = ""
    date: Line = ""
    screened: float | None = Field(None, ge=0, description="Per centre and month.")
    eligible: float | None = Field(None, ge=0, description="Of those screened.")
    consenting: float | None = Field(None, ge=0, description="Of those eligible.")
    drafts: dict[Line, Line] = Field(default_factory=dict, description="What was typed last, if unreadable.")
    faults: dict[Line, Line] = Field(default_factory=dict, description="Why the draft cannot be read.")


class SignedAim(Part):
    """An aim as it was signed off."""

    id: Line
    name: Line = ""
    design: Line = ""
    find: Line = "n"
    role: Line = ""
    values: dict[Line, JsonValue] = Field(default_factory=dict)
    recruited: int | None = None


class Signed(Part):
    """The version of a study that was signed off."""

    by: Line = ""
    date: Line = ""
    version: Line = ""
    aims: tuple[SignedAim, ...] = ()
    digest: Line = Field("", description="Tells whether what was signed was edited afterwards.")


class Study(Part):
    """One file: title, background, limit and aims."""

    format: str = FORMAT
    schema_version: int = SCHEMA_VERSION
    title: Line = "Untitled study"
    background: Text = ""
    limit: int | None = Field(None, ge=1, le=MOST_PEOPLE, description="How many participants are available at most.")
    limit_draft: str = Field("", description="What was typed last as the limit, while it cannot be read.")
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
