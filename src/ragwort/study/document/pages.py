"""What an aim keeps for each page: how pictures are steered, the grid, the rehearsal, the sheet, how far along."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, JsonValue

from ragwort.study.document.part import MOST_PEOPLE, Line, Part, Text, Typed, new_id


class SoFar(Typed):
    """How many of each group have an outcome so far."""

    counts: tuple[Annotated[int, Field(ge=0, le=MOST_PEOPLE)], ...] = ()
    source: Line = Field("", description="Where the counts come from: a file, and which rows of it.")


class Interim(Typed):
    """What is known of a study that is under way, at a look that was planned or not."""

    now: float | None = Field(None, description="People with an outcome, events or clusters so far.")
    before: tuple[float, ...] = Field((), max_length=20, description="The same at the looks that there were.")
    seen_as: Line = Field("z", description="z, p, estimate or summaries: how the comparison so far is stated.")
    z: float | None = None
    p: float | None = None
    toward: bool = Field(True, description="Of a p: whether the difference so far is in the planned direction.")
    estimate: float | None = None
    error: float | None = Field(None, description="Standard error of the estimate.")
    summary: dict[Line, float] = Field(default_factory=dict, description="Of each group so far: mean1, sd1, n1 …")
    blinded: float | None = Field(None, description="What was seen of all together: an SD, a share, a rate.")
    of: int | None = Field(None, description="Of how many that was.")
    beside: float | None = Field(None, description="What else was seen of all together: the dispersion of counts.")
    adjusted: bool = Field(False, description="Of an SD: whether the planned difference is taken out of it.")
    source: Line = Field("", description="Where it comes from: a file, and which rows of it.")


class Pin(Part):
    """A place of an axis at which something is to be read."""

    axis: Line = ""
    at: float = 0.0
    name: Line = ""


class Steer(Typed):
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


class Varied(Typed):
    """An assumption of which a grid tries several values."""

    name: Line
    text: Text = Field("", description="The values as they were typed: 8 to 16 by 2.")


class Grid(Part):
    """Many combinations at once: the grid's sentence as plain data. What is empty follows the aim."""

    find: Line = Field("", description="What is found in each row.")
    varied: tuple[Varied, ...] = Field((), max_length=4, description="What differs from row to row.")
    hidden: tuple[Line, ...] = Field((), description="Columns that are not shown.")
    cross: bool = Field(False, description="Whether two assumptions are laid out as a cross table.")
    condition: Line = Field("", description="Which rows are shown: enrol <= 240.")
    chart: Steer = Steer()


class World(Typed):
    """A world in which the study is rehearsed: what departs from the plan; nothing where it is as planned."""

    id: Line = Field(default_factory=new_id)
    name: Line = ""
    asked: dict[Line, JsonValue] = Field(default_factory=dict, description="By departure: lost, apart, shape …")


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


class Rehearsing(Typed):
    """How the aim is rehearsed: in which worlds, how often. The usual worlds where none is listed."""

    times: int = Field(10_000, ge=1, le=1_000_000)
    seed: int = Field(1, ge=0, le=2**63 - 1)
    worlds: tuple[World, ...] = Field((), max_length=40)
    chosen: Line = Field("", description="The world in view.")
    number: int = Field(1, ge=1, description="Which of the studies is looked at.")
    kept: tuple[Rehearsed, ...] = Field((), max_length=40)

    def count(self, name: str) -> int:
        """How often (`times`), or from which `seed`."""
        return self.times if name == "times" else self.seed


class SheetPlan(Typed):
    """What the collection sheet of an aim is like, and how people are allocated. What is empty follows the design."""

    pattern: Line = Field("P-{number:03}", description="Ids: {number}, {centre}, {cluster}, {stratum}.")
    method: Line = Field("", description="How people are allocated: none, simple, blocks, stratified, minimisation.")
    blocks: Line = Field("", description="Sizes of blocks: 4, 6.")
    strata: Line = Field("", description="What makes strata: sex: f, m; age (2): under 40, 40 on.")
    seed: int = Field(1, ge=0, le=2**53)
    shown: Line = Field("", description="Whether the sheet shows the allocation: empty for no, codes or names.")
    allowed: Line = Field("", description="The allowed range of the outcome: 150 to 900.")
    columns: Line = Field("", description="Further columns: age, shift.")
